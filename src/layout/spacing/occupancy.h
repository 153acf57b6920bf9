#pragma once
// How much of a path a part takes up, and the walk from one place to the next by clear gap.
#include "geometry/path/path.h"
#include "layout/along/profile.h"
#include "layout/facing/facing.h"
#include "layout/spacing/occupied.h"
#include <memory>

namespace vicinal {

class OccupancyTable; // occupancy.cpp

/// How much of the path a part occupies at a station. Two equal boxes, one moved from the other by d along the tangent
/// t, are free of each other exactly when d >= min over the box axes a of size_a / |t . a|; that axis tells ahead and
/// behind.
class Occupancy {
public:
    /// box: the part's box in seat axes (seatedBox); must outlive nothing: all is copied except the path's shared
    /// tables.
    /// `size`: a factor on the part at every station, if any.
    Occupancy(Path path, Facing facing, const Mat3& partRotation, const Box3& box,
              std::optional<ProfileCurve> size = {});
    /// True when it is the same all along, so that equal gaps mean equal pitch.
    bool constant() const { return m_constant; }
    Occupied at(double station) const;
    /// The same for many stations, rising except for one wrap; one sweep.
    std::vector<Occupied> at(std::span<const double> stations) const;
    /// The same from a tangent and a rotation that are known already.
    Occupied of(const Vec3& tangent, const Mat3& R) const;
    /// On a straight, level path: its own extents along the nose, at size 1.
    Occupied level() const;
    const Path& path() const { return m_path; }
    /// Stations where its size bends.
    std::vector<double> breaks() const;
    /// Mean length of path taken up over the whole path, mm, to about a thousandth: a first guess.
    double mean() const;

private:
    friend class GapWalk;
    const OccupancyTable& table() const;

    Path m_path;
    Facing m_facing;
    Mat3 m_partRotation;
    Box3 m_box;
    std::optional<ProfileCurve> m_size;
    bool m_constant = false;
    Occupied m_fixed;
    struct Lazy;
    std::shared_ptr<Lazy> m_lazy;
};

/// Walks forward from place to place by clear gap. Between the stations where it jumps (corners, a change of the axis
/// that decides) the occupancy is tabulated to about 1e-10 mm, so a step costs some tens of nanoseconds.
class GapWalk {
public:
    explicit GapWalk(const Occupancy&);
    /// Goes to a station (unwrapped: on a closed path it may lie beyond the length) and tells the occupancy there.
    Occupied start(double station);
    /// From the place it stands at to the first station whose part has its back at or beyond `gap` from this one's
    /// front, so that the gap is exactly `gap` except where the occupancy jumps: there it is the least that is not
    /// below it. Never goes backwards; stands still when the gap is so negative that there is no way forward.
    /// Beyond the end of an open path the part takes up what it does at the end.
    double step(double gap) { return reach(front() + gap); }
    /// The same, to the first station whose part has its back at or beyond `edge`.
    double reach(double edge);
    double front() const { return m_station + m_occupied.ahead; }
    double back() const { return m_station - m_occupied.behind; }

private:
    double lapOf(double station) const;
    bool stand(size_t corner, double F); ///< on the corner, when the back is beyond F there

    const Occupancy& m_part;
    const OccupancyTable* m_table = nullptr; ///< null when the occupancy is the same everywhere
    size_t m_piece = 0;
    double m_lap = 0, m_station = 0, m_length;
    bool m_closed;
    Occupied m_occupied;
};

} // namespace vicinal
