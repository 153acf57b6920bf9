#pragma once
#include <string>
#include <string_view>

namespace vicinal {

/// A text for XML: marks as entities; what XML cannot hold becomes a space.
inline std::string xmlText(std::string_view s) {
    std::string out;
    out.reserve(s.size());
    for (char c : s) switch (c) {
        case '&': out += "&amp;"; break;
        case '<': out += "&lt;"; break;
        case '>': out += "&gt;"; break;
        case '"': out += "&quot;"; break;
        default: out += static_cast<unsigned char>(c) < 0x20 ? ' ' : c;
        }
    return out;
}

} // namespace vicinal
