#pragma once
// The stages of lay(), each in a file of its own. Not for others.
#include "layout/facing/facing.h"
#include "layout/places.h"

namespace vicinal {

/// Slot k of an order: its own part, or one of the others.
PartOnRun partOf(const PlaceOrder&, size_t slot);
std::optional<Problem> defectOf(const PlaceOrder&);
/// True when plain frames are all that is asked for.
bool alongOnly(const PlaceOrder&);

/// Frames at rising stations, one loop a crown rule. It alone decides the speed of plain runs: it stands in a file of
/// its own, where the compiler makes one straight loop of it.
struct FrameLoop {
    const Path& path;
    const Facing& facing; ///< resolved
    const Mat3& partRotation;
    bool turned; ///< with the extra turn; else as the path says
    const Occupancy& occupancy;
    /// `occupied`: what each takes up, where it varies; else null.
    void fill(std::span<const double> stations, Frame* out, Occupied* occupied) const;
};

/// Sequence, pins, profiles, unevenness, exceptions, rows, echoes, on frames that are not turned yet.
std::optional<Problem> furnish(const Path&, const PlaceOrder&, const Facing& resolved, const Stations&, Laid&);

} // namespace vicinal
