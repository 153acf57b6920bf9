// Shapes of the modelling library from segments and rings, and back.
#include "base/say.h"
#include "base/text.h"
#include "geometry/curves/crossings.h"
#include "geometry/curves/edit.h"
#include "parts/solid/fine.h"
#include "parts/solid/shape.h"
#include <BRepAdaptor_Curve.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_PointsToBSpline.hxx>
#include <GeomConvert.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BezierCurve.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Precision.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <Standard_Failure.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Ax2.hxx>
#include <gp_Circ.hxx>
#include <gp_Elips.hxx>
#include <gp_Trsf.hxx>
#include <sstream>

namespace vicinal::occ {

gp_Pnt point(const Vec3& p) { return {p.x(), p.y(), p.z()}; }
gp_Dir direction(const Vec3& p) { return {p.x(), p.y(), p.z()}; }
Vec3 vec(const gp_XYZ& p) { return {p.X(), p.Y(), p.Z()}; }

gp_Trsf transform(const Mat3& R, const Vec3& t, double k) {
    gp_Trsf out;
    const Mat3 M = k * R;
    out.SetValues(M(0, 0), M(0, 1), M(0, 2), t.x(), M(1, 0), M(1, 1), M(1, 2), t.y(), M(2, 0), M(2, 1), M(2, 2), t.z());
    return out;
}

TopoDS_Edge edgeOf(const Segment& segment) {
    if (const auto* l = std::get_if<Line>(&segment)) return BRepBuilderAPI_MakeEdge(point(l->a), point(l->b));
    if (const auto* a = std::get_if<Arc>(&segment)) {
        const Vec3 y = a->sweep < 0 ? Vec3(-a->yAxis) : a->yAxis; // always counter-clockwise about its own normal
        const gp_Circ circle(gp_Ax2(point(a->centre), direction(a->xAxis.cross(y)), direction(a->xAxis)), a->radius);
        const double sweep = std::abs(a->sweep);
        if (sweep > 2 * kPi - tolerance::fine) return BRepBuilderAPI_MakeEdge(circle);
        return BRepBuilderAPI_MakeEdge(circle, 0, sweep);
    }
    if (const auto* b = std::get_if<Bezier>(&segment)) {
        TColgp_Array1OfPnt p(1, 4);
        for (int i = 0; i < 4; ++i) p(i + 1) = point(b->p[size_t(i)]);
        return BRepBuilderAPI_MakeEdge(new Geom_BezierCurve(p));
    }
    if (const auto* n = std::get_if<Nurbs>(&segment)) {
        TColgp_Array1OfPnt p(1, int(n->points.size()));
        TColStd_Array1OfReal w(1, int(n->points.size()));
        for (int i = 0; i < int(n->points.size()); ++i)
            p(i + 1) = point(n->points[size_t(i)]), w(i + 1) = n->weights[size_t(i)];
        std::vector<double> knots;
        std::vector<int> times;
        for (double k : n->knots)
            if (knots.empty() || k > knots.back())
                knots.push_back(k), times.push_back(1);
            else
                ++times.back();
        TColStd_Array1OfReal k(1, int(knots.size()));
        TColStd_Array1OfInteger m(1, int(knots.size()));
        for (int i = 0; i < int(knots.size()); ++i) k(i + 1) = knots[size_t(i)], m(i + 1) = times[size_t(i)];
        Handle(Geom_BSplineCurve) c = new Geom_BSplineCurve(p, w, k, m, n->degree);
        return BRepBuilderAPI_MakeEdge(c, n->knots[size_t(n->degree)], n->knots[n->points.size()]);
    }
    const auto path = Path::make({segment}, false);
    if (!path) throw Standard_Failure(path.problem().text.c_str());
    const auto points = evenPoints(*path, 200);
    TColgp_Array1OfPnt p(1, int(points.size()));
    for (int i = 0; i < int(points.size()); ++i) p(i + 1) = point(points[size_t(i)]);
    return BRepBuilderAPI_MakeEdge(GeomAPI_PointsToBSpline(p, 3, 8, GeomAbs_C2, 1e-5).Curve());
}

std::optional<Segment> segmentOf(const TopoDS_Edge& edge) {
    if (BRep_Tool::Degenerated(edge)) return std::nullopt;
    const BRepAdaptor_Curve c(edge);
    const double a = c.FirstParameter(), b = c.LastParameter();
    Segment out;
    switch (c.GetType()) {
    case GeomAbs_Line: out = Line{vec(c.Value(a).XYZ()), vec(c.Value(b).XYZ())}; break;
    case GeomAbs_Circle: {
        const gp_Circ k = c.Circle();
        const Vec3 x = vec(k.XAxis().Direction().XYZ()), y = vec(k.YAxis().Direction().XYZ());
        out = Arc{vec(k.Location().XYZ()), std::cos(a) * x + std::sin(a) * y, -std::sin(a) * x + std::cos(a) * y,
                  k.Radius(), b - a};
        break;
    }
    case GeomAbs_Ellipse: {
        const gp_Elips e = c.Ellipse();
        out = ellipseArc(vec(e.Location().XYZ()), e.MajorRadius() * vec(e.XAxis().Direction().XYZ()),
                         e.MinorRadius() * vec(e.YAxis().Direction().XYZ()), a, b);
        break;
    }
    default: {
        double first, last;
        TopLoc_Location where;
        Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, where, first, last);
        if (curve.IsNull()) return std::nullopt;
        Handle(Geom_BSplineCurve) s = GeomConvert::CurveToBSplineCurve(new Geom_TrimmedCurve(curve, first, last));
        s->Transform(where.Transformation());
        if (s->IsPeriodic()) s->SetNotPeriodic();
        Nurbs n;
        n.degree = s->Degree();
        for (int i = 1; i <= s->NbKnots(); ++i)
            for (int k = 0; k < s->Multiplicity(i); ++k) n.knots.push_back(s->Knot(i));
        for (int i = 1; i <= s->NbPoles(); ++i)
            n.points.push_back(vec(s->Pole(i).XYZ())), n.weights.push_back(s->Weight(i));
        out = n;
    }
    }
    if (!defectOf(out).empty()) return std::nullopt;
    return edge.Orientation() == TopAbs_REVERSED ? reversed(out) : out;
}

