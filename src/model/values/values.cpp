// Idea: a visitor takes every value by what it is in memory (EachValue), and asks for its kind where that matters. What
// is new in memory does not compile before it is written, read, described and typed here; of a kind more that is an old
// thing in memory only how it is typed is to be said (numberFrom, numberText).
#include "model/values/values.h"
#include "base/say.h"
#include "base/text.h"
#include "geometry/wheels/wheels.h"
#include "layout/along/profile.h"
#include "layout/along/typed.h"
#include "model/document/body_item.h"
#include "model/document/document.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/recipes/recipe.h"
#include <algorithm>
#include <nlohmann/json.hpp>
#include <sstream>
#include <string_view>

namespace vicinal {
namespace {

// --- In a file ---

Json wheelJson(const Wheel& w) {
    Json one = {{"name", w.name},
                {"centre", {w.centre.x(), w.centre.y()}},
                {"radius", w.radius},
                {"teeth", w.teeth},
                {"inside", w.inside}};
    if (w.body != WheelBody::None) one["body"] = kWheelBodies[int(w.body)];
    for (const auto& [name, v] : {std::pair{"width", w.width}, {"bore", w.bore}, {"hub", w.hub}})
        if (v != 0) one[name] = v;
    if (w.part) one["part"] = w.part;
    if (w.phase) one["phase"] = *w.phase;
    return one;
}

struct ValueWriter : EachValue<ValueWriter> {
    Json& j;
    explicit ValueWriter(Json& to) : j(to) {}
    void value(const ValueAbout& about, double v) const { j[about.key] = v; }
    void value(const ValueAbout& about, const std::optional<double>& v) const {
        if (v) j[about.key] = *v;
    }
    void value(const ValueAbout& about, long v) const { j[about.key] = v; }
    void value(const ValueAbout& about, bool v) const { j[about.key] = v; }
    void value(const ValueAbout& about, const Vec3& v) const { j[about.key] = vec(v); }
    void value(const ValueAbout& about, const std::vector<double>& v) const { j[about.key] = v; }
    void value(const ValueAbout& about, const Profile& p) const {
        if (p.empty()) return;
        Json keys = Json::array();
        for (const Key& k : p.keys) keys.push_back({k.at, k.value});
        j[about.key] = {{"keys", std::move(keys)}, {"smooth", p.smooth}, {"stretches", p.stretches}};
    }
    void value(const ValueAbout& about, Id id) const {
        if (id != 0) j[about.key] = id;
    }
    void value(const ValueAbout& about, const std::vector<Wheel>& wheels) const {
        Json& all = j[about.key] = Json::array();
        for (const auto& w : wheels) all.push_back(wheelJson(w));
    }
    void chosen(const ValueAbout& about, int v, ChoiceWords words) const { j[about.key] = words.begin()[v].file; }
};

Wheel wheelFrom(const Json& w, const std::string& where) {
    Wheel wheel;
    wheel.name = JsonReader::word(w, where, "name");
    const auto c = JsonReader::numbers(JsonReader::member(w, where, "centre"), where);
    if (c.size() != 2) JsonReader::fail(where, "needs two numbers for a wheel's centre");
    wheel.centre = {c[0], c[1]};
    wheel.radius = JsonReader::number(w, where, "radius");
    wheel.teeth = JsonReader::whole(w, where, "teeth");
    wheel.inside = JsonReader::member(w, where, "inside").is_boolean() && w["inside"].get<bool>();
    if (w.contains("body")) {
        const std::string body = JsonReader::word(w, where, "body");
        const auto found = std::find(std::begin(kWheelBodies), std::end(kWheelBodies), body);
        if (found == std::end(kWheelBodies))
            JsonReader::fail(where, "has a wheel body \"" + body + "\", which is not known");
        wheel.body = WheelBody(found - std::begin(kWheelBodies));
    }
    if (w.contains("width")) wheel.width = JsonReader::number(w, where, "width");
    if (w.contains("bore")) wheel.bore = JsonReader::number(w, where, "bore");
    if (w.contains("hub")) wheel.hub = JsonReader::number(w, where, "hub");
    if (w.contains("part")) wheel.part = JsonReader::id(w, where, "part");
    if (w.contains("phase")) wheel.phase = JsonReader::number(w, where, "phase");
    return wheel;
}

struct ValueReader : EachValue<ValueReader> {
    const Json& j;
    const std::string& where;
    const MayMiss& mayMiss;
    ValueReader(const Json& from, const std::string& place, const MayMiss& may) : j(from), where(place), mayMiss(may) {}

