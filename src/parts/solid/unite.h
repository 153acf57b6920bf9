#pragma once
#include "parts/solid/solid.h"

namespace vicinal {

/// One body of several that touch or overlap, without the seams inside it; what touches nothing stays beside it.
/// Problem when OpenCASCADE cannot join them. Precondition: none is null, at least one.
Result<SolidPtr> united(std::span<const SolidPtr>);

} // namespace vicinal
