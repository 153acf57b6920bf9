#pragma once
// A marking tape: a run's stations at full size on strips, to be laid along or wound round the real thing.
#include "exchange/paper/template.h"

namespace vicinal {

struct Tape {
    std::vector<Sheet> pages;
    long strips = 0;
    double length = 0; ///< mm
};
/// Ticks and lengths in millimetres; the stretch that each place takes up with its number, the clear gaps between them,
/// the part where it changes; start, end or seam; where strips join. The first row of the run. Problem as of templates.
Result<Tape> tapeOf(const RunResult&, const TapeOrder&);

} // namespace vicinal
