#pragma once
// Numbers found by numbers: sums over a stretch, what is largest, where something rises through zero. The root nearest
// to where a number stands now is in base/numeric/root.h.
#include "base/vec.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace vicinal {

/// Abscissae and weights of Gauss and Legendre on -1..1, from the highest down: exact for polynomials of degree 2n - 1.
/// Source: roots of the Legendre polynomial by Newton's method from cos(pi (i + 3/4) / (n + 1/2)), as in Press et al.,
/// "Numerical Recipes", chapter 4.5.
template<int n> struct GaussRule {
    std::array<double, n> x, w;
    static const GaussRule& get() {
        static const GaussRule rule;
        return rule;
    }

private:
    GaussRule() {
        for (int i = 0; i < n; ++i) {
            double t = std::cos(kPi * (i + 0.75) / (n + 0.5)), d = 1;
            for (int k = 0; k < 50; ++k) {
                double p0 = 1, p1 = t;
                for (int j = 2; j <= n; ++j) {
                    const double p2 = ((2 * j - 1) * t * p1 - (j - 1) * p0) / j;
                    p0 = p1, p1 = p2;
                }
                d = n * (t * p1 - p0) / (t * t - 1);
                const double step = p1 / d;
                t -= step;
                if (std::abs(step) < 1e-16) break;
            }
            x[size_t(i)] = t;
            w[size_t(i)] = 2 / ((1 - t * t) * d * d);
        }
    }
};

/// The integral of f over a..b by n points; f is smooth there.
template<int n, class F> double integral(F&& f, double a, double b) {
    const auto& rule = GaussRule<n>::get();
    const double middle = (a + b) / 2, half = (b - a) / 2;
    double sum = 0;
    for (size_t i = 0; i < size_t(n); ++i) sum += rule.w[i] * f(middle + half * rule.x[i]);
    return sum * half;
}

/// Where f is largest in a..b, by the golden section: to a millionth of the range, so that at a smooth top the value is
/// good to its square. f has one top there.
template<class F> double largest(double a, double b, F&& f) {
    const double g = (std::sqrt(5.0) - 1) / 2;
    double x = b - g * (b - a), y = a + g * (b - a), fx = f(x), fy = f(y);
    for (int i = 0; i < 28; ++i) {
        if (fx > fy)
            b = y, y = x, fy = fx, x = b - g * (b - a), fx = f(x);
        else
            a = x, x = y, fx = fy, y = a + g * (b - a), fy = f(y);
    }
    return fx > fy ? x : y;
}

/// What is left of a..b after so many halvings: a goes where `likeA` holds, as it does at a; b where it does not.
template<class F> std::pair<double, double> halved(double a, double b, int times, F&& likeA) {
    for (int i = 0; i < times; ++i) {
        const double middle = (a + b) / 2;
        (likeA(middle) ? a : b) = middle;
    }
    return {a, b};
}

/// Where a function that rises from below zero at a to above it at b comes to zero, by secants with bisection as guard;
/// an end where it does not. `close`: of the value.
template<class F> double risingRoot(F&& f, double a, double b, double close) {
    double fa = f(a), fb = f(b);
    if (!(fa < 0)) return a;
    if (!(fb > 0)) return b;
    for (int i = 0; i < 200 && b - a > 1e-16 * std::max(std::abs(a), std::abs(b)); ++i) {
        double x = a - fa * (b - a) / (fb - fa);
        if (i % 3 == 2 || !(x > a && x < b)) x = (a + b) / 2;
        const double v = f(x);
        if (std::abs(v) < close) return x;
        if (v < 0)
            a = x, fa = v;
        else
            b = x, fb = v;
    }
    return a;
}

} // namespace vicinal
