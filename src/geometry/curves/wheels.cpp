#include "geometry/curves/wheels.h"
#include "base/say.h"
#include "geometry/curves/hull.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace vicinal {
namespace {

using say::mm;

std::string name(size_t i) { return "wheel " + std::to_string(i + 1); }

double cross(const Vec2& a, const Vec2& b) { return a.x() * b.y() - a.y() * b.x(); }

struct Leg {
    Vec2 from, to;
    double angle; ///< of travel
};

double distanceTo(const Leg& l, const Vec2& p) {
    const Vec2 d = l.to - l.from;
    const double n2 = d.squaredNorm(), f = n2 > 0 ? std::clamp((p - l.from).dot(d) / n2, 0.0, 1.0) : 0;
    return (p - l.from - f * d).norm();
}

bool cut(const Leg& a, const Leg& b) {
    const Vec2 u = a.to - a.from, v = b.to - b.from;
    const double det = cross(u, v);
    if (std::abs(det) < 1e-12 * u.norm() * v.norm()) return false;
    const double s = cross(b.from - a.from, v) / det, t = cross(b.from - a.from, u) / det;
    return s > 1e-9 && s < 1 - 1e-9 && t > 1e-9 && t < 1 - 1e-9;
}

} // namespace

double pitchRadius(long teeth, double pitch) { return pitch / (2 * std::sin(kPi / double(teeth))); }

double twoWheelLength(double r1, double r2, double d, bool crossed) {
    const double k = crossed ? r1 + r2 : r1 - r2, a = std::asin(k / d);
    return 2 * std::sqrt(d * d - k * k) + (crossed ? (r1 + r2) * (kPi + 2 * a) : kPi * (r1 + r2) + 2 * a * (r1 - r2));
}

