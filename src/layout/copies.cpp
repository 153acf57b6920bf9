// What is special about single places of further rows, tiers and echoes.
#include "layout/stages.h"
#include <cmath>

namespace vicinal {

std::optional<Problem> exceptCopies(const Path& path, const PlaceOrder& order, const Facing& facing, Laid& out,
                                    const std::function<Occupied(size_t, const Mat3&)>& taken) {
    const size_t originals = out.originals(), all = out.count();
    const auto ofCopy = [&](const Exception& e) {
        return !e.station && e.place > 0 && size_t(e.place) > originals && size_t(e.place) <= all;
    };
    if (std::none_of(order.exceptions.begin(), order.exceptions.end(), ofCopy)) return std::nullopt;
    std::erase_if(out.staleExceptions, [&](int k) { return ofCopy(order.exceptions[size_t(k)]); });
    spread(out.slot, all);
    spread(out.size, all);
    spread(out.occupied, all);
    const auto bases = basesOf(path, order, facing, out);
    // Echoes are aimed where the echo of their target would be: they are turned as their originals are.
    const bool aims = vicinal::aims(order, facing) && order.echoes.none();
    for (const Exception& x : order.exceptions) {
        if (!ofCopy(x)) continue;
        const size_t i = size_t(x.place) - 1;
        Frame& f = out.frames[i];
        const Mat3& own = bases[i].axes;
        if (x.out) out.out.push_back(i);
        const auto aim = [&](const Vec3& seat) {
            const Vec3 d = aimOf(facing, seat) - seat;
            return aims && d.norm() > tolerance::length ? aimed(d.normalized(), own) : own;
        };
        const Mat3 turn = aim(f.seat).transpose() * f.axes;
        f.seat += own * x.move;
        if (aims && !((aimOf(facing, f.seat) - f.seat).norm() > tolerance::length)) return atTarget(facing, i);
        if (aims) f.axes = aim(f.seat) * turn;
        if (!x.turn.isZero(0)) {
            Facing t;
            t.turn = x.turn;
            f.axes *= extraTurn(t);
        }
        out.size.at(i) *= x.size;
        if (x.part > 0) out.slot.at(i) = std::uint16_t(x.part - 1);
        out.occupied.at(i) = taken(i, own.transpose() * f.axes);
    }
    return std::nullopt;
}

} // namespace vicinal
