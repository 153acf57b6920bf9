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
    const size_t n = now.laid->inRow;
    const double value = now.laid->value > 0 && was.measure != Measure::OfLength ? now.laid->value : now.laid->pitch;
    const double rounded = std::floor(value * 1000) / 1000;
    if (auto* share = std::get_if<ShareOut>(&out.rule)) {
        share->count = long(n);
        if (const auto* even = std::get_if<EvenOut>(&was.rule)) share->ends = even->ends;
    }
    if (auto* step = std::get_if<StepOff>(&out.rule)) step->pitch = rounded;
    if (auto* even = std::get_if<EvenOut>(&out.rule)) {
        even->about = rounded;
        if (const auto* step = std::get_if<StepOff>(&was.rule)) even->about = step->pitch;
        if (const auto* share = std::get_if<ShareOut>(&was.rule)) even->ends = share->ends;
    }
    if (auto* graded = std::get_if<Graded>(&out.rule)) {
        graded->pitch = Profile{{{0, rounded}}, false, false};
        graded->count = long(n);
    }
    if (auto* listed = std::get_if<Listed>(&out.rule)) { // where they stand now, as they are
        const double L = run.path->path->length();
        const bool round = now.laid->closed && !was.from && !was.to;
        const double start = round ? now.stations()[0] : was.from.value_or(0) + was.insetStart;
        listed->steps = false;
        listed->at.clear();
        for (size_t i = 0; i < n; ++i) {
            double s = now.stations()[i] - start;
            if (s < -1e-6) s += L;
            listed->at.push_back(std::round(std::max(0.0, s) * 1e6) / 1e6);
        }
    }
    return out;
}

Spacing withCount(const Spacing& was, long count) {
    const size_t shareOut = SpacingRule(ShareOut{}).index();
    const auto* even = std::get_if<EvenOut>(&was.rule);
    Spacing out = switched(was, shareOut);
    auto& share = std::get<ShareOut>(out.rule);
    if (even) share.ends = even->ends; // as evened out places stand
    if (std::holds_alternative<StepOff>(was.rule)) share.ends = ShareEnds::AtEnds;
    share.count = count;
    return out;
}

} // namespace vicinal
