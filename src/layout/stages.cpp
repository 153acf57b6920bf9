// What changes along a run, place by place, behind the plain frames.
#include "layout/stages.h"
#include "base/ranges.h"
#include "base/say.h"
#include "layout/along/bound_exceptions.h"
#include "layout/spacing/rule_kind.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace vicinal {

PartOnRun partOf(const PlacementInput& order, size_t slot) {
    return slot == 0 ? PartOnRun{order.seat, order.partBox, order.seated, order.pins, order.under}
                     : order.others[slot - 1];
}

Vehicles vehiclesOf(const Path& path, const PlacementInput& order, const Facing& facing) {
    std::vector<std::optional<Gear>> gears;
    for (size_t k = 0; k <= order.others.size(); ++k) {
        const PartOnRun part = partOf(order, k);
        gears.emplace_back();
        if (!part.pins || !((*part.pins)[1] - (*part.pins)[0]).allFinite()) continue;
        const Slot slot = slotOf(part.seat, part.box, part.seated);
        Gear g;
        g.pins = seatedPins(slot, *part.pins);
        if (part.seat.hooks) g.hooks = seatedPins(slot, *part.seat.hooks);
        g.back = slot.seated.min().x();
        g.front = slot.seated.max().x();
        if (!part.seat.hooks) g.hooks = {Vec3(g.back, 0, g.pins[0].z()), Vec3(g.front, 0, g.pins[1].z())};
        g.under = part.under;
        gears.back() = g;
    }
    return Vehicles(path, facing, std::move(gears));
}

namespace {

/// What a part stands on has pins of its own, and does not stand on it.
std::optional<Problem> standsWrong(const PlacementInput& order) {
    const size_t n = order.others.size() + 1;
    for (size_t k = 0; k < n; ++k) {
        std::vector<size_t> todo{k};
        for (size_t steps = 0; !todo.empty(); ++steps) {
            const PartOnRun part = partOf(order, todo.back());
            todo.pop_back();
            for (int under : part.under) {
                if (under < 0) continue;
                if (size_t(under) >= n || size_t(under) == k || steps > 2 * n)
                    return Problem{"A part of this run stands on itself. Let it stand on the path, or on another "
                                   "part.",
                                   "under"};
                if (!partOf(order, size_t(under)).pins)
                    return Problem{"What a part of this run stands on has no pins. Set two in its seat, where it "
                                   "stands on the path.",
                                   "under"};
                todo.push_back(size_t(under));
            }
        }
    }
    return std::nullopt;
}

} // namespace

std::optional<Problem> defectOf(const PlacementInput& order) {
    for (size_t k = 0; k <= order.others.size(); ++k) {
        const PartOnRun part = partOf(order, k);
        if (auto defect = vicinal::defectOf(part.seat)) return defect;
        if (part.box.isEmpty())
            return Problem{"The part has no size. Give it dimensions or bring in a mesh with triangles.", "part"};
    }
    if (order.pattern.weights.empty()
            ? order.pattern.order.empty()
            : !(*std::max_element(order.pattern.weights.begin(), order.pattern.weights.end()) > 0))
        return Problem{"The sequence has no part that could stand anywhere. Raise a count or a weight.", "sequence"};
    for (const double w : order.pattern.weights)
        if (!(w >= 0 && inReach(w)))
            return Problem{"A weight is a share of chance, from 0 on. Type 0 for a part that is not to stand anywhere.",
                           "sequence"};
    if (auto p = standsWrong(order)) return p;
    const Changes& c = order.changes;
    for (const auto& [profile, key] :
         {std::pair{&c.roll, "roll"}, {&c.size, "size"}, {&c.across, "across"}, {&c.up, "up"}})
        if (auto defect = vicinal::defectOf(*profile, key)) return defect;
    for (const Key& k : c.size.keys)
        if (!ranges::kSize.holds(k.value))
            return Problem{"A size along the run must be " VICINAL_SIZE_RANGE ".", "size"};
    const Unevenness& u = order.uneven;
    for (const auto& [v, key] : {std::pair{u.along, "unevenAlong"},
                                 {u.across, "unevenAcross"},
                                 {u.up, "unevenUp"},
                                 {u.turn, "unevenTurn"},
                                 {u.size, "unevenSize"}})
        if (!(v >= 0 && inReach(v))) return Problem{"Unevenness is a bound, from 0 on.", key};
    if (u.size >= 1) return Problem{"Parts cannot be uneven by their whole size: use less than 1.", "unevenSize"};
    const Rows& r = order.rows;
    if (r.rows < 1 || r.tiers < 1)
        return Problem{"A run has at least one row and one tier.", r.rows < 1 ? "rows" : "tiers"};
    if (!inReach(r.apart) || !inReach(r.high)) return Problem{"This distance cannot be used.", "rowsApart"};
    for (const auto& [e, key] : {std::pair{&order.echoes.one, "echo"}, {&order.echoes.two, "again"}}) {
        if (e->kind == EchoKind::None) continue;
        if (!inReach(e->at) || !e->along.allFinite() || !(e->along.norm() > tolerance::rounding))
            return Problem{"An echo needs a point and a direction that has a length.", std::string(key) + "Along"};
        if (e->count < 1) return Problem{"An echo stands at least once: the run itself.", std::string(key) + "Count"};
        if (!inReach(e->by) || !std::isfinite(e->angle))
            return Problem{"This echo's distance is not a number that can be used.", std::string(key) + "By"};
    }
    for (const Exception& e : order.exceptions) {
        const Words where = e.station ? "At " + say::mm(*e.station) + ": " : "Place " + say::count(e.place) + ": ";
        if (!ranges::kSize.holds(e.size))
            return Problem{where + "a size is " VICINAL_SIZE_RANGE ". Type one, or drop the exception.", "exceptions"};
        if (!inReach(e.move) || !inReach(e.turn) || (e.station && !inReach(*e.station)))
            return Problem{where + "what is special there is not a number, or beyond " + say::bound(kLargest) +
                               ". Type another value, or drop the exception.",
                           "exceptions"};
    }
    return std::nullopt;
}

