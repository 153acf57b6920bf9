#pragma once
// What has values - path recipes, makers of parts - hands them, one by one and in the order they are shown, to a
// visitor: v.length / limit / angle / number / count / flag / choice / point / turn (key, label, tip, value), lists
// (stations), profiles (values that change along a run) and items of the document. One such list drives files, fields,
// handles, sentences and the command line.
//
// The lists stand in .cpp files, as describe(const ValueVisitor&, T&): they are compiled once, not once a visitor.
// Anything that has these members is a visitor: describe(visitor, described) brings both together.
#include "base/id.h"
#include "base/vec.h"
#include <concepts>
#include <cstddef>
#include <initializer_list>
#include <optional>
#include <type_traits>
#include <utility>
#include <vector>

namespace vicinal {

struct Profile;
struct Wheel;

/// One of the words of a choice. Words of the file are not always words of the screen.
struct ChoiceWord {
    const char *file, *screen, *tip, *phrase; ///< `phrase`: in a sentence; empty: the sentence leaves it out
    constexpr ChoiceWord(const char* word) : file(word), screen(word), tip(""), phrase(word) {}
    constexpr ChoiceWord(const char* f, const char* s, const char* t, const char* p)
        : file(f), screen(s), tip(t), phrase(p) {}
};
/// What the values of a profile are; in files mm, radians or plain numbers.
enum class ProfileKind { Length, Angle, Factor };
/// What an id of the document stands for.
enum class ItemKind { Run, Path, Part, Body };

#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Winit-list-lifetime" // it lives as long as the call it is handed to, and no longer
#endif
/// The words of a choice, handed to one call.
class ChoiceWords {
public:
    constexpr ChoiceWords(std::initializer_list<ChoiceWord> l) : m_first(l.begin()), m_size(l.size()) {}
    template<std::size_t N> constexpr ChoiceWords(const ChoiceWord (&all)[N]) : m_first(all), m_size(N) {}
    constexpr const ChoiceWord* begin() const { return m_first; }
    constexpr const ChoiceWord* end() const { return m_first + m_size; }
    constexpr std::size_t size() const { return m_size; }

private:
    const ChoiceWord* m_first;
    std::size_t m_size;
};
#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC diagnostic pop
#endif

/// Takes every value and does nothing; visitors derive from it and say what they do want.
struct IgnoreValues {
    template<class T> void length(const char*, const char*, const char*, T&&) const {}
    template<class T> void limit(const char*, const char*, const char*, T&&) const {} ///< a length, or none
    template<class T> void angle(const char*, const char*, const char*, T&&) const {}
    template<class T> void number(const char*, const char*, const char*, T&&) const {}
    template<class T> void count(const char*, const char*, const char*, T&&) const {}
    template<class T> void flag(const char*, const char*, const char*, T&&) const {}
    template<class T> void point(const char*, const char*, const char*, T&&) const {}
    template<class T> void direction(const char*, const char*, const char*, T&&) const {} ///< x, y, z without a unit
    template<class T> void turn(const char*, const char*, const char*, T&&) const {} ///< three angles about x, y, z
    template<class E> void choice(const char*, const char*, const char*, E&&, ChoiceWords) const {}
    template<class T> void stations(const char*, const char*, const char*, T&&) const {} ///< lengths in order
    template<class T> void profile(const char*, const char*, const char*, T&&, ProfileKind) const {}
    template<class T> void item(const char*, const char*, const char*, T&&, ItemKind) const {} ///< its id, 0: none
    template<class T> void wheels(const char*, T&&) const {}
};

/// The kinds of values; some are the same in memory.
enum class ValueKind {
    Length,
    Limit,
    Angle,
    Number,
    Count,
    Flag,
    Point,
    Direction,
    Turn,
    Stations,
    Profile,
    Item,
    Wheels,
    Choice
};

/// A value as it is handed out.
struct ValueAbout {
    ValueKind kind;
    const char *key, *label, *tip;
    ProfileKind of = ProfileKind::Length; ///< of a profile
    ItemKind item = ItemKind::Part;       ///< of an item
};

/// Takes every value, whatever its kind, as d.value(about, v): a visitor D derives from EachValue<D> and tells kinds
/// apart by what they are in memory, so that a kind more finds its way. Choices come as their number, with d.chosen().
template<class D> struct EachValue {
    using K = ValueKind;
    template<class T> void length(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Length, k, l, t}, v);
    }
    template<class T> void limit(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Limit, k, l, t}, v);
    }
    template<class T> void angle(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Angle, k, l, t}, v);
    }
    template<class T> void number(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Number, k, l, t}, v);
    }
    template<class T> void count(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Count, k, l, t}, v);
    }
    template<class T> void flag(const char* k, const char* l, const char* t, T&& v) const { to({K::Flag, k, l, t}, v); }
    template<class T> void point(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Point, k, l, t}, v);
    }
    template<class T> void direction(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Direction, k, l, t}, v);
    }
    template<class T> void turn(const char* k, const char* l, const char* t, T&& v) const { to({K::Turn, k, l, t}, v); }
    template<class T> void stations(const char* k, const char* l, const char* t, T&& v) const {
        to({K::Stations, k, l, t}, v);
    }
    template<class T> void profile(const char* k, const char* l, const char* t, T&& v, ProfileKind of) const {
        to({K::Profile, k, l, t, of}, v);
    }
    template<class T> void item(const char* k, const char* l, const char* t, T&& v, ItemKind of) const {
        to({K::Item, k, l, t, {}, of}, v);
    }
    template<class T> void wheels(const char* k, T&& v) const { to({K::Wheels, k, "Wheels", ""}, v); }
    template<class E> void choice(const char* k, const char* l, const char* t, E&& v, ChoiceWords words) const {
        self().chosen({K::Choice, k, l, t}, v, words);
    }
    template<class E> void chosen(const ValueAbout&, E&, ChoiceWords) const {}

