#include "model/recipes/recipe.h"
#include "base/say.h"
#include "base/text.h"
#include "geometry/heights/laid.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

template<class... Ts> struct Overloaded : Ts... { using Ts::operator()...; };
template<class... Ts> Overloaded(Ts...) -> Overloaded<Ts...>;

// Kinds in the order of the variants.
constexpr const char* kShapes[] = {"circle", "ellipse", "rectangle", "slot", "polygon",
                                   "helix",  "arc",     "straight",  "swag", "wheels"};
constexpr const char* kChanges[] = {"offset",    "stretch",   "backwards", "start moved", "mirrored",
                                    "projected", "resampled", "smoothed",  "laid",        "lifted"};

using say::mm;

/// One stretch of points between special legs as spline and straight legs.
void addPlain(const std::vector<PathPoint>& p, bool closed, Knotting knotting, std::vector<Segment>& out) {
    std::vector<Vec3> at;
    std::unique_ptr<bool[]> smooth(new bool[p.size()]);
    for (size_t i = 0; i < p.size(); ++i) at.push_back(p[i].at), smooth[i] = p[i].smooth;
    for (auto& s : throughPoints(at, std::span<const bool>(smooth.get(), p.size()), closed, knotting))
        out.push_back(std::move(s));
}

Result<std::vector<Segment>> segmentsOf(const PointsRecipe& r) {
    const size_t n = r.points.size();
    const auto special = [&](size_t i) { // the leg from point i
        const auto &a = r.points[i], &b = r.points[(i + 1) % n];
        return a.via || a.out || b.in;
    };
    const bool anyFillet =
        std::any_of(r.points.begin(), r.points.end(), [](const auto& p) { return p.fillet > 0 && !p.smooth; });
    const size_t legs = r.closed ? n : n - 1;
    bool any = false;
    for (size_t i = 0; i < legs; ++i) any = any || special(i);
    std::vector<Segment> out;
    if (!any) {
        addPlain(r.points, r.closed, r.knotting, out);
    } else {
        // A closed path is begun after a special leg, so that no plain stretch leads over the seam; then turned back.
        size_t first = 0;
        if (r.closed)
            while (!special((first + n - 1) % n)) ++first;
        size_t i = 0;
        size_t seamAt = 0; // segments made before point 0 comes by
        while (i < legs) {
            const size_t k = (first + i) % n;
            if (r.closed && k == 0) seamAt = out.size();
            if (!special(k)) {
                std::vector<PathPoint> plain{r.points[k]};
                size_t j = i;
                while (j < legs && !special((first + j) % n)) plain.push_back(r.points[(first + ++j) % n]);
                const size_t before = out.size();
                addPlain(plain, false, r.knotting, out);
                for (size_t m = i + 1; m < j; ++m)
                    if (r.closed && (first + m) % n == 0) seamAt = before + (m - i);
                i = j;
                continue;
            }
            const auto &a = r.points[k], &b = r.points[(k + 1) % n];
            if (a.via)
                out.push_back(arcThrough(a.at, *a.via, b.at));
            else {
                const Vec3 third = (b.at - a.at) / 3;
                out.push_back(
                    Bezier{{a.at, a.at + (a.out ? *a.out : third), b.at + (b.in ? *b.in : Vec3(-third)), b.at}});
            }
            ++i;
        }
        if (seamAt > 0 && seamAt < out.size()) std::rotate(out.begin(), out.begin() + long(seamAt), out.end());
    }
    if (!anyFillet) return out;
    // Corners between straight legs are rounded; where a neighbour is no straight leg there is nothing to round.
    const auto filletAt = [&](const Vec3& p) -> const PathPoint* {
        for (const auto& q : r.points)
            if (!q.smooth && q.fillet > 0 && (q.at - p).norm() < tolerance::length) return &q;
        return nullptr;
    };
    const size_t m = out.size();
    std::vector<std::optional<Arc>> arcs(m);
    std::vector<double> fromStart(m, 0), fromEnd(m, 0);
    for (size_t k = 0; k < m; ++k) { // joint after segment k
        const size_t next = (k + 1) % m;
        if (next == 0 && !r.closed) break;
        const auto *a = std::get_if<Line>(&out[k]), *b = std::get_if<Line>(&out[next]);
        const PathPoint* q = a && b ? filletAt(a->b) : nullptr;
        if (!q) continue;
        const std::array<PolyPoint, 3> corner{{{a->a, 0}, {a->b, q->fillet}, {b->b, 0}}};
        const auto c = filleted(corner, false);
        const auto index = size_t(q - r.points.data()) + 1;
        if (!c) {
            Problem p = c.problem();
            p.text.replaceAll("point 2", "point " + std::to_string(index));
            return p;
        }
        for (const auto& s : c->segments)
            if (const auto* arc = std::get_if<Arc>(&s)) arcs[k] = *arc;
        if (!arcs[k]) continue;
        fromEnd[k] = (a->b - startOf(*arcs[k])).norm();
        fromStart[next] = (endOf(*arcs[k]) - b->a).norm();
        if (fromEnd[k] + fromStart[k] > (a->b - a->a).norm() + tolerance::length)
            return Problem{"The radii at both ends of the leg before point " + std::to_string(index) +
                               " need more leg than there is. Make one of them smaller.",
                           "path"};
    }
    if (r.closed && m > 0 && fromEnd[0] + fromStart[0] > 0)
        if (const auto* l = std::get_if<Line>(&out[0]);
            l && fromEnd[0] + fromStart[0] > (l->b - l->a).norm() + tolerance::length)
            return Problem{
                "The radii at both ends of the first leg need more leg than there is. Make one of them smaller.",
                "path"};
    std::vector<Segment> all;
    for (size_t k = 0; k < m; ++k) {
        if (auto* l = std::get_if<Line>(&out[k])) {
            const Vec3 u = (l->b - l->a).normalized(), a = l->a + fromStart[k] * u, b = l->b - fromEnd[k] * u;
            if ((b - a).dot(u) > tolerance::length) all.push_back(Line{a, b});
        } else
            all.push_back(out[k]);
        if (arcs[k]) all.push_back(*arcs[k]);
    }
    return all;
}

