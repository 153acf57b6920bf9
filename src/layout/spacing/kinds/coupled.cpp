// Vehicles one ahead of the other, each found from the one before.
#include "base/say.h"
#include "layout/spacing/chain_links.h"
#include "layout/spacing/rule_kind.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {
namespace {

/// Each is found by a search of its own: more would hold up whoever waits for them.
constexpr long kMostVehicles = 5000;

std::string vehicle(long i) { return "vehicle " + std::to_string(i + 1); }

std::optional<Problem> defectOf(const Coupled& rule, const Ruler& ruler) {
    const Vehicles* all = ruler.lineup.vehicles();
    for (size_t k = 0; k < ruler.lineup.slotCount(); ++k)
        if (ruler.lineup.stands(k) && (!all || !all->has(k)))
            return Problem{"A part of this run has no pins to stand on the path by. Set two in its seat, where its "
                           "axles or pivots are, or take another rule.",
                           "rule"};
    if (rule.count < 0 || rule.count > kMostVehicles)
        return Problem{"The number of vehicles is " + say::count(rule.count) +
                           "; use 0 for as many as fit, or a number up to " + say::count(kMostVehicles) + ".",
                       "vehicles"};
    if (!(rule.gap >= 0)) return Problem{"A coupling is a length from 0 on, not " + mm(rule.gap) + ".", "coupling"};
    if (!(rule.swing > 0))
        return Problem{"What cannot turn under a vehicle keeps it on the straight. Use an angle above 0.", "swing"};
    return std::nullopt;
}

/// Bodies that would overlap on the straight already.
std::optional<Problem> tooShort(const Coupled& rule, const Vehicles& all, size_t a, size_t b, long i) {
    const Gear &before = all.gear(a), &next = all.gear(b);
    const double needed =
        std::max(0.0, before.front - before.hooks[1].x()) + std::max(0.0, next.hooks[0].x() - next.back);
    if (needed <= rule.gap + tolerance::length) return std::nullopt;
    return Problem{"A coupling of " + mm(rule.gap) + " is shorter than the bodies of " + vehicle(i - 1) + " and " +
                       vehicle(i) + " allow: they would overlap by " + mm(needed - rule.gap) + ". Use " + mm(needed) +
                       " or more.",
                   "coupling"};
}

} // namespace

/// Vehicles from the start on, at most so many; `stopped`: why there are no more.
static Result<Stations> train(const Coupled& rule, const Ruler& ruler, long most, std::optional<Problem>& stopped,
                              std::vector<double> reuse = {}) {
    if (auto defect = defectOf(rule, ruler)) return *defect;
    const Vehicles& all = *ruler.lineup.vehicles();
    const double end = ruler.end() + tolerance::arc * ruler.usable;
    Stations out;
    out.at = std::move(reuse);
    out.at.clear();
    VehiclePose before;
    for (long i = 0; i < most; ++i) {
        if (i >= kMostVehicles && rule.count == 0)
            return Problem{"More than " + say::count(kMostVehicles) +
                               " vehicles fit on this path. Type how many there are.",
                           "vehicles"};
        const size_t slot = ruler.slot(i);
        VehiclePose now;
        std::vector<VehiclePose> below;
        if (i == 0) {
            now = all.stand(slot, ruler.start, &below);
        } else {
            if (auto p = tooShort(rule, all, before.slot, slot, i)) return *p;
            double least = 0;
            now = all.coupled(before, slot, rule.gap, &least);
            if (!now.stands() && least > rule.gap)
                return Problem{"A coupling of " + mm(rule.gap) + " cannot bridge what " + vehicle(i - 1) + " and " +
                                   vehicle(i) + " swing apart in the bend at " + mm(before.last) + ". Use " +
                                   mm(least * (1 + tolerance::alike)) + " or more.",
                               "coupling"};
            if (now.stands()) now = all.stand(slot, now.first, &below);
        }
        if (!now.stands()) {
            stopped = Problem{Words("V") + vehicle(i).substr(1) +
                                  " finds no way to stand: its pins are farther apart than the path is wide there.",
                              "rule"};
            break;
        }
        if (now.last > end) {
            stopped = Problem{Words("V") + vehicle(i).substr(1) + " reaches " + mm(now.last - end) + " beyond the " +
                                  (ruler.closed ? "whole loop" : "end") + ".",
                              "vehicles"};
            break;
        }
        out.at.push_back(now.first);
        out.pins.push_back(now.last);
        out.swings.push_back(all.swing(now, below));
        if (i > 0) {
            const Vec3 a = before.nose(), b = now.nose();
            out.joints.push_back(std::atan2(a.cross(b).norm(), a.dot(b)));
        }
        before = now;
    }
    const long n = long(out.at.size());
    if (n == 0) {
        if (stopped->field == "vehicles")
            return Problem{"Not one vehicle fits: it is " + mm(all.toLast(int(ruler.slot(0)))) +
                               " from its first to its last point on the path, which has " + mm(ruler.usable) + ".",
                           "rule"};
        return *stopped;
    }
    out.even = false;
    out.value = rule.gap;
    out.pitch = n > 1 ? (out.at.back() - out.at.front()) / double(n - 1) : 0;
    out.leftOver = std::max(0.0, ruler.end() - out.pins.back());
    return out;
}

