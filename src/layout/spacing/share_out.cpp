#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {
namespace {

/// Equal gaps between two fixed places: writes the stations at.front() = first .. at.back() = last. Where the part's
/// length along the path jumps (a corner) there may be no such gap, because some place would have to stand just on the
/// jump; then it does, the gaps are equal on either side of it, as near to each other as they go, and `uneven` is set.
class GapSharer {
public:
    /// `budget`: steps that may be spent on finding out; shared by the parts of one task.
    GapSharer(const Ruler& ruler, long& budget, int depth = 0) : m_ruler(ruler), m_budget(budget), m_depth(depth) {}
    bool uneven = false;

    /// The first gap.
    double share(double first, double last, std::span<double> at) {
        const long steps = long(at.size()) - 1;
        at.front() = first;
        at.back() = last;
        const double lastBack = last - occupiedAt(last).behind;
        if (steps == 1) return lastBack - first - occupiedAt(first).ahead;
        // What rounding leaves over many steps is no miss: it is shared by all of them.
        const double close =
            10 * tolerance::station + 1e-15 * std::max(std::abs(first), std::abs(last)) * std::sqrt(double(steps));
        double lo = -std::numeric_limits<double>::infinity(), hi = -lo;
        double gap = (last - first) / double(steps) - m_ruler.meanLength(), before = 0, fBefore = 0;
        for (int round = 0; round < (m_budget > 0 ? 120 : 12); ++round) {
            const double f = reach(first, gap, at.first(steps)) + gap - lastBack;
            (f < 0 ? lo : hi) = gap;
            if (std::abs(f) < close) {
                for (long i = 1; i < steps; ++i) at[i] -= f * double(i) / double(steps);
                at.back() = last;
                return m_jumped < 0 ? gap : standOnJump(m_jumped, at);
            }
            if (hi - lo < 1e-12 * std::max(1.0, std::abs(gap))) break;
            double slope = round > 0 && gap != before ? (f - fBefore) / (gap - before) : double(steps);
            if (!(slope > 0.1 * double(steps) && slope < 10 * double(steps))) slope = double(steps);
            before = gap, fBefore = f;
            double next = gap - f / slope;
            if (!(next > lo && next < hi) || round > 40)
                next = std::isfinite(lo) && std::isfinite(hi) ? (lo + hi) / 2 : gap - 2 * f / double(steps);
            gap = next;
        }
        // Between `lo` and `hi` some place jumps.
        std::vector<double> above(steps);
        reach(first, hi, above);
        reach(first, lo, at.first(steps));
        at.back() = last;
        long i = 1;
        while (i < steps && above[i] - at[i] < tolerance::length && m_jumped != i) ++i;
        if (i < steps) return standOnJump(i, at);
        uneven = true;
        return lo;
    }

private:
    Occupied occupiedAt(double s) const { return m_ruler.part.at(m_ruler.wrap(s)); }

    /// Steps off from `first`; the front of the last one. Notes the first place that had to jump.
    double reach(double first, double gap, std::span<double> at) {
        GapWalk walk(m_ruler.part);
        walk.start(first);
        at[0] = first;
        m_jumped = -1;
        m_budget -= long(at.size());
        for (size_t i = 1; i < at.size(); ++i) {
            const double edge = walk.front() + gap;
            at[i] = walk.step(gap);
            if (m_jumped < 0 && walk.back() > edge + tolerance::length) m_jumped = long(i);
        }
        return walk.front();
    }

    /// Sets place i where the gaps before and after it are as near to each other as they go. Where it stands now it is
    /// next to a jump, beyond which equal ones may still be found.
    double standOnJump(long i, std::span<double> at) {
        if (m_budget <= 0 || m_depth >= 4) {
            uneven = true;
            return gapAfter(at, 0);
        }
        const double first = at.front(), last = at.back(), from = at[i];
        std::vector<double> best(at.begin(), at.end());
        double least = std::numeric_limits<double>::infinity();
        bool bestUneven = true;
        /// How much wider the gaps after place i are than those before, when it stands at x. Falls as x rises.
        const auto difference = [&](double x) {
            GapSharer left(m_ruler, m_budget, m_depth + 1), right(m_ruler, m_budget, m_depth + 1);
            left.share(first, x, at.first(size_t(i) + 1));
            right.share(x, last, at.subspan(size_t(i)));
            const GapRange r = rangeOf(at);
            const double spread = r.most - r.least;
            if (spread < least) {
                least = spread;
                best.assign(at.begin(), at.end());
                bestUneven = spread > tolerance::length;
            }
            return gapAfter(at, i) - gapAfter(at, i - 1);
        };
        const double reach = 2 * tolerance::length;
        const auto corner = nearestCorner(from);
        if (corner) difference(*corner);
        if (m_budget <= 0 && corner) return finish(best, bestUneven, at);
        double a = (corner ? *corner : from) - reach, b = (corner ? *corner : from) + reach;
        double da = difference(a), db = difference(b);
        // Not between them: look further on the side where they meet.
        for (double stride = 1; m_budget > 0 && least > tolerance::length && stride < last - first; stride *= 2) {
            if (da < 0 && a - stride > first)
                b = a, db = da, da = difference(a -= stride);
            else if (db > 0 && b + stride < last)
                a = b, da = db, db = difference(b += stride);
            else
                break;
        }
        for (int k = 0; k < 60 && m_budget > 0 && least > tolerance::length / 100 && da > 0 && db < 0 && b - a > 1e-9;
             ++k) {
            double x = k % 3 == 2 ? (a + b) / 2 : a + (b - a) * da / (da - db);
            if (!(x > a && x < b)) x = (a + b) / 2;
            const double d = difference(x);
            if (d > 0)
                a = x, da = d;
            else
                b = x, db = d;
        }
        return finish(best, bestUneven, at);
    }

