#pragma once
// What the checks of one pass share. Not for others.
#include "model/verdicts/checked.h"

namespace vicinal {

/// The bodies of what stands there: those that have a size.
struct Bodies {
    std::vector<PosedBody> all;
    std::vector<Box3> boxes;
    std::vector<int> ofPlace; ///< index of a place's own body; -1: none
    bool empty = false;       ///< some have no size
};

/// One body and the next along the path: of the run, or of what stands between its places.
struct Neighbours {
    const PosedBody *a = nullptr, *b = nullptr; ///< null: the path's end
    int place = 0, other = -1;                  ///< one of them is of the run: place is; `other` of it, or of `item`
    Id item = 0;
    size_t from = 0, to = 0; ///< places of their own runs
    const RunResult *fromRun = nullptr, *toRun = nullptr;
};

class Pass {
public:
    Pass(const Evaluation& e, CheckMemory& m, const CheckOrder& o, Job* j)
        : of(e), memory(m), fine(o.fine), interactive(o.interactive), job(j) {}
    const Evaluation& of;
    CheckMemory& memory;
    const bool fine, interactive;
    Job* const job;

    const Bodies& bodies(const Standing&);
    /// mm that the triangles of this body may be off.
    double errorOf(const PosedBody&);
    /// The same body with four times as many pieces round its curved faces; itself where it has none.
    BodyPtr fineOf(const BodyPtr&);
    bool stop() const { return job && stopped(&job->stop); }

private:
    std::map<const Standing*, Bodies> m_bodies;
};

/// Its parts say what is cut away: holes are in nobody's way.
bool cutsOnly(const Standing&);
/// Neighbours of a run, in order. `with`: other runs whose places stand between.
std::vector<Neighbours> neighboursOf(Pass&, const RunResult&, const std::vector<std::shared_ptr<const RunResult>>& with,
                                     bool ends);
/// Runs that stand on the same path and reach at least half as high.
std::vector<std::shared_ptr<const RunResult>> standingBetween(const Evaluation&, const RunResult&);

// Each fills in `places`, and what it has to say. A file a subject.
void measureNeighbours(Pass&, const RunResult&, CheckResult&);
void measureItself(Pass&, const RunResult&, CheckResult&);
void measureAgainst(Pass&, const RunResult&, CheckResult&);
void measureOpenings(Pass&, const RunResult&, CheckResult&);
void measureFalling(Pass&, const RunResult&, CheckResult&);
void measureBow(Pass&, const RunResult&, CheckResult&);
void measureCorners(Pass&, const RunResult&, CheckResult&);
void measureClosing(Pass&, const RunResult&, CheckResult&);
void measureSlope(Pass&, const RunResult&, CheckResult&);
void measureSteps(Pass&, const RunResult&, CheckResult&);
void measureSeats(Pass&, const RunResult&, CheckResult&);
void measurePins(Pass&, const RunResult&, CheckResult&);
void measureJoints(Pass&, const RunResult&, CheckResult&);
void measureRemainder(Pass&, const RunResult&, CheckResult&);
void measureSeam(Pass&, const RunResult&, CheckResult&);
void measureTeeth(Pass&, const RunResult&, CheckResult&);
void measureCount(Pass&, const RunResult&, CheckResult&);
void measureLength(Pass&, const RunResult&, CheckResult&);
void measureWeight(Pass&, const RunResult&, CheckResult&);
void measureWeightPerMetre(Pass&, const RunResult&, CheckResult&);
/// Every corner of the path between two places.
std::vector<CheckedPlace> cornersOf(const RunResult&);
/// Copies beside the path are no nearer to what is asked of the path: its own places of the first row.
size_t firstRow(const Placement&);
/// Whether parts are so long for the bends they stand in that the path leaves them, or that a corner is cut between
/// two.
struct LongParts {
    bool leave = false, cut = false;
};
LongParts longParts(const RunResult&);
/// How far a value is beyond its limits; below zero: how far inside.
double beyond(const Check&, double value);
/// Marks, the worst place, the sentence.
void judge(const Evaluation&, const RunResult&, CheckResult&);

} // namespace vicinal
