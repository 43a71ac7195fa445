#!/bin/sh
# The tests of the built programs need Chromium and its headless shell, Firefox, WebKitGTK with a
# display to draw on, strace to count what waits for the disk, nginx in front of the service, and Hugo and ikiwiki to paste into
# for real; on Debian they are installed when they are missing. The programs that components are built into need their frameworks.
set -e
need=""
# Both of one version, so both are named.
{ command -v chromium || command -v chromium-browser; } >/dev/null 2>&1 && command -v chromium-headless-shell >/dev/null 2>&1 || need="chromium chromium-headless-shell fonts-noto-core"
for tool in strace hugo ikiwiki firefox-esr nginx; do
  command -v $tool >/dev/null 2>&1 || need="$need $tool"
done
command -v WebKitWebDriver >/dev/null 2>&1 || need="$need webkit2gtk-driver"
command -v Xvfb >/dev/null 2>&1 || need="$need xvfb"
apps="$(dirname "$0")/apps"
if [ ! -e "$apps/node_modules/.package-lock.json" ] || [ "$apps/package-lock.json" -nt "$apps/node_modules/.package-lock.json" ]; then
  npm ci --prefix "$apps" --no-audit --no-fund --silent
  touch "$apps/node_modules/.package-lock.json"
fi
[ -n "$need" ] || exit 0
echo "The tests need Debian's packages: $need. Installing them now."
sudo=""
[ "$(id -u)" = 0 ] || sudo="sudo"
$sudo apt-get update -qq
DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq --no-install-recommends $need >/dev/null
