#pragma once
#include "layout/spacing/spacing.h"

namespace vicinal {

/// The free stretch between two neighbours that are really there.
struct Gap {
    int from = 0, to = 0; ///< place indices (from 0); on a closed path the last gap leads back
    double start = 0,
           end =
               0; ///< stations of the front of `from` and the back of `to`, mm (end may exceed the length at the seam)
    double clear() const { return end - start; }
};

/// All places of a run, as flat arrays.
struct Places {
    std::vector<double> stations;
    std::vector<Mat4> poses;        ///< part axes to world, column-major: place = frame * extra turn * inverse(seat)
    std::vector<Occupied> occupied; ///< length of path taken up by each; one entry for all when it is the same for all
    std::vector<char> leftOut;      ///< 1 where the place is an exception
    std::vector<Gap> gaps;          ///< between present neighbours, in order
    double pitch = 0, leftOver = 0; ///< mm
    std::optional<Stations::Uneven> uneven; ///< gaps that were to be equal and cannot be
    int present = 0;                        ///< places less those left out
    std::vector<int> staleLeftOut; ///< exceptions (place numbers) beyond the last place: kept, listed, without effect

    size_t count() const { return stations.size(); }
    const Occupied& occupiedAt(size_t i) const { return occupied.size() == 1 ? occupied[0] : occupied[i]; }
};

/// What a run asks for.
struct PlaceOrder {
    Spacing spacing;
    Facing facing;
    Seat seat;
    Box3 partBox;                 ///< in the part's own axes
    std::vector<int> leftOut{};   ///< place numbers from 1, rising
    std::optional<Box3> seated{}; ///< its true extents in seat axes; else those of its box
};

/// Places of a run along a path. The seat point of every place is on the path within 1e-9 mm, however far the part's
/// own origin is from it. `reuse`: an earlier result whose memory is taken over.
Result<Places> place(const Path&, const PlaceOrder&, Places reuse = {});

/// Angles and quaternion of a place, turning seat axes to world.
Mat3 seatToWorld(const Mat4& pose, const Seat&);

/// Marks left-out places and works out the gaps between those that remain. Called by place(); on its own it is enough
/// when only exceptions changed.
void applyExceptions(Places&, const std::vector<int>& leftOut, const Path&);

} // namespace vicinal
