#pragma once
// What has values - path recipes, makers of parts - hands them, one by one and in the order they are shown, to a
// visitor: v.length / angle / number / count / flag / choice / point (key, label, tip, value). One such list drives
// files, fields and handles.
#include <initializer_list>

namespace vicinal {

/// Takes every value and does nothing; visitors derive from it and say what they do want.
struct IgnoreValues {
    template<class T> void length(const char*, const char*, const char*, T&&) const {}
    template<class T> void angle(const char*, const char*, const char*, T&&) const {}
    template<class T> void number(const char*, const char*, const char*, T&&) const {}
    template<class T> void count(const char*, const char*, const char*, T&&) const {}
    template<class T> void flag(const char*, const char*, const char*, T&&) const {}
    template<class T> void point(const char*, const char*, const char*, T&&) const {}
    template<class E>
    void choice(const char*, const char*, const char*, E&&, std::initializer_list<const char*>) const {}
    template<class T> void wheels(const char*, T&&) const {}
};

} // namespace vicinal
