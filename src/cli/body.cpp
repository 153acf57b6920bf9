#include "base/say.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/in/levels.h"
#include "exchange/out/send_out.h"
#include "geometry/mesh/ground.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/typed/typed_values.h"
#include "model/evaluate/bodies/site.h"
#include "parts/makers/maker.h"
#include <filesystem>
#include <map>

namespace vicinal::cli {
namespace {

/// Of a file: levels as ground, anything else as the body it holds.
Result<BodyShape> shapeFrom(const BodyOrder& order) {
    const auto factor = [&](double known) -> Result<double> {
        if (!order.unit.empty()) {
            const auto unit = unitNamed(order.unit);
            if (!unit) return unit.problem();
            return millimetresPer(*unit);
        }
        if (known > 0) return known;
        return Problem{say::value(order.from) + " does not say its unit. Say it with --unit mm, cm, m, in or ft.",
                       "unit"};
    };
    if (order.add == "levels") {
        const auto file = readLevels(order.from);
        if (!file) return file.problem();
        for (const auto& remark : file->remarks) std::fprintf(stderr, "vicinal-cli: %s\n", remark.c_str());
        const auto unit = factor(file->millimetresPerUnit);
        if (!unit) return unit.problem();
        auto data = levelsAt(*file, *unit);
        if (!data) return data.problem();
        return BodyShape(levelsOf(std::move(data).value(), std::filesystem::path(order.from).filename().string()));
    }
    const auto file = readPartFile(order.from);
    if (!file) return file.problem();
    for (const auto& remark : file->remarks) std::fprintf(stderr, "vicinal-cli: %s\n", remark.c_str());
    const auto unit = factor(file->millimetresPerUnit);
    if (!unit) return unit.problem();
    auto shape = shapeOf(*file, *unit);
    if (!shape) return shape.problem();
    BodyShape out;
    std::visit(
        [&](auto& s) {
            if constexpr (std::is_constructible_v<BodyShape, std::decay_t<decltype(s)>>) out = std::move(s);
        },
        shape.value());
    return out;
}

/// The items that something hands out, by their keys.
struct Items : IgnoreValues {
    std::map<std::string_view, std::pair<Id*, ItemKind>> all;
    void item(const char* key, const char*, const char*, Id& v, ItemKind kind) { all[key] = {&v, kind}; }
};

/// What an option names; which one it is goes by the kind of item.
const std::string& nameOf(ItemKind kind, const BodyOrder& order) {
    switch (kind) {
    case ItemKind::Path: return order.path;
    case ItemKind::Run: return order.run;
    case ItemKind::Part: return order.part;
    case ItemKind::Body: break;
    }
    return order.body;
}

Result<Id> idNamed(ItemKind kind, const BodyOrder& order, const Document& d) {
    const auto in = [&](const auto& items, const char* what) -> Result<Id> {
        const auto item = named(items, nameOf(kind, order), order.file, what);
        if (!item) return item.problem();
        return (*item)->id;
    };
    switch (kind) {
    case ItemKind::Path: return in(d.paths, "path");
    case ItemKind::Run: return in(d.runs, "run");
    case ItemKind::Part: return in(d.parts, "part");
    case ItemKind::Body: break;
    }
    return in(d.bodies, "body");
}

/// Sets what a body of a kind is made from. Of "a or b" it is the one that is named, b if neither is.
std::optional<Problem> setNeeds(auto& shape, const BodyOrder& order, const Document& d) {
    Items items;
    describe(items, shape);
    for (const std::string_view keys : needsOf(shape)) {
        std::pair<Id*, ItemKind> chosen{};
        for (size_t at = 0; at < keys.size();) {
            const size_t end = std::min(keys.find(" or ", at), keys.size());
            if (!chosen.first || nameOf(chosen.second, order).empty()) chosen = items.all.at(keys.substr(at, end - at));
            at = end + 4;
        }
        const auto id = idNamed(chosen.second, order, d);
        if (!id) return id.problem();
        *chosen.first = *id;
    }
    return std::nullopt;
}

Result<BodyShape> shapeOfKind(const BodyOrder& order, const Document& d) {
    if (order.add == "levels" || order.add == "file") {
        if (order.from.empty()) return Problem{"Say the file with --from.", "from"};
        return shapeFrom(order);
    }
    if (auto maker = makerOf(order.add)) return BodyShape(*maker);
    std::optional<Result<BodyShape>> out;
    std::string kinds;
    eachBodyKind([&](auto shape) {
        kinds += std::string(shape.kKind) + ", ";
        if (order.add != shape.kKind) return;
        const auto wrong = setNeeds(shape, order, d);
        out = wrong ? Result<BodyShape>(*wrong) : Result<BodyShape>(BodyShape(std::move(shape)));
    });
    if (out) return *std::move(out);
    return Problem{"\"" + text::quoted(order.add) + "\" is none of: " + kinds +
                       "file, or what a part is made by (box, ramp, cylinder...).",
                   "add"};
}

int list(const Opened& opened) {
    std::string out = "body,kind,volume,mass,x,y,z,problem\n";
    for (const auto& item : opened.document.bodies) {
        const auto body = opened.evaluation->bodies.at(item->id);
        const auto volume = enclosedVolume(*body); // of an open body nobody knows: an empty cell, not 0
        const Vec3 at = body->ground ? body->ground->origin() : Vec3(Vec3::Zero());
        const auto number = [](double v) { return text::fixed(v, 6); };
        out += csvCell(item->name) + "," + kindOf(item->shape) + "," + (volume ? number(*volume) : "") + "," +
               (volume ? number(mass(*volume, item->density)) : "") + "," + number(at.x()) + "," + number(at.y()) +
               "," + number(at.z()) + "," + (body->problem ? csvCell(body->problem->text) : std::string()) + "\n";
    }
    return print(out);
}

} // namespace

int body(const BodyOrder& order) {
    if (order.webs) return barsOrWebs(order.file, {}, "csv", true);
    if (order.add.empty()) {
        const auto listed = open(order.file);
        return listed ? list(*listed) : fail(listed.problem());
    }
    const auto opened = openToChange(order.file);
    if (!opened) return fail(opened.problem());
    auto shape = shapeOfKind(order, opened->document);
    if (!shape) return fail(shape.problem());
    BodyItem item;
    item.name = order.name;
    item.shape = std::move(shape).value();
    if (const auto wrong = eachValue(order.values, [&](const auto& key, const auto& text) {
            return setTyped(item, opened->document, key, text);
        }))
        return fail(*wrong);
    const Document next = with(opened->document, std::move(item));
    if (const auto wrong = defectOf(next)) return fail(*wrong);
    const auto made = evaluate(next, opened->evaluation)->bodies.at(lastId(next));
    if (made->problem)
        return fail({say::value(made->item->name) + ": " + Words::whole(made->problem->text), made->problem->field});
    for (const Words& r : made->remarks) std::fprintf(stderr, "vicinal-cli: %s\n", r.c_str());
    return save(next, *opened, order.to);
}

} // namespace vicinal::cli
