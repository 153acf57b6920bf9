#include "geometry/path/spline.h"
#include "geometry/path/path.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

double knotStep(const Vec3& a, const Vec3& b, Knotting k) {
    const double d = (b - a).norm();
    return k == Knotting::Centripetal ? std::sqrt(d) : d;
}

/// Solves a tridiagonal system in place (Thomas); rows are diagonally dominant here.
std::vector<Vec3> solve(std::vector<double> lo, std::vector<double> di, std::vector<double> up, std::vector<Vec3> rhs) {
    const size_t n = di.size();
    for (size_t i = 1; i < n; ++i) {
        const double m = lo[i] / di[i - 1];
        di[i] -= m * up[i - 1];
        rhs[i] -= m * rhs[i - 1];
    }
    for (size_t i = n; i-- > 0;)
        rhs[i] = (rhs[i] - (i + 1 < n ? Vec3(up[i] * rhs[i + 1]) : Vec3(Vec3::Zero()))) / di[i];
    return rhs;
}

/// Derivatives at the points of the natural spline; an end whose derivative is given keeps that.
std::vector<Vec3> naturalSlopes(const std::vector<Vec3>& p, const std::vector<double>& h,
                                const std::optional<Vec3>& first = {}, const std::optional<Vec3>& last = {}) {
    const size_t n = p.size();
    std::vector<double> lo(n), di(n), up(n);
    std::vector<Vec3> rhs(n);
    const auto chord = [&](size_t i) { return Vec3((p[i + 1] - p[i]) / h[i]); };
    di[0] = 2, up[0] = 1, rhs[0] = 3 * chord(0);
    lo[n - 1] = 1, di[n - 1] = 2, rhs[n - 1] = 3 * chord(n - 2);
    if (first) di[0] = 1, up[0] = 0, rhs[0] = *first;
    if (last) lo[n - 1] = 0, di[n - 1] = 1, rhs[n - 1] = *last;
    for (size_t i = 1; i + 1 < n; ++i) {
        lo[i] = h[i], up[i] = h[i - 1], di[i] = 2 * (h[i] + h[i - 1]);
        rhs[i] = 3 * (h[i] * chord(i - 1) + h[i - 1] * chord(i));
    }
    return solve(lo, di, up, rhs);
}

/// Derivatives of the periodic spline; p has no repeated last point, h[i] leads from p[i] to p[i + 1 mod n].
std::vector<Vec3> periodicSlopes(const std::vector<Vec3>& p, const std::vector<double>& h) {
    const size_t n = p.size();
    std::vector<double> lo(n), di(n), up(n);
    std::vector<Vec3> rhs(n);
    for (size_t i = 0; i < n; ++i) {
        const size_t b = (i + n - 1) % n, a = (i + 1) % n;
        lo[i] = h[i], up[i] = h[b], di[i] = 2 * (h[i] + h[b]);
        rhs[i] = 3 * (h[i] * (p[i] - p[b]) / h[b] + h[b] * (p[a] - p[i]) / h[i]);
    }
    // The two corner entries by Sherman and Morrison: A = T + u v^T.
    const double corner = lo[0], other = up[n - 1], gamma = -di[0];
    std::vector<double> dj = di;
    dj[0] -= gamma;
    dj[n - 1] -= other * corner / gamma;
    const auto y = solve(lo, dj, up, rhs);
    std::vector<Vec3> u(n, Vec3::Zero());
    u[0] = Vec3::Constant(gamma);
    u[n - 1] = Vec3::Constant(other);
    const auto z = solve(lo, dj, up, u);
    const double f = corner / gamma, denominator = 1 + z[0].x() + f * z[n - 1].x();
    std::vector<Vec3> x(n);
    const Vec3 vy = y[0] + f * y[n - 1];
    for (size_t i = 0; i < n; ++i) x[i] = y[i] - (z[i].x() / denominator) * vy;
    return x;
}

Bezier hermite(const Vec3& a, const Vec3& b, const Vec3& da, const Vec3& db, double h) {
    return {{a, a + da * (h / 3), b - db * (h / 3), b}};
}

} // namespace

std::vector<Segment> throughPointsClamped(std::span<const Vec3> points, const std::optional<Vec3>& start,
                                          const std::optional<Vec3>& end) {
    std::vector<Vec3> p;
    for (const Vec3& q : points)
        if (p.empty() || (q - p.back()).norm() >= tolerance::length) p.push_back(q);
    std::vector<Segment> out;
    if (p.size() < 2) return out;
    const auto unit = [](const std::optional<Vec3>& d) -> std::optional<Vec3> {
        return d && d->norm() > tolerance::angle ? std::optional<Vec3>(d->normalized()) : std::nullopt;
    };
    std::vector<double> h;
    for (size_t i = 0; i + 1 < p.size(); ++i) h.push_back(knotStep(p[i], p[i + 1], Knotting::ChordLength));
    const auto d = naturalSlopes(p, h, unit(start), unit(end));
    for (size_t i = 0; i + 1 < p.size(); ++i) out.push_back(hermite(p[i], p[i + 1], d[i], d[i + 1], h[i]));
    return out;
}

std::vector<Segment> throughPoints(std::span<const Vec3> points, std::span<const bool> smooth, bool closed,
                                   Knotting knotting) {
    std::vector<Vec3> p;
    std::vector<bool> soft;
    for (size_t i = 0; i < points.size(); ++i) {
        if (!p.empty() && (points[i] - p.back()).norm() < tolerance::length) continue;
        p.push_back(points[i]);
        soft.push_back(smooth[i]);
    }
    if (closed && p.size() > 1 && (p.front() - p.back()).norm() < tolerance::length) p.pop_back(), soft.pop_back();
    std::vector<Segment> out;
    if (p.size() < 2) return out;

    size_t first = 0;
    if (closed) {
        while (first < p.size() && soft[first]) ++first;
        if (first == p.size() && p.size() > 2) { // smooth all round
            const size_t n = p.size();
            std::vector<double> h(n);
            for (size_t i = 0; i < n; ++i) h[i] = knotStep(p[i], p[(i + 1) % n], knotting);
            const auto d = periodicSlopes(p, h);
            for (size_t i = 0; i < n; ++i) out.push_back(hermite(p[i], p[(i + 1) % n], d[i], d[(i + 1) % n], h[i]));
            return out;
        }
        first %= p.size();
    }
    // Walk the points in order; the run between two corners is one natural spline. On a closed path the walk may start
    // at a corner that is not the first point: its pieces are turned back to the first point at the end.
    const size_t n = p.size(), steps = closed ? n : n - 1;
    std::vector<Vec3> group{p[first]};
    size_t lead = 0;
    for (size_t k = 1; k <= steps; ++k) {
        const size_t i = (first + k) % n;
        group.push_back(p[i]);
        if (soft[i] && k != steps) continue;
        if (group.size() == 2) {
            out.push_back(Line{group[0], group[1]});
        } else {
            std::vector<double> h;
            for (size_t j = 0; j + 1 < group.size(); ++j) h.push_back(knotStep(group[j], group[j + 1], knotting));
            const auto d = naturalSlopes(group, h);
            for (size_t j = 0; j + 1 < group.size(); ++j)
                out.push_back(hermite(group[j], group[j + 1], d[j], d[j + 1], h[j]));
        }
        group = {p[i]};
    }
    lead = first; // pieces before point 0 come round last
    if (closed && lead > 0) std::rotate(out.begin(), out.begin() + (n - lead), out.end());
    return out;
}

} // namespace vicinal
