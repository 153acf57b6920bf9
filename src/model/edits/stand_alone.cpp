#include "model/edits/stand_alone.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <cassert>
#include <map>

namespace vicinal {
namespace {

/// The path as it is, following nothing.
PathRecipe ownRecipe(const PathResult& path) {
    const PathRecipe& r = path.recipe();
    if (sourcesOf(r).empty() && bodyOf(r) == 0) return r;
    BroughtCurve curve{path.path->segments(), path.path->closed(), {}};
    if (const auto points = asPoints(curve)) return *points;
    return curve;
}

} // namespace

Document withStandingAlone(Document d, const RunResult& run) {
    assert(run.placed && !run.problem && run.path && run.path->path);
    PathItem path = *run.path->item;
    path.id = 0;
    path.recipe = ownRecipe(*run.path);
    d = with(std::move(d), std::move(path));
    RunItem copy = *run.item;
    copy.id = 0;
    copy.path = lastId(d);
    copy.gives = {}; // it is in the path's numbers
    // What parts stand on comes behind them in the list: from the end, so that it is there already.
    std::map<Id, Id> own;
    for (auto part = run.parts.rbegin(); part != run.parts.rend(); ++part) {
        PartItem item = *(*part)->item;
        const Id old = item.id;
        item.id = 0;
        for (Id& under : item.under)
            if (const auto found = own.find(under); found != own.end()) under = found->second;
        d = with(std::move(d), std::move(item));
        own[old] = lastId(d);
    }
    const auto swap = [&](Id& id) {
        if (const auto found = own.find(id); found != own.end()) id = found->second;
    };
    swap(copy.part);
    for (auto& step : copy.sequence.steps) swap(step.part);
    for (Id* id : {&copy.sequence.first, &copy.sequence.last, &copy.sequence.corner, &copy.sequence.nth}) swap(*id);
    for (auto& e : copy.exceptions) swap(e.part);
    for (Echo* e : {&copy.echoes.one, &copy.echoes.two}) swap(e->part);
    return with(std::move(d), std::move(copy));
}

} // namespace vicinal
