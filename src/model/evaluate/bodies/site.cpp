#include "model/evaluate/bodies/site.h"
#include "base/ranges.h"
#include "base/say.h"
#include "base/text.h"
#include "geometry/mesh/self_crossing.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/cuts.h"
#include "model/evaluate/bodies/rails.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/graph.h"
#include <algorithm>

namespace vicinal {

bool standsOff(const RunItem& r) {
    return std::holds_alternative<OffSurface>(r.facing.crown) && !std::holds_alternative<AsDrawn>(r.facing.nose);
}

std::array<Id, 3> bodiesAsked(const RunItem& r) {
    std::array<Id, 3> out{};
    if (std::holds_alternative<AtTarget>(r.facing.nose)) out[0] = r.facing.targetBody;
    if (standsOff(r)) out[1] = r.facing.surface;
    out[2] = r.feet.ground;
    return out;
}

bool sameSources(const BodyResult& a, const BodyResult& b) {
    const auto sameRun = [](const RunResult* x, const RunResult* y) {
        if (x == y) return true;
        return x && y && x->placed && y->placed && x->placed->laid == y->placed->laid && x->path == y->path &&
               x->parts == y->parts && x->item->leftOut == y->item->leftOut && x->item->facing == y->item->facing &&
               x->item->changes == y->item->changes;
    };
    // Renamed, recoloured or hidden they are the same.
    const auto samePart = [](const PartResult* x, const PartResult* y) {
        return x == y || (x && y && x->body && x->body == y->body && !x->problem && !y->problem);
    };
    const auto sameBody = [](const BodyResult* x, const BodyResult* y) {
        return x == y ||
               (x && y && x->body && x->body == y->body && x->ground == y->ground && !x->problem && !y->problem);
    };
    return a.path == b.path && samePart(a.part.get(), b.part.get()) && a.outline == b.outline &&
           sameBody(a.of.get(), b.of.get()) && sameRun(a.run.get(), b.run.get());
}

namespace {

constexpr size_t kMostLookedThrough = 200'000; ///< triangles: about a second

Result<BuiltBody> built(const BodyResult& b, const Work& work) {
    if (const auto* rail = std::get_if<RailAlong>(&b.item->shape)) return buildRail(*rail, b);
    if (const auto* cut = std::get_if<CutBy>(&b.item->shape)) return buildCut(*cut, b, work);
    ShapeSource source;
    if (b.path) source.path = b.path->path;
    if (b.part) source.body = b.part->body;
    return buildBody(b.item->shape, source);
}

} // namespace

void makeSiteBody(BodyResult& out, const BodyResult* old, const Work& work) {
    const BodyItem& item = *out.item;
    if (!ranges::kSize.holds(item.size)) {
        out.problem = Problem{"The body's size is not " VICINAL_SIZE_RANGE ".", "size"};
        return;
    }
    const bool sameShape = old && !old->problem && !old->deferred && old->shape && sameSources(*old, out) &&
                           old->item->shape == item.shape;
    if (sameShape) {
        out.shape = old->shape;
        out.home = old->home;
        out.remarks = old->remarks;
        out.bars = old->bars;
        out.cut = old->cut;
    } else {
        auto made = built(out, work);
        if (!made) {
            out.problem = made.problem();
            return;
        }
        if (made->body->mesh->triangles.size() > kMostTriangles) {
            out.problem = Problem{"The body has " + say::count(made->body->mesh->triangles.size()) +
                                      " triangles; the most is " + say::count(kMostTriangles) + ". Use a simpler one.",
                                  ""};
            return;
        }
        const bool mesh = std::holds_alternative<Brought>(item.shape) && !made->body->solid;
        if (mesh && made->body->mesh->triangles.size() <= kMostLookedThrough)
            if (const auto at = runsThroughItself(treeOf(*made->body), work.stop()))
                made.value().remarks.push_back(
                    "Its surface runs through itself near x " + say::mm(at->x()) + ", y " + say::mm(at->y()) + ", z " +
                    say::mm(at->z()) +
                    " of its own: its volume is not to be trusted. Standing on it, drawing on "
                    "it and sending it out go on.");
        out.shape = std::move(made.value().body);
        out.home = made->home;
        out.remarks = std::move(made.value().remarks);
        out.bars = std::move(made.value().bars);
        out.cut = std::move(made.value().cut);
    }
    out.body = sameShape && old->item->size == item.size ? old->body
                                                         : moved(out.shape, Mat3::Identity(), Vec3::Zero(), item.size);
}

std::optional<double> enclosedVolume(const BodyResult& b, bool soon) {
    return b.body ? enclosedVolume(*b.body, soon) : std::nullopt;
}

/// The faces of a solid for what stands on them; null where the triangles are exactly they, or all there is.
static std::shared_ptr<const LazySurface> surfaceOf(const BodyPtr& body) {
    constexpr double kWithin = 0.01, kSlowWithin = 1; // mm; long sweeps would take minutes
    if (!body->solid) return nullptr;
    return std::make_shared<const LazySurface>([body]() -> LazySurface::Made {
        double within = body->slow ? kSlowWithin : kWithin;
        auto mesh = fineMesh(*body, within);
        return {std::move(mesh), within};
    });
}

void stand(BodyResult& out, const BodyResult* old) {
    const BodyItem& item = *out.item;
    out.id = item.id;
    out.name = item.name;
    out.colour = item.colour;
    out.hidden = item.hidden;
    Words said = out.problem ? out.problem->text : Words(kindOf(item.shape));
    if (out.body) {
        Piece turned;
        turned.turn = item.turn;
        const Mat3 R = turnOf(turned);
        const Vec3 at = out.home + item.at;
        if (old && old->ground && old->body == out.body && old->ground->turn() == R && old->ground->origin() == at)
            out.ground = old->ground, out.exact = old->exact; // who lies on it is not asked again
        else {
            out.surface = old && old->body == out.body ? old->surface : surfaceOf(out.body);
            out.ground = std::make_shared<const Ground>(out.body->mesh, out.body->tree, R, at);
            out.exact = out.surface ? std::make_shared<const Ground>(out.surface, R, at) : out.ground;
        }
        if (!out.surface && old && old->exact == out.exact) out.surface = old->surface;
        Poses poses;
        Seat seat;
        seat.point = Vec3(0, 0, 0);
        poses.frames = {{R, at}};
        poses.usedSlots = {slotOf(seat, out.body->mesh->box)};
        out.instances = std::make_shared<const Instances>(
            Instances{std::make_shared<const Poses>(std::move(poses)), std::uint8_t(0), 1});
        out.placedParts = std::make_shared<const std::vector<PlacedPart>>(
            std::vector<PlacedPart>{{item.id, item.name, out.body->mesh, out.body, seat}});
    }
    const bool open = out.body && !out.body->report.watertight();
    if (open && !out.problem) said += ", open: it has no volume of its own";
    out.verdict = {out.problem                    ? Mark::Wrong
                   : open || !out.remarks.empty() ? Mark::Doubtful
                                                  : Mark::Good,
                   out.remarks.empty() || out.problem ? said : out.remarks.front(), -1};
}

void footRemarks(RunResult& run) {
    const auto& dropped = run.placed->laid->dropped;
    if (!dropped) return;
    const auto say = [&](const std::vector<size_t>& places, const char* one, const char* many) {
        if (places.empty()) return;
        Words text = places.size() == 1 ? "Place " : "Places ";
        for (size_t k = 0; k < places.size() && k < 3; ++k) text += (k ? ", " : "") + say::count(places[k] + 1);
        if (places.size() > 3) text += " and " + say::count(places.size() - 3) + " more";
        run.remarks.push_back(text + (places.size() == 1 ? one : many));
        if (run.verdict.mark == Mark::Good) run.verdict = {Mark::Doubtful, run.remarks.back(), int(places.front())};
    };
    say(dropped->without, " has no ground under it: it stays on the path.",
        " have no ground under them: they stay on the path.");
    say(dropped->overhung, " stands where the ground overhangs: the uppermost counts.",
        " stand where the ground overhangs: the uppermost counts.");
    if (const auto& on = run.asked[2]; on && on->exact && on->exact->within() > 0)
        run.remarks.push_back("The faces of \"" + text::quoted(on->item->name) +
                              "\" are curved: feet stand on them to within " + say::mm(on->exact->within()) + ".");
}

} // namespace vicinal
