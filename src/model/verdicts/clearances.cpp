// Distances between true bodies: neighbours, all other pairs of a run, other runs, site bodies.
#include "base/say.h"
#include "model/document/run_item.h"
#include "model/verdicts/pass.h"
#include <algorithm>
#include <set>

namespace vicinal {
namespace {

/// Out of line: GCC 12 warns of what is not there where it sees the text's length.
[[gnu::noinline]] Words said(const char* text) { return text; }

struct Asked {
    const PosedBody *a, *b;
    int place, other;
    Id item;
};

/// Those that are nearer to a limit than their triangles may be off, measured again on finer ones: exact where that is
/// enough, and no wider than a sixteenth of the error where it is not.
void refine(Pass& pass, CheckResult& out, const std::vector<Asked>& asked, std::vector<PairValue>& values,
            std::vector<double>& errors, double within) {
    if (pass.fine || !(out.check.least || out.check.most)) return;
    std::vector<size_t> unsure;
    for (size_t i = 0; i < asked.size(); ++i) {
        const PairValue& v = values[i];
        if (!v.found() || errors[i] <= v.error || (v.crossing && !v.depthKnown)) continue;
        if (const double by = beyond(out.check, v.clear); std::abs(by) < errors[i] && std::abs(by) > tolerance::length)
            unsure.push_back(i);
    }
    if (unsure.empty()) return;
    if (pass.interactive) { // it takes its time: the pass behind does it
        out.unrefined = true;
        return;
    }
    std::vector<std::pair<PosedBody, PosedBody>> finer;
    finer.reserve(unsure.size());
    std::vector<std::pair<const PosedBody*, const PosedBody*>> pairs;
    for (const size_t i : unsure) {
        auto& [a, b] = finer.emplace_back(*asked[i].a, *asked[i].b);
        a.body = pass.fineOf(a.body);
        b.body = pass.fineOf(b.body);
        pairs.emplace_back(&a, &b);
    }
    const auto again = pass.memory.pairs.measure(pairs, within, pass.job);
    for (size_t k = 0; k < unsure.size(); ++k) {
        values[unsure[k]] = again[k];
        errors[unsure[k]] =
            again[k].exact ? 0 : pass.errorOf(finer[k].first) + pass.errorOf(finer[k].second) + again[k].error;
    }
}

/// A body is measured once a pair of places: of several bodies the nearest.
void measure(Pass& pass, CheckResult& out, const std::vector<Asked>& asked, double within,
             bool mayApproximate = false) {
    std::vector<std::pair<const PosedBody*, const PosedBody*>> pairs;
    pairs.reserve(asked.size());
    std::vector<double> errors;
    errors.reserve(asked.size());
    for (const Asked& a : asked) {
        pairs.emplace_back(a.a, a.b);
        errors.push_back(pass.errorOf(*a.a) + pass.errorOf(*a.b));
    }
    PairMemory::Approximate approximate{out.check.least, out.check.most, out.check.margin};
    if (mayApproximate && pass.interactive) { // what is so near to a limit is not sure either
        const double error = errors.empty() ? 0 : *std::max_element(errors.begin(), errors.end());
        approximate.margin = std::max(approximate.margin, error) + tolerance::length;
    }
    auto values =
        pass.memory.pairs.measure(pairs, within, pass.job, mayApproximate && pass.interactive ? &approximate : nullptr);
    for (size_t i = 0; i < asked.size(); ++i) errors[i] = values[i].exact ? 0 : errors[i] + values[i].error;
    refine(pass, out, asked, values, errors, within);
    bool open = false;
    std::map<std::array<int, 3>, size_t> seen;
    const bool several = std::any_of(asked.begin(), asked.end(), [](const Asked& a) { return a.item != 0; }) ||
                         out.check.of == CheckKind::Itself;
    for (size_t i = 0; i < asked.size(); ++i) {
        const PairValue& v = values[i];
        if (!v.found()) continue;
        open = open || !v.depthKnown;
        out.about = std::max(out.about, v.about);
        out.error = std::max(out.error, errors[i]);
        CheckedPlace p;
        p.place = asked[i].place;
        p.other = asked[i].other;
        p.item = asked[i].item;
        p.value = v.clear;
        p.error = errors[i];
        p.crosses = v.crossing && !v.depthKnown;
        p.a = v.a;
        p.b = v.b;
        if (several) {
            const auto [at, fresh] = seen.try_emplace({p.place, p.other, int(p.item)}, out.places.size());
            if (!fresh) {
                const CheckedPlace& was = out.places[at->second];
                if (p.crosses != was.crosses ? p.crosses : p.value < was.value) out.places[at->second] = p;
                continue;
            }
        }
        out.places.push_back(p);
    }
    if (open)
        out.remarks.push_back(said("Bodies that run into one another are open, or run through themselves: how deep "
                                   "cannot be said; the other distances are "
                                   "true."));
}

/// Turned, sized or on a bend, bodies come nearer than the gap along the path: told where that misleads.
void compareAlong(const RunResult& run, CheckResult& out) {
    std::map<std::pair<int, int>, double> along;
    for (const Gap& g : run.placed->gaps) along[std::minmax(g.from, g.to)] = g.clear();
    const CheckedPlace* worst = nullptr;
    double gap = 0;
    int count = 0;
    for (const CheckedPlace& p : out.places) {
        if (p.item != 0 || p.crosses) continue;
        const auto found = along.find(std::minmax(p.place, p.other));
        if (found == along.end() || !(found->second > 0.01) || p.value >= found->second / 2) continue;
        ++count;
        if (!worst || p.value - found->second < worst->value - gap) worst = &p, gap = found->second;
    }
    if (!worst) return;
    const auto told = [](double v) { return Words::length(std::round(v * 100) / 100, Words::Style::Decimals); };
    Words text = "Along the path the gap from place " + say::count(worst->place + 1) + " to " +
                 say::count(worst->other + 1) + " is " + told(gap) + "; the bodies ";
    text += worst->value < 0 ? "run " + told(-worst->value) + " into one another" : "come within " + told(worst->value);
    text += ".";
    if (count == 2) text += " So does one other.";
    if (count > 2) text += " So do " + say::count(count - 1) + " others.";
    out.remarks.push_back(text);
}

double reachOf(const Check& c) { return c.least.value_or(0) + c.margin + 1e-3; }

void betweenNeighbours(Pass& pass, const RunResult& run, CheckResult& out) {
    std::vector<std::shared_ptr<const RunResult>> with;
    if (run.between && run.between->placed && run.between->path == run.path) with.push_back(run.between);
    std::vector<Asked> asked;
    for (const Neighbours& n : neighboursOf(pass, run, with, false))
        asked.push_back({n.a, n.b, n.place, n.other, n.item});
    if (asked.empty())
        out.cannot = "There are fewer than two places.";
    else {
        measure(pass, out, asked, kFar, true);
        compareAlong(run, out);
    }
}

void withinItself(Pass& pass, const RunResult& run, CheckResult& out) {
    const Bodies& own = pass.bodies(run);
    const double within = reachOf(out.check);
    const auto pairs = pairsWithin(own.boxes, own.boxes, within);
    if (!pairs) {
        out.cannot = pairs.problem().text;
        return;
    }
    std::set<std::pair<int, int>> neighbours;
    for (const Gap& g : run.placed->gaps) neighbours.insert(std::minmax(g.from, g.to));
    std::vector<Asked> asked;
    for (const auto& [i, k] : *pairs) {
        const PosedBody &a = own.all[i], &b = own.all[k];
        if (a.place == b.place || neighbours.count(std::minmax(a.place, b.place))) continue;
        asked.push_back({&a, &b, a.place, b.place, 0});
    }
    measure(pass, out, asked, within);
}

void againstOther(Pass& pass, const RunResult& run, const Standing& other, CheckResult& out,
                  std::vector<Asked>& asked) {
    const Bodies &own = pass.bodies(run), &theirs = pass.bodies(other);
    const auto pairs = pairsWithin(own.boxes, theirs.boxes, reachOf(out.check));
    if (!pairs) {
        out.cannot = pairs.problem().text;
        return;
    }
    for (const auto& [i, k] : *pairs)
        asked.push_back({&own.all[i], &theirs.all[k], own.all[i].place, theirs.all[k].place, other.id});
}

/// Something of the run can be measured.
bool hasBodies(Pass& pass, const RunResult& run, CheckResult& out) {
    if (pass.bodies(run).all.empty()) {
        out.cannot = "None of its parts has a body to measure.";
        return false;
    }
    if (pass.bodies(run).empty) out.remarks.push_back(said("Some of its parts have no size and are not measured."));
    return true;
}

} // namespace

void measureNeighbours(Pass& pass, const RunResult& run, CheckResult& out) {
    if (hasBodies(pass, run, out)) betweenNeighbours(pass, run, out);
}

void measureItself(Pass& pass, const RunResult& run, CheckResult& out) {
    if (hasBodies(pass, run, out)) withinItself(pass, run, out);
}

void measureAgainst(Pass& pass, const RunResult& run, CheckResult& out) {
    if (!hasBodies(pass, run, out)) return;
    const bool body = wordsOf(out.check.of).against == CheckAgainst::Body;
    std::vector<Asked> asked;
    if (out.check.other == 0 && !body) {
        for (const auto& other : pass.of.runs)
            if (other.get() != &run && other->placed && !other->item->hidden && !cutsOnly(*other) && !out.cannot)
                againstOther(pass, run, *other, out, asked);
    } else {
        const auto other = pass.of.standing(out.check.other);
        const bool wanted = other && other->kind == (body ? Standing::Kind::SiteBody : Standing::Kind::Run);
        if (!wanted)
            out.cannot = said(body ? "The body it is to keep clear was deleted. Choose another one."
                                   : "The run it is to keep clear was deleted. Choose another one.");
        else if (!other->instances || pass.bodies(*other).all.empty())
            out.cannot = Words("\"") + other->name + "\" has no body to measure.";
        else
            againstOther(pass, run, *other, out, asked);
    }
    if (!out.cannot) measure(pass, out, asked, reachOf(out.check));
}

} // namespace vicinal
