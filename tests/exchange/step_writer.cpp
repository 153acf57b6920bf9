#include "exchange/step_writer.h"
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <GC_MakeArcOfCircle.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPControl_Writer.hxx>
#include <gp_Circ.hxx>

namespace vicinal::test {

void writeStep(const std::string& wires, const std::string& body) {
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    STEPControl_Writer w;
    w.Transfer(BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(gp_Pnt(0, 0, 50), gp_Dir(0, 0, 1)), 20)).Edge(),
               STEPControl_AsIs);
    const gp_Pnt a(0, 0, 0), b(100, 0, 0), m(125, 25, 0), c(100, 50, 0), d(20, 50, 0);
    BRepBuilderAPI_MakeWire wire(BRepBuilderAPI_MakeEdge(a, b),
                                 BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(b, m, c).Value()),
                                 BRepBuilderAPI_MakeEdge(c, d));
    w.Transfer(wire.Wire(), STEPControl_AsIs);
    w.Transfer(BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(gp_Pnt(300, 0, 0), gp_Dir(0, 0, 1)), 5), 0, 2 * M_PI - 0.01),
               STEPControl_AsIs); // open by 0.05
    w.Write(wires.c_str());
    STEPControl_Writer v;
    v.Transfer(BRepPrimAPI_MakeBox(10, 20, 30).Shape(), STEPControl_AsIs);
    v.Write(body.c_str());
}

} // namespace vicinal::test
