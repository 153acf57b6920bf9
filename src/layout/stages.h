#pragma once
// The stages of lay(), each in a file of its own. Not for others.
#include "layout/facing/facing.h"
#include "layout/place_order.h"
#include <algorithm>

namespace vicinal {

/// Slot k of an order: its own part, or one of the others.
PartOnRun partOf(const PlaceOrder&, size_t slot);
std::optional<Problem> defectOf(const PlaceOrder&);
/// True when plain frames are all that is asked for.
bool alongOnly(const PlaceOrder&);
/// A body that a place stands on.
struct Below {
    size_t place = 0, slot = 0;
    Frame frame;
};

/// Stations rise except where a closed run wraps round the seam: hands `use` each rising stretch with its first index.
template<class Use> void sweeps(std::span<const double> stations, Use&& use) {
    const auto wrap = size_t(std::is_sorted_until(stations.begin(), stations.end()) - stations.begin());
    use(size_t(0), stations.first(wrap));
    if (wrap < stations.size()) use(wrap, stations.subspan(wrap));
}

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

/// Sequence, pins, profiles, unevenness, exceptions, on frames that are not turned yet. `below`: what the places stand
/// on is added.
std::optional<Problem> furnish(const Path&, const PlaceOrder&, const Facing& resolved, const Stations&, Laid&,
                               std::vector<Below>& below);
/// Rows, tiers and echoes of what is there.
std::optional<Problem> multiply(const Path&, const PlaceOrder&, const Facing& resolved, Laid&);
/// Where on the path each place belongs, with the path's own frame there; after multiply().
std::vector<Frame> basesOf(const Path&, const PlaceOrder&, const Facing& resolved, Laid&);
/// Drops or raises every place, and what it stands on, onto the order's ground.
std::optional<Problem> dropFeet(const Path&, const PlaceOrder&, const Facing& resolved, Laid&);
/// What the places stand on, with that of all their copies, as bodies behind the places.
void addBelow(const PlaceOrder&, const std::vector<Below>&, Laid&);

} // namespace vicinal
