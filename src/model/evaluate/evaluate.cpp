#include "model/evaluate/evaluate.h"
#include "base/text.h"
#include "model/evaluate/heaps.h"
#include "model/evaluate/run_order.h"
#include "model/evaluate/site.h"
#include <algorithm>
#include <unordered_map>
#include <unordered_set>

namespace vicinal {
namespace {

/// What a library throws, or no memory, is a problem of the one item it concerns.
template<class T, class Work> Result<T> guarded(Work&& work) {
    try {
        return work();
    } catch (const std::bad_alloc&) {
        return Problem{"There is not enough memory for this. Make it simpler, or use fewer places.", ""};
    } catch (const std::exception& e) {
        return Problem{"This cannot be worked out: " + text::quoted(e.what()) + ".", ""};
    } catch (...) { // OpenCASCADE's failures are no standard exceptions
        return Problem{"This cannot be worked out: the modelling library gave up. Change a value a little.", ""};
    }
}

/// The evaluation as a job: how far it is, and whether it was stopped.
class Work {
public:
    Work(Job* job, size_t items) : m_job(job), m_items(items) {}
    void step() {
        if (m_job) m_job->progress = double(++m_done) / double(m_items);
    }
    const Stop* stop() const { return m_job ? &m_job->stop : nullptr; }

    /// Works an item out, unless the job was stopped before or meanwhile: then that is its problem.
    template<class Item, class Make> void run(Item& out, Make&& make) const {
        if (!stopped(stop())) make();
        if (!stopped(stop())) return;
        out.givenUp = true;
        out.problem = Problem{"This was stopped before it was worked out; the last state is shown. Work it out again, "
                              "or undo the change.",
                              ""};
    }

private:
    Job* m_job;
    size_t m_items, m_done = 0;
};

/// The same places as before, but for those that are left out.
bool sameLaid(const RunResult& now, const RunResult* before) {
    if (!before || before->problem || !before->placed) return false;
    const RunItem &a = *now.item, &b = *before->item;
    return before->path == now.path && before->parts == now.parts && before->between == now.between &&
           before->aim == now.aim && before->bodies == now.bodies && a.feet == b.feet && a.spacing == b.spacing &&
           a.facing == b.facing && a.sequence == b.sequence && a.changes == b.changes && a.uneven == b.uneven &&
           a.exceptions == b.exceptions && a.rows == b.rows && a.echoes == b.echoes;
}

void evaluateRun(RunResult& out, const RunResult* before, Work& work) {
    if (!out.problem) out.problem = firstProblem(out);
    const Placed* old = before ? before->placed.get() : nullptr;
    work.run(out, [&] {
        if (out.problem) return;
        auto placed = guarded<Placed>([&]() -> Result<Placed> {
            std::shared_ptr<const Laid> laid = sameLaid(out, before) ? old->laid : nullptr;
            if (!laid) {
                auto made = lay(*out.path->path, orderOf(out));
                if (!made) return made.problem();
                laid = std::make_shared<const Laid>(std::move(made).value());
            }
            Placed all{placesOf(std::move(laid), out.item->leftOut, *out.path->path), *out.path->path, {}};
            for (const auto& part : out.parts)
                all.parts.push_back({part->item->id, part->item->name, part->mesh, part->body, part->item->seat});
            return all;
        });
        if (placed) {
            out.placed = std::make_shared<const Placed>(std::move(placed).value());
            out.verdict = judgeGaps(*out.placed, out.item->spacing);
            footRemarks(out);
            if (out.path->loop) {
                out.seats = seatsOn(out.path->recipe(), *out.path->loop, *out.path->path, *out.placed->laid);
                out.remarks = tradeRemarks(out.path->recipe(), out.seats);
            }
            if (std::holds_alternative<Coupled>(out.item->spacing.rule)) {
                const auto swept = guarded<std::shared_ptr<const Throw>>(
                    [&]() -> Result<std::shared_ptr<const Throw>> { return sweptBy(out, before, work.stop()); });
                if (swept) out.sweeps = *swept;
            }
        } else
            out.problem = placed.problem();
    });
    if (!out.problem) return;
    if (before) out.placed = before->placed;
    out.verdict = {Mark::Wrong, out.problem->text, -1};
}

/// Paths, parts and runs in the order their sources ask for, each once; a circle of sources is a problem of all in it.
/// Without recursion: a chain of sources may be as long as the document.
class Graph {
public:
    Graph(const Document& doc, const Evaluation* before, Evaluation& out, Work& work)
        : m_before(before), m_out(out), m_work(work) {
        for (const auto& p : doc.paths) m_pathItems[p->id] = p;
        for (const auto& p : doc.parts) m_partItems[p->id] = p;
        for (const auto& b : doc.bodies) m_bodyItems[b->id] = b;
        for (const auto& r : doc.runs) {
            m_runItems[r->id] = r;
            if (r->gives.what != Gives::Nothing) m_givers.try_emplace(r->path, r); // the first one has its way
        }
        if (before)
            for (const auto& r : before->runs) m_runsBefore[r->item->id] = r;
    }

