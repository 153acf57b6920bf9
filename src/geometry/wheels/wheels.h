#pragma once
// A loop round wheels in the x-y plane: tangent lines and wrapped arcs.
#include "geometry/wheels/slack.h"

namespace vicinal {

/// A circle a path is wrapped round.
struct WheelCircle {
    Vec2 centre;
    double radius = 0;  ///< mm; of the line the path follows (pitch radius of a sprocket); 0: a pin it bends at
    bool inside = true; ///< inside the loop: it turns counter-clockwise round it; else it bends backwards there
};

/// Pitch radius of a sprocket: pitch / (2 sin(pi / teeth)).
double pitchRadius(long teeth, double pitch);

struct WheelContact {
    double wrap = 0;                ///< rad, >= 0
    double arrives = 0, leaves = 0; ///< stations of the wrapped arc's start and end; arrives > leaves over the seam
    double tangentAfter = 0;        ///< length of the strand to the next wheel; 0 after the last of an open one
};

/// Which strand of a loop hangs, and how deep.
struct StrandHangs {
    size_t after = 0;    ///< the wheel it leaves
    Vec2 down = {0, -1}; ///< unit
    SwagBy by = SwagBy::Sag;
    double amount = 0; ///< mm
};

struct WheelLoop {
    Curve curve;
    std::vector<WheelContact> contacts; ///< one a wheel, in the loop's order
    double length = 0;
    std::optional<SlackStrand> hangs{};
};

/// The tight loop that passes the wheels in the given order, each on its side, starting where it reaches the first
/// wheel. `closed` false: from the first wheel's departure to the last one's arrival, ends not wrapped.
/// `crossed`: the straights may cross each other; else a crossing is a problem.
/// Problem (`field` "wheel N", N from 1) naming the wheel: overlapping or containing another, passed by without being
/// touched, cut by a straight; or fewer than two wheels ("wheels").
/// `hangs`: one strand is longer than tight and hangs, the others stay straight. Problem ("hangs", "hang"): no such
/// strand, or as slackStrand(); where it would hit a wheel or another strand with the most that works.
/// Source of the tangents: directed lines at signed distances from both centres; n . (cj - ci) = rj - ri.
Result<WheelLoop> loopRound(std::span<const WheelCircle> wheels, bool closed, bool crossed,
                            const std::optional<StrandHangs>& hangs = {});

/// Order in which inside wheels lie round their common hull, counter-clockwise; indices. Wheels that do not touch the
/// hull are put where the hull passes nearest to them, as outside ones would be.
std::vector<size_t> hullOrder(std::span<const WheelCircle> wheels);

/// Closed formula for two wheels. Source: Shigley, "Mechanical Engineering Design", flexible elements: open and crossed
/// belt length.
double twoWheelLength(double r1, double r2, double distance, bool crossed);

} // namespace vicinal
