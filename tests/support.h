#pragma once
// Paths and small checks that several tests share.
#include "geometry/path/path.h"
#include <QTest>
#include <functional>
#include <random>
#include <tuple>

namespace vicinal::test {

#define NEAR(actual, expected, tol)                                                                                    \
    do {                                                                                                               \
        const double a_ = (actual), e_ = (expected), t_ = (tol);                                                       \
        QVERIFY2(std::abs(a_ - e_) <= t_, qPrintable(QString("%1 is not %2 within %3 (off by %4), line %5")            \
                                                         .arg(a_, 0, 'g', 17)                                          \
                                                         .arg(e_, 0, 'g', 17)                                          \
                                                         .arg(t_)                                                      \
                                                         .arg(a_ - e_)                                                 \
                                                         .arg(__LINE__)));                                             \
    } while (false)

/// So many rounds, a fifth of them where every one is slow (scripts/sanitized.sh): the whole of them runs elsewhere.
inline int rounds(int many) {
    static const bool slow = qEnvironmentVariableIsSet("VICINAL_SLOW");
    return slow ? std::max(2, many / 5) : many;
}

inline Path pathOf(const std::vector<Segment>& segments, bool closed = false) {
    auto p = Path::make(segments, closed);
    if (!p) qFatal("%s", p.problem().text.c_str());
    return *p;
}

inline std::vector<Vec3> randomPoints(unsigned seed, int n, double z = 300) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> step(-400, 400);
    std::vector<Vec3> out;
    for (int i = 0; i < n; ++i) out.push_back({i * 500 + step(random), step(random), step(random) * z / 400});
    return out;
}

inline std::vector<Segment> splineThrough(const std::vector<Vec3>& p, bool closed = false) {
    std::unique_ptr<bool[]> smooth(new bool[p.size()]);
    std::fill_n(smooth.get(), p.size(), true);
    return throughPoints(p, std::span<const bool>(smooth.get(), p.size()), closed);
}

inline Path spline(const std::vector<Vec3>& p, bool closed = false) { return pathOf(splineThrough(p, closed), closed); }

/// A closed space curve without symmetry, so that its closing twist is not zero.
inline Path knot() {
    std::vector<Vec3> p;
    for (int i = 0; i < 24; ++i) {
        const double a = i * 2 * kPi / 24;
        p.push_back({1000 * std::cos(a) + 200 * std::cos(3 * a), 900 * std::sin(a), 350 * std::sin(2 * a + 0.4)});
    }
    return spline(p, true);
}

inline Mat3 someRotation() { return Quat(0.5, -0.3, 0.7, 0.2).normalized().toRotationMatrix(); }

inline std::vector<double> evenly(double length, int n) {
    std::vector<double> s(n);
    for (int i = 0; i < n; ++i) s[i] = length * i / (n - 1);
    return s;
}

} // namespace vicinal::test
