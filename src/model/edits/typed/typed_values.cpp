#include "model/edits/typed/typed_values.h"
#include "base/text.h"
#include "layout/along/typed.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/typed/bay_text.h"
#include "model/edits/typed/sequence_text.h"
#include "model/edits/typed/typed_items.h"
#include "model/recipes/numbers.h"
#include "model/values/values.h"
#include "parts/makers/maker.h"
#include <algorithm>
#include <sstream>

namespace vicinal {
namespace {

/// One attempt to set a key of one item.
class Setting : public TypedKey {
public:
    Setting(const std::string& key, const std::string& text, const Document& d) : TypedKey(key, text, d), m_doc(d) {}
    /// What a list or another own grammar reads.
    template<class T, class V> void take(Result<T> read, V& into) {
        if (read)
            into = std::move(read).value();
        else
            fail(read.problem().text);
    }
    /// Where the yard keeps an item, and whether it may be changed.
    template<class Item> void kept(Item& item) {
        offer([&](const ValueVisitor& v) {
            if constexpr (requires { item.hidden; }) v.flag("hidden", "", "", item.hidden);
            v.flag("locked", "", "", item.locked);
        });
        if (!is("folder")) return;
        if (text().empty() || text() == "none")
            item.folder = 0;
        else if (const auto id = named(m_doc.folders))
            item.folder = *id;
    }

