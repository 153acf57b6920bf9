#pragma once
// What stands there as rows of lists. Not for others.
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

/// Calls `use(of, row)` for every place that is not left out, then for what these stand on, with their numbers; `use`
/// says false to end it. Wheels are no places.
template<class Use> void eachRow(const Standings& all, Use&& use) {
    bool on = true;
    for (const auto& s : all) {
        if (!on || s->kind == Standing::Kind::Wheels) continue;
        const RunResult* run = s->asRun();
        const HeapResult* heap = s->asHeap();
        s->eachInstance([&](const Instance& i) {
            const Frame& f = i.frame();
            BodyRow row;
            row.body = i.body;
            row.place = heap ? heap->item->parts[i.body].place : long(i.place) + 1;
            row.part = &i.part.name;
            row.size = i.size();
            if (run) row.station = i.own ? run->placed->stations()[i.body] : run->placed->path.closest(f.seat);
            row.at = f.seat;
            row.angles = anglesOf(f.axes);
            row.q = Quat(f.axes);
            if (row.q.w() < 0) row.q.coeffs() *= -1;
            return on = use(*s, row);
        });
    }
}

} // namespace vicinal
