#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/typed/typed_values.h"
#include "model/edits/yard_edits.h"
#include "model/verdicts/checked.h"
#include "model/verdicts/typed_check.h"

namespace vicinal::cli {

namespace {

/// Sets all values of one item; the changed document, or the first problem.
template<class Item> Result<Document> changed(const Document& d, Item item, const std::vector<std::string>& values) {
    if (auto problem =
            eachValue(values, [&](const auto& key, const auto& text) { return setTyped(item, d, key, text); }))
        return *problem;
    return with(d, std::move(item));
}

/// The same of one check of a run; a check that the run is not asked yet is asked.
Result<Document> changedCheck(const Opened& opened, const SetOrder& order) {
    const Document& d = opened.document;
    const auto run = named(d.runs, order.run, order.file, "run");
    if (!run) return run.problem();
    const auto of = checkNamed(order.check);
    if (!of) {
        std::string all;
        for (const CheckWords& w : kChecks) all += (all.empty() ? "\"" : ", \"") + std::string(w.file) + "\"";
        return Problem{"There is no check \"" + text::quoted(order.check) + "\". There are: " + all + ".", "check"};
    }
    Check c;
    c.of = *of;
    const CheckAgainst against = wordsOf(c.of).against;
    if (!order.against.empty() && against == CheckAgainst::Nothing)
        return Problem{Words("The check \"") + std::string(wordsOf(c.of).label) + "\" is against nothing.", "against"};
    if (!order.against.empty() && against == CheckAgainst::Run) {
        const auto other = named(d.runs, order.against, order.file, "run");
        if (!other) return other.problem();
        c.other = (*other)->id;
    } else if (!order.against.empty()) {
        const auto other = named(d.bodies, order.against, order.file, "site body");
        if (!other) return other.problem();
        c.other = (*other)->id;
    }
    const auto result = opened.evaluation->run((*run)->id);
    for (const Check& asked : checksOf(*result))
        if (asked.same(c)) c = asked;
    if (auto problem =
            eachValue(order.values, [&](const auto& key, const auto& text) { return setTyped(c, d.unit, key, text); }))
        return *problem;
    if (auto problem = defectOf(c)) return *problem;
    return with(d, withCheck(**run, *result, c));
}

} // namespace

int set(const SetOrder& order) {
    const auto opened = openToChange(order.file);
    if (!opened) return fail(opened.problem());
    const Document& d = opened->document;
    if (order.run.empty() + order.path.empty() + order.part.empty() + order.body.empty() != 3)
        return fail({"Say one of --run, --path, --part and --body: whose values are set.", ""});
    const auto go = [&](const auto& items, const std::string& name, const char* what) -> Result<Document> {
        const auto item = named(items, name, order.file, what);
        if (!item) return item.problem();
        return changed(d, **item, order.values);
    };
    if (order.check.empty() ? !order.against.empty() : order.run.empty())
        return fail({"A check is one of a run: say --run, --check and whose limits are set.", ""});
    const auto next = !order.check.empty()  ? changedCheck(*opened, order)
                      : !order.run.empty()  ? go(d.runs, order.run, "run")
                      : !order.path.empty() ? go(d.paths, order.path, "path")
                      : !order.body.empty() ? go(d.bodies, order.body, "body")
                                            : go(d.parts, order.part, "part");
    if (!next) return fail(next.problem());
    if (const auto locked = lockBroken(d, *next)) return fail(*locked);
    // What cannot be worked out is told, and saved nowhere.
    const auto worked = evaluate(*next, opened->evaluation);
    const auto newProblem = [&](const auto& after, const auto& before, const char* what) {
        return after->problem && !(before && before->problem)
                   ? std::optional(Problem{
                         Words(what) + " \"" + after->item->name + "\": " + Words::whole(after->problem->text), ""})
                   : std::nullopt;
    };
    for (const auto& [id, p] : worked->paths)
        if (auto wrong = newProblem(p, opened->evaluation->paths.at(id), "path")) return fail(*wrong);
    for (const auto& [id, p] : worked->parts)
        if (auto wrong = newProblem(p, opened->evaluation->parts.at(id), "part")) return fail(*wrong);
    for (const auto& [id, b] : worked->bodies)
        if (auto wrong = newProblem(b, opened->evaluation->bodies.at(id), "body")) return fail(*wrong);
    for (const auto& r : worked->runs)
        if (auto wrong = newProblem(r, opened->evaluation->run(r->item->id), "run")) return fail(*wrong);
    return save(*next, *opened, order.to);
}

} // namespace vicinal::cli
