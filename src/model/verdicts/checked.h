#pragma once
// The checks of a document worked out: each run's list, with verdicts, values, worst places.
#include "clearance/check.h"
#include "clearance/pairs.h"
#include "model/evaluate/evaluate.h"
#include <mutex>
#include <set>

namespace vicinal {

/// One measured place or pair of a check.
struct CheckedPlace {
    int place = 0;        ///< index of the place, from 0
    int other = -1;       ///< index of what it is measured against: of the same run, or of `item`; -1: nothing
    Id item = 0;          ///< run or site body of `other`; 0: the run itself
    double value = 0;     ///< in what the check is measured in
    double error = 0;     ///< mm that curved faces' triangles, or a depth, may be off
    bool crosses = false; ///< they run into one another, and how deep cannot be said: `value` is no number to use
    Mark mark = Mark::Good;
    int excuse = -1;                         ///< index into Check::excused; -1: none
    Vec3 a = Vec3::Zero(), b = Vec3::Zero(); ///< nearest points, where there are two; the middle of an opening's ball
};

struct CheckResult {
    Check check;
    Mark mark = Mark::Good;
    Words text;                  ///< one sentence: value, limit, worst place
    std::optional<double> value; ///< the worst one; nothing where nothing was measured
    std::optional<double> limit; ///< the one it is held against
    std::optional<CheckedPlace> worst;
    std::optional<Words> cannot;      ///< why it cannot be worked out
    double error = 0;                 ///< mm that curved faces' triangles may be off
    std::vector<Words> remarks;       ///< what else is worth saying: open meshes, places no longer there
    std::vector<CheckedPlace> places; ///< all that was measured, in order; pairs that are too far apart are not
    bool unrefined = false;           ///< some are nearer to a limit than they may be off, and were not measured finer
    double about = 0;               ///< mm that values of places that are good may be off; see CheckOrder::interactive
    size_t broken = 0, excused = 0; ///< how many of these break the limit, and how many of those are excused
};

struct RunChecks {
    std::shared_ptr<const RunResult> run;
    std::vector<CheckResult> list;
    Verdict verdict; ///< of the rule and all checks that are on: the worst
    /// What it was made from: as long as these are the same it need not be worked out again.
    std::vector<std::shared_ptr<const void>> from;
    bool fine = false;
    bool stopped = false;
    bool approximate = false; ///< see CheckOrder::interactive
};

/// Of a whole document. Immutable.
struct Checked {
    std::shared_ptr<const Evaluation> of;
    std::map<Id, std::shared_ptr<const RunChecks>> runs;
    const RunChecks* run(Id) const;
};

/// What stays between one edit and the next: distances, bodies measured finer. One pass at a time.
struct CheckMemory {
    std::mutex mutex;
    PairMemory pairs;
    std::map<const Body*, std::pair<BodyPtr, BodyPtr>> fine; ///< the body and the same with four times the pieces
};

struct CheckOrder {
    /// Gaps that have moved a little since they were measured, and can neither break a limit nor be the worst, are told
    /// as they were, give or take what they moved: verdicts and worst places are exact, and come at once.
    /// RunChecks::approximate then says that a pass without this would say more.
    bool interactive = false;
    bool fine = false;      ///< curved faces in four times as many pieces: a sixteenth as far off
    std::vector<Id> only{}; ///< these runs; empty: all
    /// Called as each run is done, from the thread that works.
    std::function<void(std::shared_ptr<const RunChecks>)> done{};
    Id first = 0; ///< the run that is looked at: it comes first
};

/// Every check a run is asked: those by what it is, changed by its own.
std::vector<Check> checksOf(const RunResult&);
/// A new question with a limit to begin with.
Check firstCheck(CheckKind, Id other, const RunResult&);
/// True when the run would be asked this by itself, alike.
std::optional<Check> givenCheck(const RunResult&, const Check& question);

/// Works out all checks. `before`: what did not change since is taken over. Stopped: what was not reached keeps the
/// state before.
std::shared_ptr<const Checked> check(std::shared_ptr<const Evaluation>, CheckMemory&,
                                     const std::shared_ptr<const Checked>& before = nullptr, const CheckOrder& = {},
                                     Job* = nullptr);

/// Why a check as it is asked cannot be kept by anything: limits that contradict, a clearance below zero.
std::optional<Problem> defectOf(const Check&);
/// The value of a check with its unit, in words.
Words inWords(const Check&, double value);
/// "at most 99 mm", "0.5 mm to 2 mm"; "no limit".
Words limitsInWords(const Check&);
/// The name of a check with what it is against: "Clear of a body: Hut".
std::string titleOf(const Check&, const Evaluation&);
/// A rule in words, for the check sheet: what is measured, how.
Words ruleInWords(const Check&);

/// "Excused: place 3 with 4, why; written down by whom on a day."
std::string excuseInWords(const Excuse&);
/// Indices of the run's places that break a limit, and that no excuse covers; of checks that are along the path.
std::set<int> brokenPlaces(const RunChecks&);

/// Excuses this measured pair or place for good.
void excuse(Check&, const CheckedPlace&, const std::string& why, const std::string& by, const std::string& on);

/// The run with this check as its own: put in place of the one that asks the same. One that is as it is given anyway
/// is not kept.
RunItem withCheck(RunItem, const RunResult&, const Check&);
/// The run without a question of its own; one that is given by what the run is stays, switched off.
RunItem withoutCheck(RunItem, const RunResult&, const Check&);

} // namespace vicinal
