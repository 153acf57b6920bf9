#include "base/text.h"
#include <charconv>
#include <cmath>
#include <new>
#include <stdexcept>
#include <system_error>

namespace vicinal::text {

std::string fixed(double v, int decimals) {
    if (!std::isfinite(v)) return std::isnan(v) ? "not a number" : "infinite";
    char buffer[400];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, v, std::chars_format::fixed, decimals).ptr;
    std::string s(buffer, end);
    if (s.find_first_not_of("-0.") == std::string::npos && s.front() == '-') s.erase(0, 1);
    return s;
}

std::string number(double v, int decimals) {
    std::string s = fixed(v, decimals);
    if (s.find('.') == std::string::npos) return s;
    s.erase(s.find_last_not_of('0') + 1);
    if (s.back() == '.') s.pop_back();
    return s;
}

std::string exact(double v) {
    char buffer[64];
    return {buffer, std::to_chars(buffer, buffer + sizeof buffer, v).ptr};
}

std::string lowered(std::string s) {
    for (char& c : s)
        if (c >= 'A' && c <= 'Z') c = char(c - 'A' + 'a');
    return s;
}

Words quoted(std::string_view foreign) {
    constexpr size_t kMost = 200;
    std::string out;
    size_t letters = 0;
    for (size_t i = 0; i < foreign.size(); ++i) {
        const auto c = static_cast<unsigned char>(foreign[i]);
        if ((c & 0xC0) != 0x80 && letters++ == kMost) return Words(out + "...");
        if (c < 0x20 || c == 0x7F) {
            constexpr char hex[] = "0123456789abcdef";
            out += {'\\', 'x', hex[c >> 4], hex[c & 15]};
        } else
            out += char(c);
    }
    return Words(out);
}

std::string reasonOf(const std::exception& e) {
    if (dynamic_cast<const std::bad_alloc*>(&e) || dynamic_cast<const std::length_error*>(&e))
        return "there is not enough memory for it";
    if (const auto* system = dynamic_cast<const std::system_error*>(&e)) return quoted(system->code().message());
    return "a library gave up";
}

} // namespace vicinal::text
