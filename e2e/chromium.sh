#!/bin/sh
# Browser tests need Chromium; on Debian it is installed when it is missing.
set -e
for name in chromium chromium-browser; do
  command -v "$name" >/dev/null 2>&1 && exit 0
done
echo "Browser tests need Chromium, and there is none: installing Debian's package “chromium” now."
sudo=""
[ "$(id -u)" = 0 ] || sudo="sudo"
$sudo apt-get update -qq
DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq --no-install-recommends chromium fonts-noto-core >/dev/null
