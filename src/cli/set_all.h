#pragma once
#include "model/document/document.h"
#include "model/values/values.h"

namespace vicinal::cli {

/// Every key=value of the command line.
template<class Order>
std::optional<Problem> setAll(Order& order, const Document& d, const std::vector<std::string>& values) {
    for (const std::string& one : values) {
        const size_t eq = one.find('=');
        if (eq == std::string::npos) return Problem{Words("\"") + one + "\" is no key=value.", "values"};
        if (auto p = setDescribed(order, d, one.substr(0, eq), one.substr(eq + 1))) return p;
    }
    return std::nullopt;
}

} // namespace vicinal::cli
