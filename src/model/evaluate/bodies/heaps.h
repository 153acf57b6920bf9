#pragma once
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// A heap where it stands. `now` holds its parts, worked out. The result of `before` when nothing changed. Loose parts
/// whose part is missing or wrong are left out, which is its problem.
std::shared_ptr<const HeapResult> heapOf(const std::shared_ptr<const HeapItem>&, const Evaluation& now,
                                         const Evaluation* before);

} // namespace vicinal
