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
    return Problem{say::value(std::string(what)) + " takes a path of at most " + say::count(kMost) +
                       " pieces; this one has " + say::count(pieces) +
                       ". Follow a stretch of it, or resample it first.",
                   "source"};
}

/// What is worth saying of a path that was laid on a body.
std::vector<Words> remarksOf(const LaidPath& laid, const LaidOn& c) {
    std::vector<Words> out;
    for (size_t i = 0; i < laid.bridged.size() && i < 3; ++i)
        out.push_back("There is nothing of the body between stations " + mm(laid.bridged[i].first) + " and " +
                      mm(laid.bridged[i].second) + ": bridged straight.");
    if (laid.bridged.size() > 3)
        out.push_back(say::count(laid.bridged.size() - 3) + " more stretches without the body are bridged.");
    if (laid.lostAtStart > 0 || laid.lostAtEnd > 0)
        out.push_back("The body ends before the path does: " + mm(laid.lostAtStart) + " at its start and " +
                      mm(laid.lostAtEnd) + " at its end are left out.");
    if (laid.upright > 0 && c.smooth == 0)
        out.push_back("It climbs straight up or down at " + say::count(laid.upright) +
                      (laid.upright == 1 ? " place." : " places."));
    if (laid.overhangs)
        out.push_back("The body overhangs: somewhere the path could lie on it more than once. It lies on what it meets "
                      "first.");
    if (c.smooth > 0)
        out.push_back("Smoothed: at most " + mm(laid.off) + " off the surface" +
                      (laid.off > 0 ? ", at station " + mm(laid.offAt) : Words()) +
                      (laid.off > c.smooth * (1 + tolerance::rounding)
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
    out.push_back(say::count(crossings) + (crossings == 1 ? " crossing; " : " crossings; ") + "strands keep at least " +
                  mm(lifted.least) + " from one another.");
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
        if (n > long(crossings)) out.push_back("There is no crossing " + say::count(n) + " any more.");
    return out;
}

/// A path made from another one: segments, and what there is to say of them.
class ChangedPath {
public:
    using S = Result<std::vector<Segment>>;
    ChangedPath(const Path& p, const Path* other, const BodyAsked& body, const Stop* stop)
        : closed(p.closed()), m_path(p), m_other(other), m_body(body), m_stop(stop) {}
    S operator()(const OffsetOf& c) {
        const PathPlane facts = planeOf(m_path);
        const Vec3 n =
            facts.planar && std::abs(facts.normal.z()) < 1 - tolerance::rounding ? facts.normal : Vec3(Vec3::UnitZ());
        auto o = offsetOf(m_path, c.distance, c.corners, n, m_stop);
        if (!o) return o.problem();
        closed = o->curve.closed;
        lost = std::move(o.value().others);
        double vanished = 0;
        for (auto& piece : o.value().vanished) vanished += piece.length;
        if (vanished > 1e-3)
            remarks.push_back("Where the path bends sharper than the distance, " + mm(vanished) +
                              " of the offset vanish (shown grey); the rest is joined there.");
        if (!lost.empty()) {
            double length = 0;
            for (const auto& part : lost) length += part.length;
            remarks.push_back(say::count(lost.size()) + " separate part(s), " + mm(length) +
                              " in all, are left out: the offset falls apart where the path is narrow.");
        }
        lost.insert(lost.end(), std::make_move_iterator(o.value().vanished.begin()),
                    std::make_move_iterator(o.value().vanished.end()));
        return o->curve.segments;
    }
    S operator()(const StretchOf& c) {
        closed = false;
        return stretchOf(m_path, c.from, c.to);
    }
    S operator()(const BackwardsOf&) { return backwards(m_path); }
    S operator()(const StartMoved& c) { return startMovedTo(m_path, c.station); }
    S operator()(const MirroredAt& c) {
        if (!finite(c.point)) return Problem{"The mirror's point is not a number.", "point"};
        if (!std::isfinite(c.heading)) return Problem{"The mirror's heading is not a number.", "heading"};
        return mirrored(m_path, c.point, Vec3(-std::sin(c.heading), std::cos(c.heading), 0));
    }
    S operator()(const ProjectedTo& c) {
        if (!std::isfinite(c.level)) return Problem{"The level is not a number.", "level"};
        const Vec3 n = axesOf(c.plane).col(2);
        const double sign = c.plane == Plane::Front ? -1 : 1; // level counts along x, y or z
        return projectedTo(m_path, sign * c.level * n, n);
    }
    S operator()(const Resampled& c) {
        long count = c.count;
        if (!c.byCount) {
            if (!(c.step >= m_path.length() / 100000 && std::isfinite(c.step)))
                return Problem{"A point every " + mm(c.step) +
                                   " is more than 100000 points, or none. The least step is " +
                                   mm(m_path.length() / 100000) + ".",
                               "step"};
            count = std::max(closed ? 3L : 2L, std::lround(m_path.length() / c.step) + (closed ? 0 : 1));
        }
        if (count < (closed ? 3 : 2) || count > 100000)
            return Problem{"A path is resampled to 2 (closed: 3) to 100000 points, not " + say::count(count) + ".",
                           "count"};
        return spline(evenPoints(m_path, count), c.smooth, closed);
    }
    S operator()(const SmoothedBy& c) {
        if (!(c.reach >= 0 && std::isfinite(c.reach)) || c.reach > m_path.length())
            return Problem{"The reach is " + mm(c.reach) + "; use 0 to the path's length, " + mm(m_path.length()) + ".",
                           "reach"};
        const long count =
            std::clamp(std::lround(m_path.length() / std::max(c.reach / 3, m_path.length() / 2000)), 16L, 2000L);
        return spline(smoothedPoints(m_path, count, c.reach, c.keepEnds), true, closed);
    }
    S operator()(const LaidOn& c) {
        if (!m_body.ground) return Problem{"Choose the site body that the path is laid on.", "body"};
        auto laid = laidOn(m_path, *m_body.ground, {c.along, c.as == LaidAs::Points, c.smooth, c.above}, m_stop);
        if (!laid) return laid.problem();
        closed = laid->closed;
        remarks = remarksOf(*laid, c);
        if (const double within = m_body.ground->within(); within > 0)
            remarks.push_back("The body's faces are curved: it lies on them to within " + mm(within) + ".");
        return std::move(laid.value().segments);
    }
    S operator()(const LiftedOver& c) {
        auto lifted = liftedOver(m_path, {c.thickness, c.ease, c.top, c.switched}, m_other, m_stop);
        if (!lifted) return lifted.problem();
        closed = lifted->closed;
        crossings = std::move(lifted.value().crossings);
        remarks = remarksOf(*lifted, crossings.size(), c, broken);
        return std::move(lifted.value().segments);
    }

    bool closed;
    std::vector<OffsetPart> lost;
    std::vector<Words> broken, remarks;
    std::vector<StrandCrossing> crossings;

private:
    const Path& m_path;
    const Path* m_other;
    const BodyAsked& m_body;
    const Stop* m_stop;
};

} // namespace

Result<Built> buildDerived(const DerivedRecipe& r, const Path& p, const Path* other, const BodyAsked& body,
                           const Stop* stop) {
    const auto* screw = p.segments().size() == 1 ? std::get_if<Helix>(&p.segments()[0]) : nullptr;
    if (std::holds_alternative<OffsetOf>(r.change) && !(screw && screw->r0 == screw->r1 && screw->rise != 0))
        if (auto problem = tooMuchWork(p, "An offset", 100)) return *problem;
    if (std::holds_alternative<ProjectedTo>(r.change))
        if (auto problem = tooMuchWork(p, "A projection", 10)) return *problem;
    ChangedPath change(p, other, body, stop);
    const auto segments = std::visit(change, r.change);
    if (!segments) return segments.problem();
    auto out = built(*segments, change.closed, 1e-3);
    if (!out) return out;
    out.value().lost = std::move(change.lost);
    out.value().remarks = std::move(change.remarks);
    out.value().crossings = std::move(change.crossings);
    out.value().broken = std::move(change.broken);
    return out;
}

} // namespace vicinal::recipes
