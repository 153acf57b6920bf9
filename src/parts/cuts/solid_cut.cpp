#include "parts/cuts/solid_cut.h"
#include "parts/makers/maker.h"
#include "parts/solid/shape.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <Message_ProgressIndicator.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>

namespace vicinal {
namespace {

/// OpenCASCADE's own way to say how far it is, and to be stopped.
class Watch : public Message_ProgressIndicator {
public:
    Watch(const Stop* stop, Progress* progress) : m_stop(stop), m_progress(progress) {}

protected:
    Standard_Boolean UserBreak() override { return stopped(m_stop); }
    void Show(const Message_ProgressScope&, const Standard_Boolean) override {
        if (m_progress) *m_progress = GetPosition();
    }

private:
    const Stop* m_stop;
    Progress* m_progress;
};

TopoDS_Shape shapeOf(const Tool& tool) {
    if (const auto* solid = std::get_if<SolidPtr>(&tool.shape))
        return BRepBuilderAPI_Transform((*solid)->shape, occ::transform(tool.turn, tool.at, tool.size), true).Shape();
    const auto& p = std::get<ToolPrism>(tool.shape);
    std::vector<Ring> rings = *p.rings;
    for (Ring& ring : rings)
        for (Segment& s : ring) s = moved(s, p.axes, p.at + p.from * p.axes.col(2), p.size);
    return occ::prism(occ::faceOf(rings.front(), std::span(rings).subspan(1)), (p.to - p.from) * p.axes.col(2));
}

} // namespace

Result<BodyPtr> cutSolid(const Body& body, std::span<const Tool> tools, bool raise, std::vector<size_t>& missed,
                         const Stop* stop, Progress* progress) {
    const SolidPtr solid = solidOf(body);
    if (!solid || solidCount(*solid) == 0)
        return Problem{
            "It is no exact solid, and only those can be cut this way. Cut a plate through, or bring the body "
            "in as STEP.",
            "of"};
    try {
        std::vector<TopoDS_Shape> shapes;
        for (const Tool& t : tools) {
            if (stopped(stop)) return Problem{"This was stopped.", ""};
            shapes.push_back(shapeOf(t));
        }
        TopTools_ListOfShape a, b;
        a.Append(solid->shape);
        for (const auto& s : shapes) b.Append(s);
        const Handle(Watch) watch = new Watch(stop, progress);
        const auto run = [&](auto&& op) -> Result<TopoDS_Shape> {
            op.SetArguments(a);
            op.SetTools(b);
            op.SetUseOBB(true);
            op.Build(watch->Start());
            if (stopped(stop)) return Problem{"This was stopped.", ""};
            if (!op.IsDone() || op.HasErrors())
                return Problem{
                    "The modelling library cannot work the shapes into the body. Move them a little, or change "
                    "their size.",
                    "run"};
            for (size_t i = 0; i < shapes.size(); ++i) {
                bool works = false;
                for (TopExp_Explorer f(shapes[i], TopAbs_FACE); f.More() && !works; f.Next())
                    works = !op.Modified(f.Current()).IsEmpty() || op.IsDeleted(f.Current()) == raise;
                if (!works) missed.push_back(i);
            }
            return op.Shape();
        };
        auto made = raise ? run(BRepAlgoAPI_Fuse()) : run(BRepAlgoAPI_Cut());
        if (!made) return made.problem();
        if (raise) {
            ShapeUpgrade_UnifySameDomain one(*made, true, true, false);
            one.Build();
            made = one.Shape();
        }
        Solid out{*made};
        if (solidCount(out) == 0) return Problem{"Nothing is left of it: the shapes swallow it whole.", "run"};
        auto result = bodyOf(std::make_shared<const Solid>(std::move(out)));
        if (!result) return Problem{result.problem().text, "run"};
        return *result;
    } catch (const Standard_Failure&) {
        return Problem{
            "The modelling library cannot work the shapes into the body. Move them a little, or change their "
            "size.",
            "run"};
    }
}

} // namespace vicinal
