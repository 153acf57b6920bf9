#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

using namespace spacing;

/// The count in use, or what comes nearest when the limits let no count through.
Result<long> countInUse(const EvenOut& even, const Ruler& ruler) {
    auto count = countOf(even, ruler);
    if (count) return count;
    const std::string& field = count.problem().field;
    if (!field.ends_with("AtMost") && !field.ends_with("AtLeast")) return count;
    Spacing free = ruler.spacing;
    free.gapAtLeast.reset();
    free.gapAtMost.reset();
    free.pitchAtLeast.reset();
    free.pitchAtMost.reset();
    Ruler unlimited{ruler.path, free, ruler.lineup, ruler.start, ruler.usable, ruler.closed};
    return countOf(even, unlimited);
}

} // namespace

Result<std::vector<Fit>> fits(const Path& path, const Spacing& rule, const Lineup& lineup) {
    const auto ruler = rulerOf(path, rule, lineup);
    if (!ruler) return ruler.problem();
    if (rule.bays != BayEdges::None) return Problem{"Every bay has its own count.", "bays"};
    const auto row = [&](const Stations& st) {
        const Range r = rangeOf(*ruler, st);
        const bool any = r.gapLeast <= r.gapMost; // a single place has no neighbour
        Fit fit{long(st.at.size()), st.pitch, any ? r.gapLeast : 0, any ? r.gapMost : 0, st.leftOver, st.value};
        fit.over = over(rule, r);
        fit.under = under(rule, r) || (any && r.gapLeast < -tolerance::length);
        return fit;
    };
    long best = 0;
    double wanted = std::nan(""); // value that is aimed at
    std::optional<Fit> stepped;
    ShareEnds ends = ShareEnds::AtEnds;
    if (const auto* stepOff = std::get_if<StepOff>(&rule.rule)) {
        const auto st = solve(*stepOff, *ruler, {});
        if (!st) return st.problem();
        stepped = row(*st);
        best = stepped->count;
        wanted = ruler->wanted(stepOff->pitch);
    } else if (const auto* shareOut = std::get_if<ShareOut>(&rule.rule)) {
        const auto count = countOf(*shareOut);
        if (!count) return count.problem();
        best = *count;
        ends = shareOut->ends;
    } else if (const auto* even = std::get_if<EvenOut>(&rule.rule)) {
        const auto count = countInUse(*even, *ruler);
        if (!count) return count.problem();
        best = *count;
        ends = even->ends;
        wanted = ruler->wanted(even->about);
    } else {
        return Problem{"This rule has no count to choose.", "rule"};
    }
    const long by = rule.multiple,
               least = std::holds_alternative<EvenOut>(rule.rule) && ruler->lead(ends) == 0 && !ruler->closed ? 2 : 1;
    constexpr int rows = 11;
    std::vector<long> counts;
    for (long k = -rows; k <= rows; ++k)
        if (const long n = (best / by + k) * by; n >= least && n <= kMostPlaces) counts.push_back(n);
    if (std::find(counts.begin(), counts.end(), best) == counts.end()) counts.push_back(best); // no multiple: broken
    std::stable_sort(counts.begin(), counts.end(),
                     [&](long a, long b) { return std::abs(a - best) < std::abs(b - best); });
    if (counts.size() > rows) counts.resize(rows);
    std::vector<Fit> out;
    for (const long n : counts) {
        Fit fit = stepped && n == best ? *stepped : row(share(*ruler, ends, n));
        fit.inUse = n == best;
        out.push_back(fit);
    }
    const auto miss = [&](const Fit& f) {
        return f.inUse ? -1 : std::isnan(wanted) ? std::abs(double(f.count - best)) : std::abs(f.value - wanted);
    };
    std::stable_sort(out.begin(), out.end(), [&](const Fit& a, const Fit& b) { return miss(a) < miss(b); });
    return out;
}

} // namespace vicinal
