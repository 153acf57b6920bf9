#pragma once
// For the few files that build or take apart solids with OpenCASCADE.
#include "parts/solid/solid.h"
#include <optional>

// Only named here: who looks into one includes it.
class TopoDS_Edge;
class TopoDS_Face;
class TopoDS_Shape;
class TopoDS_Wire;
class gp_Dir;
class gp_Pnt;
class gp_Trsf;
class gp_XYZ;

namespace vicinal {

/// A body of OpenCASCADE, never changed.
struct Solid {
    explicit Solid(const TopoDS_Shape&);
    std::shared_ptr<const TopoDS_Shape> held;
    const TopoDS_Shape& shape; ///< the same
};

namespace occ {

gp_Pnt point(const Vec3&);
gp_Dir direction(const Vec3&);
Vec3 vec(const gp_XYZ&);
gp_Trsf transform(const Mat3& R, const Vec3& t, double k = 1);

/// The same curve as an edge: lines, arcs, Bezier curves and NURBS exactly, screw and hanging lines within 1e-5 mm.
TopoDS_Edge edgeOf(const Segment&);
/// The same curve as a segment; nothing for an edge without length. Lines, circles, ellipses and splines exactly.
std::optional<Segment> segmentOf(const TopoDS_Edge&);
/// Segments that follow each other as a wire.
TopoDS_Wire wireOf(const Ring&);
/// The face inside a ring in any plane, with holes.
TopoDS_Face faceOf(const Ring& outer, std::span<const Ring> holes = {});
/// A prism over a face.
TopoDS_Shape prism(const TopoDS_Face&, const Vec3& by);
/// A face turned all the way round the axis through the origin along `axis`.
TopoDS_Shape revolved(const TopoDS_Face&, const Vec3& axis);
TopoDS_Shape box(const Box3&);
/// One body of several that touch or overlap, without the seams inside it.
TopoDS_Shape fused(const std::vector<TopoDS_Shape>&);
TopoDS_Shape cut(const TopoDS_Shape& from, const std::vector<TopoDS_Shape>& what);
TopoDS_Shape compound(const std::vector<TopoDS_Shape>&);

} // namespace occ
} // namespace vicinal
