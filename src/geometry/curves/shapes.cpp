#include "geometry/curves/shapes.h"
#include "base/say.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

using say::mm;

std::optional<Problem> checkLength(double v, const char* name, const char* field, bool zeroToo = false) {
    if (std::isfinite(v) && v <= kLargest && (zeroToo ? v >= 0 : v >= 1e-3)) return std::nullopt;
    return Problem{Words("The ") + name + " is " + mm(v) + "; use " + (zeroToo ? Words("0") : mm(0.001)) + " to " +
                       say::bound(kLargest) + ".",
                   field};
}

Arc arcRound(const Vec3& centre, double radius, double from, double sweep) {
    return {centre, {std::cos(from), std::sin(from), 0}, {-std::sin(from), std::cos(from), 0}, radius, sweep};
}

} // namespace

Result<Curve> circle(double r) {
    if (auto p = checkLength(r, "radius", "radius")) return *p;
    return Curve{{arcRound(Vec3::Zero(), r, 0, 2 * kPi)}, true};
}

Result<Curve> ellipse(double a, double b) {
    if (auto p = checkLength(a, "radius along", "radiusX")) return *p;
    if (auto p = checkLength(b, "radius across", "radiusY")) return *p;
    if (a == b) return circle(a);
    return Curve{{ellipseArc(Vec3::Zero(), Vec3(a, 0, 0), Vec3(0, b, 0), 0, 2 * kPi)}, true};
}

Result<Curve> rectangle(double w, double h, double r) {
    if (auto p = checkLength(w, "width", "width")) return *p;
    if (auto p = checkLength(h, "height", "height")) return *p;
    if (auto p = checkLength(r, "corner radius", "radius", true)) return *p;
    const double most = std::min(w, h) / 2;
    if (r > most)
        return Problem{"A corner radius of " + mm(r) + " does not fit; the largest that works is " + mm(most) + ".",
                       "radius"};
    const double x = w / 2, y = h / 2;
    Curve c{{}, true};
    Vec3 at(x, 0, 0);
    const auto line = [&](const Vec3& to) {
        if ((to - at).norm() > tolerance::length) c.segments.push_back(Line{at, to});
        at = to;
    };
    const double sx[] = {1, -1, -1, 1}, sy[] = {1, 1, -1, -1};
    for (int i = 0; i < 4; ++i) {
        const Vec3 m(sx[i] * (x - r), sy[i] * (y - r), 0);
        const double from = i * kPi / 2;
        line(m + r * Vec3(std::cos(from), std::sin(from), 0));
        if (r > 0) {
            c.segments.push_back(arcRound(m, r, from, kPi / 2));
            at = endOf(c.segments.back());
        }
    }
    line({x, 0, 0});
    return c;
}

Result<Curve> slot(double length, double width) {
    if (auto p = checkLength(length, "length", "length")) return *p;
    if (auto p = checkLength(width, "width", "width")) return *p;
    if (length < width)
        return Problem{"The slot is " + mm(length) + " long and " + mm(width) +
                           " wide; its length over all must be at least its width.",
                       "length"};
    if (length - width < tolerance::length) return circle(width / 2);
    const double r = width / 2, x = length / 2 - r;
    return Curve{{Arc{{x, 0, 0}, {0, -1, 0}, {1, 0, 0}, r, kPi}, Line{{x, r, 0}, {-x, r, 0}},
                  Arc{{-x, 0, 0}, {0, 1, 0}, {-1, 0, 0}, r, kPi}, Line{{-x, -r, 0}, {x, -r, 0}}},
                 true};
}

Result<Curve> polygon(long n, double radius) {
    if (n < 3 || n > 1000) return Problem{"A polygon has 3 to 1000 sides, not " + say::count(n) + ".", "sides"};
    if (auto p = checkLength(radius, "radius", "radius")) return *p;
    Curve c{{}, true};
    const auto at = [&](long i) {
        const double a = 2 * kPi * double(i % n) / double(n);
        return Vec3(radius * std::cos(a), radius * std::sin(a), 0);
    };
    for (long i = 0; i < n; ++i) c.segments.push_back(Line{at(i), at(i + 1)});
    return c;
}

