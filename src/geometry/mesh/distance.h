#pragma once
// The shortest way between two meshes.
#include "base/job.h"
#include "geometry/mesh/tree.h"
#include <functional>
#include <limits>

namespace vicinal {

/// How a second mesh lies in the axes of the first: x -> turn x + at. `turn` is a rotation times `size`, or one with a
/// mirroring.
struct RelativePose {
    Mat3 turn = Mat3::Identity();
    Vec3 at = Vec3::Zero();
    double size = 1;
    RelativePose inverse() const; ///< how the first lies in the axes of the second
};

/// The nearest points of two meshes, in the axes of the first.
struct Distance {
    double distance = std::numeric_limits<double>::infinity(); ///< 0 where they touch or cross
    Vec3 a = Vec3::Zero(), b = Vec3::Zero();
    std::uint32_t first = 0, second = 0; ///< the triangles they are on
    bool crossing = false;               ///< an edge of one goes right through a triangle of the other
    bool found() const { return distance < std::numeric_limits<double>::infinity(); }
};

/// The shortest distance of two triangles, and the points: the least of nine pairs of edges and six corners over faces
/// unless an edge goes through (Ericson, "Real-time collision detection", 2005, 5.1.5 and 5.1.9).
/// `below`: what is not nearer need not be found.
Distance distanceBetween(const std::array<Vec3, 3>& a, const std::array<Vec3, 3>& b,
                         double below = std::numeric_limits<double>::infinity());

/// The shortest distance of all triangles of one mesh from all of another; not found when there is none under `below`.
/// `near`: an answer of something alike, so that little is left to look at. Exact to rounding; from several threads.
Distance distanceBetween(const MeshTree&, const MeshTree&, const RelativePose& second,
                         double below = std::numeric_limits<double>::infinity(), const Distance* near = nullptr,
                         const Stop* = nullptr);

/// Hands `use` pairs of triangles of which an edge of one goes right through the other, until it returns false.
/// True when it did.
bool eachCrossing(const MeshTree&, const MeshTree&, const RelativePose& second,
                  const std::function<bool(std::uint32_t first, std::uint32_t second)>& use);
/// There is such a pair.
bool cross(const MeshTree&, const MeshTree&, const RelativePose& second);

/// True when the point is inside a closed mesh whose faces all look out (or all in): by a line that leaves it more
/// often than it enters it on one side.
bool inside(const MeshTree&, const Vec3&);

} // namespace vicinal
