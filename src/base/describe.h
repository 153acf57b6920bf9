#pragma once
// What has values - path recipes, makers of parts - hands them, one by one and in the order they are shown, to a
// visitor: v.length / limit / angle / number / count / flag / choice / point / turn (key, label, tip, value). One such
// list drives files, fields, handles, sentences and the command line.
#include <initializer_list>

namespace vicinal {

/// One of the words of a choice. Words of the file are not always words of the screen.
struct ChoiceWord {
    const char *file, *screen, *tip, *phrase; ///< `phrase`: in a sentence; empty: the sentence leaves it out
    constexpr ChoiceWord(const char* word) : file(word), screen(word), tip(""), phrase(word) {}
    constexpr ChoiceWord(const char* f, const char* s, const char* t, const char* p)
        : file(f), screen(s), tip(t), phrase(p) {}
};
using ChoiceWords = std::initializer_list<ChoiceWord>;

/// Takes every value and does nothing; visitors derive from it and say what they do want.
struct IgnoreValues {
    template<class T> void length(const char*, const char*, const char*, T&&) const {}
    template<class T> void limit(const char*, const char*, const char*, T&&) const {} ///< a length, or none
    template<class T> void angle(const char*, const char*, const char*, T&&) const {}
    template<class T> void number(const char*, const char*, const char*, T&&) const {}
    template<class T> void count(const char*, const char*, const char*, T&&) const {}
    template<class T> void flag(const char*, const char*, const char*, T&&) const {}
    template<class T> void point(const char*, const char*, const char*, T&&) const {}
    template<class T> void turn(const char*, const char*, const char*, T&&) const {} ///< three angles about x, y, z
    template<class E> void choice(const char*, const char*, const char*, E&&, ChoiceWords) const {}
    template<class T> void wheels(const char*, T&&) const {}
};

} // namespace vicinal
