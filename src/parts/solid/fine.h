#pragma once
#include "parts/solid/solid.h"

namespace vicinal {

/// As meshOf(), four times as many pieces round a circle: for drawings, where few bodies are seen large.
Result<Mesh> fineMeshOf(const Solid&);

/// A face of it is not flat: triangles cannot be all of it.
bool isCurved(const Solid&);

} // namespace vicinal
