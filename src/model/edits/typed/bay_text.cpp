#include "model/edits/typed/bay_text.h"
#include "base/text.h"
#include "layout/along/typed.h"
#include <algorithm>
#include <regex>

namespace vicinal {
namespace {

/// The value that a rule is known by.
struct ReadFirst {
    const std::string& text;
    Unit unit;
    template<class T> static std::optional<Problem> take(Result<T> read, T& into) {
        if (!read) return read.problem();
        into = std::move(read).value();
        return std::nullopt;
    }
    auto count(long& v) const { return take(parseCount(text, 0, 1'000'000), v); }
    auto operator()(StepOff& r) const { return take(parseLength(text, unit), r.pitch); }
    auto operator()(ShareOut& r) const { return count(r.count); }
    auto operator()(EvenOut& r) const { return take(parseLength(text, unit), r.about); }
    auto operator()(PinToPin& r) const { return count(r.count); }
    auto operator()(Graded& r) const { return take(parseProfile(text, unit, ProfileOf::Length), r.pitch); }
    auto operator()(Coupled& r) const { return count(r.count); }
    auto operator()(Listed& r) const { return take(parseStations(text, unit), r.at); }
};

struct SayFirst {
    Unit unit;
    std::string operator()(const StepOff& r) const { return formatLength(r.pitch, unit); }
    std::string operator()(const ShareOut& r) const { return std::to_string(r.count); }
    std::string operator()(const EvenOut& r) const { return formatLength(r.about, unit); }
    std::string operator()(const PinToPin& r) const { return std::to_string(r.count); }
    std::string operator()(const Graded& r) const { return profileText(r.pitch, unit, ProfileOf::Length); }
    std::string operator()(const Coupled& r) const { return std::to_string(r.count); }
    std::string operator()(const Listed& r) const { return stationsText(r.at, unit); }
};

} // namespace

Result<SpacingRule> parseRule(const std::string& text, Unit unit, const SpacingRule& otherwise) {
    const std::string all = trimmed(text);
    if (!all.empty() && all.find_first_not_of("0123456789") == std::string::npos) {
        ShareOut share;
        if (const auto* was = std::get_if<ShareOut>(&otherwise)) share = *was;
        if (const auto* even = std::get_if<EvenOut>(&otherwise)) share.ends = even->ends;
        if (auto p = ReadFirst{all, unit}(share)) return *p;
        return SpacingRule(share);
    }
    std::string known;
    for (const RuleWords& w : wordsOfAll<SpacingRule>()) {
        const std::string word = w.file;
        known += (known.empty() ? "" : ", ") + word;
        if (!all.starts_with(word) || (all.size() > word.size() && all[word.size()] != ' ')) continue;
        SpacingRule rule = *ruleNamed<SpacingRule>(word);
        if (rule.index() == otherwise.index()) rule = otherwise;
        const std::string value = trimmed(all.substr(word.size()));
        if (value.empty()) return rule;
        if (auto p = std::visit([&](auto& r) { return ReadFirst{value, unit}(r); }, rule))
            return Problem{"\"" + text::quoted(value) + "\": " + p->text, "bayRules"};
        return rule;
    }
    return Problem{"\"" + text::quoted(all) + "\" is no rule. Type a count, or one of " + known +
                       " with its number: step off 120.",
                   "bayRules"};
}

std::string ruleText(const SpacingRule& rule, Unit unit) {
    return std::string(wordsOf(rule).file) + " " + std::visit(SayFirst{unit}, rule);
}

Result<std::vector<BayRule>> parseBayRules(const std::string& text, Unit unit, const SpacingRule& otherwise) {
    std::vector<BayRule> out;
    if (trimmed(text).empty() || trimmed(text) == "none") return out;
    // A profile has semicolons, too: a new bay begins where a number and a rule stand behind one.
    static const std::regex bay(R"((?:^|;)\s*(\d{1,6})\s*:\s*(?=[a-z0-9]))");
    const std::sregex_iterator end;
    std::sregex_iterator at(text.begin(), text.end(), bay);
    if (at == end || at->position() != 0)
        return Problem{"Say which bay and what rule: \"2: share out 5; 4: step off 120\".", "bayRules"};
    for (; at != end; ++at) {
        const auto next = std::next(at);
        const auto from = size_t(at->position() + at->length());
        const auto to = next == end ? text.size() : size_t(next->position());
        auto rule = parseRule(text.substr(from, to - from), unit, otherwise);
        if (!rule) return rule.problem();
        const long number = std::stol((*at)[1]);
        if (number < 1) return Problem{"Bays are numbered from 1.", "bayRules"};
        for (const auto& b : out)
            if (b.bay == number)
                return Problem{"Bay " + std::to_string(number) + " has two rules. Take one out.", "bayRules"};
        out.push_back({number, std::move(rule).value()});
    }
    std::sort(out.begin(), out.end(), [](const BayRule& a, const BayRule& b) { return a.bay < b.bay; });
    return out;
}

std::string bayRulesText(const std::vector<BayRule>& rules, Unit unit) {
    std::string out;
    for (const BayRule& b : rules)
        out += (out.empty() ? "" : "; ") + std::to_string(b.bay) + ": " + ruleText(b.rule, unit);
    return out;
}

Spacing withBayRule(Spacing s, long bay, const std::optional<SpacingRule>& rule) {
    std::erase_if(s.bayRules, [&](const BayRule& b) { return b.bay == bay; });
    if (!rule) return s;
    const auto at = std::find_if(s.bayRules.begin(), s.bayRules.end(), [&](const BayRule& b) { return b.bay > bay; });
    s.bayRules.insert(at, {bay, *rule});
    return s;
}

} // namespace vicinal
