#include "model/edits/run_edits.h"
#include <algorithm>
#include <cassert>
#include <cmath>

namespace vicinal {

Spacing firstSpacing(const PartResult& part, const Path& path) {
    assert(part.seated && part.body);
    Spacing out;
    const double length = part.seated->sizes().x(), L = path.length();
    const auto pins = pinsOf(*part.body, part.item->seat);
    if (const double pitch = pins ? ((*pins)[1] - (*pins)[0]).norm() : 0; pitch > L / 20'000 && pitch < L) {
        out.rule = StepOff{pitch};
        return out;
    }
    const auto* maker = std::get_if<Maker>(&part.item->shape);
    const bool close = maker && (std::holds_alternative<Plank>(*maker) || std::holds_alternative<Tile>(*maker));
    const double about = std::clamp(close ? length + 6 : std::max(length * 2, 100.0), L / 200, L);
    out.rule = EvenOut{about >= 10 ? std::round(about) : about};
    out.kept = {StepOff{std::min(about, L)}};
    return out;
}

Spacing switchedFrom(const RunResult& run, size_t rule) {
    const Spacing& was = run.item->spacing;
    Spacing out = switched(was, rule);
    if (rule == was.rule.index() || !run.placed || run.stale() || run.placed->count() < 2) return out;
    const Placed& now = *run.placed;
    const double value = was.measure == Measure::ClearGap ? now.laid->pitch - now.occupied(0).total() : now.laid->pitch;
    if (auto* share = std::get_if<ShareOut>(&out.rule)) share->count = long(now.count());
    if (auto* step = std::get_if<StepOff>(&out.rule)) step->pitch = std::floor(value * 1000) / 1000;
    if (auto* even = std::get_if<EvenOut>(&out.rule))
        if (const auto* step = std::get_if<StepOff>(&was.rule)) even->about = step->pitch;
    return out;
}

Spacing withCount(const Spacing& was, long count) {
    const size_t shareOut = SpacingRule(ShareOut{}).index();
    const bool even = std::holds_alternative<EvenOut>(was.rule);
    Spacing out = switched(was, shareOut);
    auto& share = std::get<ShareOut>(out.rule);
    if (even) share.ends = ShareEnds::AtEnds; // as evened out places stand
    share.count = count;
    return out;
}

} // namespace vicinal