    template<class Rule> std::optional<Rule> rule() {
        auto found = ruleNamed<Rule>(text());
        std::string all;
        for (const auto& w : wordsOfAll<Rule>()) all += (all.empty() ? "" : ", ") + std::string(w.file);
        if (!found) fail("\"" + text::quoted(text()) + "\" is not one of " + all + ".");
        return found;
    }
    template<class Items> std::optional<Id> named(const Items& items) {
        for (const auto& i : items)
            if (i->name == text()) return i->id;
        fail("there is nothing named \"" + text::quoted(text()) + "\".");
        return std::nullopt;
    }
    /// Whole numbers with commas between.
    template<class Numbers> void counts(long most, Numbers& out) {
        out.clear();
        std::stringstream all(text());
        for (std::string one; std::getline(all, one, ',');)
            if (const auto n = parseCount(one, 1, most))
                out.push_back(typename Numbers::value_type(*n));
            else
                fail(n.problem().text);
    }
    /// Nothing when the key was set and the item is sound.
    template<class Item> std::optional<Problem> finish(Item& item, Item changed) {
        if (auto wrong = problem()) return wrong;
        if (auto defect = defectOf(changed)) return defect;
        item = std::move(changed);
        return std::nullopt;
    }

private:
    const Document& m_doc;
};

void setName(Setting& set, std::string& name) {
    if (!set.is("name")) return;
    if (set.text().empty())
        set.fail("a name cannot be empty.");
    else
        name = set.text();
}

void setColour(Setting& set, int& colour) {
    if (!set.is("colour")) return;
    if (const auto n = parseCount(set.text(), 0, 1000))
        colour = int(*n);
    else
        set.fail(n.problem().text);
}

/// A bound of what gives way is typed as that is: a length, an angle, a plain number.
void setBound(Setting& set, const Document& d, const RunItem& r, const char* key, std::optional<double>& bound) {
    if (!set.is(key)) return;
    if (set.text().empty() || set.text() == "none") return bound.reset();
    const auto path = d.path(r.path);
    ProfileKind of =
        r.gives.what == Gives::Wheel && r.gives.moves == WheelMoves::Pivot ? ProfileKind::Angle : ProfileKind::Length;
    if (r.gives.what == Gives::Value && path)
        if (const auto n = numberOf(path->recipe, r.gives.value, r.gives.axis)) of = n->of;
    const auto v = of == ProfileKind::Angle    ? parseAngle(set.text())
                   : of == ProfileKind::Factor ? parseNumber(set.text())
                                               : parseLength(set.text(), d.unit);
    if (v)
        bound = *v;
    else
        set.fail(v.problem().text);
}

/// Two points that come together: the first one typed brings the other along at the part's own origin.
void setTwo(Setting& set, const char* back, const char* front, std::optional<Pins>& points) {
    for (const char* key : {back, front})
        if (set.is(key)) {
            if (set.text() == "none") return points.reset();
            Pins now = points.value_or(Pins{Vec3::Zero(), Vec3::Zero()});
            set.readPoint(now[key == front]);
            points = now;
        }
}

} // namespace

std::optional<Problem> setTyped(RunItem& item, const Document& d, const std::string& key, const std::string& text) {
    RunItem r = item;
    Setting set(key, text, d);
    setName(set, r.name);
    if (set.is("path"))
        if (const auto id = set.named(d.paths)) r.path = *id;
    if (set.is("part"))
        if (const auto id = set.named(d.parts)) r.part = *id;
    if (set.is("rule"))
        if (const auto rule = set.rule<SpacingRule>()) r.spacing = switched(r.spacing, rule->index());
    set.offer(r.spacing);
    if (set.is("bayRules")) {
        if (auto rules = parseBayRules(text, d.unit, r.spacing->rule))
            r.spacing->bayRules = std::move(rules).value();
        else
            set.fail(rules.problem().text);
    }
    if (set.is("nose"))
        if (const auto nose = set.rule<NoseRule>()) r.facing.nose = *nose;
    if (set.is("crown"))
        if (const auto crown = set.rule<CrownRule>()) r.facing.crown = *crown;
    set.offer(r.facing);
    if (set.is("sequence")) {
        if (auto steps = parseSequence(text, d))
            r.sequence.steps = std::move(steps).value();
        else
            set.fail(steps.problem().text);
    }
    eachRunGroup([&](const RunGroup&, auto member) { set.offer(r.*member); });
    if (set.is("giveValue")) r.gives.value = text == "none" ? std::string() : text;
    setBound(set, d, r, "giveAtLeast", r.gives.least);
    setBound(set, d, r, "giveAtMost", r.gives.most);
    setColour(set, r.colour);
    if (set.is("leftOut")) {
        set.counts(1'000'000'000, r.leftOut);
        std::sort(r.leftOut.begin(), r.leftOut.end());
        r.leftOut.erase(std::unique(r.leftOut.begin(), r.leftOut.end()), r.leftOut.end());
    }
    if (set.is("exceptions")) set.take(parseExceptions(text, d), r.exceptions);
    set.kept(r);
    return set.finish(item, std::move(r));
}

std::optional<Problem> setTyped(PathItem& item, const Document& d, const std::string& key, const std::string& text) {
    PathItem p = item;
    Setting set(key, text, d);
    setName(set, p.name);
    set.offer(p.recipe);
    if (auto* points = std::get_if<PointsRecipe>(&p.recipe)) {
        if (set.is("points")) set.take(parsePoints(text, d.unit), points->points);
        set.offer([&](const ValueVisitor& v) { v.flag("closed", "", "", points->closed); });
        if (bool smooth = true; set.is("smooth")) {
            set.readFlag(smooth);
            for (PathPoint& point : points->points) point.smooth = smooth;
        }
    }
    if (auto* shape = std::get_if<ShapeRecipe>(&p.recipe))
        if (auto* wheels = std::get_if<WheelShape>(&shape->shape); wheels && set.is("wheels"))
            set.take(parseWheels(text, d.unit), wheels->wheels);
    if (auto* follows = std::get_if<DerivedRecipe>(&p.recipe))
        set.offer([&](const ValueVisitor& v) { v.item("source", "", "", follows->source, ItemKind::Path); });
    if (auto* joined = std::get_if<JoinedRecipe>(&p.recipe); joined && set.is("members"))
        set.take(parsePathNames(text, d), joined->members);
    if (auto* edges = std::get_if<EdgesRecipe>(&p.recipe); edges && set.is("part")) {
        if (const auto id = set.named(d.parts)) edges->part = *id;
    }
    set.kept(p);
    auto* derived = std::get_if<DerivedRecipe>(&p.recipe);
    if (auto* lifted = derived ? std::get_if<LiftedOver>(&derived->change) : nullptr; lifted && set.is("switched")) {
        if (text == "none")
            lifted->switched.clear();
        else
            set.counts(1'000'000, lifted->switched);
    }
    return set.finish(item, std::move(p));
}

std::optional<Problem> setTyped(BodyItem& item, const Document& d, const std::string& key, const std::string& text) {
    BodyItem b = item;
    Setting set(key, text, d);
    setName(set, b.name);
    setColour(set, b.colour);
    set.offer(b);
    std::visit([&](auto& shape) { set.offer(shape); }, b.shape);
    set.kept(b);
    return set.finish(item, std::move(b));
}

std::optional<Problem> setTyped(PartItem& item, const Document& d, const std::string& key, const std::string& text) {
    PartItem p = item;
    Setting set(key, text, d);
    setName(set, p.name);
    std::visit(
        [&]<class S>(S& shape) {
            if constexpr (!std::is_same_v<S, Pieces>) set.offer(shape);
        },
        p.shape);
    if (auto* pieces = std::get_if<Pieces>(&p.shape); pieces && set.is("pieces"))
        set.take(parsePieces(text, d), pieces->list);
    if (set.is("seatPoint")) set.take(parseSeatPoint(text, d.unit), p.seat.point);
    if (set.is("nose")) set.take(parseDirection(text), p.seat.nose);
    if (set.is("crown")) set.take(parseDirection(text), p.seat.crown);
    set.kept(p);
    set.offer([&](const ValueVisitor& v) { v.number("size", "", "", p.size); });
    set.offer([&](const ValueVisitor& v) { v.number("density", "", "", p.density); });
    set.offer([&](const ValueVisitor& v) { v.item("underBack", "", "", p.under[0], ItemKind::Part); });
    set.offer([&](const ValueVisitor& v) { v.item("underFront", "", "", p.under[1], ItemKind::Part); });
    setTwo(set, "pinBack", "pinFront", p.seat.pins);
    setTwo(set, "hookBack", "hookFront", p.seat.hooks);
    return set.finish(item, std::move(p));
}

} // namespace vicinal
