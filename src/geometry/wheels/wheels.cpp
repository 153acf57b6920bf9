#include "geometry/wheels/wheels.h"
#include "base/say.h"
#include "geometry/wheels/hull.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace vicinal {
namespace {

using say::mm;

std::string name(size_t i) { return "wheel " + std::to_string(i + 1); }

/// From wheel to wheel: straight, or a strand that hangs.
struct Leg {
    std::vector<Vec2> points; ///< its ends, and those between where it hangs
    double leaves, arrives;   ///< directions of travel
    std::optional<SlackStrand> hangs{};

    const Vec2& from() const { return points.front(); }
    const Vec2& to() const { return points.back(); }
    double length() const { return hangs ? hangs->length : (to() - from()).norm(); }
    Segment segment() const {
        if (hangs) return hangs->curve;
        return Line{Vec3(from().x(), from().y(), 0), Vec3(to().x(), to().y(), 0)};
    }
};

Leg straight(const Vec2& a, const Vec2& b, double angle) { return {{a, b}, angle, angle}; }

Leg hanging(const SlackStrand& strand) {
    constexpr int kPieces = 128;
    const Catenary& c = strand.curve;
    Leg out{{}, strand.leaves, strand.leaves + strand.turn, strand};
    for (int i = 0; i <= kPieces; ++i) { // evenly in x, dense enough where it is steep
        const double u0 = std::asinh(c.s0 / c.a), u = u0 + (std::asinh(c.s1 / c.a) - u0) * i / kPieces;
        const Vec3 p = c.low + c.a * u * c.along + c.a * (std::cosh(u) - 1) * c.up;
        out.points.push_back(p.head<2>());
    }
    return out;
}

double distanceTo(const Vec2& a, const Vec2& b, const Vec2& p) {
    const Vec2 d = b - a;
    const double n2 = d.squaredNorm(), f = n2 > 0 ? std::clamp((p - a).dot(d) / n2, 0.0, 1.0) : 0;
    return (p - a - f * d).norm();
}
double distanceTo(const Leg& l, const Vec2& p) {
    double best = 1e300;
    for (size_t i = 1; i < l.points.size(); ++i) best = std::min(best, distanceTo(l.points[i - 1], l.points[i], p));
    return best;
}

bool cut(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
    const Vec2 u = b - a, v = d - c;
    const double det = cross(u, v);
    if (std::abs(det) < 1e-12 * u.norm() * v.norm()) return false;
    const double s = cross(c - a, v) / det, t = cross(c - a, u) / det;
    return s > 1e-9 && s < 1 - 1e-9 && t > 1e-9 && t < 1 - 1e-9;
}
bool cut(const Leg& a, const Leg& b) {
    for (size_t i = 1; i < a.points.size(); ++i)
        for (size_t k = 1; k < b.points.size(); ++k)
            if (cut(a.points[i - 1], a.points[i], b.points[k - 1], b.points[k])) return true;
    return false;
}

} // namespace

double pitchRadius(long teeth, double pitch) { return pitch / (2 * std::sin(kPi / double(teeth))); }

double twoWheelLength(double r1, double r2, double d, bool crossed) {
    const double k = crossed ? r1 + r2 : r1 - r2, a = std::asin(k / d);
    return 2 * std::sqrt(d * d - k * k) + (crossed ? (r1 + r2) * (kPi + 2 * a) : kPi * (r1 + r2) + 2 * a * (r1 - r2));
}

