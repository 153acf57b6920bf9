#pragma once
// Reads typed text into whatever hands out its values by describe().
#include "base/text.h"
#include "layout/along/typed.h"
#include "model/document/body_item.h"
#include "model/document/document.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <sstream>

namespace vicinal {

/// What is between commas.
inline std::vector<std::string> parts(const std::string& text) {
    std::vector<std::string> out;
    std::stringstream all(text);
    for (std::string one; std::getline(all, one, ',');) out.push_back(one);
    return out;
}

/// Reads one value of a description; remembers what it could not.
struct Typed {
    const std::string &key, &text;
    const Document& doc;
    Unit unit;
    bool& found;
    std::optional<Problem>& problem;
    std::string& known; ///< all keys that were seen

    bool mine(const char* k) const {
        known += (known.empty() ? "" : ", ") + std::string(k);
        if (key != k || found) return false;
        return found = true;
    }
    template<class T, class V> void take(Result<T> read, V& into) const {
        if (read)
            into = *read;
        else
            problem = Problem{key + ": " + read.problem().text, key};
    }
    void length(const char* k, const char*, const char*, double& v) const {
        if (mine(k)) take(parseLength(text, unit), v);
    }
    void limit(const char* k, const char*, const char*, std::optional<double>& v) const {
        if (!mine(k)) return;
        if (text.empty() || text == "none")
            v.reset();
        else
            take(parseLength(text, unit), v);
    }
    void angle(const char* k, const char*, const char*, double& v) const {
        if (mine(k)) take(parseAngle(text), v);
    }
    void number(const char* k, const char*, const char*, double& v) const {
        if (mine(k)) take(parseNumber(text), v);
    }
    void count(const char* k, const char*, const char*, long& v) const {
        if (mine(k)) take(parseCount(text, -1'000'000'000, 1'000'000'000), v);
    }
    /// False: neither yes nor no.
    static bool read(const std::string& text, bool& v) {
        if (text != "yes" && text != "true" && text != "1" && text != "no" && text != "false" && text != "0")
            return false;
        v = text == "yes" || text == "true" || text == "1";
        return true;
    }
    void flag(const char* k, const char*, const char*, bool& v) const {
        if (!mine(k)) return;
        if (!read(text, v)) problem = Problem{key + ": \"" + text::quoted(text) + "\" is neither yes nor no.", key};
    }
    template<class Read> void three(Vec3& v, Read&& read) const {
        const auto all = parts(text);
        if (all.size() != 3) {
            problem = Problem{key + ": needs three values with commas between.", key};
            return;
        }
        for (int i = 0; i < 3 && !problem; ++i) take(read(all[size_t(i)]), v[i]);
    }
    void point(const char* k, const char*, const char*, Vec3& v) const {
        if (mine(k)) three(v, [&](const std::string& t) { return parseLength(t, unit); });
    }
    void turn(const char* k, const char*, const char*, Vec3& v) const {
        if (mine(k)) three(v, [](const std::string& t) { return parseAngle(t); });
    }
    void direction(const char* k, const char*, const char*, Vec3& v) const {
        if (mine(k)) three(v, [](const std::string& t) { return parseNumber(t); });
    }
    void stations(const char* k, const char*, const char*, std::vector<double>& v) const {
        if (mine(k)) take(parseStations(text, unit), v);
    }
    void profile(const char* k, const char*, const char*, Profile& v, ProfileKind of) const {
        if (mine(k)) take(parseProfile(text, unit, of), v);
    }
    void item(const char* k, const char*, const char*, Id& id, ItemKind of) const {
        if (!mine(k)) return;
        if (text.empty() || text == "none") {
            id = 0;
            return;
        }
        const auto named = [&](const auto& items) {
            for (const auto& i : items)
                if (i->name == text) return i->id;
            problem = Problem{key + ": there is nothing named \"" + text::quoted(text) + "\".", key};
            return id;
        };
        id = of == ItemKind::Run    ? named(doc.runs)
             : of == ItemKind::Path ? named(doc.paths)
             : of == ItemKind::Body ? named(doc.bodies)
                                    : named(doc.parts);
    }
    template<class E> void choice(const char* k, const char*, const char*, E& v, ChoiceWords words) const {
        if (!mine(k)) return;
        std::string all;
        for (size_t i = 0; i < words.size(); ++i) {
            const char* word = words.begin()[i].file;
            if (text == word) {
                v = E(i);
                return;
            }
            all += (i ? ", " : "") + std::string(word);
        }
        problem = Problem{key + ": \"" + text::quoted(text) + "\" is not one of " + all + ".", key};
    }
    void wheels(const char*, std::vector<Wheel>&) const {}
};

/// Sets a described value by its key. Problem: not known (lists those that are), not read.
template<class T>
std::optional<Problem> setDescribed(T& described, const Document& d, const std::string& key, const std::string& text) {
    bool found = false;
    std::optional<Problem> problem;
    std::string known;
    T changed = described;
    describe(Typed{key, text, d, d.unit, found, problem, known}, changed);
    if (!found) return Problem{"There is no value \"" + text::quoted(key) + "\" here. There are: " + known + ".", key};
    if (!problem) described = std::move(changed);
    return problem;
}

} // namespace vicinal
