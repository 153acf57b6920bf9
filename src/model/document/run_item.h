#pragma once
#include "base/held.h"
#include "clearance/check.h"
#include "layout/along/changes.h"
#include "layout/along/feet.h"
#include "layout/facing/rules.h"
#include "model/document/give_way.h"
#include "model/document/motion.h"
#include <functional>

namespace vicinal {

struct Spacing; // layout/spacing/rules.h

struct RunItem {
    Id id = 0;
    std::string name;
    int colour = 0; ///< index into the colours of runs
    Id path = 0, part = 0;
    Held<Spacing> spacing;
    Facing facing;
    std::vector<int> leftOut; ///< place numbers from 1, rising
    Sequence sequence;
    Changes changes;
    Unevenness uneven;
    std::vector<Exception> exceptions;
    Rows rows;
    Echoes echoes;
    GiveWay gives;
    Motion motion;
    bool hidden = false; ///< neither drawn nor picked unless it is worked on; it does not go out with everything
    Feet feet;
    std::vector<Check> checks{}; ///< that differ from what checksOf() gives it by itself; at most one a question
    bool locked = false;
    Id folder = 0;
};

/// A group of values of a run.
struct RunGroup {
    const char *key, *what; ///< its name in files; what it is, for their schema
    bool places;            ///< places come from it
};
/// All groups that are described, besides spacing and facing, which have rules to choose from. One more stands here,
/// and with that in files, their schema, typed values, copies, and what places go by. `use`: (RunGroup, pointer to
/// member).
template<class Use> void eachRunGroup(Use&& use) {
    use(RunGroup{"sequence", "Which part stands where; without steps the run's part everywhere.", true},
        &RunItem::sequence);
    use(RunGroup{"changes", "What changes along the run.", true}, &RunItem::changes);
    use(RunGroup{"uneven", "Random differences, the same everywhere for the same seed.", true}, &RunItem::uneven);
    use(RunGroup{"rows", "Rows beside the run and tiers above it.", true}, &RunItem::rows);
    use(RunGroup{"echoes", "The whole run again.", true}, &RunItem::echoes);
    use(RunGroup{"feet", "The places stand on a body's surface while the path stays as it is.", true}, &RunItem::feet);
    use(RunGroup{"motion", "How the run moves along its path; the document is at time 0.", false}, &RunItem::motion);
    use(RunGroup{"gives", "What gives way so that the count comes out exactly.", false}, &RunItem::gives);
}

/// Hands every id that a run holds to `use`, as the member that holds it, with what it stands for; also those that are
/// 0.
void eachId(RunItem&, const std::function<void(Id&, ItemKind)>& use);
void eachId(const RunItem&, const std::function<void(Id, ItemKind)>& use);

} // namespace vicinal
