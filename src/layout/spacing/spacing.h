#pragma once
#include "geometry/path/path.h"
#include "layout/spacing/walk/occupied.h"
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace vicinal {

class Lineup;
struct Spacing;

/// More places than this are refused with a message.
inline constexpr long kMostPlaces = 1'000'000;

/// One of the stretches a run was cut into.
struct Bay {
    double start = 0, end = 0;   ///< stations; the end may lie beyond the length of a closed path
    size_t first = 0, count = 0; ///< its places
    bool bounded = false;        ///< other places stand at its ends and take up this much of it
    double faceStart = 0, faceEnd = 0;
    bool shared = false; ///< its first place is the last one of the bay before
    double pitch = 0, value = 0, leftOver = 0;
    std::optional<Problem> problem{}; ///< nothing stands in it: why
};

/// Where the places go.
struct Stations {
    std::vector<double> at; ///< mm from the path's start, in place order; rising except for one wrap on a closed path
    double pitch = 0;       ///< mm c/c; the mean where equal gaps make it vary; 0 for a single place
    double leftOver = 0;    ///< mm that a fixed pitch leaves
    double value = 0;       ///< what the rule measured: c/c, clear gap (mm), or share of the length
    bool even = true;       ///< the pitch is the same everywhere
    bool closed = false;    ///< all the way round: the last place's neighbour is the first
    /// What was to be equal and is not, since the length that a part takes up jumps where it would have to stand, or
    /// none was found: the least and the most. Nothing where all are equal.
    struct Uneven {
        enum class Of {
            Gaps,         ///< clear gaps along the path, mm
            Chords,       ///< c/c straight across, mm
            StraightGaps, ///< gaps straight across, mm
            Shares,       ///< of the length that two neighbours take up
            Last,         ///< graded: where the last place would stand, and where it does, mm
        };
        double least = 0, most = 0;
        Of of = Of::Gaps;
    };
    std::optional<Uneven> uneven{};
    std::optional<double> closing{}; ///< pin to pin all the way round: what is missing between the last pin and the
                                     ///< first, straight, mm
    std::vector<double> pins{};      ///< pin to pin: the station of every place's front pin, unwrapped
    double play = 0;                 ///< pin to pin: mm in each joint that closes the chain, or brings it to the end
    std::vector<double> joints{};    ///< pin to pin: how far each link turns from the one before, rad; on a closed
                                     ///< chain at every link's first pin, else from the second link on
    std::vector<double> swings{};    ///< coupled: how far what stands under each vehicle is turned against it, rad
    std::vector<Bay> bays{};
    std::vector<std::uint16_t> slotOf{}; ///< which part each place has, where lengths or pins count and one is special
};

/// A place of another run that a bay ends at: its station and how much of the path it takes up.
struct BayEdge {
    double station = 0;
    Occupied occupied{};
};

/// Solves a rule. Problems (field): nothing to share ("insetStart"), pitch not positive or too long ("pitch", "about"),
/// count out of range ("count"), limits that no count keeps ("gapAtMost").
/// Counting uses floor(U / p + tolerance::arc), so a pitch that fits exactly is never one short.
/// `reuse`: memory for the stations, taken over.
/// `edges`: what BayEdges::Run lies between.
Result<Stations> solveSpacing(const Path&, const Spacing&, const Lineup&, std::vector<double> reuse = {},
                              std::span<const BayEdge> edges = {});

/// The first station beyond `station` that is `length` away from it, straight; not a number when there is none. On a
/// closed path it is unwrapped; beyond an open end the path goes straight on. A chord is never longer than its arc, so
/// that going on by what is missing cannot jump past the first one.
double chordFrom(const Path&, double station, double length);
/// The point of such a station.
Vec3 pointOn(const Path&, double station);

/// One row of the table of counts.
struct Fit {
    long count = 0;
    double pitch = 0, gapLeast = 0, gapMost = 0, leftOver = 0;
    double value = 0;                        ///< what the rule measures
    std::optional<double> closing{}, play{}; ///< pin to pin: what is missing (below zero: too much) between last pin
                                             ///< and first, straight, or the end of an open path, along it, mm; play in
                                             ///< each joint that would close it
    std::optional<double> gives{};           ///< what gives way, if something does: the number it would have
    bool inUse = false, over = false, under = false; ///< over / under: outside the gap limits (or parts overlap: under)
};
/// Eleven counts around the best one (fewer at the ends of what is possible), each solved, the one nearest to what is
/// wanted first. For StepOff the row in use is the stepped one with its left over; the other rows say which pitch would
/// leave nothing. Problem for rules without a count that can be chosen, and in bays, where there is one for each.
Result<std::vector<Fit>> fits(const Path&, const Spacing&, const Lineup&);

/// How far, mm along the path, `count` places or links of a rule with a fixed number reach beyond what there is for
/// them; below zero: what they leave over. Problem: a rule that leaves nothing over ("rule"), bays, a count that cannot
/// be ("giveCount").
Result<double> excess(const Path&, const Spacing&, const Lineup&, long count);
/// The count whose excess is least; multiples and patterns that go all the way round are kept.
Result<long> nearestCount(const Path&, const Spacing&, const Lineup&);

/// Where the usable stretch of an open run begins and ends, stations; a stretch over the seam of a closed path ends
/// before it begins.
struct Usable {
    double start = 0, end = 0;
};
Usable usableOf(const Spacing&, double length);

/// The rule after the whole run was slid by `by` mm along the path: on closed paths the slide, on open ones the insets
/// (one grows, the other shrinks) as far as there is room.
Spacing slid(const Path&, const Spacing&, const Stations& now, double by);

} // namespace vicinal
