// Paths that follow another one.
#include "base/say.h"
#include "base/text.h"
#include "geometry/heights/laid.h"
#include "model/recipes/build/build.h"
#include <algorithm>
#include <cmath>

namespace vicinal::recipes {
namespace {

using say::mm;

/// Refuses what would take minutes or gigabytes: pieces of the source, where a quarter turn of a screw line counts as
/// `quarter` pieces: it becomes many cubics, and in plan its turns lie over each other.
std::optional<Problem> tooMuchWork(const Path& p, const char* what, long quarter) {
    constexpr long kMost = 20'000;
    long pieces = 0;
    for (const auto& s : p.spans()) pieces += s.kind == Span::Kind::Helix ? quarter : 1;
    if (pieces <= kMost) return std::nullopt;
    return Problem{std::string(what) + " takes a path of at most " + std::to_string(kMost) + " pieces; this one has " +
                       std::to_string(pieces) + ". Follow a stretch of it, or resample it first.",
                   "source"};
}

/// What is worth saying of a path that was laid on a body.
std::vector<Words> remarksOf(const LaidPath& laid, const LaidOn& c) {
    std::vector<Words> out;
    for (size_t i = 0; i < laid.bridged.size() && i < 3; ++i)
        out.push_back("There is nothing of the body between stations " + mm(laid.bridged[i].first) + " and " +
                      mm(laid.bridged[i].second) + ": bridged straight.");
    if (laid.bridged.size() > 3)
        out.push_back(std::to_string(laid.bridged.size() - 3) + " more stretches without the body are bridged.");
    if (laid.lostAtStart > 0 || laid.lostAtEnd > 0)
        out.push_back("The body ends before the path does: " + mm(laid.lostAtStart) + " at its start and " +
                      mm(laid.lostAtEnd) + " at its end are left out.");
    if (laid.upright > 0 && c.smooth == 0)
        out.push_back("It climbs straight up or down at " + std::to_string(laid.upright) +
                      (laid.upright == 1 ? " place." : " places."));
    if (laid.overhangs)
        out.push_back("The body overhangs: somewhere the path could lie on it more than once. It lies on what it meets "
                      "first.");
    if (c.smooth > 0)
        out.push_back("Smoothed: at most " + mm(laid.off) + " off the surface" +
                      (laid.off > 0 ? ", at station " + mm(laid.offAt) : Words()) +
                      (laid.off > c.smooth * (1 + 1e-9)
                           ? Words(". An upright step cannot be smoothed within " + mm(c.smooth) + ".")
                           : Words(".")));
    return out;
}

/// The same of one that was lifted over itself.
std::vector<Words> remarksOf(const LiftedPath& lifted, size_t crossings, const LiftedOver& c,
                             std::vector<Words>& broken) {
    std::vector<Words> out;
    if (crossings == 0) {
        out.push_back("No strand comes nearer to another than the thickness: nothing is lifted.");
        return out;
    }
    out.push_back(std::to_string(crossings) + (crossings == 1 ? " crossing; " : " crossings; ") +
                  "strands keep at least " + mm(lifted.least) + " from one another.");
    if (lifted.least < c.thickness - tolerance::length)
        broken.push_back("Strands come within " + mm(lifted.least) + " of one another, less than the thickness of " +
                         mm(c.thickness) + ".");
    if (lifted.shortest > 0)
        out.push_back("Crossings are close to one another: it is eased over " + mm(lifted.shortest) +
                      ", all there is room for.");
    for (double at : lifted.hairpins) {
        out.push_back("At station " + mm(at) + " it turns back sharper than the thickness: its strands touch there.");
        broken.push_back(out.back());
    }
    for (long n : c.switched)
        if (n > long(crossings)) out.push_back("There is no crossing " + std::to_string(n) + " any more.");
    return out;
}

} // namespace

Result<Built> buildDerived(const DerivedRecipe& r, const Path& p, const Path* other, const BodyAsked& body,
                           const Stop* stop) {
    const auto* screw = p.segments().size() == 1 ? std::get_if<Helix>(&p.segments()[0]) : nullptr;
    if (std::holds_alternative<OffsetOf>(r.change) && !(screw && screw->r0 == screw->r1 && screw->rise != 0))
        if (auto problem = tooMuchWork(p, "An offset", 100)) return *problem;
    if (std::holds_alternative<ProjectedTo>(r.change))
        if (auto problem = tooMuchWork(p, "A projection", 10)) return *problem;
    using S = Result<std::vector<Segment>>;
    bool closed = p.closed();
    std::vector<OffsetPart> lost;
    std::vector<Words> broken;
    std::vector<Words> remarks;
    double vanished = 0;
    std::vector<StrandCrossing> crossings;
    S segments = std::visit(
        Overloaded{[&](const OffsetOf& c) -> S {
                       const PathPlane facts = planeOf(p);
                       const Vec3 n =
                           facts.planar && std::abs(facts.normal.z()) < 1 - 1e-9 ? facts.normal : Vec3(Vec3::UnitZ());
                       auto o = offsetOf(p, c.distance, c.corners, n, stop);
                       if (!o) return o.problem();
                       closed = o->curve.closed;
                       lost = std::move(o.value().others);
                       for (auto& piece : o.value().vanished) vanished += piece.length;
                       if (vanished > 1e-3)
                           remarks.push_back("Where the path bends sharper than the distance, " + mm(vanished) +
                                             " of the offset vanish (shown grey); the rest is joined there.");
                       if (!lost.empty()) {
                           double length = 0;
                           for (const auto& part : lost) length += part.length;
                           remarks.push_back(std::to_string(lost.size()) + " separate part(s), " + mm(length) +
                                             " in all, are left out: the offset falls apart where the path is narrow.");
                       }
                       lost.insert(lost.end(), std::make_move_iterator(o.value().vanished.begin()),
                                   std::make_move_iterator(o.value().vanished.end()));
                       return o->curve.segments;
                   },
                   [&](const StretchOf& c) -> S {
                       closed = false;
                       return stretchOf(p, c.from, c.to);
                   },
                   [&](const BackwardsOf&) -> S { return backwards(p); },
                   [&](const StartMoved& c) -> S { return startMovedTo(p, c.station); },
                   [&](const MirroredAt& c) -> S {
                       if (!finite(c.point)) return Problem{"The mirror's point is not a number.", "point"};
                       if (!std::isfinite(c.heading))
                           return Problem{"The mirror's heading is not a number.", "heading"};
                       return mirrored(p, c.point, Vec3(-std::sin(c.heading), std::cos(c.heading), 0));
                   },
                   [&](const ProjectedTo& c) -> S {
                       if (!std::isfinite(c.level)) return Problem{"The level is not a number.", "level"};
                       const Vec3 n = axesOf(c.plane).col(2);
                       const double sign = c.plane == Plane::Front ? -1 : 1; // level counts along x, y or z
                       return projectedTo(p, sign * c.level * n, n);
                   },
                   [&](const Resampled& c) -> S {
                       long count = c.count;
                       if (!c.byCount) {
                           if (!(c.step >= p.length() / 100000 && std::isfinite(c.step)))
                               return Problem{"A point every " + mm(c.step) +
                                                  " is more than 100000 points, or none. The least step is " +
                                                  mm(p.length() / 100000) + ".",
                                              "step"};
                           count = std::max(closed ? 3L : 2L, std::lround(p.length() / c.step) + (closed ? 0 : 1));
                       }
                       if (count < (closed ? 3 : 2) || count > 100000)
                           return Problem{"A path is resampled to 2 (closed: 3) to 100000 points, not " +
                                              std::to_string(count) + ".",
                                          "count"};
                       return spline(evenPoints(p, count), c.smooth, closed);
                   },
                   [&](const SmoothedBy& c) -> S {
                       if (!(c.reach >= 0 && std::isfinite(c.reach)) || c.reach > p.length())
                           return Problem{"The reach is " + mm(c.reach) + "; use 0 to the path's length, " +
                                              mm(p.length()) + ".",
                                          "reach"};
                       const long count =
                           std::clamp(std::lround(p.length() / std::max(c.reach / 3, p.length() / 2000)), 16L, 2000L);
                       return spline(smoothedPoints(p, count, c.reach, c.keepEnds), true, closed);
                   },
                   [&](const LaidOn& c) -> S {
                       if (!body.ground) return Problem{"Choose the site body that the path is laid on.", "body"};
                       auto laid = laidOn(p, *body.ground, {c.along, c.as == LaidAs::Points, c.smooth, c.above}, stop);
                       if (!laid) return laid.problem();
                       closed = laid->closed;
                       remarks = remarksOf(*laid, c);
                       if (const double within = body.ground->within(); within > 0)
                           remarks.push_back("The body's faces are curved: it lies on them to within " + mm(within) +
                                             ".");
                       return std::move(laid.value().segments);
                   },
                   [&](const LiftedOver& c) -> S {
                       auto lifted = liftedOver(p, {c.thickness, c.ease, c.top, c.switched}, other, stop);
                       if (!lifted) return lifted.problem();
                       closed = lifted->closed;
                       crossings = std::move(lifted.value().crossings);
                       remarks = remarksOf(*lifted, crossings.size(), c, broken);
                       return std::move(lifted.value().segments);
                   }},
        r.change);
    if (!segments) return segments.problem();
    auto out = built(*segments, closed, 1e-3);
    if (!out) return out;
    out.value().lost = std::move(lost);
    out.value().remarks = std::move(remarks);
    out.value().crossings = std::move(crossings);
    out.value().broken = std::move(broken);
    return out;
}

} // namespace vicinal::recipes
