#include "model/recipes/recipe.h"
#include "base/say.h"
#include "base/text.h"
#include "model/recipes/build/build.h"
#include <cmath>

namespace vicinal {

namespace recipes {

Result<Built> built(const std::vector<Segment>& segments, bool closed, double gap) {
    auto path = Path::make(segments, closed, gap);
    if (!path) return path.problem();
    return Built{std::move(path).value(), {}, {}, {}};
}

std::vector<Segment> spline(const std::vector<Vec3>& points, bool smooth, bool closed) {
    std::unique_ptr<bool[]> flags(new bool[points.size()]);
    std::fill_n(flags.get(), points.size(), smooth);
    return throughPoints(points, std::span<const bool>(flags.get(), points.size()), closed);
}

namespace {

using say::mm;

Result<Built> buildJoined(const JoinedRecipe& r, std::span<const Path> members) {
    auto j = joined(members, r.gap);
    if (!j) return j.problem();
    auto out = built(j->segments, j->closed, 1e-3);
    if (!out) return out;
    for (const auto& x : j->joints) {
        Words text = "Member " + say::count(x.before + 1) + " to " + say::count(x.after + 1) + ": gap " +
                     mm(x.gap < 1e-7 ? 0 : x.gap);
        if (x.bridged) text += ", bridged by a line";
        if (x.turned) text += "; member " + say::count(x.after + 1) + " runs backwards";
        out.value().remarks.push_back(text + ".");
    }
    return out;
}

Result<Built> buildEdges(const EdgesRecipe& r, const Mesh& mesh, const Ground* ground) {
    if (!finite(r.pick)) return Problem{"The point near the edge is not a number.", "pick"};
    if (!inReach(r.at))
        return Problem{"The place of the part is not a number or beyond " + say::bound(kLargest) + ".", "at"};
    if (!std::isfinite(r.turn)) return Problem{"The turn is not a number. Type an angle.", "turn"};
    const Vec3 near = mesh.box.min() + r.pick.cwiseProduct(mesh.box.sizes());
    bool closed = false;
    const auto points = edgeChain(mesh, near, r.loop, Vec3::UnitZ(), &closed);
    if (points.size() < 2) return Problem{"The part has no edge to follow: it is round everywhere.", "part"};
    const Mat3 R = Eigen::AngleAxisd(r.turn, Vec3::UnitZ()).toRotationMatrix();
    std::vector<Vec3> placed;
    for (const auto& p : points) {
        placed.push_back(R * p + r.at);
        if (ground) placed.back() = ground->turn() * placed.back() + ground->origin();
    }
    auto out = built(spline(placed, r.smooth, closed), closed, 1e-3);
    if (out && r.loop && !closed)
        out.value().remarks.push_back("The edges do not lead back to their start: the loop stays open.");
    return out;
}

} // namespace
} // namespace recipes

Result<Built> build(const PathRecipe& recipe, std::span<const Path> sources, const BodyAsked& body, const Stop* stop) {
    return std::visit(
        recipes::Overloaded{
            [](const PointsRecipe& r) { return recipes::buildPoints(r); },
            [](const BroughtCurve& c) { return recipes::built(c.segments, c.closed); },
            [](const ShapeRecipe& r) { return recipes::buildShape(r); },
            [&](const DerivedRecipe& r) -> Result<Built> {
                if (sources.empty() || sources.size() > 2)
                    return Problem{"The path it follows is missing. Choose another.", "source"};
                return recipes::buildDerived(r, sources[0], sources.size() > 1 ? &sources[1] : nullptr, body, stop);
            },
            [&](const JoinedRecipe& r) -> Result<Built> { return recipes::buildJoined(r, sources); },
            [&](const EdgesRecipe& r) -> Result<Built> {
                if (!body.mesh)
                    return Problem{"The part whose edges it takes is missing. Choose another path.", "part"};
                return recipes::buildEdges(r, *body.mesh, body.ground.get());
            }},
        recipe);
}

} // namespace vicinal
