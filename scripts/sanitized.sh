#!/usr/bin/env bash
# Builds what knows no window under the address and undefined-behaviour sanitizers and runs its tests: whatever they
# find fails one. Tests that read files in a child with limits on its memory are left to the plain build.
#   scripts/sanitized.sh       base, geometry, layout, checks
#   scripts/sanitized.sh all   the model, too: half an hour on two cores
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
"$here/scripts/build.sh" asan tests_core tests_model tests_exchange
cd "$here/build/asan"
# OpenCASCADE keeps what it made until the program ends.
ASAN_OPTIONS=detect_leaks=0 UBSAN_OPTIONS=halt_on_error=1:print_stacktrace=1 \
  ctest -j"$(nproc)" --output-on-failure --no-tests=error -E '^format$'
