#pragma once
#include "geometry/path/segment.h"

namespace vicinal {

/// Segments that follow each other.
struct Strand {
    std::vector<Segment> segments;
    bool closed = false;
    std::string layer; ///< where it stood in its file
};

/// Joins strands whose ends are within `tolerance` mm, turning them round where needed. Where three or more ends meet
/// nothing is joined (it would be a guess). Gaps above 1e-4 mm are bridged by a line. Only strands of one layer are
/// joined when `keepLayers`. Order: by the first member.
std::vector<Strand> chainByEnds(std::vector<Strand> strands, double tolerance, bool keepLayers = true);

/// The strand run backwards.
Strand reversed(Strand);

} // namespace vicinal
