#pragma once
// Site bodies between the graph and what they are made of.
#include "model/evaluate/evaluate.h"
#include <optional>

namespace vicinal {

class Work;

/// The bodies that a run asks: aimed at, crowns stand off, feet stand on; 0 where it asks none.
std::array<Id, 3> bodiesAsked(const RunItem&);
/// True when its crowns stand off a surface.
bool standsOff(const RunItem&);
/// True when both are made from the same things as they stand: of a run its places count, not its colour.
bool sameSources(const BodyResult&, const BodyResult&);
/// Makes shape and body, or says what is wrong. What is the same as before stays the same object.
void makeSiteBody(BodyResult&, const BodyResult* before, const Work&);
/// Of a site body, mm^3, exact for solids: nothing where it encloses none (sheets, open meshes). `soon`: of the
/// triangles where the solid takes long to build.
std::optional<double> enclosedVolume(const BodyResult&, bool soon = false);
/// Puts the body where it stands, as a surface and as what is drawn.
void stand(BodyResult&, const BodyResult* before);
/// What feet on the ground are worth saying of a run that has been placed.
void footRemarks(RunResult&);

} // namespace vicinal
