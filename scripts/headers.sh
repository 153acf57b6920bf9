#!/usr/bin/env bash
# Compiles every header by itself: what is compiled in batches cannot tell that one lacks an include.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
"$here/scripts/build.sh" release -DVICINAL_TESTS=ON vicinal_headers
