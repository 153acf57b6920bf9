#pragma once
#include "base/vec.h"

namespace vicinal {

/// Where a place stands: rigid, whatever part stands on it.
struct Frame {
    Mat3 axes; ///< columns: nose, side, crown in the world, the extra turn included
    Vec3 seat; ///< the seat point, on the path
};

} // namespace vicinal
