#pragma once
#include "geometry/path/segment.h"
#include <optional>
#include <span>

namespace vicinal {

/// C2 cubic spline through points that leaves the first one along `start` and comes into the last one along `end`
/// (any length; nothing: natural there), parameter steps as the distances, speed 1 at a clamped end. Points closer than
/// tolerance::length count as one; empty when fewer than two are left.
std::vector<Segment> throughPointsClamped(std::span<const Vec3> points, const std::optional<Vec3>& start,
                                          const std::optional<Vec3>& end);

} // namespace vicinal
