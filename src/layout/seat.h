#pragma once
#include "geometry/result.h"
#include "geometry/vec.h"
#include <optional>

namespace vicinal {

/// One of a part's six own directions.
enum class Axis { PlusX, MinusX, PlusY, MinusY, PlusZ, MinusZ };
Vec3 directionOf(Axis);

/// One of the 27 points of a part's box: each coordinate -1 (low side), 0 (middle) or 1 (high side).
struct BoxPoint {
    int x = 0, y = 0, z = -1;
    bool operator==(const BoxPoint&) const = default;
};

/// How a part sits on a path.
struct Seat {
    std::variant<BoxPoint, Vec3> point = BoxPoint{}; ///< a box point, or a typed point in the part's own axes, mm
    Axis nose = Axis::PlusX;                         ///< faces along the path
    Axis crown = Axis::PlusZ;                        ///< points up
};

/// Problem when nose and crown are not square to each other or the typed point is not a number.
std::optional<Problem> defectOf(const Seat&);

/// The seat point in the part's own axes, mm.
Vec3 seatPoint(const Seat&, const Box3& partBox);

/// Rotation from part axes to seat axes, in which the nose is +x and the crown +z. Precondition: the seat has no
/// defect.
Mat3 seatRotation(const Seat&);

/// The part's box in seat axes, measured from the seat point.
Box3 seatedBox(const Seat&, const Box3& partBox);

} // namespace vicinal
