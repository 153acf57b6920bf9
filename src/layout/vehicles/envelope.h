#pragma once
// The room that vehicles sweep as they go along their path, in plan.
#include "base/job.h"
#include "layout/places.h"
#include "layout/vehicles/vehicles.h"

namespace vicinal {

struct SweptEnvelope {
    /// The band on the ground: how far beside the path bodies reach at each station, mm, to the left and to the right.
    std::vector<double> stations, left, right;
    struct Worst {
        double reach = 0;   ///< mm from the path
        double station = 0; ///< where on the path
        size_t slot = 0;    ///< of which part
    };
    Worst inside;                    ///< towards the middle of the bend, on the straight half the width
    Worst outside;                   ///< away from it
    double widest = 0, widestAt = 0; ///< both sides together
};

/// How far a body that stands somewhere reaches, in plan, square to the path: its box.
struct EnvelopeAt {
    double left = 0, right = 0; ///< mm
    double leftStation = 0, rightStation = 0;
    double bend = 0; ///< rad that the path turns under it, to the left above zero
    /// Of a straight: the wider side.
    double inside() const {
        if (bend == 0) return std::max(left, right);
        return bend > 0 ? left : right;
    }
    double outside() const {
        if (bend == 0) return std::max(left, right);
        return bend > 0 ? right : left;
    }
    double insideStation() const { return bend < 0 || (bend == 0 && right > left) ? rightStation : leftStation; }
    double outsideStation() const { return bend > 0 || (bend == 0 && right > left) ? rightStation : leftStation; }
};
/// Exact: corners and the farthest points of edges.
EnvelopeAt envelopeAt(const Path&, const Vehicles&, const VehiclePose&, const Box3& seated);

/// Of each slot in `which`, over the whole path in steps; the worst is then found between them. Bodies as their boxes
/// in seat axes.
SweptEnvelope sweptEnvelope(const Path&, const Vehicles&, std::span<const size_t> which, std::span<const Slot> parts,
                            const Stop* = nullptr);

} // namespace vicinal
