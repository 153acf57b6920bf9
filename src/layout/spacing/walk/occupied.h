#pragma once

namespace vicinal {

/// Length of path a part takes up from its seat point, mm (both may be negative when the seat is outside the part).
struct Occupied {
    double ahead = 0, behind = 0;
    double total() const { return ahead + behind; }
};

} // namespace vicinal
