#include "parts/cuts/prism.h"
#include "geometry/terrain/flat_triangles.h"
#include "parts/cuts/ring_shape.h"
#include "parts/solid/shape.h"
#include <BRepAdaptor_Surface.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Ax2.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>

namespace vicinal {
namespace {

constexpr double kSame = 1e-9;

/// The rings of a shape's faces at one height along a direction, in the plane's axes; nothing where it is no prism
/// along that.
std::optional<Prism> prismAlong(const TopoDS_Shape& shape, const Vec3& d) {
    Prism out;
    out.axes.col(2) = d;
    out.axes.col(0) = anyNormal(d);
    out.axes.col(1) = d.cross(out.axes.col(0));
    std::vector<double> heights;
    std::vector<std::pair<double, TopoDS_Face>> caps;
    for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
        const TopoDS_Face& face = TopoDS::Face(f.Current());
        const BRepAdaptor_Surface s(face, false);
        switch (s.GetType()) {
        case GeomAbs_Plane: {
            const Vec3 n = occ::vec(s.Plane().Axis().Direction().XYZ());
            if (std::abs(n.dot(d)) < kSame) continue;
            if (std::abs(std::abs(n.dot(d)) - 1) > kSame) return std::nullopt;
            caps.emplace_back(occ::vec(s.Plane().Location().XYZ()).dot(d), face);
            break;
        }
        case GeomAbs_Cylinder:
            if (std::abs(std::abs(occ::vec(s.Cylinder().Axis().Direction().XYZ()).dot(d)) - 1) > kSame)
                return std::nullopt;
            break;
        case GeomAbs_SurfaceOfExtrusion:
            if (std::abs(std::abs(occ::vec(s.Direction().XYZ()).dot(d)) - 1) > kSame) return std::nullopt;
            break;
        default: return std::nullopt;
        }
    }
    if (caps.size() < 2) return std::nullopt;
    out.from = out.to = caps.front().first;
    for (const auto& c : caps) out.from = std::min(out.from, c.first), out.to = std::max(out.to, c.first);
    if (!(out.to - out.from > tolerance::length)) return std::nullopt;
    for (const auto& [at, face] : caps) {
        if (at - out.from > tolerance::length && out.to - at > tolerance::length) return std::nullopt;
        if (out.to - at > tolerance::length) continue;
        for (TopExp_Explorer w(face, TopAbs_WIRE); w.More(); w.Next()) {
            Ring ring;
            for (BRepTools_WireExplorer e(TopoDS::Wire(w.Current()), face); e.More(); e.Next())
                if (const auto segment = occ::segmentOf(e.Current()))
                    ring.push_back(moved(*segment, out.axes.transpose(), Vec3(0, 0, -at)));
            if (ring.empty()) return std::nullopt;
            out.rings.push_back(std::move(ring));
        }
    }
    return out;
}

/// Of each ring how many others it lies in, and the innermost of these.
struct Nest {
    int depth = 0;
    size_t in = size_t(-1);
};
std::vector<Nest> nested(const std::vector<std::vector<Vec2>>& rings) {
    std::vector<FlatBox> boxes(rings.size());
    std::vector<size_t> order(rings.size());
    for (size_t i = 0; i < rings.size(); ++i) {
        order[i] = i;
        for (const Vec2& p : rings[i]) boxes[i].add(p);
    }
    std::sort(order.begin(), order.end(), [&](size_t a, size_t b) { return boxes[a].reach() > boxes[b].reach(); });
    // Only what holds another can be asked again: most are holes that hold nothing.
    std::vector<Nest> out(rings.size());
    for (size_t k = 0; k < order.size(); ++k) {
        const size_t i = order[k];
        const Vec2 p = rings[i].front();
        for (size_t m = 0; m < k; ++m) {
            const size_t o = order[m];
            const FlatBox& b = boxes[o];
            if (p.x() <= b.x0 || p.x() >= b.x1 || p.y() <= b.y0 || p.y() >= b.y1 || !within(rings[o], p)) continue;
            ++out[i].depth;
            out[i].in = o; // smaller ones come later
        }
    }
    return out;
}

SolidPtr solidOfPrism(const Prism& p, const std::vector<Nest>& nest) {
    std::vector<std::vector<size_t>> holes(p.rings.size());
    for (size_t i = 0; i < nest.size(); ++i)
        if (nest[i].depth % 2) holes[nest[i].in].push_back(i);
    std::vector<TopoDS_Shape> all;
    const auto down = [&](Ring ring) {
        for (Segment& s : ring) s = moved(s, p.axes, p.from * p.axes.col(2));
        return ring;
    };
    for (size_t i = 0; i < nest.size(); ++i) {
        if (nest[i].depth % 2) continue;
        std::vector<Ring> in;
        for (size_t h : holes[i]) in.push_back(down(p.rings[h]));
        all.push_back(occ::prism(occ::faceOf(down(p.rings[i]), in), (p.to - p.from) * p.axes.col(2)));
    }
    return std::make_shared<const Solid>(Solid{all.size() == 1 ? all.front() : occ::compound(all)});
}

} // namespace

