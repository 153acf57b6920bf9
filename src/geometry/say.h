#pragma once
#include <cstdio>
#include <string>

namespace vicinal::say {

/// A length for a message: "118.67 mm", six digits.
inline std::string mm(double v) {
    char text[48];
    std::snprintf(text, sizeof text, "%.6g mm", v);
    return text;
}

} // namespace vicinal::say
