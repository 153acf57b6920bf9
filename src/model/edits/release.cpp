#include "model/edits/release.h"
#include "base/text.h"
#include "layout/spacing/rules.h"
#include "model/delivery/delivery.h"
#include "model/document/defects.h"
#include "model/document/heap.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <algorithm>

namespace vicinal {

Result<Document> released(Document d, const RunResult& run, PathStays stays) {
    if (!run.placed || run.problem || run.placed->present == 0)
        return Problem{"This run has no places to release. Mend it first.", "run"};
    for (const auto& other : d.runs)
        if (other->id != run.item->id && other->spacing->bays == BayEdges::Run &&
            other->spacing->bayRun == run.item->id)
            return Problem{"The bays of \"" + text::quoted(other->name) +
                               "\" lie between the places of this run. Release that one first, or give it other bays.",
                           "run"};
    HeapItem heap;
    heap.name = run.item->name;
    heap.colour = run.item->colour;
    const Placed& p = *run.placed;
    for (size_t i = 0; i < p.bodies(); ++i)
        if (!p.leftOut(i))
            heap.parts.push_back({p.part(i).id, p.frame(i), p.laid->size[i], i < p.count() ? long(i) + 1 : 0});
    const Id path = run.item->path;
    // Deliveries that asked for the run ask for the heap.
    const Id next = d.nextId;
    for (const auto& delivery : std::vector(d.deliveries)) {
        Delivery other = *delivery;
        std::replace(other.what.begin(), other.what.end(), run.item->id, next);
        if (other.what != delivery->what) d = with(std::move(d), std::move(other));
    }
    d = without(std::move(d), run.item->id);
    d = with(std::move(d), std::move(heap));
    if (stays == PathStays::Gone && usersOf(d, path).empty()) d = without(std::move(d), path);
    if (stays == PathStays::Hidden)
        if (const auto item = d.path(path)) {
            PathItem hidden = *item;
            hidden.hidden = true;
            d = with(std::move(d), std::move(hidden));
        }
    return d;
}

namespace {

template<class Change> Result<Document> changed(Document d, Id id, Change&& change) {
    const auto item = d.heap(id);
    if (!item) return Problem{"This heap is not there any more.", "heap"};
    if (item->frozen)
        return Problem{"\"" + text::quoted(item->name) + "\" is frozen: its parts stay as they are. Thaw it first.",
                       "heap"};
    HeapItem heap = *item;
    change(heap);
    if (auto p = defectOf(heap)) return *p;
    return with(std::move(d), std::move(heap));
}

bool holds(const HeapItem& h, int i) { return i >= 0 && size_t(i) < h.parts.size(); }

} // namespace

Result<Document> movedLoose(Document d, Id id, const std::set<int>& which, const Vec3& by, const Mat3& R,
                            const Vec3& about) {
    return changed(std::move(d), id, [&](HeapItem& h) {
        for (int i : which) {
            if (!holds(h, i)) continue;
            Frame& f = h.parts[size_t(i)].frame;
            // Of a rotation that was handed on a thousand times, too.
            f.axes = Quat(Mat3(R * f.axes)).normalized().toRotationMatrix();
            f.seat = R * (f.seat - about) + about + by;
        }
    });
}

Result<Document> withoutLoose(Document d, Id id, const std::set<int>& which) {
    return changed(std::move(d), id, [&](HeapItem& h) {
        for (auto i = which.rbegin(); i != which.rend(); ++i)
            if (holds(h, *i)) h.parts.erase(h.parts.begin() + *i);
    });
}

Result<Document> swappedLoose(Document d, Id id, const std::set<int>& which, Id part) {
    if (!d.part(part)) return Problem{"There is no such part.", "part"};
    return changed(std::move(d), id, [&](HeapItem& h) {
        for (int i : which)
            if (holds(h, i)) h.parts[size_t(i)].part = part;
    });
}

} // namespace vicinal
