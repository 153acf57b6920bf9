#pragma once
// What a part reaches that falls ahead.
#include "clearance/pairs.h"
#include "layout/frame.h"

namespace vicinal {

/// A body with its seat.
struct FallingBody {
    const PosedBody* body = nullptr;
    Frame frame{Mat3::Identity(), Vec3::Zero()}; ///< nose, side, crown and seat point
    Box3 seated;                                 ///< extents in seat axes, before its size
};

struct Fall {
    bool hits = false;
    double angle = 0; ///< rad that it has turned when it hits
    double share = 0; ///< how far up the other is hit, of its height: 0 at its foot, 1 at its top
    double aside = 0; ///< mm from the other's middle, to its side
    Vec3 at = Vec3::Zero();
};

/// The first part tips over the front edge of its foot, rigidly, until it touches the second or lies flat. The angle is
/// found by steps that cannot pass through the other: distance over the farthest radius (conservative advancement,
/// Mirtich 1996).
Fall fallOn(const FallingBody& falling, const FallingBody& other, const Stop* = nullptr);

} // namespace vicinal
