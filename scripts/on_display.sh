#!/usr/bin/env bash
# Runs a command on a display of its own, with settings of its own: several can run beside one another.
set -euo pipefail
own=$(mktemp -d); chmod 700 "$own"
mkfifo "$own/number"
Xvfb -displayfd 3 -screen 0 1600x1000x24 -nolisten tcp 3>"$own/number" >/dev/null 2>&1 &
server=$!
trap 'kill $server 2>/dev/null; wait $server 2>/dev/null; rm -rf "$own"' EXIT
read -r number <"$own/number"
export DISPLAY=":$number" XDG_RUNTIME_DIR="$own" XDG_CONFIG_HOME="$own/config" QT_QPA_PLATFORM=xcb QT_LOGGING_RULES="qt.qpa.*=false"
unset WAYLAND_DISPLAY XAUTHORITY
"$@"
