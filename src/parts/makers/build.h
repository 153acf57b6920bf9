#pragma once
// The solids of makers, one function each; they throw Standard_Failure where OpenCASCADE fails. Dimensions were
// checked.
#include "parts/makers/maker.h"
#include "parts/solid/shape.h"

namespace vicinal::build {

/// Flat rings in the plane with the axes u, v through the origin.
struct PlaneRings {
    Vec3 u, v;
    Vec3 at(double a, double b) const { return a * u + b * v; }
    Ring polygon(std::initializer_list<Vec2>) const;
    Ring circle(double x, double y, double radius) const;
    Ring slot(double length, double width) const; ///< round the origin, along u
    Ring rectangle(double width, double height, double radius) const;
};
inline PlaneRings plan() { return {Vec3::UnitX(), Vec3::UnitY()}; }
inline PlaneRings side() { return {Vec3::UnitX(), Vec3::UnitZ()}; }  ///< along the nose and up
inline PlaneRings front() { return {Vec3::UnitY(), Vec3::UnitZ()}; } ///< across and up

/// Triangles of a closed tube over rows of points: each row joined to the next, the last to the first.
Mesh tubeMesh(const std::vector<std::vector<Vec3>>& rows);
/// Triangles of a line turned about the axis through the origin along `axis`; line points on the axis become poles.
Mesh turnedMesh(const Ring& line, const Vec3& axis, int steps);
/// The lines that turned makers are turned from, from axis to axis.
Ring turnedLine(const Baluster&);
Ring turnedLine(const BollardLamp&);
Ring turnedLine(const Stitch&);
Mesh roundLinkMesh(const RoundLink&);

TopoDS_Shape roundLink(const RoundLink&);
TopoDS_Shape rollerLink(const RollerLink&);
TopoDS_Shape treadPlate(const TreadPlate&);
std::vector<TopoDS_Shape> treadPieces(const TreadPlate&); ///< the same before they are joined
TopoDS_Shape baluster(const Baluster&);
TopoDS_Shape post(const Post&);
TopoDS_Shape sleeper(const Sleeper&);
TopoDS_Shape steppingStone(const SteppingStone&);
TopoDS_Shape turned(const Ring& line, const Vec3& axis); ///< of a line from axis to axis
TopoDS_Shape notch(const Notch&);
TopoDS_Shape bracket(const Bracket&);
TopoDS_Shape cylinder(double diameter, double from, double to);
TopoDS_Shape tube(const Tube&);
TopoDS_Shape sprocket(const Sprocket&);
TopoDS_Shape rimWheel(const RimWheel&);
/// A prism across (y), `width` in all, over corners given along and up (x, z), counter-clockwise.
TopoDS_Shape upright(const std::vector<Vec2>& corners, double width);
/// A prism over a ring in plan with nothing to check; flat when from == to.
TopoDS_Shape slab(const Ring&, double from, double to);

} // namespace vicinal::build
