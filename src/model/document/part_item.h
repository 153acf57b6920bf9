#pragma once
#include "layout/seat.h"
#include "model/recipes/part_shape.h"
#include <array>

namespace vicinal {

struct PartItem {
    Id id = 0;
    std::string name;
    PartShape shape;
    Seat seat;
    std::array<Id, 2> under{0, 0}; ///< the part that its back and its front pin stand on; 0: the path itself
    double size = 1;               ///< uniform factor on the shape; the seat is in the axes after it
    double density = 0;            ///< kg/m^3; 0: not known
    bool locked = false;
    Id folder = 0;
};

} // namespace vicinal
