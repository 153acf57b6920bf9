#include "model/edits/run_edits.h"
#include "layout/along/bound_exceptions.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rule_kind.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "parts/makers/maker.h"
#include <algorithm>
#include <cassert>
#include <cmath>

namespace vicinal {

Spacing switchedFrom(const RunResult& run, size_t rule) {
    const Spacing& was = run.item->spacing;
    Spacing out = switched(was, rule);
    if (rule == was.rule.index() || !run.placed || run.stale() || run.placed->count() < 2) return out;
    const Placed& now = *run.placed;
    const size_t n = now.laid->rowSize;
    const double value = now.laid->value > 0 && was.measure != Measure::OfLength ? now.laid->value : now.laid->pitch;
    RowAsItStands row{was.rule, long(n), std::floor(value * 1000) / 1000, {}};
    const double L = run.path->path->length();
    const bool round = now.laid->closed && !was.from && !was.to;
    const double start = round ? now.stations()[0] : was.from.value_or(0) + was.insetStart;
    for (size_t i = 0; i < n; ++i) {
        double s = now.stations()[i] - start;
        if (s < -tolerance::length) s += L;
        row.stations.push_back(std::max(0.0, s));
    }
    kindOf(out).takeOver(out.rule, row);
    return out;
}

namespace {

RowStations rowOf(const RunResult& r) {
    const Placement& all = *r.placed->laid;
    return {std::span(all.stations).first(std::min(all.rowSize, all.count())), all.pitch, r.placed->path.length(),
            all.closed, all.originals()};
}

int ownPlace(const RunResult& r, int place) { return int(r.placed->laid->original(size_t(place))); }

} // namespace

std::map<int, Exception> exceptionsOf(const RunResult& r) {
    std::map<int, Exception> out;
    if (!r.placed) return out;
    const RowStations row = rowOf(r);
    for (const auto& e : r.item->exceptions)
        if (const auto at = placeOf(e, row)) out.try_emplace(int(*at), e);
    return out;
}

Exception exceptionAt(const RunResult& r, int place) {
    const auto all = exceptionsOf(r);
    if (const auto found = all.find(ownPlace(r, place)); found != all.end()) return found->second;
    Exception none;
    none.place = ownPlace(r, place) + 1;
    return none;
}

RunItem excepted(const RunResult& r, const std::set<int>& places, bool byStation,
                 const std::function<void(Exception&)>& how) {
    assert(r.placed);
    RunItem run = *r.item;
    std::set<int> todo;
    for (int p : places) todo.insert(ownPlace(r, p));
    for (auto& e : run.exceptions)
        if (const auto at = placeOf(e, rowOf(r)); at && todo.erase(int(*at))) how(e);
    for (int p : todo) {
        Exception e;
        e.place = p + 1;
        if (byStation) e.station = r.placed->stations()[size_t(p)];
        how(e);
        run.exceptions.push_back(e);
    }
    std::erase_if(run.exceptions, [](const Exception& e) { return e.plain(); });
    return run;
}

RunItem bound(const RunResult& r, const std::set<int>& places, bool byStation) {
    RunItem run = *r.item;
    std::set<int> own;
    for (int p : places) own.insert(ownPlace(r, p));
    for (auto& e : run.exceptions) {
        const auto at = placeOf(e, rowOf(r));
        if (!at || !own.count(int(*at))) continue;
        e.place = int(*at) + 1;
        e.station = byStation ? std::optional(r.placed->stations()[*at]) : std::nullopt;
    }
    return run;
}

std::set<int> everyNth(const RunResult& r, long n, long first) {
    std::set<int> out;
    if (r.placed && n > 0)
        for (long i = std::max(0L, first - 1); i < long(r.placed->count()); i += n) out.insert(int(i));
    return out;
}

std::set<int> breaking(const RunResult& r) {
    std::set<int> out;
    if (!r.placed) return out;
    const SpacingLimits limits = limitsOf(r.item->spacing);
    for (const Gap& g : r.placed->gaps)
        if (limits.gapBroken(g.clear())) out.insert({g.from, g.to});
    eachPitch(*r.placed, [&](size_t i, double pitch) {
        if (limits.pitchOver(pitch) || limits.pitchUnder(pitch)) out.insert({int(i), int(i) + 1});
    });
    return out;
}

std::set<int> onCorners(const RunResult& r) {
    std::set<int> out;
    if (!r.placed) return out;
    for (size_t i = 0; i < r.placed->count(); ++i)
        for (const Corner& c : r.placed->path.corners())
            if (std::abs(c.station - r.placed->stations()[i]) <= tolerance::length) out.insert(int(i));
    return out;
}

std::set<int> betweenStations(const RunResult& r, double from, double to) {
    std::set<int> out;
    if (!r.placed) return out;
    for (size_t i = 0; i < r.placed->count(); ++i) {
        const double s = r.placed->stations()[i];
        if (from <= to ? s >= from && s <= to : s >= from || s <= to) out.insert(int(i));
    }
    return out;
}

void takeCount(RunItem& r, long count) {
    if (r.gives.what == Gives::Nothing)
        r.spacing = withCount(r.spacing, count);
    else
        r.gives.count = count;
    if (r.gives.what != Gives::Nothing) kindOf(r.spacing).withoutCount(r.spacing->rule);
}

Spacing withCount(const Spacing& was, long count) { return kindOf(was).withCount(was, count); }

} // namespace vicinal
