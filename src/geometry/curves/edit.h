#pragma once
// Paths made from other paths. All return segments for Path::make; none changes its source.
#include "geometry/path/path.h"

namespace vicinal {

/// The stretch from station `from` to station `to`, mm. On a closed path to <= from leads over the seam; there and
/// beyond the ends stations are clamped. Exact: whole segments stay, the first and last are split.
/// Problem when nothing is left ("from") or a value is not a number.
Result<std::vector<Segment>> stretchOf(const Path&, double from, double to);

/// The same curve run backwards.
std::vector<Segment> backwards(const Path&);

/// A closed path with its start at `station`. Problem on an open path ("station").
Result<std::vector<Segment>> startMovedTo(const Path&, double station);

/// Mirrored at the plane through `point` with the unit normal `normal`.
std::vector<Segment> mirrored(const Path&, const Vec3& point, const Vec3& normal);

/// Dropped square onto the plane through `point` with the unit normal `normal`. Lines, splines and arcs exactly (an arc
/// becomes an ellipse arc); screw lines and hanging lines within 1e-6 mm. What stands square to the plane vanishes:
/// Problem ("normal") when nothing is left.
Result<std::vector<Segment>> projectedTo(const Path&, const Vec3& point, const Vec3& normal);

/// Points at equal steps along the path, ends included (on a closed path the seam once). count: 2 .. 100000 steps + 1.
std::vector<Vec3> evenPoints(const Path&, long count);

/// Points at `evenPoints(count)` drawn towards their neighbours' mean with a bell-shaped weight of standard deviation
/// `reach` mm along the path. On an open path the ends stay when `keepEnds`, and the weight narrows towards them.
std::vector<Vec3> smoothedPoints(const Path&, long count, double reach, bool keepEnds);

/// The fewest of `points` (ends included) whose polyline stays within `tolerance` mm of all of them.
/// Source: Douglas, Peucker, "Algorithms for the reduction of the number of points", Cartographica 10(2), 1973.
std::vector<Vec3> simplified(std::span<const Vec3> points, double tolerance);

/// Cubic pieces within `tolerance` mm of a segment (a Bezier stays what it is); tangents agree at the joints.
std::vector<Segment> cubicsNear(const Segment&, double tolerance);

/// What joining did at one joint.
struct Joint {
    size_t before, after; ///< indices of the members
    double gap;           ///< mm between their ends
    bool turned;          ///< the member after was run backwards
    bool bridged;         ///< a straight line was put in
};
struct Joined {
    std::vector<Segment> segments;
    bool closed = false;
    std::vector<Joint> joints;
};
/// Members in the given order, each turned so that its nearer end meets the one before. Gaps up to `gapTolerance` are
/// bridged (below 1e-4 mm they count as none); the ends are joined too when they are that near.
/// Problem naming the first gap that is larger ("gap"), or a member that is closed ("members").
Result<Joined> joined(std::span<const Path> members, double gapTolerance);

/// The plane a path lies in, or nearly.
struct PathPlane {
    bool planar = true;          ///< within 1e-6 of its length
    Vec3 normal = Vec3::UnitZ(); ///< z >= 0; a straight path has the most level one
    Vec3 middle = Vec3::Zero();
};
PathPlane planeOf(const Path&);

/// What a path is like as a whole.
struct PathFacts : PathPlane {
    double sharpest = std::numeric_limits<double>::infinity(); ///< mm, least radius of curvature away from corners
    double sharpestAt = 0;                                     ///< its station
    int crossings = 0; ///< times it crosses itself, seen along `normal`, where it also meets itself within 1e-3 mm
};
PathFacts factsOf(const Path&);

/// Curvature vector (towards the centre, 1/mm) at stations; for combs and lanes. Zero where the speed vanishes.
std::vector<Vec3> curvatures(const Path&, std::span<const double> stations);

} // namespace vicinal
