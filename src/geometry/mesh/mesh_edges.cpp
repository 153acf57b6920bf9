// Edges and normals of triangles.
#include "geometry/mesh/mesh.h"
#include "geometry/mesh/ray.h"
#include <algorithm>
#include <map>

namespace vicinal {

MeshEdges edgesOf(const Mesh& mesh) {
    struct Side {
        std::uint64_t key;
        std::uint32_t triangle;
    };
    std::vector<Side> sides;
    sides.reserve(mesh.triangles.size() * 3);
    for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t)
        for (size_t i = 0; i < 3; ++i) {
            const auto a = mesh.triangles[t][i], b = mesh.triangles[t][(i + 1) % 3];
            sides.push_back({std::uint64_t(std::min(a, b)) << 32 | std::max(a, b), t});
        }
    std::sort(sides.begin(), sides.end(),
              [](const Side& x, const Side& y) { return x.key != y.key ? x.key < y.key : x.triangle < y.triangle; });
    MeshEdges out;
    out.triangles.reserve(sides.size());
    out.edges.reserve(sides.size() / 2);
    for (size_t i = 0; i < sides.size(); ++i) {
        if (i == 0 || sides[i].key != sides[i - 1].key)
            out.edges.push_back({std::uint32_t(sides[i].key >> 32), std::uint32_t(sides[i].key), std::uint32_t(i), 0});
        ++out.edges.back().triangles;
        out.triangles.push_back(sides[i].triangle);
    }
    return out;
}

std::vector<Vec3> normalsOf(const Mesh& mesh) {
    std::vector<Vec3> out;
    out.reserve(mesh.triangles.size());
    for (const auto& t : mesh.triangles)
        out.push_back(
            (mesh.points[t[1]] - mesh.points[t[0]]).cross(mesh.points[t[2]] - mesh.points[t[0]]).normalized());
    return out;
}

std::vector<std::array<std::uint32_t, 2>> featureEdges(const Mesh& mesh, double angle) {
    const MeshEdges all = edgesOf(mesh);
    const auto normals = normalsOf(mesh);
    const double least = std::cos(angle);
    std::vector<std::array<std::uint32_t, 2>> out;
    for (const auto& e : all.edges)
        if (e.triangles != 2 || normals[all.triangles[e.first]].dot(normals[all.triangles[e.first + 1]]) < least)
            out.push_back({e.a, e.b});
    return out;
}

std::vector<Vec3> cornerNormals(const Mesh& mesh, double crease) {
    const auto faces = normalsOf(mesh);
    // Triangles round each point, one after the other.
    std::vector<std::uint32_t> first(mesh.points.size() + 1, 0), round(mesh.triangles.size() * 3);
    for (const auto& t : mesh.triangles)
        for (auto p : t) ++first[p + 1];
    for (size_t i = 1; i < first.size(); ++i) first[i] += first[i - 1];
    auto at = first;
    for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t)
        for (auto p : mesh.triangles[t]) round[at[p]++] = t;
    std::vector<Vec3> out(mesh.triangles.size() * 3);
    const double least = std::cos(crease);
    std::vector<char> in;
    std::vector<std::uint32_t> todo;
    for (std::uint32_t p = 0; p + 1 < first.size(); ++p) {
        const std::uint32_t n = first[p + 1] - first[p];
        const auto* fan = round.data() + first[p];
        const auto place = [&](std::uint32_t t) {
            const auto& c = mesh.triangles[t];
            return c[0] == p ? 0u : 1u + unsigned(c[1] != p);
        };
        const auto shares = [&](std::uint32_t s, std::uint32_t t) { // an edge from p
            const auto &a = mesh.triangles[s], &b = mesh.triangles[t];
            for (auto x : a)
                for (auto y : b)
                    if (x == y && x != p) return true;
            return false;
        };
        in.assign(n, 0);
        for (std::uint32_t k = 0; k < n; ++k) {
            if (in[k]) continue;
            todo.assign(1, k);
            in[k] = 1;
            Vec3 sum = Vec3::Zero();
            for (size_t j = 0; j < todo.size(); ++j) {
                const auto t = fan[todo[j]];
                const auto i = place(t);
                const Vec3 o = mesh.points[p], u = mesh.points[mesh.triangles[t][(i + 1) % 3]] - o,
                           v = mesh.points[mesh.triangles[t][(i + 2) % 3]] - o;
                sum += std::atan2(u.cross(v).norm(), u.dot(v)) * faces[t];
                // Fans are short: looking at all of it is quicker than a map.
                for (std::uint32_t m = 0; m < n && n <= 64; ++m)
                    if (!in[m] && faces[t].dot(faces[fan[m]]) > least && shares(t, fan[m]))
                        in[m] = 1, todo.push_back(m);
            }
            const Vec3 normal = sum.squaredNorm() > 0 ? Vec3(sum.normalized()) : faces[fan[k]];
            for (auto j : todo) {
                const auto t = fan[j];
                // A wide fan bends slowly all the way round: what turned away too far keeps its own face's normal.
                out[t * 3 + place(t)] = normal.dot(faces[t]) > 0.5 ? normal : faces[t];
            }
        }
    }
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
    const auto normals = normalsOf(mesh);
    for (size_t k = 0; k < normals.size(); ++k) {
        const auto& t = mesh.triangles[k];
        const Vec3& n = normals[k];
        for (int i = 0; i < 3; ++i)
            if (const auto it = index.find({std::min(t[i], t[(i + 1) % 3]), std::max(t[i], t[(i + 1) % 3])});
                it != index.end())
                edges[it->second].normals.push_back(n);
    }
    std::map<std::uint32_t, std::vector<size_t>> at;
    size_t first = 0;
    double nearest = kFar;
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

} // namespace vicinal
