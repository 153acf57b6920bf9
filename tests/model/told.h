#pragma once
// All that is said of a document's items, as numbers and words that are held against what they were: see frozen.h.
#include "frozen.h"

namespace vicinal {
struct BodyResult;
struct Evaluation;
struct PartResult;
struct PathResult;
struct RunChecks;
struct RunResult;
} // namespace vicinal

namespace vicinal::test {

void tell(Digest&, const RunResult&);
void tell(Digest&, const HeapResult&);
void tell(Digest&, const PathResult&);
void tell(Digest&, const PartResult&);
void tell(Digest&, const BodyResult&);
void tell(Digest&, const RunChecks&, const Evaluation&);
/// All of it, and its runs in motion.
void tell(Digests&, const std::string& name, const std::shared_ptr<const Evaluation>&);

} // namespace vicinal::test
