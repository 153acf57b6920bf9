// What follows from how places stand, without their bodies' triangles.
#include "base/numeric/solve.h"
#include "layout/spacing/rule_kind.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/verdicts/pass.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

struct PinLine {
    Vec3 from, way; ///< unit
    double away(const Vec3& p) const { return (p - from - (p - from).dot(way) * way).norm(); }
};

/// Stations are of the first of a part's pins, not of its seat point.
bool standsByPins(const RunItem& r) {
    return std::holds_alternative<BetweenPins>(r.facing.nose) || kindOf(r.spacing).linked();
}

/// The pins of each slot, in the part's own axes; none where a part has none.
std::vector<std::optional<Pins>> pinsOfSlots(const Placed& all) {
    std::vector<std::optional<Pins>> out;
    for (const PlacedPart& p : all.parts) out.push_back(p.body ? pinsOf(*p.body, p.seat) : std::nullopt);
    return out;
}

/// The path beside a part that stands on it, as far as the part goes. Its straight line is that of the nose (or
/// whichever of its axes goes along) through the seat point, or that through the pins.
class BesidePart {
public:
    /// `pins`: as pinsOfSlots, where it stands by them; else null.
    BesidePart(const RunResult& run, size_t i, const std::vector<std::optional<Pins>>* pins)
        : m_path(run.placed->path) {
        const Placed& all = *run.placed;
        const Placement& l = *all.laid;
        const Frame& f = l.frames[i];
        m_station = l.stations[i];
        // The one of its axes that goes along: parts may stand across the path, or face back.
        const Vec3 along = f.axes.transpose() * m_path.at(m_station).tangent;
        int axis = 0;
        along.cwiseAbs().maxCoeff(&axis);
        m_line = {f.seat, f.axes.col(axis) * (along[axis] < 0 ? -1 : 1)};
        bool onOthers = false;
        if (pins && (*pins)[l.slot[i]]) {
            const Mat4 pose = all.pose(i);
            const auto& [first, second] = *(*pins)[l.slot[i]];
            m_line.from = (pose * first.homogeneous()).head<3>();
            m_line.way = ((pose * second.homogeneous()).head<3>() - m_line.from).normalized();
            const PartResult* part = l.slot[i] < run.parts.size() ? run.parts[l.slot[i]].get() : nullptr;
            onOthers = part && (part->item->under[0] != 0 || part->item->under[1] != 0);
            if (onOthers) m_station = m_path.closest(m_line.from); // stations are its bogies'
        }
        m_left = f.axes.col(2).cross(m_line.way);
        if (m_left.norm() < tolerance::alike) m_left = f.axes.col(1); // it goes straight up
        m_left.normalize();
        // Lifted and nudged parts are looked at as if they stood on the path.
        m_off = m_line.from - m_path.at(m_station).point;
        if (onOthers) m_off = m_off.dot(f.axes.col(2)) * f.axes.col(2); // bogies' middles do lie inside a bend
        const Box3& box = l.usedSlots[l.slot[i]].seated;
        double ahead = -kFar, behind = kFar;
        for (int k = 0; k < 8; ++k) {
            const Vec3 corner = f.seat + f.axes * (box.corner(Box3::CornerType(k)) * l.size[i]);
            ahead = std::max(ahead, (corner - m_line.from).dot(m_line.way));
            behind = std::min(behind, (corner - m_line.from).dot(m_line.way));
        }
        high = ahead > 0 ? end(ahead) : m_station;
        low = behind < 0 ? end(behind) : m_station;
    }
    double low, high; ///< stations where it passes the part's ends, beyond those of the path on a closed one

    Vec3 at(double s) const { return m_path.at(wrapped(s)).point + m_off; }
    double away(double s) const { return m_line.away(at(s)); }
    double toTheLeft(double s) const { return (at(s) - m_line.from).dot(m_left); }
    Vec3 foot(const Vec3& p) const { return m_line.from + (p - m_line.from).dot(m_line.way) * m_line.way; }

    static constexpr int kSteps = 24;
    /// Hands `look` where to look first: evenly, and at corners.
    template<class Look> void eachStep(const Look& look) const {
        for (int k = 0; k <= kSteps; ++k) look(low + (high - low) * k / kSteps);
        for (const Corner& c : m_path.corners())
            for (const double lap : {-m_path.length(), 0.0, m_path.length()})
                if ((lap == 0 || m_path.closed()) && c.station + lap > low && c.station + lap < high)
                    look(c.station + lap);
    }
    /// The top of `of` beside the best of the steps: by thirds.
    template<class Of> double top(double step, const Of& of) const {
        double a = std::max(low, step - (high - low) / kSteps), b = std::min(high, step + (high - low) / kSteps);
        for (int k = 0; k < 40 && b - a > tolerance::rounding * (1 + high - low); ++k) {
            const double x = a + (b - a) / 3, y = b - (b - a) / 3;
            (of(x) < of(y) ? a : b) = of(x) < of(y) ? x : y;
        }
        return of((a + b) / 2) > of(step) ? (a + b) / 2 : step;
    }

private:
    double wrapped(double s) const {
        if (!m_path.closed()) return std::clamp(s, 0.0, m_path.length());
        s = std::fmod(s, m_path.length());
        return s < 0 ? s + m_path.length() : s;
    }
    /// To where the path passes the part's end.
    double end(double reach) const {
        const auto along = [&](double t) { return (at(m_station + t) - m_line.from).dot(m_line.way) / reach; };
        double outside = reach;
        for (int k = 0; k < 8 && along(outside) < 1; ++k) outside += reach / 4;
        if (along(outside) < 1) return m_station + reach; // it turns back before
        return m_station + halved(0, outside, 60, [&](double t) { return along(t) < 1; }).second;
    }
    const Path& m_path;
    double m_station = 0;
    Vec3 m_left, m_off;
    PinLine m_line{};
};

} // namespace

