#include "model/edits/typed/bay_text.h"
#include "base/text.h"
#include "layout/along/typed.h"
#include "layout/spacing/rule_kind.h"
#include <algorithm>
#include <regex>

namespace vicinal {
namespace {

/// The value that a rule is known by: the first one it describes.
struct ReadFirst : IgnoreValues {
    const std::string& text;
    Unit unit;
    mutable bool read = false;
    mutable std::optional<Problem> problem{};
    ReadFirst(const std::string& t, Unit u) : text(t), unit(u) {}
    template<class T> void take(Result<T> value, T& into) const {
        if (!value)
            problem = value.problem();
        else
            into = std::move(value).value();
    }
    bool first() const { return !std::exchange(read, true); }
    void length(const char*, const char*, const char*, double& v) const {
        if (first()) take(parseLength(text, unit), v);
    }
    void count(const char*, const char*, const char*, long& v) const {
        if (first()) take(parseCount(text, 0, 1'000'000), v);
    }
    void profile(const char*, const char*, const char*, Profile& v, ProfileKind of) const {
        if (first()) take(parseProfile(text, unit, of), v);
    }
    void stations(const char*, const char*, const char*, std::vector<double>& v) const {
        if (first()) take(parseStations(text, unit), v);
    }
};

struct SayFirst : IgnoreValues {
    Unit unit;
    mutable std::optional<std::string> said{};
    explicit SayFirst(Unit u) : unit(u) {}
    void say(const std::string& text) const {
        if (!said) said = text;
    }
    void length(const char*, const char*, const char*, const double& v) const { say(formatLength(v, unit)); }
    void count(const char*, const char*, const char*, const long& v) const { say(std::to_string(v)); }
    void profile(const char*, const char*, const char*, const Profile& v, ProfileKind of) const {
        say(profileText(v, unit, of));
    }
    void stations(const char*, const char*, const char*, const std::vector<double>& v) const {
        say(stationsText(v, unit));
    }
};

/// The problem of a text that cannot be that value.
std::optional<Problem> readFirst(const std::string& text, Unit unit, SpacingRule& rule) {
    const ReadFirst reads(text, unit);
    std::visit([&](auto& r) { describe(reads, r); }, rule);
    return reads.problem;
}

} // namespace

Result<SpacingRule> parseRule(const std::string& text, Unit unit, const SpacingRule& otherwise) {
    const std::string all = trimmed(text);
    if (!all.empty() && all.find_first_not_of("0123456789") == std::string::npos) {
        SpacingRule share = ShareOut{1, endsOf(otherwise).value_or(ShareOut{}.ends)};
        if (auto p = readFirst(all, unit, share)) return *p;
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
        if (auto p = readFirst(value, unit, rule))
            return Problem{"\"" + text::quoted(value) + "\": " + p->text, "bayRules"};
        return rule;
    }
    return Problem{"\"" + text::quoted(all) + "\" is no rule. Type a count, or one of " + known +
                       " with its number: step off 120.",
                   "bayRules"};
}

std::string ruleText(const SpacingRule& rule, Unit unit) {
    const SayFirst says(unit);
    std::visit([&](const auto& r) { describe(says, r); }, rule);
    return std::string(wordsOf(rule).file) + " " + says.said.value_or("");
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
