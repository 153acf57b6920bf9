#include "layout/stub.h"
#include "layout/spacing/rules.h"

namespace vicinal {

Result<Stub> stubOf(PlacementInput order, double pitch) {
    if (!(pitch > 0) || !std::isfinite(pitch)) return Problem{"The pitch must be above 0.", "pitch"};
    if (auto wrong = defectOf(order.seat)) return *wrong;
    // Wide parts get a wider bend: on the inside they would run into each other whatever their seat.
    const Box3 box = order.seated ? *order.seated : seatedBox(order.seat, order.partBox);
    const double wide = box.isEmpty() ? 0 : 2.5 * std::max(std::abs(box.min().y()), std::abs(box.max().y()));
    const double room = 0.6 * pitch, R = std::max(3 * pitch / (kPi / 2), wide), sweep = (3 * pitch + room) / R;
    // The arc ends at the origin heading +x: its centre is R to the left of there.
    const double start = -kPi / 2 - sweep;
    const Arc bend{Vec3(0, R, 0), Vec3(std::cos(start), std::sin(start), 0), Vec3(-std::sin(start), std::cos(start), 0),
                   R, sweep};
    const double end = 3 * pitch + room;
    auto path = Path::make({bend, Line{Vec3(0, 0, 0), Vec3(end, 0, 0)}}, false);
    if (!path) return path.problem();
    order.spacing = Spacing{};
    order.spacing->rule = StepOff{pitch};
    order.spacing->insetStart = room;
    order.spacing->insetEnd = room / 2; // so that rounding never costs the last place
    order.leftOut.clear();
    auto places = place(*path, order);
    if (!places) return places.problem();
    return Stub{*path, std::move(places).value()};
}

} // namespace vicinal
