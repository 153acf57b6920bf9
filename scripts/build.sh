#!/usr/bin/env bash
# Configures a preset where that was not done yet, and builds targets of it (none: all).
#   scripts/build.sh PRESET [-DNAME=VALUE...] [TARGET...]
# Shows how many files of all are built; with VICINAL_QUIET only what goes wrong.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
preset=$1; shift
options=()
while [ $# -gt 0 ] && [[ $1 == -D* ]]; do options+=("$1"); shift; done
build="$here/build/$preset"
# Options are set anew only where they differ: else every call would configure.
differs=""
for o in ${options[@]+"${options[@]}"}; do
  name=${o#-D}; value=${name#*=}; name=${name%%=*}
  grep -q "^$name:[A-Z]*=$value\$" "$build/CMakeCache.txt" 2>/dev/null || differs=1
done
if [ ! -f "$build/build.ninja" ] || [ -n "$differs" ]; then
  cmake -S "$here" --preset "$preset" ${options[@]+"${options[@]}"} >/dev/null
fi
# A batch takes up to 3 GB: fewer at a time where there is little memory.
jobs=$(( $(awk '/^MemAvailable/ { print $2 }' /proc/meminfo) / 3000000 ))
[ "$jobs" -le "$(nproc)" ] || jobs=$(nproc)
[ "$jobs" -ge 1 ] || jobs=1
quiet=()
[ -z "${VICINAL_QUIET:-}" ] || quiet=(--quiet)
NINJA_STATUS="  built: %f of %t  " ninja ${quiet[@]+"${quiet[@]}"} -j"$jobs" -C "$build" "$@"
