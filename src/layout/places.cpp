#include "layout/places.h"
#include "layout/along/bound_exceptions.h"
#include "layout/spacing/rule_kind.h"
#include "layout/stages.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

Slot slotOf(const Seat& seat, const Box3& box, const std::optional<Box3>& seated) {
    Slot out;
    out.turn = seatRotation(seat);
    out.origin = -(out.turn * seatPoint(seat, box));
    out.seated = seated ? *seated : seatedBox(seat, box);
    return out;
}

Pins seatedPins(const Slot& slot, const Pins& pins) {
    return {Vec3(slot.turn * pins[0] + slot.origin), Vec3(slot.turn * pins[1] + slot.origin)};
}

Mat4 Poses::pose(size_t i) const {
    const Frame& f = frames[i];
    const Slot& s = usedSlots[slot[i]];
    const double k = size[i];
    Mat4 m;
    m.topLeftCorner<3, 3>().noalias() = f.axes * s.turn;
    m.topRightCorner<3, 1>().noalias() = f.axes * s.origin;
    if (k != 1) m.topRows<3>() *= k;
    m.topRightCorner<3, 1>() += f.seat;
    m.row(3) << 0, 0, 0, 1;
    return m;
}

Places placesOf(std::shared_ptr<const Placement> laid, const std::vector<int>& leftOut, const Path& path, Places out) {
    out.staleLeftOut.clear();
    out.flags = std::uint8_t(0);
    out.set(std::move(laid));
    const Placement& all = *out.laid;
    const int n = int(all.count());
    const double* at = all.stations.data();
    out.present = n;
    const bool bounded = !all.bays.empty() && all.bays.front().bounded;
    if (leftOut.empty() && all.out.empty() && all.occupied.same() && !all.closed && all.oneRow() && !bounded) {
        const Occupied o = all.occupied[0]; // the common case, without a branch a place
        out.gaps.resize(size_t(std::max(0, n - 1)));
        for (int i = 0; i + 1 < n; ++i) out.gaps[size_t(i)] = {i, i + 1, at[i] + o.ahead, at[i + 1] - o.behind};
        if (n > 1 && at[n - 1] < at[0]) // a stretch over the seam of a closed path: one step goes round
            for (Gap& g : out.gaps)
                if (at[g.to] < at[g.from]) g.end += path.length();
        return out;
    }
    std::vector<std::uint8_t> flags(size_t(n), 0);
    bool any = false;
    const auto drop = [&](size_t i) {
        any = true;
        out.present -= flags[i] == 0;
        flags[i] |= Places::kLeftOut;
    };
    for (int number : leftOut) {
        if (number < 1 || number > n)
            out.staleLeftOut.push_back(number);
        else
            drop(size_t(number) - 1);
    }
    for (size_t i : all.out) drop(i);
    out.gaps.resize(size_t(n));
    int count = 0;
    const double L = path.length();
    const auto gap = [&](int a, int b, double lap) {
        out.gaps[size_t(count++)] = {a, b, at[a] + all.occupied[size_t(a)].ahead,
                                     at[b] + lap - all.occupied[size_t(b)].behind};
    };
    // Between what stands at the ends of bays, gaps end at its faces.
    const auto inBays = [&](int row) {
        for (const Bay& bay : all.bays) {
            double front = bay.start + bay.faceStart;
            int before = -1;
            const int first = row + int(bay.first);
            for (int i = first; i < first + int(bay.count); ++i) {
                if (flags[size_t(i)] & Places::kLeftOut) continue;
                double s = at[i];
                while (s < bay.start - tolerance::length) s += L;
                out.gaps.push_back({before < 0 ? i : before, i, front, s - all.occupied[size_t(i)].behind});
                front = s + all.occupied[size_t(i)].ahead;
                before = i;
            }
            const int last = before >= 0 ? before : std::clamp(first - 1, row, row + int(all.rowSize) - 1);
            out.gaps.push_back({last, last, front, bay.end - bay.faceEnd});
        }
    };
    if (bounded) {
        out.gaps.clear();
        for (int row = 0; row < n; row += int(all.rowSize)) inBays(row); // such rows are all alike
        if (any) out.flags = std::move(flags);
        return out;
    }
    all.eachRow(L, [&](size_t from, size_t each, double length) { // neighbours are of one row
        int first = -1, before = -1;
        for (int i = int(from); i < int(from + each); ++i) {
            if (flags[size_t(i)] & Places::kLeftOut) continue;
            if (before >= 0)
                gap(before, i, at[i] < at[before] ? length : 0);
            else
                first = i;
            before = i;
        }
        if (all.closed && before >= 0) gap(before, first, at[first] > at[before] ? 0 : length);
    });
    out.gaps.resize(size_t(count));
    if (any) out.flags = std::move(flags);
    return out;
}

