#include "model/edits/typed/bay_text.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/along/typed.h"
#include "layout/spacing/rule_kind.h"
#include "model/values/values.h"
#include <algorithm>
#include <regex>

namespace vicinal {
namespace {

/// A rule is known by the first value it describes.
template<class Rule> Handing valuesOf(Rule& rule) {
    return [&rule](const ValueVisitor& v) { std::visit([&](auto& r) { handing(r)(v); }, rule); };
}

} // namespace

Result<SpacingRule> parseRule(const std::string& text, Unit unit, const SpacingRule& otherwise) {
    const std::string all = trimmed(text);
    if (!all.empty() && all.find_first_not_of("0123456789") == std::string::npos) {
        SpacingRule share = ShareOut{1, endsOf(otherwise).value_or(ShareOut{}.ends)};
        if (auto p = setFirst(valuesOf(share), all, unit)) return *p;
        return share;
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
        if (auto p = setFirst(valuesOf(rule), value, unit))
            return Problem{"\"" + text::quoted(value) + "\": " + p->text, "bayRules"};
        return rule;
    }
    return Problem{"\"" + text::quoted(all) + "\" is no rule. Type a count, or one of " + known +
                       " with its number: step off 120.",
                   "bayRules"};
}

std::string ruleText(const SpacingRule& rule, Unit unit) {
    return std::string(wordsOf(rule).file) + " " + firstText(valuesOf(rule), unit);
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
                return Problem{"Bay " + say::count(number) + " has two rules. Take one out.", "bayRules"};
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
