#pragma once
// Edits of a run's rules that the window and the command line share.
#include "layout/along/changes.h"
#include "model/evaluate/evaluate.h"
#include <functional>
#include <map>
#include <set>

namespace vicinal {

/// The run's spacing with another rule in use (index into SpacingRule). It starts from what stands there now, so that
/// nothing jumps.
Spacing switchedFrom(const RunResult&, size_t rule);

/// All exceptions by the place (of the first row, from 0) that each is bound to now; lost ones are not in it.
std::map<int, Exception> exceptionsOf(const RunResult&);
/// The exception of a place (index from 0; rows and echoes have their original's); a plain one when it has none.
Exception exceptionAt(const RunResult&, int place);
/// The run with the exceptions of these places changed. A new one is bound to the place's number, or to where it stands
/// when `byStation`; what is plain afterwards is dropped. Precondition: the run is placed.
RunItem excepted(const RunResult&, const std::set<int>& places, bool byStation,
                 const std::function<void(Exception&)>& how);
/// Bound to numbers or to stations, as they stand now.
RunItem bound(const RunResult&, const std::set<int>& places, bool byStation);
/// Places by a rule: every n-th from `first` (numbers from 1) on.
std::set<int> everyNth(const RunResult&, long n, long first);
/// Places that break a limit of gap or pitch, those on corners, those between two stations.
std::set<int> breaking(const RunResult&);
std::set<int> onCorners(const RunResult&);
std::set<int> betweenStations(const RunResult&, double from, double to);

/// A count of the table taken: by what gives way, where something does; else as withCount().
void takeCount(RunItem&, long count);
/// The spacing that shares out `count` places, as a row of the table of counts says.
Spacing withCount(const Spacing&, long count);

} // namespace vicinal
