#pragma once
// Documents by chance, over every kind there is: of path, part, body, rule, nose, crown and whatever a run can have
// besides. Kinds are taken by the size of their variant and values by how they are described, so that what is added is
// met by itself.
#include "model/documents.h"
#include <array>

namespace vicinal::test {

class Dice {
public:
    explicit Dice(std::uint64_t seed) : m_engine(seed) {}
    double in(double a, double b) { return a + (b - a) * double(m_engine() >> 11) * 0x1p-53; }
    int of(int n) { return int(m_engine() % std::uint64_t(n)); }
    bool one(int n) { return of(n) == 0; }
    /// Any alternative of a variant, as it is at first.
    template<class Variant> Variant any() {
        return alternative<Variant>(size_t(of(int(std::variant_size_v<Variant>))));
    }

private:
    std::mt19937_64 m_engine;
};

/// One in `few` of what is described otherwise than it was, within what is of use. Items are such of the document.
struct Varied : IgnoreValues {
    Dice& dice;
    const Document& d;
    int few;
    Varied(Dice& by, const Document& of, int oneIn) : dice(by), d(of), few(oneIn) {}
    bool mine() const { return dice.one(few); }
    void length(const char*, const char*, const char*, double&) const;
    void limit(const char*, const char*, const char*, std::optional<double>&) const;
    void angle(const char*, const char*, const char*, double&) const;
    void number(const char*, const char*, const char*, double&) const;
    void count(const char*, const char*, const char*, long&) const;
    void flag(const char*, const char*, const char*, bool&) const;
    void point(const char*, const char*, const char*, Vec3&) const;
    void direction(const char*, const char*, const char*, Vec3&) const;
    void turn(const char*, const char*, const char*, Vec3&) const;
    void stations(const char*, const char*, const char*, std::vector<double>&) const;
    void profile(const char*, const char*, const char*, Profile&, ProfileKind) const;
    void item(const char*, const char*, const char*, Id&, ItemKind) const;
    template<class E> void choice(const char*, const char*, const char*, E& v, ChoiceWords words) const {
        if (mine()) v = E(dice.of(int(words.size())));
    }
};

PathItem pathByChance(Dice&, const Document&);
PartItem partByChance(Dice&, const Document&);
BodyItem bodyByChance(Dice&, const Document&);
HeapItem heapByChance(Dice&, const Document&);
RunItem runByChance(Dice&, const Document&);
/// The run with one thing of it another.
void changedByChance(RunItem&, Dice&, const Document&);
/// A few of each.
Document documentByChance(std::uint64_t seed);

} // namespace vicinal::test
