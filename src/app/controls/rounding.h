#pragma once
// Round numbers: first values of what is made new, steps of grids.
#include <algorithm>
#include <cmath>

namespace vicinal {

/// The power of ten that is not above a value; values below a thousandth count as that.
inline double powerBelow(double v) { return std::pow(10, std::floor(std::log10(std::max(v, 1e-3)))); }

/// To one digit, never nothing.
inline double toOneDigit(double v) {
    const double power = powerBelow(v);
    return std::max(1.0, std::round(v / power)) * power;
}

/// 1, 2 or 5 times a power of ten: the greatest that is not above `want`.
inline double roundStep(double want) {
    const double power = std::pow(10, std::floor(std::log10(want)));
    if (want < 2 * power) return power;
    return want < 5 * power ? 2 * power : 5 * power;
}

} // namespace vicinal
