#pragma once
// Cutting flat outlines out of flat outlines, lines and arcs kept.
#include "base/job.h"
#include "parts/solid/solid.h"

namespace vicinal {

/// What is left of an outline.
struct FlatCut {
    std::vector<Ring> rings;                         ///< outlines counter-clockwise, holes clockwise
    std::vector<size_t> missed;                      ///< cutters that touch nothing
    std::vector<size_t> overEdge;                    ///< cutters that cut through an edge of the outline
    std::vector<std::pair<size_t, size_t>> together; ///< cutters that run into one another
    std::vector<size_t> whole;                       ///< cutters whose own outline is a hole as it is
};

/// The outline (what is inside an odd number of its rings) without what is inside any cutter. Rings in the x-y plane,
/// any way round, none of which crosses itself. Edges that lie on one another count once.
/// Problem ("run"): nothing is left. Stopped: a problem, too.
Result<FlatCut> cutFlat(std::span<const Ring> outline, std::span<const Ring> cutters, const Stop* = nullptr);

} // namespace vicinal
