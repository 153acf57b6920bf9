#include "model/evaluate.h"
#include <algorithm>

namespace vicinal {
namespace {

std::shared_ptr<const PathResult> evaluatePath(const std::shared_ptr<const PathItem>& item, const PathResult* before) {
    auto out = std::make_shared<PathResult>();
    out->item = item;
    if (auto built = build(item->recipe))
        out->path = *built;
    else {
        out->problem = built.problem();
        if (before) out->path = before->path;
    }
    return out;
}

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
    for (const auto& item : doc.paths) {
        const auto old = before ? lookUp(before->paths, item->id) : nullptr;
        out->paths[item->id] = old && old->item == item ? old : evaluatePath(item, old.get());
    }
    for (const auto& item : doc.parts) {
        const auto old = before ? lookUp(before->parts, item->id) : nullptr;
        out->parts[item->id] = old && old->item == item ? old : evaluatePart(item, old.get());
    }
    for (const auto& item : doc.runs) {
        const auto old = before ? before->run(item->id) : nullptr;
        const auto path = lookUp(out->paths, item->path);
        const auto part = lookUp(out->parts, item->part);
        const bool same = old && old->item == item && old->path == path && old->part == part;
        out->runs.push_back(same ? old : evaluateRun(item, path, part, old.get()));
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
