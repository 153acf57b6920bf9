#pragma once
// How recipes are built, a file a sort; what recipe.h promises stands there.
#include "model/recipes/recipe.h"

namespace vicinal::recipes {

/// Of lambdas: one for each alternative of a variant.
template<class... Ts> struct Overloaded : Ts... { using Ts::operator()...; };
template<class... Ts> Overloaded(Ts...) -> Overloaded<Ts...>;

Result<Built> built(const std::vector<Segment>& segments, bool closed, double gap = 1e-4);
/// Through points, smooth or straight.
std::vector<Segment> spline(const std::vector<Vec3>& points, bool smooth, bool closed);
Result<Built> buildPoints(const PointsRecipe&);
Result<Built> buildShape(const ShapeRecipe&);
/// `p`: the path it follows; `other`: one that it passes over, or null.
Result<Built> buildDerived(const DerivedRecipe&, const Path& p, const Path* other, const BodyAsked&, const Stop*);

} // namespace vicinal::recipes
