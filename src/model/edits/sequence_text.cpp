#include "model/edits/sequence_text.h"
#include "base/text.h"
#include <regex>
#include <sstream>

namespace vicinal {

Result<std::vector<SequenceStep>> parseSequence(const std::string& text, const Document& d) {
    std::vector<SequenceStep> out;
    static const std::regex times(R"(^\s*(\d{1,6})\s*(?:x|×|\*)\s+(.*\S)\s*$)"),
        weighed(R"(^(.*\S)\s*\(\s*([0-9.]+)\s*\)\s*$)");
    std::stringstream all(text);
    for (std::string one; std::getline(all, one, ',');) {
        const auto a = one.find_first_not_of(" \t");
        if (a == std::string::npos) continue;
        one = one.substr(a, one.find_last_not_of(" \t") - a + 1);
        if (out.empty() && one == "none") continue;
        const auto find = [&](const std::string& name) {
            for (const auto& p : d.parts)
                if (p->name == name) return p->id;
            return Id(0);
        };
        SequenceStep step;
        std::smatch m;
        std::string name = one;
        if (!find(name) && std::regex_match(name, m, times)) {
            step.repeat = std::stol(m[1]);
            name = m[2];
        }
        if (!find(name) && std::regex_match(name, m, weighed)) {
            const auto weight = parseNumber(m[2].str());
            if (!weight) return weight.problem();
            step.weight = *weight;
            name = m[1].str();
        }
        step.part = find(name);
        if (!step.part) return Problem{"There is no part named \"" + text::quoted(name) + "\".", "sequence"};
        if (step.repeat < 1 || step.repeat > 10'000)
            return Problem{"A part can be repeated 1 to 10000 times in a sequence.", "sequence"};
        out.push_back(step);
    }
    return out;
}

std::string sequenceText(const std::vector<SequenceStep>& steps, const Document& d) {
    std::string out;
    for (const auto& s : steps) {
        const auto part = d.part(s.part);
        out += out.empty() ? "" : ", ";
        if (s.repeat != 1) out += std::to_string(s.repeat) + " x ";
        out += part ? part->name : "?";
        if (s.weight != 1) out += " (" + text::number(s.weight, 3) + ")";
    }
    return out;
}

} // namespace vicinal
