#pragma once
#include "geometry/path/path.h"
#include "layout/spacing/occupancy.h"

namespace vicinal {

/// More places than this are refused with a message.
inline constexpr long kMostPlaces = 1'000'000;

enum class SpacingRule {
    StepOff,  ///< a fixed pitch, as many as go in
    ShareOut, ///< a count, shared equally
    EvenOut,  ///< about a pitch, made even so that nothing is left over
};
enum class Measure {
    CentreToCentre, ///< from seat point to seat point along the path
    ClearGap,       ///< from one part's front to the next one's back along the path
};
enum class LeftOver { AtEnd, AtStart, Both };
enum class ShareEnds { AtEnds, HalfPitchIn, PitchIn };

/// All the numbers of spacing, mm. The rules not in use keep their values, so that going back finds them.
struct Spacing {
    SpacingRule rule = SpacingRule::EvenOut;
    Measure measure = Measure::CentreToCentre;
    double pitch = 100;                          ///< StepOff: c/c or clear gap
    LeftOver leftOver = LeftOver::AtEnd;         ///< StepOff on open paths
    long count = 10;                             ///< ShareOut
    ShareEnds ends = ShareEnds::AtEnds;          ///< ShareOut on open paths
    double about = 100;                          ///< EvenOut: c/c or clear gap
    std::optional<double> gapAtLeast, gapAtMost; ///< limits; EvenOut keeps them, for the others they are only checked
    double insetStart = 0, insetEnd = 0;         ///< open paths: from the path's ends to the first and last seat point
    double slide = 0;                            ///< closed paths: station of the first place

    bool operator==(const Spacing&) const = default;
};

/// Where the places go.
struct Stations {
    std::vector<double> at; ///< mm from the path's start, in place order; rising except for one wrap on a closed path
    double pitch = 0;       ///< mm c/c; the mean where equal gaps make it vary; 0 for a single place
    double leftOver = 0;    ///< mm that a fixed pitch leaves
    /// Clear gaps that were to be equal and cannot be, since the length that a part takes up jumps where it would have
    /// to stand: the least and the most, mm. Nothing where they are equal.
    struct Uneven {
        double least = 0, most = 0;
    };
    std::optional<Uneven> uneven{};
};

/// Solves a rule. Problems (field): nothing to share ("insetStart"), pitch not positive or too long ("pitch", "about"),
/// count out of range ("count"), limits that no count keeps ("gapAtMost").
/// Counting uses floor(U / p + tolerance::arc), so a pitch that fits exactly is never one short.
/// `reuse`: memory for the stations, taken over.
Result<Stations> solveSpacing(const Path&, const Spacing&, const Occupancy&, std::vector<double> reuse = {});

/// One row of the table of counts.
struct Fit {
    long count = 0;
    double pitch = 0, gapLeast = 0, gapMost = 0, leftOver = 0;
    bool inUse = false, over = false, under = false; ///< over / under: outside the gap limits (or parts overlap: under)
};
/// Five counts around the best one (fewer at the ends of what is possible), each solved. For StepOff the row in use is
/// the stepped one with its left over; the other rows say which pitch would leave nothing.
Result<std::vector<Fit>> fits(const Path&, const Spacing&, const Occupancy&);

/// The rule after the whole run was slid by `by` mm along the path: on closed paths the slide, on open ones the insets
/// (one grows, the other shrinks) as far as there is room.
Spacing slid(const Path&, const Spacing&, const Stations& now, double by);

} // namespace vicinal
