#pragma once
// Two triangles: their nearest points, and whether one goes through the other. Met millions of times a question, so
// that all of it is inline.
#include "base/vec.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal::pair {

using Triangle = std::array<Vec3, 3>;

/// Nearest points of two segments: shares along both. Source: Ericson 2005, 5.1.9.
inline void nearestOfSegments(const Vec3& p, const Vec3& u, double uu, const Vec3& q, const Vec3& v, double vv,
                              double& s, double& t) {
    const Vec3 r = p - q;
    const double f = v.dot(r), c = u.dot(r), b = u.dot(v);
    const double whole = uu * vv - b * b;
    // Almost parallel ones: any point will do, then the ends are looked at.
    s = whole > 1e-14 * uu * vv ? std::clamp((b * f - c * vv) / whole, 0.0, 1.0) : 0.0;
    const double on = b * s + f;
    if (on < 0) {
        t = 0;
        s = uu > 0 ? std::clamp(-c / uu, 0.0, 1.0) : 0.0;
    } else if (on > vv) {
        t = 1;
        s = uu > 0 ? std::clamp((b - c) / uu, 0.0, 1.0) : 0.0;
    } else
        t = vv > 0 ? on / vv : 0.0;
}

/// What is asked of a triangle again and again.
struct Faced {
    Triangle p;
    std::array<Vec3, 3> edge;
    std::array<double, 3> squared;
    std::array<Vec3, 3> out; ///< square to an edge, in the plane, outwards; unit
    Vec3 normal;
    double length; ///< of the normal; 0 for one without area
    Vec3 low, high;
    explicit Faced(const Triangle& t) : p(t) {
        for (size_t k = 0; k < 3; ++k) {
            edge[k] = p[(k + 1) % 3] - p[k];
            squared[k] = edge[k].squaredNorm();
        }
        normal = edge[0].cross(-edge[2]);
        length = normal.norm();
        if (length > 0) {
            normal /= length;
            for (size_t k = 0; k < 3; ++k) out[k] = edge[k].cross(normal) / std::sqrt(squared[k]);
        }
        low = p[0].cwiseMin(p[1]).cwiseMin(p[2]);
        high = p[0].cwiseMax(p[1]).cwiseMax(p[2]);
    }
    Faced() = default;
    double size() const { return std::sqrt(std::max({squared[0], squared[1], squared[2]})); }
    /// The point, which lies in the plane, is inside.
    bool holds(const Vec3& x, double slack) const {
        for (size_t k = 0; k < 3; ++k)
            if (out[k].dot(x - p[k]) > slack) return false;
        return true;
    }
};

/// Best so far; the points may be swapped by the caller.
struct Best {
    double squared;
    Vec3 a, b;
    bool crossing = false, any = false;
    void take(double d, const Vec3& x, const Vec3& y) {
        if (d >= squared) return;
        squared = d;
        a = x;
        b = y;
        any = true;
    }
};

/// An edge of `a` that goes right through `b`: heights of a's corners over b's plane are known.
inline bool pierces(const Faced& a, const std::array<double, 3>& height, const Faced& b, double slack, Vec3& at) {
    for (size_t k = 0; k < 3; ++k) {
        const double h = height[k], g = height[(k + 1) % 3];
        if (!((h > slack && g < -slack) || (h < -slack && g > slack))) continue;
        const Vec3 x = a.p[k] + h / (h - g) * a.edge[k];
        if (b.holds(x, -slack)) {
            at = x;
            return true;
        }
    }
    return false;
}

inline bool triangles(const Faced& a, const Faced& b, Best& best) {
    std::array<double, 3> ofA{}, ofB{};
    const auto heights = [](const Faced& of, const Faced& over, std::array<double, 3>& h) {
        for (size_t k = 0; k < 3; ++k) h[k] = (of.p[k] - over.p[0]).dot(over.normal);
    };
    // Beyond the plane, or beyond an edge and so far over the plane: both ways are square to each other.
    const auto beyond = [&](const std::array<double, 3>& h, const Faced& of, const Faced& over) {
        const double least = std::min({h[0], h[1], h[2]}), most = std::max({h[0], h[1], h[2]});
        const double up = std::max(std::max(least, -most), 0.0);
        if (up > 0 && up * up >= best.squared) return true;
        for (size_t k = 0; k < 3; ++k) {
            const Vec3& m = over.out[k];
            const double from = m.dot(over.p[k]);
            const double aside = std::min({m.dot(of.p[0]), m.dot(of.p[1]), m.dot(of.p[2])}) - from;
            if (aside > 0 && aside * aside + up * up >= best.squared) return true;
        }
        return false;
    };
    if (b.length > 0) {
        heights(a, b, ofA);
        if (beyond(ofA, a, b)) return false;
    }
    if (a.length > 0) {
        heights(b, a, ofB);
        if (beyond(ofB, b, a)) return false;
    }
    const double before = best.squared;
    const double slack = 1e-10 * (1 + a.size() + b.size());
    if (a.length > 0 && b.length > 0) {
        Vec3 at;
        const auto both = [&](const std::array<double, 3>& h) {
            return std::min({h[0], h[1], h[2]}) < -slack && std::max({h[0], h[1], h[2]}) > slack;
        };
        if ((both(ofA) && pierces(a, ofA, b, slack, at)) || (both(ofB) && pierces(b, ofB, a, slack, at))) {
            best.squared = 0;
            best.a = best.b = at;
            best.crossing = best.any = true;
            return true;
        }
    }
    // Corners over faces.
    const auto over = [&](const Faced& of, const std::array<double, 3>& h, const Faced& face, bool swapped) {
        if (!(face.length > 0)) return;
        for (size_t k = 0; k < 3; ++k) {
            const double d = h[k] * h[k];
            if (d >= best.squared) continue;
            const Vec3 foot = of.p[k] - h[k] * face.normal;
            if (!face.holds(foot, 0)) continue;
            swapped ? best.take(d, foot, of.p[k]) : best.take(d, of.p[k], foot);
        }
    };
    over(a, ofA, b, false);
    over(b, ofB, a, true);
    for (size_t i = 0; i < 3; ++i)
        for (size_t k = 0; k < 3; ++k) {
            double s, t;
            nearestOfSegments(a.p[i], a.edge[i], a.squared[i], b.p[k], b.edge[k], b.squared[k], s, t);
            const Vec3 x = a.p[i] + s * a.edge[i], y = b.p[k] + t * b.edge[k];
            best.take((x - y).squaredNorm(), x, y);
        }
    return best.squared < before;
}

} // namespace vicinal::pair
