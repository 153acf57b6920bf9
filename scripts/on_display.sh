#!/usr/bin/env bash
# Runs a command on a display of its own, with settings of its own: several can run beside one another.
set -euo pipefail
own=$(mktemp -d); chmod 700 "$own"
trap 'rm -rf "$own"' EXIT
export XDG_RUNTIME_DIR="$own" XDG_CONFIG_HOME="$own/config" QT_QPA_PLATFORM=xcb QT_LOGGING_RULES="qt.qpa.*=false"
xvfb-run -d -s "-screen 0 1600x1000x24" "$@"
