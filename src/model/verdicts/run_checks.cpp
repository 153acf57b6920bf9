// Which checks a run is asked.
#include "layout/spacing/limits.h"
#include "layout/spacing/rule_kind.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/verdicts/pass.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

bool upright(const RunResult& run) {
    if (!run.placed || run.placed->parts.empty()) return false;
    const auto& crown = run.item->facing.crown;
    const Box3& box = run.placed->laid->usedSlots.front().seated;
    return (std::holds_alternative<Plumb>(crown) || std::holds_alternative<Upright>(crown)) &&
           box.sizes().z() > 2 * std::max(box.sizes().x(), box.sizes().y());
}

/// What a run is asked by what it is and how it stands.
std::vector<Check> givenByKind(const RunResult& run) {
    std::vector<Check> out;
    const Spacing& s = run.item->spacing;
    const auto add = [&](CheckKind of, std::optional<double> least, std::optional<double> most) {
        Check c;
        c.of = of;
        c.least = least;
        c.most = most;
        out.push_back(c);
    };
    // What is joined bears on its neighbour: it may touch, by a tenth of a millimetre (of small things by less), and
    // what is made to be in one another is told apart.
    const auto joined = [&] {
        double length = 0;
        if (run.placed)
            for (const Slot& slot : run.placed->laid->usedSlots) length = std::max(length, slot.seated.sizes().x());
        add(CheckKind::Touching, -std::min(0.1, std::max(0.001, length / 200)), {});
        add(CheckKind::Itself, 0.0, {});
    };
    if (const RuleKind& kind = kindOf(s); kind.linked()) {
        const double turn = kind.turnsTo(s.rule);
        add(CheckKind::JointTurns, {}, turn < kPi ? std::optional(turn) : std::nullopt);
        if (!kind.vehicles()) add(CheckKind::PinsOff, {}, 0.01);
        if (!kind.vehicles() && !run.seats.empty()) add(CheckKind::Teeth, {}, 0.1);
        joined();
        return out;
    }
    if (s.measure == Measure::OfLength && s.ofLength == 1)
        add(CheckKind::Touching, -0.01, 1.0);
    else if (!mayOverlap(s))
        add(CheckKind::ClearGap, std::max(0.0, s.gapAtLeast.value_or(0)), {});
    if (s.gapAtMost && upright(run)) add(CheckKind::Opening, {}, *s.gapAtMost);
    if (!mayOverlap(s) && !(run.placed && cutsOnly(run))) add(CheckKind::Itself, 0.0, {});
    return out;
}

std::vector<Check> givenTo(const RunResult& run) {
    std::vector<Check> out = givenByKind(run);
    // How much is too much only the maker knows: it is measured and told, without a limit.
    const LongParts are = longParts(run);
    Check c;
    if (are.leave) c.of = CheckKind::Bow, out.push_back(c);
    if (are.cut) c.of = CheckKind::Corner, out.push_back(c);
    return out;
}

} // namespace

std::vector<Check> checksOf(const RunResult& run) {
    std::vector<Check> out = givenTo(run);
    for (const Check& own : run.item->checks) {
        const auto same = std::find_if(out.begin(), out.end(), [&](const Check& c) { return c.same(own); });
        if (same != out.end())
            *same = own;
        else
            out.push_back(own);
    }
    return out;
}

Check firstCheck(CheckKind of, Id other, const RunResult& run) {
    const CheckWords& words = wordsOf(of);
    const auto limit = [](double v) { return std::isnan(v) ? std::nullopt : std::optional(v); };
    Check c;
    c.of = of;
    c.other = other;
    c.least = limit(words.firstLeast);
    c.most = limit(words.firstMost);
    if (of == CheckKind::Opening) c.most = run.item->spacing->gapAtMost.value_or(words.firstMost);
    if (of == CheckKind::PlaceCount && run.placed) c.least = c.most = run.placed->present;
    return c;
}

std::optional<Check> givenCheck(const RunResult& run, const Check& question) {
    for (const Check& c : givenTo(run))
        if (c.same(question)) return c;
    return std::nullopt;
}

RunItem withCheck(RunItem item, const RunResult& run, const Check& c) {
    const auto given = givenCheck(run, c);
    const auto same = std::find_if(item.checks.begin(), item.checks.end(), [&](const Check& x) { return x.same(c); });
    if (given && *given == c) {
        if (same != item.checks.end()) item.checks.erase(same);
    } else if (same != item.checks.end())
        *same = c;
    else
        item.checks.push_back(c);
    return item;
}

RunItem withoutCheck(RunItem item, const RunResult& run, const Check& c) {
    if (auto given = givenCheck(run, c)) {
        given->on = false;
        return withCheck(std::move(item), run, *given);
    }
    std::erase_if(item.checks, [&](const Check& x) { return x.same(c); });
    return item;
}

void excuse(Check& c, const CheckedPlace& p, const std::string& why, const std::string& by, const std::string& on) {
    Excuse e;
    e.place = p.place + 1;
    e.other = p.other + 1;
    e.why = why;
    e.by = by;
    e.on = on;
    c.excused.push_back(std::move(e));
}

} // namespace vicinal
