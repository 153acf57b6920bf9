#pragma once
// Which part stands where in the order of places, as the rules of spacing measure them.
#include "layout/spacing/walk/occupancy.h"
#include "layout/vehicles/vehicles.h"
#include <cstdint>
#include <memory>
#include <optional>
#include <vector>

namespace vicinal {

/// Place i, from 0, has slot i of a pattern that is repeated, or one chosen by weights: a seeded choice that is the
/// same on every machine.
struct Pattern {
    std::vector<std::uint16_t> order{0}; ///< slots; repeated
    std::vector<double> weights{};       ///< of the slots; when there are any they choose instead of the order
    std::uint64_t seed = 1;
    std::uint16_t slot(long i) const;
    bool single() const { return weights.empty() && order.size() == 1; }
};

/// A number from 0 (with it) to 1 (without it) that a seed, a place and a purpose give: SplitMix64 over their mix.
/// Source: Steele, Lea, Flood, "Fast splittable pseudorandom number generators", OOPSLA 2014.
double chance(std::uint64_t seed, std::uint64_t place, std::uint64_t purpose);

/// Parts that stand at special places, whatever the pattern says, by the numbers of the whole run.
struct SpecialSlots {
    std::optional<std::uint16_t> first{}, last{}, corner{}, nth{};
    long every = 0; ///< nth stands at every so-many-th place, from the first
    /// A single place with another part or one that takes up otherwise.
    struct One {
        long place = 0; ///< from 0
        std::optional<std::uint16_t> part{};
        /// Index into Lineup::parts() of what takes up what it does, by its slot; nothing: as its slot.
        std::vector<size_t> as{};
    };
    std::vector<One> single{}; ///< by rising place
    bool none() const { return !first && !last && !corner && !(nth && every > 0) && single.empty(); }
};

/// The parts of a run with their pattern. A bay starts the pattern anew.
class Lineup {
public:
    Lineup(const Occupancy& one) : m_parts{one} {}
    /// `pins`: straight distance between the pins of every part that has them, mm. Precondition: the pattern names only
    /// parts that are there.
    Lineup(std::vector<Occupancy> parts, Pattern pattern, std::vector<std::optional<double>> pins = {});
    /// parts() holds every slot `phases` times, as parts are turned on from place to place; behind all slots stands
    /// what single places take up.
    void setSpecial(SpecialSlots s, size_t count, size_t phases);
    const SpecialSlots& special() const { return m_special; }
    /// True for slots that some place can have; others are there for the count only.
    bool stands(size_t slot) const;
    size_t slotCount() const { return m_slots; }
    /// The slot of a place, from 0 in the run, that has a number in the pattern; `last`: of the run; `corner`: it is a
    /// corner's.
    size_t slotAt(long inPattern, long inRun, bool last, bool corner) const;
    /// Index into parts() of what a place takes up that has this slot.
    size_t indexAt(size_t slot, long inRun) const;
    /// For a rule that couples them.
    void setVehicles(std::shared_ptr<const Vehicles> v) { m_vehicles = std::move(v); }
    const Vehicles* vehicles() const { return m_vehicles.get(); }
    /// Of a slot.
    std::optional<double> pins(size_t slot) const { return slot < m_pins.size() ? m_pins[slot] : std::nullopt; }

    bool single() const { return m_parts.size() == 1; }
    /// One part that takes up the same everywhere: equal gaps mean equal pitch.
    bool constant() const { return single() && m_parts[0].constant(); }
    /// After so many places the pattern begins anew; 1 where chance chooses.
    long period() const;
    const Occupancy& only() const { return m_parts[0]; } ///< where it is single()
    const std::vector<Occupancy>& parts() const { return m_parts; }
    const Path& path() const { return m_parts[0].path(); }
    /// Mean length of path that a place takes up, mm: a first guess where it varies.
    double mean() const;

private:
    std::vector<Occupancy> m_parts;
    size_t m_slots = 1, m_phases = 1;
    Pattern m_pattern;
    SpecialSlots m_special;
    std::vector<std::optional<double>> m_pins;
    std::shared_ptr<const Vehicles> m_vehicles;
};

} // namespace vicinal
