#pragma once
// The bodies of runs as rows of lists. Not for others.
#include "exchange/out/send_out.h"
#include "layout/facing/facing.h"
#include "model/document/heap.h"
#include <optional>

namespace vicinal {

struct BodyRow {
    size_t body = 0;
    long place = 0; ///< from 1; of a loose part the number it had, 0: none
    const std::string* part = nullptr;
    std::optional<double> station{}; ///< mm; nothing follows a path: nothing
    double size = 1;
    Vec3 at;
    Angles angles;
    Quat q;
};

/// Calls `use(run, row)` for every place that is not left out, then for what these stand on, with their numbers; `use`
/// says false to end it.
template<class Use> void eachRow(const Runs& runs, Use&& use) {
    for (const auto& run : runs) {
        const Placed& p = *run->placed;
        for (size_t i = 0; i < p.bodies(); ++i) {
            if (p.leftOut(i)) continue;
            const Mat3& R = p.frame(i).axes;
            BodyRow row;
            row.body = i;
            row.place = run->heap ? run->heap->parts[i].place : long(p.placeOf(i)) + 1;
            row.part = &p.part(i).name;
            row.size = p.laid->size[i];
            if (run->follows()) row.station = i < p.count() ? p.stations()[i] : p.path.closest(p.frame(i).seat);
            row.at = p.frame(i).seat;
            row.angles = anglesOf(R);
            row.q = Quat(R);
            if (row.q.w() < 0) row.q.coeffs() *= -1;
            if (!use(*run, row)) return;
        }
    }
}

} // namespace vicinal
