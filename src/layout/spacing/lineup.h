#pragma once
// Which part stands where in the order of places, as the rules of spacing measure them.
#include "layout/spacing/occupancy.h"
#include "layout/vehicles/vehicles.h"
#include <cstdint>
#include <memory>

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

/// The parts of a run with their pattern. A bay starts the pattern anew.
class Lineup {
public:
    Lineup(const Occupancy& only) : m_parts{only} {}
    /// `pins`: straight distance between the pins of every part that has them, mm. Precondition: the pattern names only
    /// parts that are there.
    Lineup(std::vector<Occupancy> parts, Pattern pattern, std::vector<std::optional<double>> pins = {});
    /// For a rule that couples them.
    void setVehicles(std::shared_ptr<const Vehicles> v) { m_vehicles = std::move(v); }
    const Vehicles* vehicles() const { return m_vehicles.get(); }
    std::optional<double> pins(long i) const { return slot(i) < m_pins.size() ? m_pins[slot(i)] : std::nullopt; }

    bool single() const { return m_parts.size() == 1; }
    /// One part that takes up the same everywhere: equal gaps mean equal pitch.
    bool constant() const { return single() && m_parts[0].constant(); }
    /// After so many places the pattern begins anew; 1 where chance chooses.
    long period() const;
    size_t slot(long i) const { return single() ? 0 : m_pattern.slot(i); }
    const Occupancy& part(long i) const { return m_parts[slot(i)]; }
    const std::vector<Occupancy>& parts() const { return m_parts; }
    const Path& path() const { return m_parts[0].path(); }
    /// Mean length of path that a place takes up, mm: a first guess.
    double mean() const;
    /// The same on a straight, level path.
    double level() const;

private:
    template<class Length> double meanOf(Length&&) const;
    std::vector<Occupancy> m_parts;
    Pattern m_pattern;
    std::vector<std::optional<double>> m_pins;
    std::shared_ptr<const Vehicles> m_vehicles;
};

} // namespace vicinal
