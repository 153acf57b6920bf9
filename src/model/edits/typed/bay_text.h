#pragma once
// Rules of single bays as text: "2: share out 5; 4: step off 120".
#include "base/quantity.h"
#include "layout/spacing/rules.h"
#include <string>

namespace vicinal {

/// A rule by its word in files and, behind it, its first value: "step off 120 mm", "share out 5", "even out 90",
/// "pin to pin 12", "listed 20, 140, 300", "graded 0: 100, 2 m: 250". A number alone is a count shared out. Values that
/// are not said are `otherwise`'s, where it is of the same kind, else the rule's defaults.
Result<SpacingRule> parseRule(const std::string&, Unit, const SpacingRule& otherwise);
std::string ruleText(const SpacingRule&, Unit);

/// Bay numbers and rules with semicolons between. Empty or "none": no bay has a rule of its own.
Result<std::vector<BayRule>> parseBayRules(const std::string&, Unit, const SpacingRule& otherwise);
std::string bayRulesText(const std::vector<BayRule>&, Unit);

/// The spacing with this rule for a bay, or without one of its own.
Spacing withBayRule(Spacing, long bay, const std::optional<SpacingRule>&);

} // namespace vicinal
