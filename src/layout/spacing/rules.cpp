#include "layout/spacing/rules.h"
#include "base/held_body.h"

namespace vicinal {

template class Held<Spacing>;

void describeShared(const ValueVisitor& v, Spacing& s) {
    v.choice("measure", "Measured by", "From where to where a distance counts", s.measure,
             {{"c/c", "c/c", "Centre to centre: from seat point to seat point along the path", "centre to centre"},
              {"clear gap", "gap along",
               "Gap along: the free length along the path from one part's front to the next one's back, for parts as "
               "their boxes. Distances between true bodies are not measured here.",
               "clear"},
              {"of length", "% length",
               "Centre to centre as a share of the parts' own length: at 100 % they touch, below they overlap",
               "of their length"}});
    v.number("ofLength", "Share of length", "1: parts touch; 0.85: they overlap as links do; above 1 they keep a gap",
             s.ofLength);
    v.choice("along", "Along", "Whether distances follow the path or go straight across", s.along,
             {{"the path", "the path", "Distances are lengths of path", ""},
              {"straight across", "straight", "Distances go straight from place to place", "straight across"}});
    constexpr const char* limit = "Limit of the gap along; empty for none. Even out keeps it, the other "
                                  "rules are checked against it.";
    v.limit("gapAtLeast", "Gap along at least", limit, s.gapAtLeast);
    v.limit("gapAtMost", "Gap along at most", limit, s.gapAtMost);
    constexpr const char* pitch = "Limit of the pitch along the path, centre to centre; empty for none. Even out keeps "
                                  "it, the other rules are checked against it.";
    v.limit("pitchAtLeast", "Pitch at least", pitch, s.pitchAtLeast);
    v.limit("pitchAtMost", "Pitch at most", pitch, s.pitchAtMost);
    v.count("multiple", "Count in", "Only counts that are a multiple of this: 2 for even ones", s.multiple);
    v.limit("from", "From station", "Start of the stretch of path that is used; empty: the path's start", s.from);
    v.limit("to", "To station", "End of the stretch of path that is used; empty: the path's end", s.to);
    v.length("insetStart", "In at start", "Length kept empty at the path's start, up to the first seat point",
             s.insetStart);
    v.length("insetEnd", "In at end", "Length kept empty at the path's end, from the last seat point", s.insetEnd);
    v.length("slide", "First place at", "Station of the first place on a closed path", s.slide);
    v.choice("bays", "Bays", "Where the run is cut into bays, the rule solved in each", s.bays,
             {{"none", "none", "One stretch from end to end", ""},
              {"corners", "corners", "From corner to corner of the path", "in bays between the corners"},
              {"stations", "stations", "Between stations that are typed", "in bays between stations"},
              {"run", "another run", "Between the places of another run, clear of their faces",
               "in bays between another run's places"}});
    v.stations("bayStations", "Bay ends", "Stations where one bay ends and the next begins, with commas between",
               s.bayStations);
    v.item("bayRun", "Bays between", "The run whose places the bays lie between", s.bayRun, ItemKind::Run);
}

void describe(const ValueVisitor& v, Spacing& s) {
    std::visit([&](auto& rule) { describe(v, rule); }, s.rule);
    describeShared(v, s);
}

} // namespace vicinal
