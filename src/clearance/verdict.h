#pragma once
#include "layout/places.h"

namespace vicinal {

struct Spacing;

/// In rising order of concern. Open: not measured yet, so neither good nor anything else.
enum class Mark { Good, Open, Doubtful, Wrong };
const char* wordOf(Mark); ///< "good" ...
const char* signOf(Mark); ///< one character, UTF-8

/// What the checks say of a run.
struct Verdict {
    Mark mark = Mark::Good;
    Words text;           ///< one sentence, with the worst place
    int place = -1;       ///< index of the worst place, from 0; -1 when none stands out
    bool byBoxes = false; ///< parts overlap as their boxes do: the true bodies may not
};

/// Gaps along (the free length of path between neighbours) against the run's limits; parts that overlap are wrong
/// unless they may.
Verdict judgeGaps(const Places&, const Spacing&);

/// Index into Places::gaps of the smallest / largest; -1 when there is no gap.
int tightestGap(const Places&);
int widestGap(const Places&);

} // namespace vicinal