    bool has(const ValueAbout& about) const { return j.is_object() && j.contains(about.key); }
    bool skips(const ValueAbout& about) const {
        const auto in = [&](std::span<const char* const> keys) {
            return std::any_of(keys.begin(), keys.end(),
                               [&](const char* k) { return about.key == std::string_view(k); });
        };
        const bool may = mayMiss.all || in(mayMiss.later) || (!mayMiss.since.empty() && !in(mayMiss.since));
        return may && j.is_object() && !j.contains(about.key);
    }
    void value(const ValueAbout& about, double& v) const {
        if (!skips(about)) v = JsonReader::number(j, where, about.key);
    }
    void value(const ValueAbout& about, std::optional<double>& v) const {
        if (has(about)) v = JsonReader::number(j, where, about.key);
    }
    void value(const ValueAbout& about, long& v) const {
        if (!skips(about)) v = JsonReader::whole(j, where, about.key);
    }
    void value(const ValueAbout& about, bool& v) const {
        if (!skips(about)) v = JsonReader::yes(j, where, about.key);
    }
    void value(const ValueAbout& about, Vec3& v) const {
        if (!skips(about)) v = JsonReader::vector(JsonReader::member(j, where, about.key), where);
    }
    void value(const ValueAbout& about, std::vector<double>& all) const {
        if (skips(about)) return;
        all = JsonReader::numbers(JsonReader::member(j, where, about.key), where);
        for (double v : all)
            if (!inReach(v)) JsonReader::fail(where, std::string("needs numbers up to 1e9 for \"") + about.key + "\"");
    }
    /// One that is not there has no key (the spacing's own default takes its place when the rule is written by hand).
    void value(const ValueAbout& about, Profile& p) const {
        if (skips(about)) return;
        const Json& from = JsonReader::member(j, where, about.key);
        const std::string quoted = std::string("\"") + about.key + "\"";
        p = Profile();
        for (const Json& k : JsonReader::list(from, where, "keys")) {
            const auto both = JsonReader::numbers(k, where);
            if (both.size() != 2) JsonReader::fail(where, "needs a station and a value in " + quoted);
            p.keys.push_back({both[0], both[1]});
        }
        const auto yes = [&](const char* which) {
            return from.contains(which) && from[which].is_boolean() && from[which].get<bool>();
        };
        p.smooth = yes("smooth");
        p.stretches = yes("stretches");
        if (defectOf(p, about.key)) JsonReader::fail(where, "has keys in " + quoted + " that cannot be");
    }
    void value(const ValueAbout& about, Id& id) const {
        if (has(about)) id = JsonReader::id(j, where, about.key);
    }
    void value(const ValueAbout& about, std::vector<Wheel>& out) const {
        if (skips(about)) return;
        out.clear();
        for (const auto& w : JsonReader::list(j, where, about.key)) out.push_back(wheelFrom(w, where));
    }
    void chosen(const ValueAbout& about, int& v, ChoiceWords words) const {
        if (skips(about)) return;
        const std::string w = JsonReader::word(j, where, about.key);
        for (size_t i = 0; i < words.size(); ++i)
            if (w == words.begin()[i].file) {
                v = int(i);
                return;
            }
        JsonReader::fail(where, "has \"" + w + "\" for \"" + about.key + "\", which is not known");
    }
};

// --- In the schema ---

struct SchemaWriter : EachValue<SchemaWriter> {
    Json& properties;
    explicit SchemaWriter(Json& to) : properties(to) {}
    void put(const ValueAbout& about, Json type, const std::string& more = "") const {
        if (*about.tip) type["description"] = about.tip + more;
        properties[about.key] = std::move(type);
    }
    static Json one(const char* definition) {
        return {{"allOf", Json::array({{{"$ref", std::string("#/definitions/") + definition}}})}};
    }
    void value(const ValueAbout& about, double v) const { put(about, {{"type", "number"}, {"default", v}}); }
    void value(const ValueAbout& about, const std::optional<double>&) const { put(about, {{"type", "number"}}); }
    void value(const ValueAbout& about, long v) const { put(about, {{"type", "integer"}, {"default", v}}); }
    void value(const ValueAbout& about, bool v) const { put(about, {{"type", "boolean"}, {"default", v}}); }
    void value(const ValueAbout& about, const Vec3& v) const {
        Json type = one("point");
        type["default"] = vec(v);
        put(about, std::move(type));
    }
    void value(const ValueAbout& about, const std::vector<double>& v) const {
        put(about, {{"type", "array"}, {"items", {{"type", "number"}}}, {"default", v}});
    }
    void value(const ValueAbout& about, const Profile&) const {
        constexpr const char* kValues[] = {" (mm)", " (radians)", " (factor)"};
        put(about, one("profile"), kValues[int(about.of)]);
    }
    void value(const ValueAbout& about, Id) const { put(about, one("id")); }
    void value(const ValueAbout& about, const std::vector<Wheel>&) const {
        put(about, {{"type", "array"}, {"items", {{"$ref", "#/definitions/wheel"}}}});
    }
    void chosen(const ValueAbout& about, int v, ChoiceWords words) const {
        Json all = Json::array();
        for (const ChoiceWord& w : words) all.push_back(w.file);
        const Json standard = all[size_t(v)];
        put(about, {{"enum", all}, {"default", standard}});
    }
};

// --- Typed ---

/// A number of a kind, or of what it is a list of.
Result<double> numberFrom(ValueKind kind, const std::string& text, Unit unit) {
    switch (kind) {
    case ValueKind::Angle:
    case ValueKind::Turn: return parseAngle(text);
    case ValueKind::Number:
    case ValueKind::Direction: return parseNumber(text);
    default: return parseLength(text, unit);
    }
}
std::string numberText(ValueKind kind, double v, Unit unit) {
    switch (kind) {
    case ValueKind::Angle:
    case ValueKind::Turn: return text::number(v * 180 / kPi, 9);
    case ValueKind::Number:
    case ValueKind::Direction: return text::number(v, 9);
    default: return formatLength(v, unit);
    }
}

template<class T> std::optional<Problem> take(Result<T> read, T& into) {
    if (!read) return read.problem();
    into = std::move(read).value();
    return std::nullopt;
}

/// What is between commas.
std::vector<std::string> between(const std::string& text) {
    std::vector<std::string> out;
    std::stringstream all(text);
    for (std::string one; std::getline(all, one, ',');) out.push_back(one);
    return out;
}

} // namespace

namespace values {

/// A value read from its text.
struct FromText {
    const std::string& text;
    Unit unit;
    const Document* document; ///< where items have their names

