#!/usr/bin/env bash
# Runs every fuzzer for N minutes (default 3) under the sanitizers, two at a time; seeds are the examples and what was
# found before (fuzz/found). Fails when one finds anything: the input is kept in build/fuzz/finds.
#   scripts/fuzz.sh [MINUTES [KIND...]]
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
minutes=${1:-3}; shift || true
kinds=("$@"); [ ${#kinds[@]} -gt 0 ] || kinds=(document svg path-data csv obj-lines typed dxf stl obj ply glb)
build="$here/build/fuzz"
command -v clang++ >/dev/null || { echo "needs clang and libclang-rt-14-dev: apt-get install clang libclang-rt-14-dev" >&2; exit 2; }
[ -f "$build/build.ninja" ] || cmake -S "$here" --preset fuzz >/dev/null
ninja --quiet -C "$build" "${kinds[@]/#/fuzz_}" vicinal-cli
mkdir -p "$build/finds"
python3 "$here/scripts/fuzz_seeds.py" "$build/seeds"
run() {
  local kind=$1 corpus="$build/corpus/$1"
  mkdir -p "$corpus"
  cp -n "$build/seeds/$kind/"* "$corpus/" 2>/dev/null || true
  [ ! -d "$here/fuzz/found/$kind" ] || cp -n "$here/fuzz/found/$kind/"* "$corpus/"
  if "$build/bin/fuzz_$kind" -max_total_time=$((minutes * 60)) -timeout=20 -rss_limit_mb=2048 -max_len=65536 -print_final_stats=1 \
      -artifact_prefix="$build/finds/$kind-" "$corpus" >"$build/finds/$kind.log" 2>&1; then
    echo "$kind: clean, $(grep -o 'number_of_executed_units: [0-9]*' "$build/finds/$kind.log" | grep -o '[0-9]*$') inputs"
  else
    echo "$kind: FOUND, see $build/finds/$kind.log"; return 1
  fi
}
export -f run; export here build minutes
# Leaks inside OpenCASCADE's and Qt's statics are theirs; a child of ours is looked at as a whole.
export ASAN_OPTIONS="detect_leaks=0:allocator_may_return_null=0:abort_on_error=1" UBSAN_OPTIONS="print_stacktrace=1:halt_on_error=1"
printf '%s\n' "${kinds[@]}" | xargs -P 2 -I{} bash -c 'run {}'
