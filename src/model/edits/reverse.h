#pragma once
// A whole run the other way round.
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// The document with the run started at the other end of its path: it counts and faces from there. It goes along a path
/// "backwards" of its own one (made when there is none, left when it has one already). What is bound to a spot of the
/// path - stretch, insets, bays, keys, exceptions, the side of rows - stays there; what counts from the start - the
/// rule, what is left over, the sequence, first and last part - starts at the new end. Twice is as before.
/// Precondition: the run is placed and its path has no problem.
Document reversed(const Document&, const RunResult&);

} // namespace vicinal
