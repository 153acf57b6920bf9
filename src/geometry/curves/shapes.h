#pragma once
// Curves of the trade as exact segments. All sizes mm, angles radians; a Problem names the field that is wrong.
#include "geometry/path/path.h"

namespace vicinal {

struct Curve {
    std::vector<Segment> segments;
    bool closed = false;
};

/// In the x-y plane round the origin, counter-clockwise, starting on +x.
Result<Curve> circle(double radius);
Result<Curve> ellipse(double radiusX, double radiusY);
/// Middle at the origin; starts half-way up the right side. radius 0: sharp corners; at most half the shorter side.
Result<Curve> rectangle(double width, double height, double radius);
/// Two half circles of `width` and two straights, `length` over all (length >= width), along x.
Result<Curve> slot(double length, double width);
/// Corners on the circle of `radius`, the first on +x; 3 to 1000 sides.
Result<Curve> polygon(long sides, double radius);
/// Screw line round z from (bottomRadius, 0, 0) upwards; clockwise seen from above when `leftHanded`. height 0 and two
/// radii: a flat spiral. 0 < turns <= 10000.
Result<Curve> helix(double bottomRadius, double topRadius, double turns, double height, bool leftHanded);
/// Length of a helix with radii r0, r1 turning by `sweep` radians and rising by `rise`; closed formula.
/// Source: integral of sqrt(dr^2 + rise^2 + sweep^2 r^2) du, by substitution r -> sinh.
double helixLength(double r0, double r1, double sweep, double rise);

/// How a swag is given.
enum class SwagBy { Sag, Slack };
/// A chain that hangs between two points under its own weight: the true catenary. By Sag: greatest depth below the
/// straight line between the points, measured plumb. By Slack: length less the distance between the points. Both > 0
/// (slack at least a ten-millionth of the distance). The points must be apart in plan.
/// Source: Irvine, "Cable Structures", 1981, ch. 1.
Result<Curve> swag(const Vec3& a, const Vec3& b, SwagBy, double amount);

/// A corner of a polyline to be rounded.
struct PolyPoint {
    Vec3 at;
    double radius = 0; ///< of the arc that replaces the corner; 0 keeps it
};
/// Straight legs with arcs at the corners. Problem naming the point whose radius needs more leg than there is, and the
/// largest radius that works.
Result<Curve> filleted(std::span<const PolyPoint> points, bool closed);

/// Arc that starts at `a` in the direction `tangent` and ends at `b`; a line when `b` is straight ahead.
Segment arcTangent(const Vec3& a, const Vec3& tangent, const Vec3& b);
/// The shorter arc of `radius` from a to b in the plane with `normal`, bulging to the left (seen from the normal's tip)
/// when radius is positive, to the right when negative. Problem when the points are farther apart than the diameter.
Result<Segment> arcByRadius(const Vec3& a, const Vec3& b, double radius, const Vec3& normal);

} // namespace vicinal