namespace {

/// The lineup of an order whose exceptions are about these places (from 0).
class LineupMaker {
public:
    LineupMaker(const Path& path, const PlacementInput& order) : m_path(path), m_order(order) {
        const auto curve = [&](const Profile& p, double otherwise) {
            return p.empty() ? std::nullopt : std::optional(ProfileCurve(p, path.length(), path.closed(), otherwise));
        };
        m_size = curve(order.changes.size, 1);
        m_changing.roll = curve(order.changes.roll, 0);
        if (!std::holds_alternative<AtTarget>(order.facing.nose)) return;
        m_changing.across = curve(order.changes.across, 0);
        m_changing.up = curve(order.changes.up, 0);
    }

    Lineup make(const std::vector<std::pair<size_t, const Exception*>>& bound) const {
        const bool special = lengthsCount(m_order.spacing) && (!m_order.special.none() || !bound.empty());
        size_t used = 1; // what others stand on stands behind the rest
        for (auto s : m_order.pattern.order) used = std::max<size_t>(used, s + 1u);
        used = std::max(used, m_order.pattern.weights.size());
        const auto uses = [&](const std::optional<std::uint16_t>& s) {
            if (s) used = std::max<size_t>(used, *s + 1u);
        };
        SpecialSlots all;
        if (special) {
            const auto& s = m_order.special;
            all.first = s.first;
            all.last = s.last;
            all.corner = s.corner;
            if (s.every > 0) all.nth = s.nth;
            all.every = s.every;
            for (const auto& slot : {all.first, all.last, all.corner, all.nth}) uses(slot);
            for (const auto& [place, x] : bound)
                if (x->part > 0) uses(std::uint16_t(x->part - 1));
        }
        const size_t phases = lengthsCount(m_order.spacing) ? phasesOf(m_order.facing) : 1;
        std::vector<Occupancy> parts;
        std::vector<std::optional<double>> pins;
        for (size_t k = 0; k < used; ++k) {
            for (size_t p = 0; p < phases; ++p)
                parts.push_back(
                    occupancy(k, phases == 1 ? m_order.facing : turnedBy(extraTurn(m_order.facing, long(p)))));
            const PartOnRun part = partOf(m_order, k);
            pins.push_back(part.pins ? std::optional(((*part.pins)[1] - (*part.pins)[0]).norm()) : std::nullopt);
        }
        for (const auto& [place, x] : special ? bound : decltype(bound){}) {
            SpecialSlots::One one{long(place)};
            if (x->part > 0) one.part = std::uint16_t(x->part - 1);
            const bool aimedAnew = std::holds_alternative<AtTarget>(m_order.facing.nose) && !x->move.isZero(0);
            if (x->size != 1 || !x->turn.isZero(0) || aimedAnew) {
                Facing by;
                by.turn = x->turn;
                const bool turned = phases > 1 || !x->turn.isZero(0);
                const Facing f =
                    turned ? turnedBy(extraTurn(m_order.facing, long(place)) * extraTurn(by)) : m_order.facing;
                for (size_t k = 0; k < used; ++k) {
                    one.as.push_back(parts.size());
                    parts.push_back(occupancy(k, f, x));
                    parts.back().seldom();
                }
            }
            all.single.push_back(std::move(one));
        }
        Lineup out(std::move(parts), m_order.pattern, std::move(pins));
        out.setSpecial(std::move(all), used, phases);
        if (kindOf(m_order.spacing).vehicles())
            if (const auto facing = resolved(m_order.facing, m_path))
                out.setVehicles(std::make_shared<const Vehicles>(vehiclesOf(m_path, m_order, *facing)));
        return out;
    }

private:
    /// After so many places parts stand turned as the first one; 1 where turning does not change what they take up.
    size_t phasesOf(const Facing& f) const {
        constexpr long kMost = 720;
        const auto aboutNose = [](const Vec3& turn) { return turn.y() == 0 && turn.z() == 0; };
        const bool steep = std::holds_alternative<Plumb>(f.crown) && !m_path.steepStretches().empty();
        if (std::holds_alternative<AlongPath>(f.nose) && aboutNose(f.turn) && aboutNose(f.turnStep) && !steep) return 1;
        if (!f.stepsTurn() || std::holds_alternative<BetweenPins>(f.nose)) return 1;
        if (f.turnEvery > 0) return size_t(std::min(f.turnEvery, kMost));
        for (long n = 1; n <= kMost; ++n) {
            const auto whole = [&](double a) {
                return std::abs(std::remainder(a * double(n), 2 * kPi)) < tolerance::rounding;
            };
            if (whole(f.turnStep.x()) && whole(f.turnStep.y()) && whole(f.turnStep.z())) return size_t(n);
        }
        return 1;
    }
    /// The facing with this extra turn.
    Facing turnedBy(const Mat3& R) const {
        Facing out = m_order.facing;
        out.backwards = false;
        out.turnStep.setZero();
        const Angles a = anglesOf(R); // Rz(heading) Ry(-slope) Rx(roll), also where the nose is vertical
        out.turn = Vec3(a.roll, -a.slope, a.heading);
        return out;
    }
    Occupancy occupancy(size_t k, const Facing& facing, const Exception* x = nullptr) const {
        const double size = x ? x->size : 1;
        Occupancy::Changing changing = m_changing;
        if (x) changing.move = x->move;
        const PartOnRun part = partOf(m_order, k);
        const Slot slot = slotOf(part.seat, part.box, part.seated);
        Box3 box = slot.seated;
        std::optional<Occupancy::OnPins> on;
        if (part.pins) on = Occupancy::pinsOf(seatedPins(slot, *part.pins), slot.seated);
        if (size != 1) { // about the seat point
            box = Box3(Vec3(box.min() * size), Vec3(box.max() * size));
            if (on) on = Occupancy::OnPins{on->apart * size, on->back * size, on->front * size};
        }
        return {m_path, facing, slot.turn, box, m_size, on, changing};
    }

