#pragma once
// What has values - path recipes, makers of parts - hands them, one by one and in the order they are shown, to a
// visitor: v.length / limit / angle / number / count / flag / choice / point / turn (key, label, tip, value), lists
// (stations), profiles (values that change along a run) and items of the document. One such list drives files, fields,
// handles, sentences and the command line.
#include <cstddef>
#include <initializer_list>

namespace vicinal {

/// One of the words of a choice. Words of the file are not always words of the screen.
struct ChoiceWord {
    const char *file, *screen, *tip, *phrase; ///< `phrase`: in a sentence; empty: the sentence leaves it out
    constexpr ChoiceWord(const char* word) : file(word), screen(word), tip(""), phrase(word) {}
    constexpr ChoiceWord(const char* f, const char* s, const char* t, const char* p)
        : file(f), screen(s), tip(t), phrase(p) {}
};
/// What the values of a profile are; in files mm, radians or plain numbers.
enum class ProfileOf { Length, Angle, Factor };
/// What an id of the document stands for.
enum class ItemOf { Run, Path, Part, Body };

#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Winit-list-lifetime" // it lives as long as the call it is handed to, and no longer
#endif
/// The words of a choice, handed to one call.
class ChoiceWords {
public:
    constexpr ChoiceWords(std::initializer_list<ChoiceWord> l) : m_first(l.begin()), m_size(l.size()) {}
    template<std::size_t N> constexpr ChoiceWords(const ChoiceWord (&all)[N]) : m_first(all), m_size(N) {}
    constexpr const ChoiceWord* begin() const { return m_first; }
    constexpr const ChoiceWord* end() const { return m_first + m_size; }
    constexpr std::size_t size() const { return m_size; }

private:
    const ChoiceWord* m_first;
    std::size_t m_size;
};
#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC diagnostic pop
#endif

/// Takes every value and does nothing; visitors derive from it and say what they do want.
struct IgnoreValues {
    template<class T> void length(const char*, const char*, const char*, T&&) const {}
    template<class T> void limit(const char*, const char*, const char*, T&&) const {} ///< a length, or none
    template<class T> void angle(const char*, const char*, const char*, T&&) const {}
    template<class T> void number(const char*, const char*, const char*, T&&) const {}
    template<class T> void count(const char*, const char*, const char*, T&&) const {}
    template<class T> void flag(const char*, const char*, const char*, T&&) const {}
    template<class T> void point(const char*, const char*, const char*, T&&) const {}
    template<class T> void direction(const char*, const char*, const char*, T&&) const {} ///< x, y, z without a unit
    template<class T> void turn(const char*, const char*, const char*, T&&) const {} ///< three angles about x, y, z
    template<class E> void choice(const char*, const char*, const char*, E&&, ChoiceWords) const {}
    template<class T> void stations(const char*, const char*, const char*, T&&) const {} ///< lengths in order
    template<class T> void profile(const char*, const char*, const char*, T&&, ProfileOf) const {}
    template<class T> void item(const char*, const char*, const char*, T&&, ItemOf) const {} ///< its id, 0: none
    template<class T> void wheels(const char*, T&&) const {}
};

} // namespace vicinal
