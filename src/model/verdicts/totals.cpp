// What a run has one value of: what is left over, its count, its length, its weight.
#include "model/document/part_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/weights.h"
#include "model/verdicts/pass.h"
#include <algorithm>

namespace vicinal {
namespace {

double lengthOf(const RunResult& run) {
    const Placed& all = *run.placed;
    const Placement& l = *all.laid;
    double first = kFar, last = -kFar, before = -kFar, lap = 0;
    for (size_t i = 0; i < std::min(l.rowSize, l.count()); ++i) {
        if (l.stations[i] < before) lap = all.path.length(); // a stretch over the seam
        before = l.stations[i];
        if (all.leftOut(i)) continue;
        first = std::min(first, l.stations[i] + lap - l.occupied[i].behind);
        last = std::max(last, l.stations[i] + lap + l.occupied[i].ahead);
    }
    return l.closed ? all.path.length() : std::max(0.0, last - first);
}

/// kg; or which parts have no density or no volume.
Result<double> weightOf(const RunResult& run) {
    const Placed& all = *run.placed;
    std::map<Id, double> each;
    for (const PlacedPart& part : all.parts) {
        const auto one = massEach(run, part);
        if (!one) return one.problem();
        each[part.id] = *one;
    }
    double sum = 0;
    for (size_t i = 0; i < all.bodies(); ++i) {
        if (all.leftOut(i)) continue;
        const double k = i < all.count() ? all.laid->size[i] : 1;
        sum += each[all.part(i).id] * k * k * k;
    }
    return sum;
}

void addOne(const RunResult& run, CheckResult& out, double value, int place = 0) {
    const Placement& l = *run.placed->laid;
    CheckedPlace p;
    p.place = place;
    p.value = value;
    if (size_t(place) < l.frames.size()) p.a = p.b = l.frames[size_t(place)].seat;
    out.places.push_back(p);
}

} // namespace

void measureRemainder(Pass&, const RunResult& run, CheckResult& out) {
    const Placement& l = *run.placed->laid;
    addOne(run, out, l.leftOver, l.count() > 0 ? int(std::min(l.rowSize, l.count())) - 1 : 0);
}

void measureSeam(Pass&, const RunResult& run, CheckResult& out) {
    const Placement& l = *run.placed->laid;
    if (!l.closed)
        out.cannot = "The run does not go all the way round: it has no seam.";
    else // links: straight; others: of the path
        addOne(run, out, std::abs(l.closing.value_or(l.leftOver)), int(l.rowSize) - 1);
}

void measureTeeth(Pass&, const RunResult& run, CheckResult& out) {
    if (run.seats.empty()) out.cannot = "It is no chain round wheels.";
    for (const WheelSeat& s : run.seats) {
        CheckedPlace p;
        p.place = int(s.wheel);
        p.value = s.error;
        if (run.path && run.path->loop && s.wheel < run.path->wheels.size())
            p.a = p.b = run.path->wheels[s.wheel].centre;
        out.places.push_back(p);
    }
}

void measureCount(Pass&, const RunResult& run, CheckResult& out) { addOne(run, out, run.placed->present); }

void measureLength(Pass&, const RunResult& run, CheckResult& out) { addOne(run, out, lengthOf(run)); }

void measureWeight(Pass&, const RunResult& run, CheckResult& out) {
    if (const auto weight = weightOf(run))
        addOne(run, out, *weight);
    else
        out.cannot = weight.problem().text;
}

void measureWeightPerMetre(Pass&, const RunResult& run, CheckResult& out) {
    const auto weight = weightOf(run);
    const double length = lengthOf(run) / 1000;
    if (!weight)
        out.cannot = weight.problem().text;
    else if (length > 0)
        addOne(run, out, *weight / length);
    else
        out.cannot = "The run has no length.";
}

} // namespace vicinal