    /// Works out an item and all it is made from.
    void workOut(Id id) {
        if (!exists(id) || done(id)) return;
        open(id);
        while (!m_stack.empty()) {
            Frame& top = m_stack.back();
            if (top.next == top.sources.size()) {
                const Frame frame = std::move(top);
                m_stack.pop_back();
                m_open.erase(frame.id);
                if (m_pathItems.count(frame.id))
                    finishPath(frame);
                else if (m_partItems.count(frame.id))
                    finishPart(frame);
                else if (m_bodyItems.count(frame.id))
                    finishBody(frame);
                else
                    finishRun(frame);
                m_work.step();
                continue;
            }
            const Id source = top.sources[top.next++];
            if (m_open.count(source))
                top.circle = circleTo(source, top.id);
            else if (exists(source) && !done(source))
                open(source);
        }
    }

    const std::shared_ptr<const RunResult>& run(Id id) const { return m_runs.at(id); }

private:
    struct Frame {
        Id id;
        std::vector<Id> sources;
        size_t next = 0;
        std::optional<Problem> circle{};
    };

    bool exists(Id id) const {
        return m_pathItems.count(id) || m_partItems.count(id) || m_bodyItems.count(id) || m_runItems.count(id);
    }
    bool done(Id id) const {
        return m_out.paths.count(id) || m_out.parts.count(id) || m_out.bodies.count(id) || m_runs.count(id);
    }
    void open(Id id) {
        Frame frame{id, {}};
        if (const auto path = lookUp(m_pathItems, id)) {
            frame.sources = sourcesOf(path->recipe);
            if (const Id body = bodyOf(path->recipe)) frame.sources.push_back(body);
            for (Id part : wheelParts(path->recipe)) frame.sources.push_back(part);
            if (const auto giver = lookUp(m_givers, id)) {
                for (Id part : partsOf(*giver)) frame.sources.push_back(part);
                if (movesAlong(*giver)) frame.sources.push_back(giver->gives.along);
            }
        } else if (const auto part = lookUp(m_partItems, id)) {
            frame.sources = sourcesOf(part->shape);
            for (Id under : part->under)
                if (under != 0) frame.sources.push_back(under);
        } else if (const auto body = lookUp(m_bodyItems, id)) {
            frame.sources = {sourceOf(body->shape)};
        } else {
            const auto r = lookUp(m_runItems, id);
            frame.sources = partsOf(*r);
            frame.sources.push_back(r->path);
            if (aimsAtPath(*r)) frame.sources.push_back(r->facing.targetPath);
            if (r->spacing.bays == BayEdges::Run) frame.sources.push_back(r->spacing.bayRun);
            for (Id asked : bodiesOf(*r)) frame.sources.push_back(asked);
        }
        m_open.insert(id);
        m_stack.push_back(std::move(frame));
    }

    /// The bodies that a run asks; without one of their own its crowns stand off what its path lies on, else off what
    /// its feet stand on.
    std::array<Id, 3> bodiesOf(const RunItem& r) const {
        auto out = bodiesAsked(r);
        if (!standsOff(r) || out[1] != 0) return out;
        Id path = r.path;
        for (int steps = 0; steps < 100 && out[1] == 0; ++steps) { // laid, then lifted, then a stretch of that...
            const auto item = lookUp(m_pathItems, path);
            if (!item) break;
            if (const Id body = bodyOf(item->recipe); m_bodyItems.count(body)) out[1] = body;
            const auto sources = sourcesOf(item->recipe);
            if (sources.empty()) break;
            path = sources.front();
        }
        if (out[1] == 0) out[1] = r.feet.ground;
        return out;
    }
    template<class Map> static typename Map::mapped_type lookUp(const Map& map, Id id) {
        const auto it = map.find(id);
        return it == map.end() ? nullptr : it->second;
    }
    std::string nameOf(Id id) const {
        if (const auto p = lookUp(m_pathItems, id)) return p->name;
        if (const auto q = lookUp(m_partItems, id)) return q->name;
        if (const auto b = lookUp(m_bodyItems, id)) return b->name;
        const auto r = lookUp(m_runItems, id);
        return r ? r->name : std::string();
    }

