#pragma once
// Site bodies between the graph and what they are made of. Not for others.
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// The bodies that a run asks: aimed at, crowns stand off, feet stand on; 0 where it asks none.
std::array<Id, 3> bodiesAsked(const RunItem&);
/// Makes shape and body, or says what is wrong. What is the same as before stays the same object.
void makeSiteBody(BodyResult&, const ShapeSource&, const BodyResult* before);
/// Puts the body where it stands, as a surface and as what is drawn.
void stand(BodyResult&, const BodyResult* before);
/// What feet on the ground are worth saying of a run that has been placed.
void footRemarks(RunResult&);

} // namespace vicinal
