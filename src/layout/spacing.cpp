#include "layout/spacing.h"
#include "layout/text.h"
#include <algorithm>
#include <cmath>

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
        return s < 0 ? s + L : s;
    }
    Occupied occupied(double s) const { return part.at(wrap(s)); }
    /// Next seat point when the gap in front of the one at s is `gap`.
    double next(double s, double gap) const {
        const double front = s + occupied(s).ahead + gap;
        double to = front + occupied(s).behind;
        for (int i = 0; i < 30; ++i) {
            const double better = front + occupied(to).behind;
            const bool same = std::abs(better - to) < tolerance::station;
            to = better;
            if (same) break;
        }
        return to;
    }
    double partLength() const { return occupied(start).total(); }
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

std::string mm(double v) { return text::number(v, 3) + " mm"; }

Problem tooMany(double wanted, const char* field) {
    return {"That makes " + text::number(wanted, 0) + " places; the most is " + text::number(double(kMostPlaces), 0) +
                ". Raise the spacing or split the run.",
            field};
}

Result<Job> prepare(const Path& path, const Spacing& rule, const Occupancy& part) {
    Job job{path, rule, part, 0, path.length(), path.closed()};
    for (double v : {rule.pitch, rule.about, rule.insetStart, rule.insetEnd, rule.slide})
        if (!std::isfinite(v)) return Problem{"A spacing value is not a number. Type a length.", "pitch"};
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
    Stations out;
    out.at = std::move(reuse);
    if (!job.equalGaps()) {
        const long n = long(std::floor(ratio + tolerance::arc));
        const long count = job.closed ? n : n + 1;
        out.pitch = pitch;
        out.leftOver = std::max(0.0, job.usable - double(n) * pitch);
        out.at.resize(count);
        for (long i = 0; i < count; ++i) out.at[i] = job.start + double(i) * pitch;
    } else {
        const double end = job.start + job.usable, slack = tolerance::arc * job.usable;
        double s = job.start;
        out.at.assign(1, s);
        while (long(out.at.size()) <= kMostPlaces) {
            const double to = job.next(s, wanted);
            if (!(to > s + tolerance::length))
                return Problem{"At station " + mm(s) + " a clear gap of " + mm(wanted) +
                                   " gives no way forward: the part takes up less than that there. Use a larger gap.",
                               "pitch"};
            if (to > end + slack) break;
            out.at.push_back(s = to);
        }
        if (job.closed && out.at.size() > 1) out.at.pop_back(); // its own gap would reach beyond the first place
        const size_t n = out.at.size();
        if (job.closed) {
            out.leftOver = std::max(0.0, end - job.next(out.at.back(), wanted));
        } else {
            // Shifted places take up another length of the path: step again from where the run begins until that
            // settles.
            for (int round = 0; round < 20; ++round) {
                out.leftOver = std::max(0.0, job.usable - (out.at.back() - out.at.front()));
                const double first = job.start + job.shift() * out.leftOver;
                if (std::abs(first - out.at.front()) < tolerance::station) break;
                out.at[0] = first;
                for (size_t i = 1; i < n; ++i) out.at[i] = job.next(out.at[i - 1], wanted);
            }
        }
        out.pitch = n > 1 ? (out.at.back() - out.at.front()) / double(n - 1) : 0;
        return out;
    }
    if (!job.closed)
        for (double& s : out.at) s = std::min(s + job.shift() * out.leftOver, job.start + job.usable);
    return out;
}

