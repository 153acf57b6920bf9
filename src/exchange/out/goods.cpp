#include "exchange/out/goods.h"
#include "base/text.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <algorithm>

namespace vicinal {

Result<Goods> goodsOf(const Evaluation& e, const std::vector<Id>& what) {
    Goods out;
    const bool all = what.empty();
    const auto wanted = [&](Id id) { return all || std::find(what.begin(), what.end(), id) != what.end(); };
    for (const auto& r : e.standing()) {
        if (!wanted(r->item->id) || (all && r->item->hidden)) continue;
        const bool there = r->placed && r->placed->present > 0;
        if (there && (!r->problem || r->heap)) {
            out.runs.push_back(r);
            continue;
        }
        const Words why = r->problem ? r->problem->text : Words("It has no places.");
        if (!all) return Problem{"\"" + text::quoted(r->item->name) + "\" cannot be sent out: " + why, "what"};
        out.remarks.push_back("\"" + text::quoted(r->item->name) + "\" is left out: " + why);
    }
    for (const auto& [id, p] : e.paths) {
        if (!wanted(id) || (all && p->item->hidden)) continue;
        if (p->path && !p->problem)
            out.paths.push_back(p);
        else if (!all)
            return Problem{"Path \"" + text::quoted(p->item->name) +
                               "\" cannot be sent out: " + (p->problem ? p->problem->text : Words("it is not there.")),
                           "what"};
    }
    if (out.runs.empty() && out.paths.empty())
        return Problem{all ? "The document has nothing that could be sent out. Make a run first."
                           : "What this delivery asks for is not in the document any more. Tick something else.",
                       "what"};
    return out;
}

std::array<double, 3> toneOf(int colour) {
    static constexpr std::array<double, 3> kTones[] = {{0.54, 0.70, 0.68}, {0.69, 0.63, 0.55}, {0.59, 0.63, 0.73},
                                                       {0.69, 0.59, 0.66}, {0.64, 0.68, 0.58}, {0.72, 0.61, 0.56},
                                                       {0.57, 0.66, 0.72}, {0.66, 0.66, 0.60}};
    return kTones[size_t(((colour % 8) + 8) % 8)];
}

} // namespace vicinal
