#include "exchange/in/svg_values.h"
#include "base/text.h"
#include "base/vec.h"
#include <cctype>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <libxml/tree.h>
#include <map>
#include <sstream>

namespace vicinal::svgin {

std::string attribute(xmlNode* n, const char* name) {
    xmlChar* v = xmlGetNoNsProp(n, reinterpret_cast<const xmlChar*>(name));
    std::string out = v ? reinterpret_cast<const char*>(v) : "";
    xmlFree(v);
    return out;
}

std::optional<double> length(const std::string& text) {
    char* end = nullptr;
    const double v = std::strtod(text.c_str(), &end);
    if (end == text.c_str() || !std::isfinite(v)) return std::nullopt;
    std::string unit(end);
    std::erase_if(unit, [](unsigned char c) { return std::isspace(c); });
    const std::map<std::string, double> px{{"", 1},    {"px", 1},        {"mm", 96 / 25.4}, {"cm", 96 / 2.54},
                                           {"in", 96}, {"pt", 96 / 72.}, {"pc", 16},        {"Q", 96 / 101.6}};
    const auto it = px.find(unit);
    return it == px.end() ? std::nullopt : std::optional(v * it->second);
}

std::vector<double> numbers(const std::string& text) {
    std::vector<double> out;
    const char* p = text.c_str();
    while (*p) {
        char* end = nullptr;
        const double v = std::strtod(p, &end);
        if (end == p) {
            if (*p != ',' && !std::isspace(static_cast<unsigned char>(*p))) break;
            ++p;
            continue;
        }
        out.push_back(v);
        p = end;
    }
    return out;
}

std::string styled(xmlNode* n, const std::string& property) {
    const std::string style = attribute(n, "style");
    for (size_t at = 0; at < style.size();) {
        size_t end = style.find(';', at);
        if (end == std::string::npos) end = style.size();
        const std::string one = style.substr(at, end - at);
        at = end + 1;
        const size_t colon = one.find(':');
        if (colon == std::string::npos) continue;
        const auto trimmed = [](std::string s) {
            s.erase(0, s.find_first_not_of(" \t\r\n"));
            s.erase(s.find_last_not_of(" \t\r\n") + 1);
            return s;
        };
        if (trimmed(one.substr(0, colon)) == property) return trimmed(one.substr(colon + 1));
    }
    return {};
}

std::optional<std::string> asAttribute(const std::string& css) {
    std::string out;
    for (size_t i = 0; i < css.size();) {
        char* end = nullptr;
        const double v = std::isalpha(static_cast<unsigned char>(css[i])) ? 0 : std::strtod(css.c_str() + i, &end);
        if (!end || end == css.c_str() + i) {
            out += css[i++];
            continue;
        }
        i = size_t(end - css.c_str());
        size_t unitEnd = i;
        while (unitEnd < css.size() && (std::isalpha(static_cast<unsigned char>(css[unitEnd])) || css[unitEnd] == '%'))
            ++unitEnd;
        const std::string unit = css.substr(i, unitEnd - i);
        i = unitEnd;
        double k = 1;
        if (unit == "rad")
            k = 180 / kPi;
        else if (unit == "turn")
            k = 360;
        else if (unit == "grad")
            k = 0.9;
        else if (!unit.empty() && unit != "deg") {
            const auto px = length("1" + unit);
            if (!px) return std::nullopt;
            k = *px;
        }
        out += text::exact(v * k);
    }
    return out;
}

std::string withoutNegativeRadii(const std::string& d) {
    std::string out;
    bool inArc = false;
    int argument = 0;
    for (size_t i = 0; i < d.size();) {
        const char c = d[i];
        if (std::isalpha(static_cast<unsigned char>(c)) && c != 'e' && c != 'E') {
            inArc = c == 'a' || c == 'A';
            argument = 0;
            out += d[i++];
        } else if (!inArc || c == ',' || std::isspace(static_cast<unsigned char>(c))) {
            out += d[i++];
        } else if (argument % 7 == 3 || argument % 7 == 4) { // flags may stand without a space between
            out += d[i++];
            ++argument;
        } else {
            char* end = nullptr;
            std::strtod(d.c_str() + i, &end);
            const auto stop = size_t(end - d.c_str());
            if (stop <= i) return out + d.substr(i); // the grammar will say what is wrong
            const bool radius = argument % 7 < 2;
            if (radius && d[i] == '-') {
                out += ' ';
                ++i;
            }
            out.append(d, i, stop - i);
            i = stop;
            ++argument;
        }
    }
    return out;
}

BoxFit fitted(const std::vector<double>& box, double width, double height, const std::string& how) {
    BoxFit f{width / box[2], height / box[3]};
    double alignX = 0.5, alignY = 0.5;
    bool none = false, slice = false;
    std::istringstream words(how);
    for (std::string w; words >> w;) {
        if (w == "none") none = true;
        if (w == "slice") slice = true;
        if (w.size() == 8 && w[0] == 'x' && w[4] == 'Y') {
            const auto share = [](const std::string& s) {
                if (s == "Min") return 0.0;
                return s == "Max" ? 1.0 : 0.5;
            };
            alignX = share(w.substr(1, 3));
            alignY = share(w.substr(5, 3));
        }
    }
    if (!none) f.sx = f.sy = slice ? std::max(f.sx, f.sy) : std::min(f.sx, f.sy);
    f.tx = -box[0] * f.sx + (none ? 0 : alignX * (width - box[2] * f.sx));
    f.ty = -box[1] * f.sy + (none ? 0 : alignY * (height - box[3] * f.sy));
    return f;
}

} // namespace vicinal::svgin
