#!/usr/bin/env bash
# Builds what knows no window under the address and undefined-behaviour sanitizers, asserts on, and runs its tests:
# whatever they find fails one. Tests that read files in a child with limits on its memory are left to the plain build.
#   scripts/sanitized.sh       base, geometry, layout, checks
#   scripts/sanitized.sh all   the model, too
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
targets=(tests_core) which=lower
if [ "${1:-}" = all ]; then
  targets+=(tests_model) which="lower|upper"
fi
"$here/scripts/build.sh" asan "${targets[@]}"
cd "$here/build/asan"
# OpenCASCADE keeps what it made until the program ends.
# Slow, not stuck: a test may take longer than the five minutes that QtTest gives it.
QTEST_FUNCTION_TIMEOUT=3600000 VICINAL_SLOW=1 VICINAL_GRID=600 ASAN_OPTIONS=detect_leaks=0 UBSAN_OPTIONS=halt_on_error=1:print_stacktrace=1 \
  ctest -j"$(nproc)" --output-on-failure --no-tests=error -L "$which"
