#pragma once
#include "geometry/path.h"
#include "layout/facing.h"

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
};

/// Length of path a part takes up from its seat point, mm (both may be negative when the seat is outside the part).
struct Occupied {
    double ahead = 0, behind = 0;
    double total() const { return ahead + behind; }
};

/// How much of the path a part occupies at a station. Two equal boxes, one moved from the other by d along the tangent
/// t, are free of each other exactly when d >= min over the box axes a of size_a / |t . a|; that axis tells ahead and
/// behind.
class Occupancy {
public:
    /// box: the part's box in seat axes (seatedBox); must outlive nothing: all is copied except the path's shared
    /// tables.
    Occupancy(Path path, Facing facing, const Mat3& partRotation, const Box3& box);
    /// True when it is the same all along, so that equal gaps mean equal pitch.
    bool constant() const { return m_constant; }
    Occupied at(double station) const;
    /// The same for many stations, rising except for one wrap; one sweep.
    std::vector<Occupied> at(std::span<const double> stations) const;
    /// The same from a tangent and a rotation that are known already.
    Occupied of(const Vec3& tangent, const Mat3& R) const;

private:
    Path m_path;
    Facing m_facing;
    Mat3 m_partRotation;
    Box3 m_box;
    bool m_constant = false;
    Occupied m_fixed;
};

/// Where the places go.
struct Stations {
    std::vector<double> at; ///< mm from the path's start, in place order; rising except for one wrap on a closed path
    double pitch = 0;       ///< mm c/c; the mean where equal gaps make it vary; 0 for a single place
    double leftOver = 0;    ///< mm that a fixed pitch leaves
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
