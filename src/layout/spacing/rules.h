#pragma once
// The rules of spacing, each described once: file, schema, sheet, sentence, command line and checks read it from here.
#include "base/describe.h"
#include "base/rule_words.h"
#include <optional>
#include <variant>
#include <vector>

namespace vicinal {

enum class Measure {
    CentreToCentre, ///< from seat point to seat point along the path
    ClearGap,       ///< from one part's front to the next one's back along the path
};
enum class LeftOver { AtEnd, AtStart, Both };
enum class ShareEnds { AtEnds, HalfPitchIn, PitchIn };

/// A fixed pitch, as many as go in.
struct StepOff {
    double pitch = 100; ///< mm; c/c or clear gap
    LeftOver leftOver = LeftOver::AtEnd;
    bool operator==(const StepOff&) const = default;

    static constexpr RuleWords words{"step off", "Step off", "A fixed pitch, as many places as go in", "stepped off",
                                     "stepped off at {pitch} {measure}[open:, what is left over {leftOver}]"};
};
template<class V, Describes<StepOff> R> void describe(V&& v, R& r) {
    v.length("pitch", "Pitch", "Distance from one place to the next", r.pitch);
    v.choice("leftOver", "Left over to", "Where what a fixed pitch leaves over stays", r.leftOver,
             {{"end", "end", "What is left over stays at the end", "at the end"},
              {"start", "start", "What is left over goes to the start", "at the start"},
              {"both", "both", "What is left over is shared by both ends", "shared by both ends"}});
}

/// A count, shared equally.
struct ShareOut {
    long count = 10;
    ShareEnds ends = ShareEnds::AtEnds;
    bool operator==(const ShareOut&) const = default;

    static constexpr RuleWords words{"share out", "Share out", "A count, shared equally over the path", "shared out",
                                     "{count} shared out evenly[open:, {ends}]"};
};
template<class V, Describes<ShareOut> R> void describe(V&& v, R& r) {
    v.count("count", "Places", "How many places", r.count);
    v.choice("ends", "First and last", "Where the first and last place stand", r.ends,
             {{"at ends", "at ends", "The first and last place stand at the insets", ""},
              {"half a pitch in", "\u00bd pitch in", "Half a pitch is kept free at both ends",
               "half a pitch in from the ends"},
              {"a pitch in", "pitch in", "A whole pitch is kept free at both ends", "a pitch in from the ends"}});
}

/// About a pitch, made even so that nothing is left over.
struct EvenOut {
    double about = 100; ///< mm; c/c or clear gap
    bool operator==(const EvenOut&) const = default;

    static constexpr RuleWords words{"even out", "Even out",
                                     "About a pitch, made even so that nothing is left over, within the gap limits",
                                     "evened out", "evened to about {about} {measure}"};
};
template<class V, Describes<EvenOut> R> void describe(V&& v, R& r) {
    v.length("about", "About", "The pitch wanted; the nearest one that comes out even is taken", r.about);
}

using SpacingRule = std::variant<StepOff, ShareOut, EvenOut>;

/// All of spacing, mm.
struct Spacing {
    SpacingRule rule = EvenOut{};
    std::vector<SpacingRule> kept{}; ///< numbers of rules not in use, at most one of a kind, so that going back finds
                                     ///< them
    Measure measure = Measure::CentreToCentre;
    std::optional<double> gapAtLeast, gapAtMost; ///< limits; even out keeps them, for the others they are only checked
    double insetStart = 0, insetEnd = 0;         ///< open paths: from the path's ends to the first and last seat point
    double slide = 0;                            ///< closed paths: station of the first place

    bool operator==(const Spacing&) const = default;
};
/// What all rules share.
template<class V, Describes<Spacing> S> void describeShared(V&& v, S& s) {
    v.choice("measure", "Measured by", "From where to where a distance counts", s.measure,
             {{"c/c", "c/c", "Centre to centre: from seat point to seat point along the path", "centre to centre"},
              {"clear gap", "clear gap",
               "Clear gap: the free length along the path from one part's front to the next one's back, for parts as "
               "their boxes. Distances between true bodies are not measured here.",
               "clear"}});
    constexpr const char* limit = "Limit of the clear gap along the path; empty for none. Even out keeps it, the other "
                                  "rules are checked against it.";
    v.limit("gapAtLeast", "Clear gap at least", limit, s.gapAtLeast);
    v.limit("gapAtMost", "Clear gap at most", limit, s.gapAtMost);
    v.length("insetStart", "In at start", "Length kept empty at the path's start, up to the first seat point",
             s.insetStart);
    v.length("insetEnd", "In at end", "Length kept empty at the path's end, from the last seat point", s.insetEnd);
    v.length("slide", "First place at", "Station of the first place on a closed path", s.slide);
}
/// Everything that is in use.
template<class V, Describes<Spacing> S> void describe(V&& v, S& s) {
    std::visit([&](auto& rule) { describe(v, rule); }, s.rule);
    describeShared(v, s);
}

/// Values that only count on open paths, or only on closed ones.
bool countsOn(const std::string& key, bool closed);

/// The spacing with another rule in use (index into SpacingRule), as it was left or by default; the numbers of the one
/// that was in use are kept.
Spacing switched(Spacing, size_t rule);

} // namespace vicinal