Result<Built> built(const std::vector<Segment>& segments, bool closed, double gap = 1e-4) {
    auto path = Path::make(segments, closed, gap);
    if (!path) return path.problem();
    return Built{std::move(path).value(), {}, {}, {}};
}

Result<Built> buildPoints(const PointsRecipe& r) {
    if (r.points.size() < 2)
        return Problem{"The path has " + std::to_string(r.points.size()) + " point(s); it needs at least two.", "path"};
    for (size_t i = 0; i < r.points.size(); ++i) {
        const auto bad = [](const Vec3& v) { return !inReach(v); };
        const auto& p = r.points[i];
        if (bad(p.at) || (p.in && bad(*p.in)) || (p.out && bad(*p.out)) || (p.via && bad(*p.via)) ||
            !std::isfinite(p.fillet) || p.fillet < 0)
            return Problem{"Point " + std::to_string(i + 1) +
                               " of the path has a coordinate that is not a number or beyond " + say::bound(kLargest) +
                               ".",
                           "path"};
    }
    auto segments = segmentsOf(r);
    if (!segments) return segments.problem();
    return built(*segments, r.closed);
}

/// Which strand of a loop hangs: down is that of the world, as far as it lies in the loop's plane.
Result<std::optional<StrandHangs>> hangingOf(const WheelShape& s, const Mat3& axes, std::vector<Words>& remarks) {
    if (s.hangs == 0) return std::optional<StrandHangs>();
    if (s.hangs < 1 || s.hangs > long(s.wheels.size()))
        return Problem{"There is no wheel " + std::to_string(s.hangs) + ". Use 1 to " +
                           std::to_string(s.wheels.size()) + ", or 0 for a loop that is tight.",
                       "hangs"};
    const Vec2 down(-axes(2, 0), -axes(2, 1));
    if (down.norm() < std::sin(kDegree))
        return Problem{"The loop lies flat, so that no strand can hang. Stand it up (plane front or side, or a tilt), "
                       "or use 0.",
                       "hangs"};
    if (down.norm() < std::cos(0.1 * kDegree))
        remarks.push_back("The plane of the loop leans by " +
                          text::number(std::acos(std::min(1.0, down.norm())) / kDegree, 3) +
                          "\u00b0: the strand is worked out as if it were guided in that plane.");
    return std::optional(StrandHangs{size_t(s.hangs - 1), down.normalized(), s.hangsBy, s.hang});
}

