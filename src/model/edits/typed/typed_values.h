#pragma once
// Described values set from text: what the command line types for a run, a path or a part.
#include "model/document/document.h"
#include <optional>

namespace vicinal {

/// Sets a value by its key (as in files). Lengths are read as typed in `unit` ("1/2 m"), angles in degrees, choices and
/// rules by their word in files, limits also as "none", points and turns as three values with commas.
/// Run: every value of the rule in use, "rule" (keeps the numbers of the others), "nose", "crown", "path" and "part" by
/// name, "name", "colour", "leftOut" (numbers with commas; empty for none), "sequence" (as parseSequence), "bayRules"
/// (as parseBayRules), profiles (as parseProfile), stations (as parseStations), everything that rows, echoes,
/// unevenness and what gives way describe, "giveValue" (a key of the path's recipe), "giveAtLeast" and "giveAtMost".
/// Path: every value of its recipe, "name". Part: every value of its maker, "name", "size", "density". Problem with
/// `field` the key: not known (lists those that are), not read, or out of reach. Then nothing changes.
std::optional<Problem> setTyped(RunItem&, const Document&, const std::string& key, const std::string& text);
std::optional<Problem> setTyped(PathItem&, const Document&, const std::string& key, const std::string& text);
std::optional<Problem> setTyped(BodyItem&, const Document&, const std::string& key, const std::string& text);
std::optional<Problem> setTyped(PartItem&, const Document&, const std::string& key, const std::string& text);

} // namespace vicinal