private:
    const D& self() const { return static_cast<const D&>(*this); }
    template<class T> void to(const ValueAbout& about, T& v) const { self().value(about, v); }
};

/// Every number that is in a value, with its place among the value's: use(v, place).
template<class Use> void numbersIn(double& v, Use&& use) { use(v, 0); }
template<class Use> void numbersIn(const double& v, Use&& use) { use(v, 0); }
template<class T, class Use> void numbersIn(T& v, Use&& use) {
    using V = std::remove_const_t<T>;
    if constexpr (std::is_same_v<V, std::optional<double>>) {
        if (v) use(*v, 0);
    } else if constexpr (std::is_same_v<V, Vec3>) {
        for (int i = 0; i < 3; ++i) use(v[i], i);
    } else if constexpr (std::is_same_v<V, std::vector<double>>) {
        for (size_t i = 0; i < v.size(); ++i) use(v[i], int(i));
    } else if constexpr (requires { v.keys; }) { // a profile
        for (size_t i = 0; i < v.keys.size(); ++i) use(v.keys[i].at, int(2 * i)), use(v.keys[i].value, int(2 * i + 1));
    } else if constexpr (requires { v.begin()->radius; }) { // wheels
        int i = 0;
        for (auto& w : v) {
            for (auto* x : {&w.centre.x(), &w.centre.y(), &w.radius, &w.width, &w.bore, &w.hub}) use(*x, i++);
            if (w.phase) use(*w.phase, i++);
        }
    } else {
        static_assert(std::is_integral_v<V>, "a kind of value whose numbers nobody looks at, or one declared alone");
    }
}

