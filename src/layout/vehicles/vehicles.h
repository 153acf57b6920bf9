#pragma once
// Parts that stand on two points each: on the path itself, or on parts that do (a vehicle on its bogies, to any depth);
// and how they are coupled to each other.
#include "geometry/path/path.h"
#include "layout/facing/rules.h"
#include "layout/frame.h"
#include "layout/seat.h"
#include <optional>
#include <vector>

namespace vicinal {

/// How a part stands. Seat axes, mm.
struct Gear {
    Pins pins{};                      ///< back and front
    Pins hooks{};                     ///< where it is coupled, back and front
    std::array<int, 2> under{-1, -1}; ///< slot of the part that each pin stands on, in the middle between that one's
                                      ///< own pins; below zero: the path itself
    double back = 0, front = 0;       ///< its ends along the nose
    double apart() const { return (pins[1] - pins[0]).norm(); }
};

/// Where one stands.
struct VehiclePose {
    size_t slot = 0;
    double first = 0, last = 0; ///< stations of the rearmost and the foremost point on the path, unwrapped; `last` is
                                ///< not a number where there is no way on
    Vec3 back = Vec3::Zero(), front = Vec3::Zero(); ///< its pins
    Vec3 middle() const { return (back + front) / 2; }
    Vec3 nose() const { return (front - back).normalized(); }
    bool stands() const { return last == last; }
};

class Vehicles {
public:
    /// `gears`: one a slot; nothing for parts without pins. Precondition: `facing` is resolved, no part stands on
    /// itself, and what something stands on has pins.
    Vehicles(const Path&, const Facing& facing, std::vector<std::optional<Gear>> gears);

    bool has(size_t slot) const { return slot < m_gears.size() && m_gears[slot].has_value(); }
    const Gear& gear(size_t slot) const { return *m_gears[slot]; }
    /// True when something else than the path is under a pin of it.
    bool carried(size_t slot) const { return has(slot) && (gear(slot).under[0] >= 0 || gear(slot).under[1] >= 0); }

    /// With its rearmost point at a station (at the front pin: the first one ahead that is as far away as the pins are
    /// apart, by what the path is there). `below`: what it stands on is added, deepest first. Precondition: it has a
    /// gear.
    VehiclePose stand(size_t slot, double station, std::vector<VehiclePose>* below = nullptr) const;
    /// Its nose through its pins, the crown by the crown rule half-way.
    Frame frame(const VehiclePose&) const;
    /// The next vehicle, ahead of one that stands: its back hook `gap` straight from that one's front hook. `least`:
    /// the shortest gap that works, where this one is too short.
    VehiclePose coupled(const VehiclePose& before, size_t slot, double gap, double* least = nullptr) const;

    /// On the straight: from the rearmost point on the path to the middle between the pins of slot; to a hook of it;
    /// to its foremost point on the path. mm.
    double toMiddle(int slot) const;
    double toHook(size_t slot, int which) const;
    double toLast(int slot) const;

    /// The largest turn, rad, between a part and what it stands on, anywhere under it.
    double swing(const VehiclePose&, const std::vector<VehiclePose>& below) const;
    /// The smallest radius, mm, of a bend in plan that it can stand on: with what is under it turning by `swing` at
    /// most. In closed form: pins on a circle of radius q turn their part by asin(apart / 2q), and stand on a path of
    /// radius sqrt(q^2 + (half of what is under them)^2).
    double smallestRadius(size_t slot, double swing) const;

private:
    Vec3 on(int under, double station, double& last, std::vector<VehiclePose>* below) const;
    double pinsRadius(int slot, double middle) const;

    const Path& m_path;
    Facing m_facing;
    std::vector<std::optional<Gear>> m_gears;
    std::vector<Mat3> m_turned; ///< one a slot: axes that take the line through its pins to the nose
};

} // namespace vicinal
