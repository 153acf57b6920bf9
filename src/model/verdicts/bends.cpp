// Which runs are asked how far the path leaves their parts: those whose parts are long for its bends.
#include "model/document/run_item.h"
#include "model/verdicts/pass.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

constexpr size_t kMostSpots = 20'000; ///< where it is looked, of the longest runs: a millisecond

/// What is seen at a glance, and starts to matter: a hundredth of the part, but no less than half a millimetre.
double seen(double length) { return std::max(0.5, length / 100); }

/// How far a slot's part goes along the path, turned as where it stands first and as large as it gets; 0 where none
/// stands.
double alongOf(const Placed& all, size_t slot) {
    const Placement& l = *all.laid;
    double along = -1, size = 0;
    for (size_t i = 0; i < firstRow(l); ++i) {
        if (l.slot[i] != slot || all.leftOut(i)) continue;
        size = std::max(size, double(l.size[i]));
        if (along < 0)
            along = (l.frames[i].axes.transpose() * all.path.at(l.stations[i]).tangent)
                        .cwiseAbs()
                        .dot(l.usedSlots[slot].seated.sizes());
        if (l.size.same() && l.slot.same()) break;
    }
    return along * size;
}

/// The path leaves its chord over `length` by what is seen, somewhere between the stations.
bool bendsBy(const Path& path, double from, double to, double length) {
    const double half = length / 2;
    const size_t n = std::clamp(size_t((to - from) / half) + 2, size_t(3), kMostSpots);
    std::vector<double> spots[3];
    std::vector<Sample> at[3];
    const double L = path.length();
    for (int k = 0; k < 3; ++k) {
        at[k].resize(n);
        const auto spot = [&](size_t i) { return from + (to - from) * double(i) / double(n - 1) + (k - 1) * half; };
        for (size_t i = 0; i < n; ++i) spots[k].push_back(std::clamp(spot(i), 0.0, L));
        path.sample(spots[k], false, at[k]);
        if (path.closed()) // round the seam, where it bends as anywhere
            for (size_t i = 0; i < n; ++i)
                if (spot(i) < 0 || spot(i) > L) at[k][i] = path.at(spot(i) - L * std::floor(spot(i) / L));
    }
    for (size_t i = 0; i < n; ++i) {
        const Vec3 chord = at[2][i].point - at[0][i].point, to1 = at[1][i].point - at[0][i].point;
        const double t = std::clamp(to1.dot(chord) / std::max(kTiny, chord.squaredNorm()), 0.0, 1.0);
        if ((to1 - t * chord).norm() > seen(length)) return true;
    }
    return false;
}

} // namespace

LongParts longParts(const RunResult& run) {
    LongParts out;
    if (!run.placed || run.placed->count() == 0 || run.placed->path.length() <= 0 || cutsOnly(run)) return out;
    const Placed& all = *run.placed;
    const Placement& l = *all.laid;
    double length = 0;
    for (size_t slot = 0; slot < l.usedSlots.size(); ++slot) length = std::max(length, alongOf(all, slot));
    if (!(length > tolerance::length) || !std::isfinite(length)) return out;
    const auto [first, last] =
        std::minmax_element(l.stations.begin(), l.stations.begin() + std::ptrdiff_t(firstRow(l)));
    out.leave = bendsBy(all.path, *first, *last, length);
    if (all.path.corners().empty()) return out;
    for (const CheckedPlace& p : cornersOf(run)) { // what leaves most of the way free cuts nothing
        const double way = (l.frames[size_t(p.other)].seat - l.frames[size_t(p.place)].seat).norm();
        out.cut = out.cut || (p.value > seen(length) && length > way / 2);
    }
    return out;
}

} // namespace vicinal
