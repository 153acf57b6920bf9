#pragma once
// Limits of checks as they are typed, in the sheet and on the command line.
#include "base/quantity.h"
#include "clearance/check.h"

namespace vicinal {

/// In what files keep: lengths counted in `unit` unless they say theirs, angles in degrees, shares in per cent; "kg"
/// and "kg/m" may be said.
Result<double> typedValue(CheckIn, std::string text, Unit);

/// Sets "least" or "most" (also "none"), "margin", "on" ("yes", "no"), and of openings "from" and "to". Problem with
/// `field` the key: not known, not taken by this kind, or not read. Then nothing changes.
std::optional<Problem> setTyped(Check&, Unit, const std::string& key, const std::string& text);

} // namespace vicinal
