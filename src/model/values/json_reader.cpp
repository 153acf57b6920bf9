#include "model/values/json_reader.h"
#include "base/describe.h"
#include <cmath>
#include <nlohmann/json.hpp>

namespace vicinal {

Json vec(const Vec3& v) { return Json::array({v.x(), v.y(), v.z()}); }

void JsonReader::fail(const std::string& where, const std::string& what) {
    throw Problem{Words("The file is damaged: ") + where + " " + what + ".", ""};
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

} // namespace vicinal
