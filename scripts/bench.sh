#!/usr/bin/env bash
# Prints the figures of docs/benchmarks.md: placement against OpenCASCADE in one run, paths, parts, and the cold start.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
"$here/scripts/setup.sh" test
"$here/scripts/build.sh" release -DVICINAL_TESTS=ON -DVICINAL_BENCH=ON bench_placement bench_paths bench_parts bench_sending bench_site bench_checks vicinal
"$here/build/release/bin/bench_placement" --benchmark_repetitions=5 --benchmark_report_aggregates_only=true 2>/dev/null | grep -E "Benchmark|_median|---"
"$here/build/release/bin/bench_paths" --benchmark_repetitions=3 --benchmark_report_aggregates_only=true 2>/dev/null | grep -E "Benchmark|_median|---"
"$here/build/release/bin/bench_sending" 2>/dev/null
"$here/build/release/bin/bench_site" --benchmark_repetitions=5 --benchmark_report_aggregates_only=true 2>/dev/null | grep -E "Benchmark|_median|---"
"$here/build/release/bin/bench_checks" --benchmark_repetitions=5 --benchmark_report_aggregates_only=true 2>/dev/null | grep -E "Benchmark|_median|---"
"$here/scripts/on_display.sh" "$here/build/release/bin/bench_parts" 2>/dev/null
for i in 1 2 3 4 5; do "$here/demo" --timing 2>/dev/null | grep "first frame" ; done
