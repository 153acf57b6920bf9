#pragma once
// A sequence of parts as text: "Post, 5 x Baluster"; with weights "Grey slab (3), Red slab (1)".
#include "layout/along/changes.h"
#include "model/document/document.h"

namespace vicinal {

/// Names with commas or brackets stand in quotes. Steps with commas between: a part's name, "N x NAME" to repeat it,
/// "NAME (W)" for its weight. Empty or "none": none.
Result<std::vector<SequenceStep>> parseSequence(const std::string&, const Document&);
std::string sequenceText(const std::vector<SequenceStep>&, const Document&);

} // namespace vicinal
