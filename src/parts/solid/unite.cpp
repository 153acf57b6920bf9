#include "parts/solid/unite.h"
#include "parts/solid/shape.h"
#include <Standard_Failure.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>

namespace vicinal {

Result<SolidPtr> united(std::span<const SolidPtr> all) {
    if (all.size() == 1) return all[0];
    try {
        std::vector<TopoDS_Shape> shapes;
        for (const auto& s : all) shapes.push_back(s->shape);
        return std::make_shared<const Solid>(Solid{occ::fused(shapes)});
    } catch (const Standard_Failure& f) {
        return Problem{Words("The bodies cannot be united: ") + std::string(f.GetMessageString()) +
                           ". Send them out as they stand.",
                       "as"};
    }
}

} // namespace vicinal
