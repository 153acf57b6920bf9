#pragma once
#include "base/result.h"
#include "base/vec.h"
#include <array>
#include <optional>

namespace vicinal {

/// One of a part's six own directions.
enum class Axis { PlusX, MinusX, PlusY, MinusY, PlusZ, MinusZ };
Vec3 directionOf(Axis);

/// A direction in a part's own axes: one of the six, or any other (of a face, an edge, a hole). Unit, unless what was
/// given has no length: then it is not usable, and defectOf() says so.
struct Direction {
    Vec3 v;
    Direction(Axis axis) : v(directionOf(axis)) {}
    Direction(const Vec3& any) : v(any) { // of unit length already: kept to the last digit, as a file said it
        if (std::abs(any.squaredNorm() - 1) > 1e-14) v = any.normalized();
    }
    bool operator==(const Direction& o) const { return v == o.v; }
};
/// The own direction that this one is (exactly), if it is one.
std::optional<Axis> axisOf(const Direction&);

/// One of the 27 points of a part's box: each coordinate -1 (low side), 0 (middle) or 1 (high side).
struct BoxPoint {
    int x = 0, y = 0, z = -1;
    int& operator[](int axis) {
        if (axis == 0) return x;
        return axis == 1 ? y : z;
    }
    bool operator==(const BoxPoint&) const = default;
};

/// Where a link meets its neighbours: the first pin lies behind, the second ahead. Part axes, mm.
using Pins = std::array<Vec3, 2>;

/// How a part sits on a path.
struct Seat {
    std::variant<BoxPoint, Vec3> point = BoxPoint{}; ///< a box point, or a typed point in the part's own axes, mm
    Direction nose = Axis::PlusX;                    ///< faces along the path
    Direction crown = Axis::PlusZ; ///< points up; made square to the nose where it is not (it may lean)
    std::optional<Pins> pins{};    ///< picked ones; else those its maker gives, if any
    std::optional<Pins> hooks{};   ///< where a vehicle is coupled, back and front; else the middles of its ends, as
                                   ///< high as its pins
    bool operator==(const Seat&) const = default;
};

/// Problem when nose and crown are parallel (within 1 degree), the pins are at the same point, or something is not a
/// number. `field`: "crown", "nose", "seatPoint" or "pins".
std::optional<Problem> defectOf(const Seat&);

/// The seat point in the part's own axes, mm.
Vec3 seatPoint(const Seat&, const Box3& partBox);

/// Rotation from part axes to seat axes, in which the nose is +x and the crown as near +z as it goes. Precondition: the
/// seat has no defect.
Mat3 seatRotation(const Seat&);

/// The part's box in seat axes, measured from the seat point: of the box's corners, so too large for a part that does
/// not fill its box and is turned; see extents() of the parts layer.
Box3 seatedBox(const Seat&, const Box3& partBox);

/// The seat turned by 90 degrees: about the crown, so that the nose points to its left; or about the nose, so that the
/// crown points to its right.
Seat noseTurned(Seat);
Seat crownTurned(Seat);

} // namespace vicinal
