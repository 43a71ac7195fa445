#!/bin/sh
# Takes a screenshot of the client in a terminal window, of its work with pockets or, with
# “check” as the second argument, of its work with a widget folder; needs Debian's xvfb, xterm and
# imagemagick, and a running demo's GLASSPOCKET_SERVER and GLASSPOCKET_TOKEN.
set -e
out=${1:-docs/screenshots/client.png}
faulty=$(mktemp -d)/settings.json
printf '{\n  "heading": 12,\n  "radius": 99\n}\n' > "$faulty"
script=$(mktemp)
cat > "$script" <<EOS
PS1='\$ '
cd "$(dirname "$faulty")"
PATH="$PWD/bin:\$PATH"
show() { printf '\033[1;36m\$\033[0m %s\n' "\$*"; "\$@" 2>&1; echo; }
if [ "${2:-}" = check ]; then
  cp -r "$PWD/widgets/person" widget && cd widget
  sed -i 's/{{.settings.summary}}/{{.settings.sumary}}/; s/<article class="person">/<article class="person" onclick="open()">/' view.html
  sed -i 's/"#4b5b73"/"#9aa5b1"/' starters/boathouse.json
  printf 'p { margin: 0 }\n.wide { width: 480px }\n.late { margin: 1rem }\n' >> style.css
  show glasspocket check .
  show glasspocket explain style-fence
  touch "$script.done"
  sleep 60
fi
show glasspocket list pockets
show glasspocket set demo-countdown accent=#b4532a
show glasspocket publish demo-countdown
show glasspocket restore demo-countdown 1
show glasspocket set demo-countdown -file settings.json
touch "$script.done"
sleep 60
EOS
export DISPLAY=:97
Xvfb $DISPLAY -screen 0 1280x800x24 >/dev/null 2>&1 &
server=$!
trap 'kill $server 2>/dev/null' EXIT
until xdpyinfo >/dev/null 2>&1 || [ -e /tmp/.X11-unix/X97 ]; do :; done
xterm -fa "DejaVu Sans Mono" -fs 12 -bg "#0d1523" -fg "#e8eef6" -geometry 127x42+0+0 -b 18 -e bash "$script" &
until [ -e "$script.done" ]; do :; done
sleep 1 # the window draws what it was sent
import -window root "$out"
