#pragma once
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// kg of a part at its own size: its volume at its density; where it has none and is made of other parts of the
/// document, the sum of theirs. Problem ("density") says what is missing: never 0 for what is not known.
Result<double> massOf(const PartResult&);
/// kg of one body that stands there, before its place's own size.
Result<double> massEach(const Standing&, const PlacedPart&);

} // namespace vicinal
