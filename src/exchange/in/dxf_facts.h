#pragma once
// What is said of a DXF before the library reads it.
#include "base/result.h"
#include <cstdlib>
#include <optional>
#include <sstream>
#include <string>

namespace vicinal::dxfin {

/// mm of $INSUNITS; 0: none that is known.
double unitOfHeader(int insunits);
/// Counts that a file states and cannot hold would make the library take that much memory.
std::optional<Problem> statedTooMuch(const std::string& bytes, const std::string& name);

/// Calls `use(code, value, line of the value)` for every pair of a text DXF, until that says false.
template<class Use> void eachPair(const std::string& bytes, Use&& use) {
    size_t at = 0;
    const auto line = [&]() -> std::optional<std::string> {
        if (at >= bytes.size()) return std::nullopt;
        size_t end = bytes.find('\n', at);
        if (end == std::string::npos) end = bytes.size();
        size_t from = at, to = end;
        at = end + 1;
        const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
        while (from < to && blank(bytes[from])) ++from;
        while (to > from && blank(bytes[to - 1])) --to;
        return bytes.substr(from, to - from);
    };
    for (long n = 2;; n += 2) {
        const auto code = line();
        const auto value = code ? line() : std::nullopt;
        if (!value || !use(std::atoi(code->c_str()), *value, n)) return;
    }
}

} // namespace vicinal::dxfin
