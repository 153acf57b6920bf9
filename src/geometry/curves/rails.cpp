#include "geometry/curves/rails.h"
#include "base/say.h"
#include <algorithm>
#include <cmath>
#include <optional>

namespace vicinal {
namespace {

constexpr double kLeastPiece = 1e-3;

/// The slope of a cut across the section: how much farther along the piece it is for each mm to the left, and up.
Vec2 leanOf(const RailPiece& p, const RailCut& cut) {
    const Vec3 n = p.axes.transpose() * cut.normal;
    return {-n.y() / n.x(), -n.z() / n.x()};
}

/// How far the section reaches in a direction.
double reach(const RailSection& s, const Vec2& along) {
    double out = -kFar;
    for (const Vec2& p : s.points) out = std::max(out, p.dot(along));
    return out + s.radius * along.norm();
}

std::optional<Problem> wrong(std::span<const Vec3> places, std::span<const Vec3> ups, const RailSection& section,
                             const RailOrder& order) {
    if (places.size() < (order.closed ? 3 : 2))
        return Problem{order.closed ? "A rail that goes round needs at least three places."
                                    : "A rail needs at least two places to run between.",
                       "places"};
    for (const Vec3& p : places)
        if (!inReach(p)) return Problem{"A place is not a number, or beyond " + say::bound(kLargest) + ".", "places"};
    if (!ups.empty() && ups.size() != places.size())
        return Problem{"There are " + say::count(places.size()) + " places and " + say::count(ups.size()) +
                           " directions that are up for them.",
                       "ups"};
    if (!(order.gap >= 0 && inReach(order.gap)))
        return Problem{"The gap between pieces is " + say::mm(order.gap) + "; use 0 or more.", "gap"};
    if (!(order.overlap >= 0 && inReach(order.overlap)))
        return Problem{"Pieces overlap by " + say::mm(order.overlap) + "; use 0 or more.", "overlap"};
    if (section.points.empty() || !(section.radius >= 0))
        return Problem{"The rail's section is empty. Choose another one.", "section"};
    return std::nullopt;
}

} // namespace

Vec3 pointOn(const RailPiece& p, const Vec2& across, double share) {
    const double a = p.start.at + leanOf(p, p.start).dot(across), b = p.end.at + leanOf(p, p.end).dot(across);
    return p.from + p.axes * Vec3(a + share * (b - a), across.x(), across.y());
}

Result<std::vector<RailPiece>> straightRails(std::span<const Vec3> places, std::span<const Vec3> ups,
                                             const RailSection& section, const RailOrder& order) {
    if (auto problem = wrong(places, ups, section, order)) return *problem;
    const size_t n = places.size(), count = order.closed ? n : n - 1;
    std::vector<RailPiece> out(count);
    for (size_t i = 0; i < count; ++i) {
        RailPiece& p = out[i];
        const size_t next = (i + 1) % n;
        const Vec3 by = places[next] - places[i];
        const auto name = [&] { return "places " + std::to_string(i + 1) + " and " + std::to_string(next + 1); };
        if (!(by.norm() > kLeastPiece))
            return Problem{Words("The ") + name() +
                               " are on one another: no rail runs between them. Leave one of them out.",
                           "places"};
        const Vec3 e = by.normalized(), up = ups.empty() ? Vec3::UnitZ() : Vec3(ups[i] + ups[next]);
        const Vec3 left = up.cross(e);
        if (!(left.norm() > tolerance::rounding * std::max(1.0, up.norm())))
            return Problem{Words("Between ") + name() +
                               " the rail runs along its own up direction, so that nothing says how it is turned.",
                           "ups"};
        p.from = places[i];
        p.axes.col(0) = e;
        p.axes.col(1) = left.normalized();
        p.axes.col(2) = e.cross(p.axes.col(1));
        p.start = {-e, 0};
        p.end = {e, by.norm()};
    }
    // Joints: between each piece and the one behind it.
    for (size_t i = 0; i < (order.closed ? count : count - 1); ++i) {
        RailPiece &a = out[i], &b = out[(i + 1) % count];
        const Vec3 sum = a.axes.col(0) + b.axes.col(0);
        const double half = sum.norm() / 2; // cosine of half the turn
        if (half < 0.02 && order.joint != RailJoint::Overlapping)
            return Problem{"At place " + say::count((i + 1) % n + 1) +
                               " the rail turns straight back, where pieces cannot meet. Let them overlap there, or "
                               "move the place.",
                           "joint"};
        if (order.joint == RailJoint::Overlapping) {
            a.end.at += order.overlap;
            b.start.at -= order.overlap;
            continue;
        }
        const Vec3 normal = sum.normalized();
        a.end.normal = normal;
        b.start.normal = -normal;
        // Mirrored in the joint the one section should be the other.
        const Vec3 up = a.axes.col(2) - 2 * a.axes.col(2).dot(normal) * normal;
        a.twist = std::atan2(b.axes.col(0).dot(up.cross(b.axes.col(2))), up.dot(b.axes.col(2)));
        double backA = order.gap / 2 / half, backB = backA;
        if (order.joint == RailJoint::Butted) { // as far out as the mitre is on the inside
            backA += reach(section, -leanOf(a, a.end));
            backB += reach(section, leanOf(b, b.start));
            a.end.normal = a.axes.col(0);
            b.start.normal = -b.axes.col(0);
        }
        a.end.at -= backA;
        b.start.at += backB;
    }
    const double height = reach(section, Vec2::UnitY()) + reach(section, -Vec2::UnitY());
    for (size_t i = 0; i < count; ++i) {
        RailPiece& p = out[i];
        if (order.joint == RailJoint::Overlapping && i % 2 == 1) p.from += height * p.axes.col(2);
        const Vec2 s = leanOf(p, p.start), e = leanOf(p, p.end);
        for (auto [cut, lean] : {std::pair(&p.start, s), std::pair(&p.end, e)}) {
            const double away = cut == &p.end ? 1 : -1;
            cut->plan = std::atan(-away * lean.x());
            cut->slope = std::atan(-away * lean.y());
        }
        p.length = p.end.at - p.start.at;
        p.longest = p.end.at + reach(section, e) - p.start.at + reach(section, -s);
        // Nowhere in the section may the two cuts pass each other.
        if (!(p.length - reach(section, s - e) > kLeastPiece))
            return Problem{"Nothing is left of the piece between places " + say::count(i + 1) + " and " +
                               say::count((i + 1) % n + 1) +
                               ": its two cuts meet within it. Use a thinner section, or places farther apart.",
                           "joint"};
    }
    return out;
}

} // namespace vicinal
