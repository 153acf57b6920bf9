#pragma once
// Words of rules that are alternatives of a variant.
#include <array>
#include <concepts>
#include <optional>
#include <string>
#include <variant>

namespace vicinal {

/// What a rule is called. Its own values are handed out by describe().
struct RuleWords {
    const char* file = "";  ///< in files and on the command line
    const char* label = ""; ///< on its button
    const char* tip = "";
    const char* summary = ""; ///< of a run that uses it
    /// In the sentence: {key} is a value of the rule or its surroundings; [open:...] only on open paths.
    const char* phrase = "";
};

/// T, or const T: describe() takes what it reads from and what it writes to alike.
template<class T, class Of>
concept Describes = std::same_as<std::remove_const_t<T>, Of>;

/// The words of all alternatives of a variant, in order.
template<class Variant> constexpr auto wordsOfAll() {
    return []<size_t... I>(std::index_sequence<I...>) {
        return std::array<RuleWords, sizeof...(I)>{std::variant_alternative_t<I, Variant>::words...};
    }
    (std::make_index_sequence<std::variant_size_v<Variant>>());
}
template<class Variant> const RuleWords& wordsOf(const Variant& v) {
    return std::visit([](const auto& r) -> const RuleWords& { return r.words; }, v);
}
/// An alternative with its defaults, by its index.
template<class Variant> Variant alternative(size_t index) {
    Variant out;
    [&]<size_t... I>(std::index_sequence<I...>) { (void)((I == index && (out.template emplace<I>(), true)) || ...); }
    (std::make_index_sequence<std::variant_size_v<Variant>>());
    return out;
}
/// By its word in files.
template<class Variant> std::optional<Variant> ruleNamed(const std::string& word) {
    const auto all = wordsOfAll<Variant>();
    for (size_t i = 0; i < all.size(); ++i)
        if (word == all[i].file) return alternative<Variant>(i);
    return std::nullopt;
}

} // namespace vicinal
