// What follows from how places stand, without their bodies' triangles.
#include "model/checks/pass.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// First row, or all of it: copies beside the path are no nearer to what is asked of the path.
size_t firstRow(const Laid& l) { return std::min(l.inRow, l.count()); }

struct Line {
    Vec3 from, way; ///< unit
    double away(const Vec3& p) const { return (p - from - (p - from).dot(way) * way).norm(); }
};

/// The farthest that the path leaves the part's straight line, over its length; where.
void measureBow(const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Laid& l = *all.laid;
    const Path& path = all.path;
    constexpr int kSteps = 24;
    for (size_t i = 0; i < firstRow(l); ++i) {
        if (all.leftOut(i)) continue;
        const Frame& f = l.frames[i];
        const Line line{f.seat, f.axes.col(0)};
        const Box3& box = l.usedSlots[l.slot[i]].seated;
        const auto wrapped = [&](double s) {
            if (!path.closed()) return std::clamp(s, 0.0, path.length());
            s = std::fmod(s, path.length());
            return s < 0 ? s + path.length() : s;
        };
        // Lifted and nudged parts are looked at as if their seat point were on the path.
        const Vec3 off = f.seat - path.at(l.stations[i]).point;
        const auto at = [&](double s) { return line.away(path.at(wrapped(s)).point + off); };
        // As far as the part goes: to where the path passes its ends.
        const auto end = [&](double reach) {
            const double s = l.stations[i];
            const auto along = [&](double t) {
                return (path.at(wrapped(s + t)).point + off - line.from).dot(line.way) / reach;
            };
            double inside = 0, outside = reach;
            for (int k = 0; k < 8 && along(outside) < 1; ++k) outside += reach / 4;
            if (along(outside) < 1) return s + reach; // it turns back before
            for (int k = 0; k < 60; ++k) {
                const double middle = (inside + outside) / 2;
                (along(middle) < 1 ? inside : outside) = middle;
            }
            return s + outside;
        };
        const double ahead = box.max().x() * l.size[i], behind = box.min().x() * l.size[i];
        const double high = ahead > 0 ? end(ahead) : l.stations[i], low = behind < 0 ? end(behind) : l.stations[i];
        double best = 0, where = l.stations[i];
        const auto look = [&](double s) {
            const double d = at(s);
            if (d > best) best = d, where = s;
        };
        for (int k = 0; k <= kSteps; ++k) look(low + (high - low) * k / kSteps);
        for (const Corner& c : path.corners())
            for (const double lap : {-path.length(), 0.0, path.length()})
                if ((lap == 0 || path.closed()) && c.station + lap > low && c.station + lap < high)
                    look(c.station + lap);
        // Between the steps: by thirds.
        double a = std::max(low, where - (high - low) / kSteps), b = std::min(high, where + (high - low) / kSteps);
        for (int k = 0; k < 40 && b - a > 1e-9 * (1 + high - low); ++k) {
            const double x = a + (b - a) / 3, y = b - (b - a) / 3;
            (at(x) < at(y) ? a : b) = at(x) < at(y) ? x : y;
        }
        look((a + b) / 2);
        CheckedPlace p;
        p.place = int(i);
        p.value = best;
        p.b = path.at(wrapped(where)).point + off;
        p.a = line.from + (p.b - line.from).dot(line.way) * line.way;
        out.places.push_back(p);
    }
}

/// Every corner between two places.
void measureCorners(const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Laid& l = *all.laid;
    const double L = all.path.length();
    for (const Gap& g : all.gaps) {
        if (size_t(g.from) >= firstRow(l) || size_t(g.to) >= firstRow(l) || g.from == g.to) continue;
        double to = l.stations[size_t(g.to)];
        const double from = l.stations[size_t(g.from)];
        if (to < from) to += L;
        const Vec3 a = l.frames[size_t(g.from)].seat, b = l.frames[size_t(g.to)].seat;
        for (const Corner& c : all.path.corners())
            for (const double lap : {0.0, L}) {
                if (lap != 0 && !all.path.closed()) continue;
                const double s = c.station + lap;
                if (s <= from || s >= to) continue;
                const Vec3 corner = all.path.at(c.station).point, way = b - a;
                const double t = std::clamp((corner - a).dot(way) / std::max(1e-300, way.squaredNorm()), 0.0, 1.0);
                CheckedPlace p;
                p.place = g.from;
                p.other = g.to;
                p.a = a + t * way;
                p.b = corner;
                p.value = (p.a - p.b).norm();
                out.places.push_back(p);
            }
    }
    if (out.places.empty()) out.cannot = "No corner of the path lies between two places.";
}

