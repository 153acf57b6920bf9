#pragma once
// Triangles of flat outlines.
#include "base/vec.h"
#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace vicinal {

/// Triangles over what is inside an odd number of rings (polygons that do not cross), counter-clockwise: indices count
/// through the points of all rings, one ring after the other. Constrained Delaunay, no point added.
std::vector<std::array<std::uint32_t, 3>> trianglesInside(std::span<const std::vector<Vec2>> rings);

} // namespace vicinal