Problem atTarget(const Facing& facing, size_t place) {
    return {Words("Place ") + std::to_string(place + 1) +
                " stands at the target itself, so that its nose has nowhere to point. Move the target.",
            facing.aimedBody   ? "targetBody"
            : facing.aimedPath ? "targetPath"
                               : "target"};
}

bool aims(const PlacementInput& order, const Facing& facing) {
    return std::holds_alternative<AtTarget>(facing.nose) && !kindOf(order.spacing).linked();
}

bool lengthsCount(const Spacing& s) { return s.measure != Measure::CentreToCentre || anyRule(s, &RuleKind::linked); }

bool alongOnly(const PlacementInput& o) {
    return o.changes.none() && o.uneven.none() && o.exceptions.empty() && o.rows.none() && o.echoes.none() &&
           o.others.empty() && !o.ground && o.special.none() && !o.facing.stepsTurn() &&
           !std::holds_alternative<BetweenPins>(o.facing.nose) && !kindOf(o.spacing).linked();
}

namespace {

/// The stages behind plain frames: each a pass over the places that it concerns.
class Modifiers {
public:
    Modifiers(const Path& path, const PlacementInput& order, const Facing& facing,
              const std::vector<std::pair<size_t, const Exception*>>& bound, Placement& out, std::vector<Below>& below,
              std::vector<double>& pinLengths)
        : m_path(path), m_order(order), m_facing(facing), m_bound(bound), m_out(out), m_below(below),
          m_pinLengths(pinLengths), m_n(out.count()) {}

    std::optional<Problem> run(const Stations& stations, const Pattern& pattern) {
        slots(stations, pattern);
        bindExceptions();
        swapParts();
        if (std::holds_alternative<BetweenPins>(m_order.facing.nose) || !stations.pins.empty())
            if (auto p = betweenPins(stations)) return p;
        return change();
    }

private:
    void slots(const Stations& stations, const Pattern& pattern) {
        const auto& s = m_order.special;
        if (m_order.others.empty()) return;
        auto& slot = m_out.slot.each(m_n);
        if (!stations.slotOf.empty() && lengthsCount(m_order.spacing)) { // spacing has said it
            std::copy(stations.slotOf.begin(), stations.slotOf.end(), slot.begin());
            return;
        }
        size_t bay = 0;
        for (size_t i = 0; i < m_n; ++i) {
            while (bay + 1 < stations.bays.size() && i >= stations.bays[bay + 1].first) ++bay;
            size_t own = i; // a bay starts the pattern anew
            if (!stations.bays.empty()) own = i - stations.bays[bay].first + (stations.bays[bay].shared ? 1 : 0);
            slot[i] = pattern.slot(long(own));
            if (s.nth && s.every > 0 && i % size_t(s.every) == 0) slot[i] = *s.nth;
        }
        if (s.corner)
            for (size_t i = 0; i < m_n; ++i)
                if (onCorner(m_out.stations[i])) slot[i] = *s.corner;
        if (s.first && m_n > 0) slot[0] = *s.first;
        if (s.last && m_n > 0) slot[m_n - 1] = *s.last;
    }
    bool onCorner(double station) const {
        const auto& all = m_path.corners();
        const auto it = std::lower_bound(all.begin(), all.end(), station - tolerance::length,
                                         [](const Corner& c, double v) { return c.station < v; });
        return it != all.end() && it->station <= station + tolerance::length;
    }

