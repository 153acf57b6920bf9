#pragma once
#include "base/words.h"
#include <cassert>
#include <string>
#include <utility>
#include <variant>

namespace vicinal {

/// Something a user asked for that cannot be done: says what, where and the remedy, in plain English.
struct Problem {
    Words text;        ///< whole sentence(s); its lengths in mm, or in any unit by text.in()
    std::string field; ///< the field it belongs to ("pitch", "count", ...); empty when it concerns the whole
};

/// A value, or the Problem that prevented it. (g++ 12 has no std::expected in C++20.)
template<class T> class Result {
public:
    Result(T value) : m_content(std::move(value)) {}
    Result(Problem problem) : m_content(std::move(problem)) {}
    explicit operator bool() const { return std::holds_alternative<T>(m_content); }
    /// Precondition: there is a value.
    const T& value() const& {
        assert(*this);
        return *std::get_if<T>(&m_content);
    }
    T& value() & {
        assert(*this);
        return *std::get_if<T>(&m_content);
    }
    T&& value() && { return std::move(value()); }
    const T* operator->() const { return &value(); }
    const T& operator*() const { return value(); }
    /// Precondition: there is none.
    const Problem& problem() const {
        assert(!*this);
        return *std::get_if<Problem>(&m_content);
    }

private:
    std::variant<T, Problem> m_content;
};

} // namespace vicinal
