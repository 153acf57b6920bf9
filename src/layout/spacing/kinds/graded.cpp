#include "base/numeric/solve.h"
#include "base/say.h"
#include "layout/spacing/chain_links.h"
#include "layout/spacing/rule_kind.h"
#include "layout/spacing/rules.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal::spacing {
namespace {

/// How many pitches a station is away from the start: k(s) = integral of ds / p(s), with its inverse.
class Count {
public:
    /// `more`: added to every value of the curve (a part's length, when it is gaps that are given).
    Count(const ProfileCurve& curve, double more, double start, double end, double length, bool wraps) {
        std::vector<ProfileCurve::Piece> pieces = curve.pieces();
        if (pieces.empty()) pieces.push_back({0, length, {curve.at(0), 0, 0, 0}});
        for (int lap = 0; lap <= (wraps ? 1 : 0); ++lap)
            for (ProfileCurve::Piece p : pieces) {
                p.s0 += lap * length;
                p.s1 += lap * length;
                p.c[0] += more;
                // On a closed path a piece may begin before the seam; only what lies in this lap counts.
                const double a = std::max({p.s0, start, lap * length}), b = std::min({p.s1, end, (lap + 1) * length});
                if (b > a) add(p, a, b);
            }
    }
    double total() const { return m_pieces.empty() ? 0 : m_pieces.back().k1; }
    double stationOf(double k) const {
        auto it =
            std::upper_bound(m_pieces.begin(), m_pieces.end(), k, [](double v, const Part& p) { return v < p.k0; });
        if (it != m_pieces.begin()) --it;
        const Part& p = *it;
        return within(p.curve, p.a, p.b, p.k1 - p.k0, std::clamp(k - p.k0, 0.0, p.k1 - p.k0));
    }
    /// The station where `k` more pitches than at `from` are reached when `more` is added to the curve besides; beyond
    /// the end the curve stays as it is there.
    double advance(double from, double k, double more) const {
        auto it =
            std::upper_bound(m_pieces.begin(), m_pieces.end(), from, [](double v, const Part& p) { return v < p.a; });
        if (it != m_pieces.begin()) --it;
        double at = from;
        for (; it != m_pieces.end() && at < m_pieces.back().b; ++it) {
            ProfileCurve::Piece p = it->curve;
            p.c[0] += more;
            if (at >= it->b) continue;
            const double whole = integral(p, at, it->b);
            if (whole < k) {
                k -= whole;
                at = it->b;
                continue;
            }
            return within(p, at, it->b, whole, k);
        }
        return at + k * (m_pieces.back().curve.at(m_pieces.back().b) + more);
    }

private:
    /// Where the integral from a comes to `want`; up to b it is `whole`.
    static double within(const ProfileCurve::Piece& p, double a0, double b0, double whole, double want) {
        if (linear(p)) { // p = q + m x
            const double q = p.at(a0), m = p.c[1];
            return std::min(b0, a0 + (m == 0 ? want * q : q * std::expm1(m * want) / m));
        }
        double a = a0, b = b0, s = a + (b - a) * want / whole;
        for (int i = 0; i < 60; ++i) { // Newton: dk/ds = 1/p, kept inside by bisection
            const double f = integral(p, a0, s) - want;
            (f < 0 ? a : b) = s;
            const double next = s - f * p.at(s);
            if (std::abs(f) * p.at(s) < tolerance::station / 4 || b - a < tolerance::station / 10) break;
            s = next > a && next < b ? next : (a + b) / 2;
        }
        return s;
    }
    struct Part {
        ProfileCurve::Piece curve;
        double a, b, k0, k1;
    };
    static bool linear(const ProfileCurve::Piece& p) { return p.c[2] == 0 && p.c[3] == 0; }

