#include "layout/places.h"
#include <algorithm>

namespace vicinal {

Slot slotOf(const Seat& seat, const Box3& box, const std::optional<Box3>& seated) {
    Slot out;
    out.turn = seatRotation(seat);
    out.origin = -(out.turn * seatPoint(seat, box));
    out.seated = seated ? *seated : seatedBox(seat, box);
    return out;
}

Mat4 Laid::pose(size_t i) const {
    const Frame& f = frames[i];
    const Slot& s = usedSlots[slot[i]];
    const double k = size[i];
    Mat4 m;
    m.topLeftCorner<3, 3>().noalias() = f.axes * s.turn;
    m.topRightCorner<3, 1>().noalias() = f.axes * s.origin;
    if (k != 1) m.topRows<3>() *= k;
    m.topRightCorner<3, 1>() += f.seat;
    m.row(3) << 0, 0, 0, 1;
    return m;
}

Places placesOf(std::shared_ptr<const Laid> laid, const std::vector<int>& leftOut, const Path& path, Places out) {
    out.staleLeftOut.clear();
    out.flags = std::uint8_t(0);
    out.laid = std::move(laid);
    const Laid& all = *out.laid;
    const int n = int(all.count());
    const double* at = all.stations.data();
    out.present = n;
    if (leftOut.empty() && all.occupied.same() && !path.closed()) { // the common case, without a branch a place
        const Occupied o = all.occupied[0];
        out.gaps.resize(size_t(std::max(0, n - 1)));
        for (int i = 0; i + 1 < n; ++i) out.gaps[size_t(i)] = {i, i + 1, at[i] + o.ahead, at[i + 1] - o.behind};
        return out;
    }
    std::vector<std::uint8_t> flags(size_t(n), 0);
    bool any = false;
    for (int number : leftOut) {
        if (number < 1 || number > n) {
            out.staleLeftOut.push_back(number);
            continue;
        }
        any = true;
        out.present -= flags[size_t(number) - 1] == 0;
        flags[size_t(number) - 1] |= Places::kLeftOut;
    }
    out.gaps.resize(size_t(n));
    int first = -1, before = -1, count = 0;
    const double L = path.length();
    const auto gap = [&](int a, int b, double lap) {
        out.gaps[size_t(count++)] = {a, b, at[a] + all.occupied[size_t(a)].ahead,
                                     at[b] + lap - all.occupied[size_t(b)].behind};
    };
    for (int i = 0; i < n; ++i) {
        if (flags[size_t(i)] & Places::kLeftOut) continue;
        if (before >= 0)
            gap(before, i, at[i] < at[before] ? L : 0);
        else
            first = i;
        before = i;
    }
    if (path.closed() && before >= 0) gap(before, first, at[first] > at[before] ? 0 : L);
    out.gaps.resize(size_t(count));
    if (any) out.flags = std::move(flags);
    return out;
}

Result<Laid> lay(const Path& path, const PlaceOrder& order, Laid out) {
    if (auto defect = defectOf(order.seat)) return *defect;
    if (order.partBox.isEmpty())
        return Problem{"The part has no size. Give it dimensions or bring in a mesh with triangles.", "part"};
    if (!order.facing.turn.allFinite()) return Problem{"The extra turn is not a number. Type an angle.", "turn"};
    out.usedSlots = {slotOf(order.seat, order.partBox, order.seated)};
    out.slot = 0;
    out.size = 1;
    const Mat3 R_SP = out.usedSlots[0].turn;
    const Occupancy occupancy(path, order.facing, R_SP, out.usedSlots[0].seated);
    auto solved = solveSpacing(path, order.spacing, occupancy, std::move(out.stations));
    if (!solved) return solved.problem();
    out.stations = std::move(solved.value().at);
    out.pitch = solved->pitch;
    out.leftOver = solved->leftOver;
    out.uneven = solved->uneven;
    const size_t n = out.count();
    out.frames.resize(n);
    const bool varies = !occupancy.constant();
    if (!varies) out.occupied = occupancy.at(0);
    Occupied* occupied = varies ? out.occupied.each(n).data() : nullptr;
    // The extra turn is the same for all places: folded beforehand.
    const Mat3 turn = extraTurn(order.facing);
    const bool plain = order.facing.turn.isZero(0);
    Facing unturned = order.facing;
    unturned.turn.setZero();

    const auto fill = [&](size_t from, size_t to) {
        double* m = out.frames[from].axes.data();
        faceAt(
            path, std::span(out.stations).subspan(from, to - from), unturned,
            R_SP, [&](size_t i, const Vec3& point, const Vec3& tangent, const Mat3& F) __attribute__((always_inline)) {
                const Mat3 R = plain ? F : Mat3(F * turn);
                for (int c = 0; c < 3; ++c, m += 3) m[0] = R(0, c), m[1] = R(1, c), m[2] = R(2, c);
                m[0] = point.x(), m[1] = point.y(), m[2] = point.z();
                m += 3;
                if (varies) occupied[from + i] = occupancy.of(tangent, R);
            });
    };
    static_assert(sizeof(Frame) == 12 * sizeof(double)); // written as one row of numbers
    // Stations rise except where a closed run wraps round the seam.
    const size_t wrap = size_t(std::is_sorted_until(out.stations.begin(), out.stations.end()) - out.stations.begin());
    fill(0, wrap);
    if (wrap < n) fill(wrap, n);
    return out;
}

Result<Places> place(const Path& path, const PlaceOrder& order) {
    auto laid = lay(path, order);
    if (!laid) return laid.problem();
    return placesOf(std::make_shared<const Laid>(std::move(laid).value()), order.leftOut, path);
}

} // namespace vicinal
