#pragma once
#include "base/vec.h"
#include <span>
#include <vector>

namespace vicinal {

/// Indices of the corners of the smallest convex polygon round points in a plane, anticlockwise from the leftmost;
/// points on its sides are none. Fewer than two points come back as they are.
/// Source: Andrew, "Another efficient algorithm for convex hulls in two dimensions", Inf. Proc. Letters 9(5), 1979.
std::vector<size_t> convexHull(std::span<const Vec2> points);

} // namespace vicinal
