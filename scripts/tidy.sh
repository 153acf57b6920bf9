#!/usr/bin/env bash
# Reads what knows no window with clang-tidy and the short list in .clang-tidy; clean is the rule. About 15 minutes.
#   scripts/tidy.sh             all of it
#   scripts/tidy.sh src/layout  what lies under a folder
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh"
[ -f "$here/build/tidy/compile_commands.json" ] || cmake -S "$here" --preset tidy >/dev/null
run-clang-tidy -quiet -j"$(nproc)" -p "$here/build/tidy" "$here/${1:-src}/.*" | grep -v -e '^clang-tidy' -e '^$' || true
exit "${PIPESTATUS[0]}"
