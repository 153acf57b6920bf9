#pragma once
// The rules of spacing, each described once: file, schema, sheet, sentence, command line and checks read it from here.
#include "base/describe.h"
#include "base/id.h"
#include "base/rule_words.h"
#include "base/vec.h"
#include "layout/along/profile.h"
#include <optional>
#include <variant>
#include <vector>

namespace vicinal {

enum class Measure {
    CentreToCentre, ///< from seat point to seat point along the path
    ClearGap,       ///< from one part's front to the next one's back
    OfLength,       ///< seat point to seat point, as a share of the length the two parts have there: 1 touches
};
enum class Along {
    Path,     ///< distances are lengths of path
    Straight, ///< distances are chords, straight from place to place
};
enum class LeftOver { AtEnd, AtStart, Both };
enum class ShareEnds { AtEnds, HalfPitchIn, PitchIn };

/// First and last place in a stretch.
inline constexpr ChoiceWord kEndsWords[] = {
    {"at ends", "at ends", "The first and last place stand at the insets", ""},
    {"half a pitch in", "\u00bd pitch in", "Half a pitch (by clear gap: half a gap) is kept free at both ends",
     "half a pitch in from the ends"},
    {"a pitch in", "pitch in", "A whole pitch (by clear gap: a gap) is kept free at both ends",
     "a pitch in from the ends"}};
inline constexpr ChoiceWord kLeftOverWords[] = {
    {"end", "end", "What is left over stays at the end", "at the end"},
    {"start", "start", "What is left over goes to the start", "at the start"},
    {"both", "both", "What is left over is shared by both ends", "shared by both ends"}};

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
    v.choice("leftOver", "Left over to", "Where what a fixed pitch leaves over stays", r.leftOver, kLeftOverWords);
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
    v.choice("ends", "First and last", "Where the first and last place stand", r.ends, kEndsWords);
}

/// About a pitch, made even so that nothing is left over.
struct EvenOut {
    double about = 100; ///< mm; c/c or clear gap
    ShareEnds ends = ShareEnds::AtEnds;
    bool operator==(const EvenOut&) const = default;

    static constexpr RuleWords words{"even out", "Even out",
                                     "About a pitch, made even so that nothing is left over, within the gap limits",
                                     "evened out", "evened to about {about} {measure}[open:, {ends}]"};
};
template<class V, Describes<EvenOut> R> void describe(V&& v, R& r) {
    v.length("about", "About", "The pitch wanted; the nearest one that comes out even is taken", r.about);
    v.choice("ends", "First and last", "Where the first and last place stand", r.ends, kEndsWords);
}

/// Links: each one's back pin is the one before's front pin, both on the path.
struct PinToPin {
    long count = 0; ///< 0: as many as fit
    LeftOver leftOver = LeftOver::AtEnd;
    double play = 0; ///< mm that each joint may give, either way, so that the chain closes or ends at the end; 0: none
    double turn = kPi; ///< rad that a joint can turn at most; checked
    bool operator==(const PinToPin&) const = default;

    static constexpr RuleWords words{"pin to pin", "Pin to pin", "Links that meet at their pins, both pins on the path",
                                     "pin to pin", "pin to pin[open:, what is left over {leftOver}]"};
};
template<class V, Describes<PinToPin> R> void describe(V&& v, R& r) {
    v.count("links", "Links", "How many links; 0: as many as fit", r.count);
    v.choice("leftOver", "Left over to", "Where what whole links leave over stays", r.leftOver, kLeftOverWords);
    v.length("play", "Play a joint", "What each joint may give, either way, so that the chain closes; 0: none", r.play);
    v.angle("jointTurn", "Joint turns to", "How far a link can turn from the one before; 180: it may fold", r.turn);
}

/// A pitch that changes along the path.
struct Graded {
    Profile pitch{{{0, 100}, {1, 200}}, false, true}; ///< mm; c/c or clear gap
    long count = 0;                                   ///< 0: as many as fit; else all pitches are scaled alike
    LeftOver leftOver = LeftOver::AtEnd;
    bool operator==(const Graded&) const = default;

    static constexpr RuleWords words{"graded", "Graded", "A pitch that changes along the path, by keys", "graded",
                                     "graded from {pitches} {measure}"};
};
template<class V, Describes<Graded> R> void describe(V&& v, R& r) {
    v.profile("pitches", "Pitch along", "Keys of the pitch: station and pitch, straight or smooth between them",
              r.pitch, ProfileOf::Length);
    v.count("places", "Places", "How many places, all pitches scaled alike; 0: as many as fit", r.count);
    v.choice("leftOver", "Left over to", "Where what is left over stays", r.leftOver, kLeftOverWords);
}

/// Stations typed one by one.
struct Listed {
    std::vector<double> at{0, 100}; ///< mm, rising; from the start of the stretch
    bool steps = false;             ///< distances from one place to the next instead, the first from the start
    bool operator==(const Listed&) const = default;

