#include "checks/verdict.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

bool tighter(const Gap& a, const Gap& b) { return a.clear() < b.clear(); }

} // namespace

int tightestGap(const Places& p) {
    return p.gaps.empty() ? -1 : int(std::min_element(p.gaps.begin(), p.gaps.end(), tighter) - p.gaps.begin());
}

int widestGap(const Places& p) {
    return p.gaps.empty() ? -1 : int(std::max_element(p.gaps.begin(), p.gaps.end(), tighter) - p.gaps.begin());
}

Verdict judgeGaps(const Places& p, const Spacing& limits) {
    if (p.gaps.empty()) return {Mark::Good, "Nothing to measure: there are fewer than two places.", -1};
    const Gap& least = p.gaps[tightestGap(p)];
    const Gap& most = p.gaps[widestGap(p)];
    const auto at = [](const Gap& g) {
        return " between places " + std::to_string(g.from + 1) + " and " + std::to_string(g.to + 1);
    };
    const auto mm = [](double v) { return Words::length(std::round(v * 100) / 100, Words::Style::Decimals); };
    if (least.clear() < -tolerance::length)
        return {Mark::Wrong, "Parts overlap by " + mm(-least.clear()) + at(least) + ".", least.to};
    if (limits.gapAtMost && most.clear() > *limits.gapAtMost + tolerance::length)
        return {Mark::Wrong,
                "The clear gap is " + mm(most.clear()) + at(most) + ", over the limit of " + mm(*limits.gapAtMost) +
                    ".",
                most.to};
    if (limits.gapAtLeast && least.clear() < *limits.gapAtLeast - tolerance::length)
        return {Mark::Wrong,
                "The clear gap is " + mm(least.clear()) + at(least) + ", under the limit of " + mm(*limits.gapAtLeast) +
                    ".",
                least.to};
    if (p.laid->uneven)
        return {Mark::Doubtful,
                "The clear gaps cannot be equal: they are " + mm(p.laid->uneven->least) + " to " +
                    mm(p.laid->uneven->most) +
                    ", since a part would have to stand where its length along the path jumps (a corner).",
                most.to};
    if (!p.staleLeftOut.empty())
        return {Mark::Doubtful,
                "Left-out places beyond the last place: " + std::to_string(p.staleLeftOut.size()) + ", the first is " +
                    std::to_string(p.staleLeftOut.front()) + ".",
                -1};
    return {Mark::Good, "Clear gaps are " + mm(least.clear()) + " to " + mm(most.clear()) + ".", -1};
}

} // namespace vicinal
