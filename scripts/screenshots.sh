#!/usr/bin/env bash
# Makes docs/screenshots anew from the demo data, without a screen.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh"
ninja --quiet -C "$here/build/release" make_screenshots
mkdir -p "$here/docs/screenshots"
runtime=$(mktemp -d); chmod 700 "$runtime"
trap 'rm -rf "$runtime"' EXIT
XDG_RUNTIME_DIR="$runtime" XDG_CONFIG_HOME="$runtime" QT_QPA_PLATFORM=xcb xvfb-run -a -s "-screen 0 1600x1000x24" \
  "$here/build/release/bin/make_screenshots" "$here/docs/screenshots"
