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

std::vector<Vec3> edgeChain(const Mesh& mesh, const Vec3& near, bool loop, const Vec3& up, bool* closed) {
    *closed = false;
    struct Edge {
        std::uint32_t a, b;
        std::vector<Vec3> normals; ///< of the faces beside it
    };
    std::vector<Edge> edges;
    std::map<std::array<std::uint32_t, 2>, size_t> index;
    for (const auto& e : featureEdges(mesh)) {
        index[e] = edges.size();
        edges.push_back({e[0], e[1], {}});
    }
    if (edges.empty()) return {};
    for (const auto& t : mesh.triangles) {
        const Vec3 n =
            (mesh.points[t[1]] - mesh.points[t[0]]).cross(mesh.points[t[2]] - mesh.points[t[0]]).normalized();
        for (int i = 0; i < 3; ++i)
            if (const auto it = index.find({std::min(t[i], t[(i + 1) % 3]), std::max(t[i], t[(i + 1) % 3])});
                it != index.end())
                edges[it->second].normals.push_back(n);
    }
    std::map<std::uint32_t, std::vector<size_t>> at;
    size_t first = 0;
    double nearest = 1e300;
    for (size_t i = 0; i < edges.size(); ++i) {
        at[edges[i].a].push_back(i);
        at[edges[i].b].push_back(i);
        const Vec3 a = mesh.points[edges[i].a], ab = mesh.points[edges[i].b] - a;
        const double f = std::clamp((near - a).dot(ab) / ab.squaredNorm(), 0.0, 1.0), d = (near - a - f * ab).norm();
        if (d < nearest) nearest = d, first = i;
    }
    Vec3 face = edges[first].normals.front();
    for (const auto& n : edges[first].normals)
        if (n.dot(up) > face.dot(up)) face = n;
    const auto walk = [&](std::uint32_t from, std::uint32_t to, std::vector<std::uint32_t>& out) {
        std::vector<char> used(edges.size(), 0);
        used[first] = 1;
        Vec3 normal = face;
        while (true) {
            out.push_back(to);
            const Vec3 along = (mesh.points[to] - mesh.points[from]).normalized();
            int best = -1;
            double least = loop ? -1 : std::cos(30 * kDegree);
            for (size_t k : at[to]) {
                if (used[k]) continue;
                const std::uint32_t next = edges[k].a == to ? edges[k].b : edges[k].a;
                double fit = along.dot((mesh.points[next] - mesh.points[to]).normalized());
                if (loop) { // stays beside the same face
                    fit = -2;
                    for (const auto& n : edges[k].normals) fit = std::max(fit, n.dot(normal));
                    if (fit < std::cos(20 * kDegree)) continue;
                }
                if (fit > least) least = fit, best = int(k);
            }
            if (best < 0) return false;
            used[size_t(best)] = 1;
            for (const auto& n : edges[size_t(best)].normals)
                if (loop && n.dot(normal) > std::cos(20 * kDegree)) normal = n;
            from = to;
            to = edges[size_t(best)].a == to ? edges[size_t(best)].b : edges[size_t(best)].a;
            if (to == out.front()) return true;
        }
    };
    std::vector<std::uint32_t> chain{edges[first].a};
    std::vector<std::uint32_t> forward;
    forward.push_back(edges[first].a);
    *closed = walk(edges[first].a, edges[first].b, forward);
    chain = forward;
    if (!*closed && !loop) { // the other way too
        std::vector<std::uint32_t> back;
        walk(edges[first].b, edges[first].a, back);
        chain.assign(back.rbegin(), back.rend());
        chain.insert(chain.end(), forward.begin() + 1, forward.end());
    }
    std::vector<Vec3> out;
    for (auto i : chain) out.push_back(mesh.points[i]);
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
