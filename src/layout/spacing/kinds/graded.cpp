#include "layout/spacing/links.h"
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
        const double want = std::clamp(k - p.k0, 0.0, p.k1 - p.k0);
        if (linear(p.curve)) { // p = q + m x
            const double q = p.curve.at(p.a), m = p.curve.c[1];
            return std::min(p.b, p.a + (m == 0 ? want * q : q * std::expm1(m * want) / m));
        }
        double a = p.a, b = p.b, s = a + (b - a) * want / (p.k1 - p.k0);
        for (int i = 0; i < 60; ++i) { // Newton: dk/ds = 1/p, kept inside by bisection
            const double f = integral(p.curve, p.a, s) - want;
            (f < 0 ? a : b) = s;
            const double next = s - f * p.curve.at(s);
            if (std::abs(f) * p.curve.at(s) < tolerance::station / 4 || b - a < tolerance::station / 10) break;
            s = next > a && next < b ? next : (a + b) / 2;
        }
        return s;
    }

private:
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
        // Gauss-Legendre, ten points. Source: Abramowitz, Stegun, "Handbook of Mathematical Functions", table 25.4.
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

} // namespace

double pitchesIn(const Graded& rule, const Ruler& ruler) {
    const double length = ruler.path.length(), more = ruler.gaps() ? ruler.partLength() : 0;
    const double factor = ruler.spacing.measure == Measure::OfLength ? ruler.lineup.level() : 1;
    const ProfileCurve curve(rule.pitch, length, ruler.path.closed(), 0);
    if (rule.pitch.empty() || !(curve.least() + more > tolerance::length)) return std::nan("");
    return Count(curve, more, ruler.start, ruler.end(), length, ruler.path.closed()).total() / factor;
}

Result<Stations> solve(const Graded& rule, const Ruler& ruler, std::vector<double> reuse) {
    if (rule.pitch.empty()) return Problem{"The pitch has no key. Add one: a station and the pitch there.", "pitches"};
    const double length = ruler.path.length();
    const ProfileCurve curve(rule.pitch, length, ruler.path.closed(), 0);
    const double more = ruler.gaps() ? ruler.partLength() : 0;
    const double factor = ruler.spacing.measure == Measure::OfLength ? ruler.lineup.level() : 1;
    if (!(curve.least() + more > tolerance::length))
        return Problem{ruler.gaps() ? Words("The clear gap comes down to ") + mm(curve.least()) +
                                          ", less than the part takes away: places would stand on each other."
                                    : Words("The pitch comes down to ") + mm(curve.least()) +
                                          "; it must stay above zero everywhere.",
                       "pitches"};
    const double end = ruler.end();
    const Count k(curve, more, ruler.start, end, length, ruler.path.closed());
    const double whole = k.total() / factor;
    if (whole + 1 > double(kMostPlaces)) return tooMany(whole + 1, "pitches");
    if (rule.count < 0 || rule.count > kMostPlaces)
        return Problem{"The count is " + std::to_string(rule.count) + "; use 0 for as many as fit, or a number.",
                       "places"};
    Stations out;
    out.at = std::move(reuse);
    out.at.clear();
    out.even = false;
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
        if (!ruler.closed) from = spareOf(rule.leftOver) * std::max(0.0, k.total() - double(n) * factor);
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

} // namespace vicinal::spacing
