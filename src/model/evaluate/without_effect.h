#pragma once
// What a run is told that does nothing as things are: said, not swallowed.
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// A sentence each. Precondition: the run is placed on a path that is there.
std::vector<Words> withoutEffect(const RunResult&);

} // namespace vicinal