    double finish(const std::vector<double>& best, bool bestUneven, std::span<double> at) {
        std::copy(best.begin(), best.end(), at.begin());
        uneven = bestUneven;
        return gapAfter(at, 0);
    }

    double gapAfter(std::span<const double> at, long i) const {
        return at[i + 1] - occupiedAt(at[i + 1]).behind - at[i] - occupiedAt(at[i]).ahead;
    }
    GapRange rangeOf(std::span<const double> at) const {
        GapRange r{std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
        m_budget -= 2 * long(at.size());
        std::vector<double> wrapped(at.begin(), at.end());
        for (double& s : wrapped) s = m_ruler.wrap(s);
        const auto there = m_ruler.part.at(wrapped);
        for (size_t i = 0; i + 1 < at.size(); ++i) {
            const double g = at[i + 1] - there[i + 1].behind - at[i] - there[i].ahead;
            r.least = std::min(r.least, g);
            r.most = std::max(r.most, g);
        }
        return r;
    }
    std::optional<double> nearestCorner(double s) const {
        const double w = m_ruler.wrap(s);
        for (const auto& c : m_ruler.path.corners())
            if (std::abs(c.station - w) < 5 * tolerance::length) return c.station + (s - w);
        return std::nullopt;
    }

    const Ruler& m_ruler;
    long& m_budget;
    int m_depth;
    long m_jumped = -1;
};

long intervalsOf(const Ruler& ruler, ShareEnds ends, long count) {
    if (ruler.closed) return count;
    switch (ends) {
    case ShareEnds::HalfPitchIn: return count;
    case ShareEnds::PitchIn: return count + 1;
    case ShareEnds::AtEnds: break;
    }
    return count - 1;
}

double leadOf(const Ruler& ruler, ShareEnds ends, double pitch) {
    if (ruler.closed || ends == ShareEnds::AtEnds) return 0;
    return ends == ShareEnds::HalfPitchIn ? pitch / 2 : pitch;
}

} // namespace

Stations share(const Ruler& ruler, ShareEnds ends, long count, std::vector<double> reuse) {
    Stations out;
    out.at = std::move(reuse);
    const long intervals = intervalsOf(ruler, ends, count);
    if (intervals < 1) { // a single place has no pitch: it stands in the middle
        out.at.assign(1, ruler.start + ruler.usable / 2);
        return out;
    }
    out.at.resize(count);
    out.pitch = ruler.usable / double(intervals);
    const double lead = leadOf(ruler, ends, out.pitch), first = ruler.start + lead;
    for (long i = 0; i < count; ++i) out.at[i] = first + double(i) * out.pitch;
    if (!ruler.closed && lead == 0) out.at.back() = ruler.start + ruler.usable;
    if (!ruler.equalGaps() || count < 2) return out;
    const long steps = ruler.closed ? count : count - 1;
    out.at.resize(steps + 1);
    long budget = 400'000 + 10 * steps;
    GapSharer sharer(ruler, budget);
    sharer.share(first, first + double(steps) * out.pitch, out.at);
    out.at.resize(count);
    if (sharer.uneven) out.uneven = Stations::Uneven{}; // measured by the caller
    return out;
}

Result<long> countOf(const ShareOut& rule) {
    if (rule.count < 1)
        return Problem{"The count is " + std::to_string(rule.count) + "; at least 1 place is needed.", "count"};
    if (rule.count > kMostPlaces) return tooMany(double(rule.count), "count");
    return rule.count;
}

Result<Stations> solve(const ShareOut& rule, const Ruler& ruler, std::vector<double> reuse) {
    const auto count = countOf(rule);
    if (!count) return count.problem();
    return share(ruler, rule.ends, *count, std::move(reuse));
}

} // namespace vicinal::spacing
