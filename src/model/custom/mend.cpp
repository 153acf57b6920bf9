// What makes a first run good that its path or its part would not let be.
#include "base/say.h"
#include "geometry/curves/edit.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/custom/custom.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <algorithm>

namespace vicinal {
namespace {

/// A document as the window would see it: one run's checks.
struct Tried {
    std::shared_ptr<const Evaluation> worked;
    std::shared_ptr<const Checked> checked;
    const RunChecks* of = nullptr; ///< null where the run cannot be placed
    bool wrong() const { return !of || of->stopped || of->verdict.mark == Mark::Wrong; }
};
Tried tried(const Document& d, const std::shared_ptr<const Evaluation>& before, Id run, Job* job) {
    Tried out;
    out.worked = evaluate(d, before, job);
    const auto now = out.worked->run(run);
    if (!now || now->problem) return out;
    CheckMemory memory;
    CheckOrder order;
    order.only = {run};
    out.checked = check(out.worked, memory, nullptr, order, job);
    out.of = out.checked->run(run);
    return out;
}

/// Without the later one of each pair that runs into another, until none does: in a bend that is sharper than parts are
/// long, what is left may still run into the one after.
std::optional<Mend> leavingOut(Document d, std::shared_ptr<const Evaluation> worked, const RunChecks& checks,
                               Job* job) {
    const Id id = checks.run->item->id;
    const size_t all = checks.run->placed->count(), before = checks.run->item->leftOut.size();
    Tried now{worked, nullptr, &checks};
    for (int round = 0; round < 8 && now.wrong(); ++round) {
        std::set<int> out;
        for (const CheckResult& r : now.of->list) {
            if (r.check.of != CheckKind::Itself && r.check.of != CheckKind::ClearGap) continue;
            for (const CheckedPlace& p : r.places)
                if (p.mark == Mark::Wrong && p.item == 0 && p.other >= 0 && !out.contains(p.place)) out.insert(p.other);
        }
        RunItem run = *d.run(id);
        for (const int place : out) run.leftOut.push_back(place + 1);
        std::sort(run.leftOut.begin(), run.leftOut.end());
        run.leftOut.erase(std::unique(run.leftOut.begin(), run.leftOut.end()), run.leftOut.end());
        if (out.empty() || 3 * run.leftOut.size() > 2 * all) return std::nullopt;
        d = with(std::move(d), std::move(run));
        now = tried(d, now.worked, id, job);
        if (!now.of) return std::nullopt;
    }
    if (now.wrong()) return std::nullopt;
    return Mend{"Leave out the " + say::count(d.run(id)->leftOut.size() - before) + " that run into another", d};
}

/// The path with its corners rounded by so much; nothing where it has none that can be.
std::optional<PathItem> rounded(const PathItem& path, double radius) {
    PathItem out = path;
    bool any = false;
    if (auto* shape = std::get_if<ShapeRecipe>(&out.recipe)) {
        if (auto* r = std::get_if<RectangleShape>(&shape->shape); r && r->radius < radius)
            r->radius = radius, any = true;
    } else if (auto* points = std::get_if<PointsRecipe>(&out.recipe)) {
        for (PathPoint& p : points->points)
            if (!p.smooth && p.fillet < radius) p.fillet = radius, any = true;
    }
    if (!any || path.locked) return std::nullopt;
    return out;
}

} // namespace

std::optional<Mend> mendOf(const Document& d, const std::shared_ptr<const Evaluation>& worked, const RunChecks& checks,
                           Job* job) {
    const auto run = checks.run;
    if (!run || run->problem || !run->placed || !run->path || run->item->locked) return std::nullopt;
    if (checks.verdict.mark != Mark::Wrong) return std::nullopt;
    const Id id = run->item->id;
    if (!isLinked(run->item->spacing)) return leavingOut(d, worked, checks, job);
    const auto helps = [&](const Mend& m) { return !tried(m.document, worked, id, job).wrong(); };
    const double pitch = run->placed->laid->pitch;
    for (const double times : {2.0, 4.0, 8.0, 16.0}) {
        const double radius = std::ceil(times * pitch);
        auto path = rounded(*run->path->item, radius);
        if (!path) continue;
        const Words says = "Round the corners of " + say::value(path->name) + " by " + say::mm(radius);
        if (Mend m{says, with(d, *std::move(path))}; helps(m)) return m;
    }
    if (planeOf(*run->path->path).planar) return std::nullopt;
    // Beside the path as it is, since others may follow that.
    PathItem plan;
    plan.name = run->path->item->name + " in plan";
    plan.recipe = DerivedRecipe{run->path->item->id, ProjectedTo{}};
    Document next = with(d, std::move(plan));
    RunItem item = *run->item;
    item.path = lastId(next);
    item.facing.crown = Given{};
    item.facing.direction = run->path->path->at(0).tangent.cross(Vec3::UnitZ());
    Mend flat{"Set it along the plan of " + say::value(run->path->item->name) + ": these links bend in one plane alone",
              with(std::move(next), std::move(item))};
    if (helps(flat)) return flat;
    return std::nullopt;
}

} // namespace vicinal
