#include "base/quantity.h"
#include "base/say.h"
#include "base/text.h"
#include "base/vec.h"
#include <charconv>
#include <cmath>
#include <optional>
#include <span>

namespace vicinal {
namespace {

struct UnitWord {
    std::string_view word;
    double factor;
};
constexpr UnitWord kLengths[] = {{"mm", 1},    {"cm", 10},   {"dm", 100},   {"km", 1e6},  {"m", 1000},
                                 {"in", 25.4}, {"\"", 25.4}, {"ft", 304.8}, {"'", 304.8}, {"yd", 914.4}};
constexpr UnitWord kAngles[] = {
    {"deg", kDegree}, {"\u00b0", kDegree}, {"rad", 1}, {"turn", 2 * kPi}, {"grad", kPi / 200}};

/// A value and whether it still counts as a plain number (no unit yet).
struct Amount {
    double value = 0;
    bool plain = true;
};

/// Recursive descent: sum := product {(+|-) product}; product := power {(*|/) power}; the unit follows a product of
/// plain numbers. Throws Problem inside; parse() catches.
class Parser {
public:
    Parser(std::string_view text, std::span<const UnitWord> units, double plainFactor)
        : m_text(text), m_units(units), m_plain(plainFactor) {}

    Result<double> parse() {
        try {
            skip();
            if (done()) return Problem{"Nothing is typed. Type a value.", ""};
            const Amount a = sum();
            skip();
            if (!done()) fail("\"" + std::string(rest()) + "\" is not understood");
            const double v = a.plain ? a.value * m_plain : a.value;
            if (!std::isfinite(v)) return Problem{"The value is too large or not a number.", ""};
            return v;
        } catch (const Problem& p) {
            return p;
        }
    }

private:
    [[noreturn]] void fail(const std::string& what) { throw Problem{say::value(what) + ".", ""}; }
    bool done() const { return m_at >= m_text.size(); }
    std::string_view rest() const { return m_text.substr(m_at); }
    void skip() {
        while (!done() && (m_text[m_at] == ' ' || m_text[m_at] == '\t')) ++m_at;
    }
    bool take(std::string_view token) {
        skip();
        if (!rest().starts_with(token)) return false;
        m_at += token.size();
        return true;
    }

    Amount sum() {
        Amount a = product();
        for (;;) {
            if (take("+"))
                a = add(a, product(), 1);
            else if (take("-") || take("\u2212"))
                a = add(a, product(), -1);
            else if (!a.plain && startsNumber())
                a = add(a, product(), 1); // 6ft 2in
            else
                return a;
        }
    }
    bool startsNumber() {
        skip();
        return !done() &&
               (std::isdigit(static_cast<unsigned char>(m_text[m_at])) || m_text[m_at] == '.' || m_text[m_at] == '(');
    }
    Amount add(const Amount& a, const Amount& b, int sign) {
        if (a.plain != b.plain) fail("One of the terms has no unit; give all or none a unit");
        return {a.value + sign * b.value, a.plain};
    }

    Amount product() {
        Amount a = factor();
        for (;;) {
            unit(a);
            if (take("*") || take("\u00d7")) {
                const Amount b = factorWithUnit(!a.plain);
                if (!a.plain && !b.plain) fail("A length times a length is not a length");
                a = {a.value * b.value, a.plain && b.plain};
            } else if (take("/") || take("\u00f7")) {
                const Amount b = factorWithUnit(!a.plain);
                if (!b.plain) fail("A value divided by a length is not a length");
                if (b.value == 0) fail("This divides by zero");
                a = {a.value / b.value, a.plain};
            } else {
                return a;
            }
        }
    }
    /// The right side of a product: in "3/4 in" the unit belongs to the quotient, in "2 m * 3" and "2 * 3 m" either way
    /// is the same; only after something with a unit does a further unit belong to this factor (and is then refused).
    Amount factorWithUnit(bool own) {
        Amount b = factor();
        if (own) unit(b);
        return b;
    }
    void unit(Amount& a) {
        skip();
        const UnitWord* best = nullptr;
        for (const auto& u : m_units)
            if (rest().starts_with(u.word) && (!best || u.word.size() > best->word.size())) best = &u;
        if (!best) {
            if (!done() && std::isalpha(static_cast<unsigned char>(m_text[m_at])))
                fail("\"" + word() + "\" is not a unit known here");
            return;
        }
        const size_t after = m_at + best->word.size();
        if (std::isalpha(static_cast<unsigned char>(best->word[0])) && after < m_text.size() &&
            std::isalpha(static_cast<unsigned char>(m_text[after])))
            fail("\"" + word() + "\" is not a unit known here");
        if (!a.plain) fail("There are two units in one value");
        m_at = after;
        a = {a.value * best->factor, false};
    }
    std::string word() const {
        size_t e = m_at;
        while (e < m_text.size() && std::isalpha(static_cast<unsigned char>(m_text[e]))) ++e;
        return std::string(m_text.substr(m_at, e - m_at));
    }

