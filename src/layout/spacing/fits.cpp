// The table of counts.
#include "layout/spacing/rule_kind.h"
#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

namespace spacing {

std::vector<Fit> rowsOf(const Ruler& ruler, const CountTable& table) {
    const Spacing& rule = ruler.spacing;
    const SpacingLimits limits = limitsOf(rule);
    const auto row = [&](const Stations& st) {
        const Range r = rangeOf(ruler, st);
        const bool any = r.gapLeast <= r.gapMost; // a single place has no neighbour
        Fit fit{long(st.at.size()), st.pitch, any ? r.gapLeast : 0, any ? r.gapMost : 0, st.leftOver, st.value};
        fit.over = over(limits, r);
        fit.under = under(limits, r) || (any && r.gapLeast < -tolerance::length);
        return fit;
    };
    const long best = table.best, by = rule.multiple;
    constexpr int rows = 11;
    std::vector<long> counts;
    for (long k = -rows; k <= rows; ++k)
        if (const long n = (best / by + k) * by; n >= table.least && n <= kMostPlaces) counts.push_back(n);
    if (std::find(counts.begin(), counts.end(), best) == counts.end()) counts.push_back(best); // no multiple: broken
    std::stable_sort(counts.begin(), counts.end(),
                     [&](long a, long b) { return std::abs(a - best) < std::abs(b - best); });
    if (counts.size() > rows) counts.resize(rows);
    std::vector<Fit> out;
    for (const long n : counts) {
        Fit fit;
        if (table.inUse && n == best) {
            fit = row(*table.inUse);
        } else if (table.counted) {
            const auto st = table.counted(n);
            if (!st) continue;
            fit = row(*st);
        } else {
            fit = row(share(ruler, table.ends, n));
        }
        fit.inUse = n == best;
        out.push_back(fit);
    }
    const auto miss = [&](const Fit& f) {
        return f.inUse                    ? -1
               : std::isnan(table.wanted) ? std::abs(double(f.count - best))
                                          : std::abs(f.value - table.wanted);
    };
    std::stable_sort(out.begin(), out.end(), [&](const Fit& a, const Fit& b) { return miss(a) < miss(b); });
    return out;
}

} // namespace spacing

Result<std::vector<Fit>> fits(const Path& path, const Spacing& rule, const Lineup& lineup) {
    const auto ruler = spacing::rulerOf(path, rule, lineup);
    if (!ruler) return ruler.problem();
    if (rule.bays != BayEdges::None) return Problem{"Every bay has its own count.", "bays"};
    return kindOf(rule).fits(rule.rule, *ruler);
}

} // namespace vicinal
