#pragma once
// Ranges that several floors and the window hold to, each stated once; what a value is beyond them is refused.

namespace vicinal::ranges {

struct Range {
    double least, most;
    constexpr bool holds(double v) const { return v >= least && v <= most; } ///< not what is no number
};

inline constexpr Range kSize{1e-6, 1e6};                       ///< factors on parts, pieces, places, bodies and paths
inline constexpr Range kDensity{0, 1e6};                       ///< kg in a cubic metre; 0: not known
#define VICINAL_SIZE_RANGE "a factor from 0.000001 to 1000000" // kSize in words

} // namespace vicinal::ranges
