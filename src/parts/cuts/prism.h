#pragma once
// Bodies that are straight prisms: plates with whatever outline and holes.
#include "parts/body.h"

namespace vicinal {

/// Outlines raised along one direction: what is inside an odd number of rings.
struct Prism {
    std::vector<Ring> rings;      ///< in the plane, z = 0, mm
    Mat3 axes = Mat3::Identity(); ///< plane to body: x -> axes x; columns: the plane's x, y and its normal
    double from = 0, to = 0;      ///< along the normal
};

/// The prism that a body is; nothing when it is none, or cannot be told to be one. Looks at the solid, unless it was
/// made as one.
std::optional<Prism> prismOf(const Body&);

/// Area inside closed rings, mm^2, each counted with the way it goes round (counter-clockwise above zero). Exact for
/// lines and arcs, else by Green's formula along the curve to about 1e-9.
double areaOf(const Ring&);
/// Of what is inside an odd number of rings, whichever way they go round.
double areaInside(std::span<const Ring>);

/// The body of a prism: its triangles at once, its solid when it is asked for. Rings that are far smaller than the
/// whole get fewer pieces. Precondition: rings do not cross.
BodyPtr bodyOf(const Prism&);

/// A ring's corners for drawing and triangles: no chord farther from it than `sag` mm.
std::vector<Vec2> cornersOf(const Ring&, double sag);

} // namespace vicinal
