#pragma once
// The rules of facing, each described once: which way a part's nose and crown point on its place.
#include "base/describe.h"
#include "base/rule_words.h"
#include "base/vec.h"

namespace vicinal {

/// The nose follows the path.
struct AlongPath {
    bool operator==(const AlongPath&) const = default;
    static constexpr RuleWords words{"along", "along", "The nose faces along the path", "nose along", "along the path"};
};
/// The part keeps the direction it was drawn in.
struct AsDrawn {
    bool operator==(const AsDrawn&) const = default;
    static constexpr RuleWords words{"as drawn", "as drawn", "The part keeps the direction it was drawn in", "as drawn",
                                     "as drawn"};
};
using NoseRule = std::variant<AlongPath, AsDrawn>;

/// The crown stays vertical, whatever the slope: the nose is the tangent's heading in plan.
struct Plumb {
    bool operator==(const Plumb&) const = default;
    static constexpr RuleWords words{"plumb", "plumb", "The crown stays vertical, whatever the slope", "plumb",
                                     "plumb"};
};
/// Square to the path, as near vertical as it goes.
struct Upright {
    bool operator==(const Upright&) const = default;
    static constexpr RuleWords words{"upright", "upright", "Square to the path, as near vertical as it goes", "upright",
                                     "upright"};
};
/// Least twist from the path's start; on a closed path spread so that the seam matches.
struct Carried {
    bool operator==(const Carried&) const = default;
    static constexpr RuleWords words{"carried", "carried", "Least twist from the start; closes on closed paths",
                                     "carried", "carried"};
};
using CrownRule = std::variant<Plumb, Upright, Carried>;

/// Which way a part faces that stands exactly on a corner.
enum class CornerRule { Bisector, LegBefore, LegAfter };

/// How each part is turned.
struct Facing {
    NoseRule nose{};
    CrownRule crown{};
    CornerRule corner = CornerRule::Bisector;
    /// Extra turn after that, radians, about nose (x), side (y) and crown (z): Rz(crown) Ry(side) Rx(nose),
    /// right-handed.
    Vec3 turn = Vec3::Zero();

    bool operator==(const Facing&) const = default;
};
/// Besides nose and crown themselves, which have no values yet.
template<class V, Describes<Facing> F> void describe(V&& v, F& f) {
    v.choice("corner", "On a corner", "Which way a part faces that stands exactly on a corner", f.corner,
             {{"bisector", "between", "A part exactly on a corner faces between the two legs", ""},
              {"leg before", "leg before", "A part exactly on a corner faces along the leg before it", "leg before"},
              {"leg after", "leg after", "A part exactly on a corner faces along the leg after it", "leg after"}});
    v.turn("turn", "Turn about",
           "Extra turn of every part, right-handed; first about the nose, then the side, then the crown", f.turn);
}

} // namespace vicinal
