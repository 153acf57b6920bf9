#pragma once
// Lists of stations and profiles as text, as they are typed in a field or on the command line.
#include "base/describe.h"
#include "base/quantity.h"
#include "layout/along/profile.h"
#include <span>
#include <string>

namespace vicinal {

/// Without the blanks at its ends.
std::string trimmed(const std::string&);

/// "120, 260 mm, 0.4 m": lengths with commas between, plain ones in `unit`. Empty or "none": none.
Result<std::vector<double>> parseStations(const std::string&, Unit);
std::string stationsText(std::span<const double>, Unit);

/// "0: 100, 5 m: 250; smooth": keys of station and value with commas between; a value alone holds everywhere. Behind a
/// semicolon "smooth" and "share" (stations are shares of the length, also as 25 %). Lengths in `unit`, angles in
/// degrees. Empty or "none": no key.
Result<Profile> parseProfile(const std::string&, Unit, ProfileKind);
std::string profileText(const Profile&, Unit, ProfileKind);

} // namespace vicinal
