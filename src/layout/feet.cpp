// Feet on the ground, the last stage of solvePlacement().
#include "layout/stages.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// Stretches of places that stand at one level: the bays, in every row, tier and echo; else the rows.
std::vector<std::pair<size_t, size_t>> bays(const Placement& laid) {
    std::vector<std::pair<size_t, size_t>> out;
    laid.eachRow(0, [&](size_t first, size_t count, double) {
        if (laid.bays.empty() || count != laid.rowSize) {
            out.emplace_back(first, count);
            return;
        }
        for (const Bay& b : laid.bays)
            if (b.count > 0) out.emplace_back(first + b.first, b.count);
    });
    return out;
}

} // namespace

std::optional<Problem> dropFeet(const Path& path, const PlacementInput& order, const Facing& facing, Placement& laid) {
    if (!order.ground || laid.count() == 0) return std::nullopt;
    const Feet& feet = order.feet;
    if (!inReach(feet.sunk))
        return Problem{"How deep the feet are sunk is not a number, or beyond what can be used.", "sunk"};
    const auto base = basesOf(path, order, facing, laid);
    const size_t n = laid.count();
    auto out = std::make_shared<Dropped>();
    std::vector<std::optional<Ground::Hit>> under(n);
    for (size_t i = 0; i < n; ++i) {
        under[i] = order.ground->along(laid.frames[i].seat, -Vec3::UnitZ());
        if (!under[i])
            out->without.push_back(i);
        else if (under[i]->overhangs)
            out->overhung.push_back(i);
    }
    std::vector<double> level(n, 0);
    for (size_t i = 0; i < n; ++i)
        if (under[i]) level[i] = under[i]->at.z();
    if (feet.by == FeetBy::Level)
        for (const auto& [first, count] : bays(laid)) {
            double low = kFar, high = -kFar;
            for (size_t i = first; i < first + count; ++i)
                if (under[i]) low = std::min(low, level[i]), high = std::max(high, level[i]);
            const double all = feet.level == BayLevel::Highest  ? high
                               : feet.level == BayLevel::Lowest ? low
                                                                : (low + high) / 2;
            for (size_t i = first; i < first + count; ++i) level[i] = all;
        }
    out->by.assign(laid.bodies(), 0);
    const bool stands = std::holds_alternative<OffSurface>(facing.crown);
    for (size_t b = 0; b < n; ++b) {
        const size_t i = laid.placeOf(b);
        if (!under[i]) continue;
        // What it is raised by besides, along the path's crown, is kept; what moves it aside is not: it stands on the
        // ground there.
        const Vec3 crown = base[i].axes.col(2);
        const double raised = (laid.frames[i].seat - base[i].seat).dot(crown) * crown.z();
        Frame& f = laid.frames[b];
        if (b == i) out->by[b] = level[i] - feet.sunk + raised - f.seat.z();
        if (stands && b == i) // off the ground under it, not off what is nearest to the path
            f.axes = Quat::FromTwoVectors(Vec3(base[i].axes.col(2)), under[i]->normal).toRotationMatrix() * f.axes;
    }
    for (size_t b = 0; b < laid.bodies(); ++b) { // what a place stands on goes with it
        out->by[b] = out->by[laid.placeOf(b)];
        laid.frames[b].seat.z() += out->by[b];
    }
    laid.dropped = std::move(out);
    return std::nullopt;
}

} // namespace vicinal
