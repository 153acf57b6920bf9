#pragma once
// Surfaces that run through themselves.
#include "base/job.h"
#include "geometry/mesh/tree.h"

namespace vicinal {

/// A point where an edge of a mesh goes right through one of its triangles; nothing where none does. What only touches
/// (within 1e-6 of the mesh's size) does not count. O(n log n).
std::optional<Vec3> runsThroughItself(const MeshTree&, const Stop* = nullptr);

} // namespace vicinal