/// To whom values are handed, whatever visitor stands behind.
class ValueVisitor {
public:
    virtual void length(const char* key, const char* label, const char* tip, double&) const = 0;
    virtual void limit(const char* key, const char* label, const char* tip, std::optional<double>&) const = 0;
    virtual void angle(const char* key, const char* label, const char* tip, double&) const = 0;
    virtual void number(const char* key, const char* label, const char* tip, double&) const = 0;
    virtual void count(const char* key, const char* label, const char* tip, long&) const = 0;
    virtual void flag(const char* key, const char* label, const char* tip, bool&) const = 0;
    virtual void point(const char* key, const char* label, const char* tip, Vec3&) const = 0;
    virtual void direction(const char* key, const char* label, const char* tip, Vec3&) const = 0;
    virtual void turn(const char* key, const char* label, const char* tip, Vec3&) const = 0;
    virtual void stations(const char* key, const char* label, const char* tip, std::vector<double>&) const = 0;
    virtual void profile(const char* key, const char* label, const char* tip, Profile&, ProfileKind) const = 0;
    virtual void item(const char* key, const char* label, const char* tip, Id&, ItemKind) const = 0;
    virtual void wheels(const char* key, std::vector<Wheel>&) const = 0;
    /// Of an enumeration, or of numbers from 0.
    template<class E> void choice(const char* key, const char* label, const char* tip, E& v, ChoiceWords words) const {
        int which = int(v);
        choose(key, label, tip, which, words);
        if (E(which) != v) v = E(which); // what is only read is not written
    }

protected:
    ~ValueVisitor() = default;
    virtual void choose(const char* key, const char* label, const char* tip, int& which, ChoiceWords) const = 0;
};

/// A visitor as a ValueVisitor. `Reads`: it gets the values as constants, since what they belong to is one.
template<class V, bool Reads> class VisitorFor final : public ValueVisitor {
public:
    explicit VisitorFor(V& visitor) : m_visitor(visitor) {}
    void length(const char* k, const char* l, const char* t, double& v) const override {
        m_visitor.length(k, l, t, as(v));
    }
    void limit(const char* k, const char* l, const char* t, std::optional<double>& v) const override {
        m_visitor.limit(k, l, t, as(v));
    }
    void angle(const char* k, const char* l, const char* t, double& v) const override {
        m_visitor.angle(k, l, t, as(v));
    }
    void number(const char* k, const char* l, const char* t, double& v) const override {
        m_visitor.number(k, l, t, as(v));
    }
    void count(const char* k, const char* l, const char* t, long& v) const override { m_visitor.count(k, l, t, as(v)); }
    void flag(const char* k, const char* l, const char* t, bool& v) const override { m_visitor.flag(k, l, t, as(v)); }
    void point(const char* k, const char* l, const char* t, Vec3& v) const override { m_visitor.point(k, l, t, as(v)); }
    void direction(const char* k, const char* l, const char* t, Vec3& v) const override {
        m_visitor.direction(k, l, t, as(v));
    }
    void turn(const char* k, const char* l, const char* t, Vec3& v) const override { m_visitor.turn(k, l, t, as(v)); }
    void stations(const char* k, const char* l, const char* t, std::vector<double>& v) const override {
        m_visitor.stations(k, l, t, as(v));
    }
    void profile(const char* k, const char* l, const char* t, Profile& v, ProfileKind of) const override {
        m_visitor.profile(k, l, t, as(v), of);
    }
    void item(const char* k, const char* l, const char* t, Id& v, ItemKind of) const override {
        m_visitor.item(k, l, t, as(v), of);
    }
    void wheels(const char* k, std::vector<Wheel>& v) const override { m_visitor.wheels(k, as(v)); }

private:
    void choose(const char* k, const char* l, const char* t, int& which, ChoiceWords words) const override {
        m_visitor.choice(k, l, t, as(which), words);
    }
    template<class T> static auto& as(T& v) {
        if constexpr (Reads)
            return std::as_const(v);
        else
            return v;
    }
    V& m_visitor;
};

/// Hands all values of something to any visitor; those of a constant as constants.
template<class V, class T>
requires(!std::derived_from<std::remove_cvref_t<V>, ValueVisitor>) void describe(V&& visitor, T& described) {
    const VisitorFor<std::remove_reference_t<V>, std::is_const_v<T>> to(visitor);
    describe(to, const_cast<std::remove_const_t<T>&>(described)); // `to` does not let it be changed
}

} // namespace vicinal
