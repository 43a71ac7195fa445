#!/bin/sh
# Installs what the measurements need on Debian in addition to Go and Node.
set -e
missing=""
command -v wrk >/dev/null 2>&1 || missing="$missing wrk"
command -v nginx >/dev/null 2>&1 || [ -x /usr/sbin/nginx ] || missing="$missing nginx-light"
[ -z "$missing" ] && exit 0
echo "make bench needs$missing: installing Debian's packages now."
sudo=""
[ "$(id -u)" = 0 ] || sudo="sudo"
$sudo apt-get update -qq
DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq --no-install-recommends $missing >/dev/null
