#include "geometry/curves/snap.h"
#include "base/numeric/solve.h"
#include <cmath>

namespace vicinal {
namespace {

/// Stations where f changes its sign, found on samples and halved.
template<class F> void roots(double length, F&& f, std::vector<double>& out) {
    const int n = 160;
    double before = f(0.0);
    for (int i = 1; i <= n; ++i) {
        const double s = length * i / n, now = f(s);
        if ((before > 0) != (now > 0)) {
            const auto [a, b] =
                halved(length * (i - 1) / n, s, 50, [&](double x) { return (f(x) > 0) == (before > 0); });
            out.push_back((a + b) / 2);
        }
        before = now;
    }
}

} // namespace

const char* nameOf(SnapKind k) {
    constexpr const char* names[] = {"end",     "point",   "centre",     "middle", "perpendicular",
                                     "tangent", "on path", "along axis", "grid"};
    return names[int(k)];
}

std::optional<Snap> snapTo(const SnapQuery& q, std::span<const Path> paths, std::span<const Vec3> points) {
    std::optional<Snap> best;
    double nearest = q.reach;
    const auto on = [&](SnapKind k) { return !q.off.count(k); };
    const auto offer = [&](SnapKind kind, const Vec3& at) {
        if (!on(kind) || !finite(at)) return;
        const double d = q.away(at);
        if (d > q.reach) return;
        if (best && (best->kind < kind || (best->kind == kind && d >= nearest))) return;
        nearest = d;
        best = Snap{kind, at};
    };
    for (const Vec3& p : points) offer(SnapKind::Point, p);
    for (const Path& path : paths) {
        Vec3 away = (path.hull().min() - q.pointer).cwiseMax(q.pointer - path.hull().max()).cwiseMax(0);
        if (q.depthAxis >= 0) away[q.depthAxis] = 0;
        if (away.norm() > q.worldReach) continue;
        if (!path.closed()) {
            offer(SnapKind::End, path.spans().front().point(0));
            offer(SnapKind::End, path.spans().back().point(1));
        }
        for (const auto& s : path.segments()) {
            offer(SnapKind::Point, startOf(s));
            if (const auto* a = std::get_if<Arc>(&s)) offer(SnapKind::Centre, a->centre);
            if (on(SnapKind::Middle)) {
                if (const auto* l = std::get_if<Line>(&s))
                    offer(SnapKind::Middle, (l->a + l->b) / 2);
                else if (std::holds_alternative<Arc>(s))
                    offer(SnapKind::Middle, startOf(split(s, 0.5).second));
            }
        }
        if (q.from && (on(SnapKind::Perpendicular) || on(SnapKind::Tangent))) {
            std::vector<double> at;
            roots(
                path.length(),
                [&](double s) {
                    const Sample x = path.at(s);
                    return (x.point - *q.from).dot(x.tangent);
                },
                at);
            for (double s : at) offer(SnapKind::Perpendicular, path.at(s).point);
            at.clear();
            roots(
                path.length(),
                [&](double s) {
                    const Sample x = path.at(s);
                    return (x.point - *q.from).cross(x.tangent).dot(q.normal);
                },
                at);
            for (double s : at) {
                const Sample x = path.at(s);
                const Vec3 d = x.point - *q.from; // a straight piece the point is on is no tangent
                if (d.norm() > tolerance::length && d.normalized().cross(x.tangent).norm() < 1e-5)
                    offer(SnapKind::Tangent, x.point);
            }
        }
        if (on(SnapKind::OnPath)) offer(SnapKind::OnPath, path.at(path.closest(q.pointer)).point);
    }
    if (best) return best;
    if (q.from && on(SnapKind::Axis)) {
        const Vec3 d = q.pointer - *q.from;
        for (int axis = 0; axis < 3; ++axis) {
            const Vec3 u = Vec3::Unit(axis);
            if (std::abs(u.dot(q.normal)) > 0.5 || std::abs(d[axis]) < tolerance::rounding) continue;
            Vec3 along = *q.from + d[axis] * u;
            if (q.gridStep > 0 && on(SnapKind::Grid)) along[axis] = std::round(along[axis] / q.gridStep) * q.gridStep;
            offer(SnapKind::Axis, along);
        }
        if (best) return best;
    }
    if (q.gridStep > 0 && on(SnapKind::Grid)) {
        Vec3 g = (q.pointer / q.gridStep).array().round() * q.gridStep;
        g -= q.normal * q.normal.dot(g - q.pointer);
        return Snap{SnapKind::Grid, g};
    }
    return std::nullopt;
}

} // namespace vicinal