    static bool links(const Spacing& s) { return kindOf(s).linked() && !kindOf(s).vehicles(); }

    /// The nose through both pins: the first one at the station, the second at the first point as far away as the
    /// part's pins are from each other. The crown by its rule half-way between them.
    std::optional<Problem> betweenPins(const Stations& stations) {
        std::vector<double> middle(m_n);
        m_pinLengths.assign(m_n, std::nan(""));
        m_noses.resize(m_n);
        const ProfileCurve profile(m_order.changes.size, m_path.length(), m_path.closed(), 1);
        std::vector<double> size(m_n); // pins are as far apart as the part is large
        for (size_t i = 0; i < m_n; ++i) size[i] = profile.at(m_out.stations[i]);
        if (!links(m_order.spacing))
            for (const auto& [i, x] : m_special) size[i] *= x->size;
        std::vector<std::pair<Vec3, Vec3>> pins(m_n);
        std::optional<Vehicles> vehicles;
        std::vector<std::pair<size_t, Frame>> onOthers; // those that do not stand on the path themselves
        const bool links = Modifiers::links(m_order.spacing);
        for (size_t i = 0; i < m_n; ++i) {
            const PartOnRun part = partOf(m_order, m_out.slot[i]);
            if (!part.pins)
                return Problem{"A part of this run has no pins for its nose to run through. Set two in its seat.",
                               "nose"};
            if (part.under[0] >= 0 || part.under[1] >= 0) {
                if (links)
                    return Problem{"A part that stands on others is no link: its neighbours cannot share its pins. Use "
                                   "the rule \"Coupled\".",
                                   "rule"};
                if (!vehicles) vehicles.emplace(vehiclesOf(m_path, m_order, m_facing));
                if (auto p = standOnOthers(*vehicles, i, onOthers)) return p;
                middle[i] = m_out.stations[i];
                continue;
            }
            const double s = m_out.stations[i], d = ((*part.pins)[1] - (*part.pins)[0]).norm() * size[i];
            double to = i < stations.pins.size() ? stations.pins[i] : chordFrom(m_path, s, d);
            if (std::isnan(to))
                return Problem{"Place " + say::count(i + 1) +
                                   " finds no point of the path for its second pin: the "
                                   "pins are farther apart than the path is wide.",
                               "nose"};
            if (!m_path.closed() && to > m_path.length() * (1 + tolerance::arc) + tolerance::length)
                return Problem{"The second pin of place " + say::count(i + 1) +
                                   " would stand beyond the path's end. "
                                   "Keep more in at the end.",
                               "insetEnd"};
            while (to < s) to += m_path.length(); // stations are wrapped, pins may not be
            while (to > s + m_path.length()) to -= m_path.length();
            m_pinLengths[i] = to - s;
            middle[i] = (s + to) / 2;
            if (m_path.closed() && middle[i] >= m_path.length()) middle[i] -= m_path.length();
            middle[i] = std::min(middle[i], m_path.length());
            pins[i] = {pointOn(m_path, s), pointOn(m_path, to)};
        }
        const Facing along = pathFacing(m_facing);
        // A short part may stand half-way before the middle of the long one behind it.
        std::vector<size_t> order(m_n);
        std::iota(order.begin(), order.end(), size_t(0));
        std::stable_sort(order.begin(), order.end(), [&](size_t x, size_t y) { return middle[x] < middle[y]; });
        std::vector<double> rising(m_n);
        for (size_t k = 0; k < m_n; ++k) rising[k] = middle[order[k]];
        faceAt(m_path, rising, along, Mat3::Identity(), [&](size_t k, const Vec3&, const Vec3&, const Mat3& R) {
            const size_t i = order[k];
            const PartOnRun part = partOf(m_order, m_out.slot[i]);
            if (part.under[0] >= 0 || part.under[1] >= 0) return;
            const Slot& slot = m_out.usedSlots[m_out.slot[i]];
            const double k0 = size[i];
            const Pins seated = seatedPins(slot, *part.pins);
            const Vec3 a = k0 * seated[0], b = k0 * seated[1];
            const auto [p, q] = pins[i];
            // Axes that take the pins' line in the part to the chord, crown by crown.
            const Mat3 to = aimed((q - p).normalized(), R), was = aimed((b - a).normalized(), Mat3::Identity());
            Frame& f = m_out.frames[i];
            f.axes = to * was.transpose();
            f.seat = p - f.axes * a;
            // Play in the joints is shared by both ends of the link.
            if (m_out.play != 0) f.seat += ((q - p).norm() - (b - a).norm()) / 2 * (q - p).normalized();
            m_noses[i] = PinLine{p, q};
        });
        for (const auto& [i, f] : onOthers) m_out.frames[i] = f;
        return std::nullopt;
    }