void measureClosing(const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Laid& l = *all.laid;
    for (const Gap& g : all.gaps) {
        if (g.from == g.to) continue;
        const auto ends = [&](int i) {
            const Frame& f = l.frames[size_t(i)];
            const Box3& box = l.usedSlots[l.slot[size_t(i)]].seated;
            const double k = l.size[size_t(i)];
            return std::pair<Vec3, Vec3>(f.seat + f.axes.col(2) * box.max().z() * k,
                                         f.seat + f.axes.col(2) * box.min().z() * k);
        };
        const auto [topA, footA] = ends(g.from);
        const auto [topB, footB] = ends(g.to);
        const double apart = (l.frames[size_t(g.from)].seat - l.frames[size_t(g.to)].seat).norm();
        const double tops = (topA - topB).norm(), feet = (footA - footB).norm();
        CheckedPlace p;
        p.place = g.from;
        p.other = g.to;
        p.value = std::max(0.0, apart - std::min(tops, feet));
        p.a = tops <= feet ? topA : footA;
        p.b = tops <= feet ? topB : footB;
        out.places.push_back(p);
    }
    if (out.places.empty()) out.cannot = "There are fewer than two places.";
}

void measureSteps(const RunResult& run, CheckResult& out) {
    const Laid& l = *run.placed->laid;
    for (const Gap& g : run.placed->gaps) {
        if (g.from == g.to) continue;
        CheckedPlace p;
        p.place = g.from;
        p.other = g.to;
        p.a = l.frames[size_t(g.from)].seat;
        p.b = l.frames[size_t(g.to)].seat;
        p.value = std::abs(p.b.z() - p.a.z());
        out.places.push_back(p);
    }
    if (out.places.empty()) out.cannot = "There are fewer than two places.";
}

void measureSeats(const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Laid& l = *all.laid;
    for (size_t i = 0; i < firstRow(l); ++i) {
        if (all.leftOut(i)) continue;
        CheckedPlace p;
        p.place = int(i);
        p.a = l.frames[i].seat;
        p.b = all.path.at(l.stations[i]).point;
        p.value = (p.a - p.b).norm();
        out.places.push_back(p);
    }
}

void measurePins(const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Laid& l = *all.laid;
    std::vector<std::optional<Pins>> pins;
    for (const PlacedPart& p : all.parts) pins.push_back(p.body ? pinsOf(*p.body, p.seat) : std::nullopt);
    for (size_t i = 0; i < firstRow(l); ++i) {
        if (all.leftOut(i) || !pins[l.slot[i]]) continue;
        const Mat4 pose = all.pose(i);
        CheckedPlace p;
        p.place = int(i);
        p.value = -1;
        for (const Vec3& pin : *pins[l.slot[i]]) {
            const Vec3 at = (pose * pin.homogeneous()).head<3>(), on = all.path.at(all.path.closest(at)).point;
            if ((at - on).norm() <= p.value) continue;
            p.value = (at - on).norm();
            p.a = at;
            p.b = on;
        }
        out.places.push_back(p);
    }
    if (out.places.empty()) out.cannot = "Its parts have no pins.";
}

void measureJoints(const RunResult& run, CheckResult& out) {
    const Laid& l = *run.placed->laid;
    if (l.joints.empty() && l.swings.empty()) {
        out.cannot = "Its parts are not linked.";
        return;
    }
    const auto add = [&](double turn, size_t place, int other) {
        CheckedPlace p;
        p.place = int(place);
        p.other = other;
        p.value = turn;
        if (place < l.frames.size()) p.a = p.b = l.frames[place].seat;
        out.places.push_back(p);
    };
    // Of an open chain the first link has no joint before it.
    const size_t first = l.closed ? 0 : 1;
    for (size_t k = 0; k < l.joints.size(); ++k)
        add(l.joints[k], k + first, k + first > 0 ? int(k + first) - 1 : int(firstRow(l)) - 1);
    for (size_t k = 0; k < l.swings.size(); ++k) add(l.swings[k], k, -1);
}

} // namespace

void measureAlong(Pass&, const RunResult& run, CheckResult& out) {
    switch (out.check.of) {
    case CheckOf::Bow: return measureBow(run, out);
    case CheckOf::Corner: return measureCorners(run, out);
    case CheckOf::Closing: return measureClosing(run, out);
    case CheckOf::StepUp: return measureSteps(run, out);
    case CheckOf::SeatOff: return measureSeats(run, out);
    case CheckOf::PinsOff: return measurePins(run, out);
    case CheckOf::JointTurns: return measureJoints(run, out);
    default: break;
    }
    const Placed& all = *run.placed; // slope
    for (size_t i = 0; i < all.count(); ++i) {
        if (all.leftOut(i)) continue;
        const Frame& f = all.laid->frames[i];
        CheckedPlace p;
        p.place = int(i);
        p.a = p.b = f.seat;
        p.value = std::asin(std::clamp(f.axes(2, 0), -1.0, 1.0));
        out.places.push_back(p);
    }
}

} // namespace vicinal
