#include "geometry/mesh/self_crossing.h"
#include <algorithm>

namespace vicinal {

std::optional<Vec3> runsThroughItself(const MeshTree& tree, const Stop* stop) {
    const Mesh& mesh = tree.mesh();
    const double tiny =
        std::max(mesh.box.isEmpty() ? 0.0 : mesh.box.diagonal().norm() * tolerance::alike, tolerance::length);
    std::size_t count = 0;
    for (const MeshEdge& e : edgesOf(mesh).edges) {
        if (++count % 4096 == 0 && stopped(stop)) return std::nullopt;
        const Vec3 &a = mesh.points[e.a], &b = mesh.points[e.b];
        const double length = (b - a).norm();
        if (length <= 2 * tiny) continue;
        const Vec3 d = (b - a) / length;
        double from = tiny;
        for (int tries = 0; tries < 16; ++tries) {
            const auto hit = tree.hit(a, d, from);
            if (!hit || hit->distance >= length - tiny) break;
            from = hit->distance + tiny;
            const auto& t = mesh.triangles[hit->triangle];
            if (std::find(t.begin(), t.end(), e.a) != t.end() || std::find(t.begin(), t.end(), e.b) != t.end())
                continue;
            const Vec3 n = tree.flatNormal(hit->triangle);
            if ((a - mesh.points[t[0]]).dot(n) * (b - mesh.points[t[0]]).dot(n) >= 0 ||
                std::min(std::abs((a - mesh.points[t[0]]).dot(n)), std::abs((b - mesh.points[t[0]]).dot(n))) < tiny)
                continue;
            const Vec3 at = a + hit->distance * d;
            bool within = true; // and not along its border
            for (std::size_t k = 0; k < 3; ++k) {
                const Vec3 &p = mesh.points[t[k]], &q = mesh.points[t[(k + 1) % 3]];
                within = within && n.cross(q - p).dot(at - p) > tiny * (q - p).norm();
            }
            if (within) return at;
        }
    }
    return std::nullopt;
}

} // namespace vicinal
