#pragma once
// How much of a path a part takes up, and the walk from one place to the next by clear gap.
#include "geometry/path/path.h"
#include "layout/along/profile.h"
#include "layout/facing/facing.h"
#include "layout/spacing/walk/occupied.h"
#include <memory>

namespace vicinal {

class OccupancyTable; // occupancy.cpp

/// What else changes how a part is turned from station to station: its roll, and where it stands beside the path
/// when it is aimed from there.
struct PartChanging {
    std::optional<ProfileCurve> roll{}, across{}, up{};
    Vec3 move = Vec3::Zero(); ///< of a single place, mm: along, across, up
};

/// How much of the path a part occupies at a station: the gap along is what of the path two neighbours leave between
/// them. It is not the distance between their bodies. How a part is measured goes by its facing:
/// - square to the path: two equal boxes, one moved from the other by d along the tangent t, are free of each other
///   exactly when d >= min over the box axes a of size_a / |t . a|; that axis tells ahead and behind (unturned: the
///   extents along the nose);
/// - plumb: the same in plan, moved along the level direction of the path, over the cosine of its slope: neighbours of
///   any heights stand beside each other, not over each other (but where the path is steeper than tolerance::steep);
/// - as drawn, at a target: neighbours are turned differently; what their boxes reach along the tangent;
/// - between pins: from the station of the back pin to that of the front pin, and what stands out beyond each along the
///   line through both.
class Occupancy {
public:
    /// Of a part between its pins, mm: how far they are from each other, what stands out behind the back pin and beyond
    /// the front one.
    struct OnPins {
        double apart = 0, back = 0, front = 0;
    };
    using Changing = PartChanging;
    /// box: the part's box in seat axes (seatedBox); must outlive nothing: all is copied except the path's shared
    /// tables.
    /// `size`: a factor on the part at every station, if any. `pins`: of a part that has some, used when its nose runs
    /// through them.
    Occupancy(Path path, Facing facing, const Mat3& partRotation, const Box3& box,
              std::optional<ProfileCurve> size = {}, std::optional<OnPins> pins = {}, Changing changing = {});
    /// Only a place or so has this part: it is asked for, not tabulated.
    void seldom() { m_seldom = true; }
    /// True when it is the same all along, so that equal gaps mean equal pitch.
    bool constant() const { return m_constant; }
    Occupied at(double station) const;
    /// The same for many stations, rising except for one wrap; one sweep.
    std::vector<Occupied> at(std::span<const double> stations) const;
    /// The same from a tangent and a rotation that are known already; not of a part between pins.
    Occupied of(const Vec3& tangent, const Mat3& R) const;
    /// Of such a part, so many times its size, with so much of the path from its back pin to its front pin, mm; the
    /// station is the back pin's.
    static Occupied between(const OnPins&, double size, double length);
    static OnPins pinsOf(const std::array<Vec3, 2>& pins, const Box3& box); ///< both in seat axes
    /// The same as straight distances tell it: of a part between its pins how far these are from each other, whatever
    /// the path does between them.
    Occupied straightAt(double station) const;
    const Path& path() const { return m_path; }
    /// The factor on the part there.
    double sizeAt(double station) const { return m_size ? m_size->at(station) : 1; }
    /// Stations where its size bends.
    std::vector<double> breaks() const;
    /// Mean length of path taken up over the whole path, mm, to about a thousandth: a first guess.
    double mean() const;

private:
    friend class GapWalk;
    const OccupancyTable& table() const;

    enum class Kind { Square, Plan, Reach, TwoPoints };
    /// Where its front pin stands jumps where the path bends sharply: what lies ahead is asked for, not tabulated.
    bool onPins() const { return m_kind == Kind::TwoPoints; }
    Occupied apart(const Vec3& direction, const Mat3& R) const;
    Occupied onPath(double station) const; ///< Kind::TwoPoints

    Path m_path;
    Facing m_facing;
    Mat3 m_partRotation;
    Box3 m_box;
    std::optional<ProfileCurve> m_size;
    std::optional<OnPins> m_pins;
    Changing m_changing;
    Mat3 m_turn; ///< the extra turn
    Kind m_kind = Kind::Square;
    bool m_constant = false, m_seldom = false;
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
    bool beyondJump(double F);           ///< a little behind the piece's start, where the back is beyond F there, too
    bool ask(double edge);               ///< reach() without a table, where that settles
    void tabulate();

    const Occupancy& m_part;
    const OccupancyTable* m_table = nullptr; ///< null when the occupancy is the same everywhere
    size_t m_piece = 0;
    double m_lap = 0, m_station = 0, m_length;
    bool m_closed;
    Occupied m_occupied;
};

} // namespace vicinal
