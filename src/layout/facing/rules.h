#pragma once
// The rules of facing, each described once: which way a part's nose and crown point on its place.
#include "base/describe.h"
#include "base/id.h"
#include "base/rule_words.h"
#include "base/vec.h"
#include <memory>

namespace vicinal {

class Ground;
class Path;

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
/// The nose runs through both pins of the part, which are on the path: vehicles, links.
struct BetweenPins {
    bool operator==(const BetweenPins&) const = default;
    static constexpr RuleWords words{"between pins", "pins", "Both pins of the part are on the path", "between pins",
                                     "through both pins"};
};
/// The nose points at one point: lamps, signs.
struct AtTarget {
    bool operator==(const AtTarget&) const = default;
    static constexpr RuleWords words{"at target", "target", "The nose points at a target point", "at a target",
                                     "at a target"};
};
using NoseRule = std::variant<AlongPath, AsDrawn, BetweenPins, AtTarget>;

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
/// In the plane of the loop, away from its inside; parts that go over the top hang upside down there.
struct Outward {
    bool operator==(const Outward&) const = default;
    static constexpr RuleWords words{"outward", "outward", "In the loop's plane, away from its inside", "outward",
                                     "outward"};
};
/// As near to one direction as it goes, square to the path.
struct Given {
    bool operator==(const Given&) const = default;
    static constexpr RuleWords words{"given", "given", "As near to a given direction as it goes, square to the path",
                                     "given", "towards a given direction"};
};
/// Along the normal of a surface, at its point nearest to the place; square to the path.
struct OffSurface {
    bool operator==(const OffSurface&) const = default;
    static constexpr RuleWords words{"off surface", "off surface",
                                     "Off the body that the path lies on: along its normal, square to the path",
                                     "off surface", "off the surface"};
};
using CrownRule = std::variant<Plumb, Upright, Carried, Outward, Given, OffSurface>;

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
    /// Turned on by this from each place to the next, and from the start again after so many places; 0: it goes on
    /// growing. A quarter turn about the nose and 2: the links of a chain.
    Vec3 turnStep = Vec3::Zero();
    long turnEvery = 0;
    bool backwards = false;                     ///< parts look back along the path
    Id targetPath = 0;                          ///< of AtTarget: the nearest point of this path instead; 0: the point
    std::shared_ptr<const Path> aimedPath = {}; ///< that path, where it is known; no value of its own
    Vec3 target = Vec3::Zero();                 ///< of AtTarget
    Id targetBody = 0; ///< of AtTarget: the nearest point of this site body instead, before a path; 0: none
    Id surface = 0;    ///< of OffSurface: the site body that the crowns stand off
    std::shared_ptr<const Ground> aimedBody = {}, standsOff = {}; ///< those, where they are known; no values of its own
    Vec3 direction = Vec3::UnitZ();                               ///< of Given; any length
    Vec3 loopNormal = Vec3::Zero(); ///< of Outward's plane, unit: the path says it, resolved() works it out

    bool operator==(const Facing&) const = default;
    bool stepsTurn() const { return !turnStep.isZero(0) && turnEvery != 1; }
};
/// Besides the words of nose and crown themselves.
void describe(const ValueVisitor&, Facing&);

/// False for values that have no effect with the other ones as they are.
bool counts(const Facing&, const std::string& key);

} // namespace vicinal
