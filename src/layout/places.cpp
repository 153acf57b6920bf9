#include "layout/places.h"
#include "layout/spacing/rules.h"
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

Mat4 Laid::pose(size_t i) const {
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

Places placesOf(std::shared_ptr<const Laid> laid, const std::vector<int>& leftOut, const Path& path, Places out) {
    out.staleLeftOut.clear();
    out.flags = std::uint8_t(0);
    out.laid = std::move(laid);
    const Laid& all = *out.laid;
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
            const int last = before >= 0 ? before : std::clamp(first - 1, row, row + int(all.inRow) - 1);
            out.gaps.push_back({last, last, front, bay.end - bay.faceEnd});
        }
    };
    if (bounded) {
        out.gaps.clear();
        for (int row = 0; row < n; row += int(all.inRow)) inBays(row); // such rows are all alike
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

Lineup lineupOf(const Path& path, const PlaceOrder& order) {
    std::vector<Occupancy> parts;
    std::vector<std::optional<double>> pins;
    std::optional<ProfileCurve> size;
    if (!order.changes.size.empty()) size.emplace(order.changes.size, path.length(), path.closed(), 1.0);
    // Only what the pattern names: parts of special places stand where the others leave room.
    size_t used = 1;
    for (auto s : order.pattern.order) used = std::max<size_t>(used, s + 1u);
    used = std::max(used, order.pattern.weights.size());
    for (size_t k = 0; k < used; ++k) {
        const PartOnRun part = partOf(order, k);
        const Slot slot = slotOf(part.seat, part.box, part.seated);
        parts.emplace_back(path, order.facing, slot.turn, slot.seated, size);
        pins.push_back(part.pins ? std::optional(((*part.pins)[1] - (*part.pins)[0]).norm()) : std::nullopt);
    }
    Lineup out(std::move(parts), order.pattern, std::move(pins));
    if (std::holds_alternative<Coupled>(order.spacing->rule))
        if (const auto facing = resolved(order.facing, path))
            out.setVehicles(std::make_shared<const Vehicles>(vehiclesOf(path, order, *facing)));
    return out;
}

Result<Laid> lay(const Path& path, const PlaceOrder& order, Laid out) {
    if (auto defect = defectOf(order)) return *defect;
    const auto facing = resolved(order.facing, path);
    if (!facing) return facing.problem();
    out.usedSlots.clear();
    for (size_t k = 0; k <= order.others.size(); ++k) {
        const PartOnRun part = partOf(order, k);
        out.usedSlots.push_back(slotOf(part.seat, part.box, part.seated));
    }
    out.slot = std::uint16_t(0);
    out.size = 1.0;
    out.out.clear();
    out.staleExceptions.clear();
    out.ownRows.clear();
    out.carriers.clear();
    out.dropped.reset();
    const Mat3 R_SP = out.usedSlots[0].turn;
    const Lineup lineup = lineupOf(path, order);
    auto solved = solveSpacing(path, order.spacing, lineup, std::move(out.stations), order.edges);
    if (!solved) return solved.problem();
    out.stations = std::move(solved.value().at);
    out.pitch = solved->pitch;
    out.leftOver = solved->leftOver;
    out.uneven = solved->uneven;
    out.value = solved->value;
    out.closed = solved->closed;
    out.closing = solved->closing;
    out.play = solved->play;
    out.joints = std::move(solved.value().joints);
    out.swings = std::move(solved.value().swings);
    out.bays = solved->bays;
    const size_t n = out.count();
    out.inRow = n;
    out.frames.resize(n);
    const bool simple = alongOnly(order);
    const Occupancy& occupancy = lineup.part(0);
    const bool varies = simple && !occupancy.constant();
    if (simple && !varies) out.occupied = occupancy.at(0);
    Occupied* occupied = varies ? out.occupied.each(n).data() : nullptr;
    // What comes behind takes frames that are not turned yet.
    const FrameLoop loop{path, *facing, R_SP, simple, occupancy};
    sweeps(out.stations, [&](size_t first, std::span<const double> rising) {
        loop.fill(rising, out.frames.data() + first, occupied ? occupied + first : nullptr);
    });
    if (std::holds_alternative<AtTarget>(facing->nose))
        for (size_t i = 0; i < n; ++i)
            if ((aimOf(*facing, out.frames[i].seat) - out.frames[i].seat).norm() <= tolerance::length)
                return Problem{
                    "Place " + std::to_string(i + 1) +
                        " stands at the target itself, so that its nose has nowhere to point. Move the target.",
                    facing->aimedBody   ? "targetBody"
                    : facing->aimedPath ? "targetPath"
                                        : "target"};
    if (simple) return out;
    std::vector<Below> below;
    if (auto p = furnish(path, order, *facing, *solved, out, below)) return *p;
    // What each place takes up of the path as it stands now: along the tangent there.
    auto& taken = out.occupied.each(n);
    std::vector<Occupancy> bare;
    for (const Slot& slot : out.usedSlots) bare.emplace_back(path, Facing{}, Mat3::Identity(), slot.seated);
    std::vector<Vec3> tangents(n);
    sweeps(std::span(out.stations).first(n), [&](size_t first, std::span<const double> rising) {
        detail::tangentsAt(path, rising, facing->corner,
                           [&](size_t i, const Vec3&, const Vec3& t) { tangents[first + i] = t; });
    });
    for (size_t i = 0; i < n; ++i) {
        const bool coupled = !solved->swings.empty(); // vehicles are measured along themselves
        const Occupied o =
            bare[out.slot[i]].of(coupled ? Vec3(out.frames[i].axes.col(0)) : tangents[i], out.frames[i].axes);
        taken[i] = {o.ahead * out.size[i], o.behind * out.size[i]};
        // The station is where its rearmost point stands; the seat lies somewhere along it.
        const PartOnRun part = partOf(order, out.slot[i]);
        if (solved->pins.empty() || !part.pins) continue;
        const Slot& slot = out.usedSlots[out.slot[i]];
        double length = std::fmod(solved->pins[i] - out.stations[i], path.length());
        if (length < 0) length += path.length();
        const Vec3 middle = slot.turn * ((*part.pins)[0] + (*part.pins)[1]) / 2 + slot.origin;
        const double on = length / 2 - middle.x() * out.size[i];
        taken[i] = {taken[i].ahead + on, taken[i].behind - on};
    }
    // Rows and echoes take up what their originals do.
    if (auto p = multiply(path, order, *facing, out)) return *p;
    addBelow(order, below, out);
    if (auto p = dropFeet(path, order, *facing, out)) return *p;
    return out;
}

Result<Places> place(const Path& path, const PlaceOrder& order) {
    auto laid = lay(path, order);
    if (!laid) return laid.problem();
    return placesOf(std::make_shared<const Laid>(std::move(laid).value()), order.leftOut, path);
}

} // namespace vicinal
