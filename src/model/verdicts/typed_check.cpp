#include "model/verdicts/typed_check.h"
#include "base/text.h"
#include <algorithm>

namespace vicinal {

Result<double> typedValue(CheckIn in, std::string text, Unit unit) {
    if (in == CheckIn::Length) return parseLength(text, unit);
    for (const std::string said : {"%", "kg/m", "kg"})
        if (const size_t at = text.rfind(said); at != text.npos && at + said.size() == text.size()) {
            text.erase(at);
            break;
        }
    if (in == CheckIn::Angle) return parseAngle(text);
    auto v = parseNumber(text);
    if (v && in == CheckIn::Share) return *v / 100;
    return v;
}

std::optional<Problem> setTyped(Check& c, Unit unit, const std::string& key, const std::string& text) {
    const CheckWords& words = wordsOf(c.of);
    std::vector<std::string> keys{"on", "margin"};
    if (words.least) keys.push_back("least");
    if (words.most) keys.push_back("most");
    if (c.of == CheckKind::Opening) keys.insert(keys.end(), {"from", "to"});
    if (std::find(keys.begin(), keys.end(), key) == keys.end()) {
        std::string all;
        for (const auto& k : keys) all += (all.empty() ? "\"" : ", \"") + k + "\"";
        return Problem{Words("The check \"") + std::string(words.label) + "\" has no \"" + text::quoted(key) +
                           "\". It has: " + all + ".",
                       key};
    }
    if (key == "on") {
        if (text != "yes" && text != "no")
            return Problem{"\"" + text::quoted(text) + "\" is neither \"yes\" nor \"no\".", key};
        c.on = text == "yes";
        return std::nullopt;
    }
    const bool limit = key == "least" || key == "most";
    if (limit && text == "none") {
        (key == "least" ? c.least : c.most) = std::nullopt;
        return std::nullopt;
    }
    const auto v = typedValue(key == "from" || key == "to" ? CheckIn::Length : words.in, text, unit);
    if (!v) return Problem{v.problem().text, key};
    if (limit)
        (key == "least" ? c.least : c.most) = *v;
    else if (key == "margin")
        c.margin = *v;
    else
        (key == "from" ? c.from : c.to) = *v;
    return std::nullopt;
}

} // namespace vicinal