Result<Built> buildShape(const ShapeRecipe& r) {
    if (!inReach(r.at))
        return Problem{"The place of the shape is not a number or beyond " + say::bound(kLargest) + ".", "at"};
    if (!std::isfinite(r.turn)) return Problem{"The turn is not a number. Type an angle.", "turn"};
    if (!std::isfinite(r.tilt)) return Problem{"The tilt is not a number. Type an angle.", "tilt"};
    std::optional<WheelLoop> loop;
    std::vector<Words> remarks;
    bool placed = true;
    Result<Curve> curve = std::visit(
        Overloaded{
            [](const CircleShape& s) { return circle(s.radius); },
            [](const EllipseShape& s) { return ellipse(s.radiusX, s.radiusY); },
            [](const RectangleShape& s) { return rectangle(s.width, s.height, s.radius); },
            [](const SlotShape& s) { return slot(s.length, s.width); },
            [](const PolygonShape& s) { return polygon(s.sides, s.radius); },
            [](const HelixShape& s) -> Result<Curve> {
                if (s.by == HelixBy::Turns) return helix(s.radius, s.radiusTop, s.turns, s.height, s.leftHanded);
                if (!(s.pitch > 0) || !(std::abs(s.height) >= 1e-3))
                    return Problem{
                        "By pitch a helix needs a pitch above zero and a height. A flat spiral is given by turns.",
                        "pitch"};
                return helix(s.radius, s.radiusTop, std::abs(s.height) / s.pitch, s.height, s.leftHanded);
            },
            [&](const ArcShape& s) -> Result<Curve> {
                placed = false;
                for (const auto& [p, key] : {std::pair(&s.from, "from"), {&s.via, "via"}, {&s.to, "to"}})
                    if (!finite(*p)) return Problem{"A point of the arc is not a number.", key};
                return Curve{{arcThrough(s.from, s.via, s.to)}, false};
            },
            [&](const StraightShape& s) -> Result<Curve> {
                placed = false;
                if (!finite(s.from)) return Problem{"The start of the line is not a number.", "from"};
                if (!(s.length >= 1e-3 && s.length <= kLargest))
                    return Problem{"The length is " + mm(s.length) + "; use " + mm(0.001) + " to " +
                                       say::bound(kLargest) + ".",
                                   "length"};
                if (!std::isfinite(s.heading)) return Problem{"The heading is not a number.", "heading"};
                if (!std::isfinite(s.slope)) return Problem{"The slope is not a number.", "slope"};
                const Vec3 d(std::cos(s.heading) * std::cos(s.slope), std::sin(s.heading) * std::cos(s.slope),
                             std::sin(s.slope));
                return Curve{{Line{s.from, s.from + s.length * d}}, false};
            },
            [&](const SwagShape& s) -> Result<Curve> {
                placed = false;
                auto c = swag(s.from, s.to, s.by, s.amount);
                if (!c) return Problem{c.problem().text, c.problem().field == "end" ? "to" : "amount"};
                return c;
            },
            [&](const WheelShape& s) -> Result<Curve> {
                if (!(s.roller >= 0 && s.roller <= 1e6))
                    return Problem{"The roller is " + mm(s.roller) + "; use 0 for the standard's, or its diameter.",
                                   "roller"};
                if (!(std::abs(s.below) <= 1e6))
                    return Problem{"Rims cannot lie " + mm(s.below) + " below the line. Use half a belt or rope.",
                                   "below"};
                for (size_t i = 0; i < s.wheels.size(); ++i) {
                    const auto& w = s.wheels[i];
                    if (w.teeth != 0 && (w.teeth < 3 || w.teeth > 10000))
                        return Problem{"Wheel " + std::to_string(i + 1) + " has " + std::to_string(w.teeth) +
                                           " teeth; use 3 to 10000, or 0 for a plain radius.",
                                       "wheel " + std::to_string(i + 1)};
                    if (w.teeth != 0 && !(s.chainPitch >= 1e-3 && s.chainPitch <= 1e6))
                        return Problem{"The chain pitch is " + mm(s.chainPitch) + "; use " + mm(0.001) + " to " +
                                           say::bound(1e6) + ".",
                                       "chainPitch"};
                }
                auto hangs = hangingOf(s, frameOf(r), remarks);
                if (!hangs) return hangs.problem();
                auto l = loopRound(circlesOf(s), s.closed, s.crossed, *hangs);
                if (!l) { // by name, as the user knows it
                    Problem p = l.problem();
                    for (size_t i = s.wheels.size(); i-- > 0;) {
                        if (s.wheels[i].name.empty()) continue;
                        for (const char* word : {"wheel ", "Wheel "}) {
                            const std::string number = word + std::to_string(i + 1);
                            p.text.replaceAll(number, s.wheels[i].name);
                        }
                    }
                    return p;
                }
                loop = *l;
                return l->curve;
            }},
        r.shape);
    if (!curve) return curve.problem();
    std::vector<Segment> segments = curve->segments;
    if (placed) {
        const Mat3 R = frameOf(r);
        for (auto& s : segments) s = moved(s, R, r.at);
    }
    auto out = built(segments, curve->closed, 1e-3);
    if (!out) return out;
    out.value().loop = std::move(loop);
    out.value().remarks = std::move(remarks);
    return out;
}

