#pragma once
#include "base/vec.h"
#include <optional>
#include <vector>

namespace vicinal {

/// Where the view is seen from. A plain value, tested without a window. Pixels: x right, y down, from the top left.
/// A long lens whose picture plane is turned up towards the vertical and shifted, as cameras for buildings do it: the
/// horizon is level and plumb things look plumb (within 2 degrees up to kUpright), whatever stands at the edge.
struct Camera {
    Vec3 target = Vec3::Zero();  ///< mm; the point that is orbited
    double yaw = -60 * kDegree;  ///< heading from the target to the eye, radians
    double pitch = 30 * kDegree; ///< its height above the ground plane, -90..90 degrees
    double distance = 10000;     ///< mm from target to eye
    bool parallel = false;
    double width = 800, height = 600; ///< pixels

    static constexpr double kFieldOfView = 20 * kDegree; ///< over the height
    static constexpr double kUpright = 45 * kDegree; ///< up to this pitch uprights stay upright; above it less and less
    static constexpr double kLean = 1.7 * kDegree;   ///< the most an upright leans at the picture's edge

    Vec3 right() const;
    Vec3 up() const;   ///< up in the picture plane
    Vec3 back() const; ///< square to the picture plane, towards the eye
    Vec3 eye() const { return target + distance * toEye(); }
    Vec3 toEye() const; ///< unit, from target to eye
    /// Angle from the picture plane's own axis down to the target, radians; 0 in parallel.
    double shift() const;
    /// mm a pixel shows at the target's depth.
    double scale() const;

    /// World to clip space, for points given relative to `origin`.
    Mat4 matrix(const Vec3& origin, const Box3& scene) const;
    /// Pixel of a point; z is the depth along the view, mm from the eye. Nothing when behind the eye.
    std::optional<Vec3> project(const Vec3& p) const;
    /// Ray through a pixel: start and unit direction.
    std::pair<Vec3, Vec3> ray(double x, double y) const;
    /// Where the ray through a pixel meets the plane through `point` with normal `n`; nothing when it does not.
    std::optional<Vec3> onPlane(double x, double y, const Vec3& point, const Vec3& n) const;

    /// Turns it to a way of looking: 0 free, 1 plan, 2 front, 3 side; all but the first in parallel.
    void look(int way);
    void orbit(double dx, double dy);
    /// The same, with `pivot` staying at its pixel and its depth.
    void orbitAbout(const Vec3& pivot, double dx, double dy);
    void pan(double dx, double dy);
    /// Zooms by `factor` (< 1: nearer) so that what is under the pixel stays there.
    void zoom(double factor, double x, double y);
    /// Moves, without turning, so that all points are in the view with a little room. Nothing happens without points.
    void frame(const std::vector<Vec3>&);
};

/// The corners of a box where a pose puts them, added to `to`.
void addCorners(const Mat4& pose, const Box3&, std::vector<Vec3>& to);

} // namespace vicinal
