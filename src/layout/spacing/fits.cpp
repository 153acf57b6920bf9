#include "layout/spacing/links.h"
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

/// Counts of links, each with what is missing and the play that would make up for it.
Result<std::vector<Fit>> linkFits(const PinToPin& rule, const Ruler& ruler) {
    const auto now = solve(rule, ruler, {});
    if (!now) return now.problem();
    const long used = long(now->at.size()), by = countsBy(ruler);
    constexpr double kEndless = std::numeric_limits<double>::infinity();
    constexpr long kAround = 6;
    std::vector<Fit> out;
    const long last = (used / by + kAround) * by;
    // One chain tells all counts, unless each has a last link of its own or lies elsewhere.
    const bool each = ruler.lineup.special().last || (!ruler.closed && rule.leftOver != LeftOver::AtEnd);
    auto pins = chain(ruler, ruler.start, kEndless, last, 0);
    for (long n = std::max(by, (used / by - kAround) * by); n <= last; n += by) {
        Ruler counted = ruler;
        counted.count = n;
        if (each) pins = chain(counted, ruler.start, kEndless, n, 0);
        if (n >= long(pins.size())) break;
        const auto missing = [&] {
            return ruler.closed ? closingOf(ruler, pins[0], pins[size_t(n)]) : ruler.end() - pins[size_t(n)];
        };
        if (each && !ruler.closed && missing() > tolerance::length) // as it would lie
            if (const auto laid = solve(PinToPin{n, rule.leftOver, 0, rule.turn}, ruler, {})) {
                pins = laid->at;
                pins.push_back(laid->pins.back());
            }
        Fit fit;
        fit.count = n;
        fit.inUse = n == used;
        fit.pitch = fit.inUse ? now->pitch : (pins[size_t(n)] - pins[0]) / double(n);
        fit.value = *ruler.pins(0);
        fit.closing = ruler.closed ? missing() : ruler.usable - (pins[size_t(n)] - pins[0]);
        fit.leftOver = ruler.closed ? 0 : fit.inUse ? now->leftOver : std::max(0.0, *fit.closing);
        if (const double play = playFor(ruler, n); !std::isnan(play)) fit.play = play;
        fit.over = !ruler.closed && *fit.closing < -tolerance::length; // they do not fit
        out.push_back(fit);
    }
    std::stable_sort(out.begin(), out.end(), [](const Fit& a, const Fit& b) {
        return a.inUse != b.inUse ? a.inUse : std::abs(*a.closing) < std::abs(*b.closing);
    });
    if (out.size() > 11) out.resize(11);
    return out;
}

/// Trains of so many vehicles, each with what it leaves over.
Result<std::vector<Fit>> trainFits(const Coupled& rule, const Ruler& ruler) {
    const auto now = solve(rule, ruler, {});
    if (!now) return now.problem();
    const long used = long(now->at.size());
    constexpr long kRows = 11;
    std::optional<Problem> stopped;
    const auto all = train(rule, ruler, used + kRows, stopped);
    if (!all) return all.problem();
    std::vector<Fit> out;
    const Vehicles& vehicles = *ruler.lineup.vehicles();
    for (long n = std::max(1L, used - kRows); n <= long(all->at.size()); ++n) {
        Fit fit;
        for (long i = 1; i < n; ++i) { // between bodies, on the straight
            const Gear &a = vehicles.gear(ruler.slot(i - 1)), &b = vehicles.gear(ruler.slot(i));
            const double clear = rule.gap - (a.front - a.hooks[1].x()) - (b.hooks[0].x() - b.back);
            fit.gapLeast = i == 1 ? clear : std::min(fit.gapLeast, clear);
            fit.gapMost = i == 1 ? clear : std::max(fit.gapMost, clear);
        }
        fit.count = n;
        fit.pitch = n > 1 ? (all->at[size_t(n) - 1] - all->at[0]) / double(n - 1) : 0;
        fit.value = rule.gap;
        fit.leftOver = std::max(0.0, ruler.end() - all->pins[size_t(n) - 1]);
        fit.inUse = n == used;
        out.push_back(fit);
    }
    std::stable_sort(out.begin(), out.end(),
                     [&](const Fit& a, const Fit& b) { return std::abs(a.count - used) < std::abs(b.count - used); });
    if (out.size() > kRows) out.resize(kRows);
    return out;
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
    } else if (const auto* links = std::get_if<PinToPin>(&rule.rule)) {
        return linkFits(*links, *ruler);
    } else if (const auto* coupled = std::get_if<Coupled>(&rule.rule)) {
        return trainFits(*coupled, *ruler);
    } else if (const auto* graded = std::get_if<Graded>(&rule.rule)) {
        const auto st = solve(*graded, *ruler, {});
        if (!st) return st.problem();
        stepped = row(*st);
        best = stepped->count;
        wanted = st->value;
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
        Fit fit;
        if (stepped && n == best) {
            fit = *stepped;
        } else if (const auto* graded = std::get_if<Graded>(&rule.rule)) {
            Graded counted = *graded;
            counted.count = n; // all pitches scaled alike
            const auto st = solve(counted, *ruler, {});
            if (!st) continue;
            fit = row(*st);
        } else {
            fit = row(share(*ruler, ends, n));
        }
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