    const Path& m_path;
    const PlacementInput& m_order;
    std::optional<ProfileCurve> m_size;
    Occupancy::Changing m_changing;
};

} // namespace

Lineup lineupOf(const Path& path, const PlacementInput& order) {
    std::vector<std::pair<size_t, const Exception*>> bound;
    return lineupOf(path, order, bound);
}

Lineup lineupOf(const Path& path, const PlacementInput& order,
                std::vector<std::pair<size_t, const Exception*>>& bound) {
    const LineupMaker maker(path, order);
    bound.clear();
    const bool aims = std::holds_alternative<AtTarget>(order.facing.nose);
    const auto counts = [&](const Exception& x) {
        return x.part > 0 || x.size != 1 || !x.turn.isZero(0) || (aims && !x.move.isZero(0));
    };
    const auto add = [&](size_t place, const Exception& x) {
        const auto at =
            std::lower_bound(bound.begin(), bound.end(), place, [](const auto& b, size_t v) { return b.first < v; });
        if (at == bound.end() || at->first != place) bound.insert(at, {place, &x});
    };
    bool byStation = false;
    if (lengthsCount(order.spacing))
        for (const Exception& x : order.exceptions) {
            if (!counts(x)) continue;
            byStation = byStation || x.station;
            if (!x.station && x.place > 0) add(size_t(x.place) - 1, x);
        }
    if (!byStation) return maker.make(bound);
    // The place nearest to a station depends on what stands there: until the same ones are found again.
    const auto byNumber = bound;
    for (int round = 0; round < 6; ++round) {
        Lineup now = maker.make(bound);
        const auto st = solveSpacing(path, order.spacing, now, {}, order.edges);
        if (!st) return now;
        const RowStations row{st->at, st->pitch, path.length(), st->closed};
        const auto before = std::exchange(bound, byNumber);
        for (const Exception& x : order.exceptions)
            if (counts(x) && x.station) {
                auto at = placeOf(x, row);
                for (const auto& [place, was] : before) // with its own part it may have moved away: it stays the one
                    if (!at && was == &x) at = place;
                if (at) add(*at, x);
            }
        if (bound == before) return now;
    }
    return maker.make(bound);
}

