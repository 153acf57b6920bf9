#!/usr/bin/env bash
# Fails when a layer includes what does not stand to its right, Qt stands below the window, or a header of ours includes
# a heavy library. No compiler tells: all layers see the same folder, and link into the same programs.
set -euo pipefail
cd "$(dirname "$0")/../src"
bad=$(find . -name '*.h' -o -name '*.cpp' | sed 's|^\./||' | sort | xargs awk '
  BEGIN { n = split("base geometry layout parts clearance model exchange app", names, " "); for (i = 1; i <= n; ++i) rank[names[i]] = i; rank["cli"] = n }
  FNR == 1 { split(FILENAME, place, "/"); layer = place[1] }
  /^#include "/ {
    split($2, named, "\""); split(named[2], other, "/")
    if (!(other[1] in rank)) print FILENAME ":" FNR ": " $2 " is in no layer"
    else if (rank[other[1]] > rank[layer] || (rank[other[1]] == rank[layer] && other[1] != layer))
      print FILENAME ":" FNR ": " layer " may not include " $2
  }
  /^#include <Q[A-Za-z]*>/ && layer != "app" { print FILENAME ":" FNR ": " $2 " below the window" }
  FILENAME ~ /\.h$/ && /^#include <(nlohmann\/json\.hpp|libxml|boost|CGAL|CLI|assimp|fcl|zip\.h|cairo|dl_|gp_|TopoDS|BRep|Geom|TCol|GL\/|X11\/)/ {
    print FILENAME ":" FNR ": " $2 " is too heavy for a header: hide it in a .cpp"
  }')
[ -z "$bad" ] || { echo "$bad" >&2; exit 1; }