Result<Curve> helix(double r0, double r1, double turns, double height, bool leftHanded) {
    if (auto p = checkLength(r0, "bottom radius", "radius", true)) return *p;
    if (auto p = checkLength(r1, "top radius", "radiusTop", true)) return *p;
    if (!std::isfinite(height) || !inReach(height))
        return Problem{"The height is " + mm(height) + "; use up to " + say::bound(kLargest) + ".", "height"};
    if (!(turns > 0 && turns <= 10000)) return Problem{"A helix has more than 0 and at most 10000 turns.", "turns"};
    if (std::max(r0, r1) < 1e-3) return Problem{"Both radii are zero. Let one of them be larger.", "radius"};
    if (height == 0 && r0 == r1)
        return Problem{
            "With no height and equal radii the turns lie upon each other. Give it a height or another radius.",
            "height"};
    return Curve{{Helix{Vec3::Zero(), Vec3::UnitX(), leftHanded ? Vec3(-Vec3::UnitY()) : Vec3(Vec3::UnitY()), r0, r1,
                        2 * kPi * turns, leftHanded ? -height : height}},
                 false};
}

double helixLength(double r0, double r1, double sweep, double rise) {
    const double dr = r1 - r0, w = std::abs(sweep);
    if (dr == 0) return std::hypot(r0 * w, rise);
    const double k = std::hypot(dr, rise); // integrand sqrt(k^2 + w^2 r^2) over u, r = r0 + u dr
    const auto F = [&](double r) {
        const double x = w * r / k;
        return k * k / (2 * w) * (x * std::sqrt(1 + x * x) + std::asinh(x));
    };
    return std::abs((F(r1) - F(r0)) / dr);
}

Result<Curve> swag(const Vec3& a, const Vec3& b, SwagBy by, double amount) {
    const char* field = by == SwagBy::Sag ? "sag" : "slack";
    if (!finite(a) || !finite(b)) return Problem{"An end of the swag is not a number. Type its place.", "end"};
    Vec3 flat = b - a;
    const double H = flat.z(), chord = flat.norm();
    flat.z() = 0;
    const double D = flat.norm();
    if (!(D > 1e-3))
        return Problem{"The ends of the swag stand above each other. Move one sideways; plumb it is a straight line.",
                       "end"};
    if (!std::isfinite(amount) || !(amount >= 1e-7 * chord))
        return Problem{Words("The ") + field + " is " + mm(amount) + "; it must be at least " + mm(1e-7 * chord) +
                           ". Without any, draw a straight line.",
                       field};
    if (amount > 1e4 * chord)
        return Problem{
            Words("The ") + field + " of " + mm(amount) + " is over 10000 times the distance. Make it smaller.", field};
    // With x = D / 2a the length is sqrt(H^2 + (D sinh(x) / x)^2): rises with x from the straight line on.
    const auto lengthAt = [&](double x) { return std::hypot(H, D * std::sinh(x) / x); };
    const auto sagAt = [&](double x) { // plumb depth below the chord where the slope is the chord's
        const double c = D / (2 * x), L = lengthAt(x);
        const double middle = c * std::atanh(H / L); // from the lowest point to half-way, in plan
        const double slope = c * std::asinh(H / D);
        const double left = middle - D / 2; // the difference of two cosh as a product: nothing cancels
        return 2 * c * std::sinh((left + slope) / (2 * c)) * std::sinh((left - slope) / (2 * c)) +
               H / D * (slope - left);
    };
    const auto slackAt = [&](double x) {
        const double x2 = x * x;
        const double more = x < 0.02 ? x2 / 6 * (1 + x2 / 20 * (1 + x2 / 42)) : std::sinh(x) / x - 1;
        return D * D * more * (2 + more) / (lengthAt(x) + chord);
    };
    const auto miss = [&](double x) { return (by == SwagBy::Sag ? sagAt(x) : slackAt(x)) - amount; };
    double lo = tolerance::rounding, hi = 1, x = 1;
    while (miss(hi) < 0 && hi < 300) hi *= 1.5;
    for (int i = 0; i < 200 && hi - lo > 1e-16 * hi; ++i) {
        x = (lo + hi) / 2;
        (miss(x) < 0 ? lo : hi) = x;
    }
    const double c = D / (2 * x), L = lengthAt(x);
    const Vec3 along = flat / D;
    const double middle = c * std::atanh(H / L), left = middle - D / 2, right = middle + D / 2;
    const double s0 = c * std::sinh(left / c), s1 = c * std::sinh(right / c);
    Catenary k;
    k.along = along;
    k.up = Vec3::UnitZ();
    k.a = c;
    k.s0 = s0;
    k.s1 = s1;
    k.low = a - left * along - (s0 * s0 / (std::sqrt(c * c + s0 * s0) + c)) * k.up;
    return Curve{{k}, false};
}