/// Count places shared equally: equal pitch, or equal gaps where the part's length along the path varies.
Stations share(const Job& job, long count, std::vector<double> reuse = {}) {
    Stations out;
    out.at = std::move(reuse);
    out.at.resize(count);
    const long intervals = job.intervals(count);
    if (intervals < 1) { // a single place has no pitch: it stands in the middle
        out.at[0] = job.start + job.usable / 2;
        return out;
    }
    out.pitch = job.usable / double(intervals);
    const double lead = job.lead(out.pitch), first = job.start + lead;
    for (long i = 0; i < count; ++i) out.at[i] = first + double(i) * out.pitch;
    if (!job.closed && lead == 0) out.at.back() = job.start + job.usable;
    if (!job.equalGaps() || count < 2) return out;
    // The one gap that brings the last place (or, closed, the first again) to where it must be: reached(gap) rises by
    // about one per interval, so this quasi-Newton step converges in three or four rounds.
    const long steps = job.closed ? count : count - 1;
    const double end = first + double(steps) * out.pitch;
    double gap = out.pitch - job.partLength();
    for (int round = 0; round < 40; ++round) {
        double s = first;
        for (long i = 0; i < steps; ++i) {
            out.at[i] = s;
            s = job.next(s, gap);
        }
        if (!job.closed) out.at[count - 1] = s;
        const double miss = end - s;
        if (std::abs(miss) < tolerance::station * 10) break;
        gap += miss / double(steps);
    }
    if (!job.closed) out.at.back() = end;
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

Result<long> evenCount(const Job& job) {
    const Spacing& r = job.rule;
    const bool gaps = r.measure == Measure::ClearGap;
    const double pitch = gaps ? r.about + job.partLength() : r.about;
    if (!(gaps ? pitch > tolerance::length : r.about > tolerance::length))
        return Problem{"About " + mm(r.about) + " gives no spacing to even out; it must be above " +
                           mm(gaps ? -job.partLength() : 0) + ".",
                       "about"};
    for (const auto& limit : {r.gapAtLeast, r.gapAtMost})
        if (limit && !std::isfinite(*limit))
            return Problem{"A gap limit is not a number. Type a length or leave it empty.", "gapAtMost"};
    if (r.gapAtLeast && r.gapAtMost && *r.gapAtLeast > *r.gapAtMost)
        return Problem{"The least clear gap (" + mm(*r.gapAtLeast) + ") is above the most (" + mm(*r.gapAtMost) +
                           "). Swap them.",
                       "gapAtLeast"};
    const double ratio = job.usable / pitch;
    if (ratio + 1 > double(kMostPlaces)) return tooMany(ratio + 1, "about");
    const long least = job.closed ? 1 : 2;
    if (ratio < 0.5 - tolerance::arc)
        return Problem{"About " + mm(pitch) + " c/c is more than twice the " + mm(job.usable) +
                           " that can be used. The longest that works is " + mm(job.usable) + " c/c.",
                       "about"};
    const long below = std::max(1L, long(std::floor(ratio + tolerance::arc)));
    const auto pitchOf = [&](long n) { return job.usable / double(n); };
    const long intervals = std::abs(pitchOf(below) - pitch) <= std::abs(pitchOf(below + 1) - pitch) ? below : below + 1;
    long n = std::max(least, job.closed ? intervals : intervals + 1);
    const auto range = [&](long count) { return gapsOf(job, share(job, count)); };
    // Gaps only shrink as the count grows, so limits are found by doubling and halving.
    if (over(r, range(n))) {
        long lo = n, hi = n + 1;
        while (hi < kMostPlaces && over(r, range(hi))) lo = hi, hi = std::min(kMostPlaces, hi + 2 * (hi - n));
        while (hi - lo > 1) (over(r, range((lo + hi) / 2)) ? lo : hi) = (lo + hi) / 2;
        n = hi;
    } else if (under(r, range(n))) {
        long hi = n, lo = n - 1;
        while (lo > least && under(r, range(lo))) hi = lo, lo = std::max(least, lo - 2 * (n - lo));
        if (lo < least) lo = least;
        while (hi - lo > 1) (under(r, range((lo + hi) / 2)) ? hi : lo) = (lo + hi) / 2;
        n = lo;
    }
    const GapRange g = range(n);
    if (over(r, g) || under(r, g)) {
        const GapRange other = range(over(r, g) ? n + 1 : std::max(least, n - 1));
        return Problem{"No count keeps the clear gap within its limits: " + std::to_string(n) + " places give " +
                           mm(over(r, g) ? g.most : g.least) + ", " +
                           std::to_string(over(r, g) ? n + 1 : std::max(least, n - 1)) + " give " +
                           mm(over(r, g) ? other.most : other.least) + ". Widen a limit or change an inset.",
                       over(r, g) ? "gapAtMost" : "gapAtLeast"};
    }
    return n;
}

Result<long> countFor(const Job& job) {
    if (job.rule.rule == SpacingRule::EvenOut) return evenCount(job);
    if (job.rule.count < 1)
        return Problem{"The count is " + std::to_string(job.rule.count) + "; at least 1 place is needed.", "count"};
    if (job.rule.count > kMostPlaces) return tooMany(double(job.rule.count), "count");
    return job.rule.count;
}

} // namespace

Occupancy::Occupancy(Path path, Facing facing, const Mat3& partRotation, const Box3& box)
    : m_path(std::move(path)), m_facing(facing), m_partRotation(partRotation), m_box(box) {
    const bool along = m_facing.nose == NoseRule::Along;
    const bool level = m_path.steepest() <= tolerance::angle;
    m_constant = along && (m_facing.crown != CrownRule::Plumb || level);
    if (m_constant) m_fixed = of(Vec3::UnitX(), extraTurn(m_facing));
}

Occupied Occupancy::of(const Vec3& tangent, const Mat3& R) const {
    Occupied best;
    double least = std::numeric_limits<double>::infinity();
    for (int a = 0; a < 3; ++a) {
        const double c = tangent.dot(R.col(a)), lo = m_box.min()[a], hi = m_box.max()[a];
        if (std::abs(c) * least <= (hi - lo) || std::abs(c) < tolerance::angle) continue;
        least = (hi - lo) / std::abs(c);
        best = c > 0 ? Occupied{hi / c, -lo / c} : Occupied{lo / c, -hi / c};
    }
    return best;
}

Occupied Occupancy::at(double station) const {
    if (m_constant) return m_fixed;
    Occupied out;
    faceAt(m_path, std::span(&station, 1), m_facing, m_partRotation,
           [&](size_t, const Vec3&, const Vec3& t, const Mat3& R) { out = of(t, R); });
    return out;
}

std::vector<Occupied> Occupancy::at(std::span<const double> stations) const {
    std::vector<Occupied> out(stations.size(), m_fixed);
    if (m_constant) return out;
    const auto wrap = size_t(std::is_sorted_until(stations.begin(), stations.end()) - stations.begin());
    for (const auto& [from, count] : {std::pair{size_t(0), wrap}, {wrap, stations.size() - wrap}})
        faceAt(m_path, stations.subspan(from, count), m_facing, m_partRotation,
               [&, first = from](size_t i, const Vec3&, const Vec3& t, const Mat3& R) { out[first + i] = of(t, R); });
    return out;
}

Result<Stations> solveSpacing(const Path& path, const Spacing& rule, const Occupancy& part, std::vector<double> reuse) {
    auto job = prepare(path, rule, part);
    if (!job) return job.problem();
    Stations out;
    if (rule.rule == SpacingRule::StepOff) {
        auto stepped = stepOff(*job, std::move(reuse));
        if (!stepped) return stepped;
        out = std::move(stepped).value();
    } else {
        const auto count = countFor(*job);
        if (!count) return count.problem();
        out = share(*job, *count, std::move(reuse));
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
        const auto nearest = evenCount(sharedJob);
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
