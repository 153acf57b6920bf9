#include "layout/spacing/spacing.h"
#include "base/say.h"
#include "base/text.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal {
namespace {

struct GapRange {
    double least = 0, most = 0;
};

/// What the solver works on: the usable stretch and the part.
struct Job {
    const Path& path;
    const Spacing& rule;
    const Occupancy& part;
    double start = 0, usable = 0; ///< mm
    bool closed = false;

    double wrap(double s) const {
        const double L = path.length();
        if (!closed) return std::clamp(s, 0.0, L);
        s = std::fmod(s, L);
        if (s < 0) s += L;
        return L - s <= 10 * tolerance::station + 1e-14 * L ? 0 : s; // once round but for rounding is the seam itself
    }
    /// Length of path a part takes up: the same everywhere, or at the run's start.
    double partLength() const { return part.constant() ? part.at(0).total() : part.at(wrap(start)).total(); }
    /// The mean over the path, where it varies.
    double meanLength() const { return part.mean(); }
    long intervals(long count) const {
        if (closed) return count;
        switch (rule.rule == SpacingRule::ShareOut ? rule.ends : ShareEnds::AtEnds) {
        case ShareEnds::HalfPitchIn: return count;
        case ShareEnds::PitchIn: return count + 1;
        case ShareEnds::AtEnds: break;
        }
        return count - 1;
    }
    double lead(double pitch) const {
        if (closed || rule.rule != SpacingRule::ShareOut || rule.ends == ShareEnds::AtEnds) return 0;
        return rule.ends == ShareEnds::HalfPitchIn ? pitch / 2 : pitch;
    }
    /// Share of the left over that goes to the start.
    double shift() const { return rule.leftOver == LeftOver::AtEnd ? 0 : rule.leftOver == LeftOver::AtStart ? 1 : 0.5; }
    bool equalGaps() const { return rule.measure == Measure::ClearGap && !part.constant(); }
};

Words mm(double v) { return Words::length(v, Words::Style::Decimals); }

Problem tooMany(double wanted, const char* field) {
    return {"That makes " + text::number(wanted, 0) + " places; the most is " + text::number(double(kMostPlaces), 0) +
                ". Raise the spacing or split the run.",
            field};
}

/// Every value is looked at, also those of rules that are not in use: they are kept and come back.
std::optional<Problem> notANumber(const Spacing& r) {
    const std::pair<const char*, double> values[] = {{"pitch", r.pitch},
                                                     {"about", r.about},
                                                     {"insetStart", r.insetStart},
                                                     {"insetEnd", r.insetEnd},
                                                     {"slide", r.slide}};
    for (const auto& [field, v] : values)
        if (!inReach(v))
            return Problem{"This value is " + mm(v) + ". Use a length up to " + say::bound(kLargest) + ".", field};
    return std::nullopt;
}

Result<Job> prepare(const Path& path, const Spacing& rule, const Occupancy& part) {
    Job job{path, rule, part, 0, path.length(), path.closed()};
    if (auto p = notANumber(rule)) return *p;
    if (job.closed) {
        job.start = job.wrap(rule.slide);
        return job;
    }
    if (rule.insetStart < 0 || rule.insetEnd < 0)
        return Problem{
            "An inset cannot be negative: parts would stand beyond the path's end. Lengthen the path instead.",
            rule.insetStart < 0 ? "insetStart" : "insetEnd"};
    job.start = rule.insetStart;
    job.usable = path.length() - rule.insetStart - rule.insetEnd;
    if (job.usable < tolerance::length)
        return Problem{
            "The insets (" + mm(rule.insetStart) + " and " + mm(rule.insetEnd) + ") leave nothing of the path's " +
                mm(path.length()) + ". Together they must be shorter than that.",
            rule.insetStart >= path.length() || rule.insetStart >= rule.insetEnd ? "insetStart" : "insetEnd"};
    return job;
}

/// Steps off `gap` from `first` until `end`; at most `most` places. Empty when there is no way forward somewhere.
std::vector<double> stepped(const Job& job, double first, double gap, double end, size_t most,
                            std::vector<double> out = {}) {
    GapWalk walk(job.part);
    out.assign(1, first);
    walk.start(first);
    while (out.size() < most) {
        const double to = walk.step(gap);
        if (!(to > out.back() + tolerance::length)) {
            out.resize(1);
            out.push_back(std::nan(""));
            return out;
        }
        if (to > end) break;
        out.push_back(to);
    }
    return out;
}

/// Steps off equal clear gaps where the part's length along the path varies.
Result<Stations> stepGaps(const Job& job, std::vector<double> reuse) {
    const double wanted = job.rule.pitch, end = job.start + job.usable, slack = tolerance::arc * job.usable;
    const auto run = [&](double first, std::vector<double> memory) {
        return stepped(job, first, wanted, end + slack, size_t(kMostPlaces) + 1, std::move(memory));
    };
    Stations out;
    out.at = run(job.start, std::move(reuse));
    if (out.at.size() > size_t(kMostPlaces)) return tooMany(double(out.at.size()), "pitch");
    if (std::isnan(out.at.back()))
        return Problem{"A clear gap of " + mm(wanted) +
                           " gives no way forward: somewhere the part takes up less than that of the path. Use a "
                           "larger gap.",
                       "pitch"};
    if (job.closed) {
        // The gap of the last place must not reach beyond the first.
        const double behind = job.part.at(job.wrap(job.start)).behind;
        const auto ahead = [&](double s) { return job.part.at(job.wrap(s)).ahead; };
        while (out.at.size() > 1 && out.at.back() + ahead(out.at.back()) + wanted > end - behind + slack)
            out.at.pop_back();
        out.leftOver = std::max(0.0, end - behind - out.at.back() - ahead(out.at.back()) - wanted);
    } else if (const double share = job.shift(); share > 0) {
        // What is left over in front of the run is `share` of it all: one unknown, the first station. Shifted parts
        // take up another length of the path, so that every try is stepped off anew, with the same count.
        const size_t n = out.at.size();
        const auto miss = [&](double first, std::vector<double>& at) {
            at = stepped(job, first, wanted, std::numeric_limits<double>::infinity(), n, std::move(at));
            return (first - job.start) * (1 - share) - share * (end - at.back());
        };
        std::vector<double> low = out.at, high;
        const double close = tolerance::station + 1e-15 * end * std::sqrt(double(n));
        double a = job.start, b = end, fa = -share * (end - low.back()), fb = std::numeric_limits<double>::infinity();
        double x = a - fa, x1 = a, f1 = fa; // each place moves about as the first one does: slope 1
        for (int i = 0; i < 60 && fa < -close && b - a > tolerance::station / 10; ++i) {
            if (!(x > a && x < b) || i > 20) x = (a + b) / 2;
            std::vector<double> now;
            const double f = miss(x, now);
            if (f <= close / 2)
                a = x, fa = f, low = std::move(now);
            else
                b = x, fb = f, high = std::move(now);
            const double slope = (f - f1) / (x - x1);
            x1 = x, f1 = f;
            x -= f / (slope > 0.2 && slope < 5 ? slope : 1);
        }
        // Where the stations jump the two ends cannot get just their shares: the nearest that stays on the path.
        out.at = !high.empty() && fb < -fa && high.back() <= end + slack ? std::move(high) : std::move(low);
    }
    if (!job.closed) out.leftOver = std::max(0.0, job.usable - (out.at.back() - out.at.front()));
    const size_t n = out.at.size();
    out.pitch = n > 1 ? (out.at.back() - out.at.front()) / double(n - 1) : 0;
    return out;
}

Result<Stations> stepOff(const Job& job, std::vector<double> reuse = {}) {
    const bool gaps = job.rule.measure == Measure::ClearGap;
    const double wanted = job.rule.pitch;
    if (!gaps && !(wanted > tolerance::length))
        return Problem{"The pitch is " + mm(wanted) + "; it must be above zero.", "pitch"};
    const double pitch = gaps ? wanted + job.partLength() : wanted;
    if (!(pitch > tolerance::length))
        return Problem{"A clear gap of " + mm(wanted) + " puts the parts back to front: the part takes up " +
                           mm(job.partLength()) + " of the path. Use a gap above " + mm(-job.partLength()) + ".",
                       "pitch"};
    const double ratio = job.usable / pitch;
    if (ratio + 1 > double(kMostPlaces)) return tooMany(ratio + 1, "pitch");
    if (pitch > job.usable * (1 + tolerance::arc))
        return Problem{"The pitch (" + mm(pitch) + " c/c) is longer than the " + mm(job.usable) +
                           " that can be used. The longest that works is " +
                           mm(gaps ? job.usable - job.partLength() : job.usable) + ".",
                       "pitch"};
    if (job.equalGaps()) return stepGaps(job, std::move(reuse));
    Stations out;
    out.at = std::move(reuse);
    const long n = long(std::floor(ratio + tolerance::arc));
    const long count = job.closed ? n : n + 1;
    out.pitch = pitch;
    out.leftOver = std::max(0.0, job.usable - double(n) * pitch);
    out.at.resize(count);
    for (long i = 0; i < count; ++i) out.at[i] = job.start + double(i) * pitch;
    if (!job.closed)
        for (double& s : out.at) s = std::min(s + job.shift() * out.leftOver, job.start + job.usable);
    return out;
}

/// Equal gaps between two fixed places: writes the stations at.front() = first .. at.back() = last. Where the part's
/// length along the path jumps (a corner) there may be no such gap, because some place would have to stand just on the
/// jump; then it does, the gaps are equal on either side of it, as near to each other as they go, and `uneven` is set.
class GapSharer {
public:
    /// `budget`: steps that may be spent on finding out; shared by the parts of one task.
    GapSharer(const Job& job, long& budget, int depth = 0) : m_job(job), m_budget(budget), m_depth(depth) {}
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
        double gap = (last - first) / double(steps) - m_job.meanLength(), before = 0, fBefore = 0;
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
    Occupied occupiedAt(double s) const { return m_job.part.at(m_job.wrap(s)); }

