#pragma once
#include "layout/seat.h"
#include "parts/mesh.h"
#include <string>

namespace vicinal {

/// Upright bar: width along the nose (x), depth across (y), height up (z); the origin is the middle of its foot. mm.
struct Baluster {
    double width = 20, depth = 20, height = 900;
    bool operator==(const Baluster&) const = default;
};

/// Board across the path: length across (y), width along the nose (x), thickness up (z); origin mid underside. mm.
struct Plank {
    double length = 1200, width = 145, thickness = 28;
    bool operator==(const Plank&) const = default;
};

/// A mesh that was brought in.
struct BroughtMesh {
    std::shared_ptr<const Mesh> mesh;         ///< mm
    std::string source;                       ///< file name it came from
    std::shared_ptr<const std::string> bytes; ///< the file as it came
    std::string extension;                    ///< "obj", "stl", "ply"
    double scale = 1;                         ///< mm per file unit, as the user said
};

using PartShape = std::variant<Baluster, Plank, BroughtMesh>;

/// The shape as triangles. Problem (field named) when a dimension is not positive or not a number.
Result<std::shared_ptr<const Mesh>> meshOf(const PartShape&);

/// Closed outlines, mm, in seat axes (x nose, y side, from the seat point): what the part covers seen from its crown.
/// Outer rings run counter-clockwise, holes clockwise. Exact to 1e-4 mm.
std::vector<std::vector<Vec2>> outlineFromAbove(const Mesh&, const Seat&);

} // namespace vicinal
