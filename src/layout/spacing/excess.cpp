// What a rule with a fixed number leaves over or lacks for a count: what gives way makes it nothing.
#include "layout/spacing/links.h"
#include "layout/spacing/ruler.h"
#include <cmath>

namespace vicinal {

using namespace spacing;

namespace {

struct Excess {
    const Ruler& ruler;
    long count;

    double operator()(const StepOff& rule) const {
        const double wanted = ruler.wanted(rule.pitch);
        const long steps = ruler.closed ? count : count - 1;
        if (!ruler.stepwise()) return ruler.pitchFor(wanted) * double(steps) - ruler.usable;
        Ruler known = ruler;
        known.count = count;
        Stepper walk(known);
        walk.lookForCorners();
        walk.startAt(ruler.start);
        double at = ruler.start;
        for (long i = 0; i < steps; ++i) {
            const double to = walk.step(wanted);
            if (!(to > at)) return std::nan("");
            at = to;
        }
        return at - ruler.end();
    }
    double operator()(const PinToPin&) const {
        const auto pins = chain(ruler, ruler.start, std::numeric_limits<double>::infinity(), count, 0);
        return long(pins.size()) == count + 1 ? pins.back() - ruler.end() : std::nan("");
    }
    double operator()(const Graded& rule) const { return excessOf(rule, ruler, count); }
    template<class Other> double operator()(const Other&) const { return std::nan(""); }
};

Result<Ruler> leavingRuler(const Path& path, const Spacing& s, const Lineup& lineup) {
    if (s.bays != BayEdges::None)
        return Problem{"Nothing can give way for bays, which all leave something over. Use one stretch.", "bays"};
    const auto* graded = std::get_if<Graded>(&s.rule);
    if (!std::holds_alternative<StepOff>(s.rule) && !std::holds_alternative<PinToPin>(s.rule) &&
        !(graded && graded->count == 0))
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
        return Problem{"A count of " + std::to_string(count) + " cannot be; use 0 for the nearest one.", "giveCount"};
    if (std::holds_alternative<PinToPin>(s.rule))
        if (auto broken = notWhole(*ruler, count, "links")) return *broken;
    const double v = std::visit(Excess{*ruler, count}, s.rule);
    if (std::isnan(v)) return Problem{"So many do not go on along this path.", "giveCount"};
    return v;
}

Result<long> nearestCount(const Path& path, const Spacing& s, const Lineup& lineup) {
    const auto ruler = leavingRuler(path, s, lineup);
    if (!ruler) return ruler.problem();
    const auto now = std::visit([&](const auto& r) { return solve(r, *ruler, {}); }, s.rule);
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
