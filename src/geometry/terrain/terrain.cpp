#include "geometry/terrain/terrain.h"
#include "base/say.h"
#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Spatial_sort_traits_adapter_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <CGAL/property_map.h>
#include <CGAL/spatial_sort.h>
#include <algorithm>
#include <map>
#include <unordered_map>

namespace vicinal {
namespace {

constexpr std::uint32_t kNone = 0xffffffff;
constexpr size_t kMostCrossings = 10'000; ///< of break lines

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
struct Level {
    std::uint32_t point = kNone;
};
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<Level, Kernel>;
using FaceBase = CGAL::Constrained_triangulation_face_base_2<Kernel>;
using Structure = CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>;
using Delaunay = CGAL::Constrained_Delaunay_triangulation_2<Kernel, Structure, CGAL::Exact_predicates_tag>;
using Point2 = Delaunay::Point;

Point2 plan(const Vec3& p) { return {p.x(), p.y()}; }

struct BreakLeg {
    Vec3 a, b;
    Eigen::AlignedBox2d box; ///< in plan
};

/// The height of a point that break lines made where they cross: on the first line that leads through it.
double heightOn(const std::vector<BreakLeg>& legs, const Point2& p) {
    const Vec2 at(p.x(), p.y());
    for (const BreakLeg& leg : legs) {
        if (!leg.box.contains(at)) continue;
        const Vec2 a = leg.a.head<2>(), ab = leg.b.head<2>() - a;
        const double n = ab.squaredNorm();
        if (!(n > 0)) continue;
        const double t = (at - a).dot(ab) / n;
        if (t < -tolerance::rounding || t > 1 + tolerance::rounding ||
            (a + t * ab - at).squaredNorm() > tolerance::fine * (1 + n))
            continue;
        return leg.a.z() + t * (leg.b.z() - leg.a.z());
    }
    return 0;
}

/// Indices of points in an order in which neighbours come near each other: joining them is quick then.
std::vector<std::size_t> spread(const std::vector<Vec3>& points) {
    std::vector<Point2> flat;
    flat.reserve(points.size());
    for (const Vec3& p : points) flat.push_back(plan(p));
    std::vector<std::size_t> order(points.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    using Map = CGAL::Pointer_property_map<Point2>::type;
    CGAL::spatial_sort(order.begin(), order.end(),
                       CGAL::Spatial_sort_traits_adapter_2<Kernel, Map>(CGAL::make_property_map(flat.data())));
    return order;
}

/// Leaves out what reaches over bays of the outline: from the border inwards, triangles with an edge that is too long.
void peel(Mesh& mesh, double longest) {
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::uint32_t>> beside;
    const auto edge = [&](std::uint32_t t, int k) {
        const auto a = mesh.triangles[t][size_t(k)], b = mesh.triangles[t][size_t((k + 1) % 3)];
        return std::pair(std::min(a, b), std::max(a, b));
    };
    for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t)
        for (int k = 0; k < 3; ++k) beside[edge(t, k)].push_back(t);
    std::vector<bool> gone(mesh.triangles.size(), false);
    std::vector<std::uint32_t> todo;
    const auto look = [&](std::uint32_t t) { // at a border?
        if (gone[t]) return;
        bool border = false, isLong = false;
        for (int k = 0; k < 3; ++k) {
            const auto e = edge(t, k);
            int there = 0;
            for (auto other : beside[e]) there += !gone[other];
            border = border || there == 1;
            isLong = isLong || (mesh.points[e.first] - mesh.points[e.second]).head<2>().norm() > longest;
        }
        if (border && isLong) gone[t] = true, todo.push_back(t);
    };
    for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t) look(t);
    while (!todo.empty()) {
        const auto t = todo.back();
        todo.pop_back();
        for (int k = 0; k < 3; ++k)
            for (auto other : beside[edge(t, k)]) look(other);
    }
    size_t kept = 0;
    for (size_t t = 0; t < mesh.triangles.size(); ++t)
        if (!gone[t]) mesh.triangles[kept++] = mesh.triangles[t];
    mesh.triangles.resize(kept);
}

void measure(Mesh& mesh) {
    mesh.box = Box3();
    for (const auto& t : mesh.triangles)
        for (auto i : t) mesh.box.extend(mesh.points[i]);
}

Words some(size_t n, const char* one, const char* many) { return say::count(n) + " " + (n == 1 ? one : many); }

/// Levels and break lines joined by triangles, constrained Delaunay.
class JoinedLevels {
public:
    explicit JoinedLevels(const LevelData& data) : m_points(data.points) {
        for (const auto& line : data.breaks) {
            m_lines.emplace_back();
            for (const Vec3& p : line) m_lines.back().push_back(std::uint32_t(m_points.size())), m_points.push_back(p);
        }
    }
    std::optional<Problem> into(Terrain& out) {
        if (m_points.size() < 3)
            return Problem{Words("Ground needs at least three levels; here ") +
                               std::string(m_points.empty()       ? "is none"
                                           : m_points.size() == 1 ? "is one"
                                                                  : "are two") +
                               ". Bring in a file with more.",
                           "levels"};
        insertPoints();
        if (m_joined.dimension() < 2)
            return Problem{"All levels lie on one line in plan, so that there is no ground between them. Bring in "
                           "points on both sides.",
                           "levels"};
        if (auto p = insertBreaks()) return p;
        const size_t crossed = fill(out.mesh);
        if (m_doubled > 0 && m_apart > tolerance::length)
            out.remarks.push_back(some(m_doubled, "level stands", "levels stand") + " over another one, up to " +
                                  say::mm(m_apart) +
                                  " apart: the first of them counts. A surface has one height everywhere.");
        else if (m_doubled > 0)
            out.remarks.push_back(some(m_doubled, "level is", "levels are") + " there twice.");
        if (crossed > 0)
            out.remarks.push_back("Break lines cross at " + some(crossed, "point", "points") +
                                  ": the height of the first counts there.");
        return std::nullopt;
    }

private:
    void insertPoints() {
        Delaunay::Face_handle near;
        m_vertex.resize(m_points.size());
        for (const auto i : spread(m_points)) {
            const auto v = m_joined.insert(plan(m_points[i]), near);
            near = v->face();
            m_vertex[i] = v;
            auto& level = v->info().point;
            if (level != kNone) {
                ++m_doubled;
                m_apart = std::max(m_apart, std::abs(m_points[level].z() - m_points[i].z()));
            }
            level = std::min(level, std::uint32_t(i)); // kNone is the largest
        }
    }
    std::optional<Problem> insertBreaks() {
        const size_t given = m_joined.number_of_vertices();
        for (const auto& line : m_lines)
            for (size_t i = 0; i + 1 < line.size(); ++i) {
                if (m_vertex[line[i]] == m_vertex[line[i + 1]]) continue;
                m_joined.insert_constraint(m_vertex[line[i]], m_vertex[line[i + 1]]);
                const Vec3 &a = m_points[line[i]], &b = m_points[line[i + 1]];
                const Vec2 slack = Vec2::Constant(tolerance::alike * (1 + (b - a).norm()));
                m_legs.push_back(
                    {a, b, {a.head<2>().cwiseMin(b.head<2>()) - slack, a.head<2>().cwiseMax(b.head<2>()) + slack}});
                if (m_joined.number_of_vertices() - given > kMostCrossings)
                    return Problem{"The break lines cross one another at more than " + say::count(kMostCrossings) +
                                       " points. Bring in fewer of them, or only the points.",
                                   "levels"};
            }
        return std::nullopt;
    }
    /// Points and triangles of what was joined. At how many points break lines cross.
    size_t fill(Mesh& mesh) const {
        size_t crossed = 0;
        std::unordered_map<Delaunay::Vertex_handle, std::uint32_t> number;
        for (auto v = m_joined.finite_vertices_begin(); v != m_joined.finite_vertices_end(); ++v) {
            number[v] = std::uint32_t(mesh.points.size());
            if (v->info().point != kNone) {
                mesh.points.push_back(m_points[v->info().point]);
                continue;
            }
            ++crossed;
            mesh.points.push_back({v->point().x(), v->point().y(), heightOn(m_legs, v->point())});
        }
        for (auto f = m_joined.finite_faces_begin(); f != m_joined.finite_faces_end(); ++f)
            mesh.triangles.push_back({number[f->vertex(0)], number[f->vertex(1)], number[f->vertex(2)]});
        return crossed;
    }