std::vector<Segment> spline(const std::vector<Vec3>& points, bool smooth, bool closed) {
    std::unique_ptr<bool[]> flags(new bool[points.size()]);
    std::fill_n(flags.get(), points.size(), smooth);
    return throughPoints(points, std::span<const bool>(flags.get(), points.size()), closed);
}

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

Result<Built> buildJoined(const JoinedRecipe& r, std::span<const Path> members) {
    auto j = joined(members, r.gap);
    if (!j) return j.problem();
    auto out = built(j->segments, j->closed, 1e-3);
    if (!out) return out;
    for (const auto& x : j->joints) {
        Words text = "Member " + std::to_string(x.before + 1) + " to " + std::to_string(x.after + 1) + ": gap " +
                     mm(x.gap < 1e-7 ? 0 : x.gap);
        if (x.bridged) text += ", bridged by a line";
        if (x.turned) text += "; member " + std::to_string(x.after + 1) + " runs backwards";
        out.value().remarks.push_back(text + ".");
    }
    return out;
}

Result<Built> buildEdges(const EdgesRecipe& r, const Mesh& mesh, const Ground* ground) {
    if (!finite(r.pick)) return Problem{"The point near the edge is not a number.", "pick"};
    if (!inReach(r.at))
        return Problem{"The place of the part is not a number or beyond " + say::bound(kLargest) + ".", "at"};
    if (!std::isfinite(r.turn)) return Problem{"The turn is not a number. Type an angle.", "turn"};
    const Vec3 near = mesh.box.min() + r.pick.cwiseProduct(mesh.box.sizes());
    bool closed = false;
    const auto points = edgeChain(mesh, near, r.loop, Vec3::UnitZ(), &closed);
    if (points.size() < 2) return Problem{"The part has no edge to follow: it is round everywhere.", "part"};
    const Mat3 R = Eigen::AngleAxisd(r.turn, Vec3::UnitZ()).toRotationMatrix();
    std::vector<Vec3> placed;
    for (const auto& p : points) {
        placed.push_back(R * p + r.at);
        if (ground) placed.back() = ground->turn() * placed.back() + ground->origin();
    }
    auto out = built(spline(placed, r.smooth, closed), closed, 1e-3);
    if (out && r.loop && !closed)
        out.value().remarks.push_back("The edges do not lead back to their start: the loop stays open.");
    return out;
}

/// Multiplies every length of a recipe.
struct Scaler : IgnoreValues {
    double k;
    explicit Scaler(double by) : k(by) {}
    void length(const char*, const char*, const char*, double& v) const { v *= k; }
    void wheels(const char*, std::vector<Wheel>& wheels) const {
        for (auto& w : wheels) w.centre *= k, w.radius *= k;
    }
};

} // namespace

Mat3 axesOf(Plane plane) {
    Mat3 R;
    switch (plane) {
    case Plane::Plan: R = Mat3::Identity(); break;
    case Plane::Front: R.col(0) = Vec3::UnitX(), R.col(1) = Vec3::UnitZ(), R.col(2) = -Vec3::UnitY(); break;
    case Plane::Side: R.col(0) = Vec3::UnitY(), R.col(1) = Vec3::UnitZ(), R.col(2) = Vec3::UnitX(); break;
    }
    return R;
}

