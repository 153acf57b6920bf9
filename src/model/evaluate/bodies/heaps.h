#pragma once
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// A heap as what is drawn, picked and sent out like the places of a run. `now` holds its parts, worked out. The result
/// of `before` when nothing changed. Loose parts whose part is missing or wrong are not there, which is its problem.
std::shared_ptr<const RunResult> heapOf(const std::shared_ptr<const HeapItem>&, const Evaluation& now,
                                        const Evaluation* before);

/// What views and writers ask a run for, of something that is none.
RunItem faceOf(Id, const std::string& name, int colour, bool hidden);
/// Places that follow no path, still to be filled.
std::shared_ptr<Placed> placedNowhere();

} // namespace vicinal
