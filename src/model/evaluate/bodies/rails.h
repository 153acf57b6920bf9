#pragma once
// Rails along runs: between the graph and the bodies of rails. Not for others.
#include "model/evaluate/evaluate.h"
#include "model/recipes/body_shape.h"

namespace vicinal {

/// The rails of a body whose run, path and outline are there and have no problem. Problem with `field` the key of the
/// value.
Result<BuiltBody> buildRail(const RailAlong&, const BodyResult& of);

} // namespace vicinal
