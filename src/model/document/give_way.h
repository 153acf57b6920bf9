#pragma once
// What gives way so that a run comes out even: one number of the path's recipe, or one wheel of its loop.
#include "base/describe.h"
#include "base/id.h"
#include "base/vec.h"
#include <optional>
#include <string>

namespace vicinal {

enum class Gives { Nothing, Value, Wheel };
/// How a wheel moves, in the plane of its loop.
enum class WheelMoves { Line, Pivot, Path };

struct GiveWay {
    Gives what = Gives::Nothing;
    long count = 0; ///< places or links wanted; 0: the count that comes nearest
    // A value: any number that the recipe of the path hands out.
    std::string value{}; ///< its key, as in files; "point 3" of a path of points
    long axis = 0;       ///< of a point: 0 x, 1 y, 2 z
    // A wheel.
    long wheel = 1; ///< from 1
    WheelMoves moves = WheelMoves::Line;
    double heading = kPi / 2;  ///< of the line, rad, from the x of the loop's plane
    Vec3 pivot = Vec3::Zero(); ///< a point of the plane, in space
    Id along = 0;              ///< the path its centre moves along
    /// Bounds, in what the number is counted in: mm, rad or a plain number; of a wheel how far it goes along the line
    /// (mm), about the pivot (rad), or its station. None: as far as it is of any use.
    std::optional<double> least{}, most{};
    bool operator==(const GiveWay&) const = default;
};
/// Besides the value's key and the bounds.
void describe(const ValueVisitor&, GiveWay&);

/// False for values that have no effect with the other ones as they are.
bool counts(const GiveWay&, const std::string& key);

} // namespace vicinal
