#pragma once
// Round faces and strips of solids and of meshes.
#include "geometry/mesh/mesh.h"
#include "parts/body.h"
#include <optional>
#include <vector>

class BRepAdaptor_Surface;

namespace vicinal {

/// A round face or strip: concave ones are holes.
struct Round {
    Vec3 point, axis;               ///< on the axis, at the middle of its length
    double radius, from, to, sweep; ///< along the axis from `point`; radians round it
    bool concave;
    double error = 0;
};

/// Directions are told apart no matter which way they run: the same line gives the same one.
Vec3 upwards(Vec3);
/// The unit normal that leads out of the solid.
Vec3 outward(const BRepAdaptor_Surface&, double u, double v, bool reversed);
std::vector<Round> roundsOf(const Solid&);
/// Of a mesh with its edges and the normals of its triangles.
std::vector<Round> roundsOf(const Mesh&, const MeshEdges&, const std::vector<Vec3>& normals);
/// The circle that fits points best; false where none does. The error: how far off the worst of them is.
bool fitCircle(const std::vector<Vec2>&, Vec2& centre, double& radius, double& error);
double areaOf(const Mesh&, std::uint32_t triangle);
/// Triangles that hang together over edges bent less than `bend`.
std::vector<std::vector<std::uint32_t>> patches(const Mesh& mesh, const MeshEdges& all,
                                                const std::vector<Vec3>& normals, double bend);

} // namespace vicinal
