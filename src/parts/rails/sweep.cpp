#include "parts/rails/sweep.h"
#include "parts/solid/shape.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepOffsetAPI_MakePipeShell.hxx>
#include <BRepPrimAPI_MakeHalfSpace.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <GeomAPI_PointsToBSpline.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Standard_Failure.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <functional>
#include <gp_Ax2.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>

namespace vicinal {
namespace {

/// Its open edges, each in the direction in which its triangle goes round.
std::vector<std::array<std::uint32_t, 2>> borderOf(const Mesh& face) {
    const MeshEdges all = edgesOf(face);
    std::vector<std::array<std::uint32_t, 2>> out;
    for (const MeshEdge& e : all.edges) {
        if (e.triangles != 1) continue;
        const auto& t = face.triangles[all.triangles[e.first]];
        for (size_t k = 0; k < 3; ++k)
            if (t[k] == e.a && t[(k + 1) % 3] == e.b)
                out.push_back({e.a, e.b});
            else if (t[k] == e.b && t[(k + 1) % 3] == e.a)
                out.push_back({e.b, e.a});
    }
    return out;
}

/// Section axes at a stop: x to the left, y up, z along; in the world.
gp_Trsf at(const RailStop& s, const Vec3& home) {
    Mat3 R;
    R << s.axes.col(1), s.axes.col(2), s.axes.col(0);
    return occ::transform(R, s.at - home);
}
template<class S> S placed(const S& shape, const gp_Trsf& t) {
    const TopoDS_Shape out = BRepBuilderAPI_Transform(shape, t, true).Shape();
    if constexpr (std::is_same_v<S, TopoDS_Wire>)
        return TopoDS::Wire(out);
    else
        return TopoDS::Face(out);
}

TopoDS_Face faceOf(const RailFace& face, bool full = false) {
    return occ::faceOf(face.rings.front(), full ? std::span<const Ring>() : std::span(face.rings).subspan(1));
}

TopoDS_Shape pipe(const TopoDS_Wire& spine, const TopoDS_Wire* guide, const TopoDS_Wire& section) {
    BRepOffsetAPI_MakePipeShell make(spine);
    if (guide)
        make.SetMode(*guide, false);
    else
        make.SetMode(gp_Dir(0, 0, 1));
    make.SetTransitionMode(BRepBuilderAPI_RightCorner);
    make.Add(section, false, false);
    make.Build();
    if (!make.IsDone() || !make.MakeSolid()) throw Standard_Failure("the section cannot be run along the path");
    return make.Shape();
}

/// A line without corners as one curve (within 1e-4 mm) round `home`: the pipe takes its time by the piece. `off`: from
/// the line, as the second line that says what is up.
using Aside = std::function<Vec3(double, const Sample&)>;
TopoDS_Wire smoothWire(const Path& line, const Aside& off, const Vec3& home) {
    BRepBuilderAPI_MakeWire wire;
    const double from = 0, to = line.length(), tiny = to * tolerance::rounding;
    const auto at = [&](double s) {
        const Sample sample = line.at(std::clamp(s, from + tiny, to - tiny));
        return std::pair(Vec3(sample.point + off(s, sample) - home), sample.tangent);
    };
    double turn = 0;
    Vec3 last = at(from).second;
    for (int i = 1; i <= 200; ++i) {
        const Vec3 t = at(from + (to - from) * i / 200).second;
        turn += std::acos(std::clamp(t.dot(last), -1.0, 1.0));
        last = t;
    }
    const Vec3 a = at(from).first, b = at(to).first;
    if (turn < tolerance::rounding) {
        wire.Add(BRepBuilderAPI_MakeEdge(occ::point(a), occ::point(b)));
    } else {
        const int n = std::clamp(int(turn / (4 * kDegree)), 24, 600);
        TColgp_Array1OfPnt points(1, n + 1);
        for (int i = 0; i <= n; ++i) points(i + 1) = occ::point(at(from + (to - from) * i / n).first);
        wire.Add(BRepBuilderAPI_MakeEdge(GeomAPI_PointsToBSpline(points, 3, 8, GeomAbs_C2, 1e-4).Curve()));
    }
    if (!wire.IsDone()) throw Standard_Failure("the line of a rail has gaps");
    return wire.Wire();
}

/// Level lines and arcs as they are.
TopoDS_Wire plainWire(const Path& line, const Vec3& home) {
    Ring all;
    for (const Segment& s : line.segments()) all.push_back(moved(s, Mat3::Identity(), -home));
    return occ::wireOf(all);
}

} // namespace

Loft::Loft(const Mesh& face) : m_face(face), m_border(borderOf(face)) {}

void Loft::add(Mesh& to, std::span<const Vec3> points, bool closed) const {
    const auto first = std::uint32_t(to.points.size()), n = std::uint32_t(m_face.points.size());
    const auto rows = std::uint32_t(points.size() / n);
    to.points.insert(to.points.end(), points.begin(), points.end());
    for (std::uint32_t i = 0; i + (closed ? 0 : 1) < rows; ++i) {
        const std::uint32_t a = first + i * n, b = first + (i + 1) % rows * n;
        for (const auto& e : m_border) {
            to.triangles.push_back({a + e[0], a + e[1], b + e[1]});
            to.triangles.push_back({a + e[0], b + e[1], b + e[0]});
        }
    }
    if (closed) return;
    const std::uint32_t last = first + (rows - 1) * n;
    for (const auto& t : m_face.triangles) {
        to.triangles.push_back({first + t[0], first + t[2], first + t[1]});
        to.triangles.push_back({last + t[0], last + t[1], last + t[2]});
    }
}

SolidPtr sweptSolid(const SweepOrder& o) {
    const auto& segments = o.line.segments();
    const bool level = o.ups.ups.empty() && o.line.steepest() < tolerance::fine;
    const bool exact = level && std::all_of(segments.begin(), segments.end(), [](const Segment& s) {
                           return std::holds_alternative<Line>(s) || std::holds_alternative<Arc>(s);
                       });
    std::vector<TopoDS_Shape> all;
    const gp_Trsf first = at(o.first, o.home), last = at(o.last, o.home);
    /// The section along a wire: its outer ring less its holes.
    const auto swept = [&](const TopoDS_Wire& spine, const TopoDS_Wire* guide, const gp_Trsf& start) {
        TopoDS_Shape body;
        std::vector<TopoDS_Shape> holes;
        for (size_t k = 0; k < o.face.rings.size(); ++k) {
            TopoDS_Shape one = pipe(spine, guide, placed(occ::wireOf(o.face.rings[k]), start));
            if (k == 0)
                body = std::move(one);
            else
                holes.push_back(std::move(one));
        }
        return holes.empty() ? body : occ::cut(body, holes);
    };
    if (exact) {
        all.push_back(swept(plainWire(o.line, o.home), nullptr, first));
    } else if (o.line.corners().empty()) {
        const double high = std::max(1.0, o.face.mesh->box.sizes().maxCoeff());
        const Aside none = [](double, const Sample&) { return Vec3(Vec3::Zero()); };
        const Aside up = [&](double s, const Sample& on) { return Vec3(high * o.ups.at(s, on.tangent)); };
        const TopoDS_Wire spine = smoothWire(o.line, none, o.home), guide = smoothWire(o.line, up, o.home);
        all.push_back(swept(spine, level ? nullptr : &guide, first));
    } else if (o.ups.ups.empty() && std::all_of(segments.begin(), segments.end(), [](const Segment& s) {
                   return std::holds_alternative<Line>(s);
               })) { // corners that rise: bar after bar, each cut in the plane between two
        std::vector<Vec3> places;
        for (const Segment& s : segments) places.push_back(startOf(s));
        if (!o.line.closed()) places.push_back(endOf(segments.back()));
        const auto pieces = straightRails(places, {}, o.face.hull, {RailJoint::Mitred, 0, 0, o.line.closed()});
        if (!pieces) return nullptr;
        all.push_back(piecesSolid(*pieces, o.face, o.home)->shape);
    } else {
        return nullptr; // curves that meet in rising corners: the triangles go
    }
    const auto end = [&](RailEnd how, const RailStop& stop, const gp_Trsf& where, double way) {
        if (o.line.closed() || how == RailEnd::Plain) return;
        const Vec3 t = stop.axes.col(0) * way;
        if (how == RailEnd::Capped)
            return all.push_back(occ::prism(placed(faceOf(o.face, true), where), o.ends.cap * t));
        const Vec3 d = towards(o.ends.to, stop.axes);
        const TopoDS_Face section = placed(faceOf(o.face), where);
        const gp_Ax1 axis(occ::point(stop.at - o.home + o.ends.radius * d), occ::direction(t.cross(d)));
        all.push_back(BRepPrimAPI_MakeRevol(section, axis, kPi / 2).Shape());
        if (!(o.ends.leg > tolerance::length)) return;
        gp_Trsf turn;
        turn.SetRotation(axis, kPi / 2);
        all.push_back(occ::prism(placed(section, turn), o.ends.leg * d));
    };
    end(o.ends.start, o.first, first, -1);
    end(o.ends.end, o.last, last, 1);
    if (all.size() == 1) return std::make_shared<const Solid>(Solid{all.front()});
    if (exact) try { // one body; what is approximated does not meet its ends well enough for that, and stands beside
            return std::make_shared<const Solid>(Solid{occ::fused(all)});
        } catch (const Standard_Failure&) {}
    return std::make_shared<const Solid>(Solid{occ::compound(all)});
}

SolidPtr piecesSolid(const std::vector<RailPiece>& pieces, const RailFace& face, const Vec3& home) {
    const TopoDS_Face section = faceOf(face);
    std::vector<TopoDS_Shape> all;
    for (const RailPiece& p : pieces) {
        const Vec3 along = p.axes.col(0);
        const auto square = [&](const RailCut& c) {
            return std::abs(std::abs(c.normal.dot(along)) - 1) < tolerance::fine;
        };
        const double spare = (p.longest - p.length) + 1;
        const double from = p.start.at - (square(p.start) ? 0 : spare), to = p.end.at + (square(p.end) ? 0 : spare);
        const RailStop stop{p.from + from * along, p.axes, along};
        const TopoDS_Shape bar = occ::prism(placed(section, at(stop, home)), (to - from) * along);
        std::vector<TopoDS_Shape> off;
        for (const RailCut* c : {&p.start, &p.end}) {
            if (square(*c)) continue;
            const Vec3 on = p.from + c->at * along - home;
            const TopoDS_Face plane = BRepBuilderAPI_MakeFace(gp_Pln(occ::point(on), occ::direction(c->normal)));
            off.push_back(BRepPrimAPI_MakeHalfSpace(plane, occ::point(on + c->normal)).Solid());
        }
        all.push_back(off.empty() ? bar : occ::cut(bar, off));
    }
    return std::make_shared<const Solid>(Solid{all.size() == 1 ? all.front() : occ::compound(all)});
}

} // namespace vicinal