/// A ring whose pieces follow one another end to start, with a vertex of two neighbours each: the library's own way
/// looks for every piece's neighbours among all, which takes minutes for ten thousand. Null where ends do not meet.
TopoDS_Wire chainOf(const Ring& ring) {
    constexpr double kMeets = 1e-4;
    const BRep_Builder builder;
    std::vector<TopoDS_Vertex> starts(ring.size());
    for (size_t i = 0; i < ring.size(); ++i) {
        const Vec3 at = startOf(ring[i]);
        const double gap = (endOf(ring[(i + ring.size() - 1) % ring.size()]) - at).norm();
        if (gap > kMeets) return {};
        builder.MakeVertex(starts[i], point(at), std::max(Precision::Confusion(), 1.01 * gap));
    }
    TopoDS_Wire wire;
    builder.MakeWire(wire);
    for (size_t i = 0; i < ring.size(); ++i) {
        TopoDS_Edge edge = TopoDS::Edge(edgeOf(ring[i]).EmptyCopied());
        builder.Add(edge, starts[i].Oriented(TopAbs_FORWARD));
        builder.Add(edge, starts[(i + 1) % ring.size()].Oriented(TopAbs_REVERSED));
        builder.Add(wire, edge);
    }
    wire.Closed(true);
    return wire;
}

TopoDS_Wire wireOf(const Ring& ring) {
    constexpr size_t kMany = 100;
    if (ring.size() >= kMany)
        if (const TopoDS_Wire chain = chainOf(ring); !chain.IsNull()) return chain;
    BRepBuilderAPI_MakeWire wire;
    TopTools_ListOfShape edges;
    for (const auto& s : ring) edges.Append(edgeOf(s));
    wire.Add(edges);
    if (!wire.IsDone()) throw Standard_Failure("the pieces of an outline do not meet");
    return wire.Wire();
}

TopoDS_Face faceOf(const Ring& outer, std::span<const Ring> holes) {
    BRepBuilderAPI_MakeFace face(wireOf(outer), true);
    if (!face.IsDone()) throw Standard_Failure("an outline is not flat");
    // MakeFace takes its plane from the outer wire: holes must run the other way about the same normal.
    for (const auto& h : holes) {
        TopoDS_Wire wire = wireOf(h);
        const BRepBuilderAPI_MakeFace alone(wire, true);
        const auto normal = [](const TopoDS_Face& f) {
            TopLoc_Location where;
            const Handle(Geom_Surface) s = BRep_Tool::Surface(f, where);
            gp_Vec u, v;
            gp_Pnt p;
            s->D1(0, 0, p, u, v);
            gp_Vec n = u.Crossed(v);
            if (f.Orientation() == TopAbs_REVERSED) n.Reverse();
            return n;
        };
        if (normal(face.Face()).Dot(normal(alone.Face())) > 0) wire.Reverse();
        face.Add(wire);
    }
    return face.Face();
}

TopoDS_Shape prism(const TopoDS_Face& face, const Vec3& by) {
    return BRepPrimAPI_MakePrism(face, gp_Vec(by.x(), by.y(), by.z())).Shape();
}

TopoDS_Shape revolved(const TopoDS_Face& face, const Vec3& axis) {
    return BRepPrimAPI_MakeRevol(face, gp_Ax1(gp_Pnt(0, 0, 0), direction(axis))).Shape();
}

TopoDS_Shape box(const Box3& b) { return BRepPrimAPI_MakeBox(point(b.min()), point(b.max())).Shape(); }

TopoDS_Shape fused(const std::vector<TopoDS_Shape>& all) {
    TopTools_ListOfShape first, rest;
    first.Append(all.front());
    for (size_t i = 1; i < all.size(); ++i) rest.Append(all[i]);
    BRepAlgoAPI_Fuse fuse;
    fuse.SetArguments(first);
    fuse.SetTools(rest);
    fuse.Build();
    if (!fuse.IsDone()) throw Standard_Failure("bodies could not be joined");
    ShapeUpgrade_UnifySameDomain one(fuse.Shape(), true, true, false);
    one.Build();
    return one.Shape();
}

TopoDS_Shape cut(const TopoDS_Shape& from, const std::vector<TopoDS_Shape>& what) {
    TopTools_ListOfShape a, b;
    a.Append(from);
    for (const auto& s : what) b.Append(s);
    BRepAlgoAPI_Cut op;
    op.SetArguments(a);
    op.SetTools(b);
    op.Build();
    if (!op.IsDone()) throw Standard_Failure("a body could not be cut");
    return op.Shape();
}

TopoDS_Shape compound(const std::vector<TopoDS_Shape>& all) {
    TopoDS_Compound out;
    BRep_Builder builder;
    builder.MakeCompound(out);
    for (const auto& s : all) builder.Add(out, s);
    return out;
}

} // namespace vicinal::occ
