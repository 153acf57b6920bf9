#include "parts/mesh.h"
#include <algorithm>
#include <map>
#include <unordered_map>

namespace vicinal {

Result<Mesh> cleaned(Mesh in) {
    if (in.triangles.empty())
        return Problem{"The mesh has no triangles. Bring in a file with faces, not only points or lines.", "part"};
    // Points are joined on a grid of the tolerance; the box corner is the grid's origin, so far-off meshes keep their
    // digits.
    Box3 all;
    for (const auto& t : in.triangles)
        for (auto i : t) {
            if (i >= in.points.size())
                return Problem{"A triangle of the mesh refers to a point that is not there.", "part"};
            if (!finite(in.points[i])) return Problem{"The mesh has a coordinate that is not a number.", "part"};
            all.extend(in.points[i]);
        }
    std::map<std::array<std::int64_t, 3>, std::uint32_t> known;
    std::vector<std::uint32_t> to(in.points.size(), ~0u);
    Mesh out;
    const auto index = [&](std::uint32_t i) {
        if (to[i] != ~0u) return to[i];
        const Vec3 d = (in.points[i] - all.min()) / tolerance::length;
        if (!(d.cwiseAbs().maxCoeff() < 9e18))
            return to[i] = std::uint32_t(out.points.size()), out.points.push_back(in.points[i]), to[i];
        const std::array<std::int64_t, 3> key{std::llround(d.x()), std::llround(d.y()), std::llround(d.z())};
        const auto [it, fresh] = known.try_emplace(key, std::uint32_t(out.points.size()));
        if (fresh) out.points.push_back(in.points[i]);
        return to[i] = it->second;
    };
    for (const auto& t : in.triangles) {
        const std::array<std::uint32_t, 3> n{index(t[0]), index(t[1]), index(t[2])};
        if (n[0] == n[1] || n[1] == n[2] || n[2] == n[0]) continue;
        out.triangles.push_back(n);
        for (auto i : n) out.box.extend(out.points[i]);
    }
    if (out.triangles.empty())
        return Problem{"All triangles of the mesh are without area. Check the units and the file.", "part"};
    return out;
}

std::vector<std::array<std::uint32_t, 2>> featureEdges(const Mesh& mesh, double angle) {
    struct Side {
        Vec3 normal;
        int faces = 0;
        bool sharp = false;
    };
    std::map<std::array<std::uint32_t, 2>, Side> edges;
    for (const auto& t : mesh.triangles) {
        const Vec3 n =
            (mesh.points[t[1]] - mesh.points[t[0]]).cross(mesh.points[t[2]] - mesh.points[t[0]]).normalized();
        for (int i = 0; i < 3; ++i) {
            auto& e =
                edges[std::array<std::uint32_t, 2>{std::min(t[i], t[(i + 1) % 3]), std::max(t[i], t[(i + 1) % 3])}];
            if (e.faces++ == 0)
                e.normal = n;
            else if (e.normal.dot(n) < std::cos(angle))
                e.sharp = true;
        }
    }
    std::vector<std::array<std::uint32_t, 2>> out;
    for (const auto& [key, e] : edges)
        if (e.sharp || e.faces != 2) out.push_back(key);
    return out;
}

Mesh boxMesh(const Box3& box) {
    Mesh m;
    m.box = box;
    for (int i = 0; i < 8; ++i) m.points.push_back(box.corner(Box3::CornerType(i)));
    m.triangles = {{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6}, {0, 1, 4}, {1, 5, 4},
                   {2, 6, 3}, {3, 6, 7}, {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}};
    return m;
}

double volumeOf(const Mesh& mesh) {
    double sum = 0;
    const Vec3 o = mesh.box.min();
    for (const auto& t : mesh.triangles)
        sum += (mesh.points[t[0]] - o).dot((mesh.points[t[1]] - o).cross(mesh.points[t[2]] - o)) / 6;
    return sum;
}

} // namespace vicinal
