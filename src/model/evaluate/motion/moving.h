#pragma once
// Where everything stands at a time. Time 0 is the document itself.
#include "model/evaluate/evaluate.h"

namespace vicinal {

/// How far a run can go along its path, mm: from where it stands at time 0 backwards (below zero) and forwards. On a
/// path that it goes all the way round there is no end; `lap` is its length then, else 0.
struct WayRange {
    double back = 0, forward = 0, lap = 0;
};
/// Precondition: the run is placed.
WayRange wayRange(const RunResult&);
/// mm/s. Not a number where the motion has none.
double speedOf(const RunResult&);
/// How far along a run is at a time, s: once, to and fro or round as it says, within its range. Round a closed path it
/// is not wrapped, so that wheels keep turning.
double wayAt(const RunResult&, double time);

/// The time, s, after which it is there for the first time, going its own way; nothing where it never is.
std::optional<double> timeOf(const RunResult&, double way);

/// Time until the run has gone once along its path (to and fro: and back), s; 0 for one that stands.
double onceAlong(const RunResult&);

/// The run as it stands `way` mm on: a fresh run, slid by that. Wheels without teeth turn by way / radius, sprockets so
/// that they meet the chain. Problem as of the run. Precondition: the run is placed and has no problem.
Result<std::shared_ptr<const RunResult>> movedRun(const RunResult&, double way);

/// What holds only in motion, looked for in steps: how a chain closes, and how far its joints turn.
struct SweepStep {
    double way = 0;                   ///< mm
    std::optional<double> closing{};  ///< as Stations; of a closed chain
    double turn = 0;                  ///< the sharpest joint or coupling, rad
    double swing = 0;                 ///< the most that a bogie is turned under its vehicle, rad
    std::optional<Problem> problem{}; ///< it cannot stand there
};
/// `steps` of them over `way` mm, ends included; 0: one pitch. Stopped: those that were reached.
/// Precondition: the run is placed and has no problem; 2 steps or more.
std::vector<SweepStep> sweep(const RunResult&, long steps, double way = 0, Job* = nullptr);

/// Everything at a time: runs that move are where they are then, the rest is shared. A run that cannot be worked out
/// stays where it stands. Pure.
/// `problems`: why, one a run.
std::shared_ptr<const Evaluation> atTime(const std::shared_ptr<const Evaluation>&, double time,
                                         std::vector<Problem>* problems = nullptr);

/// True when some run moves.
bool anythingMoves(const Evaluation&);

} // namespace vicinal
