#!/usr/bin/env bash
# Builds what knows no window with asserts on and runs the tests of the lower layers: a broken precondition fails one.
#   scripts/asserts.sh         base, geometry, layout, checks: a few minutes
#   scripts/asserts.sh all     every test without a window
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh"
build="$here/build/debug"
[ -f "$build/build.ninja" ] || cmake -S "$here" --preset debug >/dev/null
lower=(test_quantity test_arc_length test_frames test_spline test_bounds test_shapes test_wheels test_slack test_vehicles test_spacing test_rules test_links test_clear_gap test_along test_edges test_places test_rails test_near)
targets=() filter=()
if [ "${1:-}" != all ]; then
  targets=("${lower[@]}")
  filter=(-R "^($(IFS='|'; echo "${lower[*]}"))\$")
fi
ninja --quiet -C "$build" ${targets[@]+"${targets[@]}"}
cd "$build"
QT_QPA_PLATFORM=offscreen ctest -j2 --output-on-failure --no-tests=error ${filter[@]+"${filter[@]}"}
