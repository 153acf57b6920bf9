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
            return Problem{say::value(name) + " has " + say::count(rings[i].size()) + " pieces; the most is " +
                               say::count(kMostPieces) + ". Draw it with fewer lines, or with arcs.",
                           "outline"};
        auto path = Path::make(rings[i], true);
        if (!path)
            return Problem{say::value(name) + " cannot be used: " + Words::whole(path.problem().text), "outline"};
        if (path->bounds().sizes().head<2>().minCoeff() < tolerance::length)
            return Problem{say::value(name) + " encloses nothing. Choose a closed curve with room inside.", "outline"};
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
        return Problem{Words("No body can be made of the outline: ") + f.GetMessageString() + ".", "outline"};
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
