// The same places by OpenCASCADE's own writer alone: an assembly of located components, to compare with.
#include "bare_step.h"
#include "parts/solid/shape.h"
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <STEPControl_Controller.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopoDS_Compound.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>

void bareStep(const vicinal::SolidPtr& solid, const std::vector<vicinal::Mat4>& poses, const char* file) {
    using namespace vicinal;
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    Handle(TDocStd_Document) document = new TDocStd_Document("bare");
    XCAFApp_Application::GetApplication()->InitDocument(document);
    Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    const TDF_Label part = shapes->AddShape(solid->shape, false), all = shapes->NewShape();
    for (const Mat4& p : poses)
        shapes->AddComponent(all, part,
                             TopLoc_Location(occ::transform(p.topLeftCorner<3, 3>(), p.topRightCorner<3, 1>())));
    shapes->UpdateAssemblies();
    STEPControl_Controller::Init();
    Interface_Static::SetIVal("write.step.assembly", 2); // as it is at first: others in this process set it
    STEPCAFControl_Writer writer;
    writer.SetNameMode(true);
    writer.Transfer(document, STEPControl_AsIs);
    writer.Write(file);
}
