#pragma once
#include "base/job.h"
#include "geometry/terrain/terrain.h"
#include <filesystem>

namespace vicinal {

/// Levels of a file, in its own units.
struct LevelFile {
    LevelData data;
    double millimetresPerUnit = 0;    ///< from the file; 0 when it does not say
    std::vector<std::string> remarks; ///< what was passed over, in plain words
};

/// Ground from a file, by its extension:
/// .csv .txt .xyz: a point a line (x, y, height); .asc .grd: a regular grid as ASCII text (ncols, nrows, xllcorner or
/// xllcenter, yllcorner or yllcenter, cellsize, NODATA_value, then rows from north to south); .dxf: points, polylines
/// and lines (break lines, curves cut within a hundredth of their length), 3D faces; .obj .stl .ply .glb .gltf: the
/// mesh itself. Faces are taken as they are and nothing else is joined then; points and lines are joined by
/// terrainOf(). Problem with the line where a text is wrong.
Result<LevelFile> readLevels(const std::filesystem::path&, const Stop* = nullptr, Progress* = nullptr);

/// The same at a unit, mm, measured from a point of the file (in its units). Problem ("unit").
Result<LevelData> levelsAt(const LevelFile&, double millimetresPerUnit, const Vec3& origin = Vec3::Zero());
/// The box of all levels, in the file's units.
Box3 boxOf(const LevelData&);

} // namespace vicinal
