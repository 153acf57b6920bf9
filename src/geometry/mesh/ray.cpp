#include "geometry/mesh/ray.h"

namespace vicinal {

std::optional<double> hitTriangle(const Vec3& start, const Vec3& direction, const Vec3& a, const Vec3& b,
                                  const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a, p = direction.cross(ac);
    const double det = ab.dot(p);
    if (std::abs(det) < tolerance::fine) return std::nullopt;
    const Vec3 s = start - a;
    const double u = s.dot(p) / det;
    // A line through an edge must not slip between its two triangles.
    constexpr double kEdge = 1e-10;
    if (u < -kEdge || u > 1 + kEdge) return std::nullopt;
    const Vec3 q = s.cross(ab);
    const double v = direction.dot(q) / det;
    if (v < -kEdge || u + v > 1 + kEdge) return std::nullopt;
    return ac.dot(q) / det;
}

std::optional<MeshHit> hitMesh(const Mesh& mesh, const Vec3& start, const Vec3& direction, double from) {
    std::optional<MeshHit> best;
    for (size_t i = 0; i < mesh.triangles.size(); ++i) {
        const auto& t = mesh.triangles[i];
        const auto x = hitTriangle(start, direction, mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
        if (x && *x >= from && (!best || *x < best->distance)) best = MeshHit{*x, std::uint32_t(i)};
    }
    return best;
}

} // namespace vicinal