    static constexpr RuleWords words{"listed", "Listed", "Stations typed one by one", "listed", "at {at}"};
};
template<class V, Describes<Listed> R> void describe(V&& v, R& r) {
    v.stations("at", "Stations", "Stations from the start, in order, with commas between", r.at);
    v.flag("steps", "As steps", "The numbers are distances from one place to the next", r.steps);
}

/// Vehicles one ahead of the other: each stands by its pins, coupled to the one before.
struct Coupled {
    long count = 2;     ///< 0: as many as fit
    double gap = 300;   ///< mm, straight from the front hook of one to the back hook of the next
    double swing = kPi; ///< rad that what a vehicle stands on may turn under it, and neighbours at a coupling; checked
    bool operator==(const Coupled&) const = default;

    static constexpr RuleWords words{"coupled", "Coupled", "Vehicles on their pins or bogies, coupled one to the next",
                                     "coupled", "{vehicles} coupled at {coupling}"};
};
template<class V, Describes<Coupled> R> void describe(V&& v, R& r) {
    v.count("vehicles", "Vehicles", "How many, one ahead of the other; 0: as many as fit", r.count);
    v.length("coupling", "Coupling", "Straight from the coupling point of one vehicle to that of the next", r.gap);
    v.angle("swing", "Swings to", "How far a bogie may turn under its vehicle, and vehicles at a coupling; 180: freely",
            r.swing);
}

using SpacingRule = std::variant<StepOff, ShareOut, EvenOut, PinToPin, Graded, Listed, Coupled>;

/// One bay that has a rule of its own; measure, limits and the like stay the run's.
struct BayRule {
    long bay = 1; ///< from 1, along the path
    SpacingRule rule = ShareOut{};
    bool operator==(const BayRule&) const = default;
};

/// Where a run is cut into bays, the rule solved in each.
enum class BayEdges { None, Corners, Stations, Run };

/// All of spacing, mm.
struct Spacing {
    SpacingRule rule = EvenOut{};
    std::vector<SpacingRule> kept{}; ///< numbers of rules not in use, at most one of a kind, so that going back finds
                                     ///< them
    Measure measure = Measure::CentreToCentre;
    double ofLength = 1; ///< Measure::OfLength: what StepOff and EvenOut take instead of their own number
    Along along = Along::Path;
    std::optional<double> gapAtLeast, gapAtMost; ///< limits; even out keeps them, for the others they are only checked
    std::optional<double> pitchAtLeast, pitchAtMost; ///< the same, of c/c along the path
    long multiple = 1; ///< the count (of every bay) is a multiple of this; Even out keeps it, the others are checked
    std::optional<double> from,
        to; ///< stretch of the path that is used, stations; on a closed path it may pass the seam
    double insetStart = 0, insetEnd = 0; ///< from the ends of path or stretch to the first and last seat point
    double slide = 0;                    ///< closed paths without a stretch: station of the first place
    BayEdges bays = BayEdges::None;
    std::vector<double> bayStations{}; ///< BayEdges::Stations
    Id bayRun = 0;                     ///< BayEdges::Run: between the places of this one, clear of their faces
    std::vector<BayRule> bayRules{};   ///< single bays with another rule; those beyond the last bay wait for it

    bool operator==(const Spacing&) const = default;
};
/// What all rules share.
template<class V, Describes<Spacing> S> void describeShared(V&& v, S& s) {
    v.choice("measure", "Measured by", "From where to where a distance counts", s.measure,
             {{"c/c", "c/c", "Centre to centre: from seat point to seat point along the path", "centre to centre"},
              {"clear gap", "clear gap",
               "Clear gap: the free length along the path from one part's front to the next one's back, for parts as "
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
    constexpr const char* limit = "Limit of the clear gap along the path; empty for none. Even out keeps it, the other "
                                  "rules are checked against it.";
    v.limit("gapAtLeast", "Clear gap at least", limit, s.gapAtLeast);
    v.limit("gapAtMost", "Clear gap at most", limit, s.gapAtMost);
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
    v.item("bayRun", "Bays between", "The run whose places the bays lie between", s.bayRun, ItemOf::Run);
}
/// Everything that is in use.
template<class V, Describes<Spacing> S> void describe(V&& v, S& s) {
    std::visit([&](auto& rule) { describe(v, rule); }, s.rule);
    describeShared(v, s);
}

/// False for values that have no effect on such a path (closed or open) and with the other values as they are.
bool counts(const Spacing&, const std::string& key, bool closed);

/// The rule that a bay (from 1) has of its own; null: the run's.
const SpacingRule* bayRule(const Spacing&, long bay);

/// The spacing with another rule in use (index into SpacingRule), as it was left or by default; the numbers of the one
/// that was in use are kept.
Spacing switched(Spacing, size_t rule);

} // namespace vicinal
