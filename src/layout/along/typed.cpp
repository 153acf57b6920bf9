#include "layout/along/typed.h"
#include "base/text.h"
#include "base/vec.h"
#include <algorithm>
#include <charconv>

namespace vicinal {
namespace {

std::vector<std::string> split(const std::string& s, char by) {
    std::vector<std::string> out;
    size_t from = 0;
    while (true) {
        const size_t to = s.find(by, from);
        out.push_back(trimmed(s.substr(from, to == std::string::npos ? to : to - from)));
        if (to == std::string::npos) return out;
        from = to + 1;
    }
}

/// Shortest that reads back the same.
std::string number(double v) {
    char buffer[40];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, v).ptr;
    return {buffer, end};
}

std::string valueText(double v, Unit unit, ProfileKind of) {
    if (of == ProfileKind::Length) return formatLength(v, unit);
    return of == ProfileKind::Angle ? number(std::round(v / kDegree * 1e9) / 1e9) : number(v);
}

Result<double> parseValue(const std::string& s, Unit unit, ProfileKind of) {
    if (of == ProfileKind::Length) return parseLength(s, unit);
    return of == ProfileKind::Angle ? parseAngle(s) : parseNumber(s);
}

} // namespace

std::string trimmed(const std::string& s) {
    const auto a = s.find_first_not_of(" \t\n");
    return a == std::string::npos ? std::string() : s.substr(a, s.find_last_not_of(" \t\n") - a + 1);
}

Result<std::vector<double>> parseStations(const std::string& text, Unit unit) {
    std::vector<double> out;
    if (trimmed(text).empty() || trimmed(text) == "none") return out;
    for (const std::string& one : split(text, ',')) {
        const auto v = parseLength(one, unit);
        if (!v) return Problem{"\"" + text::quoted(one) + "\": " + Words::whole(v.problem().text), ""};
        if (!inReach(*v)) return Problem{"\"" + text::quoted(one) + "\" is beyond what can be used.", ""};
        out.push_back(*v);
    }
    return out;
}

std::string stationsText(std::span<const double> all, Unit unit) {
    std::string out;
    for (double v : all) out += (out.empty() ? "" : ", ") + formatLength(v, unit);
    return out;
}

Result<Profile> parseProfile(const std::string& text, Unit unit, ProfileKind of) {
    Profile out;
    const auto parts = split(text, ';');
    for (size_t i = 1; i < parts.size(); ++i) {
        if (parts[i] == "smooth")
            out.smooth = true;
        else if (parts[i] == "share")
            out.stretches = true;
        else if (!parts[i].empty())
            return Problem{"\"" + text::quoted(parts[i]) + "\" is not known here: use smooth or share.", ""};
    }
    if (parts[0].empty() || parts[0] == "none") return out;
    for (const std::string& one : split(parts[0], ',')) {
        const auto both = split(one, ':');
        if (both.size() > 2) return Problem{"\"" + text::quoted(one) + "\" has more than a station and a value.", ""};
        Key key;
        if (both.size() == 2) {
            const std::string& at = both[0];
            const bool percent = out.stretches && at.ends_with('%');
            const auto s = out.stretches ? parseNumber(percent ? trimmed(at.substr(0, at.size() - 1)) : at)
                                         : parseLength(at, unit);
            if (!s) return Problem{"\"" + text::quoted(one) + "\": " + Words::whole(s.problem().text), ""};
            key.at = percent ? *s / 100 : *s;
        }
        const auto v = parseValue(both.back(), unit, of);
        if (!v) return Problem{"\"" + text::quoted(one) + "\": " + Words::whole(v.problem().text), ""};
        key.value = *v;
        out.keys.push_back(key);
    }
    std::stable_sort(out.keys.begin(), out.keys.end(), [](const Key& a, const Key& b) { return a.at < b.at; });
    if (auto defect = defectOf(out, "")) return *defect;
    return out;
}

std::string profileText(const Profile& p, Unit unit, ProfileKind of) {
    std::string out;
    if (p.keys.size() == 1 && p.keys[0].at == 0 && !p.smooth && !p.stretches)
        return valueText(p.keys[0].value, unit, of);
    for (const Key& k : p.keys)
        out += (out.empty() ? "" : ", ") + (p.stretches ? number(k.at) : formatLength(k.at, unit)) + ": " +
               valueText(k.value, unit, of);
    if (!out.empty() && p.smooth) out += "; smooth";
    if (!out.empty() && p.stretches) out += "; share";
    return out;
}

} // namespace vicinal
