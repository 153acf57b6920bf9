#pragma once
#include "base/text.h"
#include "base/words.h"

namespace vicinal::say {

/// A length for a message: "118.67 mm", six digits.
inline Words mm(double v) { return Words::length(v); }
/// A limit as large as a site: "1000 km".
inline Words bound(double v) { return Words::length(v, Words::Style::Bound); }

/// Counts, numbers and names: values of a message, the same in every language.
inline Words count(long long n) { return Words(std::to_string(n)); }
inline Words number(double v, int decimals) { return Words(text::number(v, decimals)); }
inline Words value(std::string text) { return Words(std::move(text)); }

} // namespace vicinal::say
