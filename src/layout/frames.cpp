#include "layout/stages.h"

namespace vicinal {

static_assert(sizeof(Frame) == 12 * sizeof(double)); // written as one row of numbers

void FrameLoop::fill(std::span<const double> stations, Frame* out, Occupied* occupied) const {
    if (stations.empty()) return;
    // The extra turn is the same for all places: folded beforehand.
    const Mat3 turn = extraTurn(facing);
    const bool plain = !turned || (facing.turn.isZero(0) && !facing.backwards);
    Facing unturned = facing;
    unturned.turn.setZero();
    unturned.backwards = false;
    double* m = out->axes.data();
    const auto put = [&](size_t i, const Vec3& point, const Vec3& tangent, const Mat3& F)
        __attribute__((always_inline)) {
        const Mat3 R = plain ? F : Mat3(F * turn);
        for (int c = 0; c < 3; ++c, m += 3) m[0] = R(0, c), m[1] = R(1, c), m[2] = R(2, c);
        m[0] = point.x(), m[1] = point.y(), m[2] = point.z();
        m += 3;
        if (occupied) occupied[i] = occupancy.of(tangent, R);
    };
    faceAt(path, stations, unturned, partRotation, put);
}

} // namespace vicinal
