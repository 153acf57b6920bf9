#include "geometry/wheels/slack.h"
#include "base/numeric/root.h"
#include "base/say.h"
#include <cmath>

namespace vicinal {
namespace {

using say::mm;

/// The strand in axes of its own: x the level way it runs, y up, the first wheel's middle at the origin.
struct Hanging {
    double r0, r1; ///< below zero where the wheel lies to the right of the way
    Vec2 d;        ///< middle of the second wheel

    // Where it leaves and arrives with slopes sinh u.
    Vec2 leaves(double u) const { return r0 * Vec2(std::tanh(u), -1 / std::cosh(u)); }
    Vec2 arrives(double u) const { return d + r1 * Vec2(std::tanh(u), -1 / std::cosh(u)); }
    double a(double m, double w) const { return (arrives(m + w) - leaves(m - w)).x() / (2 * w); }
    /// By how much the height it climbs misses that of a chain.
    double miss(double m, double w) const {
        const double k = a(m, w);
        if (!(k > 0)) return std::nan("");
        return 2 * k * std::sinh(m) * std::sinh(w) - (arrives(m + w) - leaves(m - w)).y();
    }
    double length(double m, double w) const { return 2 * a(m, w) * std::cosh(m) * std::sinh(w); }
    /// How much longer it is than the tight tangent, with what it wraps more (or less) of both wheels.
    double slack(double m, double w, double t, double straight) const {
        const auto angle = [](double u) { return std::atan(std::sinh(u)); };
        return length(m, w) - straight + r0 * (angle(m - w) - angle(t)) - r1 * (angle(m + w) - angle(t));
    }
    /// Where the chain has the slope of the tight tangent, sinh t, and by how much that lies plumb below it.
    Vec2 deepest(double m, double w, double t) const {
        const double u0 = m - w;
        return leaves(u0) + a(m, w) * Vec2(t - u0, std::cosh(t) - std::cosh(u0));
    }
    double sag(double m, double w, double t) const {
        const Vec2 at = deepest(m, w, t), on = leaves(t);
        return on.y() + (at.x() - on.x()) * std::sinh(t) - at.y();
    }
};

} // namespace

Result<SlackStrand> slackStrand(const StrandEnd& from, const StrandEnd& to, double tight, const Vec2& down, SwagBy by,
                                double amount) {
    const auto wrong = [](const Words& text) { return Problem{text, "hang"}; };
    const char* what = by == SwagBy::Sag ? "sag" : "slack";
    const Vec2 up = -down, way(std::cos(tight), std::sin(tight));
    const double side = up.y() * way.x() - up.x() * way.y() >= 0 ? 1 : -1;
    const Vec2 level = side * Vec2(up.y(), -up.x());
    const double run = way.dot(level), rise = way.dot(up);
    if (run < std::sin(kDegree))
        return wrong("This strand stands plumb, so that it cannot hang in a curve. Choose another strand.");
    const Vec2 between = to.centre - from.centre;
    const Hanging h{side * from.radius, side * to.radius, Vec2(between.dot(level), between.dot(up))};
    const double t = std::asinh(rise / run);
    const double straight = (h.arrives(t) - h.leaves(t)).norm();
    if (!(straight > 1e-3)) return wrong("This strand has no length, so that it cannot hang. Choose another strand.");
    if (!std::isfinite(amount) || !(amount >= 1e-7 * straight))
        return wrong(Words("The ") + what + " is " + mm(amount) + "; it must be at least " + mm(1e-7 * straight) +
                     ". Without any, let the strand be tight.");
    if (amount > 100 * straight)
        return wrong(Words("The ") + what + " of " + mm(amount) + " is over 100 times the strand. Make it smaller.");
    // The middle for each half width, followed from the tight tangent on.
    const double size = h.d.norm() + std::abs(h.r0) + std::abs(h.r1);
    double middle = t;
    const auto solved = [&](double w) {
        RootWanted want{middle, -16, 16, 0.05, 1e-13 * size * std::max(1.0, std::sinh(w)), 200};
        const RootFound found = nearestRoot([&](double m) { return h.miss(m, w); }, want);
        return found.exact ? (middle = found.at) : std::nan("");
    };
    const auto measure = [&](double w) {
        const double m = solved(w);
        if (std::isnan(m)) return m;
        return (by == SwagBy::Sag ? h.sag(m, w, t) : h.slack(m, w, t, straight)) - amount;
    };
    // A flat chain's own numbers: slack w^2 / 6 of its length, sag w / 4 of it.
    const double first = by == SwagBy::Sag ? 4 * amount / straight : std::sqrt(6 * amount / straight);
    RootWanted want{
        std::min(first, 6.0), tolerance::rounding, 14, std::min(first, 6.0) / 10, tolerance::fine * size + 1e-11, 300};
    const RootFound found = nearestRoot(measure, want);
    if (!found.exact)
        return wrong(Words("No strand hangs here with a ") + what + " of " + mm(amount) + ". Make it smaller.");
    const double w = found.at, m = solved(w), a = h.a(m, w), u0 = m - w, u1 = m + w;
    // A wheel over the strand lies in its hollow, and must go into it.
    for (const auto& [r, u] : {std::pair(h.r0, u0), {h.r1, u1}})
        if (r > a * std::cosh(u) * std::cosh(u) + tolerance::length)
            return wrong(Words("The strand hangs so deep that it would cut into its wheel. Make the ") + what +
                         " smaller.");
    SlackStrand out;
    const auto angle = [](double u) { return std::atan(std::sinh(u)); };
    const Vec2 head = std::cos(angle(u0)) * level + std::sin(angle(u0)) * up;
    out.leaves = std::atan2(head.y(), head.x());
    out.turn = side * (angle(u1) - angle(u0));
    out.length = h.length(m, w);
    out.slack = h.slack(m, w, t, straight);
    out.sag = h.sag(m, w, t);
    const Vec2 deepest = h.deepest(m, w, t);
    out.deepest = from.centre + deepest.x() * level + deepest.y() * up;
    out.above = out.deepest + out.sag * up;
    const Vec2 lowest = h.leaves(u0) - a * Vec2(u0, std::cosh(u0) - 1),
               low = from.centre + lowest.x() * level + lowest.y() * up;
    out.curve = Catenary{Vec3(low.x(), low.y(), 0), Vec3(level.x(), level.y(), 0),
                         Vec3(up.x(), up.y(), 0),   a,
                         a * std::sinh(u0),         a * std::sinh(u1)};
    return out;
}

} // namespace vicinal