namespace {

/// As before anything stands.
void cleared(Placement& out, const PlacementInput& order) {
    out.usedSlots.clear();
    for (size_t k = 0; k <= order.others.size(); ++k) {
        const PartOnRun part = partOf(order, k);
        out.usedSlots.push_back(slotOf(part.seat, part.box, part.seated));
    }
    out.slot = std::uint16_t(0);
    out.size = 1.0;
    out.out.clear();
    out.noRoom.clear();
    out.staleExceptions.clear();
    out.ownRows.clear();
    out.carriers.clear();
    out.dropped.reset();
}

/// What spacing found, for all that follows.
void take(Stations& solved, Placement& out) {
    out.stations = std::move(solved.at);
    out.pitch = solved.pitch;
    out.leftOver = solved.leftOver;
    out.uneven = solved.uneven;
    out.value = solved.value;
    out.closed = solved.closed;
    out.closing = solved.closing;
    out.play = solved.play;
    out.joints = std::move(solved.joints);
    out.swings = std::move(solved.swings);
    out.bays = solved.bays;
}

/// What parts take up of the path, as they are measured on it.
class Taken {
public:
    Taken(const Path& path, const PlacementInput& order, const Facing& facing, const Stations& solved,
          const std::vector<double>& pinLengths, Placement& out)
        : m_path(path), m_order(order), m_facing(facing), m_solved(solved), m_pinLengths(pinLengths), m_out(out),
          m_n(out.count()), m_coupled(!out.swings.empty()), m_tangents(out.count()) {
        for (const Slot& slot : out.usedSlots) {
            Facing plain; // its nose and crown tell how it is measured
            plain.nose = m_coupled ? NoseRule(AlongPath{}) : facing.nose;
            plain.crown = m_coupled ? CrownRule(Upright{}) : facing.crown;
            plain.direction = facing.direction;
            m_bare.emplace_back(path, plain, Mat3::Identity(), slot.seated);
        }
        sweeps(std::span(out.stations).first(m_n), [&](size_t first, std::span<const double> rising) {
            detail::tangentsAt(path, rising, facing.corner,
                               [&](size_t i, const Vec3&, const Vec3& t) { m_tangents[first + i] = t; });
        });
    }
    /// Each place of the first row, as it stands now.
    void each() const {
        auto& taken = m_out.occupied.each(m_n);
        for (size_t i = 0; i < m_n; ++i) taken[i] = of(i, i, m_out.frames[i].axes);
    }
    /// A place that was put somewhere else, turned so against its path's own frame.
    Occupied moved(size_t i, const Mat3& againstPath) const {
        const size_t o = m_out.original(i);
        if (o >= m_n) return m_out.occupied[i]; // of a row with a path of its own
        Mat3 own;
        faceAt(m_path, std::span(&m_out.stations[o], 1), pathFacing(m_facing), Mat3::Identity(),
               [&](size_t, const Vec3&, const Vec3&, const Mat3& R) { own = R; });
        return of(i, o, own * againstPath);
    }

private:
    /// Place `i`, with its part and size, where place `o` of the first row is.
    Occupied of(size_t i, size_t o, const Mat3& axes) const {
        const PartOnRun part = partOf(m_order, m_out.slot[i]);
        const Slot& slot = m_out.usedSlots[m_out.slot[i]];
        const double size = m_out.size[i];
        if (!m_pinLengths.empty() && !std::isnan(m_pinLengths[o]) && part.pins)
            return Occupancy::between(Occupancy::pinsOf(seatedPins(slot, *part.pins), slot.seated), size,
                                      m_pinLengths[o]);
        // Vehicles are measured along themselves.
        const Occupied at = m_bare[m_out.slot[i]].of(m_coupled ? Vec3(axes.col(0)) : m_tangents[o], axes);
        const Occupied taken{at.ahead * size, at.behind * size};
        // The station is where its rearmost point stands; the seat lies somewhere along it.
        if (m_solved.pins.empty() || !part.pins) return taken;
        double length = std::fmod(m_solved.pins[o] - m_out.stations[o], m_path.length());
        if (length < 0) length += m_path.length();
        const auto pins = seatedPins(slot, *part.pins);
        const double on = length / 2 - (pins[0].x() + pins[1].x()) / 2 * size;
        return {taken.ahead + on, taken.behind - on};
    }

