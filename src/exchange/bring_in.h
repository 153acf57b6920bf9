#pragma once
#include "geometry/chain.h"
#include "geometry/result.h"
#include "model/document.h"
#include <filesystem>

namespace vicinal {

/// Curves of a file, in the file's own units.
struct CurveFile {
    std::vector<Strand> strands;
    double millimetresPerUnit = 0;    ///< from the file's header; 0 when it does not say: the user must
    std::vector<std::string> remarks; ///< what was passed over, in plain words
};

/// Reads lines, arcs, circles, ellipses, polylines (lightweight, 2D and 3D, with bulges) and splines of a DXF; blocks
/// are not opened and said so. Problem: unreadable, not a DXF, cut off, or no curve in it.
Result<CurveFile> readDxf(const std::filesystem::path&);

/// Paths of a curve file in mm: scaled, chained by ends within `joinMm`. Each is checked by Path::make; those that fail
/// are left out with a remark. Problem when none is left.
Result<std::vector<Strand>> pathsOf(CurveFile&, double millimetresPerUnit, double joinMm);

/// Points of a CSV text: two or three numbers a line, separated by comma, semicolon, tab or space; one heading line and
/// lines starting with # are allowed; a decimal comma when the separator is not a comma. In the file's own units.
/// Problem with the line number when a value is not a number, or fewer than two points are there.
Result<std::vector<Vec3>> readPoints(const std::string& text);

/// Mesh from the bytes of an OBJ, STL or PLY, scaled to mm. Vertices pass through single precision (the reader's): far
/// from the origin that costs digits, see lostDigits().
Result<std::shared_ptr<const Mesh>> readMesh(const std::string& bytes, const std::string& extension,
                                             double millimetresPerUnit);

/// The rounding (mm) single precision costs a mesh at its distance from the origin.
double lostDigits(const Mesh&);

/// A brought-in part from a file.
Result<PartItem> bringInPart(const std::filesystem::path&, double millimetresPerUnit);

} // namespace vicinal
