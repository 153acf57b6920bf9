#include "model/edits/crossing_edits.h"
#include "layout/spacing/rules.h"
#include "model/document/path_item.h"
#include <algorithm>

namespace vicinal {

const LiftedOver* liftedOf(const PathItem& p) {
    const auto* d = std::get_if<DerivedRecipe>(&p.recipe);
    return d ? std::get_if<LiftedOver>(&d->change) : nullptr;
}

Document withCrossingSwitched(Document d, Id path, long number) {
    const auto item = d.path(path);
    if (!item || !liftedOf(*item) || number < 1) return d;
    PathItem copy = *item;
    auto& switched = std::get<LiftedOver>(std::get<DerivedRecipe>(copy.recipe).change).switched;
    if (std::erase(switched, number) == 0) switched.push_back(number);
    std::sort(switched.begin(), switched.end());
    return with(std::move(d), std::move(copy));
}

} // namespace vicinal
