#pragma once
// Solves what gives way: the number of a path's recipe, or the wheel of its loop, for which a run comes out exactly.
#include "layout/placement_input.h"
#include "layout/places.h"
#include "model/document/give_way.h"
#include "model/recipes/numbers.h"
#include <functional>

namespace vicinal {

/// What gave way.
struct SolvedValue {
    PathRecipe recipe; ///< with the number found
    std::string name;  ///< of it: the value's label, the wheel's name
    ProfileKind of{};  ///< what the numbers are
    double before = 0; ///< mm, rad or plain; of a wheel how far along: 0 on a line or an arm, its station on a path
    double after = 0;
    double error = 0;                 ///< mm that are still missing (below zero) or too many
    long count = 0;                   ///< places or links that come out
    std::optional<Vec3> from{}, to{}; ///< of a wheel or a point, in space
    int tries = 0;                    ///< how many paths were built
};

/// What it works on.
struct GivingTo {
    const GiveWay& give;
    const PathRecipe& recipe;
    const PlacementInput& order;
    std::function<Result<Path>(const PathRecipe&)> build; ///< the path of a recipe
    const Path* along = nullptr;                          ///< of WheelMoves::Path
};

/// The solution nearest to the number as it is, to 1e-9 mm. Problem ("giveValue", "giveWheel", "giveAlong" and the
/// like): no such number; a rule that leaves nothing over; no solution within the bounds - then with the number that
/// comes nearest and what it leaves.
/// `count`: instead of the one that is wanted.
Result<SolvedValue> seekGoal(const GivingTo&, std::optional<long> count = {});

/// Centre of a wheel that gave way by `t`, in the loop's plane.
Vec2 wheelAt(const GiveWay&, const ShapeRecipe&, const Vec2& centre, double t, const Path* along);

} // namespace vicinal
