#include "model/edits/typed/typed_items.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/along/typed.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include <algorithm>

namespace vicinal {
namespace {

std::string bare(const std::string& s) {
    return s.size() > 1 && s.front() == '"' && s.back() == '"' ? s.substr(1, s.size() - 2) : s;
}

/// Parted at a letter that does not stand within quotes; no empty parts.
std::vector<std::string> parted(const std::string& text, char at) {
    std::vector<std::string> out(1);
    bool quoted = false;
    for (char c : text) {
        if (c == '"') quoted = !quoted;
        if (c == at && !quoted)
            out.emplace_back();
        else
            out.back() += c;
    }
    for (auto& one : out) one = trimmed(one);
    std::erase(out, std::string());
    return out;
}

/// One thing of a list: what stands first, and words with what follows them.
struct Thing {
    std::string first;
    std::vector<std::pair<std::string, std::string>> words;
};
/// Parted at the words that are known; other words belong to the value they stand in ("1 m").
Thing thingOf(const std::string& text, std::initializer_list<const char*> known) {
    Thing out;
    std::string* into = &out.first;
    std::string word;
    bool quoted = false;
    const auto take = [&] {
        if (word.empty()) return;
        if (std::any_of(known.begin(), known.end(), [&](const char* k) { return word == k; })) {
            out.words.emplace_back(word, "");
            into = &out.words.back().second;
        } else {
            *into += (into->empty() ? "" : " ") + word;
        }
        word.clear();
    };
    for (char c : text) {
        if (c == '"') quoted = !quoted;
        if (!quoted && (c == ' ' || c == '\t' || c == '\n'))
            take();
        else
            word += c;
    }
    take();
    return out;
}

/// Reads what belongs to one list and says which thing of it is wrong.
class Reading {
public:
    Reading(const char* key, Unit unit) : m_key(key), m_unit(unit) {}
    void begin(size_t thing) { m_thing = thing + 1; }

    void fail(const std::string& why) {
        if (!problem) problem = Problem{"number " + say::count(m_thing) + ": " + why, m_key};
    }
    template<class T, class V> void take(Result<T> read, V& into) {
        if (read)
            into = *read;
        else
            fail(read.problem().text);
    }
    double length(const std::string& t) {
        double v = 0;
        take(parseLength(t, m_unit), v);
        return v;
    }
    double number(const std::string& t) {
        double v = 0;
        take(parseNumber(t), v);
        return v;
    }
    long count(const std::string& t, long least, long most) {
        long v = least;
        take(parseCount(t, least, most), v);
        return v;
    }
    /// `read`: each of the values. Two are enough when `flat`.
    template<class Read> Vec3 three(const std::string& t, bool flat, Read&& read) {
        const auto all = parted(t, ',');
        Vec3 v = Vec3::Zero();
        if (all.size() != 3 && !(flat && all.size() == 2))
            fail("\"" + text::quoted(t) + "\" needs " + (flat ? "two or " : "") + "three values with commas between.");
        else
            for (size_t k = 0; k < all.size(); ++k) take(read(all[k]), v[int(k)]);
        return v;
    }
    Vec3 point(const std::string& t, bool flat = false) {
        return three(t, flat, [&](const std::string& s) { return parseLength(s, m_unit); });
    }
    Vec3 turn(const std::string& t) {
        return three(t, false, [](const std::string& s) { return parseAngle(s); });
    }
    void none(const std::string& word, const std::string& value) {
        if (!value.empty())
            fail(Words("\"") + word + "\" stands alone, and \"" + text::quoted(value) + "\" follows it.");
    }
    Id part(const Document& d, const std::string& name) {
        for (const auto& p : d.parts)
            if (p->name == bare(name)) return p->id;
        fail("there is no part named \"" + text::quoted(bare(name)) + "\".");
        return 0;
    }
    template<size_t n> size_t choice(const char* const (&words)[n], const std::string& value) {
        std::string all;
        for (size_t k = 0; k < n; ++k) {
            if (value == words[k]) return k;
            all += (k ? ", " : "") + std::string(words[k]);
        }
        fail("\"" + text::quoted(value) + "\" is not one of " + all + ".");
        return 0;
    }

