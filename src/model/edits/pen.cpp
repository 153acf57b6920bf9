#include "model/edits/pen.h"

namespace vicinal {
namespace {

/// The mid-point of the arc a leg becomes in this mode; nothing for legs that are no arcs.
Result<std::optional<Vec3>> bendOf(const PathPen& pen, const Vec3& a, const Vec3& b) {
    std::optional<Vec3> out;
    if (pen.mode == PenMode::ArcThrough) out = pen.via;
    if (pen.mode == PenMode::ArcTangent) {
        if (const auto t = pen.endTangent())
            if (const auto s = arcTangent(a, *t, b); std::holds_alternative<Arc>(s))
                out = startOf(split(s, 0.5).second);
    }
    if (pen.mode == PenMode::ArcRadius) {
        const auto s = arcByRadius(a, b, pen.radius, pen.normal);
        if (!s) return s.problem();
        out = startOf(split(*s, 0.5).second);
    }
    return out;
}

} // namespace

std::optional<Vec3> PathPen::endTangent() const {
    if (points.size() < 2) return std::nullopt;
    const auto built = build(PointsRecipe{points, false, Knotting::Centripetal});
    if (!built) return std::nullopt;
    return built->path.spans().back().tangent(1, false);
}

std::optional<Problem> PathPen::add(const Vec3& p, const std::optional<Vec3>& handle) {
    if (!finite(p)) return Problem{"The point is not a number.", "point"};
    if (!points.empty() && (points.back().at - p).norm() <= tolerance::length) return std::nullopt; // a double click
    if (mode == PenMode::ArcThrough && !points.empty() && !via) {
        via = p;
        return std::nullopt;
    }
    PathPoint next{p, mode == PenMode::Smooth || mode == PenMode::Handles};
    if (!points.empty()) {
        const auto bend = bendOf(*this, points.back().at, p);
        if (!bend) return bend.problem();
        points.back().via = *bend;
        if (mode == PenMode::Straight) points.back().smooth = false; // a straight leg starts at a corner too
        if (mode == PenMode::Handles && !points.back().out && !points.back().via)
            points.back().out = (p - points.back().at) / 3;
    }
    if (mode == PenMode::Handles) {
        if (handle && handle->norm() > tolerance::length) {
            next.out = *handle;
            if (!points.empty()) next.in = -*handle;
        } else if (!points.empty())
            next.in = (points.back().at - p) / 3;
    }
    via.reset();
    points.push_back(next);
    return std::nullopt;
}

void PathPen::stroke(std::span<const Vec3> trace, double within) {
    if (!points.empty() && trace.size() > 1) points.back().out.reset(); // the hand leads on, not the handle
    for (const Vec3& p : simplified(trace, within))
        if (points.empty() || (points.back().at - p).norm() > tolerance::length) points.push_back({p, true});
}

bool PathPen::takeBack() {
    if (via) {
        via.reset();
        return true;
    }
    if (points.empty()) return false;
    points.pop_back();
    if (!points.empty()) points.back().via.reset();
    return true;
}

PointsRecipe PathPen::preview(const std::optional<Vec3>& pointer) const {
    PathPen copy = *this;
    if (pointer && (!copy.points.empty() || !via)) {
        if (mode == PenMode::ArcThrough && !points.empty() && !via)
            copy.points.push_back({*pointer, false}); // up to the point on the arc: straight for now
        else if (copy.add(*pointer))
            copy.points.push_back({*pointer, false}); // the arc does not reach it: shown as a straight line
    }
    return {copy.points, false, Knotting::Centripetal};
}

PointsRecipe PathPen::finished(bool closed) const {
    PointsRecipe out{points, closed, Knotting::Centripetal};
    if (closed && points.size() > 2) {
        PathPen copy = *this;
        if (const auto bend = bendOf(copy, points.back().at, points.front().at); bend && *bend)
            out.points.back().via = *bend;
        if (mode == PenMode::Handles && !out.points.back().via) {
            auto &last = out.points.back(), &first = out.points.front();
            if (!last.out) last.out = (first.at - last.at) / 3;
            if (first.out && !first.in) first.in = -*first.out;
        }
    }
    return out;
}

} // namespace vicinal
