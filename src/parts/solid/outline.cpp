#include "parts/solid/outline.h"
#include "geometry/path/path.h"
#include "parts/cuts/prism.h"
#include "parts/cuts/ring_shape.h"
#include "parts/solid/shape.h"
#include <BOPAlgo_Tools.hxx>
#include <BOPTools_AlgoTools3D.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepLib.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <HLRAlgo_Projector.hxx>
#include <HLRBRep_Algo.hxx>
#include <HLRBRep_HLRToShape.hxx>
#include <IntTools_Context.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ShapeMapHasher.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <array>
#include <cmath>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>
#include <map>
#include <polyclipping/clipper.hpp>
#include <set>

namespace vicinal {
namespace {

/// From seat axes to the picture's.
Mat3 pictureAxes(Look look) {
    Mat3 R = Mat3::Identity();
    if (look == Look::Side) R.row(1) = Vec3::UnitZ(), R.row(2) = -Vec3::UnitY(); // the eye is on the right side
    return R;
}

double ringArea(const std::vector<Vec2>& r) {
    double a = 0;
    for (size_t i = 0; i < r.size(); ++i) {
        const Vec2 &p = r[i], &q = r[(i + 1) % r.size()];
        a += (p.x() * q.y() - q.x() * p.y()) / 2;
    }
    return a;
}

std::vector<std::vector<Vec2>> unionOf(const Mesh& mesh, const Mat3& R, const Vec3& at) {
    using namespace ClipperLib;
    const double grid = 1e-5; // mm; integers of Clipper
    std::vector<Vec2> flat;
    for (const auto& p : mesh.points) flat.push_back((R * (p - at)).head<2>());
    Clipper clipper;
    ClipperLib::Path ring(3);
    // Triangles that lie over each other (a sheet drawn ten thousand times) cover no more than one.
    std::set<std::array<cInt, 6>> known;
    for (const auto& t : mesh.triangles) {
        for (int i = 0; i < 3; ++i)
            ring[i] = IntPoint(cInt(std::llround(flat[t[i]].x() / grid)), cInt(std::llround(flat[t[i]].y() / grid)));
        if (Area(ring) == 0) continue;
        std::array<std::pair<cInt, cInt>, 3> corners;
        for (int i = 0; i < 3; ++i) corners[i] = {ring[i].X, ring[i].Y};
        std::sort(corners.begin(), corners.end());
        if (!known
                 .insert({corners[0].first, corners[0].second, corners[1].first, corners[1].second, corners[2].first,
                          corners[2].second})
                 .second)
            continue;
        if (!Orientation(ring)) ReversePath(ring);
        clipper.AddPath(ring, ptSubject, true);
    }
    Paths rings;
    clipper.Execute(ctUnion, rings, pftNonZero, pftNonZero);
    // Rounding opens cracks between neighbours, or leaves them two that touch: grown and shrunk again they are one.
    for (const double by : {4.0, -4.0}) {
        ClipperOffset offset(20);
        offset.AddPaths(rings, jtMiter, etClosedPolygon);
        offset.Execute(rings, by);
    }
    CleanPolygons(rings, 6);
    std::vector<std::vector<Vec2>> out;
    for (const auto& r : rings) {
        if (r.size() < 3) continue;
        out.emplace_back();
        for (const auto& p : r) out.back().push_back(Vec2(double(p.X), double(p.Y)) * grid);
    }
    return out;
}

bool covered(const Vec2& p, const std::vector<std::vector<Vec2>>& rings) { // by the even-odd rule
    bool in = false;
    for (const auto& r : rings) in = in != within(r, p);
    return in;
}

/// A curve that runs straight, as a circle does that is seen from its side, as a line.
Segment straightened(const Segment& s) {
    if (std::holds_alternative<Line>(s) || std::holds_alternative<Arc>(s)) return s;
    const auto path = Path::make({s}, false);
    if (!path) return s;
    const Vec3 a = startOf(s), b = endOf(s), d = b - a;
    double before = 0;
    for (int i = 1; i <= 24; ++i) {
        const Vec3 p = path->at(path->length() * i / 24).point - a;
        const double along = p.dot(d) / d.squaredNorm();
        if (!(along >= before - tolerance::rounding) || (p - along * d).norm() > tolerance::length) return s;
        before = along;
    }
    return Line{a, b};
}

/// Lines and arcs that go on as the same line or arc are one.
Ring tidied(Ring ring) {
    for (Segment& s : ring) s = straightened(s);
    const auto join = [](const Segment& a, const Segment& b) -> std::optional<Segment> {
        if (const auto* l = std::get_if<Line>(&a), *m = std::get_if<Line>(&b); l && m) {
            const Vec3 d = l->b - l->a, e = m->b - m->a;
            if (d.dot(e) > 0 && d.cross(e).norm() < 1e-7 * std::max(d.norm(), e.norm())) return Line{l->a, m->b};
        }
        if (const auto* p = std::get_if<Arc>(&a), *q = std::get_if<Arc>(&b); p && q) {
            const Vec3 n = p->xAxis.cross(p->yAxis) * p->sweep, k = q->xAxis.cross(q->yAxis) * q->sweep;
            if ((p->centre - q->centre).norm() < 1e-7 && std::abs(p->radius - q->radius) < 1e-7 && n.dot(k) > 0) {
                Arc out = *p;
                out.sweep += std::copysign(std::abs(q->sweep), p->sweep);
                if (std::abs(out.sweep) <= 2 * kPi + tolerance::rounding) {
                    out.sweep = std::clamp(out.sweep, -2 * kPi, 2 * kPi);
                    return out;
                }
            }
        }
        return std::nullopt;
    };
    for (size_t i = 0; ring.size() > 1 && i < ring.size();) {
        const size_t next = (i + 1) % ring.size();
        if (auto one = join(ring[i], ring[next])) {
            ring[i] = *one;
            ring.erase(ring.begin() + long(next));
            if (next == 0) --i;
        } else
            ++i;
    }
    return ring;
}

/// Rings of directed segments; nothing when they do not close.
std::optional<std::vector<Ring>> chained(std::vector<Segment> in) {
    std::vector<Ring> out;
    const double tol = 1e-4;
    while (!in.empty()) {
        Ring ring{in.back()};
        in.pop_back();
        const Vec3 start = startOf(ring.front());
        while ((endOf(ring.back()) - start).norm() > tol) {
            const Vec3 end = endOf(ring.back());
            size_t best = in.size();
            double turn = 10;
            for (size_t i = 0; i < in.size(); ++i) {
                if ((startOf(in[i]) - end).norm() > tol) continue;
                // Where several go on, the sharpest left: it stays round the same region.
                const auto dir = [](const Segment& s, bool last) {
                    const auto path = Path::make({s}, false);
                    return path ? path->at(last ? path->length() : 0).tangent : Vec3(Vec3::UnitX());
                };
                const Vec3 a = dir(ring.back(), true), b = dir(in[i], false);
                const double angle = -std::atan2(a.cross(b).z(), a.dot(b));
                if (angle < turn) turn = angle, best = i;
            }
            if (best == in.size()) return std::nullopt;
            ring.push_back(in[best]);
            in.erase(in.begin() + long(best));
        }
        out.push_back(tidied(std::move(ring)));
    }
    return out;
}

std::optional<Outline> exactOutline(const Solid& solid, const Mat3& R, const Vec3& at,
                                    const std::vector<std::vector<Vec2>>& approximate, double approximateArea) {
    try {
        const TopoDS_Shape shape = BRepBuilderAPI_Transform(solid.shape, occ::transform(R, -(R * at)), true).Shape();
        Handle(HLRBRep_Algo) hidden = new HLRBRep_Algo;
        hidden->Add(shape);
        hidden->Projector(HLRAlgo_Projector(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0))));
        hidden->Update();
        hidden->Hide();
        HLRBRep_HLRToShape get(hidden);
        TopoDS_Compound lines;
        BRep_Builder builder;
        builder.MakeCompound(lines);
        for (const TopoDS_Shape& part : {get.VCompound(), get.OutLineVCompound(), get.Rg1LineVCompound()}) {
            if (part.IsNull()) continue;
            BRepLib::BuildCurves3d(part);
            for (TopExp_Explorer e(part, TopAbs_EDGE); e.More(); e.Next()) builder.Add(lines, e.Current());
        }
        TopoDS_Shape wires, faces;
        if (BOPAlgo_Tools::EdgesToWires(lines, wires, false, 1e-8) != 0) return std::nullopt;
        if (!BOPAlgo_Tools::WiresToFaces(wires, faces, 1e-8)) return std::nullopt;
        Handle(IntTools_Context) context = new IntTools_Context;
        // An edge with a covered face on one side only is outline.
        std::map<const void*, std::vector<TopoDS_Edge>> uses;
        Outline out;
        for (TopExp_Explorer f(faces, TopAbs_FACE); f.More(); f.Next()) {
            TopoDS_Face face = TopoDS::Face(f.Current());
            gp_Pnt p;
            gp_Pnt2d uv;
            if (BOPTools_AlgoTools3D::PointInFace(face, p, uv, context) != 0) return std::nullopt;
            if (!covered(Vec2(p.X(), p.Y()), approximate)) continue;
            out.area += measuresOf(Solid{face}).area; // also where edges are rational
            gp_Dir normal;
            BOPTools_AlgoTools3D::GetNormalToSurface(BRep_Tool::Surface(face), uv.X(), uv.Y(), normal);
            const bool down = (normal.Z() < 0) != (face.Orientation() == TopAbs_REVERSED);
            if (down) face.Reverse();
            for (TopExp_Explorer e(face, TopAbs_EDGE); e.More(); e.Next())
                uses[e.Current().TShape().get()].push_back(TopoDS::Edge(e.Current()));
        }
        std::vector<Segment> boundary;
        for (const auto& [shapeOf, edges] : uses)
            if (edges.size() == 1)
                if (auto s = occ::segmentOf(edges.front())) boundary.push_back(*s);
        auto rings = chained(std::move(boundary));
        // The approximate one is off by its triangles only: much more means that something went missing here.
        if (!rings || rings->empty() || std::abs(out.area - approximateArea) > 0.03 * approximateArea)
            return std::nullopt;
        out.rings = std::move(*rings);
        out.exact = true;
        return out;
    } catch (const Standard_Failure&) {
        return std::nullopt;
    }
}

} // namespace

