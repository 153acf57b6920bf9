#pragma once
// The stages of solvePlacement(), each in a file of its own. Not for others.
#include "layout/facing/facing.h"
#include "layout/placement_input.h"
#include <algorithm>
#include <functional>

namespace vicinal {

/// Slot k of an order: its own part, or one of the others.
PartOnRun partOf(const PlacementInput&, size_t slot);
std::optional<Problem> defectOf(const PlacementInput&);
/// That this place, from 0, stands at what its nose is to point at.
Problem atTarget(const Facing&, size_t place);
/// True when it matters to spacing which part stands where: by clear gap, share of the length, pins.
bool lengthsCount(const Spacing&);
/// True when plain frames are all that is asked for.
bool alongOnly(const PlacementInput&);
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
/// on is added. `pinLengths`: of every place on its own two pins the path from its back pin to its front pin, mm; not a
/// number for others. `bound`: exceptions that spacing has counted with, and at which places, from 0.
std::optional<Problem> applyModifiers(const Path&, const PlacementInput&, const Facing& resolved, const Stations&,
                                      const std::vector<std::pair<size_t, const Exception*>>& bound, Placement&,
                                      std::vector<Below>& below, std::vector<double>& pinLengths);
/// One for all becomes one each.
template<class T> void spread(Column<T>& column, size_t n) {
    if (!column.same()) return;
    const T all = column[0];
    auto& each = column.each(n);
    std::fill(each.begin(), each.end(), all);
}

/// The same as the public one, with the exceptions it counts with and the places, from 0, that they are about.
Lineup lineupOf(const Path&, const PlacementInput&, std::vector<std::pair<size_t, const Exception*>>& bound);
/// True when noses point at a target: not those of links and vehicles, which run through their pins.
bool aims(const PlacementInput&, const Facing& resolved);
/// Rows, tiers and echoes of what is there.
std::optional<Problem> multiply(const Path&, const PlacementInput&, const Facing& resolved, Placement&);
/// Where on the path each place belongs, with the path's own frame there; after multiply().
std::vector<Frame> basesOf(const Path&, const PlacementInput&, const Facing& resolved, Placement&);
/// Exceptions by number of single places that multiply() made. `taken`: what a place takes up, in axes whose first
/// one is the path's tangent there.
std::optional<Problem> exceptCopies(const Path&, const PlacementInput&, const Facing& resolved, Placement&,
                                    const std::function<Occupied(size_t place, const Mat3& againstPath)>& taken);
/// Drops or raises every place, and what it stands on, onto the order's ground.
std::optional<Problem> dropFeet(const Path&, const PlacementInput&, const Facing& resolved, Placement&);
/// What the places stand on, with that of all their copies, as bodies behind the places.
void addBelow(const PlacementInput&, const std::vector<Below>&, Placement&);

} // namespace vicinal