    std::vector<Vec3> m_points;
    std::vector<std::vector<std::uint32_t>> m_lines; ///< break lines, by their points
    Delaunay m_joined;
    std::vector<Delaunay::Vertex_handle> m_vertex; ///< of each point
    std::vector<BreakLeg> m_legs;
    size_t m_doubled = 0; ///< points over another one
    double m_apart = 0;   ///< the most of these
};

} // namespace

Mesh standing(const Mesh& sheet, double foot) {
    Mesh out = sheet;
    std::vector<std::uint32_t> below(sheet.points.size(), kNone);
    const auto down = [&](std::uint32_t i) {
        if (below[i] == kNone) {
            below[i] = std::uint32_t(out.points.size());
            out.points.push_back({sheet.points[i].x(), sheet.points[i].y(), foot});
        }
        return below[i];
    };
    // The underside mirrors the sheet; a plumb side hangs from every edge that has a triangle on one side only.
    std::unordered_map<std::uint64_t, bool> edges;
    const auto key = [](std::uint32_t a, std::uint32_t b) { return std::uint64_t(a) << 32 | b; };
    for (const auto& t : sheet.triangles)
        for (size_t k = 0; k < 3; ++k) edges[key(t[k], t[(k + 1) % 3])] = true;
    for (const auto& t : sheet.triangles) {
        out.triangles.push_back({down(t[0]), down(t[2]), down(t[1])});
        for (size_t k = 0; k < 3; ++k) {
            const auto a = t[k], b = t[(k + 1) % 3];
            if (edges.count(key(b, a))) continue;
            out.triangles.push_back({a, down(a), down(b)});
            out.triangles.push_back({a, down(b), b});
        }
    }
    measure(out);
    return out;
}

