#include "model/evaluate.h"
#include <algorithm>

namespace vicinal {
namespace {

/// Paths in the order their sources ask for, each once; a circle of sources is a problem of all in it.
class PathEvaluation {
public:
    PathEvaluation(const Document& doc, const Evaluation* before, Evaluation& out)
        : m_doc(doc), m_before(before), m_out(out) {}

    std::shared_ptr<const PathResult> of(Id id) {
        if (const auto it = m_out.paths.find(id); it != m_out.paths.end()) return it->second;
        const auto item = m_doc.path(id);
        if (!item) return nullptr;
        const auto it =
            m_before ? m_before->paths.find(id) : std::map<Id, std::shared_ptr<const PathResult>>::const_iterator();
        const auto old = m_before && it != m_before->paths.end() ? it->second : nullptr;
        m_open.push_back(id);
        std::vector<std::shared_ptr<const PathResult>> sources;
        std::optional<Problem> circle;
        for (Id s : sourcesOf(item->recipe)) {
            const auto at = std::find(m_open.begin(), m_open.end(), s);
            if (at == m_open.end()) {
                sources.push_back(of(s));
                continue;
            }
            std::string text = "This path goes round in a circle: ";
            for (auto k = at; k != m_open.end(); ++k) text += m_doc.path(*k)->name + " follows ";
            circle = Problem{text + m_doc.path(s)->name + ". Let one of them follow another path.", "source"};
            sources.push_back(nullptr);
        }
        m_open.pop_back();
        std::shared_ptr<const Mesh> body;
        if (const Id part = bodyOf(item->recipe)) {
            const auto found = m_out.parts.find(part);
            if (found != m_out.parts.end() && !found->second->problem) body = found->second->mesh;
        }
        if (const auto done = m_out.paths.find(id); done != m_out.paths.end()) return done->second;
        const bool same = old && old->item == item && old->sources == sources && old->body == body && !circle;
        return m_out.paths[id] = same ? old : make(item, std::move(sources), std::move(body), circle, old.get());
    }

private:
    std::shared_ptr<const PathResult> make(const std::shared_ptr<const PathItem>& item,
                                           std::vector<std::shared_ptr<const PathResult>> sources,
                                           std::shared_ptr<const Mesh> body, const std::optional<Problem>& circle,
                                           const PathResult* old) const {
        auto out = std::make_shared<PathResult>();
        out->item = item;
        out->problem = circle;
        std::vector<Path> paths;
        for (size_t i = 0; i < sources.size() && !out->problem; ++i) {
            const auto& s = sources[i];
            if (!s)
                out->problem = Problem{sources.size() > 1 ? "Member " + std::to_string(i + 1) +
                                                                " was deleted. Take it out of the list."
                                                          : "The path it follows was deleted. Choose another one.",
                                       "source"};
            else if (s->problem)
                out->problem = Problem{s->item->name + ": " + s->problem->text, "source"};
            else
                paths.push_back(*s->path);
        }
        out->sources = std::move(sources);
        out->body = std::move(body);
        if (!out->problem) {
            if (auto built = build(item->recipe, paths, out->body.get())) {
                out->path = built->path;
                out->remarks = std::move(built.value().remarks);
                out->lost = std::move(built.value().lost);
                out->loop = std::move(built.value().loop);
            } else
                out->problem = built.problem();
        }
        if (out->problem && old) {
            out->path = old->path;
            out->loop = old->loop;
        }
        return out;
    }

