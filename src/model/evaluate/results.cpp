// Each kind of item from what it is made from.
#include "base/ranges.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/placement_input.h"
#include "layout/spacing/rule_kind.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/cuts.h"
#include "model/evaluate/bodies/site.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/giving.h"
#include "model/evaluate/graph.h"
#include "model/evaluate/run_order.h"
#include "model/evaluate/without_effect.h"
#include <algorithm>

namespace vicinal {
namespace {

/// The same places as before, but for those that are left out.
bool sameLaid(const RunResult& now, const RunResult* before) {
    return before && !before->problem && before->placed && before->path == now.path && before->parts == now.parts &&
           before->between == now.between && before->aim == now.aim && before->asked == now.asked &&
           laidAlike(*now.item, *before->item);
}

/// Upright crowns where the path goes straight up or down: that they turn there, or hang behind it, is said.
void passageRemarks(RunResult& run) {
    const Facing& facing = run.item->facing;
    const auto stations = std::span(run.placed->stations()).first(run.placed->laid->rowSize);
    if (!std::holds_alternative<Upright>(facing.crown) || std::holds_alternative<AsDrawn>(facing.nose)) return;
    const Passages passages(*run.path->path);
    const double length = run.path->path->length();
    const auto& all = passages.all();
    for (size_t k = 0; k < all.size(); ++k) {
        const Passages::Passage& p = all[k];
        const double turn = std::abs(p.to - p.from) / kDegree;
        if (!p.hangs && turn < 1) continue;
        // Of its places: those on the way, and those that hang as far as the next one.
        const double next = k + 1 < all.size() ? all[k + 1].end : length, last = p.hangs ? next : p.end;
        const auto first = std::lower_bound(stations.begin(), stations.end(), p.start);
        if (first == stations.end() || *first > last) continue;
        run.remarks.push_back(
            "The path goes straight up or down at " + say::mm(p.start < 0 ? p.start + length : p.start) +
            (p.hangs
                 ? Words(p.hung ? ": parts hang on behind it." : ": parts are carried over there, and hang behind it.")
                 : ": parts turn by " + say::number(turn, 0) + "\u00b0 on the way."));
        if (run.verdict.mark == Mark::Good)
            run.verdict = {Mark::Doubtful, run.remarks.back(), int(first - stations.begin())};
    }
}

/// Plumb crowns of parts on pins: about the line of these they turn round where the path goes straight up or down.
void turnedRoundRemarks(RunResult& run) {
    const Facing& facing = run.item->facing;
    const bool onPins = std::holds_alternative<BetweenPins>(facing.nose) || kindOf(run.item->spacing).linked();
    if (!onPins || !std::holds_alternative<Plumb>(facing.crown)) return;
    const Placement& laid = *run.placed->laid;
    const auto stations = std::span(run.placed->stations()).first(laid.rowSize);
    const Path& path = *run.path->path;
    const double lap = path.closed() ? path.length() : 0;
    for (const SteepStretch& z : path.steepStretches()) {
        const double turn = std::abs(z.to - z.from) / kDegree;
        if (turn < 1 || z.start < 0) continue; // one over the seam stands again beyond the end
        size_t there = 0;
        const auto lies = [&](double s, double ahead) { return s + ahead >= z.start && s <= z.end; };
        while (there < stations.size() && !lies(stations[there], laid.occupied[there].ahead) &&
               !lies(stations[there] + lap, laid.occupied[there].ahead))
            ++there;
        if (there == stations.size()) continue;
        run.remarks.push_back("The path goes straight up or down at " + say::mm(z.start) + ": parts turn by " +
                              say::number(turn, 0) +
                              "\u00b0 about the line of their pins there. With the crown carried they do not.");
        if (run.verdict.mark == Mark::Good) run.verdict = {Mark::Doubtful, run.remarks.back(), int(there)};
    }
}

/// Only the run's own part has a mirrored copy behind a mirror: others that are not the same from both sides are named.
void mirrorRemarks(RunResult& run) {
    const RunItem& item = *run.item;
    const bool copies = std::ranges::any_of(std::array{&item.echoes.one, &item.echoes.two}, [](const Echo* e) {
        return e->kind == EchoKind::Mirrored && e->part != 0;
    });
    if (!copies) return;
    const Placement& laid = *run.placed->laid;
    std::vector<bool> used(run.placed->parts.size());
    for (size_t i = 0; i < laid.originals(); ++i) used[laid.slot[i]] = true;
    for (size_t k = 1; k < used.size(); ++k) {
        const PlacedPart& part = run.placed->parts[k];
        if (!used[k] || !part.body) continue;
        const Measures m = measuresOf(*part.body, part.seat);
        if (std::abs(m.left - m.right) < 1e-3 && std::abs(m.centre.y()) < 1e-3) continue;
        run.remarks.push_back("Behind the mirror " + text::quoted(part.name) +
                              " stands as it is: only the run's own part has a mirrored copy there.");
    }
}

void evaluateRun(RunResult& out, const RunResult* before, Work& work) {
    if (!out.problem) out.problem = firstProblem(out);
    const Placed* old = before ? before->placed.get() : nullptr;
    work.run(out, [&] {
        if (out.problem) return;
        auto placed = guarded<Placed>([&]() -> Result<Placed> {
            std::shared_ptr<const Placement> laid = sameLaid(out, before) ? old->laid : nullptr;
            if (!laid) {
                auto made = solvePlacement(*out.path->path, orderOf(out));
                if (!made) return made.problem();
                laid = std::make_shared<const Placement>(std::move(made).value());
            }
            Placed all{placesOf(std::move(laid), out.item->leftOut, *out.path->path), *out.path->path, {}};
            for (const auto& part : out.parts)
                all.parts.push_back({part->item->id, part->item->name, part->mesh, part->body, part->item->seat});
            return all;
        });
        if (placed) {
            out.stand(std::make_shared<const Placed>(std::move(placed).value()));
            out.verdict = judgeGaps(*out.placed, out.item->spacing);
            footRemarks(out);
            passageRemarks(out);
            turnedRoundRemarks(out);
            mirrorRemarks(out);
            std::ranges::move(withoutEffect(out), std::back_inserter(out.remarks));
            if (out.path->loop) {
                out.seats = seatsOn(out.path->recipe(), *out.path->loop, *out.path->path, *out.placed->laid);
                std::ranges::move(tradeRemarks(out.path->recipe(), out.seats), std::back_inserter(out.remarks));
            }
            if (kindOf(out.item->spacing).vehicles()) {
                const auto swept = guarded<std::shared_ptr<const SweptEnvelope>>(
                    [&]() -> Result<std::shared_ptr<const SweptEnvelope>> {
                        return sweptBy(out, before, work.stop());
                    });
                if (swept) out.sweeps = *swept;
            }
        } else
            out.problem = placed.problem();
    });
    if (!out.problem) return;
    if (before) out.stand(before->placed);
    out.verdict = {Mark::Wrong, out.problem->text, -1};
}
} // namespace

void Graph::finishPath(const Frame& frame) {
    const auto item = m_pathItems.at(frame.id);
    const auto old = m_before ? lookUp(m_before->paths, frame.id) : nullptr;
    std::vector<std::shared_ptr<const PathResult>> sources;
    for (Id s : sourcesOf(item->recipe)) sources.push_back(lookUp(m_out.paths, s));
    BodyAsked body;
    std::optional<Problem> bodyProblem;
    if (const Id id = bodyOf(item->recipe)) {
        if (const auto found = lookUp(m_out.parts, id); found && !found->problem) body.mesh = found->mesh;
        if (const auto found = lookUp(m_out.bodies, id)) {
            if (found->problem) bodyProblem = handedOn(found->item->name, *found->problem, "body");
            if (found->body) body = {found->body->mesh, found->exact};
        }
    }
    auto out = std::make_shared<PathResult>();
    out->item = item;
    out->sources = std::move(sources);
    out->body = std::move(body);
    out->bodyProblem = bodyProblem;
    for (Id part : wheelParts(item->recipe)) out->wheelParts.push_back(lookUp(m_out.parts, part));
    out->giver = lookUp(m_givers, frame.id);
    if (out->giver) {
        for (Id part : partsOf(*out->giver)) out->giverParts.push_back(lookUp(m_out.parts, part));
        if (movesAlong(*out->giver)) out->giverAlong = lookUp(m_out.paths, out->giver->gives.along);
    }
    const bool same = old && !old->cancelled && old->item == item && old->sources == out->sources &&
                      old->body.mesh == out->body.mesh && old->body.ground == out->body.ground && !bodyProblem &&
                      !old->bodyProblem && old->wheelParts == out->wheelParts && givesTheSame(*old, *out) &&
                      !frame.circle;
    if (!same) makePath(*out, frame.circle ? frame.circle : bodyProblem, old.get());
    const std::shared_ptr<const PathResult> result = same ? old : out;
    m_out.paths[frame.id] = result;
    m_out.order.push_back(result);
}

void Graph::finishPart(const Frame& frame) {
    const auto item = m_partItems.at(frame.id);
    const auto old = m_before ? lookUp(m_before->parts, frame.id) : nullptr;
    auto out = std::make_shared<PartResult>();
    out->item = item;
    out->problem = frame.circle;
    std::vector<ShapeSource> sources;
    for (Id s : sourcesOf(item->shape)) {
        sources.emplace_back();
        if (const auto path = lookUp(m_out.paths, s)) {
            out->paths.push_back(path);
            if (path->problem && !out->problem) out->problem = handedOn(path->item->name, *path->problem, "path");
            sources.back().path = path->path;
        } else if (frame.circle && !lookUp(m_out.parts, s)) { // one of the circle
        } else {
            const auto part = lookUp(m_out.parts, s);
            out->parts.push_back(part);
            if (part && part->problem && !out->problem)
                out->problem = handedOn(part->item->name, *part->problem, "piece");
            if (part) sources.back().body = part->body;
        }
    }
    for (Id id : item->under) {
        const auto under = id ? lookUp(m_out.parts, id) : nullptr;
        out->under.push_back(under);
        if (id == 0 || out->problem) continue;
        if (!under)
            out->problem = Problem{"What this part stands on was deleted. Choose another part, or the path.", "under"};
        else if (under->problem)
            out->problem = handedOn(under->item->name, *under->problem, "under");
    }
    if (old && old->item == item && old->parts == out->parts && old->paths == out->paths && old->under == out->under &&
        !old->cancelled && !out->problem) {
        m_out.parts[frame.id] = old;
        m_out.order.push_back(old);
        return;
    }
    // Seat, size and extents ask the modelling library, too.
    m_work.run(*out, [&] {
        const auto made = guarded<bool>([&] { return makePart(*out, sources, old.get()), Result<bool>(true); });
        if (!made) out->problem = made.problem();
    });
    if (out->problem && old && !out->body) {
        out->body = old->body;
        out->shape = old->shape;
    }
    if (out->body) out->mesh = out->body->mesh;
    m_out.parts[frame.id] = out;
    m_out.order.push_back(out);
}

void Graph::finishBody(const Frame& frame) {
    const auto item = m_bodyItems.at(frame.id);
    const auto old = m_before ? lookUp(m_before->bodies, frame.id) : nullptr;
    auto out = std::make_shared<BodyResult>();
    out->item = item;
    out->problem = frame.circle;
    const auto take = [&](const auto& source, const char* field) {
        if (source && source->problem && !out->problem)
            out->problem = handedOn(source->item->name, *source->problem, field);
        return source;
    };
    if (const auto* rail = std::get_if<RailAlong>(&item->shape)) {
        out->run = take(lookUp(m_runs, rail->run), "run");
        out->path = out->run ? out->run->path : take(lookUp(m_out.paths, rail->path), "path");
        if (rail->section.form == RailForm::Outline) out->outline = take(lookUp(m_out.paths, rail->outline), "outline");
    } else if (const auto* cut = std::get_if<CutBy>(&item->shape)) {
        out->run = take(lookUp(m_runs, cut->run), "run");
        out->of = take(lookUp(m_out.bodies, cut->of), "of");
        if (cut->of == 0) out->part = take(lookUp(m_out.parts, cut->part), "part");
    } else {
        for (Id id : sourcesOf(item->shape)) {
            out->path = take(lookUp(m_out.paths, id), "path");
            out->part = take(lookUp(m_out.parts, id), "part");
        }
    }
    const bool asBefore = old && old->path == out->path && old->part == out->part && old->outline == out->outline &&
                          old->of == out->of && old->run == out->run; // their names are shown, too
    if (old && old->item == item && asBefore && !old->cancelled && !old->deferred && !out->problem) {
        m_out.bodies[frame.id] = old;
        m_out.order.push_back(old);
        return;
    }
    m_work.run(*out, [&] {
        if (out->problem) return;
        const auto made = guarded<bool>([&] { return makeSiteBody(*out, old.get(), m_work), Result<bool>(true); });
        if (!made) out->problem = made.problem();
    });
    if (out->problem && out->problem->text == kLater) {
        out->problem.reset();
        out->deferred = true;
        if (!old && out->of) { // nothing yet: as it is before
            out->shape = out->body = moved(out->of->body, out->of->ground->turn(), Vec3::Zero());
            out->home = out->of->ground->origin();
        }
    }
    if ((out->problem || out->deferred) && old) {
        out->shape = old->shape;
        out->body = old->body;
        out->home = old->home;
        out->bars = old->bars;
        out->cut = old->cut;
    }
    stand(*out, old.get());
    m_out.bodies[frame.id] = out;
    m_out.order.push_back(out);
}

void Graph::finishRun(const Frame& frame) {
    const auto item = m_runItems.at(frame.id);
    const auto old = lookUp(m_runsBefore, frame.id);
    auto out = std::make_shared<RunResult>();
    out->id = item->id;
    out->name = item->name;
    out->colour = item->colour;
    out->hidden = item->hidden;
    out->item = item;
    out->path = lookUp(m_out.paths, item->path);
    for (Id id : partsOf(*item)) out->parts.push_back(lookUp(m_out.parts, id));
    for (size_t k = 0; k < out->parts.size() && k < 1000; ++k) { // and what these stand on
        if (!out->parts[k]) continue;
        for (const auto& under : std::vector(out->parts[k]->under))
            if (under && std::find(out->parts.begin(), out->parts.end(), under) == out->parts.end())
                out->parts.push_back(under);
    }
    out->part = out->parts.front();
    if (item->spacing->bays == BayEdges::Run) out->between = lookUp(m_runs, item->spacing->bayRun);
    if (aimsAtPath(*item)) out->aim = lookUp(m_out.paths, item->facing.targetPath);
    const auto asked = bodiesOf(*item);
    for (size_t k = 0; k < asked.size(); ++k)
        if (asked[k] != 0) out->asked[k] = lookUp(m_out.bodies, asked[k]);
    out->problem = frame.circle;
    const bool same = old && !old->cancelled && old->item == item && old->path == out->path &&
                      old->parts == out->parts && old->between == out->between && old->aim == out->aim &&
                      old->asked == out->asked && !frame.circle;
    if (same) {
        m_runs[frame.id] = old;
        m_out.order.push_back(old);
        return;
    }
    evaluateRun(*out, old.get(), m_work);
    m_runs[frame.id] = out;
    m_out.order.push_back(out);
}

bool Graph::movesAlong(const RunItem& r) {
    return r.gives.what == Gives::Wheel && r.gives.moves == WheelMoves::Path && r.gives.along != 0;
}

bool Graph::givesTheSame(const PathResult& a, const PathResult& b) {
    if (a.giver == b.giver) return a.giverParts == b.giverParts && a.giverAlong == b.giverAlong;
    return a.giver && b.giver && a.giver->gives == b.giver->gives && laidAlike(*a.giver, *b.giver) &&
           a.giverParts == b.giverParts && a.giverAlong == b.giverAlong;
}

void Graph::makePath(PathResult& out, const std::optional<Problem>& circle, const PathResult* old) const {
    out.problem = circle;
    std::vector<Path> paths;
    for (size_t i = 0; i < out.sources.size() && !out.problem; ++i) {
        const auto& s = out.sources[i];
        if (!s)
            out.problem = Problem{std::holds_alternative<JoinedRecipe>(out.item->recipe)
                                      ? "Member " + say::count(i + 1) + " was deleted. Take it out of the list."
                                      : "The path it follows was deleted. Choose another one.",
                                  "source"};
        else if (s->problem)
            out.problem = handedOn(s->item->name, *s->problem, "source");
        else
            paths.push_back(*s->path);
    }
    m_work.run(out, [&] {
        if (out.problem) return;
        giveWayIn(out, paths);
        if (auto built = guarded<Built>([&] { return build(out.recipe(), paths, out.body, m_work.stop()); })) {
            out.path = built->path;
            out.remarks = std::move(built.value().remarks);
            out.broken = std::move(built.value().broken);
            out.lost = std::move(built.value().lost);
            out.loop = std::move(built.value().loop);
            out.crossings = std::move(built.value().crossings);
            static const std::vector<WheelPlaced> kNone;
            const auto wheels = guarded<bool>([&]() -> Result<bool> {
                out.wheels = wheelBodies(out.recipe(), out.wheelParts, old ? old->wheels : kNone, out.remarks);
                return true;
            });
            if (!wheels) out.remarks.push_back(wheels.problem().text);
        } else
            out.problem = built.problem();
    });
    if (out.problem && old) {
        out.path = old->path;
        out.crossings = old->crossings; // to be switched back
        out.loop = old->loop;
        out.wheels = old->wheels;
    }
}

void Graph::giveWayIn(PathResult& out, const std::vector<Path>& paths) const {
    if (!out.giver) return;
    auto gave =
        guarded<SolvedValue>([&]() -> Result<SolvedValue> { return solvedValueOf(out, paths, {}, m_work.stop()); });
    if (gave)
        out.gave = std::make_shared<const SolvedValue>(std::move(gave).value());
    else
        out.cannotGive = gave.problem();
}

void Graph::makePart(PartResult& out, const std::vector<ShapeSource>& sources, const PartResult* old) {
    const PartItem& item = *out.item;
    const bool sameShape = old && !old->problem && old->shape && old->parts == out.parts && old->paths == out.paths &&
                           old->item->shape == item.shape;
    if (!out.problem && !ranges::kSize.holds(item.size))
        out.problem = Problem{"The part's size is not " VICINAL_SIZE_RANGE ".", "size"};
    if (!out.problem) {
        auto shape =
            guarded<BodyPtr>([&] { return sameShape ? Result<BodyPtr>(old->shape) : build(item.shape, sources); });
        if (shape) {
            out.shape = *shape;
            // What is the same stays the same object, so that views keep what they made of it.
            if (sameShape && old->item->size == item.size)
                out.body = old->body;
            else if (old && !old->problem && old->item->size == item.size && old->shape &&
                     alike(*old->shape, *out.shape))
                out.shape = old->shape, out.body = old->body;
            else
                out.body = moved(out.shape, Mat3::Identity(), Vec3::Zero(), item.size);
            out.problem = defectOf(item.seat);
            if (!out.problem) out.seated = extents(*out.body, item.seat);
        } else
            out.problem = shape.problem();
    }
}

bool Graph::alike(const Body& a, const Body& b) {
    return a.mesh->points == b.mesh->points && a.mesh->triangles == b.mesh->triangles &&
           (a.mesh->box.min() == b.mesh->box.min() && a.mesh->box.max() == b.mesh->box.max()) && a.pins == b.pins;
}

} // namespace vicinal