    /// The problem of a source that is being worked out already.
    Problem circleTo(Id source, Id from) const {
        const bool isPath = m_pathItems.count(from), isRun = m_runItems.count(from);
        if (source == from && isRun)
            return {"The bays of this run lie between its own places. Choose another run.", "bayRun"};
        const char* field = isRun ? "bayRun" : !isPath ? "piece" : m_partItems.count(source) ? "part" : "source";
        if (const auto part = lookUp(m_partItems, from);
            part && std::find(part->under.begin(), part->under.end(), source) != part->under.end())
            return {"This part stands on itself" + (source == from ? std::string() : ", by what it stands on") +
                        ". Let it stand on the path, or on another part.",
                    "under"};
        if (source == from && !isPath) return {"This part contains itself. Take that piece out.", field};
        std::string text = std::string("This ") +
                           (isRun    ? "run"
                            : isPath ? "path"
                                     : "part") +
                           " goes round in a circle: ";
        auto at = std::find_if(m_stack.begin(), m_stack.end(), [&](const Frame& f) { return f.id == source; });
        for (int n = 0; at != m_stack.end(); ++at, ++n) {
            if (n == 6) {
                text += "... ";
                break;
            }
            text += text::quoted(nameOf(at->id)) + (m_runItems.count(at->id)    ? " lies between "
                                                    : m_partItems.count(at->id) ? " uses "
                                                                                : " follows ");
        }
        return {text + text::quoted(nameOf(source)) + ". Let one of them be made from something else.", field};
    }

    void finishPath(const Frame& frame) {
        const auto item = m_pathItems.at(frame.id);
        const auto old = m_before ? lookUp(m_before->paths, frame.id) : nullptr;
        std::vector<std::shared_ptr<const PathResult>> sources;
        for (Id s : sourcesOf(item->recipe)) sources.push_back(lookUp(m_out.paths, s));
        BodyAsked body;
        std::optional<Problem> lost;
        if (const Id id = bodyOf(item->recipe)) {
            if (const auto found = lookUp(m_out.parts, id); found && !found->problem) body.mesh = found->mesh;
            if (const auto found = lookUp(m_out.bodies, id)) {
                if (found->problem) lost = handedOn(found->item->name, *found->problem, "body");
                if (found->body) body = {found->body->mesh, found->ground};
            }
        }
        auto out = std::make_shared<PathResult>();
        out->item = item;
        out->sources = std::move(sources);
        out->body = std::move(body);
        for (Id part : wheelParts(item->recipe)) out->wheelParts.push_back(lookUp(m_out.parts, part));
        out->giver = lookUp(m_givers, frame.id);
        if (out->giver) {
            for (Id part : partsOf(*out->giver)) out->giverParts.push_back(lookUp(m_out.parts, part));
            if (movesAlong(*out->giver)) out->giverAlong = lookUp(m_out.paths, out->giver->gives.along);
        }
        const bool same = old && !old->givenUp && old->item == item && old->sources == out->sources &&
                          old->body.mesh == out->body.mesh && old->body.ground == out->body.ground && !lost &&
                          old->wheelParts == out->wheelParts && givesTheSame(*old, *out) && !frame.circle;
        if (!same) makePath(*out, frame.circle ? frame.circle : lost, old.get());
        const std::shared_ptr<const PathResult> result = same ? old : out;
        m_out.paths[frame.id] = result;
        m_out.order.push_back(result);
    }

