#pragma once
// The root of a function of one number that lies nearest to where it stands now.
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>

namespace vicinal {

/// Where a search ended.
struct RootFound {
    double at = 0;    ///< the root, or where the function is least by amount
    double value = 0; ///< of the function there
    bool exact = false;
    bool any = false; ///< it was a number somewhere
    int tries = 0;    ///< how often the function was asked
};

/// What is looked for, and where.
struct RootWanted {
    double from = 0;            ///< the present number
    double least = 0, most = 0; ///< bounds, ends included
    double step = 1;            ///< a first step that changes little
    double close = 1e-9;        ///< a value that counts as zero
    int mostTries = 400;
};

/// `f` gives not a number where there is nothing to ask (a shape that cannot be); a jump through zero is no root.
/// First Newton's steps by differences, taken as long as each at least halves the value; else the function is followed
/// outwards on both sides in growing steps, always on the side that is nearer, until its sign changes between two
/// neighbours. The bracket is narrowed by secants with bisection as guard (Illinois).
/// Source: Dowell, Jarratt, "A modified regula falsi method", BIT 11, 1971.
template<class F> class NearestRoot {
public:
    NearestRoot(F& f, const RootWanted& want) : m_f(f), m_want(want) {}

    RootFound find() {
        const double from = std::clamp(m_want.from, m_want.least, m_want.most);
        const double f0 = ask(from);
        if (done()) return m_best;
        if (!std::isnan(f0) && newton(from, f0)) return m_best;
        walk(from, f0);
        return m_best;
    }

private:
    struct At {
        double x = 0, f = std::numeric_limits<double>::quiet_NaN();
    };
    double ask(double x) {
        const double f = m_f(x);
        ++m_best.tries;
        if (!std::isnan(f) && (m_none || std::abs(f) < std::abs(m_best.value))) {
            m_none = false;
            m_best.any = true;
            m_best.at = x, m_best.value = f;
            m_best.exact = std::abs(f) <= m_want.close;
        }
        return f;
    }
    bool done() const { return !m_none && m_best.exact; }
    bool spent() const { return m_best.tries >= m_want.mostTries; }
    bool within(double x) const { return x >= m_want.least && x <= m_want.most; }

    /// Secant steps from the present number; false when they lead nowhere.
    bool newton(double x, double f) {
        double slope;
        {
            const double d = m_want.step * 1e-3, to = within(x + d) ? x + d : x - d;
            const double g = ask(to);
            if (std::isnan(g) || g == f || to == x) return false;
            slope = (g - f) / (to - x);
        }
        const double reach = 2 * std::abs(f / slope);
        const double start = x;
        for (int i = 0; i < 12 && !done(); ++i) {
            const double next = x - f / slope;
            if (!within(next) || std::abs(next - start) > reach || next == x) return done();
            const double g = ask(next);
            if (std::isnan(g) || std::abs(g) > std::abs(f) / 2) return done();
            if (next != x && g != f) slope = (g - f) / (next - x);
            x = next, f = g;
        }
        return done();
    }

    /// Between two numbers where the sign changes; false when it jumps there.
    bool narrow(At a, At b) {
        double fa = a.f, fb = b.f; // as the secant takes them: halved where an end stays
        int same = 0;
        double width = std::abs(b.x - a.x);
        for (int i = 0; i < 100 && !done(); ++i) {
            double x = a.x - fa * (b.x - a.x) / (fb - fa);
            const double lo = std::min(a.x, b.x), hi = std::max(a.x, b.x);
            if (i % 3 == 2 && hi - lo > width / 2) x = (lo + hi) / 2;
            if (i % 3 == 2) width = hi - lo;
            if (!(x > lo && x < hi)) x = (lo + hi) / 2;
            if (!(x > lo && x < hi)) return done(); // no number between
            const At now{x, ask(x)};
            if (std::isnan(now.f)) return false;
            if ((now.f > 0) == (a.f > 0)) {
                a = now, fa = now.f;
                if (++same > 1) fb /= 2;
                same = std::max(same, 1);
            } else {
                b = now, fb = now.f;
                if (--same < -1) fa /= 2;
                same = std::min(same, -1);
            }
        }
        return done();
    }

    /// From where the function is known to where there is nothing: the last number where there is still something.
    At edge(At known, double nothing) {
        for (int i = 0; i < 20 && !spent(); ++i) {
            const At now{(known.x + nothing) / 2, ask((known.x + nothing) / 2)};
            if (std::isnan(now.f)) {
                nothing = now.x;
            } else {
                if ((now.f > 0) != (known.f > 0)) return now;
                known = now;
            }
        }
        return known;
    }

    void walk(double from, double f0) {
        struct Side {
            double sign, step;
            At last;
            bool ended = false;
        };
        std::array<Side, 2> sides{Side{1, m_want.step, {from, f0}}, Side{-1, m_want.step, {from, f0}}};
        while (!done() && !spent() && !(sides[0].ended && sides[1].ended)) {
            // The side whose next number is nearer.
            const auto away = [&](const Side& s) {
                return s.ended ? std::numeric_limits<double>::infinity() : std::abs(s.last.x - from) + s.step;
            };
            Side& s = away(sides[0]) <= away(sides[1]) ? sides[0] : sides[1];
            const double x = std::clamp(s.last.x + s.sign * s.step, m_want.least, m_want.most);
            if (x == s.last.x) {
                s.ended = true;
                continue;
            }
            At now{x, ask(x)};
            if (done()) return;
            const bool was = !std::isnan(s.last.f), is = !std::isnan(now.f);
            if (was && is && (now.f > 0) != (s.last.f > 0)) {
                if (narrow(s.last, now)) return;
            } else if (was && !is) {
                const At end = edge(s.last, now.x);
                if (done()) return;
                if ((end.f > 0) != (s.last.f > 0) && narrow(s.last, end)) return;
            } else if (!was && is && now.x != from) {
                const At end = edge(now, s.last.x);
                if (done()) return;
                if ((end.f > 0) != (now.f > 0) && narrow(end, now)) return;
            }
            s.last = now;
            s.step *= 1.3;
        }
    }

    F& m_f;
    const RootWanted& m_want;
    RootFound m_best;
    bool m_none = true;
};

template<class F> RootFound nearestRoot(F&& f, const RootWanted& want) { return NearestRoot<F>(f, want).find(); }

} // namespace vicinal