    /// A place whose part stands on other parts, and those.
    std::optional<Problem> standOnOthers(const Vehicles& vehicles, size_t i,
                                         std::vector<std::pair<size_t, Frame>>& frames) {
        std::vector<VehiclePose> under;
        const VehiclePose s = vehicles.stand(m_out.slot[i], m_out.stations[i], &under);
        if (!s.stands()) return Problem{"Place " + say::count(i + 1) + " finds no way to stand on the path.", "nose"};
        if (!m_path.closed() && s.last > m_path.length() * (1 + tolerance::arc) + tolerance::length)
            return Problem{"The foremost point of place " + say::count(i + 1) +
                               " would stand beyond the path's end. Keep more in at the end.",
                           "insetEnd"};
        frames.emplace_back(i, vehicles.frame(s));
        for (const VehiclePose& b : under) m_below.push_back({i, b.slot, vehicles.frame(b)});
        return std::nullopt;
    }

    void bindExceptions() {
        m_special.clear();
        const RowStations row{std::span(m_out.stations).first(m_n), m_out.pitch, m_path.length(), m_out.closed};
        for (size_t k = 0; k < m_order.exceptions.size(); ++k) {
            const Exception& e = m_order.exceptions[k];
            auto at = placeOf(e, row);
            if (e.station) // one that moved away with its own part stays the one that spacing has counted with
                for (const auto& [place, x] : m_bound)
                    if (x == &e && place < m_n) at = place;
            if (at)
                m_special.push_back({*at, &e});
            else
                m_out.staleExceptions.push_back(int(k));
        }
        std::stable_sort(m_special.begin(), m_special.end(),
                         [](const auto& a, const auto& b) { return a.first < b.first; });
    }

    void swapParts() {
        const auto swaps = [](const auto& e) { return e.second->part > 0; };
        if (std::none_of(m_special.begin(), m_special.end(), swaps)) return;
        spread(m_out.slot, m_n);
        for (const auto& [i, x] : m_special)
            if (x->part > 0) m_out.slot.at(i) = std::uint16_t(x->part - 1);
    }

