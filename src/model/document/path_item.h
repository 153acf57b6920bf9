#pragma once
#include "model/recipes/recipe.h"

namespace vicinal {

struct PathItem {
    Id id = 0;
    std::string name;
    PathRecipe recipe;
    bool hidden = false; ///< not drawn unless it is worked on
    bool locked = false; ///< it cannot be changed or deleted
    Id folder = 0;       ///< of the yard that it lies in; 0: none
};

/// True when the recipe's points can be edited one by one.
inline const PointsRecipe* editablePoints(const PathItem& item) { return editablePoints(item.recipe); }

} // namespace vicinal
