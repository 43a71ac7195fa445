#!/bin/sh
# The tests of the built programs need Chromium, and strace to count what waits for the
# disk; on Debian both are installed when they are missing.
set -e
need=""
command -v chromium >/dev/null 2>&1 || command -v chromium-browser >/dev/null 2>&1 || need="chromium fonts-noto-core"
command -v strace >/dev/null 2>&1 || need="$need strace"
[ -n "$need" ] || exit 0
echo "The tests need Debian's packages: $need. Installing them now."
sudo=""
[ "$(id -u)" = 0 ] || sudo="sudo"
$sudo apt-get update -qq
DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq --no-install-recommends $need >/dev/null
