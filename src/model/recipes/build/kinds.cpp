// What recipes are: words of their kinds, sources, planes, points; moved as a whole.
#include "base/ranges.h"
#include "base/say.h"
#include "base/text.h"
#include "model/recipes/build/build.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

using recipes::Overloaded;

// Kinds in the order of the variants.
constexpr const char* kShapes[] = {"circle", "ellipse", "rectangle", "slot", "polygon",
                                   "helix",  "arc",     "straight",  "swag", "wheels"};
constexpr const char* kChanges[] = {"offset",    "stretch",   "backwards", "start moved", "mirrored",
                                    "projected", "resampled", "smoothed",  "laid",        "lifted"};

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
    if (!ranges::kSize.holds(size)) return Problem{"The size is a factor between 0.000001 and 1000000.", "size"};
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
            if (std::abs(turn) > tolerance::fine && s->plane != Plane::Plan)
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
