#!/usr/bin/env bash
# Builds what knows no window under the address and undefined-behaviour sanitizers, asserts on, and runs its tests:
# whatever they find fails one. Tests that read files in a child with limits on its memory are left to the plain build.
#   scripts/sanitized.sh       base, geometry, layout, checks
#   scripts/sanitized.sh all   the model, too
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
tests=(test_quantity test_arc_length test_frames test_spline test_bounds test_shapes test_wheels test_slack test_vehicles test_spacing test_rules test_links test_clear_gap test_along test_edges test_places test_rails test_near)
targets=(tests_core)
if [ "${1:-}" = all ]; then
  tests+=(test_recipes test_pen test_editing test_run_edits test_giving test_part_shapes test_measures test_sentence test_checks)
  targets+=(tests_model)
fi
"$here/scripts/build.sh" asan "${targets[@]}"
cd "$here/build/asan"
# OpenCASCADE keeps what it made until the program ends.
# Slow, not stuck: a test may take longer than the five minutes that QtTest gives it.
QTEST_FUNCTION_TIMEOUT=3600000 ASAN_OPTIONS=detect_leaks=0 UBSAN_OPTIONS=halt_on_error=1:print_stacktrace=1 \
  ctest -j"$(nproc)" --output-on-failure --no-tests=error -R "^($(IFS='|'; echo "${tests[*]}"))\$"