namespace {

/// Idea: every straight is the directed tangent of two circles at signed distances from it (plus inside the loop, minus
/// outside), which has one solution; a strand that hangs takes its place. What is wrapped of a wheel is the turn from
/// where one leg arrives to where the next one leaves. Invariant: the wraps, outside ones and the strand's own turn
/// counted with their signs, add up to one turn (0 for a figure of eight); every wheel that is passed by adds a whole
/// one, which is how it is found and named. Then no straight may cross another or a wheel. O(n^2) for n wheels.
Result<WheelLoop> tryLoop(std::span<const WheelCircle> wheels, bool closed, bool crossed,
                          const std::optional<StrandHangs>& hangs) {
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
        leg[i] = straight(a.centre - ra * left, b.centre - rb * left, angle);
        if (!hangs || hangs->after != i) continue;
        const auto strand = slackStrand({a.centre, ra}, {b.centre, rb}, angle, hangs->down, hangs->by, hangs->amount);
        if (!strand) return strand.problem();
        leg[i] = hanging(*strand);
    }
    WheelLoop out;
    out.contacts.resize(n);
    double whole = 0;
    for (size_t i = 0; i < n; ++i) {
        if (!closed && (i == 0 || i + 1 == n)) continue;
        const double turn = leg[i % legs].leaves - leg[(i + legs - 1) % legs].arrives;
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
    for (const Leg& l : leg)
        if (l.hangs) whole += l.hangs->turn;
    const auto passedBy = [&](size_t i) {
        if (hangs && (i == hangs->after || i == (hangs->after + 1) % n))
            return Problem{"The strand hangs so that it lifts off " + name(i) + ". Make it shorter.", "hang"};
        return Problem{
            "The loop passes " + name(i) + " by without touching it. Move it " +
                (wheels[i].inside ? "outwards, or set it outside the loop." : "inwards, or set it inside the loop."),
            name(i)};
    };
    if (!crossed)
        for (size_t i = 0; i < legs; ++i)
            for (size_t k = i + 1; k < legs; ++k)
                if (cut(leg[i], leg[k])) {
                    if (leg[i].hangs || leg[k].hangs)
                        return Problem{"The strand that hangs hits the strand after " + name(leg[i].hangs ? k : i) +
                                           ". Let it hang less.",
                                       "hang"};
                    return Problem{"The straight after " + name(i) + " crosses the one after " + name(k) +
                                       ". Change the order, or allow crossed straights.",
                                   name(k)};
                }
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
            // A strand may hang against the far side of its own wheels, too; where it touches them it is straight.
            const bool own = k == i || k == (i + 1) % n;
            if (own && !leg[i].hangs) continue;
            if (distanceTo(leg[i], wheels[k].centre) >= wheels[k].radius - (own ? 1e-3 * wheels[k].radius : 1e-6))
                continue;
            if (leg[i].hangs) return Problem{"The strand that hangs hits " + name(k) + ". Let it hang less.", "hang"};
            return Problem{"The straight from " + name(i) + " to " + name((i + 1) % n) + " runs through " + name(k) +
                               ". Move it, or change the order.",
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
            const Vec2 x = (before.to() - w.centre) / w.radius;
            const double sign = w.inside ? 1 : -1;
            out.curve.segments.push_back(Arc{Vec3(w.centre.x(), w.centre.y(), 0), Vec3(x.x(), x.y(), 0),
                                             Vec3(-sign * x.y(), sign * x.x(), 0), w.radius, out.contacts[i].wrap});
            s += w.radius * out.contacts[i].wrap;
        }
        out.contacts[i].leaves = s;
        if (i >= legs) break;
        const double strand = leg[i].length();
        out.contacts[i].tangentAfter = strand;
        if (strand > tolerance::length) out.curve.segments.push_back(leg[i].segment());
        if (leg[i].hangs) out.hangs = leg[i].hangs;
        s += strand;
    }
    out.length = s;
    return out;
}

} // namespace

Result<WheelLoop> loopRound(std::span<const WheelCircle> wheels, bool closed, bool crossed,
                            const std::optional<StrandHangs>& hangs) {
    if (hangs && hangs->after >= (closed ? wheels.size() : wheels.size() - 1))
        return Problem{"There is no strand after " + name(hangs->after) + ". Choose one that leads to another wheel.",
                       "hangs"};
    auto made = tryLoop(wheels, closed, crossed, hangs);
    if (made || !hangs || made.problem().field != "hang") return made;
    StrandHangs less = *hangs;
    double works = 0, fails = hangs->amount;
    if (!(fails > 0 && std::isfinite(fails))) return made;
    for (int i = 0; i < 60 && fails - works > 1e-3 * fails; ++i) {
        less.amount = works > 0 ? (works + fails) / 2 : fails / 4;
        const auto tried = tryLoop(wheels, closed, crossed, less);
        if (!tried && tried.problem().field != "hang") return made; // it is not the strand alone
        (tried ? works : fails) = less.amount;
    }
    if (!(works > 0)) return made;
    return Problem{made.problem().text + " " + mm(works) + " works.", "hang"};
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
            const double d =
                distanceTo(wheels[order[k]].centre, wheels[order[(k + 1) % order.size()]].centre, wheels[i].centre);
            if (d < nearest) nearest = d, best = k;
        }
        order.insert(order.begin() + long(best) + 1, i);
    }
    return order;
}

} // namespace vicinal
