#include "geometry/terrain/flat_triangles.h"
#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Spatial_sort_traits_adapter_2.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <CGAL/property_map.h>
#include <CGAL/spatial_sort.h>

namespace vicinal {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using RingVertex = CGAL::Triangulation_vertex_base_with_info_2<std::uint32_t, Kernel>;
using RingFace =
    CGAL::Constrained_triangulation_face_base_2<Kernel, CGAL::Triangulation_face_base_with_info_2<int, Kernel>>;
using RingStructure = CGAL::Triangulation_data_structure_2<RingVertex, RingFace>;
using RingDelaunay = CGAL::Constrained_Delaunay_triangulation_2<Kernel, RingStructure, CGAL::Exact_predicates_tag>;
constexpr std::uint32_t kAdded = ~std::uint32_t(0);

} // namespace

std::vector<std::array<std::uint32_t, 3>> trianglesInside(std::span<const std::vector<Vec2>> rings) {
    std::vector<RingDelaunay::Point> points;
    // Corners of round holes lie on one circle, which only exact numbers can decide, slowly. Which triangles there are
    // does not hang on a billionth of the size, so each is moved by about that, the same every time.
    double size = 0;
    for (const auto& ring : rings)
        for (const Vec2& p : ring) size = std::max(size, p.cwiseAbs().maxCoeff());
    std::uint32_t chance = 1;
    const auto jitter = [&] {
        chance = chance * 1664525u + 1013904223u;
        return (double(chance >> 8) / double(1u << 24) - 0.5) * 2e-9 * size;
    };
    for (const auto& ring : rings)
        for (const Vec2& p : ring) {
            const double dx = jitter(), dy = jitter();
            points.emplace_back(p.x() + dx, p.y() + dy);
        }
    std::vector<std::size_t> order(points.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    using Map = CGAL::Pointer_property_map<RingDelaunay::Point>::type;
    CGAL::spatial_sort(order.begin(), order.end(),
                       CGAL::Spatial_sort_traits_adapter_2<Kernel, Map>(CGAL::make_property_map(points.data())));
    RingDelaunay t;
    std::vector<RingDelaunay::Vertex_handle> at(points.size());
    RingDelaunay::Face_handle hint;
    for (std::size_t i : order) {
        const auto before = t.number_of_vertices();
        at[i] = t.insert(points[i], hint);
        if (t.number_of_vertices() > before) at[i]->info() = std::uint32_t(i);
        hint = at[i]->face();
    }
    std::size_t first = 0;
    for (const auto& ring : rings) {
        for (std::size_t k = 0; k < ring.size(); ++k) {
            const auto a = at[first + k], b = at[first + (k + 1) % ring.size()];
            const auto before = t.number_of_vertices();
            if (a != b) t.insert_constraint(a, b);
            if (t.number_of_vertices() > before) // only where rings cross after all
                for (auto v = t.finite_vertices_begin(); v != t.finite_vertices_end(); ++v)
                    if (std::size_t(v->info()) >= points.size()) v->info() = kAdded;
        }
        first += ring.size();
    }
    // From the outside inwards: a ring crossed is one level deeper.
    for (auto f = t.all_faces_begin(); f != t.all_faces_end(); ++f) f->info() = -1;
    std::vector<RingDelaunay::Face_handle> level{t.infinite_face()}, next;
    for (int depth = 0; !level.empty(); ++depth, level.swap(next), next.clear())
        while (!level.empty()) {
            const auto f = level.back();
            level.pop_back();
            if (f->info() >= 0) continue;
            f->info() = depth;
            for (int k = 0; k < 3; ++k)
                if (f->neighbor(k)->info() < 0) (t.is_constrained({f, k}) ? next : level).push_back(f->neighbor(k));
        }
    std::vector<std::array<std::uint32_t, 3>> out;
    out.reserve(t.number_of_faces());
    for (auto f = t.finite_faces_begin(); f != t.finite_faces_end(); ++f) {
        if (f->info() % 2 == 0) continue;
        const std::array<std::uint32_t, 3> c{f->vertex(0)->info(), f->vertex(1)->info(), f->vertex(2)->info()};
        if (c[0] != kAdded && c[1] != kAdded && c[2] != kAdded) out.push_back(c);
    }
    return out;
}

} // namespace vicinal