    Amount factor() {
        if (++m_depth > 100) fail("The brackets are nested too deeply");
        skip();
        Amount a;
        if (take("-") || take("\u2212")) {
            a = factor();
            a.value = -a.value;
        } else if (take("+")) {
            a = factor();
        } else if (take("(")) {
            a = sum();
            if (!take(")")) fail("A closing bracket is missing");
        } else {
            a.value = number();
        }
        --m_depth;
        return a;
    }

    double number() {
        std::string digits(rest());
        size_t n = 0;
        while (n < digits.size() &&
               (std::isdigit(static_cast<unsigned char>(digits[n])) || digits[n] == '.' || digits[n] == ','))
            ++n;
        if (n == 0) fail(done() ? "The value ends too early" : "\"" + std::string(rest()) + "\" is not a number");
        if (n < digits.size() && (digits[n] == 'e' || digits[n] == 'E')) { // exponent, when digits follow
            size_t e = n + 1;
            if (e < digits.size() && (digits[e] == '-' || digits[e] == '+')) ++e;
            if (e < digits.size() && std::isdigit(static_cast<unsigned char>(digits[e]))) {
                while (e < digits.size() && std::isdigit(static_cast<unsigned char>(digits[e]))) ++e;
                n = e;
            }
        }
        digits.resize(n);
        const size_t comma = digits.find(',');
        if (comma != std::string::npos) {
            if (digits.find_first_of(".,", comma + 1) != std::string::npos || digits.find('.') < comma)
                fail("\"" + digits + "\" has more than one decimal sign");
            digits[comma] = '.';
        }
        if (digits.find('.') != digits.rfind('.')) fail("\"" + digits + "\" has more than one decimal sign");
        double v = 0;
        const auto r = std::from_chars(digits.data(), digits.data() + digits.size(), v);
        if (r.ec == std::errc::result_out_of_range) fail("\"" + digits + "\" is out of range");
        if (r.ec != std::errc() || r.ptr != digits.data() + digits.size()) fail("\"" + digits + "\" is not a number");
        m_at += n;
        return v + fractionAfter(digits);
    }
    /// The fraction of a mixed number, as in "2 1/2 in"; 0 when there is none.
    double fractionAfter(const std::string& whole) {
        if (whole.find_first_not_of("0123456789") != std::string::npos || done() || m_text[m_at] != ' ') return 0;
        size_t i = m_at;
        while (i < m_text.size() && m_text[i] == ' ') ++i;
        const auto digits = [&] {
            const size_t from = i;
            long v = 0;
            while (i < m_text.size() && std::isdigit(static_cast<unsigned char>(m_text[i])) && i - from < 9)
                v = v * 10 + (m_text[i++] - '0');
            return i > from ? v : -1;
        };
        const long above = digits();
        if (above < 0 || i >= m_text.size() || m_text[i] != '/') return 0;
        ++i;
        const long below = digits();
        if (below <= 0) return 0;
        m_at = i;
        return double(above) / double(below);
    }

    std::string_view m_text;
    std::span<const UnitWord> m_units;
    double m_plain;
    size_t m_at = 0;
    int m_depth = 0;
};

} // namespace

double millimetresPer(Unit u) {
    switch (u) {
    case Unit::Centimetre: return 10;
    case Unit::Metre: return 1000;
    case Unit::Inch: return 25.4;
    case Unit::Foot: return 304.8;
    case Unit::Millimetre: break;
    }
    return 1;
}

const char* nameOf(Unit u) {
    switch (u) {
    case Unit::Centimetre: return "cm";
    case Unit::Metre: return "m";
    case Unit::Inch: return "in";
    case Unit::Foot: return "ft";
    case Unit::Millimetre: break;
    }
    return "mm";
}

Result<Unit> unitNamed(std::string_view name) {
    if (name == "\"") name = "in";
    if (name == "'") name = "ft";
    for (Unit u : {Unit::Millimetre, Unit::Centimetre, Unit::Metre, Unit::Inch, Unit::Foot})
        if (name == nameOf(u)) return u;
    return Problem{Words("\"") + std::string(name) + "\" is not a unit. Use mm, cm, m, in or ft.", "unit"};
}

Result<double> parseLength(std::string_view text, Unit unit) {
    return Parser(text, kLengths, millimetresPer(unit)).parse();
}
Result<double> parseAngle(std::string_view text) { return Parser(text, kAngles, kDegree).parse(); }
Result<double> parseNumber(std::string_view text) { return Parser(text, {}, 1).parse(); }

Result<long> parseCount(std::string_view text, long least, long most) {
    const auto v = parseNumber(text);
    if (!v) return v.problem();
    const double whole = std::round(*v);
    if (std::abs(*v - whole) > 1e-9) return Problem{say::number(*v, 6) + " is not a whole number.", ""};
    if (whole < double(least) || whole > double(most))
        return Problem{say::number(whole, 0) + " is out of range: use " + std::to_string(least) + " to " +
                           std::to_string(most) + ".",
                       ""};
    return long(whole);
}

std::string formatLength(double mm, Unit unit, int decimals) {
    constexpr int usual[] = {3, 4, 6, 4, 5};
    return text::number(mm / millimetresPer(unit), decimals < 0 ? usual[int(unit)] : decimals);
}

} // namespace vicinal
