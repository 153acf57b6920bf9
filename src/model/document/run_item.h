#pragma once
#include "base/held.h"
#include "clearance/check.h"
#include "layout/along/changes.h"
#include "layout/along/feet.h"
#include "layout/facing/rules.h"
#include "model/document/give_way.h"
#include "model/document/motion.h"

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

} // namespace vicinal
