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
    double best = kFar;
    for (size_t i = 1; i < l.points.size(); ++i) best = std::min(best, distanceTo(l.points[i - 1], l.points[i], p));
    return best;
}

bool cut(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
    const Vec2 u = b - a, v = d - c;
    const double det = cross(u, v);
    if (std::abs(det) < tolerance::fine * u.norm() * v.norm()) return false;
    const double s = cross(c - a, v) / det, t = cross(c - a, u) / det;
    return s > tolerance::rounding && s < 1 - tolerance::rounding && t > tolerance::rounding &&
           t < 1 - tolerance::rounding;
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

/// A loop being made, step by step; every step says what is wrong.
class LoopRound {
public:
    LoopRound(std::span<const WheelCircle> wheels, bool closed, bool crossed, const std::optional<StrandHangs>& hangs)
        : m_wheels(wheels), m_closed(closed), m_crossed(crossed), m_hangs(hangs), m_n(wheels.size()),
          m_legs(closed ? m_n : m_n - 1) {}
    Result<WheelLoop> make() {
        if (auto p = defect()) return *p;
        if (auto p = layLegs()) return *p;
        wrapWheels();
        if (!m_crossed)
            if (auto p = crossing()) return *p;
        if (auto p = notReached()) return *p;
        if (auto p = hit()) return *p;
        assemble();
        return std::move(m_out);
    }

private:
    std::optional<Problem> defect() const {
        if (m_n < 2) return Problem{"A loop goes round at least two wheels. Add one.", "wheels"};
        if (m_n > 1000) return Problem{"A loop goes round at most 1000 wheels.", "wheels"};
        for (size_t i = 0; i < m_n; ++i) {
            const auto& w = m_wheels[i];
            if (!inReach(w.centre.x()) || !inReach(w.centre.y()) || !inReach(w.radius))
                return Problem{Words("W") + name(i).substr(1) + " has a value that is not a number or beyond " +
                                   say::bound(kLargest) + ".",
                               name(i)};
            if (w.radius < 0)
                return Problem{Words("W") + name(i).substr(1) + " has a radius of " + mm(w.radius) + "; use 0 or more.",
                               name(i)};
        }
        for (size_t i = 0; i < m_n; ++i)
            for (size_t k = i + 1; k < m_n; ++k) {
                const double d = (m_wheels[i].centre - m_wheels[k].centre).norm(), a = m_wheels[i].radius,
                             b = m_wheels[k].radius;
                if (d + std::min(a, b) <= std::max(a, b) + tolerance::length)
                    return Problem{Words("W") + name(a < b ? i : k).substr(1) + " lies inside " + name(a < b ? k : i) +
                                       ". Move it out by " + mm(a + b - d) + " or more.",
                                   name(a < b ? i : k)};
                if (d < a + b - tolerance::length)
                    return Problem{Words("W") + name(k).substr(1) + " overlaps " + name(i) + " by " + mm(a + b - d) +
                                       ". Move one of them.",
                                   name(k)};
            }
        return std::nullopt;
    }
    /// Directed tangents, and the strand that hangs.
    std::optional<Problem> layLegs() {
        m_leg.resize(m_legs);
        for (size_t i = 0; i < m_legs; ++i) {
            const auto &a = m_wheels[i], &b = m_wheels[(i + 1) % m_n];
            const double ra = a.inside ? a.radius : -a.radius, rb = b.inside ? b.radius : -b.radius;
            const Vec2 d = b.centre - a.centre;
            const double D = d.norm(), k = (rb - ra) / D;
            const double angle = std::atan2(d.y(), d.x()) - std::asin(std::clamp(k, -1.0, 1.0));
            const Vec2 left(-std::sin(angle), std::cos(angle));
            m_leg[i] = straight(a.centre - ra * left, b.centre - rb * left, angle);
            if (!m_hangs || m_hangs->after != i) continue;
            const auto strand =
                slackStrand({a.centre, ra}, {b.centre, rb}, angle, m_hangs->down, m_hangs->by, m_hangs->amount);
            if (!strand) return strand.problem();
            m_leg[i] = hanging(*strand);
        }
        return std::nullopt;
    }
    void wrapWheels() {
        m_out.contacts.resize(m_n);
        for (size_t i = 0; i < m_n; ++i) {
            if (!m_closed && (i == 0 || i + 1 == m_n)) continue;
            const double turn = m_leg[i % m_legs].leaves - m_leg[(i + m_legs - 1) % m_legs].arrives;
            double wrap = std::remainder(m_wheels[i].inside ? turn : -turn, 2 * kPi);
            if (wrap < -tolerance::rounding) wrap += 2 * kPi;
            m_out.contacts[i].wrap = std::max(0.0, wrap);
            m_whole += m_wheels[i].inside ? m_out.contacts[i].wrap : -m_out.contacts[i].wrap;
        }
        for (const Leg& l : m_leg)
            if (l.hangs) m_whole += l.hangs->turn;
    }
    size_t mostWrapped() const {
        size_t worst = 0;
        for (size_t i = 1; i < m_n; ++i)
            if (m_out.contacts[i].wrap > m_out.contacts[worst].wrap) worst = i;
        return worst;
    }
    Problem passedBy(size_t i) const {
        if (m_hangs && (i == m_hangs->after || i == (m_hangs->after + 1) % m_n))
            return Problem{Words("The strand hangs so that it lifts off ") + name(i) + ". Make it shorter.", "hang"};
        return Problem{
            Words("The loop passes ") + name(i) + " by without touching it. Move it " +
                (m_wheels[i].inside ? "outwards, or set it outside the loop." : "inwards, or set it inside the loop."),
            name(i)};
    }
    std::optional<Problem> crossing() const {
        for (size_t i = 0; i < m_legs; ++i)
            for (size_t k = i + 1; k < m_legs; ++k)
                if (cut(m_leg[i], m_leg[k])) {
                    if (m_leg[i].hangs || m_leg[k].hangs)
                        return Problem{Words("The strand that hangs hits the strand after ") +
                                           name(m_leg[i].hangs ? k : i) + ". Let it hang less.",
                                       "hang"};
                    return Problem{Words("The straight after ") + name(i) + " crosses the one after " + name(k) +
                                       ". Change the order, or allow crossed straights.",
                                   name(k)};
                }
        return std::nullopt;
    }
    std::optional<Problem> notReached() const {
        if (m_closed) {
            // Once round is 2 pi; a figure of eight 0. Each wheel that is not reached adds a whole turn.
            const double turns = m_whole / (2 * kPi);
            if (m_crossed ? std::abs(turns) > 1 + tolerance::alike : std::abs(turns - 1) > tolerance::alike)
                return passedBy(mostWrapped());
        } else {
            for (size_t i = 0; i < m_n; ++i)
                if (m_out.contacts[i].wrap > 1.75 * kPi) return passedBy(i);
        }
        return std::nullopt;
    }
    /// A straight or a strand that runs through a wheel.
    std::optional<Problem> hit() const {
        for (size_t i = 0; i < m_legs; ++i)
            for (size_t k = 0; k < m_n; ++k) {
                // A strand may hang against the far side of its own wheels, too; where it touches them it is straight.
                const bool own = k == i || k == (i + 1) % m_n;
                if (own && !m_leg[i].hangs) continue;
                if (distanceTo(m_leg[i], m_wheels[k].centre) >=
                    m_wheels[k].radius - (own ? 1e-3 * m_wheels[k].radius : tolerance::length))
                    continue;
                if (m_leg[i].hangs)
                    return Problem{Words("The strand that hangs hits ") + name(k) + ". Let it hang less.", "hang"};
                return Problem{Words("The straight from ") + name(i) + " to " + name((i + 1) % m_n) + " runs through " +
                                   name(k) + ". Move it, or change the order.",
                               name(k)};
            }
        return std::nullopt;
    }
    /// Starting on the first wheel where the last straight arrives (closed), or at its departure (open).
    void assemble() {
        m_out.curve.closed = m_closed;
        double s = 0;
        for (size_t i = 0; i < m_n; ++i) {
            const auto& w = m_wheels[i];
            m_out.contacts[i].arrives = s;
            if ((m_closed || (i > 0 && i + 1 < m_n)) && w.radius > 0 &&
                m_out.contacts[i].wrap * w.radius > tolerance::length) {
                const Leg& before = m_leg[(i + m_legs - 1) % m_legs];
                const Vec2 x = (before.to() - w.centre) / w.radius;
                const double sign = w.inside ? 1 : -1;
                m_out.curve.segments.push_back(Arc{Vec3(w.centre.x(), w.centre.y(), 0), Vec3(x.x(), x.y(), 0),
                                                   Vec3(-sign * x.y(), sign * x.x(), 0), w.radius,
                                                   m_out.contacts[i].wrap});
                s += w.radius * m_out.contacts[i].wrap;
            }
            m_out.contacts[i].leaves = s;
            if (i >= m_legs) break;
            const double strand = m_leg[i].length();
            m_out.contacts[i].tangentAfter = strand;
            if (strand > tolerance::length) m_out.curve.segments.push_back(m_leg[i].segment());
            if (m_leg[i].hangs) m_out.hangs = m_leg[i].hangs;
            s += strand;
        }
        m_out.length = s;
    }

    std::span<const WheelCircle> m_wheels;
    bool m_closed, m_crossed;
    const std::optional<StrandHangs>& m_hangs;
    size_t m_n, m_legs;
    std::vector<Leg> m_leg;
    double m_whole = 0; ///< rad that are turned all the way round
    WheelLoop m_out;
};

/// Idea: every straight is the directed tangent of two circles at signed distances from it (plus inside the loop, minus
/// outside), which has one solution; a strand that hangs takes its place. What is wrapped of a wheel is the turn from
/// where one leg arrives to where the next one leaves. Invariant: the wraps, outside ones and the strand's own turn
/// counted with their signs, add up to one turn (0 for a figure of eight); every wheel that is passed by adds a whole
/// one, which is how it is found and named. Then no straight may cross another or a wheel. O(n^2) for n wheels.
Result<WheelLoop> tryLoop(std::span<const WheelCircle> wheels, bool closed, bool crossed,
                          const std::optional<StrandHangs>& hangs) {
    return LoopRound(wheels, closed, crossed, hangs).make();
}

} // namespace

Result<WheelLoop> loopRound(std::span<const WheelCircle> wheels, bool closed, bool crossed,
                            const std::optional<StrandHangs>& hangs) {
    if (hangs && hangs->after >= (closed ? wheels.size() : wheels.size() - 1))
        return Problem{Words("There is no strand after ") + name(hangs->after) +
                           ". Choose one that leads to another wheel.",
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
        double nearest = kFar;
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
