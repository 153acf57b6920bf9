// Plugin: shapes and wires as STEP (AP242) by OpenCASCADE, each a product with its colour.
#include "exchange/step/plugin.h"
#include "parts/solid/shape.h"
#include <BRepBuilderAPI_Copy.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRep_Builder.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <STEPControl_Controller.hxx>
#include <Standard_Failure.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <TopoDS_Wire.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <gp_Ax2.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>
#include <map>
#include <set>

namespace {

using namespace vicinal;

/// The triangles as plane faces that share their edges.
TopoDS_Shape shellOf(const Mesh& m) {
    BRep_Builder builder;
    std::vector<TopoDS_Vertex> points(m.points.size());
    for (size_t i = 0; i < m.points.size(); ++i) builder.MakeVertex(points[i], occ::point(m.points[i]), 1e-6);
    std::map<std::pair<std::uint32_t, std::uint32_t>, TopoDS_Edge> edges;
    TopoDS_Shell shell;
    builder.MakeShell(shell);
    for (const auto& t : m.triangles) {
        const Vec3 &a = m.points[t[0]], &b = m.points[t[1]], &c = m.points[t[2]];
        const Vec3 n = (b - a).cross(c - a);
        if (!(n.norm() > tolerance::fine)) continue;
        BRepBuilderAPI_MakeWire wire;
        for (int k = 0; k < 3; ++k) {
            const std::uint32_t i = t[size_t(k)], j = t[size_t((k + 1) % 3)];
            auto& edge = edges[{std::min(i, j), std::max(i, j)}];
            if (edge.IsNull()) edge = BRepBuilderAPI_MakeEdge(points[std::min(i, j)], points[std::max(i, j)]);
            wire.Add(i < j ? edge : TopoDS::Edge(edge.Reversed()));
        }
        const BRepBuilderAPI_MakeFace face(gp_Pln(occ::point(a), occ::direction(n)), wire.Wire(), true);
        if (face.IsDone()) builder.Add(shell, face.Face());
    }
    shell.Closed(true);
    TopoDS_Solid solid;
    builder.MakeSolid(solid);
    builder.Add(solid, shell);
    return solid;
}

} // namespace

extern "C" bool vicinalWriteStepShapes(const StepScene* scene, const char* file, std::string* why) {
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    try {
        Handle(TDocStd_Document) document = new TDocStd_Document("vicinal");
        XCAFApp_Application::GetApplication()->InitDocument(document);
        Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
        Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
        int number = 0;
        std::set<const void*> seen;
        const auto add = [&](const TopoDS_Shape& shape) {
            const TDF_Label label = shapes->AddShape(shape, false, false);
            TDataStd_Name::Set(label, TCollection_ExtendedString(("v" + std::to_string(number++) + "v").c_str()));
            return label;
        };
        for (const StepShape& s : scene->shapes) {
            TopoDS_Shape shape = s.solid ? s.solid->shape : shellOf(*s.mesh);
            if (!seen.insert(shape.TShape().get()).second) // two parts with one solid stay two
                shape = BRepBuilderAPI_Copy(shape).Shape();
            const TDF_Label label = add(shape);
            colours->SetColor(label, Quantity_Color(s.colour[0], s.colour[1], s.colour[2], Quantity_TOC_sRGB),
                              XCAFDoc_ColorGen);
        }
        for (const StepWire& w : scene->wires) add(occ::wireOf(w.segments));
        STEPControl_Controller::Init(); // else the settings are not there yet
        Interface_Static::SetCVal("write.step.schema", "AP242DIS");
        Interface_Static::SetCVal("write.step.unit", "MM");
        Interface_Static::SetIVal("write.step.assembly", 0);
        Interface_Static::SetIVal("write.surfacecurve.mode", 0);
        STEPCAFControl_Writer writer;
        writer.SetNameMode(true);
        writer.SetColorMode(true);
        writer.SetLayerMode(false);
        if (!writer.Transfer(document, STEPControl_AsIs)) {
            *why = "the shapes could not be turned into STEP.";
            return false;
        }
        if (writer.Write(file) != IFSelect_RetDone) {
            *why = "the shapes could not be written.";
            return false;
        }
    } catch (const Standard_Failure& f) {
        *why = std::string(f.GetMessageString()) + ".";
        return false;
    }
    return true;
}
