#!/usr/bin/env bash
# Builds what knows no window with asserts on and runs the tests of the lower layers: a broken precondition fails one.
#   scripts/asserts.sh         base, geometry, layout, checks: a few minutes
#   scripts/asserts.sh all     every test without a window
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
lower=(test_quantity test_arc_length test_frames test_spline test_bounds test_shapes test_wheels test_slack test_vehicles test_spacing test_rules test_links test_clear_gap test_along test_edges test_places test_rails test_near)
targets=(tests_core) filter=(-R "^($(IFS='|'; echo "${lower[*]}"))\$")
if [ "${1:-}" = all ]; then
  targets=(tests_core tests_model tests_exchange)
  filter=()
fi
"$here/scripts/build.sh" debug "${targets[@]}"
cd "$here/build/debug"
ctest -j"$(nproc)" --output-on-failure --no-tests=error ${filter[@]+"${filter[@]}"}
