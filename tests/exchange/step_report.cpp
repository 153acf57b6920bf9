// Says what is in a STEP file, by OpenCASCADE's own reader in a process of its own: a line a shape, an instance, a
// wire.
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <TDF_ChildIterator.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <cstdio>
#include <map>
#include <string>

namespace {

std::string nameOf(const TDF_Label& label) {
    Handle(TDataStd_Name) name;
    if (!label.FindAttribute(TDataStd_Name::GetID(), name)) return "?";
    const TCollection_ExtendedString text = name->Get();
    std::string out(size_t(text.LengthOfCString()) + 1, '\0');
    Standard_PCharacter p = out.data();
    text.ToUTF8CString(p);
    out.resize(std::char_traits<char>::length(out.c_str()));
    return out;
}

struct Report {
    Handle(XCAFDoc_ColorTool) colours;
    std::map<std::string, int> shapes; // by entry of their label
    void shape(const TDF_Label& label) {
        if (shapes[std::to_string(label.Father().Tag()) + ":" + std::to_string(label.Tag())]++) return;
        const TopoDS_Shape s = XCAFDoc_ShapeTool::GetShape(label);
        GProp_GProps volume, length;
        BRepGProp::VolumeProperties(s, volume);
        BRepGProp::LinearProperties(s, length);
        Quantity_Color c;
        const auto has = [&](const TDF_Label& l) {
            return colours->GetColor(l, XCAFDoc_ColorGen, c) || colours->GetColor(l, XCAFDoc_ColorSurf, c);
        };
        bool coloured = has(label);
        for (TDF_ChildIterator child(label); child.More(); child.Next()) coloured = coloured || has(child.Value());
        const bool solid = TopExp_Explorer(s, TopAbs_SOLID).More();
        std::printf("%s\t%s\t%.9g\t%d\n", solid ? "shape" : "wire", nameOf(label).c_str(),
                    solid ? volume.Mass() : length.Mass(), coloured ? 1 : 0);
    }
    void walk(const TDF_Label& label, const TopLoc_Location& above, const std::string& path) {
        TDF_Label of = label;
        TopLoc_Location where = above;
        if (XCAFDoc_ShapeTool::IsReference(label)) {
            where = above * XCAFDoc_ShapeTool::GetLocation(label);
            XCAFDoc_ShapeTool::GetReferredShape(label, of);
        }
        TDF_LabelSequence parts;
        if (XCAFDoc_ShapeTool::IsAssembly(of) && XCAFDoc_ShapeTool::GetComponents(of, parts)) {
            for (int i = 1; i <= parts.Length(); ++i) walk(parts.Value(i), where, path + "/" + nameOf(of));
            return;
        }
        shape(of);
        const gp_Trsf t = where.Transformation();
        std::printf("instance\t%s\t%s\t%s", nameOf(label).c_str(), nameOf(of).c_str(), path.c_str());
        for (int r = 1; r <= 3; ++r)
            for (int c = 1; c <= 4; ++c) std::printf("\t%.12g", t.Value(r, c));
        std::printf("\n");
    }
};

} // namespace

int main(int argc, char** argv) {
    if (argc != 2) return 2;
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    Handle(TDocStd_Document) document = new TDocStd_Document("report");
    XCAFApp_Application::GetApplication()->InitDocument(document);
    Interface_Static::SetCVal("xstep.cascade.unit", "MM");
    STEPCAFControl_Reader reader;
    reader.SetNameMode(true);
    reader.SetColorMode(true);
    if (reader.ReadFile(argv[1]) != IFSelect_RetDone || !reader.Transfer(document)) return 1;
    Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    Report report{XCAFDoc_DocumentTool::ColorTool(document->Main()), {}};
    TDF_LabelSequence free;
    shapes->GetFreeShapes(free);
    std::printf("free\t%d\n", free.Length());
    for (int i = 1; i <= free.Length(); ++i) report.walk(free.Value(i), TopLoc_Location(), "");
    return 0;
}
