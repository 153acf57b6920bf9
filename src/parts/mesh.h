#pragma once
#include "geometry/result.h"
#include "geometry/vec.h"
#include <array>
#include <cstdint>
#include <memory>
#include <vector>

namespace vicinal {

/// Triangles over shared points, mm, in the part's own axes; counter-clockwise seen from outside.
struct Mesh {
    std::vector<Vec3> points;
    std::vector<std::array<std::uint32_t, 3>> triangles;
    Box3 box; ///< of the points the triangles use
};

/// Joins points closer than tolerance::length, drops triangles without area and sets the box.
/// Problem when nothing is left or a coordinate is not a number.
Result<Mesh> cleaned(Mesh);

/// Edges worth drawing: where two faces meet at more than `angle` radians, and open borders. Pairs of point indices.
std::vector<std::array<std::uint32_t, 2>> featureEdges(const Mesh&, double angle = 20 * kDegree);

/// Points along feature edges, starting from the edge nearest to `near`. loop: round the face beside it (of its two the
/// one that looks more along `up`), back to the start; else on both ways as long as one edge goes on within 30 degrees.
/// `closed` says whether the last leads back to the first. Empty when the mesh has no feature edge.
std::vector<Vec3> edgeChain(const Mesh&, const Vec3& near, bool loop, const Vec3& up, bool* closed);

/// A box-shaped solid.
Mesh boxMesh(const Box3&);

/// Enclosed volume, mm^3 (signed; positive when triangles are counter-clockwise from outside).
double volumeOf(const Mesh&);

} // namespace vicinal
