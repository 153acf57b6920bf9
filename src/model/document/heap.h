#pragma once
// Loose parts: they stand where they were put and follow nothing.
#include "base/id.h"
#include "base/vec.h"
#include "layout/frame.h"
#include <string>
#include <vector>

namespace vicinal {

struct Loose {
    Id part = 0;
    Frame frame{Mat3::Identity(), Vec3::Zero()}; ///< nose, side, crown and the seat point, as of a place
    double size = 1;                             ///< factor, about the seat point
    long place = 0;                              ///< the number of the place it was released from; 0: none
};

struct HeapItem {
    Id id = 0;
    std::string name;
    int colour = 0;      ///< index into the colours of runs
    bool hidden = false; ///< as a run
    bool frozen = false; ///< its parts cannot be moved, swapped or deleted
    std::vector<Loose> parts;
    bool locked = false;
    Id folder = 0;
};

} // namespace vicinal
