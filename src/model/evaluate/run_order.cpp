#include "model/evaluate/run_order.h"
#include "base/text.h"
#include "layout/facing/facing.h"
#include "layout/placement_input.h"
#include "layout/spacing/rule_kind.h"
#include "layout/stages.h"
#include "layout/vehicles/envelope.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/site.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/giving.h"
#include <algorithm>
#include <set>

namespace vicinal {

Problem handedOn(const std::string& name, const Problem& p, const char* field) {
    constexpr size_t kLong = 300;
    return {p.text.size() < kLong ? text::quoted(name) + ": " + p.text : p.text, field};
}

bool aimsAtPath(const RunItem& r) {
    return std::holds_alternative<AtTarget>(r.facing.nose) && r.facing.targetPath != 0 && r.facing.targetBody == 0;
}

std::optional<Problem> firstProblem(const RunResult& r, bool giving) {
    if (!r.path) return Problem{"The path of this run was deleted. Choose another path.", "path"};
    if (!r.part) return Problem{"The part of this run was deleted. Choose another part.", "part"};
    if (r.path->problem) return Problem{r.path->problem->text, "path"};
    if (r.part->problem) return r.part->problem;
    for (const auto& part : r.parts) {
        if (!part) return Problem{"A part of the sequence or of a place was deleted. Choose another one.", "sequence"};
        if (part->problem) return handedOn(part->item->name, *part->problem, "sequence");
    }
    if (giving && r.item->gives.what != Gives::Nothing) {
        if (r.path->cannotGive && r.path->giver->id == r.item->id) return r.path->cannotGive;
        if (r.path->giver && r.path->giver->id != r.item->id)
            return Problem{"This path gives way already, for \"" + text::quoted(r.path->giver->name) +
                               "\". Let one of them be.",
                           "gives"};
    }
    if (aimsAtPath(*r.item)) {
        if (!r.aim) return Problem{"The path that the noses point at was deleted. Choose another one.", "targetPath"};
        if (r.aim->problem) return handedOn(r.aim->item->name, *r.aim->problem, "targetPath");
    }
    static constexpr const char* kAsked[] = {"targetBody", "surface", "ground"};
    const auto asked = bodiesAsked(*r.item);
    for (size_t k = 0; k < asked.size(); ++k) {
        if (asked[k] == 0 && !r.asked[k]) continue;
        if (!r.asked[k]) return Problem{"The site body that it asks was deleted. Choose another one.", kAsked[k]};
        if (r.asked[k]->problem || !r.asked[k]->ground)
            return handedOn(r.asked[k]->item->name,
                            r.asked[k]->problem.value_or(Problem{"it is not there.", kAsked[k]}), kAsked[k]);
    }
    if (r.item->spacing->bays == BayEdges::Run) {
        if (!r.between) return Problem{"Choose the run whose places the bays lie between.", "bayRun"};
        if (r.between->problem || !r.between->placed)
            return handedOn(r.between->item->name, r.between->problem.value_or(Problem{"it has no places.", "bayRun"}),
                            "bayRun");
    }
    return std::nullopt;
}

namespace {

/// `all`: the parts of the run, among them what this one stands on.
PartOnRun partOnRun(const PartResult& part, const std::vector<std::shared_ptr<const PartResult>>& all) {
    assert(part.mesh && part.body && !defectOf(part.item->seat));
    PartOnRun out{part.item->seat, part.mesh->box, part.seated, pinsOf(*part.body, part.item->seat), {-1, -1}};
    for (size_t k = 0; k < part.under.size(); ++k)
        if (const auto at = std::find(all.begin(), all.end(), part.under[k]); part.under[k] && at != all.end())
            out.under[k] = int(at - all.begin());
    return out;
}

/// Places of another run as ends of bays on this path.
std::vector<BayEdge> edgesOf(const RunResult& r) {
    std::vector<BayEdge> out;
    const Placed& p = *r.between->placed;
    const bool samePath = r.between->path == r.path;
    for (size_t i = 0; i < std::min(p.laid->rowSize, p.count()); ++i)
        if (!p.leftOut(i))
            out.push_back({samePath ? p.stations()[i] : r.path->path->closest(p.frame(i).seat), p.occupied(i)});
    return out;
}

} // namespace

Result<SolvedValue> solvedValueOf(const PathResult& path, std::span<const Path> sources, std::optional<long> count,
                                  const Stop* stop) {
    RunResult run;
    run.item = path.giver;
    run.parts = path.giverParts;
    run.part = run.parts.empty() ? nullptr : run.parts.front();
    for (const auto& part : run.parts)
        if (!part || part->problem || !part->mesh)
            return Problem{"A part of the run that it gives way for has a problem of its own.", "part"};
    if (run.item->spacing->bays != BayEdges::None)
        return Problem{"Nothing can give way for bays, which all leave something over. Use one stretch.", "bays"};
    const Path* along =
        path.giverAlong && path.giverAlong->path && !path.giverAlong->problem ? &*path.giverAlong->path : nullptr;
    const auto order = orderOf(run);
    const auto build = [&](const PathRecipe& r) -> Result<Path> {
        if (stopped(stop)) return Problem{"This was stopped.", ""};
        auto built = vicinal::build(r, sources, path.body, stop);
        if (!built) return built.problem();
        return std::move(built).value().path;
    };
    return seekGoal({run.item->gives, path.item->recipe, order, build, along}, count);
}

namespace {

/// How far a wheel is turned: as typed, else as the chain of that run wants it; nothing when it has none on it.
std::optional<double> phaseIn(const RunResult& run, const WheelPlaced& wheel) {
    if (wheel.phase) return wheel.phase;
    for (const WheelSeat& s : run.seats)
        if (s.wheel == wheel.wheel) return s.phase;
    return std::nullopt;
}

template<class Phase> std::shared_ptr<const Standing> wheelsTurned(const PathResult& path, Phase&& phase) {
    if (path.wheels.empty()) return nullptr;
    Standing out;
    out.kind = Standing::Kind::Wheels;
    out.id = path.item->id;
    out.name = path.item->name + " wheels";
    out.colour = 7;
    out.hidden = path.item->hidden;
    Poses poses;
    std::vector<PlacedPart> parts;
    std::vector<std::uint16_t> slot;
    for (const WheelPlaced& w : path.wheels) {
        const Mat4 pose = w.pose(phase(w));
        poses.frames.push_back({pose.topLeftCorner<3, 3>(), pose.topRightCorner<3, 1>()});
        poses.usedSlots.push_back({});
        slot.push_back(std::uint16_t(parts.size()));
        Seat seat;
        seat.point = Vec3(0, 0, 0);
        parts.push_back({0, w.name, w.mesh, w.body, seat});
    }
    poses.slot = std::move(slot);
    out.instances = std::make_shared<const Instances>(
        Instances{std::make_shared<const Poses>(std::move(poses)), std::uint8_t(0), int(parts.size())});
    out.placedParts = std::make_shared<const std::vector<PlacedPart>>(std::move(parts));
    return std::make_shared<const Standing>(std::move(out));
}

} // namespace

std::shared_ptr<const Standing> wheelsOf(const RunResult& run) {
    if (!run.path) return nullptr;
    return wheelsTurned(*run.path, [&](const WheelPlaced& w) { return phaseIn(run, w).value_or(0); });
}

std::shared_ptr<const Standing> wheelsOf(const Evaluation& e, const PathResult& path) {
    return wheelsTurned(path, [&](const WheelPlaced& w) {
        for (const auto& run : e.runs)
            if (run->path.get() == &path)
                if (const auto phase = phaseIn(*run, w)) return *phase;
        return w.phase.value_or(0);
    });
}

Standings withWheels(const Standings& all) {
    std::set<Id> loops;
    for (const auto& s : all)
        if (s->kind == Standing::Kind::Wheels) loops.insert(s->id);
    Standings out;
    for (const auto& s : all) {
        out.push_back(s);
        const RunResult* run = s->asRun();
        if (!run || !run->path || run->path->wheels.empty() || !loops.insert(run->path->item->id).second) continue;
        out.push_back(wheelsOf(*run));
    }
    return out;
}

Result<SolvedValue> solvedValueFor(const RunResult& run, long count, const Stop* stop) {
    if (!run.path || !run.path->giver || run.path->giver->id != run.item->id)
        return Problem{"Nothing gives way for this run.", "gives"};
    std::vector<Path> sources;
    for (const auto& s : run.path->sources) {
        if (!s || !s->path) return Problem{"A path that it follows is missing.", "source"};
        sources.push_back(*s->path);
    }
    return solvedValueOf(*run.path, sources, count, stop);
}

bool laidAlike(const RunItem& a, const RunItem& b) {
    bool same = a.spacing == b.spacing && a.facing == b.facing && a.exceptions == b.exceptions;
    eachRunGroup([&](const RunGroup& g, auto member) { same = same && (!g.places || a.*member == b.*member); });
    return same;
}

PlacementInput orderOf(const RunResult& r) {
    const RunItem& run = *r.item;
    const std::vector<Id> ids = partsOf(run);
    const auto slot = [&](Id id) { return std::uint16_t(std::find(ids.begin(), ids.end(), id) - ids.begin()); };
    const PartOnRun own = partOnRun(*r.part, r.parts);
    PlacementInput o;
    o.spacing = run.spacing;
    o.facing = run.facing;
    if (r.aim) o.facing.aimedPath = std::make_shared<const Path>(*r.aim->path);
    const auto ground = [&](size_t k) { return r.asked[k] ? r.asked[k]->exact : nullptr; };
    o.facing.aimedBody = ground(0);
    o.facing.standsOff = ground(1);
    o.feet = run.feet;
    o.ground = ground(2);
    o.seat = own.seat;
    o.partBox = own.box;
    o.leftOut = run.leftOut;
    o.seated = own.seated;
    o.pins = own.pins;
    o.under = own.under;
    for (size_t k = 1; k < r.parts.size(); ++k) o.others.push_back(partOnRun(*r.parts[k], r.parts));
    const Sequence& s = run.sequence;
    if (!s.steps.empty()) {
        o.pattern.order.clear();
        for (const auto& step : s.steps)
            for (long k = 0; k < std::min(step.repeat, 10'000L); ++k) o.pattern.order.push_back(slot(step.part));
        if (s.byWeight) {
            o.pattern.seed = std::uint64_t(s.seed);
            o.pattern.weights.assign(ids.size(), 0);
            for (const auto& step : s.steps) {
                double& w = o.pattern.weights[slot(step.part)];
                w = step.weight >= 0 && w >= 0 ? w + step.weight : -1; // which is refused in words
            }
            if (o.pattern.order.empty()) o.pattern.order = {0};
        }
    }
    const auto special = [&](Id id) { return id ? std::optional(slot(id)) : std::nullopt; };
    o.special = {special(s.first), special(s.last), special(s.corner), special(s.nth), s.every};
    o.changes = run.changes;
    o.uneven = run.uneven;
    o.exceptions = run.exceptions;
    for (auto& e : o.exceptions) e.part = e.part ? slot(e.part) + 1 : 0;
    o.rows = run.rows;
    o.echoes = run.echoes;
    for (Echo* e : {&o.echoes.one, &o.echoes.two})
        e->part = e->kind == EchoKind::Mirrored && e->part ? slot(e->part) + 1 : 0;
    if (run.spacing->bays == BayEdges::Run) o.edges = edgesOf(r);
    return o;
}

namespace {

/// The parts that stand in a run's first row, each once.
std::vector<size_t> usedIn(const Placement& laid) {
    std::vector<size_t> out;
    for (size_t i = 0; i < laid.rowSize; ++i)
        if (std::find(out.begin(), out.end(), laid.slot[i]) == out.end()) out.push_back(laid.slot[i]);
    return out;
}

/// What a sweep goes by: where along the path vehicles stand does not matter, nor how many there are; which ones do,
/// and all that says how they face.
bool sweepsTheSame(const RunResult& a, const RunResult& b) {
    return a.path == b.path && a.parts == b.parts && a.aim == b.aim && a.asked == b.asked &&
           a.item->facing == b.item->facing && a.item->sequence == b.item->sequence && a.placed && b.placed &&
           usedIn(*a.placed->laid) == usedIn(*b.placed->laid);
}

} // namespace

std::shared_ptr<const SweptEnvelope> sweptBy(const RunResult& r, const RunResult* before, const Stop* stop) {
    const PlacementInput order = orderOf(r);
    const Path& path = *r.path->path;
    const auto facing = resolved(order.facing, path);
    const Placement& laid = *r.placed->laid;
    if (!facing) return nullptr;
    if (before && before->sweeps && sweepsTheSame(*before, r)) return before->sweeps;
    return std::make_shared<const SweptEnvelope>(
        sweptEnvelope(path, vehiclesOf(path, order, *facing), usedIn(laid), laid.usedSlots, stop));
}

double passesBends(const RunResult& r) {
    const Spacing& s = r.item->spacing;
    if (!kindOf(s).vehicles() || !r.placed || r.problem) return 0;
    const PlacementInput order = orderOf(r);
    const Vehicles all = vehiclesOf(*r.path->path, order, order.facing);
    double out = 0;
    for (size_t i = 0; i < r.placed->laid->rowSize; ++i)
        if (all.has(r.placed->laid->slot[i]))
            out = std::max(out, all.smallestRadius(r.placed->laid->slot[i], kindOf(s).turnsTo(s.rule)));
    return out;
}

namespace {

/// What is bound to a station has another place with another count: each row by a lineup of its own.
void bindAnew(std::vector<Fit>& rows, const Path& path, PlacementInput order) {
    const bool byStation = std::any_of(order.exceptions.begin(), order.exceptions.end(), [](const Exception& e) {
        return e.station && (e.part != 0 || e.size != 1 || !e.turn.isZero(0) || !e.move.isZero(0));
    });
    if (!byStation || !lengthsCount(order.spacing)) return;
    const SpacingRule rule = order.spacing->rule;
    for (Fit& row : rows) {
        const auto own = row.inUse ? std::nullopt : kindOf(rule).ofFit(rule, row.count);
        if (!own) continue;
        order.spacing->rule = *own;
        const auto alone = fits(path, order.spacing, lineupOf(path, order));
        if (!alone) continue;
        for (const Fit& f : *alone)
            if (f.inUse && f.count == row.count) {
                row = f;
                row.inUse = false;
            }
    }
}

} // namespace

Result<std::vector<Fit>> fitsOf(const RunResult& r, const Stop* stop) {
    if (auto p = firstProblem(r, false)) return *p;
    const PlacementInput order = orderOf(r);
    auto rows = fits(*r.path->path, r.item->spacing, lineupOf(*r.path->path, order));
    if (rows) bindAnew(rows.value(), *r.path->path, order);
    if (!rows || !r.path->giver || r.path->giver->id != r.item->id) return rows;
    for (Fit& row : rows.value()) {
        if (stopped(stop)) return Problem{"This was stopped.", ""};
        if (const auto gave = solvedValueFor(r, row.count, stop)) row.gives = gave->after;
    }
    return rows;
}

double partLength(const RunResult& r) {
    if (firstProblem(r)) return 0;
    return lineupOf(*r.path->path, orderOf(r)).parts().front().at(0).total();
}

} // namespace vicinal
