#pragma once
#include "model/evaluate/evaluate.h"
#include <set>

namespace vicinal {

enum class PathStays { Kept, Hidden, Gone };

/// The run taken out, and a heap in its place with all that stood there (places, and what these stand on), each where
/// it stood. A path that something else still uses is not taken out. Problem when the run has nothing sound, or others
/// take their bays from it.
Result<Document> released(Document, const RunResult&, PathStays);

/// Changes of loose parts by their index from 0. Problem ("heap"): it is frozen, or would hold what cannot be.
/// x -> R (x - about) + about + by.
Result<Document> movedLoose(Document, Id heap, const std::set<int>&, const Vec3& by, const Mat3& R = Mat3::Identity(),
                            const Vec3& about = Vec3::Zero());
Result<Document> withoutLoose(Document, Id heap, const std::set<int>&);
Result<Document> swappedLoose(Document, Id heap, const std::set<int>&, Id part);

} // namespace vicinal
