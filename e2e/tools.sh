#!/bin/sh
# Installs what the end-to-end tests need on Debian: Chromium and its headless shell, Firefox,
# WebKitGTK with a display, strace to count writes to disk, nginx as a proxy, Hugo and ikiwiki as
# real hosts, and the frameworks of the test applications for components.
set -e
need=""
# Both packages must have the same version.
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