size_t firstRow(const Placement& l) { return std::min(l.rowSize, l.count()); }

/// The farthest that the path leaves the part's straight line, over its length; where; and how far to either side.
void measureBow(Pass&, const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const auto pins = pinsOfSlots(all);
    const auto* const byPins = standsByPins(*run.item) ? &pins : nullptr;
    struct Side {
        double value = 0, step = 0;
        size_t place = 0;
    } sides[2]; // left, right
    for (size_t i = 0; i < firstRow(*all.laid); ++i) {
        if (all.leftOut(i)) continue;
        const BesidePart beside(run, i, byPins);
        double best = 0, where = beside.low;
        beside.eachStep([&](double s) {
            const double d = beside.away(s), left = beside.toTheLeft(s);
            if (d > best) best = d, where = s;
            Side& side = sides[left > 0 ? 0 : 1];
            if (std::abs(left) > side.value) side = {std::abs(left), s, i};
        });
        where = beside.top(where, [&](double s) { return beside.away(s); });
        CheckedPlace p;
        p.place = int(i);
        p.value = beside.away(where);
        p.b = beside.at(where);
        p.a = beside.foot(p.b);
        out.places.push_back(p);
    }
    Words say;
    for (const double sign : {1.0, -1.0}) {
        Side& side = sides[sign > 0 ? 0 : 1];
        if (side.value < 0.005) continue;
        const BesidePart beside(run, side.place, byPins);
        const auto of = [&](double s) { return sign * beside.toTheLeft(s); };
        side.value = of(beside.top(side.step, of));
        if (!say.empty()) say += ", ";
        say += Words::length(std::round(side.value * 100) / 100);
        say += sign > 0 ? " to the left" : " to the right";
        say += Words(" (place ") + std::to_string(side.place + 1) + ")";
    }
    if (!say.empty()) out.remarks.push_back("The curve leaves the part by at most " + say + ".");
}

void measureClosing(Pass&, const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Placement& l = *all.laid;
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

void measureSteps(Pass&, const RunResult& run, CheckResult& out) {
    const Placement& l = *run.placed->laid;
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

void measureSeats(Pass&, const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Placement& l = *all.laid;
    const bool byPins = standsByPins(*run.item);
    for (size_t i = 0; i < firstRow(l); ++i) {
        if (all.leftOut(i)) continue;
        CheckedPlace p;
        p.place = int(i);
        p.a = l.frames[i].seat;
        p.b = all.path.at(byPins ? all.path.closest(p.a) : l.stations[i]).point;
        p.value = (p.a - p.b).norm();
        out.places.push_back(p);
    }
}

void measurePins(Pass&, const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
    const Placement& l = *all.laid;
    const auto pins = pinsOfSlots(all);
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

void measureJoints(Pass&, const RunResult& run, CheckResult& out) {
    const Placement& l = *run.placed->laid;
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

std::vector<CheckedPlace> cornersOf(const RunResult& run) {
    std::vector<CheckedPlace> out;
    const Placed& all = *run.placed;
    const Placement& l = *all.laid;
    const double L = all.path.length();
    const bool byPins = standsByPins(*run.item);
    for (const Gap& g : all.gaps) {
        if (size_t(g.from) >= firstRow(l) || size_t(g.to) >= firstRow(l) || g.from == g.to) continue;
        double to = l.stations[size_t(g.to)];
        const double from = l.stations[size_t(g.from)];
        if (to < from) to += L;
        // Parts on pins are chords from pin to pin.
        const auto ends = [&](int i) {
            return byPins ? all.path.at(l.stations[size_t(i)]).point : l.frames[size_t(i)].seat;
        };
        const Vec3 a = ends(g.from), b = ends(g.to);
        const auto& corners = all.path.corners();
        for (const double lap : {0.0, L}) {
            if (lap != 0 && !all.path.closed()) continue;
            auto c = std::upper_bound(corners.begin(), corners.end(), from - lap,
                                      [](double s, const Corner& x) { return s < x.station; });
            for (; c != corners.end() && c->station + lap < to; ++c) {
                const Vec3 corner = all.path.at(c->station).point, way = b - a;
                const double t = std::clamp((corner - a).dot(way) / std::max(kTiny, way.squaredNorm()), 0.0, 1.0);
                CheckedPlace p;
                p.place = g.from;
                p.other = g.to;
                p.a = a + t * way;
                p.b = corner;
                p.value = (p.a - p.b).norm();
                out.push_back(p);
            }
        }
    }
    return out;
}

void measureCorners(Pass&, const RunResult& run, CheckResult& out) {
    out.places = cornersOf(run);
    if (out.places.empty()) out.cannot = "No corner of the path lies between two places.";
}

void measureSlope(Pass&, const RunResult& run, CheckResult& out) {
    const Placed& all = *run.placed;
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
