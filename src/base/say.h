#pragma once
#include "base/words.h"

namespace vicinal::say {

/// A length for a message: "118.67 mm", six digits.
inline Words mm(double v) { return Words::length(v); }
/// A limit as large as a site: "1000 km".
inline Words bound(double v) { return Words::length(v, Words::Style::Bound); }

} // namespace vicinal::say