    const Path& m_path;
    const PlacementInput& m_order;
    const Facing& m_facing;
    const Stations& m_solved;
    const std::vector<double>& m_pinLengths;
    Placement& m_out;
    size_t m_n; ///< places of the first row
    bool m_coupled;
    std::vector<Occupancy> m_bare; ///< of each part, as if nothing were changed
    std::vector<Vec3> m_tangents;
};

} // namespace

Result<Placement> solvePlacement(const Path& path, const PlacementInput& order, Placement out) {
    if (auto defect = defectOf(order)) return *defect;
    const auto facing = resolved(order.facing, path);
    if (!facing) return facing.problem();
    cleared(out, order);
    const Mat3 R_SP = out.usedSlots[0].turn;
    std::vector<std::pair<size_t, const Exception*>> bound; // that spacing has counted with
    const Lineup lineup = lineupOf(path, order, bound);
    auto solved = solveSpacing(path, order.spacing, lineup, std::move(out.stations), order.edges);
    if (!solved) return solved.problem();
    take(solved.value(), out);
    const size_t n = out.count();
    out.rowSize = n;
    out.frames.resize(n);
    const bool simple = alongOnly(order);
    const Occupancy& occupancy = lineup.parts().front();
    const bool varies = simple && !occupancy.constant();
    if (simple && !varies) out.occupied = occupancy.at(0);
    Occupied* occupied = varies ? out.occupied.each(n).data() : nullptr;
    // What comes behind takes frames that are not turned yet.
    const FrameLoop loop{path, *facing, R_SP, simple, occupancy};
    sweeps(out.stations, [&](size_t first, std::span<const double> rising) {
        loop.fill(rising, out.frames.data() + first, occupied ? occupied + first : nullptr);
    });
    if (simple && std::holds_alternative<AtTarget>(facing->nose))
        for (size_t i = 0; i < n; ++i)
            if ((aimOf(*facing, out.frames[i].seat) - out.frames[i].seat).norm() <= tolerance::length)
                return atTarget(*facing, i);
    if (simple) return out;
    std::vector<Below> below;
    std::vector<double> pinLengths;
    if (auto p = applyModifiers(path, order, *facing, *solved, bound, out, below, pinLengths)) return *p;
    const Taken taken(path, order, *facing, *solved, pinLengths, out);
    taken.each();
    // Rows and echoes take up what their originals do.
    if (auto p = multiply(path, order, *facing, out)) return *p;
    const auto takenBy = [&](size_t i, const Mat3& againstPath) { return taken.moved(i, againstPath); };
    if (auto p = exceptCopies(path, order, *facing, out, takenBy)) return *p;
    addBelow(order, below, out);
    if (auto p = dropFeet(path, order, *facing, out)) return *p;
    return out;
}

Result<Places> place(const Path& path, const PlacementInput& order) {
    auto laid = solvePlacement(path, order);
    if (!laid) return laid.problem();
    return placesOf(std::make_shared<const Placement>(std::move(laid).value()), order.leftOut, path);
}

} // namespace vicinal
