#include "layout/spacing/rule_kind.h"
#include "layout/spacing/ruler.h"
#include "layout/spacing/walk/occupancy_table.h"
#include <algorithm>
#include <cmath>
#include <utility>

namespace vicinal {

bool counts(const Spacing& s, const std::string& key, bool closed) {
    const bool round = closed && !s.from && !s.to && s.bays == BayEdges::None; // all the way
    if (!kindOf(s).relevant(s, key)) return false;
    if (key == "slide") return closed && !s.from && !s.to;
    if (key == "insetStart" || key == "insetEnd") return !closed || s.from || s.to;
    if (key == "ends" && s.bays == BayEdges::Run) return false; // clear of what stands there in any case
    if (key == "leftOver" || key == "ends") return !round;
    if (key == "ofLength") return s.measure == Measure::OfLength;
    if (key == "pitch" || key == "about") return s.measure != Measure::OfLength;
    if (key == "bayStations") return s.bays == BayEdges::Stations;
    if (key == "bayRun") return s.bays == BayEdges::Run;
    return true;
}

const SpacingRule* bayRule(const Spacing& s, long bay) {
    const auto own = std::find_if(s.bayRules.begin(), s.bayRules.end(), [&](const BayRule& b) { return b.bay == bay; });
    return own == s.bayRules.end() ? nullptr : &own->rule;
}

Spacing switched(Spacing s, size_t rule) {
    if (rule == s.rule.index()) return s;
    SpacingRule next = alternative<SpacingRule>(rule);
    const auto was = std::find_if(s.kept.begin(), s.kept.end(), [&](const auto& r) { return r.index() == rule; });
    if (was != s.kept.end()) {
        next = *was;
        s.kept.erase(was);
    }
    std::erase_if(s.kept, [&](const auto& r) { return r.index() == s.rule.index(); });
    s.kept.push_back(s.rule);
    s.rule = next;
    return s;
}

namespace {

using namespace spacing;

Result<Stations> solveOne(const Ruler& ruler, std::vector<double> reuse) {
    return kindOf(ruler.spacing).solve(ruler.spacing.rule, ruler, std::move(reuse));
}

/// Where one bay ends and the next begins, rising; on a closed path that is used all round the first again, once round.
Result<std::vector<BayEdge>> edgesOf(const Ruler& whole, std::span<const BayEdge> others) {
    const Spacing& s = whole.spacing;
    const double a = whole.start, b = whole.end(), L = whole.path.length();
    std::vector<BayEdge> out;
    const auto add = [&](double station, const Occupied& o = {}) {
        if (whole.closed || whole.path.closed())
            while (station < a - tolerance::length) station += L;
        if (station >= a - tolerance::length && station <= b + tolerance::length) out.push_back({station, o});
    };
    switch (s.bays) {
    case BayEdges::Corners:
        for (const Corner& c : whole.path.corners()) add(c.station);
        if (out.empty() && whole.closed)
            return Problem{"This path has no corner to end a bay at. Choose stations.", "bays"};
        break;
    case BayEdges::Stations:
        for (double v : s.bayStations) {
            if (v < 0 || v > L)
                return Problem{"A bay cannot end at " + mm(v) + ": the path is " + mm(L) + " long.", "bayStations"};
            add(v);
        }
        if (out.empty() && whole.closed) return Problem{"Type at least one station where a bay ends.", "bayStations"};
        break;
    case BayEdges::Run:
        for (const BayEdge& e : others) add(e.station, e.occupied);
        if (out.size() < (whole.closed ? 1u : 2u))
            return Problem{"The other run has fewer than two places here, so that there is nothing between them.",
                           "bayRun"};
        break;
    case BayEdges::None: break;
    }
    std::sort(out.begin(), out.end(), [](const BayEdge& x, const BayEdge& y) { return x.station < y.station; });
    if (!whole.closed && s.bays != BayEdges::Run) {
        if (out.empty() || out.front().station > a + tolerance::length) out.insert(out.begin(), {a, {}});
        if (out.back().station < b - tolerance::length) out.push_back({b, {}});
    }
    const auto same = [](const BayEdge& x, const BayEdge& y) { return y.station - x.station < tolerance::length; };
    out.erase(std::unique(out.begin(), out.end(), same), out.end());
    if (whole.closed) out.push_back({out.front().station + L, out.front().occupied});
    return out;
}

/// What a bay found goes behind what is there already; where two bays meet one place may stand for both.
void append(const Ruler& bay, const Stations& st, bool shared, Stations& out, Bay& told,
            std::vector<std::uint16_t>& slots) {
    for (size_t k = shared ? 1 : 0; k < st.at.size(); ++k)
        slots.push_back(st.slotOf.empty() ? bay.slot(long(k)) : st.slotOf[k]);
    out.at.insert(out.at.end(), st.at.begin() + (shared ? 1 : 0), st.at.end());
    out.play = std::abs(st.play) > std::abs(out.play) ? st.play : out.play; // the most
    out.joints.insert(out.joints.end(), st.joints.begin(), st.joints.end());
    if (!st.pins.empty()) out.pins.insert(out.pins.end(), st.pins.begin() + (shared ? 1 : 0), st.pins.end());
    told.shared = shared;
    told.count = st.at.size() - (shared ? 1 : 0);
    told.pitch = st.pitch;
    told.value = st.value;
    told.leftOver = st.leftOver;
    out.leftOver += st.leftOver;
    if (st.uneven && (!out.uneven || st.uneven->most - st.uneven->least > out.uneven->most - out.uneven->least))
        out.uneven = st.uneven; // the worst bay
    if (st.at.empty()) told.problem = Problem{"There is no room for one here.", "bays"};
}

/// All bays together: the seam, the parts, what one number says of them.
void closeUp(const Ruler& whole, Stations& out, std::vector<std::uint16_t>& slots) {
    if (whole.closed && out.at.size() > 1 && out.at.front() + whole.path.length() - out.at.back() < tolerance::length) {
        out.at.pop_back();
        slots.pop_back();
        if (!out.bays.empty() && out.bays.back().count > 0) --out.bays.back().count;
    }
    if (!whole.lineup.single() || !whole.lineup.special().none()) out.slotOf = std::move(slots);
    const size_t n = out.at.size();
    out.pitch = n > 1 ? (out.at.back() - out.at.front()) / double(n - 1) : 0;
    out.value = out.bays.front().value;
}

Result<Stations> solveBays(const Ruler& whole, std::span<const BayEdge> others) {
    const auto edges = edgesOf(whole, others);
    if (!edges) return edges.problem();
    Stations out;
    out.even = false;
    out.closed = whole.closed;
    std::optional<Problem> first;
    std::vector<std::uint16_t> slots;
    Spacing ownSpacing = whole.spacing; // of a bay with a rule of its own
    for (size_t i = 0; i + 1 < edges->size(); ++i) {
        const BayEdge &from = (*edges)[i], &to = (*edges)[i + 1];
        const SpacingRule* own = bayRule(whole.spacing, long(i) + 1);
        if (own) ownSpacing.rule = *own;
        Ruler bay{whole.path, own ? ownSpacing : whole.spacing, whole.lineup, from.station, to.station - from.station};
        bay.bounded = whole.spacing.bays == BayEdges::Run;
        bay.faceStart = from.occupied.ahead;
        bay.faceEnd = to.occupied.behind;
        Bay told{from.station, to.station, out.at.size()};
        told.bounded = bay.bounded;
        told.faceStart = bay.faceStart;
        told.faceEnd = bay.faceEnd;
        const bool special = !whole.lineup.special().none();
        bay.finalBay = i + 2 == edges->size();
        bay.firstPlace = long(out.at.size());
        // All the way round the last bay ends at the first place.
        const bool meets = whole.closed && bay.finalBay && !out.at.empty() && !bay.bounded &&
                           out.at.front() + whole.path.length() - bay.end() < tolerance::length;
        if (meets) bay.atEnd = slots.front();
        auto solved = solveOne(bay, {});
        // Where two bays meet at a corner one place stands for both.
        const auto isShared = [&] {
            return solved && !solved->at.empty() && !out.at.empty() &&
                   solved->at.front() - out.at.back() < tolerance::length;
        };
        if (isShared() && (special || !whole.lineup.single())) { // with the part it has already
            bay.atStart = slots.back();
            bay.firstPlace = long(out.at.size()) - 1;
            const auto alone = std::exchange(solved, solveOne(bay, {}));
            if (!isShared()) { // with that part it would stand elsewhere
                bay.atStart.reset();
                bay.firstPlace = long(out.at.size());
                solved = alone;
            }
        }
        const bool shared = isShared() && (bay.atStart || (!special && whole.lineup.single()));
        // Just before a corner and just behind it parts stand otherwise: none is right for both bays. Round a closed
        // path the last bay meets the first place so, too; nearer than that they are one.
        const auto onOneSpot = [](double apart) { return apart < 2 * kCornerReach + tolerance::length; };
        const bool spot = solved && !solved->at.empty() && !bay.bounded &&
                          ((!shared && !out.at.empty() && onOneSpot(solved->at.front() - out.at.back())) ||
                           (whole.closed && bay.finalBay && !out.at.empty() &&
                            onOneSpot(out.at.front() + whole.path.length() - solved->at.back()) &&
                            !(out.at.front() + whole.path.length() - solved->at.back() < tolerance::length)));
        if (spot) {
            told.problem =
                Problem{"At " + mm(from.station) + " or " + mm(to.station) +
                            ", where two bays meet, a part of each would stand on the same spot. End the bay "
                            "a little before or behind it.",
                        "bays"};
        } else if (solved) {
            append(bay, *solved, shared, out, told, slots);
        } else {
            told.problem = solved.problem();
        }
        if (told.problem && !first) first = told.problem;
        out.bays.push_back(told);
        if (out.at.size() > size_t(kMostPlaces)) return tooMany(double(out.at.size()), "bays");
    }
    if (out.at.empty())
        return first ? Problem{"No bay holds a place. " + first->text, first->field}
                     : Problem{"There is no bay here.", "bays"};
    closeUp(whole, out, slots);
    return out;
}

} // namespace

Result<Stations> solveSpacing(const Path& path, const Spacing& rule, const Lineup& lineup, std::vector<double> reuse,
                              std::span<const BayEdge> edges) {
    const auto ruler = rulerOf(path, rule, lineup);
    if (!ruler) return ruler.problem();
    if (rule.bays != BayEdges::None && anyRule(rule, &RuleKind::vehicles))
        return Problem{"Vehicles are coupled along one stretch, not in bays. Use no bays, or another rule.", "bays"};
    auto solved = rule.bays != BayEdges::None ? solveBays(*ruler, edges) : solveOne(*ruler, std::move(reuse));
    if (!solved) return solved;
    Stations& out = solved.value();
    out.closed = ruler->closed && !kindOf(rule).vehicles(); // a train does not close, also where its path does
    if (out.at.empty())
        return Problem{"Not one place fits into the " + mm(ruler->usable) + " that can be used.", "rule"};
    if (path.closed() || out.at.back() > path.length()) // rounding may leave the last a hair beyond the end
        for (double& s : out.at) s = ruler->wrap(s);
    return solved;
}

Usable usableOf(const Spacing& s, double length) {
    return {s.from.value_or(0) + s.insetStart, s.to.value_or(length) - s.insetEnd};
}

Spacing slid(const Path& path, const Spacing& rule, const Stations& now, double by) {
    Spacing out = rule;
    if (path.closed() && !rule.from && !rule.to) {
        out.slide = std::fmod(rule.slide + by, path.length());
        if (out.slide < 0) out.slide += path.length();
        return out;
    }
    // A fixed pitch with its left over at the end may slide into the left over without another inset.
    const RuleKind& kind = kindOf(rule);
    const bool spare = !kind.keepsEnd() && kind.leftOver(rule.rule) == LeftOver::AtEnd;
    const double room = rule.insetEnd + (spare ? now.leftOver : 0);
    by = std::clamp(by, -rule.insetStart, room);
    out.insetStart = rule.insetStart + by;
    out.insetEnd = rule.insetEnd - (spare ? std::max(0.0, by - now.leftOver) : by);
    return out;
}

} // namespace vicinal
