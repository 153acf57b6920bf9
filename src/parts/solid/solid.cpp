#include "base/say.h"
#include "base/text.h"
#include "geometry/curves/crossings.h"
#include "geometry/curves/edit.h"
#include "parts/solid/fine.h"
#include "parts/solid/shape.h"
#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBndLib.hxx>
#include <BRepBuilderAPI_Copy.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <BinTools.hxx>
#include <Bnd_Box.hxx>
#include <GeomAPI_PointsToBSpline.hxx>
#include <GeomConvert.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BezierCurve.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Poly_Triangulation.hxx>
#include <Precision.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
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

namespace vicinal {

Solid::Solid(const TopoDS_Shape& s) : held(std::make_shared<const TopoDS_Shape>(s)), shape(*held) {}

namespace occ {

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
        if (sweep > 2 * kPi - 1e-12) return BRepBuilderAPI_MakeEdge(circle);
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

} // namespace occ

SolidPtr LazySolid::get() const {
    const std::scoped_lock lock(m_mutex);
    if (m_build) {
        try {
            m_solid = m_build();
        } catch (const Standard_Failure&) { // stays null: the triangles serve
        }
        m_build = nullptr;
    }
    return m_solid;
}

namespace {

void addTriangles(const TopoDS_Shape& shape, Mesh& mesh) {
    for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
        const TopoDS_Face& face = TopoDS::Face(f.Current());
        TopLoc_Location where;
        const Handle(Poly_Triangulation) t = BRep_Tool::Triangulation(face, where);
        if (t.IsNull()) continue;
        const gp_Trsf move = where.Transformation();
        const auto first = std::uint32_t(mesh.points.size());
        for (int i = 1; i <= t->NbNodes(); ++i) mesh.points.push_back(occ::vec(t->Node(i).Transformed(move).XYZ()));
        const bool turned = (face.Orientation() == TopAbs_REVERSED) != move.IsNegative();
        for (int i = 1; i <= t->NbTriangles(); ++i) {
            int a, b, c;
            t->Triangle(i).Get(a, b, c);
            if (turned) std::swap(b, c);
            mesh.triangles.push_back(
                {first + std::uint32_t(a) - 1, first + std::uint32_t(b) - 1, first + std::uint32_t(c) - 1});
        }
    }
}

} // namespace

