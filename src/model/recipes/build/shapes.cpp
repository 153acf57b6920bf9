// Points and shapes.
#include "base/say.h"
#include "base/text.h"
#include "model/recipes/build/build.h"
#include <algorithm>
#include <cmath>

namespace vicinal::recipes {
namespace {

using say::mm;

/// One stretch of points between special legs as spline and straight legs.
void addPlain(const std::vector<PathPoint>& p, bool closed, Knotting knotting, std::vector<Segment>& out) {
    std::vector<Vec3> at;
    std::unique_ptr<bool[]> smooth(new bool[p.size()]);
    for (size_t i = 0; i < p.size(); ++i) at.push_back(p[i].at), smooth[i] = p[i].smooth;
    for (auto& s : throughPoints(at, std::span<const bool>(smooth.get(), p.size()), closed, knotting))
        out.push_back(std::move(s));
}

/// A leg of its own kind leads from point i: an arc, or one with handles.
bool special(const PointsRecipe& r, size_t i) {
    const auto &a = r.points[i], &b = r.points[(i + 1) % r.points.size()];
    return a.via || a.out || b.in;
}

/// Plain stretches and special legs, one after the other. A closed path is begun after a special leg, so that no plain
/// stretch leads over the seam; then turned back.
std::vector<Segment> withSpecialLegs(const PointsRecipe& r) {
    const size_t n = r.points.size(), legs = r.closed ? n : n - 1;
    std::vector<Segment> out;
    size_t first = 0;
    if (r.closed)
        while (!special(r, (first + n - 1) % n)) ++first;
    size_t i = 0;
    size_t seamAt = 0; // segments made before point 0 comes by
    while (i < legs) {
        const size_t k = (first + i) % n;
        if (r.closed && k == 0) seamAt = out.size();
        if (!special(r, k)) {
            std::vector<PathPoint> plain{r.points[k]};
            size_t j = i;
            while (j < legs && !special(r, (first + j) % n)) plain.push_back(r.points[(first + ++j) % n]);
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
            out.push_back(Bezier{{a.at, a.at + (a.out ? *a.out : third), b.at + (b.in ? *b.in : Vec3(-third)), b.at}});
        }
        ++i;
    }
    if (seamAt > 0 && seamAt < out.size()) std::rotate(out.begin(), out.begin() + long(seamAt), out.end());
    return out;
}

/// Corners between straight legs rounded; where a neighbour is no straight leg there is nothing to round.
Result<std::vector<Segment>> rounded(const PointsRecipe& r, std::vector<Segment> out) {
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
            return Problem{"The radii at both ends of the leg before point " + say::count(index) +
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

Result<std::vector<Segment>> segmentsOf(const PointsRecipe& r) {
    const size_t n = r.points.size(), legs = r.closed ? n : n - 1;
    bool any = false;
    for (size_t i = 0; i < legs; ++i) any = any || special(r, i);
    std::vector<Segment> out;
    if (any)
        out = withSpecialLegs(r);
    else
        addPlain(r.points, r.closed, r.knotting, out);
    const bool anyFillet =
        std::any_of(r.points.begin(), r.points.end(), [](const auto& p) { return p.fillet > 0 && !p.smooth; });
    return anyFillet ? rounded(r, std::move(out)) : Result(std::move(out));
}

} // namespace

Result<Built> buildPoints(const PointsRecipe& r) {
    if (r.points.size() < 2)
        return Problem{"The path has " + say::count(r.points.size()) + " point(s); it needs at least two.", "path"};
    for (size_t i = 0; i < r.points.size(); ++i) {
        const auto bad = [](const Vec3& v) { return !inReach(v); };
        const auto& p = r.points[i];
        if (bad(p.at) || (p.in && bad(*p.in)) || (p.out && bad(*p.out)) || (p.via && bad(*p.via)) ||
            !std::isfinite(p.fillet) || p.fillet < 0)
            return Problem{"Point " + say::count(i + 1) +
                               " of the path has a coordinate that is not a number or beyond " + say::bound(kLargest) +
                               ".",
                           "path"};
    }
    auto segments = segmentsOf(r);
    if (!segments) return segments.problem();
    return built(*segments, r.closed);
}

namespace {

/// Which strand of a loop hangs: down is that of the world, as far as it lies in the loop's plane.
Result<std::optional<StrandHangs>> hangingOf(const WheelShape& s, const Mat3& axes, std::vector<Words>& remarks) {
    if (s.hangs == 0) return std::optional<StrandHangs>();
    if (s.hangs < 1 || s.hangs > long(s.wheels.size()))
        return Problem{"There is no wheel " + say::count(s.hangs) + ". Use 1 to " + say::count(s.wheels.size()) +
                           ", or 0 for a loop that is tight.",
                       "hangs"};
    const Vec2 down(-axes(2, 0), -axes(2, 1));
    if (down.norm() < std::sin(kDegree))
        return Problem{"The loop lies flat, so that no strand can hang. Stand it up (plane front or side, or a tilt), "
                       "or use 0.",
                       "hangs"};
    if (down.norm() < std::cos(0.1 * kDegree))
        remarks.push_back("The plane of the loop leans by " +
                          say::number(std::acos(std::min(1.0, down.norm())) / kDegree, 3) +
                          "\u00b0: the strand is worked out as if it were guided in that plane.");
    return std::optional(StrandHangs{size_t(s.hangs - 1), down.normalized(), s.hangsBy, s.hang});
}

/// Shapes in their own plane; what stands in space by itself says so.
class CurveOfShape {
public:
    explicit CurveOfShape(const ShapeRecipe& recipe) : r(recipe) {}
    Result<Curve> operator()(const CircleShape& s) { return circle(s.radius); }
    Result<Curve> operator()(const EllipseShape& s) { return ellipse(s.radiusX, s.radiusY); }
    Result<Curve> operator()(const RectangleShape& s) { return rectangle(s.width, s.height, s.radius); }
    Result<Curve> operator()(const SlotShape& s) { return slot(s.length, s.width); }
    Result<Curve> operator()(const PolygonShape& s) { return polygon(s.sides, s.radius); }
    Result<Curve> operator()(const HelixShape& s) {
        if (s.by == HelixBy::Turns) return helix(s.radius, s.radiusTop, s.turns, s.height, s.leftHanded);
        if (!(s.pitch > 0) || !(std::abs(s.height) >= 1e-3))
            return Problem{"By pitch a helix needs a pitch above zero and a height. A flat spiral is given by turns.",
                           "pitch"};
        return helix(s.radius, s.radiusTop, std::abs(s.height) / s.pitch, s.height, s.leftHanded);
    }
    Result<Curve> operator()(const ArcShape& s) {
        placed = false;
        for (const auto& [p, key] : {std::pair(&s.from, "from"), {&s.via, "via"}, {&s.to, "to"}})
            if (!finite(*p)) return Problem{"A point of the arc is not a number.", key};
        return Curve{{arcThrough(s.from, s.via, s.to)}, false};
    }
    Result<Curve> operator()(const StraightShape& s) {
        placed = false;
        if (!finite(s.from)) return Problem{"The start of the line is not a number.", "from"};
        if (!(s.length >= 1e-3 && s.length <= kLargest))
            return Problem{"The length is " + mm(s.length) + "; use " + mm(0.001) + " to " + say::bound(kLargest) + ".",
                           "length"};
        if (!std::isfinite(s.heading)) return Problem{"The heading is not a number.", "heading"};
        if (!std::isfinite(s.slope)) return Problem{"The slope is not a number.", "slope"};
        const Vec3 d(std::cos(s.heading) * std::cos(s.slope), std::sin(s.heading) * std::cos(s.slope),
                     std::sin(s.slope));
        return Curve{{Line{s.from, s.from + s.length * d}}, false};
    }
    Result<Curve> operator()(const SwagShape& s) {
        placed = false;
        auto c = swag(s.from, s.to, s.by, s.amount);
        if (!c) return Problem{c.problem().text, c.problem().field == "end" ? "to" : "amount"};
        return c;
    }
    Result<Curve> operator()(const WheelShape& s) {
        if (!(s.roller >= 0 && s.roller <= 1e6))
            return Problem{"The roller is " + mm(s.roller) + "; use 0 for the standard's, or its diameter.", "roller"};
        if (!(std::abs(s.below) <= 1e6))
            return Problem{"Rims cannot lie " + mm(s.below) + " below the line. Use half a belt or rope.", "below"};
        for (size_t i = 0; i < s.wheels.size(); ++i) {
            const auto& w = s.wheels[i];
            if (w.teeth != 0 && (w.teeth < 3 || w.teeth > 10000))
                return Problem{"Wheel " + say::count(i + 1) + " has " + say::count(w.teeth) +
                                   " teeth; use 3 to 10000, or 0 for a plain radius.",
                               "wheel " + say::count(i + 1)};
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
    }

    bool placed = true; ///< where the recipe says
    std::optional<WheelLoop> loop;
    std::vector<Words> remarks;

private:
    const ShapeRecipe& r;
};

} // namespace

Result<Built> buildShape(const ShapeRecipe& r) {
    if (!inReach(r.at))
        return Problem{"The place of the shape is not a number or beyond " + say::bound(kLargest) + ".", "at"};
    if (!std::isfinite(r.turn)) return Problem{"The turn is not a number. Type an angle.", "turn"};
    if (!std::isfinite(r.tilt)) return Problem{"The tilt is not a number. Type an angle.", "tilt"};
    CurveOfShape shape(r);
    Result<Curve> curve = std::visit(shape, r.shape);
    if (!curve) return curve.problem();
    std::vector<Segment> segments = curve->segments;
    if (shape.placed) {
        const Mat3 R = frameOf(r);
        for (auto& s : segments) s = moved(s, R, r.at);
    }
    auto out = built(segments, curve->closed, 1e-3);
    if (!out) return out;
    out.value().loop = std::move(shape.loop);
    out.value().remarks = std::move(shape.remarks);
    return out;
}

} // namespace vicinal::recipes