namespace {

/// The library hands out rings and where they begin in another order each time: the lowest point first, so that the
/// same part gives the same file.
void inOrder(std::vector<Ring>& rings) {
    const auto before = [](const Vec3& a, const Vec3& b) {
        if (std::abs(a.x() - b.x()) > tolerance::length) return a.x() < b.x();
        return std::abs(a.y() - b.y()) > tolerance::length && a.y() < b.y();
    };
    const auto first = [&](const Segment& a, const Segment& b) { return before(startOf(a), startOf(b)); };
    for (Ring& r : rings) std::rotate(r.begin(), std::min_element(r.begin(), r.end(), first), r.end());
    std::stable_sort(rings.begin(), rings.end(), [&](const Ring& a, const Ring& b) {
        return !a.empty() && !b.empty() && before(startOf(a.front()), startOf(b.front()));
    });
}

} // namespace

Outline outlineOf(const Body& body, const Seat& seat, Look look) {
    const Mat3 R = pictureAxes(look) * seatRotation(seat);
    const Vec3 at = seatPoint(seat, body.mesh->box);
    if (body.prism &&
        std::abs((R * body.prism->axes.col(2)).z()) > 1 - tolerance::fine) { // its own rings, seen along it
        Outline own;
        const Mat3 toPicture = R * body.prism->axes;
        for (Ring ring : body.prism->rings) {
            for (Segment& s : ring) {
                s = moved(s, toPicture, -(R * at));
                s = moved(s, Mat3::Identity(), Vec3(0, 0, -startOf(s).z()));
            }
            own.rings.push_back(std::move(ring));
        }
        std::vector<RingShape> shapes;
        for (const Ring& ring : own.rings) shapes.emplace_back(ring);
        for (size_t i = 0; i < shapes.size(); ++i) { // what is solid on the left
            Ring& ring = own.rings[i];
            int depth = 0;
            for (size_t k = 0; k < shapes.size(); ++k)
                if (k != i && shapes[k].inside(startOf(ring.front()).head<2>())) ++depth;
            const double area = shapes[i].area;
            own.area += depth % 2 ? -std::abs(area) : std::abs(area);
            if ((area > 0) != (depth % 2 == 0)) {
                std::reverse(ring.begin(), ring.end());
                for (Segment& s : ring) s = reversed(s);
            }
        }
        own.exact = true;
        inOrder(own.rings);
        return own;
    }
    const auto approximate = unionOf(*body.mesh, R, at);
    Outline out;
    for (const auto& r : approximate) out.area += ringArea(r);
    if (const auto solid = body.slow ? nullptr : solidOf(body))
        if (auto exact = exactOutline(*solid, R, at, approximate, out.area)) {
            inOrder(exact->rings);
            return *exact;
        }
    for (const auto& r : approximate) {
        out.rings.emplace_back();
        for (size_t i = 0; i < r.size(); ++i) {
            const Vec2 &p = r[i], &q = r[(i + 1) % r.size()];
            out.rings.back().push_back(Line{Vec3(p.x(), p.y(), 0), Vec3(q.x(), q.y(), 0)});
        }
    }
    return out;
}

std::vector<std::vector<Vec2>> outlineFromAbove(const Mesh& mesh, const Seat& seat) {
    return unionOf(mesh, seatRotation(seat), seatPoint(seat, mesh.box));
}

} // namespace vicinal
