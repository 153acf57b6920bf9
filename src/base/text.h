#pragma once
#include "base/words.h"
#include <exception>
#include <string>
#include <string_view>

namespace vicinal::text {

/// `v` with at most `decimals` decimals, no trailing zeros, a point whatever the locale; "-0" becomes "0".
std::string number(double v, int decimals);
/// `v` with exactly `decimals` decimals.
std::string fixed(double v, int decimals);
/// `v` so that it reads back to the same double.
std::string exact(double v);

/// Latin letters as small ones, whatever the locale; all others as they are.
std::string lowered(std::string s);

/// What somebody else wrote, as a value of a message: at most 200 letters, control characters shown as \xNN.
Words quoted(std::string_view foreign);

/// Why something gave up, for a message: never a library's own name for it.
std::string reasonOf(const std::exception&);

} // namespace vicinal::text