    void add(const ProfileCurve::Piece& p, double a, double b) {
        // Smooth pieces in eighths, so that one Gauss rule is exact to rounding in each.
        const int n = linear(p) ? 1 : 8;
        for (int i = 0; i < n; ++i) {
            const double from = a + (b - a) * i / n, to = a + (b - a) * (i + 1) / n, k0 = total();
            m_pieces.push_back({p, from, to, k0, k0 + integral(p, from, to)});
        }
    }
    static double integral(const ProfileCurve::Piece& p, double a, double b) {
        if (linear(p)) {
            const double pa = p.at(a), pb = p.at(b), m = p.c[1];
            return m == 0 ? (b - a) / pa : std::log1p((pb - pa) / pa) / m;
        }
        // Gauss-Legendre, ten points, in this order: places of earlier files hang on its last digit (numeric/solve.h
        // has the rule for all others). Source: Abramowitz, Stegun, "Handbook of Mathematical Functions", table 25.4.
        static constexpr std::array<double, 5> x{0.1488743389816312, 0.4333953941292472, 0.6794095682990244,
                                                 0.8650633666889845, 0.9739065285171717};
        static constexpr std::array<double, 5> w{0.2955242247147529, 0.2692667193099963, 0.2190863625159820,
                                                 0.1494513491505806, 0.0666713443086881};
        const double middle = (a + b) / 2, half = (b - a) / 2;
        double sum = 0;
        for (size_t i = 0; i < x.size(); ++i)
            sum += w[i] * (1 / p.at(middle - half * x[i]) + 1 / p.at(middle + half * x[i]));
        return sum * half;
    }
    std::vector<Part> m_pieces;
};

/// Places whose pitch is made of more than the curve: neighbours with lengths of their own, which may vary along the
/// path. From place i to the next one k grows by one: the integral of ds / (gap(s) + length that both take between
/// them), by share of their length of ds / share(s), up to that length.
class Pairs {
public:
    /// `least`: of the curve.
    Pairs(const Ruler& ruler, const Count& curve, double least)
        : m_ruler(ruler), m_curve(curve), m_least(least), m_gaps(ruler.gaps()) {}

    /// Place `following` when place i stands at s, `scale` pitches on. Not a number where there is no way forward.
    double next(long i, double s, double scale, long following) const {
        const double ahead = at(i, s).ahead;
        const auto with = [&](double to) {
            const double length = ahead + at(following, to).behind;
            if (!m_gaps) return m_curve.advance(s, scale * length, 0);
            return m_least + length > tolerance::length ? m_curve.advance(s, scale, length) : std::nan("");
        };
        return whereItLeads(m_ruler, s, with, [&](double to) { return with(to) - to; });
    }
    /// So many places from s on, or as many as stand up to the ruler's end.
    std::vector<double> from(double s, long most, double scale, double slack) const {
        std::vector<double> out{s};
        while (long(out.size()) < most) {
            const double to = next(long(out.size()) - 1, out.back(), scale, long(out.size()));
            if (!(to > out.back() + tolerance::length) || to > m_ruler.end() + slack) break;
            out.push_back(to);
        }
        return out;
    }
    /// Where place `n` stands, with room beyond the end; all the way round it is the first one again.
    double last(double s, long n, double scale) const {
        for (long i = 0; i < n; ++i) {
            const double to = next(i, s, scale, m_ruler.closed && i + 1 == n ? 0 : i + 1);
            if (!(to > s + tolerance::length)) return std::nan("");
            s = to;
        }
        return s;
    }

private:
    Occupied at(long i, double s) const { return m_ruler.part(i).at(m_ruler.wrap(s)); }

    const Ruler& m_ruler;
    const Count& m_curve;
    double m_least;
    bool m_gaps;
};

/// Every neighbour has a length of its own, or one length that varies.
bool inPairs(const Ruler& ruler) {
    return ruler.spacing.measure != Measure::CentreToCentre && !(ruler.lineup.constant() && ruler.plain());
}

Result<Stations> solvePairs(const Graded& rule, const Ruler& ruler, const Pairs& pairs, Stations out) {
    const double end = ruler.end(), slack = tolerance::arc * ruler.usable, close = 10 * tolerance::station;
    const Problem stuck{"Somewhere a part takes up more than its pitch leaves: places would stand on each other. Raise "
                        "the keys.",
                        "pitches"};
    if (rule.count > 0) {
        const long steps = ruler.closed ? rule.count : rule.count - 1;
        if (steps == 0) {
            out.at.assign(1, ruler.start + ruler.usable / 2);
            return out;
        }
        // All pitches are scaled alike, so that the last one comes out.
        const auto miss = [&](double scale) {
            const double last = pairs.last(ruler.start, steps, scale);
            return std::isnan(last) ? -ruler.usable : last - end;
        };
        double most = 1;
        while (miss(most) < 0 && most < 1e12) most *= 2;
        const double scale = risingRoot(miss, 0, most, close);
        out.at = pairs.from(ruler.start, rule.count, scale, ruler.usable);
        const double stands = pairs.last(ruler.start, steps, scale);
        if (long(out.at.size()) < rule.count || std::isnan(stands)) return stuck;
        // Where lengths jump there may be no scale that brings the last one to the end.
        if (std::abs(stands - end) > 10 * tolerance::length) out.uneven = {stands, end, Stations::Uneven::Of::Last};
        if (!ruler.closed) out.at.back() = end;
    } else {
        out.at = pairs.from(ruler.start, ruler.count > 0 ? ruler.count : kMostPlaces + 1, 1, slack);
        if (out.at.size() > size_t(kMostPlaces)) return tooMany(double(out.at.size()), "pitches");
        const auto beyond = [&](long following) {
            return pairs.next(long(out.at.size()) - 1, out.at.back(), 1, following);
        };
        if (!(beyond(long(out.at.size())) > out.at.back() + tolerance::length)) return stuck;
        // All the way round the last place keeps its distance to the first one.
        while (ruler.closed && !out.at.empty() && !(beyond(0) <= end + slack)) out.at.pop_back();
        if (out.at.empty() || (!ruler.closed && out.at.size() < 2))
            return Problem{"The pitch is longer than the " + mm(ruler.usable) + " that can be used. Lower its keys.",
                           "pitches"};
        const double spare = spareOf(rule.leftOver);
        if (!ruler.closed && spare > 0 && end - out.at.back() > close) {
            const long n = long(out.at.size()) - 1;
            const auto miss = [&](double first) {
                const double last = pairs.last(first, n, 1);
                return (first - ruler.start) * (1 - spare) - spare * (end - last);
            };
            const double first = risingRoot(miss, ruler.start, end, close);
            auto moved = pairs.from(first, n + 1, 1, ruler.usable);
            if (long(moved.size()) == n + 1 && moved.back() <= end + slack) out.at = std::move(moved);
        }
        if (!ruler.closed) out.at.back() = std::min(out.at.back(), end);
    }
    const size_t n = out.at.size();
    out.pitch = n > 1 ? (out.at.back() - out.at.front()) / double(n - 1) : 0;
    const double length = ruler.meanLength();
    out.value = ruler.gaps() ? out.pitch - length : out.pitch / length; // the mean
    const double used = out.at.back() - out.at.front();
    out.leftOver =
        std::max(0.0, ruler.closed ? end - pairs.next(long(n) - 1, out.at.back(), 1, 0) : ruler.usable - used);
    if (ruler.closed && rule.count > 0) out.leftOver = 0;
    return out;
}

} // namespace

