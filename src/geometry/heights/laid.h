#pragma once
#include "base/job.h"
#include "geometry/mesh/ground.h"
#include "geometry/path/path.h"

namespace vicinal {

struct LayOrder {
    Vec3 along = -Vec3::UnitZ(); ///< it is dropped along; any length
    bool points = false;         ///< only the joints of its segments, with straight legs between
    double smooth = 0;           ///< mm: a smooth curve that keeps so near to the surface; 0: exactly on it
    double above = 0;            ///< mm off the surface, against the direction
};
/// A path laid on a surface.
struct LaidPath {
    std::vector<Segment> segments;
    bool closed = false;
    /// Stretches of the source (stations) that have nothing under them: bridged by straight lines, or left out at the
    /// ends of an open path.
    std::vector<std::pair<double, double>> bridged;
    double lostAtStart = 0, lostAtEnd = 0;
    int upright = 0;        ///< steps where the surface goes straight up or down along the direction
    bool overhangs = false; ///< somewhere the surface lies more than once under it: the first met counts
    double off = 0;         ///< mm along the direction: the farthest of a smooth one from the surface
    double offAt = 0;       ///< there, as a station of the source
};
/// Every point of the path moved along the direction to where the line through it meets the surface first. Over each
/// triangle the curve is the source's own, mapped onto the triangle's plane: exact for lines, arcs and splines, within
/// 1e-6 mm for the others; so its pieces end at the triangles' edges. Smooth: a curve that is as smooth as the source
/// seen along the direction (within 1e-3 mm), with heights by a C1 cubic through the surface.
/// Problem ("along"): no direction; ("body"): nothing of the path is over or under the surface; ("smooth", "above").
Result<LaidPath> laidOn(const Path&, const Ground&, const LayOrder&, const Stop* = nullptr);

} // namespace vicinal
