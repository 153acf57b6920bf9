#pragma once
#include "layout/frame.h"
#include "layout/seat.h"
#include "layout/spacing/spacing.h"
#include <cstdint>
#include <memory>

namespace vicinal {

struct Dropped;

/// A value a place: one for all of them, or one each.
template<class T> class Column {
public:
    Column() = default;
    Column(T forAll) : m_values{std::move(forAll)} {}
    Column(std::vector<T> each) : m_values(std::move(each)) {}
    const T& operator[](size_t i) const { return m_values.size() == 1 ? m_values[0] : m_values[i]; }
    bool same() const { return m_values.size() == 1; } ///< one for all
    /// Where there is one each.
    T& at(size_t i) { return m_values[i]; }
    void add(const T& v) { m_values.push_back(v); }
    /// To be written; the values of before are lost.
    std::vector<T>& each(size_t n) {
        m_values.resize(n);
        return m_values;
    }

private:
    std::vector<T> m_values;
};

/// One part of a run with its seat folded in: part axes to frame axes is x -> turn x + origin.
struct Slot {
    Mat3 turn = Mat3::Identity();
    Vec3 origin = Vec3::Zero(); ///< of the part's own axes, mm
    Box3 seated;                ///< true extents in seat axes
};
/// Precondition: the seat has no defect. `seated`: as extents() knows it; else that of the box.
Slot slotOf(const Seat&, const Box3& partBox, const std::optional<Box3>& seated = {});
/// A part's pins in seat axes.
Pins seatedPins(const Slot&, const Pins& inPartAxes);

/// Rigid parts as they stand in space, whatever put them there.
struct Poses {
    /// Of all bodies: the places, then what these stand on and that is no place itself (bogies).
    std::vector<Frame> frames;
    std::vector<std::uint32_t> carriers; ///< the place of each of those
    std::vector<Slot> usedSlots;         ///< the parts that stand there
    Column<std::uint16_t> slot = 0;      ///< which of them
    Column<double> size = 1;             ///< factor, about the seat point

    size_t bodies() const { return frames.size(); }
    size_t count() const { return frames.size() - carriers.size(); } ///< places
    size_t placeOf(size_t body) const { return body < count() ? body : carriers[body - count()]; }
    /// Of a body: part axes to world.
    Mat4 pose(size_t i) const;
};

/// The same with what is not there: what is drawn, measured and sent out.
struct Instances {
    std::shared_ptr<const Poses> poses; ///< never null
    static constexpr std::uint8_t kLeftOut = 1;
    Column<std::uint8_t> flags = std::uint8_t(0); ///< a place
    int present = 0;                              ///< places less those left out

    size_t count() const { return poses->count(); }
    size_t bodies() const { return poses->bodies(); }
    size_t placeOf(size_t body) const { return poses->placeOf(body); }
    /// Of a body: its place is.
    bool leftOut(size_t i) const { return flags[placeOf(i)] & kLeftOut; }
    const Frame& frame(size_t i) const { return poses->frames[i]; }
    size_t slot(size_t i) const { return poses->slot[i]; }
    double size(size_t i) const { return poses->size[i]; }
    Mat4 pose(size_t i) const { return poses->pose(i); }
};

/// Places as rule and path lay them out, before anything is left out.
struct Placement : Poses {
    std::vector<double> stations;
    Column<Occupied> occupied; ///< length of path taken up
    /// Rows, tiers and echoes stand one after the other in all of the columns; each is so many places, but for rows
    /// that keep their own pitch.
    size_t rowSize = 0;
    /// Such rows, the first one with them: where each begins, and the length of its own path. Tiers and echoes are
    /// copies of all of them. Empty where all rows are alike.
    struct OwnRow {
        size_t first = 0, count = 0;
        double length = 0;                  ///< mm
        std::shared_ptr<const Path> path{}; ///< null: the run's own
    };
    std::vector<OwnRow> ownRows{};
    bool closed = false;            ///< each row goes all the way round: its last place's neighbour is its first
    double pitch = 0, leftOver = 0; ///< mm
    double value = 0;               ///< as Stations
    std::optional<Stations::Uneven> uneven; ///< gaps that were to be equal and cannot be
    std::optional<double> closing;          ///< as Stations
    double play = 0;                        ///< as Stations
    std::vector<double> joints;             ///< as Stations; of the first row
    std::vector<double> swings;             ///< as Stations
    std::vector<Bay> bays;                  ///< as Stations
    std::vector<int> staleExceptions; ///< indices into PlacementInput::exceptions that found no place: kept, listed
    std::vector<size_t> out;          ///< places that an exception leaves out, or for which there is no room
    std::vector<size_t> noRoom;       ///< those of staggered rows that would stand beyond the end
    std::shared_ptr<const Dropped> dropped; ///< of feet on the ground; else null

    size_t count() const { return stations.size(); } // before there are bodies, too
    /// The first places, that tiers and echoes repeat: what exceptions are bound to.
    size_t originals() const { return ownRows.empty() ? rowSize : ownRows.back().first + ownRows.back().count; }
    size_t original(size_t i) const { return originals() > 0 ? i % originals() : i; }
    bool oneRow() const { return count() == rowSize; }
    /// Every row: first place, how many, length of its path (`length` where it is the run's own).
    template<class Use> void eachRow(double length, Use&& use) const {
        if (ownRows.empty())
            for (size_t i = 0; i < count(); i += std::max<size_t>(1, rowSize))
                use(i, std::min(rowSize, count() - i), length);
        else
            for (size_t b = 0; b < count(); b += originals())
                for (const OwnRow& r : ownRows) use(b + r.first, r.count, r.length);
    }
};

/// The free stretch between two neighbours that are really there.
struct Gap {
    int from = 0, to = 0; ///< place indices (from 0); on a closed path the last gap leads back
    double start = 0,
           end =
               0; ///< stations of the front of `from` and the back of `to`, mm (end may exceed the length at the seam)
    double clear() const { return end - start; }
};

/// All places of a run: as they were laid out, which are there, and the gaps between those.
struct Places : Instances {
    std::shared_ptr<const Placement> laid; ///< never null
    std::vector<Gap> gaps;                 ///< between present neighbours, in order
    std::vector<int> staleLeftOut; ///< exceptions (place numbers) beyond the last place: kept, listed, without effect

    Places() : Places(std::make_shared<const Placement>()) {}
    explicit Places(std::shared_ptr<const Placement> of) { set(std::move(of)); }
    void set(std::shared_ptr<const Placement> of) { poses = laid = std::move(of); }
    const std::vector<double>& stations() const { return laid->stations; }
    const Occupied& occupied(size_t i) const { return laid->occupied[i]; }
};

/// Hands every pitch to `use`: (index, mm along the path to the next place of its row). Rows that are abreast of the
/// first one have its pitches; over a seam the length is not known here.
template<class Use> void eachPitch(const Places& p, Use&& use) {
    const Placement& all = *p.laid;
    const auto row = [&](size_t first, size_t count) {
        for (size_t i = first; i + 1 < first + count; ++i)
            if (const double d = all.stations[i + 1] - all.stations[i]; d >= 0) use(i, d);
    };
    if (all.ownRows.empty()) row(0, all.rowSize);
    for (const auto& own : all.ownRows) row(own.first, own.count);
}

/// Last stages: what is left out, and the gaps between those that remain. `reuse`: as of solvePlacement().
Places placesOf(std::shared_ptr<const Placement>, const std::vector<int>& leftOut, const Path&, Places reuse = {});

} // namespace vicinal
