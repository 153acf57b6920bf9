#pragma once
// How deep bodies that cross are in one another.
#include "geometry/mesh/apart.h"
#include <optional>

namespace vicinal {

struct Depth {
    double by = 0;           ///< mm, in the axes of the first: the shortest push found that frees them
    Vec3 way = Vec3::Zero(); ///< unit: the second is pushed along it
};

/// The shortest straight push that frees the second body from the first, in the axes of the first. Sought along the
/// normals of the faces that cross, square to pairs of their edges, and along both bodies' axes: for two convex bodies
/// the shortest there is (Gilbert and Foo 1990: it is square to a face of one or to an edge of each), for others one
/// that does free them. To a millionth of their size; 0 when they do not cross and neither is inside the other. Both
/// must be closed.
Depth depthOf(const MeshTree&, const MeshTree&, const Lie& second, const Stop* = nullptr);

/// Bodies that touch, of which no edge goes right through the other (faces in one plane): whether they are in one
/// another all the same. Both must be closed.
bool overlapping(const MeshTree&, const MeshTree&, const Lie& second);

/// One lies wholly inside the other. Precondition: their triangles do not cross.
bool contained(const MeshTree&, const MeshTree&, const Lie& second);

} // namespace vicinal
