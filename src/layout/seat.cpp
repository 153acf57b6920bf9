#include "layout/seat.h"

namespace vicinal {

Vec3 directionOf(Axis axis) {
    const int i = int(axis);
    return Vec3::Unit(i / 2) * (i % 2 == 0 ? 1.0 : -1.0);
}

std::optional<Problem> defectOf(const Seat& seat) {
    if (int(seat.nose) / 2 == int(seat.crown) / 2)
        return Problem{"Nose and crown lie on the same axis of the part. Choose a crown square to the nose.", "crown"};
    if (const auto* p = std::get_if<Vec3>(&seat.point); p && !finite(*p))
        return Problem{"The seat point has a coordinate that is not a number. Type three lengths.", "seatPoint"};
    return std::nullopt;
}

Vec3 seatPoint(const Seat& seat, const Box3& box) {
    if (const auto* p = std::get_if<Vec3>(&seat.point)) return *p;
    const auto b = std::get<BoxPoint>(seat.point);
    const auto along = [](int k, double lo, double hi) { return k < 0 ? lo : k > 0 ? hi : lo + (hi - lo) / 2; };
    return {along(b.x, box.min().x(), box.max().x()), along(b.y, box.min().y(), box.max().y()),
            along(b.z, box.min().z(), box.max().z())};
}

Mat3 seatRotation(const Seat& seat) {
    const Vec3 nose = directionOf(seat.nose), crown = directionOf(seat.crown);
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
    out.extend(Vec3(R * (box.min() - at)));
    out.extend(Vec3(R * (box.max() - at)));
    return out;
}

} // namespace vicinal
