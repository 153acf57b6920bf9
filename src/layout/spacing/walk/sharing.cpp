// Count places shared equally: equal pitches, gaps, chords or shares of length.
#include "layout/spacing/ruler.h"
#include "layout/spacing/rules.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {
namespace {

struct GapRange {
    double least = 0, most = 0;
};

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
        const double close = 10 * tolerance::station + 4e-12 * double(steps) +
                             1e-15 * std::max(std::abs(first), std::abs(last)) * std::sqrt(double(steps));
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
            if (hi - lo < tolerance::fine * std::max(1.0, std::abs(gap))) break;
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
    Occupied occupiedAt(double s) const { return m_ruler.lineup.only().at(m_ruler.wrap(s)); }

    /// Steps off from `first`; the front of the last one. Notes the first place that had to jump.
    double reach(double first, double gap, std::span<double> at) {
        GapWalk walk(m_ruler.lineup.only());
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
        for (int k = 0; k < 60 && m_budget > 0 && least > tolerance::length / 100 && da > 0 && db < 0 &&
                        b - a > tolerance::rounding;
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
        const auto there = m_ruler.lineup.only().at(wrapped);
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

/// Any other measure, or what stands at the ends counts: one value, so that the walk comes out just at the end.
class Sharer {
public:
    Sharer(const Ruler& ruler, double lead, long count) : m_ruler(ruler), m_lead(lead), m_count(count) {}
    bool uneven = false;

    /// The value; writes the stations.
    double share(std::vector<double>& at) {
        const double steps = double(m_count) - (m_ruler.closed ? 0 : 1) + 2 * m_lead;
        const double unit = m_ruler.spacing.measure == Measure::OfLength ? m_ruler.meanLength() : 1;
        const double pitch = m_ruler.usable / steps;
        double value = m_ruler.gaps()
                           ? (m_ruler.usable - m_ruler.faceStart - m_ruler.faceEnd) / steps - m_ruler.meanLength()
                           : pitch / unit;
        const double close = 10 * tolerance::station + 4e-12 * steps + 1e-15 * m_ruler.end() * std::sqrt(steps);
        double lo = -std::numeric_limits<double>::infinity(), hi = -lo, before = 0, fBefore = 0;
        std::vector<double> low, high;
        for (int round = 0; round < 120; ++round) {
            double f = miss(value, at);
            // No way: a chord that is too long for the loop, a gap too far below zero.
            const bool lost = std::isnan(f);
            if (lost) f = m_ruler.straight() ? m_ruler.usable : -m_ruler.usable;
            (f < 0 ? lo : hi) = value;
            (f < 0 ? low : high) = at;
            if (std::abs(f) < close) {
                for (size_t i = 1; i < at.size(); ++i) at[i] -= f * double(i) / steps;
                return value;
            }
            if (hi - lo < 3e-16 * std::max(1.0, std::abs(value))) break;
            const double usual = steps * unit;
            double slope = round > 0 && value != before ? (f - fBefore) / (value - before) : usual;
            if (!(slope > 0.1 * usual && slope < 10 * usual)) slope = usual;
            before = value, fBefore = f;
            double next = value - f / slope;
            if (!(next > lo && next < hi) || round > 40)
                next = std::isfinite(lo) && std::isfinite(hi) ? (lo + hi) / 2 : value - 2 * f / usual;
            if (lost && !std::isfinite(lo) && m_ruler.straight()) next = value - 0.2 * std::abs(value);
            value = next;
        }
        return nearest(low, std::isfinite(lo) ? lo : hi, at);
    }

private:
    /// How far beyond the end the run would lead; not a number when there is no way.
    double miss(double value, std::vector<double>& at) const {
        const double end = m_ruler.end();
        const bool fixed = m_lead == 0 && !m_ruler.closed; // the last place stands at the end itself
        Stepper walk(m_ruler);
        at.clear();
        if (m_lead > 0) {
            walk.startBefore(m_ruler.start, m_ruler.faceStart);
            at.push_back(walk.step(m_lead * value));
        } else {
            walk.startAt(m_ruler.start);
            at.push_back(m_ruler.start);
        }
        while (long(at.size()) < m_count - (fixed ? 1 : 0)) {
            if (std::isnan(at.back())) return at.back();
            at.push_back(walk.step(value));
        }
        if (std::isnan(at.back())) return at.back();
        if (m_lead > 0) return walk.missFace(m_lead * value, end, m_ruler.faceEnd);
        if (!fixed) return walk.missPlace(value, end, 0);
        at.push_back(end);
        return walk.missPlace(value, end, m_count - 1);
    }

    /// Between two numbers some place jumps. Chords may still be equal, only not each one the first that is so long;
    /// else what comes nearest, all of it within the stretch.
    double nearest(const std::vector<double>& low, double value, std::vector<double>& at) {
        uneven = true;
        const bool complete = low.size() == size_t(m_count);
        const double steps = double(m_count) - (m_ruler.closed ? 0 : 1) + 2 * m_lead, pitch = m_ruler.usable / steps;
        if (complete)
            at = low;
        else
            for (long i = 0; i < m_count; ++i) {
                at.resize(size_t(m_count));
                at[size_t(i)] = m_ruler.start + (m_lead + double(i)) * pitch;
            }
        if (!m_ruler.straight()) return value;
        Even same = evenFrom([&](long i) { return m_ruler.start + (m_lead + double(i)) * pitch; });
        if (complete && !even(same.spread))
            if (Even other = evenFrom([&](long i) { return low[size_t(i)]; }); other.spread < same.spread)
                same = std::move(other);
        if (same.at.empty()) return value;
        std::copy_n(same.at.begin() + (m_lead > 0 ? 1 : 0), m_count, at.begin());
        uneven = !even(same.spread);
        return same.value;
    }

    /// Equal chords that were looked for from some stations on.
    struct Even {
        std::vector<double> at; ///< with the ends of the stretch, where the first and last place keep off them
        double spread = std::numeric_limits<double>::infinity(), value = 0;
    };
    template<class From> Even evenFrom(From&& from) const {
        Even out;
        std::vector<double> at;
        if (m_lead > 0) at.push_back(m_ruler.start);
        for (long i = 0; i < m_count; ++i) at.push_back(from(i));
        if (m_lead > 0 || m_ruler.closed) at.push_back(m_ruler.end());
        // What the parts take up goes by where they stand: again, until that is so; after a while only as long as it
        // comes nearer. The nearest of all that were seen is kept.
        double before = std::numeric_limits<double>::infinity();
        Even now;
        for (int round = 0; round < 200; ++round) {
            const auto chords = stepsAt(at);
            if (std::any_of(chords.begin(), chords.end(), [](const ChordStep& c) { return !(c.per > 0); })) break;
            if (round > 0) {
                const double there = spreadOf(at, chords), solved = now.spread;
                now.spread = there;
                if (there < out.spread) out = now;
                if (even(100 * solved) && even(100 * there)) break;
                if (round >= 20 && !(there < 0.9 * before)) break;
                before = there;
            }
            now.spread = evenChords(m_ruler.path, at, chords);
            now.at = at;
            now.value = numberOf(at, 0, chords[0]);
            const bool same = m_ruler.lineup.constant() && m_ruler.plain();
            if (same || m_ruler.spacing.measure == Measure::CentreToCentre) return now;
        }
        return out;
    }
    bool even(double spread) const {
        return spread * (m_ruler.spacing.measure == Measure::OfLength ? m_ruler.meanLength() : 1) <= tolerance::length;
    }
    double numberOf(std::span<const double> at, size_t i, const ChordStep& c) const {
        return ((pointOn(m_ruler.path, at[i + 1]) - pointOn(m_ruler.path, at[i])).norm() - c.more) / c.per;
    }
    double spreadOf(std::span<const double> at, std::span<const ChordStep> chords) const {
        double least = std::numeric_limits<double>::infinity(), most = -least;
        for (size_t i = 0; i < chords.size(); ++i) {
            const double v = numberOf(at, i, chords[i]);
            least = std::min(least, v), most = std::max(most, v);
        }
        return most - least;
    }
    /// What every step measures, as the parts stand there.
    std::vector<ChordStep> stepsAt(std::span<const double> at) const {
        std::vector<ChordStep> out;
        const auto step = [&](double share, double length) {
            switch (m_ruler.spacing.measure) {
            case Measure::ClearGap: out.push_back({share, length}); break;
            case Measure::OfLength: out.push_back({share * length, 0}); break;
            case Measure::CentreToCentre: out.push_back({share, 0}); break;
            }
        };
        const auto taken = [&](long i) {
            if (m_ruler.spacing.measure == Measure::CentreToCentre) return Occupied();
            return m_ruler.taken(m_ruler.index(i), at[size_t(i) + (m_lead > 0 ? 1 : 0)]);
        };
        const bool whole = m_ruler.spacing.measure == Measure::OfLength; // of the part's own length, as walked
        const Occupied first = taken(0), last = taken(m_count - 1);
        if (m_lead > 0) step(m_lead, whole ? first.total() : m_ruler.faceStart + first.behind);
        Occupied before = first;
        for (long i = 1; i < m_count; ++i) {
            const Occupied next = taken(i);
            step(1, before.ahead + next.behind);
            before = next;
        }
        if (m_lead > 0)
            step(m_lead, whole ? last.total() : last.ahead + m_ruler.faceEnd);
        else if (m_ruler.closed)
            step(1, last.ahead + first.behind);
        return out;
    }

    const Ruler& m_ruler;
    double m_lead;
    long m_count;
};

} // namespace

namespace {

Stations shareOnce(const Ruler& ruler, ShareEnds ends, long count, std::vector<double> reuse) {
    Stations out;
    out.at = std::move(reuse);
    const double lead = ruler.lead(ends), intervals = double(count) - (ruler.closed ? 0 : 1) + 2 * lead;
    if (count == 1 && lead == 0 && !ruler.closed) { // a single place has no pitch: it stands in the middle
        out.at.assign(1, ruler.start + ruler.usable / 2);
        return out;
    }
    out.at.resize(size_t(count));
    const bool gaps = ruler.gaps();
    const double length = gaps && !ruler.stepwise() ? ruler.partLength() : 0;
    out.pitch = ruler.usable / intervals;
    double first = ruler.start + lead * out.pitch;
    out.value = ruler.spacing.measure == Measure::OfLength ? out.pitch / ruler.meanLength() : out.pitch - length;
    if (gaps && lead > 0 && !ruler.stepwise()) { // gaps at the ends, too
        const double gap = (ruler.usable - ruler.faceStart - ruler.faceEnd - double(count) * length) / intervals;
        out.value = gap;
        out.pitch = gap + length;
        first = ruler.start + ruler.faceStart + lead * gap + ruler.lineup.only().at(0).behind;
    }
    for (long i = 0; i < count; ++i) out.at[size_t(i)] = first + double(i) * out.pitch;
    if (!ruler.closed && lead == 0) out.at.back() = ruler.end();
    if (!ruler.stepwise()) return out;
    out.even = false;
    if (gaps && !ruler.straight() && ruler.plain() && lead == 0) {
        if (count < 2) return out;
        const long steps = ruler.closed ? count : count - 1;
        out.at.resize(size_t(steps) + 1);
        long budget = 400'000 + 10 * steps;
        GapSharer sharer(ruler, budget);
        out.value = sharer.share(first, first + double(steps) * out.pitch, out.at);
        out.at.resize(size_t(count));
        if (sharer.uneven) tellUneven(ruler, out);
        return out;
    }
    const double pitch = out.pitch;
    Sharer sharer(ruler, lead, count);
    out.value = sharer.share(out.at);
    const auto standsWell = [&](size_t i) {
        return std::isfinite(out.at[i]) && (i == 0 || out.at[i] >= out.at[i - 1]);
    };
    bool stands = std::isfinite(out.value);
    for (size_t i = 0; i < out.at.size(); ++i) stands = stands && standsWell(i);
    if (!stands) { // there are no such gaps: at equal pitches instead, and told what they are
        for (long i = 0; i < count; ++i) out.at[size_t(i)] = first + double(i) * pitch;
        out.pitch = pitch;
        out.value = ruler.numberFor(pitch);
        out.uneven = unevenOf(ruler, out);
        return out;
    }
    // A place that stands on a jump of its length may have come out with a gap of its own.
    if (sharer.uneven || ruler.spacing.measure != Measure::CentreToCentre) tellUneven(ruler, out);
    if (count > 1) out.pitch = (out.at.back() - out.at.front()) / double(count - 1);
    return out;
}

} // namespace

Stations share(const Ruler& ruler, ShareEnds ends, long count, std::vector<double> reuse) {
    if (ruler.lineup.special().none() && !ruler.atEnd) return shareOnce(ruler, ends, count, std::move(reuse));
    Ruler known = ruler;
    known.count = count;
    Stations out;
    if (ruler.lineup.special().corner) {
        // Those that stand on corners at equal pitch: most often they stay there, as the ends of bays do. Whichever do
        // not are no corner's part.
        const double lead = ruler.lead(ends),
                     pitch = ruler.usable / (double(count) - (ruler.closed ? 0 : 1) + 2 * lead);
        for (long i = 0; i < count; ++i)
            if (ruler.onCorner(ruler.start + (lead + double(i)) * pitch)) known.corners.push_back(i);
    }
    for (bool settled = false; !settled;) {
        out = shareOnce(known, ends, count, std::move(reuse));
        reuse = {};
        settled = std::erase_if(known.corners, [&](long i) { return !ruler.onCorner(out.at[size_t(i)]); }) == 0;
    }
    out.slotOf = slotsOf(known, out.at.size());
    return out;
}

} // namespace vicinal::spacing
