#include "model/edits/typed/sequence_text.h"
#include "base/text.h"
#include "layout/along/changes.h"
#include "model/document/part_item.h"
#include <regex>

namespace vicinal {
namespace {

/// Parted at commas that do not stand within quotes.
std::vector<std::string> pieces(const std::string& text) {
    std::vector<std::string> out(1);
    bool quoted = false;
    for (char c : text) {
        if (c == '"') quoted = !quoted;
        if (c == ',' && !quoted)
            out.emplace_back();
        else
            out.back() += c;
    }
    return out;
}

} // namespace

Result<std::vector<SequenceStep>> parseSequence(const std::string& text, const Document& d) {
    std::vector<SequenceStep> out;
    static const std::regex times(R"(^\s*(\d{1,6})\s*(?:x|×|\*)\s+(.*\S)\s*$)"),
        weighed(R"(^(.*\S)\s*\(\s*([0-9.]+)\s*\)\s*$)");
    for (std::string one : pieces(text)) {
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
        const auto bare = [](const std::string& n) {
            return n.size() > 1 && n.front() == '"' && n.back() == '"' ? n.substr(1, n.size() - 2) : n;
        };
        std::string name = bare(one);
        if (std::string whole = one; !find(name) && std::regex_match(whole, m, times)) {
            step.repeat = std::stol(m[1]);
            name = bare(m[2]);
        }
        if (!find(name) && std::regex_match(name, m, weighed)) {
            const auto weight = parseNumber(m[2].str());
            if (!weight) return weight.problem();
            step.weight = *weight;
            name = bare(m[1].str());
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
        const std::string name = part ? part->name : "?";
        out += name.find_first_of(",(") == std::string::npos ? name : "\"" + name + "\"";
        if (s.weight != 1) out += " (" + text::number(s.weight, 3) + ")";
    }
    return out;
}

} // namespace vicinal
