#pragma once
// Kinds of values (base/describe.h) as they look outside: in a file, in its schema, and typed. All that differs by kind
// stands in values.cpp.
#include "base/describe.h"
#include "base/quantity.h"
#include "base/say.h"
#include "model/values/json_reader.h"
#include <functional>
#include <optional>
#include <string>

namespace vicinal {

struct Document;
struct Profile;

/// What hands out values, to whom.
using Handing = std::function<void(const ValueVisitor&)>;
/// All that something has. What is constant is handed out to who only reads.
template<class T> Handing handing(T& described) {
    return [&described](const ValueVisitor& v) { describe(v, const_cast<std::remove_const_t<T>&>(described)); };
}

/// Puts every value into an object of a file. Limits that are not set, items that are none and profiles without a key
/// are left out.
void writeValues(Json& to, const Handing&);
template<class T> void writeValues(Json& to, const T& described) { writeValues(to, handing(described)); }

/// Which values of a file may miss.
struct MayMiss {
    bool all = false;                     ///< what is not there keeps what it has: its default
    std::span<const char* const> since{}; ///< of an older file: the values that it had; others may miss
    std::span<const char* const> later{}; ///< or those that it cannot have had
};
/// Reads every value from an object of a file. Throws Problem, as all of JsonReader; `where` names what it belongs to.
void readValues(const Json& from, const std::string& where, const Handing&, const MayMiss& = {true, {}, {}});
template<class T>
void readValues(const Json& from, const std::string& where, T& described, const MayMiss& mayMiss = {true, {}, {}}) {
    readValues(from, where, handing(described), mayMiss);
}

/// Adds a property of a schema for every value: its type, words, default, what it is.
void addToSchema(Json& properties, const Handing&);

/// One key and its text, offered to all that hands out values.
class TypedKey {
public:
    TypedKey(const std::string& key, const std::string& text, const Document& d)
        : m_key(key), m_text(text), m_document(d) {}
    /// Whether it is the one that is set; the first time only. Keys that were asked for are known.
    bool is(const char* key);
    /// Sets the value with that key, when there is one.
    void offer(const Handing&);
    template<class T> void offer(T& described) { offer(handing(described)); }
    /// The text as yes or no, and as three lengths.
    void readFlag(bool&);
    void readPoint(Vec3&);
    void fail(const std::string& why) { m_problem = Problem{say::value(m_key) + ": " + why, m_key}; }
    const std::string& key() const { return m_key; }
    const std::string& text() const { return m_text; }
    /// What went wrong: the key is not known (lists those that are), or its text could not be read.
    std::optional<Problem> problem() const;

private:
    struct Reader;
    const std::string &m_key, &m_text;
    const Document& m_document;
    bool m_found = false;
    std::optional<Problem> m_problem;
    std::string m_known;
};

/// Sets a described value by its key. Problem: as of TypedKey; then nothing changes.
template<class T>
std::optional<Problem> setDescribed(T& described, const Document& d, const std::string& key, const std::string& text) {
    TypedKey typed(key, text, d);
    T changed = described;
    typed.offer(changed);
    if (auto wrong = typed.problem()) return wrong;
    described = std::move(changed);
    return std::nullopt;
}

/// The first value that is handed out and says how many or how far, set from text that names no key; as such a text.
std::optional<Problem> setFirst(const Handing&, const std::string& text, Unit);
std::string firstText(const Handing&, Unit);

/// A value as it can be typed again; empty for what is typed otherwise. Lengths without their unit.
std::string typedText(const ValueAbout&, double, Unit);
std::string typedText(const ValueAbout&, const std::optional<double>&, Unit);
std::string typedText(const ValueAbout&, long, Unit);
std::string typedText(const ValueAbout&, bool, Unit);
std::string typedText(const ValueAbout&, const Vec3&, Unit);
std::string typedText(const ValueAbout&, const std::vector<double>&, Unit);
std::string typedText(const ValueAbout&, const Profile&, Unit);

} // namespace vicinal