namespace {

/// `finer`: so many times as many pieces round a circle; or `within` mm of the faces.
Result<Mesh> meshed(const Solid& solid, const std::optional<Box3>& known, double finer, double* within = nullptr) {
    try {
        const Box3 box = known ? *known : boxOf(solid);
        if (box.isEmpty()) return Problem{"The body has no size.", "part"};
        Vec3 sizes = box.sizes();
        std::sort(sizes.data(), sizes.data() + 3);
        // Triangles are kept inside the shape: a copy of its topology takes them, since the solid is shared and
        // constant.
        const TopoDS_Shape shape = BRepBuilderAPI_Copy(solid.shape, false, false).Shape();
        if (within) *within = std::max(*within, sizes[2] / 200'000);
        const double off = within ? *within : std::max(sizes[1] / 200, sizes[2] / 20000);
        BRepMesh_IncrementalMesh(shape, off, false, 30 * kDegree / finer, within != nullptr); // then on all processors
        // One solid after the other: those that touch must not grow together where their points happen to meet.
        std::vector<Mesh> pieces;
        const auto add = [&](const TopoDS_Shape& s) {
            pieces.emplace_back();
            addTriangles(s, pieces.back());
        };
        for (TopExp_Explorer s(shape, TopAbs_SOLID); s.More(); s.Next()) add(s.Current());
        TopoDS_Compound sheets;
        BRep_Builder builder;
        builder.MakeCompound(sheets);
        for (TopExp_Explorer f(shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next()) builder.Add(sheets, f.Current());
        add(sheets);
        Mesh out;
        std::optional<Problem> why;
        for (auto& m : pieces) {
            if (m.triangles.empty()) continue;
            const auto clean = cleaned(std::move(m));
            if (!clean) {
                why = clean.problem();
                continue;
            }
            const auto first = std::uint32_t(out.points.size());
            out.points.insert(out.points.end(), clean->points.begin(), clean->points.end());
            for (auto t : clean->triangles) {
                for (auto& i : t) i += first;
                out.triangles.push_back(t);
            }
        }
        if (out.triangles.empty())
            return why ? *why : Problem{"The body has no faces that can be turned into triangles.", "part"};
        out.box = box;
        return out;
    } catch (const Standard_Failure& f) {
        return Problem{std::string("The body cannot be turned into triangles: ") + f.GetMessageString() + ".", "part"};
    }
}

} // namespace

Result<Mesh> meshOf(const Solid& solid, const std::optional<Box3>& known) { return meshed(solid, known, 1); }

Result<Mesh> fineMeshOf(const Solid& solid) { return meshed(solid, {}, 4); }

Result<Mesh> meshWithin(const Solid& solid, double& within) { return meshed(solid, {}, 1, &within); }

namespace {

int count(const TopoDS_Shape& s, TopAbs_ShapeEnum kind) {
    TopTools_IndexedMapOfShape map;
    TopExp::MapShapes(s, kind, map);
    return map.Extent();
}

} // namespace

Box3 boxOf(const Solid& s, const Mat3& R, const Vec3& t) {
    Box3 out;
    const auto optimal = [&](TopoDS_Shape shape) {
        if (!R.isIdentity(0) || !t.isZero(0))
            shape = BRepBuilderAPI_Transform(shape, occ::transform(R, t), false).Shape();
        Bnd_Box b;
        BRepBndLib::AddOptimal(shape, b, false, false);
        if (b.IsVoid()) return;
        b.SetGap(0);
        out.extend(occ::vec(b.CornerMin().XYZ()));
        out.extend(occ::vec(b.CornerMax().XYZ()));
    };
    // What is flat or made of straight lines is farthest out at an edge, and edges are exact here: OpenCASCADE's own
    // box is off by what it calls its precision there.
    TopTools_IndexedMapOfShape edges;
    TopExp::MapShapes(s.shape, TopAbs_EDGE, edges);
    for (int i = 1; i <= edges.Extent(); ++i) {
        const TopoDS_Edge& edge = TopoDS::Edge(edges(i));
        if (BRep_Tool::Degenerated(edge)) continue;
        if (const auto segment = occ::segmentOf(edge))
            out.extend(boundsOf(moved(*segment, R, t)));
        else
            optimal(edge);
    }
    for (TopExp_Explorer f(s.shape, TopAbs_FACE); f.More(); f.Next()) {
        const BRepAdaptor_Surface surface(TopoDS::Face(f.Current()), false);
        switch (surface.GetType()) {
        case GeomAbs_Plane:
        case GeomAbs_Cylinder:
        case GeomAbs_Cone:
        case GeomAbs_SurfaceOfExtrusion: break;
        default: optimal(f.Current());
        }
    }
    return out;
}

int faceCount(const Solid& s) { return count(s.shape, TopAbs_FACE); }
int solidCount(const Solid& s) { return count(s.shape, TopAbs_SOLID); }

SolidPtr moved(const SolidPtr& s, const Mat3& R, const Vec3& t, double k) {
    if (R.isIdentity(0) && t.isZero(0) && k == 1) return s;
    return std::make_shared<const Solid>(
        Solid{BRepBuilderAPI_Transform(s->shape, occ::transform(R, t, k), true).Shape()});
}

SolidPtr together(std::span<const SolidPtr> all) {
    if (all.size() == 1) return all[0];
    std::vector<TopoDS_Shape> shapes;
    for (const auto& s : all) shapes.push_back(s->shape);
    return std::make_shared<const Solid>(Solid{occ::compound(shapes)});
}

Result<SolidPtr> extruded(std::span<const Ring> rings, double from, double to) {
    if (!std::isfinite(from) || !std::isfinite(to) || from > to || to - from > 1e7)
        return Problem{"The height is " + say::mm(to - from) + "; use 0 (flat) to " + say::bound(1e7) + ".", "height"};
    if (rings.empty()) return Problem{"There is no closed outline to make a part of.", "outline"};
    std::vector<Path> paths;
    std::vector<Span> all;
    std::vector<size_t> ringOfSpan;
    for (size_t i = 0; i < rings.size(); ++i) {
        const std::string name = rings.size() > 1 ? "Outline " + std::to_string(i + 1) : "The outline";
        if (rings[i].size() > kMostPieces)
            return Problem{name + " has " + std::to_string(rings[i].size()) + " pieces; the most is " +
                               std::to_string(kMostPieces) + ". Draw it with fewer lines, or with arcs.",
                           "outline"};
        auto path = Path::make(rings[i], true);
        if (!path) return Problem{name + " cannot be used: " + path.problem().text, "outline"};
        if (path->bounds().sizes().head<2>().minCoeff() < 1e-6)
            return Problem{name + " encloses nothing. Choose a closed curve with room inside.", "outline"};
        paths.push_back(*path);
        for (const auto& s : path->spans()) all.push_back(s), ringOfSpan.push_back(i);
    }
    double size = 0;
    for (const auto& p : paths) size = std::max(size, p.bounds().diagonal().norm());
    const auto place = [](const Vec3& p) {
        return "x " + Words::length(p.x(), Words::Style::Decimals) + ", y " +
               Words::length(p.y(), Words::Style::Decimals);
    };
    for (size_t i = 0; i < paths.size(); ++i)
        if (const auto c = crossingsInPlan(paths[i].spans(), true, size / 20000); !c.empty())
            return Problem{"The outline crosses itself at " + place(c.front().at) +
                               ". A part needs an outline that does not.",
                           "outline"};
    if (paths.size() > 1)
        for (const auto& c : crossingsInPlan(all, false, size / 20000))
            if (ringOfSpan[c.a] != ringOfSpan[c.b])
                return Problem{"Two outlines cross at " + place(c.at) + ". Holes must lie wholly inside.", "outline"};
    // How many other rings each one lies in: even is a body, odd a hole of the ring around it.
    std::vector<std::vector<Vec3>> lines;
    for (const auto& p : paths) lines.push_back(p.polyline(p.length() / 2000));
    const auto inside = [&](const Vec3& p, const std::vector<Vec3>& line) {
        bool in = false;
        for (size_t i = 0, j = line.size() - 1; i < line.size(); j = i++)
            if ((line[i].y() > p.y()) != (line[j].y() > p.y()) &&
                p.x() < (line[j].x() - line[i].x()) * (p.y() - line[i].y()) / (line[j].y() - line[i].y()) + line[i].x())
                in = !in;
        return in;
    };
    std::vector<std::vector<size_t>> around(rings.size());
    for (size_t i = 0; i < rings.size(); ++i)
        for (size_t k = 0; k < rings.size(); ++k)
            if (i != k && inside(paths[i].at(0).point, lines[k])) around[i].push_back(k);
    try {
        std::vector<TopoDS_Shape> bodies;
        for (size_t i = 0; i < rings.size(); ++i) {
            if (around[i].size() % 2) continue;
            std::vector<Ring> holes;
            for (size_t k = 0; k < rings.size(); ++k)
                if (around[k].size() == around[i].size() + 1 &&
                    std::find(around[k].begin(), around[k].end(), i) != around[k].end())
                    holes.push_back(rings[k]);
            const auto down = [&](Ring r) {
                for (auto& s : r) s = moved(s, Mat3::Identity(), Vec3(0, 0, from));
                return r;
            };
            for (auto& h : holes) h = down(h);
            TopoDS_Face face = occ::faceOf(down(rings[i]), holes);
            bodies.push_back(to > from ? occ::prism(face, Vec3(0, 0, to - from)) : TopoDS_Shape(face));
        }
        return SolidPtr(std::make_shared<const Solid>(Solid{bodies.size() == 1 ? bodies[0] : occ::compound(bodies)}));
    } catch (const Standard_Failure& f) {
        return Problem{std::string("No body can be made of the outline: ") + f.GetMessageString() + ".", "outline"};
    }
}

std::string toBinary(const Solid& s) {
    std::ostringstream out;
    BinTools::Write(s.shape, out, false, false, BinTools_FormatVersion_CURRENT); // without triangles; it stays as it is
    const std::string body = out.str();
    return "body " + std::to_string(body.size()) + "\n" + body;
}

Result<SolidPtr> solidFromBinary(const std::string& bytes) {
    try {
        // The length in front tells a cut-off one before OpenCASCADE sees it, which would print and guess.
        const size_t line = bytes.find('\n');
        if (line == std::string::npos || bytes.substr(0, line) != "body " + std::to_string(bytes.size() - line - 1))
            return Problem{"The stored body is cut off or damaged.", "part"};
        std::istringstream in(bytes.substr(line + 1));
        TopoDS_Shape shape;
        BinTools::Read(shape, in);
        if (!shape.IsNull() && TopExp_Explorer(shape, TopAbs_FACE).More())
            return SolidPtr(std::make_shared<const Solid>(Solid{shape}));
    } catch (const Standard_Failure&) {
    } catch (const std::exception&) {}
    return Problem{"The stored body is cut off or damaged.", "part"};
}

} // namespace vicinal