/// How far, mm, so many places would lead beyond the ruler's end; not a number when there is no pitch.
static double excessOf(const Graded& rule, const Ruler& ruler, long count) {
    const double length = ruler.path.length(), more = ruler.gaps() ? ruler.partLength() : 0;
    const double factor = ruler.spacing.measure == Measure::OfLength ? ruler.meanLength() : 1;
    const ProfileCurve curve(rule.pitch, length, ruler.path.closed(), 0);
    if (rule.pitch.empty() || !(curve.least() + more > tolerance::length)) return std::nan("");
    const auto counted = [&](double with) {
        return Count(curve, with, ruler.start, ruler.end(), length, ruler.path.closed());
    };
    const long intervals = ruler.closed ? count : count - 1;
    if (inPairs(ruler)) {
        const Count bare = counted(0);
        Ruler known = ruler;
        known.count = count;
        return Pairs(known, bare, curve.least()).last(ruler.start, intervals, 1) - ruler.end();
    }
    const double whole = counted(more).total() / factor; // pitches in the stretch, whole and in parts
    return (double(intervals) - whole) * ruler.usable / std::max(whole, tolerance::rounding);
}

static Result<Stations> solve(const Graded& rule, const Ruler& ruler, std::vector<double> reuse) {
    if (rule.pitch.empty()) return Problem{"The pitch has no key. Add one: a station and the pitch there.", "pitches"};
    const double length = ruler.path.length();
    const ProfileCurve curve(rule.pitch, length, ruler.path.closed(), 0);
    const double more = ruler.gaps() ? ruler.partLength() : 0;
    const double factor = ruler.spacing.measure == Measure::OfLength ? ruler.meanLength() : 1;
    if (!(curve.least() + more > tolerance::length))
        return Problem{ruler.gaps() ? Words("The gap along comes down to ") + mm(curve.least()) +
                                          ", less than the part takes away: places would stand on each other."
                                    : Words("The pitch comes down to ") + mm(curve.least()) +
                                          "; it must stay above zero everywhere.",
                       "pitches"};
    const double end = ruler.end();
    const Count k(curve, more, ruler.start, end, length, ruler.path.closed());
    const double whole = k.total() / factor;
    if (whole + 1 > double(kMostPlaces)) return tooMany(whole + 1, "pitches");
    if (rule.count < 0 || rule.count > kMostPlaces)
        return Problem{"The count is " + say::count(rule.count) + "; use 0 for as many as fit, or a number.", "places"};
    Stations out;
    out.at = std::move(reuse);
    out.at.clear();
    out.even = false;
    if (inPairs(ruler)) {
        const Count bare(curve, 0, ruler.start, end, length, ruler.path.closed());
        const auto counted = [&](long count) {
            Ruler known = ruler;
            known.count = count;
            auto st = solvePairs(rule, known, Pairs(known, bare, curve.least()), out);
            if (st) st.value().slotOf = slotsOf(known.with(st->at), st->at.size());
            return st;
        };
        if (rule.count > 0 || !ruler.lineup.special().last) return counted(rule.count > 0 ? rule.count : -1);
        // The last place has a part of its own: as many as still go in with it.
        auto st = counted(-1);
        for (long n = st ? long(st->at.size()) + 1 : 0; n > 1; --n)
            if (auto now = counted(n); now && long(now->at.size()) >= n) return now;
        return st;
    }
    long count = rule.count;
    double step = factor, from = 0; // of k from place to place, k of the first place
    if (count > 0) {
        const double intervals = double(count) - (ruler.closed ? 0 : 1);
        step = intervals > 0 ? k.total() / intervals : 0;
        if (intervals == 0) from = k.total() / 2;
    } else {
        const long n = long(std::floor(whole * (1 + tolerance::arc)));
        count = ruler.closed ? n : n + 1;
        if (count < 1 || (!ruler.closed && n < 1))
            return Problem{"The pitch is longer than the " + mm(ruler.usable) + " that can be used. Lower its keys.",
                           "pitches"};
        const double spare = spareOf(rule.leftOver), over = std::max(0.0, k.total() - double(n) * factor);
        if (!ruler.closed && spare > 0) { // lengths are shared, not pitches
            const auto miss = [&](double x) {
                return (k.stationOf(x) - ruler.start) * (1 - spare) -
                       spare * (end - k.stationOf(std::min(k.total(), x + double(n) * factor)));
            };
            from = spare == 1 ? over : risingRoot(miss, 0, over, tolerance::station);
        }
    }
    for (long i = 0; i < count; ++i)
        out.at.push_back(std::min(end, k.stationOf(std::min(k.total(), from + double(i) * step))));
    if (!ruler.closed && rule.count > 1) out.at.back() = end;
    out.pitch = count > 1 ? (out.at.back() - out.at.front()) / double(count - 1) : 0;
    out.value = (out.pitch - more) / factor; // the mean
    if (ruler.closed) {
        const double last = k.stationOf(std::min(k.total(), double(count) * step));
        out.leftOver = std::max(0.0, end - last);
    } else {
        out.leftOver = std::max(0.0, ruler.usable - (out.at.back() - out.at.front()));
    }
    return out;
}

