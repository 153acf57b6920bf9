#pragma once
#include "layout/placement_input.h"

namespace vicinal {

/// A piece of path to try a seat on: a left bend that runs into a straight at the origin, along +x on the ground, with
/// seven places at a pitch: three on the bend, one at the origin, three on the straight.
struct Stub {
    Path path;
    Places places;
    static constexpr int kMiddle = 3; ///< the place at the origin
};
/// `order`: seat, part and facing; its spacing is replaced by the pitch (mm, > 0). The bend turns a right angle over
/// three pitches, less for wide parts. Problem as place().
Result<Stub> stubOf(PlacementInput order, double pitch);

} // namespace vicinal