    /// Steps off from `first`; the front of the last one. Notes the first place that had to jump.
    double reach(double first, double gap, std::span<double> at) {
        GapWalk walk(m_job.part);
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
            GapSharer left(m_job, m_budget, m_depth + 1), right(m_job, m_budget, m_depth + 1);
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
        for (double& s : wrapped) s = m_job.wrap(s);
        const auto there = m_job.part.at(wrapped);
        for (size_t i = 0; i + 1 < at.size(); ++i) {
            const double g = at[i + 1] - there[i + 1].behind - at[i] - there[i].ahead;
            r.least = std::min(r.least, g);
            r.most = std::max(r.most, g);
        }
        return r;
    }
    std::optional<double> nearestCorner(double s) const {
        const double w = m_job.wrap(s);
        for (const auto& c : m_job.path.corners())
            if (std::abs(c.station - w) < 5 * tolerance::length) return c.station + (s - w);
        return std::nullopt;
    }

    const Job& m_job;
    long& m_budget;
    int m_depth;
    long m_jumped = -1;
};

/// Count places shared equally: equal pitch, or equal gaps where the part's length along the path varies.
Stations share(const Job& job, long count, std::vector<double> reuse = {}) {
    Stations out;
    out.at = std::move(reuse);
    const long intervals = job.intervals(count);
    if (intervals < 1) { // a single place has no pitch: it stands in the middle
        out.at.assign(1, job.start + job.usable / 2);
        return out;
    }
    out.at.resize(count);
    out.pitch = job.usable / double(intervals);
    const double lead = job.lead(out.pitch), first = job.start + lead;
    for (long i = 0; i < count; ++i) out.at[i] = first + double(i) * out.pitch;
    if (!job.closed && lead == 0) out.at.back() = job.start + job.usable;
    if (!job.equalGaps() || count < 2) return out;
    const long steps = job.closed ? count : count - 1;
    out.at.resize(steps + 1);
    long budget = 400'000 + 10 * steps;
    GapSharer sharer(job, budget);
    sharer.share(first, first + double(steps) * out.pitch, out.at);
    out.at.resize(count);
    if (sharer.uneven) out.uneven = Stations::Uneven{}; // measured by the caller
    return out;
}

GapRange gapsOf(const Job& job, const Stations& st) {
    const size_t n = st.at.size();
    if (n < 2 && !job.closed) return {};
    if (job.part.constant()) {
        const double g = st.pitch - job.partLength();
        return {g, job.rule.rule == SpacingRule::StepOff && job.closed ? g + st.leftOver : g};
    }
    GapRange r{std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
    const size_t m = job.closed ? n : n - 1;
    std::vector<double> wrapped = st.at;
    for (double& s : wrapped) s = job.wrap(s);
    const auto occupied = job.part.at(wrapped);
    for (size_t i = 0; i < m; ++i) {
        const size_t next = (i + 1) % n;
        const double step = st.at[next] + (next == 0 ? job.path.length() : 0) - st.at[i];
        const double g = step - occupied[i].ahead - occupied[next].behind;
        r.least = std::min(r.least, g);
        r.most = std::max(r.most, g);
    }
    return r;
}

bool over(const Spacing& r, const GapRange& g) { return r.gapAtMost && g.most > *r.gapAtMost + tolerance::length; }
bool under(const Spacing& r, const GapRange& g) { return r.gapAtLeast && g.least < *r.gapAtLeast - tolerance::length; }

/// What one count gives.
struct Tried {
    Stations stations;
    GapRange range;
    bool uneven = false;
    double value = 0; ///< c/c or mean clear gap: what is to be near the wanted one
};

/// The count whose solved pitch or gap is nearest the wanted one among those that keep the limits; of two as near, the
/// smaller.
class EvenCount {
public:
    EvenCount(const Job& job) : m_job(job), m_rule(job.rule) {}

    Result<long> find() {
        if (auto p = check()) return *p;
        const double pitch = gaps() ? m_rule.about + m_job.meanLength() : m_rule.about;
        if (!(pitch > tolerance::length))
            return Problem{"About " + mm(m_rule.about) + " gives no spacing to even out; it must be above " +
                               mm(gaps() ? -m_job.meanLength() : 0) + ".",
                           "about"};
        const double ratio = m_job.usable / pitch;
        if (ratio + 1 > double(kMostPlaces)) return tooMany(ratio + 1, "about");
        if (ratio < 0.5 - tolerance::arc)
            return Problem{"About " + mm(pitch) + " c/c is more than twice the " + mm(m_job.usable) +
                               " that can be used. The longest that works is " + mm(m_job.usable) + " c/c.",
                           "about"};
        long n = std::max(least(), countFor(m_rule.about, pitch));
        if (n < kMostPlaces && !(missOf(n) <= missOf(n + 1))) ++n;
        // Where gaps cannot be equal, another one may be nearer.
        if (m_tried[n].uneven || m_tried[n + 1].uneven) {
            while (n > least() && missOf(n - 1) < missOf(n)) --n;
            while (n < kMostPlaces && missOf(n + 1) < missOf(n)) ++n;
        }
        if (keeps(n)) return n;
        // The gaps shrink as the count grows - all but quite: near the end of what the limits allow, one by one.
        const bool tooWide = over(m_rule, tried(n).range);
        const long far = edge(n, tooWide);
        std::optional<long> best;
        constexpr long around = 6;
        for (long k = std::max(least(), far - around); k <= std::min(kMostPlaces, far + around); ++k)
            if (keeps(k) && (!best || missOf(k) < missOf(*best))) best = k;
        for (long k = std::max(least(), n - around); k <= std::min(kMostPlaces, n + around); ++k)
            if (keeps(k) && (!best || missOf(k) < missOf(*best))) best = k;
        if (best) return *best;
        return refuse(far);
    }

    /// The stations of a count that find() gave.
    Stations take(long n, std::vector<double> reuse) {
        Stations st = m_job.equalGaps() ? std::move(m_tried[n].stations) : share(m_job, n, std::move(reuse));
        return st;
    }

private:
    bool gaps() const { return m_rule.measure == Measure::ClearGap; }
    long least() const { return m_job.closed ? 1 : 2; }

    std::optional<Problem> check() const {
        for (const auto& [limit, name] : {std::pair{m_rule.gapAtLeast, "gapAtLeast"}, {m_rule.gapAtMost, "gapAtMost"}})
            if (limit && !std::isfinite(*limit))
                return Problem{"This gap limit is not a number. Type a length or leave it empty.", name};
        if (m_rule.gapAtLeast && m_rule.gapAtMost && *m_rule.gapAtLeast > *m_rule.gapAtMost)
            return Problem{"The least clear gap (" + mm(*m_rule.gapAtLeast) + ") is above the most (" +
                               mm(*m_rule.gapAtMost) + "). Swap them.",
                           "gapAtLeast"};
        return std::nullopt;
    }

    /// Most places that go in at a pitch or, stepped off, at a gap.
    long countFor(double value, double pitch) const {
        if (m_job.equalGaps()) {
            const double end = m_job.start + m_job.usable;
            const auto at = stepped(m_job, m_job.start, value, end * (1 + tolerance::arc), size_t(kMostPlaces));
            if (!std::isnan(at.back())) return m_job.closed ? std::max(1L, long(at.size()) - 1) : long(at.size());
        }
        const long below = std::max(1L, long(std::floor(m_job.usable / pitch + tolerance::arc)));
        return m_job.closed ? below : below + 1;
    }

    const Tried& tried(long n) {
        const auto it = m_tried.find(n);
        if (it != m_tried.end()) return it->second;
        Stations st = share(m_job, n);
        const GapRange range = gapsOf(m_job, st);
        Tried t{{}, range, false, gaps() ? (range.least + range.most) / 2 : st.pitch};
        t.uneven = st.uneven.has_value();
        if (m_job.equalGaps()) t.stations = std::move(st); // dear enough to be kept
        return m_tried[n] = std::move(t);
    }
    double missOf(long n) {
        const double miss = std::abs(tried(n).value - m_rule.about);
        return std::round(miss / tolerance::station) * tolerance::station; // a tie is one whatever the last digits say
    }
    bool keeps(long n) {
        const GapRange& g = tried(n).range;
        return !over(m_rule, g) && !under(m_rule, g);
    }

    /// By doubling and halving: the first count from n on that is not over (when `wide`) or, downwards, not under.
    long edge(long n, bool wide) {
        const auto bad = [&](long k) { return wide ? over(m_rule, tried(k).range) : under(m_rule, tried(k).range); };
        long in = n, out = n;
        for (long stride = 1; bad(out); stride *= 2) {
            in = out;
            out = std::clamp(wide ? out + stride : out - stride, least(), kMostPlaces);
            if (out == in) return out;
        }
        while (std::abs(out - in) > 1) (bad((in + out) / 2) ? in : out) = (in + out) / 2;
        return out;
    }

    Problem refuse(long n) {
        const GapRange g = tried(n).range;
        const bool wide = over(m_rule, g);
        const long other = wide ? n + 1 : std::max(least(), n - 1);
        const GapRange h = tried(other).range;
        return {"No count keeps the clear gap within its limits: " + std::to_string(n) + " places give " +
                    mm(wide ? g.most : g.least) + ", " + std::to_string(other) + " give " +
                    mm(wide ? h.most : h.least) + ". Widen a limit or change an inset.",
                wide ? "gapAtMost" : "gapAtLeast"};
    }

    const Job& m_job;
    const Spacing& m_rule;
    std::map<long, Tried> m_tried;
};

Result<long> countFor(const Job& job) {
    if (job.rule.rule == SpacingRule::EvenOut) return EvenCount(job).find();
    if (job.rule.count < 1)
        return Problem{"The count is " + std::to_string(job.rule.count) + "; at least 1 place is needed.", "count"};
    if (job.rule.count > kMostPlaces) return tooMany(double(job.rule.count), "count");
    return job.rule.count;
}

} // namespace

Result<Stations> solveSpacing(const Path& path, const Spacing& rule, const Occupancy& part, std::vector<double> reuse) {
    auto job = prepare(path, rule, part);
    if (!job) return job.problem();
    Stations out;
    if (rule.rule == SpacingRule::StepOff) {
        auto stepped = stepOff(*job, std::move(reuse));
        if (!stepped) return stepped;
        out = std::move(stepped).value();
    } else {
        EvenCount even(*job);
        const bool evens = rule.rule == SpacingRule::EvenOut;
        const auto count = evens ? even.find() : countFor(*job);
        if (!count) return count.problem();
        out = evens ? even.take(*count, std::move(reuse)) : share(*job, *count, std::move(reuse));
        if (out.uneven) {
            const GapRange g = gapsOf(*job, out);
            out.uneven = {g.least, g.most};
        }
    }
    if (job->closed || out.at.back() > path.length()) // rounding may leave the last a hair beyond the end
        for (double& s : out.at) s = job->wrap(s);
    return out;
}

Result<std::vector<Fit>> fits(const Path& path, const Spacing& rule, const Occupancy& part) {
    auto job = prepare(path, rule, part);
    if (!job) return job.problem();
    const auto row = [&](const Stations& st) {
        const GapRange g = gapsOf(*job, st);
        return Fit{long(st.at.size()), st.pitch, g.least,       g.most,
                   st.leftOver,        false,    over(rule, g), under(rule, g) || g.least < -tolerance::length};
    };
    long best = 0;
    Spacing shared = rule;
    Job sharedJob{path, shared, part, job->start, job->usable, job->closed};
    std::vector<Fit> out;
    std::optional<Fit> stepped;
    if (rule.rule == SpacingRule::StepOff) {
        auto st = stepOff(*job);
        if (!st) return st.problem();
        stepped = row(*st);
        best = stepped->count;
        shared.rule = SpacingRule::EvenOut;
    } else if (auto count = countFor(*job)) {
        best = *count;
    } else {
        if (rule.rule != SpacingRule::EvenOut ||
            (count.problem().field != "gapAtMost" && count.problem().field != "gapAtLeast"))
            return count.problem();
        shared.gapAtLeast.reset(); // nothing keeps the limits: show what is nearest, marked
        shared.gapAtMost.reset();
        const auto nearest = EvenCount(sharedJob).find();
        if (!nearest) return nearest.problem();
        best = *nearest;
    }
    const long least = rule.rule == SpacingRule::ShareOut || job->closed ? 1 : 2;
    for (long n = std::max(least, best - 2); n <= std::min(kMostPlaces, best + 2); ++n) {
        Fit fit = stepped && n == best ? *stepped : row(share(sharedJob, n));
        fit.inUse = n == best;
        out.push_back(fit);
    }
    return out;
}

Spacing slid(const Path& path, const Spacing& rule, const Stations& now, double by) {
    Spacing out = rule;
    if (path.closed()) {
        out.slide = std::fmod(rule.slide + by, path.length());
        if (out.slide < 0) out.slide += path.length();
        return out;
    }
    // A fixed pitch with its left over at the end may slide into the left over without another inset.
    const bool spare = rule.rule == SpacingRule::StepOff && rule.leftOver == LeftOver::AtEnd;
    const double room = rule.insetEnd + (spare ? now.leftOver : 0);
    by = std::clamp(by, -rule.insetStart, room);
    out.insetStart = rule.insetStart + by;
    out.insetEnd = rule.insetEnd - (spare ? std::max(0.0, by - now.leftOver) : by);
    return out;
}

} // namespace vicinal
