#pragma once
// Bodies that runs cut: between the graph and the cutting itself. Not for others.
#include "model/evaluate/evaluate.h"
#include "model/recipes/body_shape.h"

namespace vicinal {

class Work;

/// The text of the problem of what is left for later: no problem of the user's.
inline constexpr char kLater[] = "This is being cut.";

/// What is wrong with what was cut: webs below the limit, shapes over the edge or into one another; a sentence each.
/// None of another body.
std::vector<Words> brokenLimits(const CutBy&, const CutReport&);
std::vector<Words> brokenLimits(const BodyResult&);

/// What is left of a body (or a part) whose run is there and has no problem. Problem with `field` the key of the value.
Result<BuiltBody> buildCut(const CutBy&, const BodyResult& of, const Work&);

} // namespace vicinal
