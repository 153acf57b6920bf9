#include "base/say.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "layout/spacing/rules.h"
#include "model/custom/custom.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/typed/typed_values.h"
#include "parts/makers/maker.h"
#include <algorithm>
#include <filesystem>

namespace vicinal::cli {
namespace {

/// Sets every key=value.
template<class Item>
std::optional<Problem> setEach(Item& item, const Document& d, const std::vector<std::string>& values) {
    return eachValue(values, [&](const auto& key, const auto& text) { return setTyped(item, d, key, text); });
}

Result<Document> withPath(const Document& d, const AddOrder& order) {
    PathItem item;
    item.name = order.path;
    const std::string kind = order.kind.empty() ? "points" : order.kind;
    auto recipe = recipeOf(kind);
    if (!recipe || std::holds_alternative<BroughtCurve>(*recipe))
        return Problem{
            "--kind \"" + text::quoted(kind) +
                "\" is no kind of path. There are: points, circle, ellipse, rectangle, slot, polygon, helix, "
                "arc, straight, swag, wheels, offset, stretch, backwards, start moved, mirrored, projected, "
                "resampled, smoothed, laid, lifted, joined, edges. Curves of a file come by bring-in.",
            "kind"};
    item.recipe = std::move(*recipe);
    if (auto wrong = setEach(item, d, order.values)) return *wrong;
    return with(d, std::move(item));
}

Result<Document> withPart(const Document& d, const AddOrder& order) {
    PartItem item;
    item.name = order.part;
    if (order.kind == "pieces") {
        item.shape = Pieces{};
    } else if (order.kind == "extruded path") {
        item.shape = ExtrudedPath{};
    } else if (auto maker = makerOf(order.kind)) {
        item.shape = *maker;
        item.seat.point = Vec3(0, 0, 0); // where its maker seats it, as in the window
    } else {
        std::vector<std::string> kinds;
        for (const MakerEntry& e : makerEntries())
            if (const auto kind = kindOf(e.maker); std::find(kinds.begin(), kinds.end(), kind) == kinds.end())
                kinds.push_back(kind);
        std::string all = "pieces, extruded path";
        for (const auto& kind : kinds) all += ", " + kind;
        return Problem{"--kind \"" + text::quoted(order.kind) + "\" is no kind of part. There are: " + all +
                           ". Bodies of a file come by bring-in --as-part.",
                       "kind"};
    }
    if (auto wrong = setEach(item, d, order.values)) return *wrong;
    return with(d, std::move(item));
}

/// As the window would begin it, unless something else is given.
Result<Document> withRun(const Document& d, const AddOrder& order, const std::shared_ptr<const Evaluation>& before) {
    RunItem item;
    item.name = order.run;
    item.colour = int(d.runs.size());
    std::vector<std::string> rest;
    for (const std::string& one : order.values) {
        const bool first = one.starts_with("path=") || one.starts_with("part=");
        if (!first)
            rest.push_back(one);
        else if (auto wrong = setEach(item, d, {one}))
            return *wrong;
    }
    for (const auto& [id, what] : {std::pair{item.path, "path"}, {item.part, "part"}})
        if (id == 0)
            return Problem{Words("A run needs a ") + what + ": say " + what + "=NAME of one that is there.", what};
    Document next = d;
    if (const auto first = withFirstRun(d, *before, item.path, item.part)) {
        next = first->document;
        RunItem set = *next.run(first->run);
        set.name = item.name;
        next = without(std::move(next), first->run); // its name is given anew, as of any item
        next.nextId = first->run;
        set.id = 0;
        item = std::move(set);
        for (const Words& w : first->says) std::fprintf(stderr, "vicinal-cli: %s\n", w.c_str());
    }
    if (auto wrong = setEach(item, next, rest)) return *wrong;
    return with(std::move(next), std::move(item));
}

Result<Document> withFolder(const Document& d, const AddOrder& order) {
    if (!order.values.empty()) return Problem{"A folder has no values but its name.", ""};
    FolderItem item;
    item.name = order.folder;
    return with(d, std::move(item));
}

/// A document that is not there yet begins empty.
Result<OpenedToChange> openOrBegin(const AddOrder& order) {
    std::error_code error;
    if (std::filesystem::exists(order.file, error)) {
        if (!order.unit.empty())
            return Problem{say::value(order.file) + " is there and has its unit. --unit is for a new document.",
                           "unit"};
        return openToChange(order.file);
    }
    Document d;
    if (!order.unit.empty()) {
        const auto unit = unitNamed(order.unit);
        if (!unit) return unit.problem();
        d.unit = *unit;
    }
    auto lock = ChangeLock::of(order.file);
    if (!lock) return lock.problem();
    auto evaluation = evaluate(d);
    return OpenedToChange{{std::move(d), std::move(evaluation)}, order.file, std::move(lock).value()};
}

/// What the new item cannot be; it is the last of its kind.
template<class Results> std::optional<Problem> problemOf(const Results& all, Id id) {
    const auto found = all.find(id);
    if (found == all.end() || !found->second->problem) return std::nullopt;
    return Problem{say::value(found->second->item->name) + ": " + Words::whole(found->second->problem->text),
                   found->second->problem->field};
}

} // namespace

int add(const AddOrder& order) {
    if (order.path.empty() + order.part.empty() + order.run.empty() + order.folder.empty() != 3)
        return fail({"Say one of --path, --part, --run and --folder: what is added, and its name.", ""});
    if (!order.kind.empty() && order.path.empty() && order.part.empty())
        return fail({"--kind is what a path or a part is made of.", "kind"});
    const auto opened = openOrBegin(order);
    if (!opened) return fail(opened.problem());
    const Document& d = opened->document;
    const auto next = !order.path.empty()   ? withPath(d, order)
                      : !order.part.empty() ? withPart(d, order)
                      : !order.run.empty()  ? withRun(d, order, opened->evaluation)
                                            : withFolder(d, order);
    if (!next) return fail(next.problem());
    if (const auto wrong = defectOf(*next, &d)) return fail(*wrong);
    const auto worked = evaluate(*next, opened->evaluation);
    const Id id = lastId(*next);
    auto wrong = problemOf(worked->paths, id);
    if (!wrong) wrong = problemOf(worked->parts, id);
    if (const auto run = worked->run(id); run && run->problem)
        wrong = Problem{say::value(run->item->name) + ": " + Words::whole(run->problem->text), run->problem->field};
    if (wrong) return fail(*wrong);
    if (const int code = save(*next, *opened, order.to)) return code;
    return print(nameOf(*next, id) + "\n"); // a name that was there has got a number
}

} // namespace vicinal::cli
