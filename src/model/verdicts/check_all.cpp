// All checks of a document, run by run.
#include "base/say.h"
#include "base/text.h"
#include "clearance/check.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/recipes/rail_shape.h"
#include "model/verdicts/pass.h"
#include <algorithm>

namespace vicinal {
namespace {

constexpr size_t kMostBodies = 200'000;

/// What a run's checks are worked out from, besides the run.
std::vector<std::shared_ptr<const void>> sourcesOf(const Evaluation& of, const std::shared_ptr<const RunResult>& run,
                                                   const std::vector<Check>& checks) {
    std::vector<std::shared_ptr<const void>> out{run};
    for (const Check& c : checks) {
        if (!c.on) continue;
        if (c.of == CheckKind::OtherRun && c.other == 0)
            out.insert(out.end(), of.runs.begin(), of.runs.end());
        else if (c.other != 0)
            out.push_back(of.standing(c.other));
        if (c.of == CheckKind::ClearGap || c.of == CheckKind::Touching) out.push_back(run->between);
        if (c.of == CheckKind::Opening) {
            for (const auto& r : of.runs)
                if (r->path == run->path) out.push_back(r);
            for (const auto& [id, body] : of.bodies)
                if (std::holds_alternative<RailAlong>(body->item->shape)) out.push_back(body);
        }
    }
    return out;
}

using Measure = void (*)(Pass&, const RunResult&, CheckResult&);

/// What measures a kind: one that is forgotten does not compile.
Measure measureOf(CheckKind of) {
    switch (of) {
    case CheckKind::ClearGap: return measureNeighbours;
    case CheckKind::Touching: return measureNeighbours;
    case CheckKind::Opening: return measureOpenings;
    case CheckKind::Itself: return measureItself;
    case CheckKind::OtherRun: return measureAgainst;
    case CheckKind::SiteBody: return measureAgainst;
    case CheckKind::Reach: return measureFalling;
    case CheckKind::Bow: return measureBow;
    case CheckKind::Corner: return measureCorners;
    case CheckKind::Closing: return measureClosing;
    case CheckKind::NoseSlope: return measureSlope;
    case CheckKind::StepUp: return measureSteps;
    case CheckKind::Remainder: return measureRemainder;
    case CheckKind::Seam: return measureSeam;
    case CheckKind::SeatOff: return measureSeats;
    case CheckKind::PinsOff: return measurePins;
    case CheckKind::JointTurns: return measureJoints;
    case CheckKind::Teeth: return measureTeeth;
    case CheckKind::PlaceCount: return measureCount;
    case CheckKind::TotalLength: return measureLength;
    case CheckKind::Weight: return measureWeight;
    case CheckKind::WeightPerMetre: return measureWeightPerMetre;
    }
    return nullptr; // no kind
}

void workOut(Pass& pass, const RunResult& run, CheckResult& out) {
    if (!run.placed) {
        out.cannot = run.problem ? run.problem->text : Words("It has no places.");
        return;
    }
    if (const auto wrong = defectOf(out.check)) {
        out.cannot = wrong->text;
        return;
    }
    if (wordsOf(out.check.of).lane[0] != 0 && run.placed->bodies() > kMostBodies) {
        out.cannot = say::count(run.placed->bodies()) + " bodies are more than can be measured one by one (" +
                     std::to_string(kMostBodies) +
                     "): it would take minutes and gigabytes at every edit. Check a shorter stretch of the run, or a "
                     "copy with fewer places.";
        return;
    }
    try {
        measureOf(out.check.of)(pass, run, out);
    } catch (const std::bad_alloc&) {
        out.cannot = "There is not enough memory for this check.";
    } catch (const std::exception& e) {
        out.cannot = Words("This check cannot be worked out: ") + text::reasonOf(e) + ".";
    }
}

Verdict verdictOf(const RunChecks& all, const Evaluation& of) {
    const RunResult& run = *all.run;
    Verdict out = run.verdict;
    const bool measured = std::any_of(all.list.begin(), all.list.end(), [](const CheckResult& r) {
        return r.check.on && (r.check.of == CheckKind::ClearGap || r.check.of == CheckKind::Touching) && !r.cannot;
    });
    // Boxes that overlap are no matter where the bodies themselves were measured.
    if (out.byBoxes && measured) out = {Mark::Good, "", -1};
    const CheckResult* worst = nullptr;
    for (const CheckResult& r : all.list)
        if (r.check.on && r.mark > out.mark && (!worst || r.mark > worst->mark)) worst = &r;
    if (worst)
        return {worst->mark, say::value(titleOf(worst->check, of)) + ": " + worst->text,
                worst->worst ? worst->worst->place : -1};
    if (out.text.empty()) {
        for (const CheckResult& r : all.list)
            if (r.check.on && r.value) return {Mark::Good, say::value(titleOf(r.check, of)) + ": " + r.text, -1};
    }
    return out;
}

} // namespace

const RunChecks* Checked::run(Id id) const {
    const auto found = runs.find(id);
    return found == runs.end() ? nullptr : found->second.get();
}

std::shared_ptr<const Checked> check(std::shared_ptr<const Evaluation> of, CheckMemory& memory,
                                     const std::shared_ptr<const Checked>& before, const CheckOrder& order, Job* job) {
    const std::lock_guard lock(memory.mutex);
    auto out = std::make_shared<Checked>();
    out->of = of;
    Pass pass(*of, memory, order, job);
    std::vector<std::shared_ptr<const RunResult>> runs = of->runs;
    std::stable_partition(runs.begin(), runs.end(), [&](const auto& r) { return r->item->id == order.first; });
    size_t done = 0;
    for (const auto& run : runs) {
        const Id id = run->item->id;
        std::shared_ptr<const RunChecks> old;
        if (before)
            if (const auto found = before->runs.find(id); found != before->runs.end()) old = found->second;
        const bool had = old != nullptr;
        const bool wanted =
            order.only.empty() || std::find(order.only.begin(), order.only.end(), id) != order.only.end();
        const auto checks = checksOf(*run);
        auto sources = sourcesOf(*of, run, checks);
        if (job) {
            job->progress = double(done++) / double(std::max<size_t>(1, runs.size()));
            job->within = 0;
        }
        if (had && (!wanted || (old->from == sources && old->fine == order.fine && !old->stopped &&
                                (order.interactive || !old->approximate)))) {
            out->runs[id] = old;
            continue;
        }
        if (!wanted) continue;
        auto all = std::make_shared<RunChecks>();
        all->run = run;
        all->from = std::move(sources);
        all->fine = order.fine;
        for (const Check& c : checks) {
            CheckResult r;
            r.check = c;
            if (c.on && !pass.stop()) {
                workOut(pass, *run, r);
                if (!pass.stop()) judge(*of, *run, r);
                all->approximate = all->approximate || r.about > 0 || r.unrefined;
            }
            all->list.push_back(std::move(r));
        }
        if (pass.stop()) {
            all->stopped = true;
            if (had) {
                auto kept = std::make_shared<RunChecks>(*old);
                kept->stopped = true;
                out->runs[id] = kept;
            }
            continue;
        }
        all->verdict = verdictOf(*all, *of);
        out->runs[id] = all;
        if (order.done) order.done(all);
    }
    if (!pass.stop()) {
        memory.pairs.forgetUnused();
        std::erase_if(memory.fine, [](const auto& one) { return one.second.first.use_count() == 1; });
    }
    return out;
}

} // namespace vicinal