Result<WheelLoop> loopRound(std::span<const WheelCircle> wheels, bool closed, bool crossed) {
    const size_t n = wheels.size();
    if (n < 2) return Problem{"A loop goes round at least two wheels. Add one.", "wheels"};
    if (n > 1000) return Problem{"A loop goes round at most 1000 wheels.", "wheels"};
    for (size_t i = 0; i < n; ++i) {
        const auto& w = wheels[i];
        if (!inReach(w.centre.x()) || !inReach(w.centre.y()) || !inReach(w.radius))
            return Problem{"W" + name(i).substr(1) + " has a value that is not a number or beyond " +
                               say::bound(kLargest) + ".",
                           name(i)};
        if (w.radius < 0)
            return Problem{"W" + name(i).substr(1) + " has a radius of " + mm(w.radius) + "; use 0 or more.", name(i)};
    }
    for (size_t i = 0; i < n; ++i)
        for (size_t k = i + 1; k < n; ++k) {
            const double d = (wheels[i].centre - wheels[k].centre).norm(), a = wheels[i].radius, b = wheels[k].radius;
            if (d + std::min(a, b) <= std::max(a, b) + tolerance::length)
                return Problem{"W" + name(a < b ? i : k).substr(1) + " lies inside " + name(a < b ? k : i) +
                                   ". Move it out by " + mm(a + b - d) + " or more.",
                               name(a < b ? i : k)};
            if (d < a + b - tolerance::length)
                return Problem{"W" + name(k).substr(1) + " overlaps " + name(i) + " by " + mm(a + b - d) +
                                   ". Move one of them.",
                               name(k)};
        }
    // Directed tangents.
    const size_t legs = closed ? n : n - 1;
    std::vector<Leg> leg(legs);
    for (size_t i = 0; i < legs; ++i) {
        const auto &a = wheels[i], &b = wheels[(i + 1) % n];
        const double ra = a.inside ? a.radius : -a.radius, rb = b.inside ? b.radius : -b.radius;
        const Vec2 d = b.centre - a.centre;
        const double D = d.norm(), k = (rb - ra) / D;
        const double angle = std::atan2(d.y(), d.x()) - std::asin(std::clamp(k, -1.0, 1.0));
        const Vec2 left(-std::sin(angle), std::cos(angle));
        leg[i] = {a.centre - ra * left, b.centre - rb * left, angle};
    }
    WheelLoop out;
    out.contacts.resize(n);
    double whole = 0;
    for (size_t i = 0; i < n; ++i) {
        if (!closed && (i == 0 || i + 1 == n)) continue;
        const double turn = leg[i % legs].angle - leg[(i + legs - 1) % legs].angle;
        double wrap = std::remainder(wheels[i].inside ? turn : -turn, 2 * kPi);
        if (wrap < -1e-9) wrap += 2 * kPi;
        out.contacts[i].wrap = std::max(0.0, wrap);
        whole += wheels[i].inside ? out.contacts[i].wrap : -out.contacts[i].wrap;
    }
    const auto mostWrapped = [&] {
        size_t worst = 0;
        for (size_t i = 1; i < n; ++i)
            if (out.contacts[i].wrap > out.contacts[worst].wrap) worst = i;
        return worst;
    };
    const auto passedBy = [&](size_t i) {
        return Problem{
            "The loop passes " + name(i) + " by without touching it. Move it " +
                (wheels[i].inside ? "outwards, or set it outside the loop." : "inwards, or set it inside the loop."),
            name(i)};
    };
    if (!crossed)
        for (size_t i = 0; i < legs; ++i)
            for (size_t k = i + 1; k < legs; ++k)
                if (cut(leg[i], leg[k]))
                    return Problem{"The straight after " + name(i) + " crosses the one after " + name(k) +
                                       ". Change the order, or allow crossed straights.",
                                   name(k)};
    if (closed) {
        // Once round is 2 pi; a figure of eight 0. Each wheel that is not reached adds a whole turn.
        const double turns = whole / (2 * kPi);
        if (crossed ? std::abs(turns) > 1 + 1e-6 : std::abs(turns - 1) > 1e-6) return passedBy(mostWrapped());
    } else {
        for (size_t i = 0; i < n; ++i)
            if (out.contacts[i].wrap > 1.75 * kPi) return passedBy(i);
    }
    for (size_t i = 0; i < legs; ++i)
        for (size_t k = 0; k < n; ++k) {
            if (k == i || k == (i + 1) % n) continue;
            if (distanceTo(leg[i], wheels[k].centre) < wheels[k].radius - 1e-6)
                return Problem{"The straight from " + name(i) + " to " + name((i + 1) % n) + " runs through " +
                                   name(k) + ". Move it, or change the order.",
                               name(k)};
        }
    // Assemble, starting on the first wheel where the last straight arrives (closed), or at its departure (open).
    out.curve.closed = closed;
    double s = 0;
    for (size_t i = 0; i < n; ++i) {
        const auto& w = wheels[i];
        out.contacts[i].arrives = s;
        if ((closed || (i > 0 && i + 1 < n)) && w.radius > 0 && out.contacts[i].wrap * w.radius > tolerance::length) {
            const Leg& before = leg[(i + legs - 1) % legs];
            const Vec2 x = (before.to - w.centre) / w.radius;
            const double sign = w.inside ? 1 : -1;
            out.curve.segments.push_back(Arc{Vec3(w.centre.x(), w.centre.y(), 0), Vec3(x.x(), x.y(), 0),
                                             Vec3(-sign * x.y(), sign * x.x(), 0), w.radius, out.contacts[i].wrap});
            s += w.radius * out.contacts[i].wrap;
        }
        out.contacts[i].leaves = s;
        if (i >= legs) break;
        const double straight = (leg[i].to - leg[i].from).norm();
        out.contacts[i].tangentAfter = straight;
        if (straight > tolerance::length)
            out.curve.segments.push_back(
                Line{Vec3(leg[i].from.x(), leg[i].from.y(), 0), Vec3(leg[i].to.x(), leg[i].to.y(), 0)});
        s += straight;
    }
    out.length = s;
    return out;
}

std::vector<size_t> hullOrder(std::span<const WheelCircle> wheels) {
    const size_t n = wheels.size();
    constexpr size_t kSteps = 180; // points on each circle
    std::vector<Vec2> points;
    for (const auto& w : wheels)
        for (size_t k = 0; k < kSteps; ++k) {
            const double a = double(k) * 2 * kPi / kSteps;
            points.push_back(w.centre + w.radius * Vec2(std::cos(a), std::sin(a)));
        }
    std::vector<size_t> order;
    for (size_t k : convexHull(points))
        if (std::find(order.begin(), order.end(), k / kSteps) == order.end()) order.push_back(k / kSteps);
    for (size_t i = 0; i < n; ++i) {
        if (std::find(order.begin(), order.end(), i) != order.end()) continue;
        size_t best = 0;
        double nearest = 1e300;
        for (size_t k = 0; k < order.size(); ++k) {
            const double d = distanceTo({wheels[order[k]].centre, wheels[order[(k + 1) % order.size()]].centre, 0},
                                        wheels[i].centre);
            if (d < nearest) nearest = d, best = k;
        }
        order.insert(order.begin() + long(best) + 1, i);
    }
    return order;
}

} // namespace vicinal
