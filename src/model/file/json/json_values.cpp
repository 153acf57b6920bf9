// Values to and from JSON, one by one.
#include "model/file/json/document_json.h"
#include "model/recipes/recipe.h"
#include <algorithm>
#include <nlohmann/json.hpp>
#include <string_view>

namespace vicinal {

Json vec(const Vec3& v) { return Json::array({v.x(), v.y(), v.z()}); }

void JsonWriter::length(const char* key, const char*, const char*, double v) const { j[key] = v; }

void JsonWriter::limit(const char* key, const char*, const char*, const std::optional<double>& v) const {
    if (v) j[key] = *v;
}

void JsonWriter::angle(const char* key, const char*, const char*, double v) const { j[key] = v; }

void JsonWriter::number(const char* key, const char*, const char*, double v) const { j[key] = v; }

void JsonWriter::count(const char* key, const char*, const char*, long v) const { j[key] = v; }

void JsonWriter::flag(const char* key, const char*, const char*, bool v) const { j[key] = v; }

void JsonWriter::point(const char* key, const char*, const char*, const Vec3& v) const { j[key] = vec(v); }

void JsonWriter::turn(const char* key, const char*, const char*, const Vec3& v) const { j[key] = vec(v); }

void JsonWriter::direction(const char* key, const char*, const char*, const Vec3& v) const { j[key] = vec(v); }

void JsonWriter::stations(const char* key, const char*, const char*, const std::vector<double>& all) const {
    j[key] = all;
}

void JsonWriter::profile(const char* key, const char*, const char*, const Profile& p, ProfileKind) const {
    if (p.empty()) return;
    Json keys = Json::array();
    for (const Key& k : p.keys) keys.push_back({k.at, k.value});
    j[key] = {{"keys", std::move(keys)}, {"smooth", p.smooth}, {"stretches", p.stretches}};
}

void JsonWriter::item(const char* key, const char*, const char*, Id id, ItemKind) const {
    if (id != 0) j[key] = id;
}

void JsonWriter::choice(const char* key, const char*, const char*, int v, ChoiceWords words) const {
    j[key] = words.begin()[v].file;
}

void JsonWriter::wheels(const char* key, const std::vector<Wheel>& wheels) const {
    j[key] = Json::array();
    for (const auto& w : wheels) {
        j[key].push_back({{"name", w.name},
                          {"centre", {w.centre.x(), w.centre.y()}},
                          {"radius", w.radius},
                          {"teeth", w.teeth},
                          {"inside", w.inside}});
        Json& one = j[key].back();
        if (w.body != WheelBody::None) one["body"] = kWheelBodies[int(w.body)];
        for (const auto& [name, v] : {std::pair{"width", w.width}, {"bore", w.bore}, {"hub", w.hub}})
            if (v != 0) one[name] = v;
        if (w.part) one["part"] = w.part;
        if (w.phase) one["phase"] = *w.phase;
    }
}

void JsonReader::fail(const std::string& where, const std::string& what) {
    throw Problem{"The file is damaged: " + where + " " + what + ".", ""};
}

const Json& JsonReader::member(const Json& j, const std::string& where, const char* key) {
    if (!j.is_object() || !j.contains(key)) fail(where, std::string("has no \"") + key + "\"");
    return j.at(key);
}

double JsonReader::number(const Json& j, const std::string& where, const char* key) {
    const Json& v = member(j, where, key);
    if (!v.is_number()) fail(where, std::string("needs a number for \"") + key + "\"");
    if (!inReach(v.get<double>())) fail(where, std::string("needs a number up to 1e9 for \"") + key + "\"");
    return v.get<double>();
}

double JsonReader::finite(const Json& j, const std::string& where, const char* key) {
    const Json& v = member(j, where, key);
    if (!v.is_number() || !std::isfinite(v.get<double>()))
        fail(where, std::string("needs a number for \"") + key + "\"");
    return v.get<double>();
}

int JsonReader::id(const Json& j, const std::string& where, const char* key) {
    const long v = whole(j, where, key);
    if (v < 0 || v > kLargestId) fail(where, std::string("has a number out of range for \"") + key + "\"");
    return int(v);
}

long JsonReader::whole(const Json& j, const std::string& where, const char* key) {
    const Json& v = member(j, where, key);
    if (!v.is_number_integer()) fail(where, std::string("needs a whole number for \"") + key + "\"");
    return v.get<long>();
}

bool JsonReader::yes(const Json& j, const std::string& where, const char* key) {
    const Json& v = member(j, where, key);
    if (!v.is_boolean()) fail(where, std::string("needs true or false for \"") + key + "\"");
    return v.get<bool>();
}

std::string JsonReader::word(const Json& j, const std::string& where, const char* key) {
    const Json& v = member(j, where, key);
    if (!v.is_string()) fail(where, std::string("needs a text for \"") + key + "\"");
    return v.get<std::string>();
}

int JsonReader::choice(const Json& j, const std::string& where, const char* key, std::span<const char* const> words) {
    const std::string w = word(j, where, key);
    for (size_t i = 0; i < words.size(); ++i)
        if (w == words[i]) return int(i);
    fail(where, "has \"" + w + "\" for \"" + key + "\", which is not known");
}

Vec3 JsonReader::vector(const Json& j, const std::string& where) {
    if (!j.is_array() || j.size() != 3) fail(where, "needs three numbers for a point");
    Vec3 v;
    for (int i = 0; i < 3; ++i) {
        if (!j[i].is_number() || !std::isfinite(j[i].get<double>())) fail(where, "needs three numbers for a point");
        v[i] = j[i].get<double>();
    }
    return v;
}

std::vector<double> JsonReader::numbers(const Json& j, const std::string& where) {
    if (!j.is_array()) fail(where, "needs a list of numbers");
    std::vector<double> out;
    for (const auto& v : j) {
        if (!v.is_number() || !std::isfinite(v.get<double>())) fail(where, "needs a list of numbers");
        out.push_back(v.get<double>());
    }
    return out;
}

const Json& JsonReader::list(const Json& j, const std::string& where, const char* key) {
    const Json& v = member(j, where, key);
    if (!v.is_array()) fail(where, std::string("needs a list for \"") + key + "\"");
    return v;
}

bool JsonValues::skips(const char* key) const {
    const bool late =
        std::any_of(later.begin(), later.end(), [&](const char* k) { return std::string_view(k) == key; });
    const bool mayMiss = lenient || late ||
                         (!since.empty() && std::none_of(since.begin(), since.end(),
                                                         [&](const char* k) { return std::string_view(k) == key; }));
    return mayMiss && j.is_object() && !j.contains(key);
}

void JsonValues::length(const char* key, const char*, const char*, double& v) const {
    if (!skips(key)) v = JsonReader::number(j, where, key);
}

void JsonValues::limit(const char* key, const char*, const char*, std::optional<double>& v) const {
    if (j.is_object() && j.contains(key)) v = JsonReader::number(j, where, key);
}

void JsonValues::angle(const char* key, const char*, const char*, double& v) const {
    if (!skips(key)) v = JsonReader::number(j, where, key);
}

void JsonValues::number(const char* key, const char*, const char*, double& v) const {
    if (!skips(key)) v = JsonReader::number(j, where, key);
}

void JsonValues::count(const char* key, const char*, const char*, long& v) const {
    if (!skips(key)) v = JsonReader::whole(j, where, key);
}

void JsonValues::flag(const char* key, const char*, const char*, bool& v) const {
    if (skips(key)) return;
    const Json& b = JsonReader::member(j, where, key);
    if (!b.is_boolean()) JsonReader::fail(where, std::string("needs true or false for \"") + key + "\"");
    v = b.get<bool>();
}

void JsonValues::point(const char* key, const char*, const char*, Vec3& v) const {
    if (!skips(key)) v = JsonReader::vector(JsonReader::member(j, where, key), where);
}

void JsonValues::turn(const char* key, const char* label, const char* tip, Vec3& v) const { point(key, label, tip, v); }

void JsonValues::direction(const char* key, const char* label, const char* tip, Vec3& v) const {
    point(key, label, tip, v);
}

void JsonValues::stations(const char* key, const char*, const char*, std::vector<double>& all) const {
    if (skips(key)) return;
    all = JsonReader::numbers(JsonReader::member(j, where, key), where);
    for (double v : all)
        if (!inReach(v)) JsonReader::fail(where, std::string("needs numbers up to 1e9 for \"") + key + "\"");
}

void JsonValues::profile(const char* key, const char*, const char*, Profile& p, ProfileKind) const {
    if (skips(key)) return;
    const Json& from = JsonReader::member(j, where, key);
    p = Profile();
    for (const Json& k : JsonReader::list(from, where, "keys")) {
        const auto both = JsonReader::numbers(k, where);
        if (both.size() != 2) JsonReader::fail(where, std::string("needs a station and a value in \"") + key + "\"");
        p.keys.push_back({both[0], both[1]});
    }
    const auto yes = [&](const char* which) {
        return from.contains(which) && from[which].is_boolean() && from[which].get<bool>();
    };
    p.smooth = yes("smooth");
    p.stretches = yes("stretches");
    if (defectOf(p, key)) JsonReader::fail(where, std::string("has keys in \"") + key + "\" that cannot be");
}

void JsonValues::item(const char* key, const char*, const char*, Id& id, ItemKind) const {
    if (j.is_object() && j.contains(key)) id = JsonReader::id(j, where, key);
}

void JsonValues::choice(const char* key, const char*, const char*, int& v, ChoiceWords words) const {
    if (skips(key)) return;
    const std::string w = JsonReader::word(j, where, key);
    for (size_t i = 0; i < words.size(); ++i)
        if (w == words.begin()[i].file) {
            v = int(i);
            return;
        }
    JsonReader::fail(where, "has \"" + w + "\" for \"" + key + "\", which is not known");
}

void JsonValues::wheels(const char* key, std::vector<Wheel>& out) const {
    if (skips(key)) return;
    out.clear();
    for (const auto& w : JsonReader::list(j, where, key)) {
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
        out.push_back(std::move(wheel));
    }
}

void putKept(Json& j, bool locked, Id folder) {
    if (locked) j["locked"] = true;
    if (folder != 0) j["folder"] = folder;
}

void readKept(const Json& j, const std::string& where, bool& locked, Id& folder) {
    if (j.contains("locked")) locked = JsonReader::yes(j, where, "locked");
    if (j.contains("folder")) folder = JsonReader::id(j, where, "folder");
}

} // namespace vicinal
