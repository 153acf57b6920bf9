// What is special about single places of further rows, tiers and echoes, and what stands under these.
#include "layout/stages.h"
#include <cmath>

namespace vicinal {

std::optional<Problem> exceptCopies(const Path& path, const PlacementInput& order, const Facing& facing, Placement& out,
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

void addBelow(const PlacementInput& order, const std::vector<Below>& below, Placement& out) {
    if (below.empty()) return;
    const size_t places = out.count(), originals = std::max<size_t>(1, out.originals());
    spread(out.slot, places);
    if (out.slot.same()) out.slot = Column<std::uint16_t>(std::vector<std::uint16_t>(places, out.slot[0]));
    if (!out.size.same()) spread(out.size, places);
    // Mirrored copies have it on their other side.
    std::vector<bool> mirrored(places, false);
    size_t all = places;
    for (const Echo* e : {&order.echoes.one, &order.echoes.two}) all /= size_t(e->times());
    for (const Echo* e : {&order.echoes.one, &order.echoes.two}) {
        const auto times = size_t(e->times());
        for (size_t k = 1; k < times; ++k)
            for (size_t i = 0; i < all; ++i) mirrored[k * all + i] = mirrored[i] != (e->kind == EchoKind::Mirrored);
        all *= times;
    }
    const Vec3 side(1, -1, 1);
    for (size_t from = 0; from < places; from += originals)
        for (const Below& b : below) {
            const size_t place = from + b.place;
            if (place >= places) continue;
            const Frame &own = out.frames[b.place], &copy = out.frames[place];
            Frame f = b.frame;
            if (place != b.place) {
                Mat3 turn = own.axes.transpose() * f.axes;
                Vec3 at = own.axes.transpose() * (f.seat - own.seat);
                if (mirrored[place]) {
                    turn = side.asDiagonal() * turn * side.asDiagonal();
                    at = side.cwiseProduct(at);
                }
                f.axes = copy.axes * turn;
                f.seat = copy.seat + copy.axes * at;
            }
            out.frames.push_back(f);
            out.carriers.push_back(std::uint32_t(place));
            out.slot.add(std::uint16_t(b.slot));
            if (!out.size.same()) out.size.add(out.size[place]);
        }
}

} // namespace vicinal
