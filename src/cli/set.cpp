#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "model/edits/typed_values.h"
#include "model/edits/yard_edits.h"

namespace vicinal::cli {

namespace {

/// Sets all values of one item; the changed document, or the first problem.
template<class Item> Result<Document> changed(const Document& d, Item item, const std::vector<std::string>& values) {
    for (const auto& value : values) {
        const size_t at = value.find('=');
        if (at == std::string::npos || at == 0)
            return Problem{"\"" + text::quoted(value) + "\" is not of the form key=value.", ""};
        if (auto problem = setTyped(item, d, value.substr(0, at), value.substr(at + 1))) return *problem;
    }
    return with(d, std::move(item));
}

} // namespace

int set(const SetOrder& order) {
    const auto opened = open(order.file);
    if (!opened) return fail(opened.problem());
    const Document& d = opened->document;
    if (order.run.empty() + order.path.empty() + order.part.empty() + order.body.empty() != 3)
        return fail({"Say one of --run, --path, --part and --body: whose values are set.", ""});
    const auto go = [&](const auto& items, const std::string& name, const char* what) -> Result<Document> {
        const auto item = named(items, name, order.file, what);
        if (!item) return item.problem();
        return changed(d, **item, order.values);
    };
    const auto next = !order.run.empty()    ? go(d.runs, order.run, "run")
                      : !order.path.empty() ? go(d.paths, order.path, "path")
                      : !order.body.empty() ? go(d.bodies, order.body, "body")
                                            : go(d.parts, order.part, "part");
    if (!next) return fail(next.problem());
    if (const auto locked = lockBroken(d, *next)) return fail(*locked);
    // What cannot be worked out is told, and saved nowhere.
    const auto worked = evaluate(*next, opened->evaluation);
    const auto newProblem = [&](const auto& after, const auto& before, const char* what) {
        return after->problem && !(before && before->problem)
                   ? std::optional(
                         Problem{std::string(what) + " \"" + after->item->name + "\": " + after->problem->text, ""})
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
    return save(*next, order.to.empty() ? order.file : order.to);
}

} // namespace vicinal::cli