static Result<Stations> solve(const Coupled& rule, const Ruler& ruler, std::vector<double> reuse) {
    std::optional<Problem> stopped;
    auto out = train(rule, ruler, rule.count > 0 ? rule.count : kMostPlaces, stopped, std::move(reuse));
    if (!out) return out;
    const long n = long(out->at.size());
    if (rule.count > 0 && n < rule.count) {
        if (stopped->field != "vehicles") return *stopped;
        return Problem{say::count(rule.count) + " vehicles do not fit; at most " + say::count(n) + " do.", "vehicles"};
    }
    return out;
}

namespace {

/// Trains of so many vehicles, each with what it leaves over.
Result<std::vector<Fit>> trainFits(const Coupled& rule, const Ruler& ruler) {
    const auto now = solve(rule, ruler, {});
    if (!now) return now.problem();
    const long used = long(now->at.size());
    constexpr long kRows = 11;
    std::optional<Problem> stopped;
    const auto all = train(rule, ruler, used + kRows, stopped);
    if (!all) return all.problem();
    std::vector<Fit> out;
    const Vehicles& vehicles = *ruler.lineup.vehicles();
    for (long n = std::max(1L, used - kRows); n <= long(all->at.size()); ++n) {
        Fit fit;
        for (long i = 1; i < n; ++i) { // between bodies, on the straight
            const Gear &a = vehicles.gear(ruler.slot(i - 1)), &b = vehicles.gear(ruler.slot(i));
            const double clear = rule.gap - (a.front - a.hooks[1].x()) - (b.hooks[0].x() - b.back);
            fit.gapLeast = i == 1 ? clear : std::min(fit.gapLeast, clear);
            fit.gapMost = i == 1 ? clear : std::max(fit.gapMost, clear);
        }
        fit.count = n;
        fit.pitch = n > 1 ? (all->at[size_t(n) - 1] - all->at[0]) / double(n - 1) : 0;
        fit.value = rule.gap;
        fit.leftOver = std::max(0.0, ruler.end() - all->pins[size_t(n) - 1]);
        fit.inUse = n == used;
        out.push_back(fit);
    }
    std::stable_sort(out.begin(), out.end(),
                     [&](const Fit& a, const Fit& b) { return std::abs(a.count - used) < std::abs(b.count - used); });
    if (out.size() > kRows) out.resize(kRows);
    return out;
}

class CoupledKind final : public RuleKind {
    static const Coupled& of(const SpacingRule& r) { return std::get<Coupled>(r); }
    static Coupled counted(Coupled train, long count) {
        train.count = count;
        return train;
    }

public:
    bool linked() const override { return true; }
    bool vehicles() const override { return true; }
    double turnsTo(const SpacingRule& r) const override { return of(r).swing; }
    std::optional<LeftOver> leftOver(const SpacingRule&) const override { return LeftOver::AtEnd; }
    long count(const SpacingRule& r) const override { return of(r).count; }
    bool relevant(const Spacing&, const std::string& key) const override {
        return key != "measure" && key != "along" && key != "ofLength" && key != "multiple" && key != "bays" &&
               key != "bayStations" && key != "bayRun";
    }
    Result<Stations> solve(const SpacingRule& r, const Ruler& ruler, std::vector<double> reuse) const override {
        return spacing::solve(of(r), ruler, std::move(reuse));
    }
    Result<std::vector<Fit>> fits(const SpacingRule& r, const Ruler& ruler) const override {
        return trainFits(of(r), ruler);
    }
    Spacing withCount(const Spacing& was, long count) const override {
        Spacing out = was;
        out.rule = counted(of(was.rule), count);
        return out;
    }
    void takeOver(SpacingRule& r, const RowAsItStands& row) const override { std::get<Coupled>(r).count = row.count; }
    SpacingRule moving(const SpacingRule& r, long count) const override { return counted(of(r), count); }
};

} // namespace

} // namespace vicinal::spacing

namespace vicinal {

void describe(const ValueVisitor& v, Coupled& r) {
    v.count("vehicles", "Vehicles", "How many, one ahead of the other; 0: as many as fit", r.count);
    v.length("coupling", "Coupling", "Straight from the coupling point of one vehicle to that of the next", r.gap);
    v.angle("swing", "Swings to", "How far a bogie may turn under its vehicle, and vehicles at a coupling; 180: freely",
            r.swing);
}

const RuleKind& kindOf(const Coupled&) {
    static const spacing::CoupledKind kind;
    return kind;
}

} // namespace vicinal
