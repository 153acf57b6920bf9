#pragma once
// The largest ball that passes between two bodies.
#include "clearance/pairs.h"

namespace vicinal {

/// Between two neighbours, or one and the end of the path.
struct OpeningOrder {
    const PosedBody *a = nullptr, *b = nullptr;      ///< null: the path ends there, as if by a wall
    Vec3 footA = Vec3::Zero(), footB = Vec3::Zero(); ///< on their middle lines, at height 0
    Vec3 up = Vec3::UnitZ();                         ///< unit
    double from = 0, to = 1000;                      ///< mm above the line between the feet: the ball stays between
    double limit = 0;                                ///< mm: gates are shifted only while more than this gets through
    double thickness = 0;                            ///< mm, of the bodies across
    std::vector<const PosedBody*> more;              ///< what else may be in the way: rails, posts
};

struct Opening {
    double diameter = 0; ///< mm
    double error = 0;    ///< mm that it may be larger, in the gate it was sought in
    Vec3 centre = Vec3::Zero();
};

/// Whatever passes has to come through the gate: the plane through both feet and upwards. So the largest ball whose
/// centre is in the gate and which is free of all bodies, of floor and ceiling, is the largest that can pass, or larger
/// (then one that fits in the gate sticks elsewhere); of gates shifted across within the bodies' thickness the one that
/// lets least through counts. Exact within `error` for bodies that are narrowest there (round and upright ones).
/// The distance is sought by its bound: it changes by no more than the centre moves (Piyavskii 1972).
Opening widestOpening(const OpeningOrder&, const Stop* = nullptr);

} // namespace vicinal
