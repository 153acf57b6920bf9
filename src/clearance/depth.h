#pragma once
// How deep bodies that cross are in one another.
#include "geometry/mesh/distance.h"
#include <optional>
#include <span>

namespace vicinal {

struct Depth {
    double by = 0;                             ///< mm, in the axes of the first
    double error = 0;                          ///< mm that it may be more
    Vec3 at = Vec3::Zero(), to = Vec3::Zero(); ///< the deepest point found, and the nearest of the other's surface
};
/// Where nothing counts: a pin in its hole, whose triangles cross although the pin fits. A cylinder round `axis` (unit)
/// through `point`, as far as `half` along it to either side; in the axes of the first.
struct Spared {
    Vec3 point, axis;
    double radius, half;
    bool holds(const Vec3& p) const {
        const double along = axis.dot(p - point);
        return std::abs(along) <= half && (p - point - along * axis).norm() <= radius;
    }
};

/// How deep one's surface lies in the other: the most, over the points of each surface that are inside the other body,
/// of the distance to that one's surface; in the axes of the first. Local: a pin that fits its hole is 0 deep, whatever
/// way it must travel to come free. By branch and bound over triangles: within a triangle the distance to a face of
/// the other is below the plane through its corners' (a distance to a convex set is convex), so the depth is below the
/// least of a few such planes, whose highest point is known exactly; and no farther from the surface than its middle
/// and its radius (a distance changes by no more than the way). To a ten-thousandth, and to what `error` says where
/// that takes too long. Two bodies that nearly coincide have surfaces that are hardly inside one another: they are as
/// deep as the largest ball in both is wide. 0 when they do not cross and neither is inside the other. Both must be
/// closed.
/// `enough`: mm; nearer it need not be known, since the triangles are farther off.
Depth depthOf(const MeshTree&, const MeshTree&, const RelativePose& second, std::span<const Spared> = {},
              double enough = 0, const Stop* = nullptr);

/// Bodies that touch, of which no edge goes right through the other (faces in one plane): whether they are in one
/// another all the same. Both must be closed.
bool overlapping(const MeshTree&, const MeshTree&, const RelativePose& second);

/// One lies wholly inside the other. Precondition: their triangles do not cross.
bool contained(const MeshTree&, const MeshTree&, const RelativePose& second);

namespace detail {
inline Vec3 cornerOf(const Mesh& m, std::uint32_t t, int k) { return m.points[m.triangles[t][size_t(k)]]; }
/// A little beside where it is, so that no two faces stay in one plane.
RelativePose beside(const MeshTree& a, const MeshTree& b, RelativePose, double way);
/// The radius of a ball that is in both, by points spread evenly over where their boxes meet (a lattice of the golden
/// kind) and steps from the best one.
double ballInBoth(const MeshTree& a, const MeshTree& b, const RelativePose&, const Stop*);
} // namespace detail

} // namespace vicinal
