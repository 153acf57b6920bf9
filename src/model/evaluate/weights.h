#pragma once
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// kg of a part at its own size: its volume at its density; where it has none and is made of other parts of the
/// document, the sum of theirs. Problem ("density") says what is missing: never 0 for what is not known.
Result<double> massOf(const PartResult&);
/// kg of one body that stands at the places of a run, in a heap, or as a site body, before its place's own size.
Result<double> massEach(const RunResult&, const PlacedPart&);

} // namespace vicinal
