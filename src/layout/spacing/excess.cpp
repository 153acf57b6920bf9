// What a rule with a fixed number leaves over or lacks for a count: what gives way makes it nothing.
#include "base/say.h"
#include "layout/spacing/chain_links.h"
#include "layout/spacing/rule_kind.h"
#include "layout/spacing/ruler.h"
#include <cmath>

namespace vicinal {

using namespace spacing;

namespace {

Result<Ruler> leavingRuler(const Path& path, const Spacing& s, const Lineup& lineup) {
    if (s.bays != BayEdges::None)
        return Problem{"Nothing can give way for bays, which all leave something over. Use one stretch.", "bays"};
    if (!kindOf(s).leavesOver(s.rule))
        return Problem{"This rule leaves nothing over, so that nothing has to give way. Step off, Pin to pin and "
                       "Graded do.",
                       "rule"};
    return rulerOf(path, s, lineup);
}

} // namespace

Result<double> excess(const Path& path, const Spacing& s, const Lineup& lineup, long count) {
    const auto ruler = leavingRuler(path, s, lineup);
    if (!ruler) return ruler.problem();
    if (count < (ruler->closed ? 1 : 2) || count > kMostPlaces)
        return Problem{"A count of " + say::count(count) + " cannot be; use 0 for the nearest one.", "giveCount"};
    const auto v = kindOf(s).excess(s.rule, *ruler, count);
    if (v && std::isnan(*v)) return Problem{"So many do not go on along this path.", "giveCount"};
    return v;
}

Result<long> nearestCount(const Path& path, const Spacing& s, const Lineup& lineup) {
    const auto ruler = leavingRuler(path, s, lineup);
    if (!ruler) return ruler.problem();
    const auto now = kindOf(s).solve(s.rule, *ruler, {});
    if (!now) return now.problem();
    const long by = countsBy(*ruler), n = long(now->at.size());
    long best = 0;
    double least = std::numeric_limits<double>::infinity();
    for (long k = std::max(1L, n / by - 1); k <= n / by + 2; ++k) {
        const auto e = excess(path, s, lineup, k * by);
        if (e && std::abs(*e) < least) least = std::abs(*e), best = k * by;
    }
    if (best == 0) return Problem{"No count comes near. Use a smaller number.", "giveCount"};
    return best;
}

} // namespace vicinal
