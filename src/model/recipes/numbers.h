#pragma once
// Every number of a path's recipe that can be changed alone, by its key in files.
#include "model/recipes/recipe.h"

namespace vicinal {

struct RecipeNumber {
    std::string key;
    const char* label = "";
    ProfileKind of = ProfileKind::Length; ///< Factor: a plain number
    int axis = -1;                        ///< of a point: 0 x, 1 y, 2 z; else -1
    double value = 0;
};

/// Lengths, angles, numbers and the coordinates of points; of a path of points "point N" and "fillet N". Counts,
/// choices and wheels are not among them.
std::vector<RecipeNumber> numbersOf(const PathRecipe&);
/// One of them; `axis` counts only for points. Nothing when there is none of that key.
std::optional<RecipeNumber> numberOf(const PathRecipe&, const std::string& key, long axis);
/// False when there is none.
bool setNumber(PathRecipe&, const std::string& key, long axis, double value);

} // namespace vicinal
