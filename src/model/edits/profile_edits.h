#pragma once
// Edits of the profiles of a run, by the key they have in files: "roll", "size", "across", "up", and "pitches" of a
// graded run. Stations are mm along the path, whatever way a profile says them.
#include "base/describe.h"
#include "layout/along/profile.h"
#include "model/document/document.h"

namespace vicinal {

/// All that a run can have; what a graded one has besides is told by profileOf.
inline constexpr const char* kProfiles[] = {"pitches", "roll", "size", "across", "up", "pace"};

/// The profile of that name; null when this run has none (pitches of a run that is not graded).
const Profile* profileOf(const RunItem&, const std::string& name);
Profile* profileOf(RunItem&, const std::string& name);
/// What its values are, and what holds without a key.
ProfileKind valuesOfProfile(const std::string& name);
double otherwiseOf(const std::string& name);

/// Adds a key, or gives the one that stands there (within a millionth of the length) the value. Its index.
size_t addKey(Profile&, double station, double value, double length);
/// Moves a key; it never passes its neighbours, and stays on the path.
void moveKey(Profile&, size_t which, double station, double value, double length);
void removeKey(Profile&, size_t which);
/// All keys by `by` mm; those that would leave the path stop at its ends, in order.
void shiftKeys(Profile&, double by, double length);
/// Says the same with keys that stretch with the path, or keep their stations.
void setStretching(Profile&, bool, double length);
double stationOf(const Profile&, size_t key, double length);
/// A bump around a station: as it was half a `width` before and behind, `by` times that at the station itself. An empty
/// profile is taken as `otherwise`.
void emphasise(Profile&, double station, double width, double by, double length, bool closed, double otherwise);

} // namespace vicinal