namespace {

class GradedKind final : public RuleKind {
    static const Graded& of(const SpacingRule& r) { return std::get<Graded>(r); }
    static Graded counted(Graded rule, long count) { // all pitches scaled alike
        rule.count = count;
        return rule;
    }

public:
    long count(const SpacingRule& r) const override { return of(r).count; }
    Profile* keys(SpacingRule& r) const override { return &std::get<Graded>(r).pitch; }
    bool relevant(const Spacing&, const std::string& key) const override { return key != "along"; }
    Result<Stations> solve(const SpacingRule& r, const Ruler& ruler, std::vector<double> reuse) const override {
        return spacing::solve(of(r), ruler, std::move(reuse));
    }
    Result<std::vector<Fit>> fits(const SpacingRule& r, const Ruler& ruler) const override {
        auto now = spacing::solve(of(r), ruler, {});
        if (!now) return now.problem();
        CountTable table{long(now->at.size()), now->value};
        table.inUse = std::move(now).value();
        table.counted = [&](long n) -> std::optional<Stations> {
            auto st = spacing::solve(counted(of(r), n), ruler, {});
            return st ? std::optional(std::move(st).value()) : std::nullopt;
        };
        return rowsOf(ruler, table);
    }
    bool leavesOver(const SpacingRule& r) const override { return of(r).count == 0; }
    Result<double> excess(const SpacingRule& r, const Ruler& ruler, long count) const override {
        return excessOf(of(r), ruler, count);
    }
    std::optional<SpacingRule> ofFit(const SpacingRule& r, long count) const override { return counted(of(r), count); }
    void takeOver(SpacingRule& r, const RowAsItStands& row) const override {
        auto& graded = std::get<Graded>(r);
        graded.pitch = Profile{{{0, row.value}}, false, false};
        graded.count = row.count;
    }
    bool movesAsOne(const Spacing&) const override { return true; }
    SpacingRule onRow(const SpacingRule& r, double) const override { return counted(of(r), 0); }
};

} // namespace

} // namespace vicinal::spacing

namespace vicinal {

void describe(const ValueVisitor& v, Graded& r) {
    v.profile("pitches", "Pitch along", "Keys of the pitch: station and pitch, straight or smooth between them",
              r.pitch, ProfileKind::Length);
    v.count("places", "Places", "How many places, all pitches scaled alike; 0: as many as fit", r.count);
    v.choice("leftOver", "Left over to", "Where what is left over stays", r.leftOver, kLeftOverWords);
}

const RuleKind& kindOf(const Graded&) {
    static const spacing::GradedKind kind;
    return kind;
}

} // namespace vicinal
