#include "app/strip/strip_map.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

void StripMap::clamp() {
    const double whole = length * 1.02 / std::max(1.0, width);
    perPixel = std::clamp(perPixel, 1e-4, whole);
    const double shown = perPixel * width, margin = length * 0.01;
    from = std::clamp(from, -margin, std::max(-margin, length + margin - shown));
}

void StripMap::showAll() {
    perPixel = kFar;
    from = -kFar;
    clamp();
}

void StripMap::zoom(double factor, double px) {
    const double s = station(px);
    perPixel *= factor;
    perPixel = std::clamp(perPixel, 1e-4, length * 1.02 / std::max(1.0, width));
    from = s - (px - left) * perPixel;
    clamp();
}

void StripMap::scroll(double byPixels) {
    from += byPixels * perPixel;
    clamp();
}

double StripMap::tickStep(double unit, double room) const {
    const double want = room * perPixel / unit, power = std::pow(10, std::floor(std::log10(want)));
    const double steps[] = {1, 2, 5, 10};
    for (double s : steps)
        if (s * power >= want) return s * power * unit;
    return 10 * power * unit;
}

size_t firstRow(const Places& places) {
    return places.laid->rowSize > 0 ? std::min(places.laid->rowSize, places.count()) : places.count();
}

std::vector<GapColumn> gapColumns(const StripMap& map, const Places& places, const SpacingLimits& limits) {
    const int n = std::max(0, int(map.width));
    std::vector<GapColumn> out(n);
    const auto bad = [&](double v) { return limits.gapBroken(v); };
    const auto add = [&](int index, double start, double end) {
        const double clear = places.gaps[index].clear();
        if (end < start) std::swap(start, end); // an overlap still takes room
        int a = int(std::floor((start - map.from) / map.perPixel)),
            b = int(std::floor((end - map.from) / map.perPixel));
        if (b < 0 || a >= n) return;
        a = std::clamp(a, 0, n - 1);
        b = std::clamp(b, a, n - 1);
        for (int i = a; i <= b; ++i) {
            GapColumn& c = out[i];
            const bool first = !c.any;
            c.least = first ? clear : std::min(c.least, clear);
            c.most = first ? clear : std::max(c.most, clear);
            const double known = first ? 0 : places.gaps[c.worst].clear();
            if (first || (bad(clear) && !bad(known)) || (bad(clear) == bad(known) && clear < known)) c.worst = index;
            c.any = true;
            c.over = c.over || limits.gapOver(clear);
            c.under = c.under || limits.gapUnder(clear) || limits.overlaps(clear);
        }
    };
    for (size_t i = 0; i < places.gaps.size(); ++i) {
        const Gap& g = places.gaps[i];
        if (size_t(g.from) >= firstRow(places)) break; // rows and echoes stand over their original
        add(int(i), g.start, g.end);
        if (g.end > map.length)
            add(int(i), g.start - map.length, g.end - map.length); // the gap at a closed path's seam
    }
    return out;
}

int placeAt(const StripMap& map, const Places& places, double px, double reach) {
    int best = -1;
    double nearest = reach;
    for (size_t i = 0; i < firstRow(places); ++i) {
        const Occupied& o = places.occupied(i);
        const double a = map.x(places.stations()[i] - o.behind), b = map.x(places.stations()[i] + o.ahead);
        const double d = std::max({a - px, px - b, 0.0});
        // Inside several (they overlap) the nearest seat point wins.
        const double rank = d + std::abs(px - map.x(places.stations()[i])) * tolerance::alike;
        if (rank < nearest) nearest = rank, best = int(i);
    }
    return best;
}

} // namespace vicinal
