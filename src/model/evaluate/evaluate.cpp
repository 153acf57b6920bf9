#include "model/evaluate/evaluate.h"
#include "model/document/path_item.h"
#include "model/evaluate/bodies/heaps.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/giving.h"
#include "model/evaluate/graph.h"
#include <algorithm>

namespace vicinal {

Evaluation::~Evaluation() {
    // What follows others goes first: else a long chain of sources would end in as deep a recursion.
    paths.clear();
    parts.clear();
    bodies.clear();
    runs.clear();
    heaps.clear();
    while (!order.empty()) order.pop_back();
}

const PathRecipe& PathResult::recipe() const { return gave ? gave->recipe : item->recipe; }

std::shared_ptr<const RunResult> Evaluation::run(Id id) const {
    const auto it = std::find_if(runs.begin(), runs.end(), [&](const auto& r) { return r->item->id == id; });
    return it == runs.end() ? nullptr : *it;
}

std::shared_ptr<const HeapResult> Evaluation::heap(Id id) const {
    const auto it = std::find_if(heaps.begin(), heaps.end(), [&](const auto& h) { return h->id == id; });
    return it == heaps.end() ? nullptr : *it;
}

Standings Evaluation::standing() const {
    Standings out(runs.begin(), runs.end());
    out.insert(out.end(), heaps.begin(), heaps.end());
    for (Id id : bodyOrder) out.push_back(bodies.at(id));
    return out;
}

std::shared_ptr<const Standing> Evaluation::standing(Id id) const {
    if (const auto found = bodies.find(id); found != bodies.end()) return found->second;
    if (const auto h = heap(id)) return h;
    return run(id);
}

const RunResult* Standing::asRun() const { return kind == Kind::Run ? static_cast<const RunResult*>(this) : nullptr; }
const HeapResult* Standing::asHeap() const {
    return kind == Kind::Heap ? static_cast<const HeapResult*>(this) : nullptr;
}
const std::vector<std::shared_ptr<const PartResult>>* partResultsOf(const Standing& of) {
    if (const auto* run = of.asRun()) return &run->parts;
    const auto* heap = of.asHeap();
    return heap ? &heap->parts : nullptr;
}
const BodyResult* Standing::asBody() const {
    return kind == Kind::SiteBody ? static_cast<const BodyResult*>(this) : nullptr;
}

void RunResult::stand(std::shared_ptr<const Placed> where) {
    placed = std::move(where);
    // One object, held by what each asks of it.
    instances = placed;
    placedParts = placed ? std::shared_ptr<const std::vector<PlacedPart>>(placed, &placed->parts) : nullptr;
}

bool Evaluation::cancelled() const {
    const auto stopped = [](const auto& r) { return r->cancelled; };
    return std::any_of(paths.begin(), paths.end(), [&](const auto& p) { return stopped(p.second); }) ||
           std::any_of(parts.begin(), parts.end(), [&](const auto& p) { return stopped(p.second); }) ||
           std::any_of(bodies.begin(), bodies.end(), [&](const auto& p) { return stopped(p.second); }) ||
           std::any_of(runs.begin(), runs.end(), stopped);
}

bool Evaluation::deferred() const {
    return std::any_of(bodies.begin(), bodies.end(), [](const auto& b) { return b.second->deferred; });
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
