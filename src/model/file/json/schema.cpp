#include "model/file/json/schema.h"
#include "clearance/check.h"
#include "geometry/curves/shapes.h"
#include "layout/along/changes.h"
#include "layout/along/feet.h"
#include "layout/facing/rules.h"
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"
#include "model/delivery/delivery.h"
#include "model/delivery/orders.h"
#include "model/document/body_item.h"
#include "model/document/give_way.h"
#include "model/document/motion.h"
#include "model/document/run_item.h"
#include "model/file/json/document_json.h"
#include "model/recipes/recipe.h"
#include "parts/makers/maker.h"
#include <nlohmann/json.hpp>

namespace vicinal {
namespace {

const char* const kFrame =
#include "model/file/json/schema_frame.inc"
    ;

/// Turns one choice, flag or number of things to each of its settings: some values are only handed out then.
struct Turner : IgnoreValues {
    int &at, which, to; ///< counts what can be turned; the one to turn
    Turner(int& counter, int one, int setting) : at(counter), which(one), to(setting) {}
    void flag(const char*, const char*, const char*, bool& v) const {
        if (at++ == which) v = to % 2;
    }
    void count(const char*, const char*, const char*, long& v) const {
        if (at++ == which) v = to;
    }
    template<class E> void choice(const char*, const char*, const char*, E& v, ChoiceWords words) const {
        if (at++ == which) v = E(size_t(to) % words.size());
    }
};

/// Adds what is handed out when one thing is turned, and then from there on.
template<class T> void addTurned(Json& out, const T& described) {
    int choices = 0;
    T counted = described;
    describe(Turner(choices, -1, 0), counted);
    for (int which = 0; which < choices; ++which)
        for (int to = 0; to < 6; ++to) {
            T turned = described;
            int at = 0;
            describe(Turner(at, which, to), turned);
            Json more = Json::object();
            addToSchema(more, handing(turned));
            const size_t before = out.size();
            for (const auto& [key, value] : more.items())
                if (!out.contains(key)) out[key] = value;
            if (out.size() > before) addTurned(out, turned);
        }
}

/// All values that a description can hand out, those of its defaults first.
template<class T> Json allValues(const T& described) {
    Json out = Json::object();
    addToSchema(out, handing(described));
    addTurned(out, described);
    return out;
}

Json kindOnly(const std::string& word, Json values, const std::vector<const char*>& needed,
              Json first = Json::object()) {
    Json properties = {{"kind", {{"const", word}}}};
    properties.update(first);
    properties.update(values);
    Json required = {"kind"};
    for (const char* n : needed) required.push_back(n);
    return {{"type", "object"}, {"required", required}, {"additionalProperties", false}, {"properties", properties}};
}

Json recipeDefinitions() {
    Json out = Json::array();
    const Json id = {{"$ref", "#/definitions/id"}};
    const auto each = [&]<class V>(V, auto&& use) {
        for (size_t i = 0; i < std::variant_size_v<V>; ++i) use(alternative<V>(i));
    };
    each(Shape(), [&](const Shape& s) {
        const PathRecipe r = ShapeRecipe{s};
        out.push_back(kindOnly(kindOf(r), allValues(r), {}));
    });
    each(Change(), [&](const Change& c) {
        const PathRecipe r = DerivedRecipe{0, c};
        Json first = {{"source", id}};
        if (std::holds_alternative<LiftedOver>(c))
            first["switched"] = {{"type", "array"},
                                 {"items", {{"type", "integer"}, {"minimum", 1}}},
                                 {"description", "numbers of crossings that are the other way round"}};
        out.push_back(kindOnly(kindOf(r), allValues(r), {"source"}, first));
    });
    const PathRecipe joined = JoinedRecipe{}, edges = EdgesRecipe{};
    out.push_back(
        kindOnly(kindOf(joined), allValues(joined), {"members"}, {{"members", {{"type", "array"}, {"items", id}}}}));
    out.push_back(kindOnly(kindOf(edges), allValues(edges), {"part"}, {{"part", id}}));
    return out;
}

template<class Rules> Json words() {
    Json out = Json::array();
    for (const auto& w : wordsOfAll<Rules>()) out.push_back(w.file);
    return out;
}

/// One object a rule; with what all share, bare as it is kept, or with the bay that it is of.
enum class RuleOf { Run, Kept, Bay };
Json spacingDefinition(RuleOf of) {
    const bool whole = of == RuleOf::Run;
    Json out = {{"oneOf", Json::array()}};
    for (size_t i = 0; i < std::variant_size_v<SpacingRule>; ++i) {
        const auto rule = alternative<SpacingRule>(i);
        const bool standard = i == Spacing{}.rule.index();
        Json properties = {{"rule", {{"const", wordsOf(rule).file}}}};
        if (standard && whole) properties["rule"]["description"] = "the rule when none is given";
        properties.update(std::visit([](const auto& r) { return allValues(r); }, rule));
        Json required = Json::array();
        if (!standard || !whole) required.push_back("rule");
        if (of == RuleOf::Bay) {
            properties["bay"] = {{"type", "integer"}, {"minimum", 1}, {"description", "its number, from 1"}};
            required.push_back("bay");
        }
        if (whole) {
            const Spacing standardSpacing;
            addToSchema(properties, sharedBy(standardSpacing));
            properties["kept"] = {
                {"type", "array"},
                {"items", {{"$ref", "#/definitions/keptRule"}}},
                {"description", "numbers of rules that are not in use, so that going back finds them"}};
            properties["bayRules"] = {{"type", "array"},
                                      {"items", {{"$ref", "#/definitions/bayRule"}}},
                                      {"description", "single bays that have a rule of their own"}};
        }
        out["oneOf"].push_back(
            {{"type", "object"}, {"required", required}, {"additionalProperties", false}, {"properties", properties}});
    }
    return out;
}

Json facingDefinition() {
    Json properties = {{"nose", {{"enum", words<NoseRule>()}, {"default", wordsOf(NoseRule()).file}}},
                       {"crown", {{"enum", words<CrownRule>()}, {"default", wordsOf(CrownRule()).file}}}};
    properties.update(allValues(Facing{}));
    return {{"type", "object"}, {"additionalProperties", false}, {"properties", properties}};
}

template<class T> Json described(const char* description, Json more = Json::object()) {
    Json properties = allValues(T());
    properties.update(more);
    return {
        {"description", description}, {"type", "object"}, {"additionalProperties", false}, {"properties", properties}};
}

/// What a site body is made of: what parts are, but for pieces, and what follows a path or is ground.
Json bodyDefinition() {
    const Json text = {{"type", "string"}}, id = {{"$ref", "#/definitions/id"}};
    Json shapes = Json::array({{{"$ref", "#/definitions/shape"}}});
    eachBodyKind([&]<class S>(const S& shape) {
        // Items that are none are left out: a body says itself what it lacks.
        std::vector<const char*> needed;
        Json beside = Json::object();
        if constexpr (std::is_same_v<S, Levels>) {
            needed = {"asset"};
            beside = {{"asset", {{"type", "string"}, {"pattern", "^(assets/[0-9a-f]{16}|[^/]+)\\.levels$"}}},
                      {"source", text}};
        }
        shapes.push_back(kindOnly(S::kKind, allValues(shape), needed, beside));
    });
    return described<BodyItem>("A site body.", {{"id", id},
                                                {"name", text},
                                                {"colour", {{"type", "integer"}, {"minimum", 0}, {"default", 0}}},
                                                {"hidden", {{"type", "boolean"}, {"default", false}}},
                                                {"shape", {{"oneOf", shapes}}}});
}

/// One object a kind of result.
Json deliveryDefinition() {
    const Json text = {{"type", "string"}}, id = {{"$ref", "#/definitions/id"}};
    Json out = {{"oneOf", Json::array()}};
    for (size_t i = 0; i < std::variant_size_v<SendOrder>; ++i) {
        const SendOrder order = alternative<SendOrder>(i);
        // Of all its settings: some formats are only written with some of them.
        std::vector<std::string> formats;
        for (int as = 0; as < 3; ++as) {
            SendOrder turned = order;
            if (auto* s = std::get_if<SolidsOrder>(&turned)) s->as = SolidsAs(as);
            if (auto* p = std::get_if<PictureOrder>(&turned)) p->of = PictureOf(as);
            for (const char* f : formatsOf(turned))
                if (std::find(formats.begin(), formats.end(), f) == formats.end()) formats.emplace_back(f);
        }
        const Json values = std::visit([](const auto& o) { return allValues(o); }, order);
        out["oneOf"].push_back(
            {{"description", std::string(wordsOf(order).label) + "."},
             {"type", "object"},
             {"required", {"id", "name", "as"}},
             {"additionalProperties", false},
             {"properties",
              {{"id", id},
               {"name", text},
               {"as", {{"const", wordsOf(order).file}}},
               {"format", {{"enum", formats}, {"default", formats.front()}}},
               {"what",
                {{"type", "array"}, {"items", id}, {"description", "runs, paths and heaps; everything when left out"}}},
               {"folder", {{"type", "string"}, {"description", "from the document's own folder"}}},
               {"values", {{"type", "object"}, {"additionalProperties", false}, {"properties", values}}},
               {"fields",
                {{"type", "array"},
                 {"description", "of a drawing's title block: name and text"},
                 {"maxItems", kMostFields},
                 {"items", {{"type", "array"}, {"items", text}, {"minItems", 2}, {"maxItems", 2}}}}}}}});
    }
    return out;
}

/// Kinds of parts made here, before those the frame names.
Json shapeDefinitions(const Json& others) {
    Json shapes = Json::array();
    for (size_t i = 0; i < std::variant_size_v<Maker>; ++i) {
        const Maker maker = alternative<Maker>(i);
        shapes.push_back(kindOnly(kindOf(PartShape(maker)), allValues(maker), {}));
    }
    for (const auto& other : others)
        if (other.is_object()) shapes.push_back(other);
    return shapes;
}

/// Each group of a run's values, by its key.
void addRunGroups(Json& d, const Json& id) {
    const Json step = {{"type", "object"},
                       {"required", {"part"}},
                       {"additionalProperties", false},
                       {"properties",
                        {{"part", id},
                         {"repeat", {{"type", "integer"}, {"minimum", 1}, {"default", 1}}},
                         {"weight", {{"type", "number"}, {"minimum", 0}, {"default", 1}}}}}};
    eachRunGroup([&]<class Group>(const RunGroup& g, Group RunItem::*) {
        Json more = Json::object();
        if constexpr (std::is_same_v<Group, Sequence>) more = {{"steps", {{"type", "array"}, {"items", step}}}};
        if constexpr (std::is_same_v<Group, GiveWay>)
            more = {{"giveValue", {{"type", "string"}, {"description", "key of the number of the path's recipe"}}},
                    {"giveAtLeast",
                     {{"type", "number"}, {"description", "lower bound: mm, rad or plain, as the number is"}}},
                    {"giveAtMost", {{"type", "number"}, {"description", "upper bound"}}}};
        d[g.key] = described<Group>(g.what, more);
        d["run"]["properties"][g.key] = {{"$ref", std::string("#/definitions/") + g.key}};
    });
}

Json heapDefinition(const Json& id, const Json& text) {
    return {{"type", "object"},
            {"required", {"id", "name", "parts"}},
            {"additionalProperties", false},
            {"properties",
             {{"id", id},
              {"name", text},
              {"colour", {{"type", "integer"}, {"minimum", 0}, {"default", 0}}},
              {"frozen", {{"type", "boolean"}, {"default", false}}},
              {"hidden", {{"type", "boolean"}, {"default", false}}},
              {"parts", {{"type", "array"}, {"items", {{"$ref", "#/definitions/loose"}}}}}}}};
}

Json looseDefinition(const Json& id) {
    return {
        {"description", "A part where it was put: its seat point, and its seat axes as a unit quaternion."},
        {"type", "object"},
        {"required", {"part", "at"}},
        {"additionalProperties", false},
        {"properties",
         {{"part", id},
          {"at", {{"$ref", "#/definitions/point"}}},
          {"turn",
           {{"type", "array"},
            {"items", {{"type", "number"}}},
            {"minItems", 4},
            {"maxItems", 4},
            {"description", "w, x, y, z"},
            {"default", {1, 0, 0, 0}}}},
          {"size", {{"type", "number"}, {"exclusiveMinimum", 0}, {"default", 1}}},
          {"place",
           {{"type", "integer"}, {"minimum", 1}, {"description", "the number of the place it was released from"}}}}}};
}

} // namespace

std::string documentSchema() {
    Json schema = Json::parse(kFrame);
    Json& d = schema["definitions"];
    for (const CheckWords& words : kChecks) d["check"]["properties"]["check"]["enum"].push_back(words.file);
    d["recipe"] = {{"description", "How a path is made; what is left out takes its default."},
                   {"oneOf", recipeDefinitions()}};
    d["shape"]["oneOf"] = shapeDefinitions(Json(d["shape"]["oneOf"]));
    d["spacing"] = spacingDefinition(RuleOf::Run);
    d["keptRule"] = spacingDefinition(RuleOf::Kept);
    d["bayRule"] = spacingDefinition(RuleOf::Bay);
    d["facing"] = facingDefinition();
    const Json id = {{"$ref", "#/definitions/id"}};
    addRunGroups(d, id);
    d["exception"] = described<Exception>("What is special about one place, by its number or its station.",
                                          {{"place", {{"type", "integer"}, {"minimum", 0}}}});
    const Json text = {{"type", "string"}};
    d["folder"] = {{"type", "object"},
                   {"required", {"id", "name"}},
                   {"additionalProperties", false},
                   {"properties", {{"id", id}, {"name", text}}}};
    d["body"] = bodyDefinition();
    schema["properties"]["bodies"] = {{"type", "array"},
                                      {"items", {{"$ref", "#/definitions/body"}}},
                                      {"description", "site bodies; none when left out"}};
    schema["properties"]["folders"] = {{"type", "array"},
                                       {"items", {{"$ref", "#/definitions/folder"}}},
                                       {"description", "of the yard; none when left out"}};
    d["heap"] = heapDefinition(id, text);
    d["loose"] = looseDefinition(id);
    for (const char* kept : {"path", "part", "run", "heap", "body"}) {
        d[kept]["properties"]["locked"] = {
            {"type", "boolean"}, {"default", false}, {"description", "it cannot be changed or deleted"}};
        d[kept]["properties"]["folder"] = {{"allOf", Json::array({id})}, {"description", "that it lies in"}};
    }
    d["delivery"] = deliveryDefinition();
    return schema.dump(1, ' ') + "\n";
}

} // namespace vicinal
