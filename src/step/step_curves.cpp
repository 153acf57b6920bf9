// Plugin: edges and wires of a STEP file by OpenCASCADE. Loaded by exchange/step_in.cpp when first needed.
#include "exchange/bring_in.h"
#include <BRepAdaptor_Curve.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <BRep_Tool.hxx>
#include <GeomConvert.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPControl_Reader.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Circ.hxx>
#include <gp_Elips.hxx>

namespace {

using namespace vicinal;

Vec3 vec(const gp_XYZ& p) { return {p.X(), p.Y(), p.Z()}; }

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

void addWire(const TopoDS_Wire& wire, CurveFile& out) {
    Strand s;
    for (BRepTools_WireExplorer e(wire); e.More(); e.Next())
        if (auto x = segmentOf(e.Current())) s.segments.push_back(*x);
    if (s.segments.empty()) return;
    s.closed = (endOf(s.segments.back()) - startOf(s.segments.front())).norm() < 1e-4;
    out.strands.push_back(std::move(s));
}

} // namespace

extern "C" bool vicinalReadStepCurves(const char* file, CurveFile* out, std::string* why) {
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    try {
        STEPControl_Reader reader;
        if (reader.ReadFile(file) != IFSelect_RetDone) {
            *why = "it cannot be read as a STEP file. It may be cut off or of another kind.";
            return false;
        }
        reader.TransferRoots();
        const TopoDS_Shape all = reader.OneShape();
        if (!all.IsNull()) {
            for (TopExp_Explorer w(all, TopAbs_WIRE, TopAbs_FACE); w.More(); w.Next())
                addWire(TopoDS::Wire(w.Current()), *out);
            for (TopExp_Explorer e(all, TopAbs_EDGE, TopAbs_WIRE); e.More(); e.Next())
                if (auto s = segmentOf(TopoDS::Edge(e.Current()))) out->strands.push_back({{*s}, false, ""});
            if (out->strands.empty()) { // only bodies: each edge once
                TopTools_IndexedMapOfShape edges;
                TopExp::MapShapes(all, TopAbs_EDGE, edges);
                for (int i = 1; i <= edges.Extent(); ++i)
                    if (auto s = segmentOf(TopoDS::Edge(edges(i)))) out->strands.push_back({{*s}, false, ""});
                if (!out->strands.empty())
                    out->remarks.push_back("The file has bodies and no free curves: these are the bodies' edges.");
            }
        }
    } catch (const Standard_Failure& f) {
        *why = std::string("it cannot be read: ") + f.GetMessageString() + ".";
        return false;
    }
    if (out->strands.empty()) {
        *why = "it has no edge or wire in it.";
        return false;
    }
    out->millimetresPerUnit = 1; // the reader converts as the file says
    return true;
}
