#pragma once
#include "model/recipes/recipe.h"

namespace vicinal {

/// How the next point of a path being drawn is joined to the last.
enum class PenMode {
    Smooth,     ///< a smooth curve through the points
    Straight,   ///< a straight leg, corners at its ends
    ArcTangent, ///< an arc that goes on in the direction the path ends in
    ArcThrough, ///< an arc: first a point on it, then its end
    ArcRadius,  ///< an arc of `radius`; negative bends to the other side
    Handles,    ///< a curve with handles; dragging pulls them out
};

/// A path while it is drawn. A value: what it shows is worked out from its points.
struct PathPen {
    PenMode mode = PenMode::Smooth;
    double radius = 1000;        ///< mm, for ArcRadius
    Vec3 normal = Vec3::UnitZ(); ///< of the plane that is drawn on
    std::vector<PathPoint> points;
    std::optional<Vec3> via; ///< the point on an arc that waits for its end

    /// Sets a point. `handle`: where its handle was pulled to, mm from the point (Handles only). Problem when an arc of
    /// the radius cannot reach it; nothing changes then.
    std::optional<Problem> add(const Vec3& p, const std::optional<Vec3>& handle = std::nullopt);
    /// A stroke by hand: as few smooth points as stay within `tolerance` mm of it.
    void stroke(std::span<const Vec3> trace, double tolerance);
    /// Takes back the last point (or the point on an arc). False when there is none.
    bool takeBack();
    void clear() { points.clear(), via.reset(); }
    /// The path so far with a next point at `pointer`.
    PointsRecipe preview(const std::optional<Vec3>& pointer) const;
    /// The path; closed by a leg of the present mode.
    PointsRecipe finished(bool closed) const;
    /// Direction in which the path ends; nothing before there are two points.
    std::optional<Vec3> endTangent() const;
    size_t count() const { return points.size(); }
};

} // namespace vicinal
