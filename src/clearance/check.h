#pragma once
// What can be checked of a run: every kind once, with its words, what it is measured in and which limits it takes.
// File, schema, sheet, strip, command line and check sheet read it from here.
#include "base/id.h"
#include "base/vec.h"
#include <array>
#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <vector>

namespace vicinal {

enum class CheckKind : std::uint8_t {
    ClearGap,    ///< true distance from a body to the next one
    Touching,    ///< the same, where they are wanted to touch
    Opening,     ///< the largest ball that passes between neighbours
    Itself,      ///< all other pairs of the run: strands that cross, rows, tiers, echoes
    OtherRun,    ///< distance to another run's bodies
    SiteBody,    ///< distance to a site body
    Reach,       ///< how far up the next one a falling part hits it, as a share of the next one's height
    Bow,         ///< how far the curve leaves the straight part
    Corner,      ///< how far a corner of the path is from the line between the places beside it
    Closing,     ///< how much closer tops or feet stand than seat points
    NoseSlope,   ///< of the nose over the level
    StepUp,      ///< rise from one place to the next
    Remainder,   ///< what the rule leaves over
    Seam,        ///< what a closed run lacks, or has too much, at its seam
    SeatOff,     ///< of the seat point off the path
    PinsOff,     ///< of the pins off the path
    JointTurns,  ///< turn from a link to the next
    Teeth,       ///< of the pins off the middle of their gaps
    PlaceCount,  ///< places that are there
    TotalLength, ///< along the path, from the first one's back to the last one's front
    Weight,      ///< of all parts
    WeightPerMetre,
};
inline constexpr size_t kCheckKinds = 22;

/// What a check is measured in. In files mm, radians, shares, pieces, kg and kg a metre.
enum class CheckIn : std::uint8_t { Length, Angle, Share, Count, Mass, MassPerMetre };

/// What of a run one value is of.
enum class CheckWhere : std::uint8_t {
    Run,   ///< all of it
    Place, ///< a place, or one and the next (or the other) one
    Onto,  ///< one place onto the next
    Wheel, ///< a wheel of its loop
};
/// What it is asked against besides the run.
enum class CheckAgainst : std::uint8_t { Nothing, Run, Body };

inline constexpr double kNoLimit = std::numeric_limits<double>::quiet_NaN();

/// All there is of a kind, but for the function that measures it (model/verdicts/check_all.cpp).
struct CheckWords {
    const char *file, *label, *tip;
    CheckIn in;
    bool least, most; ///< which limits it takes
    bool clearances;  ///< a distance between bodies
    const char* lane; ///< in the strip; empty: it has one value for the whole run
    CheckWhere where;
    double firstLeast, firstMost; ///< limits of a new one, until others are typed
    CheckAgainst against = CheckAgainst::Nothing;
    bool belowZero = false; ///< its limits may be
    bool fewIsBad = false;  ///< without a limit the least value is the worst; of clearances it is so anyway
    bool whenNear = false;  ///< it has something to show only where something is near
    const char* zero = "";  ///< what a value of 0 means, in words; empty: the number says it
    const char* many = "";  ///< what breaks it, counted; empty: places or pairs
};

inline constexpr std::array<CheckWords, kCheckKinds> kChecks{{
    {"gap", "Nearest",
     "The shortest distance from each body to the next one, as they truly stand; below zero: how "
     "deep they run into one another",
     CheckIn::Length, true, true, true, "nearest", CheckWhere::Place, 0, kNoLimit, CheckAgainst::Nothing, true},
    {"touching", "Touching", "The same distance where bodies are wanted to touch: between two values", CheckIn::Length,
     true, true, true, "touching", CheckWhere::Place, 0, 1, CheckAgainst::Nothing, true},
    {"opening", "Widest opening", "The largest ball that passes between a body and the next one, between two heights",
     CheckIn::Length, false, true, false, "opening", CheckWhere::Place, kNoLimit, 99, CheckAgainst::Nothing, false,
     false, false, "", "openings"},
    {"itself", "Clear of itself",
     "The shortest distance between places that are no neighbours: strands that cross, "
     "turns of a coil, rows, tiers, echoes",
     CheckIn::Length, true, false, true, "to itself", CheckWhere::Place, 0, kNoLimit, CheckAgainst::Nothing, false,
     false, true},
    {"run", "Clear of a run", "The shortest distance to the bodies of another run", CheckIn::Length, true, false, true,
     "to a run", CheckWhere::Place, 0, kNoLimit, CheckAgainst::Run, false, false, true},
    {"body", "Clear of a body", "The shortest distance to a site body that is to be kept clear", CheckIn::Length, true,
     false, true, "to a body", CheckWhere::Place, 100, kNoLimit, CheckAgainst::Body, false, false, true},
    {"reach", "Reach when falling",
     "How far up the next part one that falls ahead about its front foot hits it, as a "
     "share of the next one's height; 0: it misses",
     CheckIn::Share, true, true, false, "reach", CheckWhere::Onto, 0.3, kNoLimit, CheckAgainst::Nothing, false, true,
     false, "It misses"},
    {"bow", "Off the curve", "How far the path leaves the part's straight line over its length, to either side",
     CheckIn::Length, false, true, false, "off curve", CheckWhere::Place, kNoLimit, 10},
    {"corner", "Corner cut", "How far a corner of the path is from the straight line between the places beside it",
     CheckIn::Length, false, true, false, "corner cut", CheckWhere::Place, kNoLimit, 10},
    {"closing", "Closing up",
     "How much closer neighbours' tops or feet stand than their seat points: on hollows and "
     "humps",
     CheckIn::Length, false, true, false, "closing up", CheckWhere::Place, kNoLimit, 10},
    {"slope", "Slope", "Of each place's nose over the level", CheckIn::Angle, true, true, false, "slope",
     CheckWhere::Place, kNoLimit, 5 * kDegree, CheckAgainst::Nothing, true},
    {"step", "Step up", "How much higher each place stands than the one before; down counts alike", CheckIn::Length,
     true, true, false, "step up", CheckWhere::Place, kNoLimit, 180},
    {"leftOver", "Left over", "Length of path that the rule leaves over", CheckIn::Length, false, true, false, "",
     CheckWhere::Run, kNoLimit, 10},
    {"seam", "Seam", "What is missing between the ends of a closed run, or by how much they overlap", CheckIn::Length,
     false, true, false, "", CheckWhere::Run, kNoLimit, 0.1},
    {"seat", "Seat off the path", "How far a place's seat point is off the path, nudges and feet included",
     CheckIn::Length, false, true, false, "off path", CheckWhere::Place, kNoLimit, 0.1},
    {"pins", "Pins off the path", "How far a part's pins are off the path", CheckIn::Length, false, true, false,
     "pins off", CheckWhere::Place, kNoLimit, 0.1},
    {"joints", "Joint turns", "How far each link turns from the one before", CheckIn::Angle, false, true, false,
     "joints", CheckWhere::Place, kNoLimit, 30 * kDegree},
    {"teeth", "Pins in the teeth", "How far a pin is off the middle of its gap on a wheel", CheckIn::Length, false,
     true, false, "", CheckWhere::Wheel, kNoLimit, 0.1},
    {"count", "Count", "Places that are there", CheckIn::Count, true, true, false, "", CheckWhere::Run, 1, 1},
    {"length", "Length", "Along the path, from the first one's back to the last one's front", CheckIn::Length, true,
     true, false, "", CheckWhere::Run, kNoLimit, kNoLimit},
    {"weight", "Weight", "Of all parts, from their densities", CheckIn::Mass, true, true, false, "", CheckWhere::Run,
     kNoLimit, kNoLimit},
    {"weightPerMetre", "Weight a metre", "Of all parts, over the run's length", CheckIn::MassPerMetre, true, true,
     false, "", CheckWhere::Run, kNoLimit, kNoLimit},
}};
inline constexpr const CheckWords& wordsOf(CheckKind k) { return kChecks[size_t(k)]; }
std::optional<CheckKind> checkNamed(const std::string& file);

/// What need not keep a limit, and who says so.
struct Excuse {
    int place = 0, other = 0;   ///< numbers from 1, of the run and of what it is measured against; 0: any
    Id part = 0, otherPart = 0; ///< only bodies of this part against those of that one (either way round); 0: any
    std::string why, by, on;    ///< in words; a name; a day as 2026-11-27
    bool operator==(const Excuse&) const = default;
};

/// One check of a run.
struct Check {
    CheckKind of = CheckKind::ClearGap;
    bool on = true;
    std::optional<double> least, most; ///< in what the kind is measured in; none: that side is free
    double margin = 0;                 ///< inside a limit and so near it: doubtful
    Id other = 0;                      ///< the run or site body it is measured against; of a run 0: every other one
    double from = 0, to = 0;           ///< Opening: heights over the seat point, mm; both 0: the whole height
    std::vector<Excuse> excused{};
    bool operator==(const Check&) const = default;
    /// Two that stand for the same question.
    bool same(const Check& o) const { return of == o.of && other == o.other; }
};

} // namespace vicinal
