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
        if (number >= 1 && number <= n) out.leftOut[number - 1] = 1;
        else out.staleLeftOut.push_back(number);
    }
    out.present = n - int(std::count(out.leftOut.begin(), out.leftOut.end(), 1));
    out.gaps.clear();
    int first = -1, before = -1;
    const auto gap = [&](int a, int b, double lap) {
        out.gaps.push_back({a, b, out.stations[a] + out.occupiedAt(a).ahead, out.stations[b] + lap - out.occupiedAt(b).behind});
    };
    for (int i = 0; i < n; ++i) {
        if (out.leftOut[i]) continue;
        if (before >= 0) gap(before, i, out.stations[i] < out.stations[before] ? path.length() : 0);
        else first = i;
        before = i;
    }
    if (path.closed() && before >= 0) gap(before, first, out.stations[first] > out.stations[before] ? 0 : path.length());
}

Result<Places> place(const Path& path, const PlaceOrder& order, Places out) {
    if (auto defect = defectOf(order.seat)) return *defect;
    if (order.partBox.isEmpty()) return Problem{"The part has no size. Give it dimensions or bring in a mesh with triangles.", "part"};
    if (!order.facing.turn.allFinite()) return Problem{"The extra turn is not a number. Type an angle.", "turn"};
    const Mat3 R_SP = seatRotation(order.seat);
    const Vec3 seat = seatPoint(order.seat, order.partBox);
    const Occupancy occupancy(path, order.facing, R_SP, seatedBox(order.seat, order.partBox));
    auto solved = solveSpacing(path, order.spacing, occupancy);
    if (!solved) return solved.problem();
    out.stations = std::move(solved.value().at);
    out.pitch = solved->pitch;
    out.leftOver = solved->leftOver;
    const size_t n = out.count();
    out.poses.resize(n);
    out.occupied.resize(occupancy.constant() ? 1 : n);
    if (occupancy.constant()) out.occupied[0] = occupancy.at(0);
    const bool plain = R_SP.isIdentity(0);
    const bool varies = !occupancy.constant();

    const auto fill = [&](size_t from, size_t to) {
        faceAt(path, std::span(out.stations).subspan(from, to - from), order.facing, R_SP,
               [&](size_t i, const Vec3& point, const Vec3& tangent, const Mat3& R_WS) {
                   Mat4& pose = out.poses[from + i];
                   const Mat3 R = plain ? R_WS : Mat3(R_WS * R_SP);
                   pose.topLeftCorner<3, 3>() = R;
                   pose.topRightCorner<3, 1>() = point - R * seat;
                   pose.bottomLeftCorner<1, 3>().setZero();
                   pose(3, 3) = 1;
                   if (varies) out.occupied[from + i] = occupancy.of(tangent, R_WS);
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
