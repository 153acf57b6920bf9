#include "model/evaluate/bodies/heaps.h"
#include "base/say.h"
#include "base/text.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include <algorithm>
#include <unordered_map>

namespace vicinal {

std::shared_ptr<const HeapResult> heapOf(const std::shared_ptr<const HeapItem>& item, const Evaluation& now,
                                         const Evaluation* before) {
    // What is dragged is mostly something else: a heap of a hundred thousand is not gone through then.
    const auto old = before ? before->heap(item->id) : nullptr;
    const auto same = [&](const std::shared_ptr<const PartResult>& p) {
        const auto found = p ? now.parts.find(p->item->id) : now.parts.end();
        return found != now.parts.end() && found->second == p;
    };
    if (old && old->item == item && std::all_of(old->parts.begin(), old->parts.end(), same)) return old;
    std::vector<std::shared_ptr<const PartResult>> parts;
    for (Id id : partsOf(*item)) {
        const auto found = now.parts.find(id);
        parts.push_back(found == now.parts.end() ? nullptr : found->second);
    }
    if (old && old->item == item && old->parts == parts) return old; // one is missing, as before
    auto out = std::make_shared<HeapResult>();
    out->id = item->id;
    out->name = item->name;
    out->colour = item->colour;
    out->hidden = item->hidden;
    out->item = item;
    out->parts = parts;
    auto poses = std::make_shared<Poses>();
    std::vector<PlacedPart> used;
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
        slots[p->item->id] = std::uint16_t(used.size());
        poses->usedSlots.push_back(slotOf(p->item->seat, p->mesh->box, p->seated));
        used.push_back({p->item->id, p->item->name, p->mesh, p->body, p->item->seat});
    }
    std::vector<std::uint16_t> slot;
    std::vector<double> size;
    std::vector<std::uint8_t> flags;
    int there = 0;
    for (const Loose& l : item->parts) { // as many places as loose parts, so that their numbers are the same
        const auto found = slots.find(l.part);
        poses->frames.push_back(l.frame);
        slot.push_back(found == slots.end() ? std::uint16_t(0) : found->second);
        size.push_back(l.size);
        flags.push_back(found == slots.end() ? Instances::kLeftOut : std::uint8_t(0));
        there += found != slots.end();
    }
    const size_t n = item->parts.size();
    if (n == 0 || used.empty()) {
        out->verdict = {out->problem ? Mark::Wrong : Mark::Good, out->problem ? out->problem->text : Words("Empty."),
                        -1};
        return out;
    }
    poses->slot = std::move(slot);
    poses->size = std::move(size);
    out->instances = std::make_shared<const Instances>(Instances{std::move(poses), std::move(flags), there});
    out->placedParts = std::make_shared<const std::vector<PlacedPart>>(std::move(used));
    out->verdict = {out->problem ? Mark::Wrong : Mark::Good,
                    out->problem ? out->problem->text
                                 : Words(say::count(there) + (there == 1 ? " loose part" : " loose parts") +
                                         (item->frozen ? ", frozen" : "")),
                    -1};
    return out;
}

} // namespace vicinal
