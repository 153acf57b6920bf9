#!/usr/bin/env bash
# Builds what knows no window under the address and undefined-behaviour sanitizers, asserts on, and runs its tests:
# whatever they find, and every broken precondition, fails one.
#   scripts/sanitized.sh       base, geometry, layout, clearance; of model and exchange what takes less than a minute each
#   scripts/sanitized.sh all   by hand: every suite but those that mostly read files in a child with limits on its memory
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
which=(-L "lower|upper")
[ "${1:-}" = all ] && which=(-E "^(test_hostile|test_cli|test_parts_in|test_bring_in|test_frozen_in|layers|format)$")
"$here/scripts/build.sh" asan tests_core tests_model tests_exchange
cd "$here/build/asan"
# OpenCASCADE keeps what it made until the program ends.
# Slow, not stuck: a test may take longer than the five minutes that QtTest gives it.
QTEST_FUNCTION_TIMEOUT=3600000 VICINAL_SLOW=1 VICINAL_GRID=600 ASAN_OPTIONS=detect_leaks=0 UBSAN_OPTIONS=halt_on_error=1:print_stacktrace=1 \
  ctest -j"$(nproc)" --output-on-failure --no-tests=error "${which[@]}"
