#pragma once
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// The document with a copy of a run that has a path and parts of its own, as they are now: what its path follows and
/// what gave way are in its numbers, nothing that is changed in the original reaches it. Its id is lastId().
/// Precondition: the run is placed and has no problem.
Document withStandingAlone(Document, const RunResult&);

} // namespace vicinal
