#!/usr/bin/env bash
# Builds what knows no window with asserts on and runs the tests of the lower layers: a broken precondition fails one.
#   scripts/asserts.sh         base, geometry, layout, clearance: a few minutes
#   scripts/asserts.sh all     every test without a window
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
targets=(tests_core) filter=(-L lower)
if [ "${1:-}" = all ]; then
  targets=(tests_core tests_model tests_exchange)
  filter=()
fi
"$here/scripts/build.sh" debug "${targets[@]}"
cd "$here/build/debug"
ctest -j"$(nproc)" --output-on-failure --no-tests=error ${filter[@]+"${filter[@]}"}
