#!/usr/bin/env bash
# Prints the figures of building in docs/benchmarks.md: what is committed, in a folder of its own, without ccache.
#   scripts/build_time.sh [FOLDER] [demo] [test] [dev] [ci]      (none named: demo, test and dev)
#   demo   ./demo --picture from a fresh clone (packages that are missing are installed and counted)
#   test   ./test after it
#   dev    one line changed, file by file, until the window has drawn its first frame
#   ci     the whole of .ci/run from nothing, in a clone of its own
# Wall clock and processor time (children included), seconds. Quiet machine, or the clock tells nothing.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
folder="$here/build/time"
case "${1:-}" in ""|demo|test|dev|ci) ;; *) folder=$1; shift ;; esac
[ $# -gt 0 ] || set -- demo test dev
export CCACHE_DISABLE=1
rm -rf "$folder"; mkdir -p "$folder"
clone() { git clone -q "$here" "$1"; }
TIMEFORMAT="%R %U %S"
# timed WHAT COMMAND...: a row of the table; what the command says is kept in a file beside.
timed() {
  local what=$1 figures; shift
  figures=$( { time "$@" >"$folder/last.log" 2>&1; } 2>&1 ) || { tail -20 "$folder/last.log" >&2; exit 1; }
  set -- $figures
  printf '%-64s %8.1f s wall %9.1f s processor\n' "$what" "$1" "$(echo "$2 + $3" | bc)"
}
echo "$(git -C "$here" log -1 --format='%h %cs'), $(nproc) processors, $(sed -n 's/^model name.*: //p' /proc/cpuinfo | head -1)"
for what in "$@"; do
  case $what in
    demo)
      clone "$folder/v"
      timed "./demo --picture from a fresh clone" "$folder/v/demo" --picture "$folder/demo.png" ;;
    test)
      [ -d "$folder/v" ] || clone "$folder/v"
      timed "./test after it" "$folder/v/test" ;;
    ci)
      clone "$folder/ci"
      timed ".ci/run from nothing" "$folder/ci/.ci/run" ;;
    dev)
      [ -d "$folder/v" ] || clone "$folder/v"
      cd "$folder/v"
      scripts/setup.sh picture
      timed "preset dev from nothing, the window" scripts/build.sh dev -DVICINAL_TESTS=OFF -DVICINAL_BENCH=OFF vicinal
      window() { # builds, and starts until the first frame
        scripts/build.sh dev vicinal && QT_LOGGING_RULES="*=false" scripts/on_display.sh build/dev/bin/vicinal --demo build/dev/bin/saltmarrow-quay.vicinal --timing
      }
      timed "nothing changed, to the window running" window
      for file in layout/spacing/kinds/graded.cpp app/strip/lanes/places_lane.cpp layout/spacing/rules.h; do
        echo "// one line" >>"src/$file"
        timed "one line changed in $file, to the window running" window
      done ;;
    *) echo "build_time.sh: $what is none of demo, test, dev, ci" >&2; exit 2 ;;
  esac
done
