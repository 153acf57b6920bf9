#pragma once
// Between the graph and the layout layer: what a run needs, and what is wrong with that. Not for others.
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// A source's problem, by its name; along a long chain the first names are enough.
Problem handedOn(const std::string& name, const Problem&, const char* field);
bool aimsAtPath(const RunItem&);
/// All values of two runs that places come from are the same, but for which are left out.
bool laidAlike(const RunItem&, const RunItem&);
/// What gives way in a path for its giver; `sources` as the path's. `count`: instead of the one that is wanted.
Result<SolvedValue> solvedValueOf(const PathResult&, std::span<const Path> sources, std::optional<long> count,
                                  const Stop*);
/// The room that the vehicles of a run take; `before`: an earlier result, taken over where nothing changed that
/// matters.
std::shared_ptr<const SweptEnvelope> sweptBy(const RunResult&, const RunResult* before, const Stop*);
/// What keeps a run from being placed before any rule is asked: something missing, or a problem of its own.
/// `giving`: also that nothing can give way for it.
std::optional<Problem> firstProblem(const RunResult&, bool giving = true);

} // namespace vicinal
