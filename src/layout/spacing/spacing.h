#pragma once
#include "geometry/path/path.h"
#include "layout/spacing/occupancy.h"
#include "layout/spacing/rules.h"

namespace vicinal {

/// More places than this are refused with a message.
inline constexpr long kMostPlaces = 1'000'000;

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
