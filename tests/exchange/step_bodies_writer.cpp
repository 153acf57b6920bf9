#include "exchange/step_writer.h"
#include "parts/solid/shape.h"
#include <APIHeaderSection_MakeHeader.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_NurbsConvert.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <TCollection_HAsciiString.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>

namespace vicinal::test {
namespace {

SolidPtr solidOf(const TopoDS_Shape& s) { return std::make_shared<const Solid>(Solid{s}); }

TopoDS_Shape cylinder(double x, double y, double z, double r, double h) {
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, y, z), gp::DZ()), r, h).Shape();
}

} // namespace

bool writeBodies(const std::string& file, const std::vector<NamedSolid>& bodies, const char* unit) {
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    Handle(TDocStd_Document) document = new TDocStd_Document("test");
    XCAFApp_Application::GetApplication()->InitDocument(document);
    Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    // The writer only names the unit: the numbers must be in it already.
    const double mm = std::string(unit) == "INCH" ? 25.4 : std::string(unit) == "M" ? 1000 : 1;
    for (const auto& b : bodies) {
        const auto sized = moved(b.solid, Mat3::Identity(), Vec3::Zero(), 1 / mm);
        const TDF_Label label = shapes->AddShape(sized->shape, false);
        TDataStd_Name::Set(label, TCollection_ExtendedString(b.name.c_str(), true));
    }
    STEPCAFControl_Writer w;
    Interface_Static::SetCVal("write.step.unit", unit);
    w.SetNameMode(true);
    if (!w.Transfer(document, STEPControl_AsIs)) return false;
    APIHeaderSection_MakeHeader header(w.ChangeWriter().Model());
    header.SetTimeStamp(new TCollection_HAsciiString("2026-01-01T00:00:00")); // the same bytes every time
    header.SetAuthorValue(1, new TCollection_HAsciiString("Saltmarrow Quay (made up)"));
    const bool written = w.Write(file.c_str()) == IFSelect_RetDone;
    Interface_Static::SetCVal("write.step.unit", "MM");
    return written;
}

std::vector<NamedSolid> winchLink() {
    const double half = 38.1;
    TopoDS_Shape plate = BRepPrimAPI_MakeBox(gp_Pnt(-half, -11, -4), gp_Pnt(half, 11, 4)).Shape();
    for (double x : {-half, half}) plate = BRepAlgoAPI_Fuse(plate, cylinder(x, 0, -4, 18, 8)).Shape();
    for (double x : {-half, half}) plate = BRepAlgoAPI_Cut(plate, cylinder(x, 0, -5, 8.1, 10)).Shape();
    const Mat3 R = (Eigen::AngleAxisd(20 * kDegree, Vec3::UnitZ()) * Eigen::AngleAxisd(12 * kDegree, Vec3::UnitX()))
                       .toRotationMatrix();
    return {{"Winch link", moved(solidOf(plate), R, Vec3(1250, -340, 96))}};
}

std::vector<NamedSolid> fairlead() {
    TopoDS_Shape base = BRepPrimAPI_MakeBox(gp_Pnt(-110, -55, 0), gp_Pnt(110, 55, 14)).Shape();
    for (double x : {-92.0, 92.0})
        for (double y : {-37.0, 37.0}) base = BRepAlgoAPI_Cut(base, cylinder(x, y, -1, 6.5, 16)).Shape();
    TopoDS_Shape horns = BRepPrimAPI_MakeBox(gp_Pnt(-70, -24, 14), gp_Pnt(70, 24, 34)).Shape();
    for (double x : {-48.0, 48.0}) {
        horns = BRepAlgoAPI_Fuse(horns, cylinder(x, 0, 20, 20, 78)).Shape();
        horns = BRepAlgoAPI_Fuse(horns, BRepPrimAPI_MakeSphere(gp_Pnt(x, 0, 98), 27).Shape()).Shape();
    }
    // Drawn y-up, 4 m from its origin, a quarter turn off.
    Mat3 R;
    R << 0, 1, 0, 0, 0, 1, 1, 0, 0;
    const Vec3 t(3860, 1210, -2400);
    return {{"Fairlead base", moved(solidOf(base), R, t)}, {"Fairlead horns", moved(solidOf(horns), R, t)}};
}

NamedSolid sieve(int n) {
    std::vector<Ring> rings;
    const double step = 10, size = (n + 1) * step;
    rings.push_back({Line{Vec3(0, 0, 0), Vec3(size, 0, 0)}, Line{Vec3(size, 0, 0), Vec3(size, size, 0)},
                     Line{Vec3(size, size, 0), Vec3(0, size, 0)}, Line{Vec3(0, size, 0), Vec3(0, 0, 0)}});
    for (int i = 1; i <= n; ++i)
        for (int k = 1; k <= n; ++k)
            rings.push_back({Arc{Vec3(i * step, k * step, 0), Vec3::UnitX(), Vec3::UnitY(), 3.0, 2 * kPi}});
    const auto solid = extruded(rings, 0, 4);
    return {"Sieve", solid ? *solid : nullptr};
}

SolidPtr asRational(const SolidPtr& s) {
    return std::make_shared<const Solid>(Solid{BRepBuilderAPI_NurbsConvert(s->shape, true).Shape()});
}

} // namespace vicinal::test
