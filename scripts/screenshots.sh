#!/usr/bin/env bash
# Makes docs/screenshots anew from the demo data, without a screen.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
"$here/scripts/build.sh" release -DVICINAL_TESTS=ON make_screenshots
mkdir -p "$here/docs/screenshots"
"$here/scripts/on_display.sh" "$here/build/release/bin/make_screenshots" "$here/docs/screenshots"
