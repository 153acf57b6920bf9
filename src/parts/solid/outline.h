#pragma once
#include "parts/body.h"

namespace vicinal {

/// Where a part is looked at from: its crown (x nose, y side) or its right side (x nose, y crown).
enum class Look { Crown, Side };

/// What a seated part covers, as closed rings in the x-y plane, from the seat point, mm. Outer rings run
/// counter-clockwise, holes clockwise.
struct Outline {
    std::vector<Ring> rings;
    double area = 0;    ///< mm^2, of the rings
    bool exact = false; ///< lines and curves of the solid's projection; else straight pieces of the triangles'
};

/// Solids: visible edges and contours by OpenCASCADE's hidden-line projection, arranged to faces and joined. What it
/// cannot arrange, and every mesh: the union of the triangles (error of the triangles plus 1e-4 mm).
/// Precondition: the seat has no defect.
Outline outlineOf(const Body&, const Seat&, Look = Look::Crown);

/// The union of a mesh's triangles seen from the crown; rings as polylines, to 1e-4 mm.
std::vector<std::vector<Vec2>> outlineFromAbove(const Mesh&, const Seat&);

} // namespace vicinal