Result<Curve> filleted(std::span<const PolyPoint> p, bool closed) {
    const size_t n = p.size();
    Curve out{{}, closed};
    if (n < 2) return out;
    struct Cut {
        double back = 0; ///< leg taken up on either side
        std::optional<Arc> arc;
    };
    std::vector<Cut> cuts(n);
    for (size_t i = 0; i < n; ++i) {
        if (!(p[i].radius > 0) || (!closed && (i == 0 || i + 1 == n))) continue;
        const Vec3 in = p[i].at - p[(i + n - 1) % n].at, to = p[(i + 1) % n].at - p[i].at;
        if (in.norm() < tolerance::length || to.norm() < tolerance::length) continue;
        const Vec3 u = in.normalized(), v = to.normalized();
        const double turn = std::atan2(u.cross(v).norm(), u.dot(v));
        if (turn < tolerance::corner) continue;
        if (turn > kPi - 1e-4)
            return Problem{"At point " + say::count(i + 1) + " the path doubles back; no arc can round that.",
                           "radius"};
        const double back = p[i].radius * std::tan(turn / 2);
        const Vec3 side = (v - u * u.dot(v)).normalized(), start = p[i].at - back * u;
        cuts[i] = {back, Arc{start + p[i].radius * side, -side, u, p[i].radius, turn}};
    }
    for (size_t i = 0; i + (closed ? 0 : 1) < n; ++i) {
        const size_t j = (i + 1) % n;
        const double leg = (p[j].at - p[i].at).norm(), used = cuts[i].back + cuts[j].back;
        if (used > leg + tolerance::length) {
            const size_t k = cuts[i].back >= cuts[j].back ? i : j;
            const double most = p[k].radius * (leg - (k == i ? cuts[j].back : cuts[i].back)) / cuts[k].back;
            return Problem{"The radius of " + mm(p[k].radius) + " at point " + say::count(k + 1) +
                               " needs more leg than there is; the largest that works is " + mm(std::max(0.0, most)) +
                               ".",
                           "radius"};
        }
    }
    for (size_t i = 0; i < n; ++i) {
        if (cuts[i].arc) out.segments.push_back(*cuts[i].arc);
        if (!closed && i + 1 == n) break;
        const size_t j = (i + 1) % n;
        const Vec3 a = cuts[i].arc ? endOf(Segment(*cuts[i].arc)) : p[i].at,
                   b = cuts[j].arc ? startOf(Segment(*cuts[j].arc)) : p[j].at;
        if ((b - a).norm() > tolerance::length) out.segments.push_back(Line{a, b});
    }
    return out;
}

Segment arcTangent(const Vec3& a, const Vec3& tangent, const Vec3& b) {
    const Vec3 u = tangent.normalized(), d = b - a, side = d - u * u.dot(d);
    if (side.norm() <= tolerance::rounding * d.norm()) return Line{a, b};
    const Vec3 s = side.normalized();
    const double r = d.squaredNorm() / (2 * d.dot(s));
    return Arc{a + r * s, -s, u, r, 2 * std::atan2(d.dot(s), d.dot(u))};
}

Result<Segment> arcByRadius(const Vec3& a, const Vec3& b, double radius, const Vec3& normal) {
    const Vec3 d = b - a;
    const double c = d.norm(), r = std::abs(radius);
    if (!(c > tolerance::length)) return Problem{"The ends of the arc are in one place.", "radius"};
    if (!std::isfinite(r) || r < c / 2 * (1 - tolerance::fine))
        return Problem{"The points are " + mm(c) + " apart; the radius must be at least half of that, " + mm(c / 2) +
                           ".",
                       "radius"};
    const Vec3 left = normal.cross(d).normalized();
    const double h = std::sqrt(std::max(0.0, r * r - c * c / 4)), half = std::asin(std::min(1.0, c / (2 * r)));
    const double sign = radius > 0 ? 1 : -1; // bulging left: the centre is on the right
    const Vec3 centre = (a + b) / 2 - sign * h * left;
    Arc arc;
    arc.centre = centre;
    arc.radius = r;
    arc.xAxis = (a - centre).normalized();
    arc.yAxis = -sign * normal.normalized().cross(arc.xAxis);
    arc.sweep = 2 * half;
    return Segment(arc);
}

} // namespace vicinal
