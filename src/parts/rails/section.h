#pragma once
// The section of a rail: what is run along a path, or straight from place to place.
#include "geometry/curves/rails.h"
#include "parts/solid/solid.h"

namespace vicinal {

enum class RailForm { Round, Square, Flat, Angle, Outline };

struct RailProfile {
    RailForm form = RailForm::Round;
    double width = 42; ///< mm, over all, to the side; of a round one its diameter
    double depth = 42; ///< mm, over all, upwards; flats and angles
    double wall = 0;   ///< mm: a tube's wall, 0: solid; of an angle its legs' thickness
    double turn = 0;   ///< radians, about the rail, to the left at the top
};

/// A section across its rail, mm: x to the left, y up, from the line that the rail runs along.
struct RailFace {
    std::vector<Ring> rings;          ///< the outer one first, then its holes
    std::shared_ptr<const Mesh> mesh; ///< triangles of it, flat
    std::shared_ptr<const Mesh> full; ///< the same without its holes, for what closes an end
    RailSection hull;                 ///< what it reaches
};

/// `own`: the closed flat outline of RailForm::Outline, round its middle.
/// Problem ("width", "depth", "wall", "outline"): sizes that leave no section.
Result<RailFace> railFace(const RailProfile&, const Ring* own = nullptr);

/// How far it reaches in a direction (unit) across the rail, mm.
double reachOf(const RailSection&, const Vec2& along);

} // namespace vicinal