double areaOf(const Ring& ring) { return RingShape(ring).area; }

std::vector<Vec2> cornersOf(const Ring& ring, double sag) {
    std::vector<Vec2> out;
    const auto add = [&](const Vec3& p) {
        if (out.empty() || (out.back() - p.head<2>()).norm() > tolerance::length) out.push_back(p.head<2>());
    };
    for (const Segment& segment : ring) {
        if (const auto* line = std::get_if<Line>(&segment)) {
            add(line->a);
            continue;
        }
        for (const Span& s : spansOf(segment, 0)) {
            long pieces = 16;
            if (s.kind == Span::Kind::Arc) {
                const double r = s.c1.norm(), step = 2 * std::acos(std::clamp(1 - sag / r, 0.0, 1.0));
                pieces = std::clamp<long>(
                    long(std::ceil(std::abs(s.sweep) / std::max(step, 1e-3) - tolerance::rounding)), 1, 400);
            } else if (s.kind != Span::Kind::Line) {
                for (pieces = 4; pieces < 512; pieces *= 2) {
                    double worst = 0;
                    for (long i = 0; i < pieces; ++i) {
                        const Vec3 a = s.point(double(i) / double(pieces)), b = s.point(double(i + 1) / double(pieces));
                        worst = std::max(worst, (s.point((double(i) + 0.5) / double(pieces)) - (a + b) / 2).norm());
                    }
                    if (worst <= sag) break;
                }
            } else {
                pieces = 1;
            }
            for (long i = 0; i < pieces; ++i) add(s.point(double(i) / double(pieces)));
        }
    }
    while (out.size() > 1 && (out.back() - out.front()).norm() <= tolerance::length) out.pop_back();
    return out;
}

double areaInside(std::span<const Ring> rings) {
    std::vector<std::vector<Vec2>> lines;
    std::vector<double> areas;
    for (const Ring& r : rings) {
        const RingShape shape(r);
        areas.push_back(std::abs(shape.area));
        lines.push_back(cornersOf(r, shape.reach / 200));
        if (lines.back().empty()) lines.back().push_back(Vec2::Zero());
    }
    const auto nest = nested(lines);
    double out = 0;
    for (size_t i = 0; i < areas.size(); ++i) out += nest[i].depth % 2 ? -areas[i] : areas[i];
    return out;
}

