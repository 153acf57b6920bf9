#pragma once
#include "model/document/document.h"

namespace vicinal {

struct LiftedOver; // model/recipes/recipe.h

/// The crossing of that number (from 1) of a path lifted over itself the other way round; again: as it was. The
/// document as it is where the path is none.
Document withCrossingSwitched(Document, Id path, long number);
/// The change of a path lifted over itself; null for other paths.
const LiftedOver* liftedOf(const PathItem&);

} // namespace vicinal
