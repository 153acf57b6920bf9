#pragma once
#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <string>
#include <type_traits>
#include <utility>
#include <vector>

namespace vicinal {

/// A message with lengths in it. As a string it is worded in millimetres, as the command line and files say it; the
/// window words the same message in the document's unit by in(). Adding strings and Words keeps the lengths.
class Words : public std::string {
public:
    enum class Style {
        Short,    ///< six digits
        Decimals, ///< three decimals of a millimetre, fewer where they are zero
        Bound,    ///< a limit as large as a site: km
    };
    Words() = default;
    Words(const char* text) : std::string(text) {}
    Words(std::string text) : std::string(std::move(text)) {}

    static Words length(double mm, Style style = Style::Short) {
        Words w(worded(mm, style, 1, "mm"));
        w.m_lengths.push_back({0, w.size(), mm, style});
        return w;
    }

    /// The message with its lengths in another unit.
    std::string in(double mmPerUnit, const char* unit) const {
        std::string out;
        size_t at = 0;
        for (const auto& l : m_lengths) {
            out.append(*this, at, l.at - at);
            out += worded(l.mm, l.style, mmPerUnit, unit);
            at = l.at + l.size;
        }
        return out.append(*this, at, size() - at);
    }

    Words& operator+=(const Words& o) {
        for (auto l : o.m_lengths) {
            l.at += size();
            m_lengths.push_back(l);
        }
        append(o);
        return *this;
    }
    /// Every `from` outside lengths becomes `to`.
    void replaceAll(const std::string& from, const std::string& to) {
        for (size_t at = find(from); at != npos; at = find(from, at + to.size())) {
            replace(at, from.size(), to);
            for (auto& l : m_lengths)
                if (l.at > at) l.at += to.size() - from.size();
        }
    }

private:
    struct Length {
        size_t at, size;
        double mm;
        Style style;
    };

    static std::string worded(double mm, Style style, double per, const char* unit) {
        if (!std::isfinite(mm)) return std::isnan(mm) ? "not a number" : "infinite";
        char text[64];
        if (style == Style::Bound) {
            const bool imperial = per == 25.4 || per == 304.8;
            const auto [by, name] = imperial ? std::pair(304.8, "ft") : std::pair(1e6, "km");
            std::snprintf(text, sizeof text, "%.6g %s", mm / by, name);
            return text;
        }
        const double v = mm / per;
        if (std::abs(v) >= 1e15) { // nothing that can stand anywhere
            std::snprintf(text, sizeof text, "%.6g %s", v, unit);
            return text;
        }
        // Six digits never as a power of ten: nobody measures 1.04403e+06 mm.
        const int decimals = style != Style::Short ? 3 + int(std::lround(std::log10(per)))
                             : v == 0              ? 0
                                                   : std::clamp(5 - int(std::floor(std::log10(std::abs(v)))), 0, 12);
        std::string s(text, std::to_chars(text, text + sizeof text, v, std::chars_format::fixed, decimals).ptr);
        if (s.find('.') != npos) s.erase(s.find_last_not_of('0') + 1);
        if (s.back() == '.') s.pop_back();
        if (s == "-0") s = "0";
        return s + " " + unit;
    }

    std::vector<Length> m_lengths; ///< in order
};

template<class A, class B>
requires std::is_same_v<std::remove_cvref_t<A>, Words> || std::is_same_v<std::remove_cvref_t<B>, Words>
    Words operator+(A&& a, B&& b) {
    Words out(std::forward<A>(a));
    if constexpr (std::is_same_v<std::remove_cvref_t<B>, Words>)
        out += b;
    else
        out += Words(std::string(b));
    return out;
}

} // namespace vicinal
