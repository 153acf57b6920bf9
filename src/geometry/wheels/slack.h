#pragma once
// The strand of a loop that is longer than tight: it hangs between two wheels.
#include "geometry/curves/shapes.h"

namespace vicinal {

/// A circle a strand leaves or reaches, in the plane of its loop.
struct StrandEnd {
    Vec2 centre = Vec2::Zero();
    double radius = 0; ///< mm; below zero where the circle lies to the right of the way the strand runs
};

/// A strand that hangs from one wheel to the next.
struct SlackStrand {
    Catenary curve;
    double leaves = 0; ///< rad, the direction in which it leaves the first wheel
    double turn = 0;   ///< rad that it turns on the way, counter-clockwise above zero
    double length = 0; ///< mm
    double slack = 0;  ///< mm that the loop is longer for it: the strand, and what it wraps more or less of its wheels
    double sag = 0;    ///< mm that it hangs below the straight tangent, plumb, where that is most:
    Vec2 deepest = Vec2::Zero(), above = Vec2::Zero(); ///< there, and the point of the tangent over it
};

/// The catenary that leaves `from` and reaches `to` as their tangent: `amount` below the tight tangent, or so much more
/// of the loop. `down`: unit. `tight`: direction of the tight tangent, rad. Problem (field "hang"): an amount that is
/// not above zero or that no strand has, a tangent that stands plumb, a strand that would cut into its own wheels.
/// Source: a chain of parameter a that hangs between u0 and u1 (u = x / a) has slopes sinh u; five conditions as in
/// docs/engine.md, of which two numbers, the middle and the half width of u, are left to be solved.
Result<SlackStrand> slackStrand(const StrandEnd& from, const StrandEnd& to, double tight, const Vec2& down, SwagBy by,
                                double amount);

} // namespace vicinal