    const Document& m_doc;
    const Evaluation* m_before;
    Evaluation& m_out;
    std::vector<Id> m_open;
};

std::shared_ptr<const PartResult> evaluatePart(const std::shared_ptr<const PartItem>& item, const PartResult* before) {
    auto out = std::make_shared<PartResult>();
    out->item = item;
    if (auto mesh = meshOf(item->shape)) {
        out->mesh = *mesh;
        // The same dimensions give the same mesh object, so that views keep what they made of it.
        if (before && before->mesh && !before->problem && before->mesh->box.isApprox(out->mesh->box, 0) &&
            before->mesh->points == out->mesh->points)
            out->mesh = before->mesh;
        out->problem = defectOf(item->seat);
    } else {
        out->problem = mesh.problem();
        if (before) out->mesh = before->mesh;
    }
    return out;
}

std::optional<Problem> firstProblem(const RunResult& r) {
    if (!r.path) return Problem{"The path of this run was deleted. Choose another path.", "path"};
    if (!r.part) return Problem{"The part of this run was deleted. Choose another part.", "part"};
    if (r.path->problem) return Problem{r.path->problem->text, "path"};
    if (r.part->problem) return r.part->problem;
    return std::nullopt;
}

std::shared_ptr<const RunResult> evaluateRun(const std::shared_ptr<const RunItem>& item,
                                             const std::shared_ptr<const PathResult>& path,
                                             const std::shared_ptr<const PartResult>& part, const RunResult* before) {
    auto out = std::make_shared<RunResult>();
    out->item = item;
    out->path = path;
    out->part = part;
    out->problem = firstProblem(*out);
    if (!out->problem) {
        auto placed = place(*path->path, orderOf(*item, part->item->seat, part->mesh->box));
        if (placed) {
            out->places = std::make_shared<const Places>(std::move(placed).value());
            out->placedOn = path->path;
            out->placedMesh = part->mesh;
            out->placedSeat = part->item->seat;
            out->verdict = judgeGaps(*out->places, item->spacing);
            return out;
        }
        out->problem = placed.problem();
    }
    if (before) {
        out->places = before->places;
        out->placedOn = before->placedOn;
        out->placedMesh = before->placedMesh;
        out->placedSeat = before->placedSeat;
    }
    out->verdict = {Mark::Wrong, out->problem->text, -1};
    return out;
}

template<class Map> typename Map::mapped_type lookUp(const Map& map, Id id) {
    const auto it = map.find(id);
    return it == map.end() ? nullptr : it->second;
}

} // namespace

std::shared_ptr<const RunResult> Evaluation::run(Id id) const {
    const auto it = std::find_if(runs.begin(), runs.end(), [&](const auto& r) { return r->item->id == id; });
    return it == runs.end() ? nullptr : *it;
}

std::shared_ptr<const Evaluation> evaluate(const Document& doc, const std::shared_ptr<const Evaluation>& before) {
    auto out = std::make_shared<Evaluation>();
    for (const auto& item : doc.parts) {
        const auto old = before ? lookUp(before->parts, item->id) : nullptr;
        out->parts[item->id] = old && old->item == item ? old : evaluatePart(item, old.get());
    }
    PathEvaluation paths(doc, before.get(), *out);
    for (const auto& item : doc.paths) paths.of(item->id);
    for (const auto& item : doc.runs) {
        const auto old = before ? before->run(item->id) : nullptr;
        const auto path = lookUp(out->paths, item->path);
        const auto part = lookUp(out->parts, item->part);
        const bool same = old && old->item == item && old->path == path && old->part == part;
        out->runs.push_back(same ? old : evaluateRun(item, path, part, old.get()));
    }
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

PlaceOrder orderOf(const RunItem& run, const Seat& seat, const Box3& box) {
    return {run.spacing, run.facing, seat, box, run.leftOut};
}

Result<std::vector<Fit>> fitsOf(const RunResult& r) {
    if (auto p = firstProblem(r)) return *p;
    const Seat& seat = r.part->item->seat;
    const Occupancy occupancy(*r.path->path, r.item->facing, seatRotation(seat), seatedBox(seat, r.part->mesh->box));
    return fits(*r.path->path, r.item->spacing, occupancy);
}

double partLength(const RunResult& r) {
    if (firstProblem(r)) return 0;
    const Seat& seat = r.part->item->seat;
    return Occupancy(*r.path->path, r.item->facing, seatRotation(seat), seatedBox(seat, r.part->mesh->box))
        .at(0)
        .total();
}

} // namespace vicinal
