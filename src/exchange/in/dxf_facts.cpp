#include "exchange/in/dxf_facts.h"
#include "base/say.h"
#include "base/text.h"
#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>

namespace vicinal::dxfin {

double unitOfHeader(int insunits) {
    switch (insunits) {
    case 1: return 25.4;
    case 2: return 304.8;
    case 3: return 1609344;
    case 4: return 1;
    case 5: return 10;
    case 6: return 1000;
    case 7: return 1e6;
    case 8: return 25.4e-6;
    case 9: return 0.0254;
    case 10: return 914.4;
    case 11: return 1e-7; // angstrom, nanometre, micron
    case 12: return 1e-6;
    case 13: return 1e-3;
    case 14: return 100; // decimetre, decametre, hectometre, gigametre
    case 15: return 1e4;
    case 16: return 1e5;
    case 17: return 1e12;
    case 18: return 1.495978707e14; // astronomical unit, light year, parsec
    case 19: return 9.4607304725808e18;
    case 20: return 3.0856775814913673e19;
    case 21: return 1.2e6 / 3937; // foot of the US survey
    default: return 0;
    }
}

std::optional<Problem> statedTooMuch(const std::string& bytes, const std::string& name) {
    std::string entity;
    std::optional<Problem> out;
    eachPair(bytes, [&](int group, const std::string& value, long line) {
        if (group == 0) {
            entity = value;
            return true;
        }
        const bool counts = (entity == "SPLINE" && group >= 72 && group <= 74) ||
                            (entity == "LWPOLYLINE" && group == 90) || (entity == "LEADER" && group == 76) ||
                            (entity == "HATCH" && (group == 91 || group == 93));
        if (!counts) return true;
        const double n = std::strtod(value.c_str(), nullptr);
        if (!(n >= 0 && n <= double(bytes.size()) / 4))
            out = Problem{say::value(name) + ", line " + say::count(line) + ": a " + entity + " of " +
                              text::quoted(value) +
                              " values does not fit into a file of this size. It is damaged; get it again.",
                          "file"};
        return !out;
    });
    return out;
}

} // namespace vicinal::dxfin
