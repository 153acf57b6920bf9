#include "model/edits/reverse.h"
#include "layout/spacing/rule_kind.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <algorithm>
#include <cassert>

namespace vicinal {
namespace {

/// The path the other way round, or nothing: one has to be made.
Id backwardsOf(const Document& d, Id path) {
    const auto source = [](const PathItem& p) {
        const auto* r = std::get_if<DerivedRecipe>(&p.recipe);
        return r && std::holds_alternative<BackwardsOf>(r->change) ? r->source : Id(0);
    };
    if (const auto own = d.path(path))
        if (const Id s = source(*own); d.path(s)) return s;
    for (const auto& p : d.paths)
        if (source(*p) == path) return p->id;
    return 0;
}

void mirror(Profile& p, double length, double sign) {
    for (Key& k : p.keys) k = {(p.stretches ? 1 : length) - k.at, sign * k.value};
    std::reverse(p.keys.begin(), p.keys.end());
}

} // namespace

Document reversed(const Document& before, const RunResult& run) {
    assert(run.placed && run.path && run.path->path);
    Document d = before;
    RunItem r = *run.item;
    const Placement& laid = *run.placed->laid;
    const double L = run.path->path->length();
    r.path = backwardsOf(d, run.item->path);
    if (!r.path) {
        PathItem back;
        back.name = run.path->item->name + " backwards";
        back.recipe = DerivedRecipe{run.path->item->id, BackwardsOf{}};
        d = with(std::move(d), std::move(back));
        r.path = lastId(d);
    }
    const auto there = [&](std::optional<double> v) { return v ? std::optional(L - *v) : v; };
    Spacing& s = r.spacing;
    const bool round = laid.closed && !s.from && !s.to; // its first place stays the first
    s.from = there(run.item->spacing->to);
    s.to = there(run.item->spacing->from);
    std::swap(s.insetStart, s.insetEnd);
    if (round && s.slide != 0) s.slide = L - s.slide;
    for (double& b : s.bayStations) b = L - b;
    std::reverse(s.bayStations.begin(), s.bayStations.end());
    const long bays = long(laid.bays.size());
    for (BayRule& b : s.bayRules)
        if (b.bay <= bays) b.bay = bays + 1 - b.bay;
    std::sort(s.bayRules.begin(), s.bayRules.end(), [](const BayRule& a, const BayRule& b) { return a.bay < b.bay; });
    if (r.facing.corner != CornerRule::Bisector)
        r.facing.corner = r.facing.corner == CornerRule::LegBefore ? CornerRule::LegAfter : CornerRule::LegBefore;
    mirror(r.changes.roll, L, -1); // about a nose that looks the other way
    mirror(r.changes.size, L, 1);
    mirror(r.changes.across, L, -1);
    mirror(r.changes.up, L, 1);
    if (Profile* keys = kindOf(s).keys(s.rule)) mirror(*keys, L, 1);
    r.rows.apart = -r.rows.apart;
    const int n = int(laid.rowSize);
    const auto number = [&](int was) {
        if (was < 1 || was > n) return was;
        return round ? (n + 1 - was) % n + 1 : n + 1 - was;
    };
    for (int& place : r.leftOut) place = number(place);
    std::sort(r.leftOut.begin(), r.leftOut.end());
    for (Exception& e : r.exceptions) {
        e.place = number(e.place);
        e.station = there(e.station);
        e.move.x() = -e.move.x();
        e.move.y() = -e.move.y();
    }
    return with(std::move(d), std::move(r));
}

} // namespace vicinal
