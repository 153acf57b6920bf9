#!/usr/bin/env bash
# Compiles every header by itself (with what is precompiled for all files; preset as built last, or the one named):
# what is compiled in batches cannot tell that one lacks an include.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
"$here/scripts/build.sh" "${1:-release}" vicinal_headers
