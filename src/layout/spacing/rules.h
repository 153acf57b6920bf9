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

class RuleKind; // layout/spacing/rule_kind.h: what else there is of a rule, in its file of kinds/

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
    {"half a pitch in", "\u00bd pitch in", "Half a pitch (by gap along: half a gap) is kept free at both ends",
     "half a pitch in from the ends"},
    {"a pitch in", "pitch in", "A whole pitch (by gap along: a gap) is kept free at both ends",
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
void describe(const ValueVisitor&, StepOff&);
const RuleKind& kindOf(const StepOff&);

/// A count, shared equally.
struct ShareOut {
    long count = 10;
    ShareEnds ends = ShareEnds::AtEnds;
    bool operator==(const ShareOut&) const = default;

    static constexpr RuleWords words{"share out", "Share out", "A count, shared equally over the path", "shared out",
                                     "{count} shared out evenly[open:, {ends}]"};
};
void describe(const ValueVisitor&, ShareOut&);
const RuleKind& kindOf(const ShareOut&);

/// About a pitch, made even so that nothing is left over.
struct EvenOut {
    double about = 100; ///< mm; c/c or clear gap
    ShareEnds ends = ShareEnds::AtEnds;
    bool operator==(const EvenOut&) const = default;

    static constexpr RuleWords words{"even out", "Even out",
                                     "About a pitch, made even so that nothing is left over, within the gap limits",
                                     "evened out", "evened to about {about} {measure}[open:, {ends}]"};
};
void describe(const ValueVisitor&, EvenOut&);
const RuleKind& kindOf(const EvenOut&);

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
void describe(const ValueVisitor&, PinToPin&);
const RuleKind& kindOf(const PinToPin&);

/// A pitch that changes along the path.
struct Graded {
    Profile pitch{{{0, 100}, {1, 200}}, false, true}; ///< mm; c/c or clear gap
    long count = 0;                                   ///< 0: as many as fit; else all pitches are scaled alike
    LeftOver leftOver = LeftOver::AtEnd;
    bool operator==(const Graded&) const = default;

    static constexpr RuleWords words{"graded", "Graded", "A pitch that changes along the path, by keys", "graded",
                                     "graded from {pitches} {measure}"};
};
void describe(const ValueVisitor&, Graded&);
const RuleKind& kindOf(const Graded&);

/// Stations typed one by one.
struct Listed {
    std::vector<double> at{0, 100}; ///< mm, rising; from the start of the stretch
    bool steps = false;             ///< distances from one place to the next instead, the first from the start
    bool operator==(const Listed&) const = default;

    static constexpr RuleWords words{"listed", "Listed", "Stations typed one by one", "listed", "at {at}"};
};
void describe(const ValueVisitor&, Listed&);
const RuleKind& kindOf(const Listed&);

/// Vehicles one ahead of the other: each stands by its pins, coupled to the one before.
struct Coupled {
    long count = 2;     ///< 0: as many as fit
    double gap = 300;   ///< mm, straight from the front hook of one to the back hook of the next
    double swing = kPi; ///< rad that what a vehicle stands on may turn under it, and neighbours at a coupling; checked
    bool operator==(const Coupled&) const = default;

    static constexpr RuleWords words{"coupled", "Coupled", "Vehicles on their pins or bogies, coupled one to the next",
                                     "coupled", "{vehicles} coupled at {coupling}"};
};
void describe(const ValueVisitor&, Coupled&);
const RuleKind& kindOf(const Coupled&);

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
void describeShared(const ValueVisitor&, Spacing&);
template<class V, Describes<Spacing> S>
requires(!std::derived_from<std::remove_cvref_t<V>, ValueVisitor>) void describeShared(V&& visitor, S& s) {
    const VisitorFor<std::remove_reference_t<V>, std::is_const_v<S>> to(visitor);
    describeShared(to, const_cast<Spacing&>(s));
}
/// Everything that is in use.
void describe(const ValueVisitor&, Spacing&);

/// False for values that have no effect on such a path (closed or open) and with the other values as they are.
bool counts(const Spacing&, const std::string& key, bool closed);

/// The rule that a bay (from 1) has of its own; null: the run's.
const SpacingRule* bayRule(const Spacing&, long bay);

/// The spacing with another rule in use (index into SpacingRule), as it was left or by default; the numbers of the one
/// that was in use are kept.
Spacing switched(Spacing, size_t rule);

} // namespace vicinal