    void finishPart(const Frame& frame) {
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
                out->problem =
                    Problem{"What this part stands on was deleted. Choose another part, or the path.", "under"};
            else if (under->problem)
                out->problem = handedOn(under->item->name, *under->problem, "under");
        }
        if (old && old->item == item && old->parts == out->parts && old->paths == out->paths &&
            old->under == out->under && !old->givenUp && !out->problem) {
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

    void finishBody(const Frame& frame) {
        const auto item = m_bodyItems.at(frame.id);
        const auto old = m_before ? lookUp(m_before->bodies, frame.id) : nullptr;
        auto out = std::make_shared<BodyResult>();
        out->item = item;
        out->problem = frame.circle;
        ShapeSource source;
        if (const Id id = sourceOf(item->shape)) {
            if ((out->path = lookUp(m_out.paths, id))) {
                if (out->path->problem && !out->problem)
                    out->problem = handedOn(out->path->item->name, *out->path->problem, "path");
                source.path = out->path->path;
            } else if ((out->part = lookUp(m_out.parts, id))) {
                if (out->part->problem && !out->problem)
                    out->problem = handedOn(out->part->item->name, *out->part->problem, "part");
                source.body = out->part->body;
            }
        }
        if (old && old->item == item && old->path == out->path && old->part == out->part && !old->givenUp &&
            !out->problem) {
            m_out.bodies[frame.id] = old;
            m_out.order.push_back(old);
            return;
        }
        m_work.run(*out, [&] {
            if (out->problem) return;
            const auto made = guarded<bool>([&] { return makeSiteBody(*out, source, old.get()), Result<bool>(true); });
            if (!made) out->problem = made.problem();
        });
        if (out->problem && old) {
            out->shape = old->shape;
            out->body = old->body;
            out->home = old->home;
        }
        stand(*out, old.get());
        m_out.bodies[frame.id] = out;
        m_out.order.push_back(out);
    }

    void finishRun(const Frame& frame) {
        const auto item = m_runItems.at(frame.id);
        const auto old = lookUp(m_runsBefore, frame.id);
        auto out = std::make_shared<RunResult>();
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
        if (item->spacing.bays == BayEdges::Run) out->between = lookUp(m_runs, item->spacing.bayRun);
        if (aimsAtPath(*item)) out->aim = lookUp(m_out.paths, item->facing.targetPath);
        const auto asked = bodiesOf(*item);
        for (size_t k = 0; k < asked.size(); ++k)
            if (asked[k] != 0) out->bodies[k] = lookUp(m_out.bodies, asked[k]);
        out->problem = frame.circle;
        const bool same = old && !old->givenUp && old->item == item && old->path == out->path &&
                          old->parts == out->parts && old->between == out->between && old->aim == out->aim &&
                          old->bodies == out->bodies && !frame.circle;
        if (same) {
            m_runs[frame.id] = old;
            return;
        }
        evaluateRun(*out, old.get(), m_work);
        m_runs[frame.id] = out;
    }

    static bool movesAlong(const RunItem& r) {
        return r.gives.what == Gives::Wheel && r.gives.moves == WheelMoves::Path && r.gives.along != 0;
    }
    /// What gives way does so for the same reasons.
    static bool givesTheSame(const PathResult& a, const PathResult& b) {
        if (a.giver == b.giver) return a.giverParts == b.giverParts && a.giverAlong == b.giverAlong;
        return a.giver && b.giver && a.giver->gives == b.giver->gives && a.giver->spacing == b.giver->spacing &&
               a.giver->facing == b.giver->facing && a.giver->sequence == b.giver->sequence &&
               a.giver->changes.size == b.giver->changes.size && a.giverParts == b.giverParts &&
               a.giverAlong == b.giverAlong;
    }

    void makePath(PathResult& out, const std::optional<Problem>& circle, const PathResult* old) const {
        out.problem = circle;
        std::vector<Path> paths;
        for (size_t i = 0; i < out.sources.size() && !out.problem; ++i) {
            const auto& s = out.sources[i];
            if (!s)
                out.problem = Problem{std::holds_alternative<JoinedRecipe>(out.item->recipe)
                                          ? "Member " + std::to_string(i + 1) + " was deleted. Take it out of the list."
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

    /// Finds the number that gives way, if one does.
    void giveWayIn(PathResult& out, const std::vector<Path>& paths) const {
        if (!out.giver) return;
        auto gave = guarded<Gave>([&]() -> Result<Gave> { return giveWayOf(out, paths, {}, m_work.stop()); });
        if (gave)
            out.gave = std::move(gave).value();
        else
            out.cannotGive = gave.problem();
    }

    static void makePart(PartResult& out, const std::vector<ShapeSource>& sources, const PartResult* old) {
        const PartItem& item = *out.item;
        const bool sameShape = old && !old->problem && old->shape && old->parts == out.parts &&
                               old->paths == out.paths && old->item->shape == item.shape;
        if (!out.problem && !(item.size >= 1e-6 && item.size <= 1e6))
            out.problem = Problem{"The part's size is not a factor from 0.000001 to 1000000.", "size"};
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

    static bool alike(const Body& a, const Body& b) {
        return a.mesh->points == b.mesh->points && a.mesh->triangles == b.mesh->triangles &&
               (a.mesh->box.min() == b.mesh->box.min() && a.mesh->box.max() == b.mesh->box.max()) && a.pins == b.pins;
    }

    const Evaluation* m_before;
    Evaluation& m_out;
    Work& m_work;
    std::unordered_map<Id, std::shared_ptr<const PathItem>> m_pathItems;
    std::unordered_map<Id, std::shared_ptr<const PartItem>> m_partItems;
    std::unordered_map<Id, std::shared_ptr<const BodyItem>> m_bodyItems;
    std::unordered_map<Id, std::shared_ptr<const RunItem>> m_runItems;
    std::unordered_map<Id, std::shared_ptr<const RunItem>> m_givers; ///< by the path that gives way
    std::unordered_map<Id, std::shared_ptr<const RunResult>> m_runsBefore, m_runs;
    std::vector<Frame> m_stack;
    std::unordered_set<Id> m_open; ///< what stands on the stack
};

} // namespace

Evaluation::~Evaluation() {
    // What follows others goes first: else a long chain of sources would end in as deep a recursion.
    paths.clear();
    parts.clear();
    bodies.clear();
    runs.clear();
    heaps.clear();
    while (!order.empty()) order.pop_back();
}

std::shared_ptr<const RunResult> Evaluation::run(Id id) const {
    const auto it = std::find_if(runs.begin(), runs.end(), [&](const auto& r) { return r->item->id == id; });
    return it == runs.end() ? nullptr : *it;
}

std::shared_ptr<const RunResult> Evaluation::heap(Id id) const {
    const auto it = std::find_if(heaps.begin(), heaps.end(), [&](const auto& r) { return r->item->id == id; });
    return it == heaps.end() ? nullptr : *it;
}

std::vector<std::shared_ptr<const RunResult>> Evaluation::standing() const {
    auto out = runs;
    out.insert(out.end(), heaps.begin(), heaps.end());
    for (Id id : bodyOrder) out.push_back(bodies.at(id)->standing);
    return out;
}

std::shared_ptr<const RunResult> Evaluation::standing(Id id) const {
    if (const auto found = bodies.find(id); found != bodies.end()) return found->second->standing;
    const auto h = heap(id);
    return h ? h : run(id);
}

bool Evaluation::givenUp() const {
    const auto stopped = [](const auto& r) { return r->givenUp; };
    return std::any_of(paths.begin(), paths.end(), [&](const auto& p) { return stopped(p.second); }) ||
           std::any_of(parts.begin(), parts.end(), [&](const auto& p) { return stopped(p.second); }) ||
           std::any_of(bodies.begin(), bodies.end(), [&](const auto& p) { return stopped(p.second); }) ||
           std::any_of(runs.begin(), runs.end(), stopped);
}

std::shared_ptr<const Evaluation> evaluate(const Document& doc, const std::shared_ptr<const Evaluation>& before,
                                           Job* job) {
    auto out = std::make_shared<Evaluation>();
    Work work(job, doc.parts.size() + doc.paths.size() + doc.runs.size() + doc.bodies.size());
    Graph graph(doc, before.get(), *out, work);
    for (const auto& item : doc.parts) graph.workOut(item->id);
    for (const auto& item : doc.paths) graph.workOut(item->id);
    for (const auto& item : doc.bodies) {
        graph.workOut(item->id);
        out->bodyOrder.push_back(item->id);
    }
    for (const auto& item : doc.runs) {
        graph.workOut(item->id);
        out->runs.push_back(graph.run(item->id));
    }
    for (const auto& item : doc.heaps) out->heaps.push_back(heapOf(item, *out, before.get()));
    return out;
}

std::vector<Id> goingOn(const Evaluation& e, const JoinedRecipe& r, const Path& joined) {
    std::vector<Id> out;
    const Vec3 end = joined.spans().back().point(1);
    const double reach = std::max(r.gap, 1e-4);
    for (const auto& [id, p] : e.paths) {
        if (!p->path || p->problem || p->path->closed() || &*p->path == &joined) continue;
        if (std::find(r.members.begin(), r.members.end(), id) != r.members.end()) continue;
        if (const auto* own = std::get_if<JoinedRecipe>(&p->item->recipe); own && own->members == r.members)
            continue; // itself
        const Vec3 a = p->path->spans().front().point(0), b = p->path->spans().back().point(1);
        if (std::min((a - end).norm(), (b - end).norm()) <= reach) out.push_back(id);
    }
    return out;
}

} // namespace vicinal