std::optional<Prism> prismOf(const Body& body) {
    if (body.prism) return *body.prism;
    if (body.slow) return std::nullopt;
    const SolidPtr solid = solidOf(body);
    if (!solid || solidCount(*solid) != 1) return std::nullopt;
    try {
        // Along the normals of its largest flat faces.
        std::vector<std::pair<double, Vec3>> ways;
        for (TopExp_Explorer f(solid->shape, TopAbs_FACE); f.More(); f.Next()) {
            const TopoDS_Face& face = TopoDS::Face(f.Current());
            const BRepAdaptor_Surface s(face, false);
            if (s.GetType() != GeomAbs_Plane) continue;
            const Vec3 n = occ::vec(s.Plane().Axis().Direction().XYZ());
            const double area = areaOf(Solid{face});
            const auto same = std::find_if(ways.begin(), ways.end(), [&](const auto& w) {
                return std::abs(std::abs(w.second.dot(n)) - 1) < kSame;
            });
            if (same == ways.end())
                ways.emplace_back(area, n);
            else
                same->first += area;
            if (ways.size() > 50) return std::nullopt;
        }
        std::sort(ways.begin(), ways.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
        if (ways.size() > 4) ways.resize(4);
        for (auto [area, n] : ways) {
            if (n.sum() < 0) n = -n;
            auto made = prismAlong(solid->shape, n);
            if (!made) continue;
            const double volume = volumeOf(*solid), own = areaInside(made->rings) * (made->to - made->from);
            if (std::abs(own / volume - 1) < tolerance::alike) return made;
        }
    } catch (const Standard_Failure&) { // then it is told as none
    }
    return std::nullopt;
}

BodyPtr bodyOf(const Prism& given) {
    Prism p = given;
    double size = 0;
    std::vector<double> reach;
    for (const Ring& r : p.rings) {
        FlatBox b;
        for (const Segment& s : r) {
            const Box3 all = boundsOf(s);
            b.add(all.min().head<2>()), b.add(all.max().head<2>());
        }
        reach.push_back(b.reach());
        size = std::max(size, b.reach());
    }
    const double fine = p.rings.size() > 1000 ? 0.03 : 0.015; // of thousands of holes each is small
    std::vector<std::vector<Vec2>> lines;
    for (size_t i = 0; i < p.rings.size(); ++i)
        lines.push_back(cornersOf(p.rings[i], std::max(std::min(reach[i] * fine, size * 0.002), size * 1e-7)));
    std::vector<size_t> kept;
    for (size_t i = 0; i < lines.size(); ++i)
        if (lines[i].size() >= 3) kept.push_back(i);
    if (kept.size() < lines.size()) {
        std::vector<std::vector<Vec2>> l;
        std::vector<Ring> r;
        for (size_t i : kept) l.push_back(std::move(lines[i])), r.push_back(std::move(p.rings[i]));
        lines = std::move(l), p.rings = std::move(r);
    }
    const auto nest = nested(lines);
    for (size_t i = 0; i < lines.size(); ++i) { // what is solid is on the left
        double area = 0;
        for (size_t k = 0; k < lines[i].size(); ++k) {
            const Vec2 &a = lines[i][k], &b = lines[i][(k + 1) % lines[i].size()];
            area += cross(a, b);
        }
        if ((area > 0) == (nest[i].depth % 2 == 1)) std::reverse(lines[i].begin(), lines[i].end());
    }
    Mesh mesh;
    for (double z : {p.from, p.to})
        for (const auto& line : lines)
            for (const Vec2& c : line) mesh.points.push_back(p.axes * Vec3(c.x(), c.y(), z));
    const auto n = std::uint32_t(mesh.points.size() / 2);
    for (const auto& t : trianglesInside(lines)) {
        mesh.triangles.push_back({t[0], t[2], t[1]});
        mesh.triangles.push_back({n + t[0], n + t[1], n + t[2]});
    }
    std::uint32_t first = 0;
    for (const auto& line : lines) {
        const auto count = std::uint32_t(line.size());
        for (std::uint32_t k = 0; k < count; ++k) {
            const std::uint32_t a = first + k, b = first + (k + 1) % count;
            mesh.triangles.push_back({a, b, n + b});
            mesh.triangles.push_back({a, n + b, n + a});
        }
        first += count;
    }
    for (const Vec3& q : mesh.points) mesh.box.extend(q);
    Body body;
    body.mesh = std::make_shared<const Mesh>(std::move(mesh));
    body.slow = p.rings.size() > 100;
    body.prism = std::make_shared<const Prism>(p);
    body.solid = std::make_shared<const LazySolid>([p, nest] { return solidOfPrism(p, nest); });
    return std::make_shared<const Body>(std::move(body));
}

} // namespace vicinal
