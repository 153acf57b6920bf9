#pragma once
#include <string>
#include <string_view>

namespace vicinal::text {

/// `v` with at most `decimals` decimals, no trailing zeros, a point whatever the locale; "-0" becomes "0".
std::string number(double v, int decimals);
/// `v` with exactly `decimals` decimals.
std::string fixed(double v, int decimals);
/// `v` so that it reads back to the same double.
std::string exact(double v);

/// What somebody else wrote, for a message: at most 200 letters, control characters shown as \xNN.
std::string quoted(std::string_view foreign);

} // namespace vicinal::text
