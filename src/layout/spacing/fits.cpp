#include "layout/spacing/ruler.h"
#include <algorithm>

namespace vicinal {

Result<std::vector<Fit>> fits(const Path& path, const Spacing& rule, const Occupancy& part) {
    using namespace spacing;
    const auto ruler = rulerOf(path, rule, part);
    if (!ruler) return ruler.problem();
    const auto row = [&](const Stations& st) {
        const GapRange g = gapsOf(*ruler, st);
        return Fit{long(st.at.size()), st.pitch, g.least,       g.most,
                   st.leftOver,        false,    over(rule, g), under(rule, g) || g.least < -tolerance::length};
    };
    long best = 0;
    std::optional<Fit> stepped;
    const auto* shareOut = std::get_if<ShareOut>(&rule.rule);
    if (const auto* stepOff = std::get_if<StepOff>(&rule.rule)) {
        const auto st = solve(*stepOff, *ruler, {});
        if (!st) return st.problem();
        stepped = row(*st);
        best = stepped->count;
    } else if (shareOut) {
        const auto count = countOf(*shareOut);
        if (!count) return count.problem();
        best = *count;
    } else {
        const EvenOut& even = std::get<EvenOut>(rule.rule);
        auto count = countOf(even, *ruler);
        if (!count && (count.problem().field == "gapAtMost" || count.problem().field == "gapAtLeast")) {
            Spacing free = rule; // nothing keeps the limits: show what is nearest, marked
            free.gapAtLeast.reset();
            free.gapAtMost.reset();
            count = countOf(even, Ruler{path, free, part, ruler->start, ruler->usable, ruler->closed});
        }
        if (!count) return count.problem();
        best = *count;
    }
    const ShareEnds ends = shareOut ? shareOut->ends : ShareEnds::AtEnds;
    const long least = shareOut || ruler->closed ? 1 : 2;
    std::vector<Fit> out;
    for (long n = std::max(least, best - 2); n <= std::min(kMostPlaces, best + 2); ++n) {
        Fit fit = stepped && n == best ? *stepped : row(share(*ruler, ends, n));
        fit.inUse = n == best;
        out.push_back(fit);
    }
    return out;
}

} // namespace vicinal
