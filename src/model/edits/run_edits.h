#pragma once
// Edits of a run's rules that the window and the command line share.
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// A first spacing that shows something sensible: links meet at their pins, boards and tiles lie close, other things
/// keep a gap about as wide as they are long; at most 200 places. Precondition: the part has its extents.
Spacing firstSpacing(const PartResult&, const Path&);

/// The run's spacing with another rule in use (index into SpacingRule). It starts from what stands there now, so that
/// nothing jumps.
Spacing switchedFrom(const RunResult&, size_t rule);

/// The spacing that shares out `count` places, as a row of the table of counts says.
Spacing withCount(const Spacing&, long count);

} // namespace vicinal