std::vector<Id> sourcesOf(const PathRecipe& r) {
    if (const auto* d = std::get_if<DerivedRecipe>(&r)) {
        const auto* lifted = std::get_if<LiftedOver>(&d->change);
        return lifted && lifted->other != 0 ? std::vector<Id>{d->source, lifted->other} : std::vector<Id>{d->source};
    }
    if (const auto* j = std::get_if<JoinedRecipe>(&r)) return j->members;
    return {};
}

Result<Built> build(const PathRecipe& recipe, std::span<const Path> sources, const BodyAsked& body, const Stop* stop) {
    return std::visit(
        Overloaded{[](const PointsRecipe& r) { return buildPoints(r); },
                   [](const BroughtCurve& c) { return built(c.segments, c.closed); },
                   [](const ShapeRecipe& r) { return buildShape(r); },
                   [&](const DerivedRecipe& r) -> Result<Built> {
                       if (sources.empty() || sources.size() > 2)
                           return Problem{"The path it follows is missing. Choose another.", "source"};
                       return buildDerived(r, sources[0], sources.size() > 1 ? &sources[1] : nullptr, body, stop);
                   },
                   [&](const JoinedRecipe& r) -> Result<Built> { return buildJoined(r, sources); },
                   [&](const EdgesRecipe& r) -> Result<Built> {
                       if (!body.mesh)
                           return Problem{"The part whose edges it takes is missing. Choose another path.", "part"};
                       return buildEdges(r, *body.mesh, body.ground.get());
                   }},
        recipe);
}

std::vector<WheelCircle> circlesOf(const WheelShape& s) {
    std::vector<WheelCircle> out;
    for (const auto& w : s.wheels)
        out.push_back({w.centre, w.teeth > 0 ? pitchRadius(w.teeth, s.chainPitch) : w.radius, w.inside});
    return out;
}

Id bodyOf(const PathRecipe& r) {
    if (const auto* e = std::get_if<EdgesRecipe>(&r)) return e->part;
    const auto* d = std::get_if<DerivedRecipe>(&r);
    const auto* laid = d ? std::get_if<LaidOn>(&d->change) : nullptr;
    return laid ? laid->body : 0;
}

Result<PathRecipe> movedRecipe(const PathRecipe& recipe, const Vec3& about, const Vec3& by, double turn, double size) {
    if (!finite(about) || !finite(by) || !std::isfinite(turn)) return Problem{"A value is not a number.", ""};
    if (!(size >= 1e-6 && size <= 1e6)) return Problem{"The size is a factor between 0.000001 and 1000000.", "size"};
    const Mat3 R = Eigen::AngleAxisd(turn, Vec3::UnitZ()).toRotationMatrix();
    const Vec3 t = about + by - size * (R * about);
    const auto go = [&](const Vec3& p) -> Vec3 { return size * (R * p) + t; };
    PathRecipe out = recipe;
    if (auto* r = std::get_if<PointsRecipe>(&out)) {
        for (auto& p : r->points) {
            p.at = go(p.at);
            p.fillet *= size;
            if (p.via) p.via = go(*p.via);
            if (p.in) p.in = size * (R * *p.in);
            if (p.out) p.out = size * (R * *p.out);
        }
    } else if (auto* b = std::get_if<BroughtCurve>(&out)) {
        for (auto& s : b->segments) s = moved(s, R, t, size);
    } else if (auto* s = std::get_if<ShapeRecipe>(&out)) {
        if (auto* a = std::get_if<ArcShape>(&s->shape))
            a->from = go(a->from), a->via = go(a->via), a->to = go(a->to);
        else if (auto* l = std::get_if<StraightShape>(&s->shape))
            l->from = go(l->from), l->heading += turn;
        else if (auto* w = std::get_if<SwagShape>(&s->shape))
            w->from = go(w->from), w->to = go(w->to);
        else {
            if (std::abs(turn) > 1e-12 && s->plane != Plane::Plan)
                return Problem{
                    "An upright shape turns only in its own plane: change its turn in the sheet, or draw it in plan.",
                    "turn"};
            s->at = go(s->at);
            s->turn += turn;
        }
        describe(Scaler(size), out);
    } else if (auto* e = std::get_if<EdgesRecipe>(&out)) {
        if (size != 1) return Problem{"Edges of a part are as large as the part. Change the part's size.", "size"};
        e->at = go(e->at);
        e->turn += turn;
    } else
        return Problem{
            "This path follows another one and moves with it. Move that one, or choose another path to follow.",
            "source"};
    return out;
}

