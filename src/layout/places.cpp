#include "layout/places.h"
#include <algorithm>

namespace vicinal {

Mat3 seatToWorld(const Mat4& pose, const Seat& seat) {
    return pose.topLeftCorner<3, 3>() * seatRotation(seat).transpose();
}

void applyExceptions(Places& out, const std::vector<int>& leftOut, const Path& path) {
    const int n = int(out.count());
    out.leftOut.assign(n, 0);
    out.staleLeftOut.clear();
    for (int number : leftOut) {
        if (number >= 1 && number <= n)
            out.leftOut[number - 1] = 1;
        else
            out.staleLeftOut.push_back(number);
    }
    out.present = n - int(std::count(out.leftOut.begin(), out.leftOut.end(), 1));
    out.gaps.resize(n);
    if (leftOut.empty() && out.occupied.size() == 1 && !path.closed()) { // the common case, without a branch a place
        const Occupied o = out.occupied[0];
        for (int i = 0; i + 1 < n; ++i)
            out.gaps[i] = {i, i + 1, out.stations[i] + o.ahead, out.stations[i + 1] - o.behind};
        out.gaps.resize(std::max(0, n - 1));
        return;
    }
    int first = -1, before = -1, count = 0;
    const double L = path.length();
    const double* at = out.stations.data();
    const auto gap = [&](int a, int b, double lap) {
        out.gaps[count++] = {a, b, at[a] + out.occupiedAt(a).ahead, at[b] + lap - out.occupiedAt(b).behind};
    };
    for (int i = 0; i < n; ++i) {
        if (out.leftOut[i]) continue;
        if (before >= 0)
            gap(before, i, at[i] < at[before] ? L : 0);
        else
            first = i;
        before = i;
    }
    if (path.closed() && before >= 0) gap(before, first, at[first] > at[before] ? 0 : L);
    out.gaps.resize(count);
}

Result<Places> place(const Path& path, const PlaceOrder& order, Places out) {
    if (auto defect = defectOf(order.seat)) return *defect;
    if (order.partBox.isEmpty())
        return Problem{"The part has no size. Give it dimensions or bring in a mesh with triangles.", "part"};
    if (!order.facing.turn.allFinite()) return Problem{"The extra turn is not a number. Type an angle.", "turn"};
    const Mat3 R_SP = seatRotation(order.seat);
    const Vec3 seat = seatPoint(order.seat, order.partBox);
    const Occupancy occupancy(path, order.facing, R_SP,
                              order.seated ? *order.seated : seatedBox(order.seat, order.partBox));
    auto solved = solveSpacing(path, order.spacing, occupancy, std::move(out.stations));
    if (!solved) return solved.problem();
    out.stations = std::move(solved.value().at);
    out.pitch = solved->pitch;
    out.leftOver = solved->leftOver;
    out.uneven = solved->uneven;
    const size_t n = out.count();
    out.poses.resize(n);
    out.occupied.resize(occupancy.constant() ? 1 : n);
    if (occupancy.constant()) out.occupied[0] = occupancy.at(0);
    const bool varies = !occupancy.constant();
    // The extra turn and the seat are the same for all places: one rotation M and one offset, folded beforehand.
    const Mat3 turn = extraTurn(order.facing), M = turn * R_SP;
    const Vec3 offset = M * seat;
    const bool plain = M.isIdentity(0), atOrigin = offset.isZero(0);
    Facing unturned = order.facing;
    unturned.turn.setZero();

    const auto fill = [&](size_t from, size_t to) {
        double* m = out.poses[from].data();
        faceAt(
            path, std::span(out.stations).subspan(from, to - from), unturned,
            R_SP, [&](size_t i, const Vec3& point, const Vec3& tangent, const Mat3& F) __attribute__((always_inline)) {
                const Vec3 origin = atOrigin ? point : Vec3(point - F * offset);
                const Mat3 R = plain ? F : Mat3(F * M);
                for (int c = 0; c < 3; ++c, m += 4) m[0] = R(0, c), m[1] = R(1, c), m[2] = R(2, c), m[3] = 0;
                m[0] = origin.x(), m[1] = origin.y(), m[2] = origin.z(), m[3] = 1;
                m += 4;
                if (varies) out.occupied[from + i] = occupancy.of(tangent, F * turn);
            });
    };
    // Stations rise except where a closed run wraps round the seam.
    const size_t wrap = size_t(std::is_sorted_until(out.stations.begin(), out.stations.end()) - out.stations.begin());
    fill(0, wrap);
    if (wrap < n) fill(wrap, n);
    applyExceptions(out, order.leftOut, path);
    return out;
}

} // namespace vicinal
