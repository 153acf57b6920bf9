#pragma once
#include "base/result.h"
#include "base/vec.h"
#include <array>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace vicinal {

/// Triangles over shared points, mm, in the part's own axes; counter-clockwise seen from outside.
struct Mesh {
    std::vector<Vec3> points;
    std::vector<std::array<std::uint32_t, 3>> triangles;
    Box3 box; ///< of the points the triangles use; of the exact shape where the mesh was made from one
};

/// What was found in a mesh, and what was done about it.
struct MeshReport {
    size_t joined = 0;      ///< points that were one with another
    size_t dropped = 0;     ///< triangles without area
    size_t open = 0;        ///< edges with a triangle on one side only
    size_t nonManifold = 0; ///< edges with three triangles or more
    size_t turned = 0;      ///< triangles that were turned over so that all face the same way
    bool watertight() const { return open == 0 && nonManifold == 0; }
    /// One sentence for each thing worth saying; empty when the mesh was sound.
    std::vector<std::string> remarks() const;
};

/// Joins points closer than tolerance::length, drops triangles without area, turns triangles so that neighbours agree
/// and closed shells face outwards (a hollow within another shell inwards, when it came so), and sets the box.
/// Problem when nothing is left, a coordinate is not a number, or an index is out of range.
Result<Mesh> cleaned(Mesh, MeshReport* = nullptr);

/// An edge with the triangles beside it.
struct MeshEdge {
    std::uint32_t a, b;             ///< points, a < b
    std::uint32_t first, triangles; ///< the edge's triangles are edgeTriangles[first] and the next ones
};
/// Edges of a mesh, in rising order of their points. O(n log n).
struct MeshEdges {
    std::vector<MeshEdge> edges;
    std::vector<std::uint32_t> triangles;
};
MeshEdges edgesOf(const Mesh&);
/// Every edge lies between two triangles: it encloses something.
bool isClosed(const Mesh&);

/// Unit normal of each triangle.
std::vector<Vec3> normalsOf(const Mesh&);

/// Edges worth drawing: where two faces meet at more than `angle` radians, and open borders. Pairs of point indices.
std::vector<std::array<std::uint32_t, 2>> featureEdges(const Mesh&, double angle = 20 * kDegree);

/// A normal for each corner of each triangle (3 a triangle): the mean, weighted by angle, of the triangles round its
/// point that are reached over edges bent by less than `crease`. Round things look round, edges stay sharp.
/// Source: Thuermer, Wuethrich, "Computing vertex normals from polygonal facets", 1998.
std::vector<Vec3> cornerNormals(const Mesh&, double crease = 35 * kDegree);

/// Points along feature edges, starting from the edge nearest to `near`. loop: round the face beside it (of its two the
/// one that looks more along `up`), back to the start; else on both ways as long as one edge goes on within 30 degrees.
/// `closed` says whether the last leads back to the first. Empty when the mesh has no feature edge.
std::vector<Vec3> edgeChain(const Mesh&, const Vec3& near, bool loop, const Vec3& up, bool* closed);

/// A copy with fewer triangles for far views: at most `triangles`, and no farther off than `error` mm (about).
Mesh simplified(const Mesh&, size_t triangles, double error);

/// A box-shaped solid.
Mesh boxMesh(const Box3&);

/// Enclosed volume, mm^3 (signed; positive when triangles are counter-clockwise from outside).
double volumeOf(const Mesh&);
/// Area of all triangles, mm^2.
double areaOf(const Mesh&);
/// Centre of the enclosed volume; of the area when the volume is nothing (sheets).
Vec3 centreOf(const Mesh&);

} // namespace vicinal