    std::optional<Problem> operator()(const ValueAbout& about, double& v) const {
        return take(numberFrom(about.kind, text, unit), v);
    }
    std::optional<Problem> operator()(const ValueAbout& about, std::optional<double>& v) const {
        if (text.empty() || text == "none") return v.reset(), std::nullopt;
        double read = 0;
        const auto wrong = take(numberFrom(about.kind, text, unit), read);
        if (!wrong) v = read;
        return wrong;
    }
    std::optional<Problem> operator()(const ValueAbout&, long& v) const {
        return take(parseCount(text, -1'000'000'000, 1'000'000'000), v);
    }
    std::optional<Problem> operator()(const ValueAbout& about, bool& v) const {
        const bool yes = text == "yes" || text == "true" || text == "1";
        if (!yes && text != "no" && text != "false" && text != "0")
            return Problem{"\"" + text::quoted(text) + "\" is neither yes nor no.", about.key};
        v = yes;
        return std::nullopt;
    }
    std::optional<Problem> operator()(const ValueAbout& about, Vec3& v) const {
        const auto all = between(text);
        if (all.size() != 3) return Problem{"needs three values with commas between.", about.key};
        for (int i = 0; i < 3; ++i)
            if (auto wrong = take(numberFrom(about.kind, all[size_t(i)], unit), v[i])) return wrong;
        return std::nullopt;
    }
    std::optional<Problem> operator()(const ValueAbout&, std::vector<double>& v) const {
        return take(parseStations(text, unit), v);
    }
    std::optional<Problem> operator()(const ValueAbout& about, Profile& v) const {
        return take(parseProfile(text, unit, about.of), v);
    }
    std::optional<Problem> operator()(const ValueAbout& about, Id& id) const {
        if (text.empty() || text == "none") return id = 0, std::nullopt;
        const auto named = [&](const auto& items) -> std::optional<Problem> {
            for (const auto& i : items)
                if (i->name == text) return id = i->id, std::nullopt;
            return Problem{"there is nothing named \"" + text::quoted(text) + "\".", about.key};
        };
        switch (about.item) {
        case ItemKind::Run: return named(document->runs);
        case ItemKind::Path: return named(document->paths);
        case ItemKind::Body: return named(document->bodies);
        case ItemKind::Part: return named(document->parts);
        }
        return std::nullopt;
    }
    std::optional<Problem> operator()(const ValueAbout& about, int& v, ChoiceWords words) const {
        std::string all;
        for (size_t i = 0; i < words.size(); ++i) {
            const char* word = words.begin()[i].file;
            if (text == word) return v = int(i), std::nullopt;
            all += (i ? ", " : "") + std::string(word);
        }
        return Problem{"\"" + text::quoted(text) + "\" is not one of " + all + ".", about.key};
    }
};

} // namespace values

namespace {

using values::FromText;

/// What rules are known by: how many or how far, not how far joints may turn or what else may be.
bool leads(ValueKind kind) {
    switch (kind) {
    case ValueKind::Angle:
    case ValueKind::Limit:
    case ValueKind::Number:
    case ValueKind::Flag: return false;
    default: return true;
    }
}

struct First : EachValue<First> {
    const FromText from;
    mutable bool read = false;
    mutable std::optional<Problem> problem{};
    explicit First(const FromText& f) : from(f) {}
    template<class T> void value(const ValueAbout& about, T& v) const {
        if constexpr (requires { from(about, v); })
            if (leads(about.kind) && !std::exchange(read, true)) {
                if constexpr (std::is_same_v<T, long>) // how many there are to be
                    problem = take(parseCount(from.text, 0, 1'000'000), v);
                else
                    problem = from(about, v);
            }
    }
};

struct FirstText : EachValue<FirstText> {
    Unit unit;
    mutable std::optional<std::string> said{};
    explicit FirstText(Unit u) : unit(u) {}
    template<class T> void value(const ValueAbout& about, const T& v) const {
        if constexpr (requires { typedText(about, v, unit); })
            if (leads(about.kind) && !said) said = typedText(about, v, unit);
    }
};

} // namespace

void writeValues(Json& to, const Handing& hand) {
    const ValueWriter writer(to);
    hand(VisitorFor<const ValueWriter, true>(writer));
}

void readValues(const Json& from, const std::string& where, const Handing& hand, const MayMiss& mayMiss) {
    const ValueReader reader(from, where, mayMiss);
    hand(VisitorFor<const ValueReader, false>(reader));
}

void addToSchema(Json& properties, const Handing& hand) {
    const SchemaWriter writer(properties);
    hand(VisitorFor<const SchemaWriter, true>(writer));
}

/// Takes the value whose key it is.
struct TypedKey::Reader : EachValue<TypedKey::Reader> {
    TypedKey& key;
    FromText from;
    explicit Reader(TypedKey& k) : key(k), from{k.m_text, k.m_document.unit, &k.m_document} {}
    void note(const std::optional<Problem>& wrong) const {
        if (wrong) key.m_problem = Problem{say::value(key.m_key) + ": " + wrong->text, key.m_key};
    }
    template<class T> void value(const ValueAbout& about, T& v) const {
        if constexpr (requires { from(about, v); })
            if (key.is(about.key)) note(from(about, v));
    }
    void chosen(const ValueAbout& about, int& v, ChoiceWords words) const {
        if (key.is(about.key)) note(from(about, v, words));
    }
};

bool TypedKey::is(const char* key) {
    m_known += (m_known.empty() ? "" : ", ") + std::string(key);
    if (m_key != key || m_found) return false;
    return m_found = true;
}

void TypedKey::offer(const Handing& hand) {
    const Reader reader(*this);
    hand(VisitorFor<const Reader, false>(reader));
}

void TypedKey::readFlag(bool& v) {
    const Reader reader(*this);
    reader.note(reader.from(ValueAbout{ValueKind::Flag, m_key.c_str(), "", ""}, v));
}

void TypedKey::readPoint(Vec3& v) {
    const Reader reader(*this);
    reader.note(reader.from(ValueAbout{ValueKind::Point, m_key.c_str(), "", ""}, v));
}

std::optional<Problem> TypedKey::problem() const {
    if (m_found || m_problem) return m_problem;
    return Problem{"There is no value \"" + text::quoted(m_key) + "\" here. There are: " + m_known + ".", m_key};
}

std::optional<Problem> setFirst(const Handing& hand, const std::string& text, Unit unit) {
    const First first(FromText{text, unit, nullptr});
    hand(VisitorFor<const First, false>(first));
    return first.problem;
}

std::string firstText(const Handing& hand, Unit unit) {
    const FirstText first(unit);
    hand(VisitorFor<const FirstText, true>(first));
    return first.said.value_or("");
}

std::string typedText(const ValueAbout& about, double v, Unit unit) { return numberText(about.kind, v, unit); }

std::string typedText(const ValueAbout& about, const std::optional<double>& v, Unit unit) {
    return v ? numberText(about.kind, *v, unit) : "none";
}

std::string typedText(const ValueAbout&, long v, Unit) { return std::to_string(v); }

std::string typedText(const ValueAbout&, bool v, Unit) { return v ? "yes" : "no"; }

std::string typedText(const ValueAbout& about, const Vec3& v, Unit unit) {
    return numberText(about.kind, v.x(), unit) + ", " + numberText(about.kind, v.y(), unit) + ", " +
           numberText(about.kind, v.z(), unit);
}

std::string typedText(const ValueAbout&, const std::vector<double>& v, Unit unit) { return stationsText(v, unit); }

std::string typedText(const ValueAbout& about, const Profile& p, Unit unit) { return profileText(p, unit, about.of); }

} // namespace vicinal
