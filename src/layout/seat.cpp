#include "layout/seat.h"
#include "base/say.h"

namespace vicinal {

Vec3 directionOf(Axis axis) {
    const int i = int(axis);
    return Vec3::Unit(i / 2) * (i % 2 == 0 ? 1.0 : -1.0);
}

std::optional<Axis> axisOf(const Direction& d) {
    for (int i = 0; i < 6; ++i)
        if (d.v == directionOf(Axis(i))) return Axis(i);
    return std::nullopt;
}

std::optional<Problem> defectOf(const Seat& seat) {
    const auto unit = [](const Vec3& v) { return std::abs(v.norm() - 1) < tolerance::rounding; }; // false for NaN too
    if (!unit(seat.nose.v))
        return Problem{"The nose has no direction. Pick a face or an edge, or choose one of the part's axes.", "nose"};
    if (!unit(seat.crown.v))
        return Problem{"The crown has no direction. Pick a face or an edge, or choose one of the part's axes.",
                       "crown"};
    if (seat.nose.v.cross(seat.crown.v).norm() < std::sin(kDegree))
        return Problem{"Nose and crown lie on the same axis of the part. Choose a crown square to the nose.", "crown"};
    if (const auto* p = std::get_if<Vec3>(&seat.point); p && !inReach(*p))
        return Problem{"The seat point has a coordinate that is not a number or beyond " + say::bound(kLargest) +
                           ". Type three lengths.",
                       "seatPoint"};
    if (seat.pins) {
        for (const Vec3& p : *seat.pins)
            if (!inReach(p))
                return Problem{"A pin has a coordinate that is not a number or beyond " + say::bound(kLargest) +
                                   ". Type three lengths.",
                               "pins"};
        const double d = ((*seat.pins)[1] - (*seat.pins)[0]).norm();
        if (d < 1e-3)
            return Problem{"Both pins are at the same point (" + say::mm(d) +
                               " apart). Pick the second one at the other end of the part.",
                           "pins"};
    }
    if (seat.hooks)
        for (const Vec3& p : *seat.hooks)
            if (!inReach(p))
                return Problem{"A coupling point has a coordinate that is not a number or beyond " +
                                   say::bound(kLargest) + ". Type three lengths.",
                               "hooks"};
    return std::nullopt;
}

Vec3 seatPoint(const Seat& seat, const Box3& box) {
    if (const auto* p = std::get_if<Vec3>(&seat.point)) return *p;
    const auto b = std::get<BoxPoint>(seat.point);
    const auto along = [](int k, double lo, double hi) {
        if (k == 0) return lo + (hi - lo) / 2;
        return k < 0 ? lo : hi;
    };
    return {along(b.x, box.min().x(), box.max().x()), along(b.y, box.min().y(), box.max().y()),
            along(b.z, box.min().z(), box.max().z())};
}

Mat3 seatRotation(const Seat& seat) {
    assert(!defectOf(seat));
    const Vec3 nose = seat.nose.v;
    Vec3 crown = seat.crown.v;
    if (const double lean = crown.dot(nose); lean != 0) crown = (crown - nose * lean).normalized();
    Mat3 R;
    R.row(0) = nose;
    R.row(1) = crown.cross(nose);
    R.row(2) = crown;
    return R;
}

Box3 seatedBox(const Seat& seat, const Box3& box) {
    const Mat3 R = seatRotation(seat);
    const Vec3 at = seatPoint(seat, box);
    Box3 out;
    for (int c = 0; c < 8; ++c) out.extend(Vec3(R * (box.corner(Box3::CornerType(c)) - at)));
    return out;
}

Seat noseTurned(Seat seat) {
    const Mat3 R = seatRotation(seat);
    seat.nose = Vec3(R.row(1));
    seat.crown = Vec3(R.row(2));
    return seat;
}

Seat crownTurned(Seat seat) {
    const Mat3 R = seatRotation(seat);
    seat.crown = Vec3(-R.row(1));
    return seat;
}

} // namespace vicinal
