#pragma once
// Ground from measured levels.
#include "base/result.h"
#include "base/words.h"
#include "geometry/mesh/mesh.h"

namespace vicinal {

/// Levels as they were measured, mm: points, lines that the ground breaks along, or a regular grid.
struct LevelData {
    std::vector<Vec3> points;
    std::vector<std::vector<Vec3>> breaks;           ///< polylines; their corners are levels, too
    std::vector<std::array<std::uint32_t, 3>> faces; ///< of points that are triangles already; then nothing is joined
    bool empty() const { return points.empty() && breaks.empty(); }
};

/// What was made of levels.
struct Terrain {
    Mesh mesh;
    std::vector<Words> remarks; ///< doubled points and what else was done about them, one sentence each
};

/// Triangles over all levels: Delaunay in plan, constrained by the break lines, so that no point lies in the circle
/// round a triangle that sees it. Where break lines cross, the first one's height counts. Points one over the other:
/// the first counts. `longest` (mm, in plan; 0: none): triangles from the border inwards that have a longer edge are
/// left out. `thickness` (0: a sheet): closed by plumb sides down to a level foot so far below the lowest point.
/// Problem ("levels"): fewer than three points, all on one line in plan, or not numbers.
Result<Terrain> terrainOf(const LevelData&, double longest = 0, double thickness = 0);

/// A sheet closed downwards: plumb sides at its border to a level foot.
Mesh standing(const Mesh& sheet, double foot);

} // namespace vicinal
