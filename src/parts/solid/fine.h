#pragma once
#include "parts/solid/solid.h"

namespace vicinal {

/// As meshOf(), four times as many pieces round a circle: for drawings, where few bodies are seen large.
Result<Mesh> fineMeshOf(const Solid&);

/// Triangles no farther off the solid's faces than `within` mm, each turning by 30 degrees at most. What is smaller
/// than a two hundred thousandth of the solid's largest size is not asked for: `within` says what was used.
Result<Mesh> meshWithin(const Solid&, double& within);

/// A face of it is not flat: triangles cannot be all of it.
bool isCurved(const Solid&);

} // namespace vicinal
