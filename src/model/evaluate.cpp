#include "model/evaluate.h"
#include <algorithm>

namespace vicinal {
namespace {

/// Paths and parts in the order their sources ask for, each once; a circle of sources is a problem of all in it.
class ItemEvaluation {
public:
    ItemEvaluation(const Document& doc, const Evaluation* before, Evaluation& out)
        : m_doc(doc), m_before(before), m_out(out) {}

    std::shared_ptr<const PathResult> path(Id id) {
        if (const auto it = m_out.paths.find(id); it != m_out.paths.end()) return it->second;
        const auto item = m_doc.path(id);
        if (!item) return nullptr;
        const auto old = m_before ? lookUp(m_before->paths, id) : nullptr;
        m_open.push_back(id);
        std::vector<std::shared_ptr<const PathResult>> sources;
        std::optional<Problem> circle;
        for (Id s : sourcesOf(item->recipe)) {
            if (auto p = roundTo(s, "path", "source")) {
                circle = p;
                sources.push_back(nullptr);
            } else
                sources.push_back(path(s));
        }
        std::shared_ptr<const Mesh> body;
        if (const Id id2 = bodyOf(item->recipe)) {
            if (auto p = roundTo(id2, "path", "part"))
                circle = p;
            else if (const auto found = part(id2); found && !found->problem)
                body = found->mesh;
        }
        m_open.pop_back();
        if (const auto done = m_out.paths.find(id); done != m_out.paths.end()) return done->second;
        const bool same = old && old->item == item && old->sources == sources && old->body == body && !circle;
        return m_out.paths[id] = same ? old : makePath(item, std::move(sources), std::move(body), circle, old.get());
    }

    std::shared_ptr<const PartResult> part(Id id) {
        if (const auto it = m_out.parts.find(id); it != m_out.parts.end()) return it->second;
        const auto item = m_doc.part(id);
        if (!item) return nullptr;
        const auto old = m_before ? lookUp(m_before->parts, id) : nullptr;
        m_open.push_back(id);
        auto out = std::make_shared<PartResult>();
        out->item = item;
        std::vector<ShapeSource> sources;
        for (Id s : sourcesOf(item->shape)) {
            sources.emplace_back();
            if (auto p = roundTo(s, "part", "piece")) {
                out->problem = p;
            } else if (m_doc.path(s)) {
                const auto result = path(s);
                out->paths.push_back(result);
                if (result->problem && !out->problem)
                    out->problem = Problem{result->item->name + ": " + result->problem->text, "path"};
                sources.back().path = result->path;
            } else {
                const auto result = part(s);
                out->parts.push_back(result);
                if (result && result->problem && !out->problem)
                    out->problem = Problem{result->item->name + ": " + result->problem->text, "piece"};
                if (result) sources.back().body = result->body;
            }
        }
        m_open.pop_back();
        if (const auto done = m_out.parts.find(id); done != m_out.parts.end()) return done->second;
        if (old && old->item == item && old->parts == out->parts && old->paths == out->paths && !out->problem)
            return m_out.parts[id] = old;
        makePart(*out, sources, old.get());
        return m_out.parts[id] = out;
    }

private:
    template<class Map> static typename Map::mapped_type lookUp(const Map& map, Id id) {
        const auto it = map.find(id);
        return it == map.end() ? nullptr : it->second;
    }
    std::string nameOf(Id id) const {
        if (const auto p = m_doc.path(id)) return p->name;
        const auto q = m_doc.part(id);
        return q ? q->name : std::string();
    }

    /// The problem of a source that is being worked out already.
    std::optional<Problem> roundTo(Id source, const char* what, const char* field) const {
        const auto at = std::find(m_open.begin(), m_open.end(), source);
        if (at == m_open.end()) return std::nullopt;
        if (at + 1 == m_open.end() && m_doc.part(source))
            return Problem{"This part contains itself. Take that piece out.", field};
        std::string text = std::string("This ") + what + " goes round in a circle: ";
        for (auto k = at; k != m_open.end(); ++k) text += nameOf(*k) + (m_doc.part(*k) ? " uses " : " follows ");
        return Problem{text + nameOf(source) + ". Let one of them be made from something else.", field};
    }

    std::shared_ptr<const PathResult> makePath(const std::shared_ptr<const PathItem>& item,
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

    static void makePart(PartResult& out, const std::vector<ShapeSource>& sources, const PartResult* old) {
        const PartItem& item = *out.item;
        const bool sameShape = old && !old->problem && old->shape && old->parts == out.parts &&
                               old->paths == out.paths && old->item->shape == item.shape;
        if (!out.problem && !(item.size >= 1e-6 && item.size <= 1e6))
            out.problem = Problem{"The part's size is not a factor from 0.000001 to 1000000.", "size"};
        if (!out.problem) {
            auto shape = sameShape ? Result<BodyPtr>(old->shape) : build(item.shape, sources);
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
        if (out.problem && old && !out.body) {
            out.body = old->body;
            out.shape = old->shape;
        }
        if (out.body) out.mesh = out.body->mesh;
    }

    static bool alike(const Body& a, const Body& b) {
        return a.mesh->points == b.mesh->points && a.mesh->triangles == b.mesh->triangles &&
               (a.mesh->box.min() == b.mesh->box.min() && a.mesh->box.max() == b.mesh->box.max()) && a.pins == b.pins;
    }

    const Document& m_doc;
    const Evaluation* m_before;
    Evaluation& m_out;
    std::vector<Id> m_open;
};

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
        auto placed = place(*path->path, orderOf(*item, *part));
        if (placed) {
            out->places = std::make_shared<const Places>(std::move(placed).value());
            out->placedOn = path->path;
            out->placedMesh = part->mesh;
            out->placedBody = part->body;
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
        out->placedBody = before->placedBody;
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
    ItemEvaluation items(doc, before.get(), *out);
    for (const auto& item : doc.parts) items.part(item->id);
    for (const auto& item : doc.paths) items.path(item->id);
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

PlaceOrder orderOf(const RunItem& run, const PartResult& part) {
    return {run.spacing, run.facing, part.item->seat, part.mesh->box, run.leftOut, part.seated};
}

Result<std::vector<Fit>> fitsOf(const RunResult& r) {
    if (auto p = firstProblem(r)) return *p;
    const Occupancy occupancy(*r.path->path, r.item->facing, seatRotation(r.part->item->seat), *r.part->seated);
    return fits(*r.path->path, r.item->spacing, occupancy);
}

double partLength(const RunResult& r) {
    if (firstProblem(r)) return 0;
    return Occupancy(*r.path->path, r.item->facing, seatRotation(r.part->item->seat), *r.part->seated).at(0).total();
}

} // namespace vicinal
