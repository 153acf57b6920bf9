// Plugin: edges and wires of a STEP file by OpenCASCADE. Loaded by exchange/step/load.cpp when first needed.
#include "exchange/step/plugin.h"
#include "parts/solid/shape.h"
#include <BRepTools_WireExplorer.hxx>
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
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>

namespace {

using namespace vicinal;
using occ::segmentOf;

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
