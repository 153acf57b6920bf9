#pragma once
// What a run asks of the layout, and the way from there to its places.
#include "base/held.h"
#include "layout/along/changes.h"
#include "layout/along/feet.h"
#include "layout/facing/rules.h"
#include "layout/places.h"
#include "layout/spacing/walk/lineup.h"

namespace vicinal {

struct Spacing; // layout/spacing/rules.h

/// One more part of a run.
struct PartOnRun {
    Seat seat{};
    Box3 box{};
    std::optional<Box3> seated{};
    std::optional<Pins> pins{};
    std::array<int, 2> under{-1, -1}; ///< as Gear
};

/// What a run asks for.
struct PlacementInput {
    Held<Spacing> spacing;
    Facing facing;
    Seat seat;
    Box3 partBox;                     ///< in the part's own axes
    std::vector<int> leftOut{};       ///< place numbers from 1, rising
    std::optional<Box3> seated{};     ///< its true extents in seat axes; else those of its box
    std::optional<Pins> pins{};       ///< in the part's own axes
    std::array<int, 2> under{-1, -1}; ///< as Gear
    std::vector<PartOnRun> others{};  ///< slots from 1 on; what others stand on behind the rest
    Pattern pattern{};                ///< of slots
    /// Slots of special places.
    struct Special {
        std::optional<std::uint16_t> first{}, last{}, corner{}, nth{};
        long every = 0;
        bool none() const { return !first && !last && !corner && !(nth && every > 0); }
    } special{};
    Changes changes{};
    Unevenness uneven{};
    /// With `part` the slot plus one; 0: as it is.
    std::vector<Exception> exceptions{};
    Rows rows{};
    Echoes echoes{};              ///< their `part` as an exception's
    std::vector<BayEdge> edges{}; ///< of BayEdges::Run
    Feet feet{};
    std::shared_ptr<const Ground> ground{}; ///< of the feet; null: they stay on the path
};

/// First stages: stations and frames. The seat point of every place is on the path within 1e-9 mm, however far the
/// part's own origin is from it. `reuse`: an earlier result whose memory is taken over.
Result<Placement> solvePlacement(const Path&, const PlacementInput&, Placement reuse = {});
/// The lineup that spacing measures.
Lineup lineupOf(const Path&, const PlacementInput&);
/// How the parts of all its slots stand on their pins.
Vehicles vehiclesOf(const Path&, const PlacementInput&, const Facing& resolved);
/// Both.
Result<Places> place(const Path&, const PlacementInput&);

} // namespace vicinal