Mat3 frameOf(const ShapeRecipe& r) {
    return axesOf(r.plane) *
           (Eigen::AngleAxisd(r.turn, Vec3::UnitZ()) * Eigen::AngleAxisd(r.tilt, Vec3::UnitX())).toRotationMatrix();
}
Vec3 toSpace(const ShapeRecipe& r, const Vec2& p) { return r.at + frameOf(r) * Vec3(p.x(), p.y(), 0); }
Vec2 toPlane(const ShapeRecipe& r, const Vec3& p) { return (frameOf(r).transpose() * (p - r.at)).head<2>(); }

std::string kindOf(const PathRecipe& r) {
    return std::visit(Overloaded{[](const PointsRecipe&) -> std::string { return "points"; },
                                 [](const BroughtCurve&) -> std::string { return "curve"; },
                                 [](const ShapeRecipe& s) -> std::string { return kShapes[s.shape.index()]; },
                                 [](const DerivedRecipe& d) -> std::string { return kChanges[d.change.index()]; },
                                 [](const JoinedRecipe&) -> std::string { return "joined"; },
                                 [](const EdgesRecipe&) -> std::string { return "edges"; }},
                      r);
}

namespace {
template<size_t I = 0> std::optional<Shape> shapeAt(size_t i) {
    if constexpr (I < std::variant_size_v<Shape>)
        return i == I ? std::optional<Shape>(Shape(std::in_place_index<I>)) : shapeAt<I + 1>(i);
    else
        return std::nullopt;
}
template<size_t I = 0> std::optional<Change> changeAt(size_t i) {
    if constexpr (I < std::variant_size_v<Change>)
        return i == I ? std::optional<Change>(Change(std::in_place_index<I>)) : changeAt<I + 1>(i);
    else
        return std::nullopt;
}
} // namespace

std::optional<PathRecipe> recipeOf(const std::string& kind) {
    for (size_t i = 0; i < std::size(kShapes); ++i)
        if (kind == kShapes[i]) return ShapeRecipe{*shapeAt(i), {0, 0, 0}, Plane::Plan, 0, 0};
    for (size_t i = 0; i < std::size(kChanges); ++i)
        if (kind == kChanges[i]) return DerivedRecipe{0, *changeAt(i)};
    if (kind == "edges") return EdgesRecipe{};
    if (kind == "joined") return JoinedRecipe{};
    if (kind == "points") return PointsRecipe{};
    if (kind == "curve") return BroughtCurve{};
    return std::nullopt;
}

int pointCount(const PathRecipe& r) {
    if (const auto* p = editablePoints(r)) return int(p->points.size());
    if (const auto* s = std::get_if<ShapeRecipe>(&r))
        if (const auto* w = std::get_if<WheelShape>(&s->shape)) return int(w->wheels.size());
    return 0;
}

std::optional<PointsRecipe> asPoints(const BroughtCurve& curve) {
    PointsRecipe out;
    out.closed = curve.closed;
    for (const auto& s : curve.segments) {
        PathPoint p;
        p.at = startOf(s);
        p.smooth = false;
        if (const auto* arc = std::get_if<Arc>(&s)) {
            if (std::abs(arc->sweep) > 1.9 * kPi) return std::nullopt; // three points do not tell a whole circle
            p.via = startOf(split(s, 0.5).second);
        } else if (!std::holds_alternative<Line>(s))
            return std::nullopt;
        out.points.push_back(p);
    }
    if (!curve.closed && !curve.segments.empty())
        out.points.push_back({endOf(curve.segments.back()), false, 0, {}, {}, {}});
    return out;
}

size_t legAt(const PointsRecipe& r, const Path& path, double station) {
    size_t leg = 0;
    double from = 0; // stations of the points rise; each is looked for beyond the one before
    for (size_t i = 1; i < r.points.size(); ++i) {
        const double s = path.closest(r.points[i].at);
        if (s < from) continue;
        if (s > station) break;
        from = s;
        leg = i;
    }
    return std::min(leg, r.closed ? r.points.size() - 1 : std::max<size_t>(r.points.size(), 2) - 2);
}

} // namespace vicinal