    /// Profiles, unevenness, turning on and exceptions, in that order, each about the seat point. First where a part
    /// stands, by the path's own frame, then what it is aimed at from there, then how it is turned.
    std::optional<Problem> change() {
        const double L = m_path.length();
        const bool round = m_path.closed();
        const ProfileCurve roll(m_order.changes.roll, L, round, 0), size(m_order.changes.size, L, round, 1),
            across(m_order.changes.across, L, round, 0), up(m_order.changes.up, L, round, 0);
        const Unevenness& u = m_order.uneven;
        const auto seed = std::uint64_t(u.seed);
        const bool sized =
            !m_order.changes.size.empty() || u.size > 0 ||
            std::any_of(m_special.begin(), m_special.end(), [](const auto& e) { return e.second->size != 1; });
        const bool uneven = !u.none(), steps = m_facing.stepsTurn();
        double* sizes = sized ? m_out.size.each(m_n).data() : nullptr;
        const Mat3 same = extraTurn(m_facing);
        size_t e = 0;
        Facing forwards = m_facing; // what turns on pins is turned round between them
        forwards.backwards = false;
        const Mat3 sameOnPins = extraTurn(forwards);
        const bool aims = vicinal::aims(m_order, m_facing);
        std::vector<Mat3> own; // the path's axes where the part's are others
        if (aims || std::holds_alternative<AsDrawn>(m_facing.nose)) {
            own.resize(m_n);
            sweeps(std::span(m_out.stations).first(m_n), [&](size_t first, std::span<const double> rising) {
                faceAt(m_path, rising, pathFacing(m_facing), Mat3::Identity(),
                       [&](size_t k, const Vec3&, const Vec3&, const Mat3& R) { own[first + k] = R; });
            });
        }
        for (size_t i = 0; i < m_n; ++i) {
            Frame& f = m_out.frames[i];
            const Frame was = f;
            const double s = m_out.stations[i];
            double k = sized ? size.at(s) : 1;
            const Mat3 path = own.empty() ? f.axes : own[i];
            Vec3 move(0, across.at(s), up.at(s)); // along, to the left and up
            for (size_t x = e; x < m_special.size() && m_special[x].first == i; ++x) move += m_special[x].second->move;
            const auto either = [&](std::uint64_t what) { return 2 * chance(seed, i, what) - 1; };
            if (uneven) {
                move += Vec3(u.along * either(2), u.across * either(3), u.up * either(4));
                k *= 1 + u.size * either(6);
            }
            f.seat += path * move;
            if (aims) {
                const Vec3 d = aimOf(m_facing, f.seat) - f.seat;
                if (!(d.norm() > tolerance::length)) return atTarget(m_facing, i);
                f.axes = aimed(d.normalized(), path);
            }
            if (u.turn > 0) f.axes *= Eigen::AngleAxisd(u.turn * either(5), Vec3::UnitZ()).toRotationMatrix();
            const double r = roll.at(s);
            if (!m_noses.empty() && m_noses[i]) {
                turnOnPins(f, m_noses[i]->moved(was, f), r, steps ? extraTurn(forwards, long(i)) : sameOnPins);
            } else {
                if (r != 0) f.axes *= rolled(r);
                f.axes *= steps ? extraTurn(m_facing, long(i)) : same;
            }
            for (; e < m_special.size() && m_special[e].first == i; ++e) {
                const Exception& x = *m_special[e].second;
                if (x.out) m_out.out.push_back(i);
                if (!x.turn.isZero(0)) {
                    Facing t;
                    t.turn = x.turn;
                    f.axes *= extraTurn(t);
                }
                k *= x.size;
            }
            if (sized) sizes[i] = k;
        }
        return std::nullopt;
    }
    /// The line through both pins, from the back one to the front one.
    struct PinLine {
        Vec3 back, front;
        /// As the part was moved and turned about its seat point since.
        PinLine moved(const Frame& was, const Frame& now) const {
            const Mat3 turn = now.axes * was.axes.transpose();
            return {now.seat + turn * (back - was.seat), now.seat + turn * (front - was.seat)};
        }
    };
    /// A part on its pins turns about them and is turned round between them, so that they stay where they are; what
    /// else its turn does to it, it does about the seat point.
    void turnOnPins(Frame& f, const PinLine& line, double roll, const Mat3& turn) const {
        const Vec3 along = (line.front - line.back).normalized();
        const auto turned = [&f](const Mat3& by, const Vec3& about) {
            f.axes = by * f.axes;
            f.seat = about + by * (f.seat - about);
        };
        if (m_facing.backwards) { // half round about the crown, as far as it is square to the line
            const Vec3 axis = aimed(along, f.axes).col(2);
            turned(2 * axis * axis.transpose() - Mat3::Identity(), (line.back + line.front) / 2);
        }
        const double nose = std::atan2(turn(2, 1), turn(2, 2)); // which comes first
        const double own = roll + (m_facing.backwards ? -nose : nose);
        f.axes *= nose != 0 ? Mat3(turn * rolled(-nose)) : turn;
        if (own != 0) turned(Eigen::AngleAxisd(own, along).toRotationMatrix(), line.back);
    }
    /// A turn about the nose; exact at quarter turns.
    static Mat3 rolled(double r) {
        const double q = r / (kPi / 2), whole = std::round(q);
        double c = std::cos(r), s = std::sin(r);
        if (std::abs(q - whole) < tolerance::fine) {
            const long k = ((long(whole) % 4) + 4) % 4;
            c = int(k == 0) - int(k == 2);
            s = int(k == 1) - int(k == 3);
        }
        Mat3 R;
        R << 1, 0, 0, 0, c, -s, 0, s, c;
        return R;
    }

    const Path& m_path;
    const PlacementInput& m_order;
    const Facing& m_facing;
    const std::vector<std::pair<size_t, const Exception*>>& m_bound;
    Placement& m_out;
    std::vector<Below>& m_below;
    std::vector<double>& m_pinLengths;
    std::vector<std::optional<PinLine>> m_noses; ///< of places on their own pins
    size_t m_n;
    std::vector<std::pair<size_t, const Exception*>> m_special;
};

} // namespace

std::optional<Problem> applyModifiers(const Path& path, const PlacementInput& order, const Facing& facing,
                                      const Stations& stations,
                                      const std::vector<std::pair<size_t, const Exception*>>& bound, Placement& out,
                                      std::vector<Below>& below, std::vector<double>& pinLengths) {
    return Modifiers(path, order, facing, bound, out, below, pinLengths).run(stations, order.pattern);
}

} // namespace vicinal
