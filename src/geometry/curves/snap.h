#pragma once
#include "geometry/path/path.h"
#include <functional>
#include <set>

namespace vicinal {

/// What a point being drawn or dragged can catch on, the strongest first.
enum class SnapKind { End, Point, Centre, Middle, Perpendicular, Tangent, OnPath, Axis, Grid };
const char* nameOf(SnapKind);

struct Snap {
    SnapKind kind;
    Vec3 at;
};

struct SnapQuery {
    Vec3 pointer;             ///< on the drawing plane
    Vec3 normal;              ///< of that plane, unit
    std::optional<Vec3> from; ///< the last point: for perpendicular, tangent and along an axis
    double gridStep = 0;      ///< mm; 0: no grid
    double reach = 10;        ///< as `away` counts
    /// mm; paths farther from the pointer are not looked at, so that thousands of them cost nothing.
    double worldReach = std::numeric_limits<double>::infinity();
    int depthAxis = -1;          ///< 0..2: distance along this axis does not count for worldReach (a view along it)
    std::set<SnapKind> off = {}; ///< kinds that are switched off
    /// How far a point looks from the pointer, in pixels or what `reach` is in.
    std::function<double(const Vec3&)> away;
};

/// The strongest catch within reach; the nearest among equals. `points`: of drawn paths; `paths`: all that are shown.
/// Along an axis keeps the pointer's distance from `from`; the grid catches when nothing else does.
std::optional<Snap> snapTo(const SnapQuery&, std::span<const Path> paths, std::span<const Vec3> points);

} // namespace vicinal
