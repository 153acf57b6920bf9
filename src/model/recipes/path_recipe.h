#pragma once
// The kinds of path recipes by name, for those that only hand them on; recipe.h says what is in them.
#include <memory>
#include <variant>

namespace vicinal {

class Ground;
class LazySurface;
struct Mesh;

struct PointsRecipe;
struct BroughtCurve;
struct ShapeRecipe;
struct DerivedRecipe;
struct JoinedRecipe;
struct EdgesRecipe;
using PathRecipe = std::variant<PointsRecipe, BroughtCurve, ShapeRecipe, DerivedRecipe, JoinedRecipe, EdgesRecipe>;

/// The part or body that a recipe asks.
struct BodyAsked {
    std::shared_ptr<const Mesh> mesh{};     ///< in its own axes
    std::shared_ptr<const Ground> ground{}; ///< of a site body: where it stands
};

} // namespace vicinal
