// Plugin: bodies of a STEP file with their names by OpenCASCADE. Loaded by exchange/step/load.cpp when first needed.
#include "exchange/step/plugin.h"
#include "parts/solid/shape.h"
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <Message_ProgressIndicator.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_SequenceOfAsciiString.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>
#include <map>

namespace {

using namespace vicinal;

/// Tells the other thread how far it is, and stops when that wants it.
class Watch : public Message_ProgressIndicator {
public:
    Watch(const Stop* stop, Progress* progress) : m_stop(stop), m_progress(progress) {}
    Standard_Boolean UserBreak() override { return m_stop && *m_stop; }
    void Show(const Message_ProgressScope&, const Standard_Boolean) override {
        if (m_progress) *m_progress = 0.3 + 0.7 * GetPosition(); // before it, the text is read
    }

private:
    const Stop* m_stop;
    Progress* m_progress;
};

std::string nameOf(const TDF_Label& label) {
    Handle(TDataStd_Name) name;
    if (!label.FindAttribute(TDataStd_Name::GetID(), name)) return {};
    const TCollection_ExtendedString text = name->Get();
    std::string out(size_t(text.LengthOfCString()) + 1, '\0');
    Standard_PCharacter p = out.data();
    text.ToUTF8CString(p);
    out.resize(std::char_traits<char>::length(out.c_str()));
    return out;
}

/// Bodies below a label, placed as the assembly says. The name nearest to the body wins.
void collect(const TDF_Label& label, const TopLoc_Location& above, const std::string& name, StepFile& out) {
    TDF_Label shape = label;
    std::string own = nameOf(label);
    TopLoc_Location where = above;
    if (XCAFDoc_ShapeTool::IsReference(label)) {
        where = above * XCAFDoc_ShapeTool::GetLocation(label);
        XCAFDoc_ShapeTool::GetReferredShape(label, shape);
        if (const std::string product = nameOf(shape); !product.empty()) own = product;
    }
    if (own.empty()) own = name;
    TDF_LabelSequence parts;
    if (XCAFDoc_ShapeTool::IsAssembly(shape) && XCAFDoc_ShapeTool::GetComponents(shape, parts)) {
        for (int i = 1; i <= parts.Length(); ++i) collect(parts.Value(i), where, own, out);
        return;
    }
    const TopoDS_Shape body = XCAFDoc_ShapeTool::GetShape(shape);
    if (body.IsNull()) return;
    const auto add = [&](const TopoDS_Shape& s) {
        out.bodies.push_back({own, std::make_shared<const Solid>(Solid{s.Moved(where)})});
    };
    int solids = 0;
    for (TopExp_Explorer e(body, TopAbs_SOLID); e.More(); e.Next(), ++solids) add(e.Current());
    if (solids == 0)
        for (TopExp_Explorer e(body, TopAbs_SHELL); e.More(); e.Next(), ++solids) add(e.Current());
    if (solids == 0 && TopExp_Explorer(body, TopAbs_FACE).More()) add(body);
}

} // namespace

extern "C" bool vicinalReadStepBodies(const char* file, StepFile* out, const Stop* stop, Progress* progress,
                                      std::string* why) {
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    try {
        Handle(TDocStd_Document) document = new TDocStd_Document("vicinal");
        XCAFApp_Application::GetApplication()->InitDocument(document);
        Interface_Static::SetCVal("xstep.cascade.unit", "MM");
        STEPCAFControl_Reader reader;
        reader.SetNameMode(true);
        reader.SetColorMode(false);
        if (reader.ReadFile(file) != IFSelect_RetDone) {
            *why = "it cannot be read as a STEP file. It may be cut off or damaged.";
            return false;
        }
        if (progress) *progress = 0.3;
        if (stop && *stop) return false;
        TColStd_SequenceOfAsciiString lengths, angles, solidAngles;
        reader.ChangeReader().FileUnits(lengths, angles, solidAngles);
        if (lengths.Length() > 0) out->unit = lengths.Value(1).ToCString();
        Handle(Watch) watch = new Watch(stop, progress);
        const bool done = reader.Transfer(document, watch->Start());
        if (stop && *stop) return false;
        if (!done) {
            *why = "no shape in it could be built.";
            return false;
        }
        Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
        TDF_LabelSequence free;
        shapes->GetFreeShapes(free);
        for (int i = 1; i <= free.Length(); ++i) collect(free.Value(i), TopLoc_Location(), {}, *out);
        std::map<std::string, int> seen;
        for (auto& b : out->bodies) {
            if (b.name.empty()) b.name = "Body";
            if (const int n = ++seen[b.name]; n > 1) b.name += " " + std::to_string(n);
        }
    } catch (const Standard_Failure& f) {
        *why = std::string("it cannot be read: ") + f.GetMessageString() + ".";
        return false;
    }
    if (out->bodies.empty()) {
        *why = std::string(kNoBody) + ". Its curves can be brought in as paths.";
        return false;
    }
    return true;
}
