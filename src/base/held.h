#pragma once
// A value whose type need not be known where it is held: who does not look into it is not compiled anew with it.

namespace vicinal {

/// Holds a T of its own: copied, compared and thrown away with it. Never empty but for one that was moved from.
/// Whoever looks into it includes T; the members are compiled once, in a .cpp of T's that includes base/held_body.h and
/// says `template class Held<T>;`.
template<class T> class Held {
public:
    Held();
    Held(const T&);
    Held(const Held&);
    Held(Held&& o) noexcept : m_value(o.m_value) { o.m_value = nullptr; }
    ~Held();
    Held& operator=(const Held&);
    Held& operator=(Held&& o) noexcept {
        T* was = m_value;
        m_value = o.m_value;
        o.m_value = was;
        return *this;
    }

    T& operator*() { return *m_value; }
    const T& operator*() const { return *m_value; }
    T* operator->() { return m_value; }
    const T* operator->() const { return m_value; }
    operator T&() { return *m_value; }
    operator const T&() const { return *m_value; }
    bool operator==(const Held&) const;
    bool operator==(const T&) const;

private:
    T* m_value;
};

} // namespace vicinal
