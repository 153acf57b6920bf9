#pragma once
#include "geometry/mesh/mesh.h"
#include <optional>

namespace vicinal {

/// Where a ray meets a mesh first.
struct MeshHit {
    double distance;
    std::uint32_t triangle;
};
/// Distance along the ray to a triangle, or nothing (Moeller and Trumbore, "Fast, minimum storage ray-triangle
/// intersection", 1997).
std::optional<double> hitTriangle(const Vec3& start, const Vec3& direction, const Vec3& a, const Vec3& b,
                                  const Vec3& c);
/// `from`: nearer ones do not count.
std::optional<MeshHit> hitMesh(const Mesh&, const Vec3& start, const Vec3& direction, double from = -kFar);

} // namespace vicinal
