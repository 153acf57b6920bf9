#pragma once
#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <type_traits>
#include <utility>
#include <vector>

namespace vicinal {

/// A message: what is written in the code, and values in it. As a string it is worded in English and in millimetres, as
/// the command line and files say it; the window words the same message in the document's unit, and in another language
/// where that has its key, by in(). Adding strings and Words keeps the values apart: a literal belongs to the message,
/// any other string is a value.
class Words : public std::string {
public:
    enum class Style {
        Short,    ///< six digits
        Decimals, ///< three decimals of a millimetre, fewer where they are zero
        Bound,    ///< a limit as large as a site: km
    };
    /// From a key what the message is in another language, with %1, %2... where its values go; the key where it has
    /// none.
    using Translate = std::function<std::string(const std::string& key)>;

    Words() = default;
    Words(const char* text) : std::string(text) {}
    /// A value, as it stands.
    explicit Words(std::string text) : std::string(std::move(text)) {
        if (!empty()) m_values.push_back({0, size()});
    }

    static Words length(double mm, Style style = Style::Short) {
        Words w;
        w.append(worded(mm, style, 1, "mm"));
        w.m_values.push_back({0, w.size(), mm, style});
        return w;
    }
    /// A message that is told within another one: it has a key of its own.
    static Words whole(const Words& inner) {
        Words w;
        w.append(inner);
        w.m_values.push_back({0, w.size(), 0, {}, std::make_shared<const Words>(inner)});
        return w;
    }

    /// What is written in the code, values as %1, %2...: the same for every message of its kind.
    std::string key() const {
        size_t n = 0;
        return filled([&](const Value&) { return "%" + std::to_string(++n); });
    }
    /// The message with its lengths in another unit.
    std::string in(double mmPerUnit, const char* unit, const Translate& translate = {}) const {
        const auto value = [&](const Value& v) {
            if (v.style) return worded(v.mm, *v.style, mmPerUnit, unit);
            return v.words ? v.words->in(mmPerUnit, unit, translate) : substr(v.at, v.size);
        };
        if (!translate) return filled(value);
        const std::string phrase = translate(key());
        std::string out;
        for (size_t at = 0; at < phrase.size();) {
            size_t end = at + 1, which = 0;
            if (phrase[at] == '%')
                for (; end < phrase.size() && phrase[end] >= '0' && phrase[end] <= '9' && which < 1000; ++end)
                    which = 10 * which + size_t(phrase[end] - '0');
            if (which >= 1 && which <= m_values.size())
                out += value(m_values[which - 1]);
            else
                out.append(phrase, at, end - at);
            at = end;
        }
        return out;
    }

    Words& operator+=(const Words& o) {
        for (auto v : o.m_values) {
            v.at += size();
            m_values.push_back(std::move(v));
        }
        append(o);
        return *this;
    }
    /// Every `from` becomes the value `to`, in names as well, but not in lengths nor where a value goes on behind it.
    void replaceAll(const std::string& from, const std::string& to) {
        for (size_t at = find(from); at != npos; at = find(from, at)) {
            const size_t end = at + from.size();
            const auto first =
                std::find_if(m_values.begin(), m_values.end(), [&](const Value& v) { return v.at + v.size > at; });
            const auto last =
                std::find_if(first, m_values.end(), [&](const Value& v) { return v.at >= end; }); // behind it
            const bool inside = first != last && first->at <= at && first->at + first->size >= end;
            const bool covered = std::all_of(first, last, [&](const Value& v) {
                return v.at >= at && v.at + v.size <= end && !v.style && !v.words;
            });
            if (!(inside ? !first->style && !first->words : covered)) {
                at = end;
                continue;
            }
            replace(at, from.size(), to);
            for (auto v = last; v != m_values.end(); ++v) v->at += to.size() - from.size();
            if (inside)
                first->size += to.size() - from.size();
            else
                m_values.insert(m_values.erase(first, last), {at, to.size()});
            at += to.size();
        }
    }

private:
    struct Value {
        size_t at, size;
        double mm = 0;
        std::optional<Style> style{};         ///< of a length
        std::shared_ptr<const Words> words{}; ///< of a message
    };

    template<class Put> std::string filled(const Put& put) const {
        std::string out;
        size_t at = 0;
        for (const auto& v : m_values) {
            out.append(*this, at, v.at - at);
            out += put(v);
            at = v.at + v.size;
        }
        return out.append(*this, at, size() - at);
    }

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

    std::vector<Value> m_values; ///< in order
};

/// Not of a text that was put together already ("a" + string) and words: what is written and what is a value would be
/// one. That is a string again, which becomes no message by itself: begin with Words("a").
template<class A, class B>
requires(!std::is_same_v<A, std::string>) &&
    (std::is_same_v<std::remove_cvref_t<A>, Words> || std::is_same_v<std::remove_cvref_t<B>, Words>)Words
    operator+(A&& a, B&& b) {
    Words out(std::forward<A>(a));
    out += Words(std::forward<B>(b));
    return out;
}

} // namespace vicinal