Result<Terrain> terrainOf(const LevelData& data, double longest, double thickness) {
    Terrain out;
    if (!(longest >= 0 && inReach(longest)))
        return Problem{"The longest edge is " + say::mm(longest) + "; use 0 (any) or more.", "longest"};
    if (!(thickness >= 0 && inReach(thickness)))
        return Problem{"The ground's thickness is " + say::mm(thickness) + "; use 0 (a sheet) or more.", "thickness"};
    const auto wrong = [](const std::vector<Vec3>& all) {
        return std::any_of(all.begin(), all.end(), [](const Vec3& p) { return !inReach(p); });
    };
    if (wrong(data.points) || std::any_of(data.breaks.begin(), data.breaks.end(), wrong))
        return Problem{"A level is not a number, or beyond " + say::bound(kLargest) + ".", "levels"};
    Mesh& mesh = out.mesh;
    if (!data.faces.empty()) {
        mesh.points = data.points;
        mesh.triangles = data.faces;
        MeshReport report;
        auto clean = cleaned(std::move(mesh), &report);
        if (!clean) return clean.problem();
        mesh = std::move(clean).value();
        // Ground is seen from above: triangles that look down are turned.
        for (auto& t : mesh.triangles) {
            const Vec3 n = (mesh.points[t[1]] - mesh.points[t[0]]).cross(mesh.points[t[2]] - mesh.points[t[0]]);
            if (n.z() < 0) std::swap(t[1], t[2]);
        }
    } else if (auto p = JoinedLevels(data).into(out)) {
        return *p;
    }
    if (longest > 0) peel(mesh, longest);
    if (mesh.triangles.empty())
        return Problem{"No triangle is left: every one has an edge longer than " + say::mm(longest) + ". Allow more.",
                       "longest"};
    measure(mesh);
    if (thickness > 0) mesh = standing(mesh, mesh.box.min().z() - thickness);
    return out;
}

} // namespace vicinal
