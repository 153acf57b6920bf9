#include "model/evaluate/bodies/heaps.h"
#include "base/text.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include <algorithm>
#include <unordered_map>

namespace vicinal {

RunItem faceOf(Id id, const std::string& name, int colour, bool hidden) {
    RunItem face;
    face.id = id;
    face.name = name;
    face.colour = colour;
    face.hidden = hidden;
    return face;
}

std::shared_ptr<Placed> placedNowhere() {
    // Nothing asks it for the way: a path that is there, and no more.
    auto stub = Path::make({Line{Vec3::Zero(), Vec3::UnitX()}}, false);
    return std::make_shared<Placed>(Placed{{}, stub.value(), {}});
}

std::shared_ptr<const RunResult> heapOf(const std::shared_ptr<const HeapItem>& item, const Evaluation& now,
                                        const Evaluation* before) {
    // What is dragged is mostly something else: a heap of a hundred thousand is not gone through then.
    const auto old = before ? before->heap(item->id) : nullptr;
    const auto same = [&](const std::shared_ptr<const PartResult>& p) {
        const auto found = p ? now.parts.find(p->item->id) : now.parts.end();
        return found != now.parts.end() && found->second == p;
    };
    if (old && old->heap == item && std::all_of(old->parts.begin(), old->parts.end(), same)) return old;
    std::vector<std::shared_ptr<const PartResult>> parts;
    for (Id id : partsOf(*item)) {
        const auto found = now.parts.find(id);
        parts.push_back(found == now.parts.end() ? nullptr : found->second);
    }
    if (old && old->heap == item && old->parts == parts) return old; // one is missing, as before
    auto out = std::make_shared<RunResult>();
    out->item = std::make_shared<const RunItem>(faceOf(item->id, item->name, item->colour, item->hidden));
    out->heap = item;
    out->parts = parts;
    out->part = parts.empty() ? nullptr : parts.front();
    auto laid = std::make_shared<Laid>();
    auto placed = placedNowhere();
    std::unordered_map<Id, std::uint16_t> slots;
    for (const auto& p : parts) {
        if (!p) {
            out->problem = Problem{"A part of this heap was deleted. Undo that, or delete what is missing.", "part"};
            continue;
        }
        if (p->problem || !p->body || !p->mesh) {
            if (!out->problem)
                out->problem = Problem{"Part \"" + text::quoted(p->item->name) +
                                           "\" cannot stand here: " + (p->problem ? p->problem->text : Words()),
                                       "part"};
            continue;
        }
        slots[p->item->id] = std::uint16_t(laid->usedSlots.size());
        laid->usedSlots.push_back(slotOf(p->item->seat, p->mesh->box, p->seated));
        placed->parts.push_back({p->item->id, p->item->name, p->mesh, p->body, p->item->seat});
    }
    std::vector<std::uint16_t> slot;
    std::vector<double> size;
    std::vector<std::uint8_t> flags;
    int there = 0;
    for (const Loose& l : item->parts) { // as many places as loose parts, so that their numbers are the same
        const auto found = slots.find(l.part);
        laid->frames.push_back(l.frame);
        laid->stations.push_back(0);
        slot.push_back(found == slots.end() ? std::uint16_t(0) : found->second);
        size.push_back(l.size);
        flags.push_back(found == slots.end() ? Places::kLeftOut : std::uint8_t(0));
        there += found != slots.end();
    }
    const size_t n = item->parts.size();
    if (n == 0 || placed->parts.empty()) {
        out->verdict = {out->problem ? Mark::Wrong : Mark::Good, out->problem ? out->problem->text : Words("Empty."),
                        -1};
        return out;
    }
    laid->inRow = n;
    laid->slot = std::move(slot);
    laid->size = std::move(size);
    laid->occupied = Occupied{};
    placed->flags = std::move(flags);
    placed->present = there;
    placed->laid = std::move(laid);
    out->placed = std::move(placed);
    out->verdict = {out->problem ? Mark::Wrong : Mark::Good,
                    out->problem ? out->problem->text
                                 : Words(std::to_string(there) + (there == 1 ? " loose part" : " loose parts") +
                                         (item->frozen ? ", frozen" : "")),
                    -1};
    return out;
}

} // namespace vicinal