    std::optional<Problem> problem;

private:
    const char* m_key;
    Unit m_unit;
    size_t m_thing = 1;
};

/// Every thing of a list; "none" is an empty one.
template<class T, class Read> Result<std::vector<T>>
listOf(const std::string& text, Reading& reading, std::initializer_list<const char*> words, const Read& read) {
    std::vector<T> out;
    if (trimmed(text) == "none") return out;
    const auto all = parted(text, ';');
    for (size_t k = 0; k < all.size() && !reading.problem; ++k) {
        reading.begin(k);
        T one{};
        read(thingOf(all[k], words), one);
        out.push_back(std::move(one));
    }
    if (reading.problem) return *reading.problem;
    return out;
}

} // namespace

Result<std::vector<PathPoint>> parsePoints(const std::string& text, Unit unit, bool smooth) {
    Reading r("points", unit);
    return listOf<PathPoint>(text, r, {"corner", "smooth", "fillet", "via", "before", "after"},
                             [&](const Thing& t, PathPoint& p) {
                                 p.smooth = smooth;
                                 p.at = r.point(t.first, true);
                                 for (const auto& [word, value] : t.words) {
                                     if (word == "corner" || word == "smooth") {
                                         r.none(word, value);
                                         p.smooth = word == "smooth";
                                     } else if (word == "fillet") {
                                         p.fillet = r.length(value);
                                     } else if (word == "via") {
                                         p.via = r.point(value);
                                     } else {
                                         (word == "before" ? p.in : p.out) = r.point(value);
                                     }
                                 }
                             });
}

Result<std::vector<Wheel>> parseWheels(const std::string& text, Unit unit) {
    Reading r("wheels", unit);
    return listOf<Wheel>(text, r,
                         {"at", "radius", "teeth", "inside", "outside", "body", "width", "bore", "hub", "phase"},
                         [&](const Thing& t, Wheel& w) {
                             w.name = bare(t.first);
                             for (const auto& [word, value] : t.words) {
                                 if (word == "at") {
                                     w.centre = r.point(value, true).head<2>();
                                 } else if (word == "radius") {
                                     w.radius = r.length(value);
                                 } else if (word == "teeth") {
                                     w.teeth = r.count(value, 0, 100'000);
                                 } else if (word == "inside" || word == "outside") {
                                     r.none(word, value);
                                     w.inside = word == "inside";
                                 } else if (word == "body") {
                                     w.body = WheelBody(r.choice(kWheelBodies, value));
                                 } else if (word == "phase") {
                                     double phase = 0;
                                     r.take(parseAngle(value), phase);
                                     w.phase = phase;
                                 } else if (word == "width") {
                                     w.width = r.length(value);
                                 } else {
                                     (word == "bore" ? w.bore : w.hub) = r.length(value);
                                 }
                             }
                         });
}

Result<std::vector<Piece>> parsePieces(const std::string& text, const Document& d) {
    Reading r("pieces", d.unit);
    return listOf<Piece>(text, r, {"at", "turn", "size", "mirrored", "name"}, [&](const Thing& t, Piece& p) {
        const Id part = r.part(d, t.first);
        p.shape = PartUse{part};
        p.name = bare(t.first);
        for (const auto& [word, value] : t.words) {
            if (word == "at") {
                p.at = r.point(value);
            } else if (word == "turn") {
                p.turn = r.turn(value);
            } else if (word == "size") {
                p.size = r.number(value);
            } else if (word == "mirrored") {
                r.none(word, value);
                p.mirrored = true;
            } else {
                p.name = bare(value);
            }
        }
    });
}

Result<std::vector<Exception>> parseExceptions(const std::string& text, const Document& d) {
    Reading r("exceptions", d.unit);
    return listOf<Exception>(text, r, {"at", "out", "part", "move", "turn", "size"}, [&](const Thing& t, Exception& e) {
        if (!t.first.empty()) e.place = int(r.count(t.first, 1, 1'000'000'000));
        for (const auto& [word, value] : t.words) {
            if (word == "at") {
                e.station = r.length(value);
            } else if (word == "out") {
                r.none(word, value);
                e.out = true;
            } else if (word == "part") {
                e.part = r.part(d, value);
            } else if (word == "move") {
                e.move = r.point(value);
            } else if (word == "turn") {
                e.turn = r.turn(value);
            } else {
                e.size = r.number(value);
            }
        }
        if (t.first.empty() == !e.station) r.fail("say a place by its number or by \"at\" and a station.");
        if (e.plain()) r.fail("nothing is said of that place: out, part, move, turn or size.");
    });
}

Result<Direction> parseDirection(const std::string& text) {
    static constexpr const char* kAxes[] = {"+x", "-x", "+y", "-y", "+z", "-z"};
    for (size_t k = 0; k < std::size(kAxes); ++k)
        if (text == kAxes[k]) return Direction(Axis(k));
    const auto all = parted(text, ',');
    Vec3 v = Vec3::Zero();
    if (all.size() != 3) return Problem{"\"" + text::quoted(text) + "\" is neither +x, -x... nor three numbers.", ""};
    for (int k = 0; k < 3; ++k) {
        const auto n = parseNumber(all[size_t(k)]);
        if (!n) return n.problem();
        v[k] = *n;
    }
    return Direction(v);
}

Result<std::variant<BoxPoint, Vec3>> parseSeatPoint(const std::string& text, Unit unit) {
    const Thing t = thingOf(text, {"box"});
    Reading r("seatPoint", unit);
    std::variant<BoxPoint, Vec3> out;
    if (!t.words.empty() && t.first.empty()) {
        const Vec3 v =
            r.three(t.words.front().second, false, [](const std::string& s) { return parseCount(s, -1, 1); });
        out = BoxPoint{int(v.x()), int(v.y()), int(v.z())};
    } else {
        out = r.point(text);
    }
    if (r.problem) return *r.problem;
    return out;
}

Result<std::vector<Id>> parsePathNames(const std::string& text, const Document& d) {
    std::vector<Id> out;
    for (const auto& one : parted(text, ',')) {
        const auto found =
            std::find_if(d.paths.begin(), d.paths.end(), [&](const auto& p) { return p->name == bare(one); });
        if (found == d.paths.end()) return Problem{"There is no path named \"" + text::quoted(bare(one)) + "\".", ""};
        out.push_back((*found)->id);
    }
    return out;
}

} // namespace vicinal
