#pragma once
// Values as bytes, between this program and its reading child. Reading checks every bound: a child may have been led
// astray by its file.
#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

namespace vicinal::wire {

class Writer {
public:
    std::string bytes;
    template<class T> void value(const T& v) {
        static_assert(std::is_trivially_copyable_v<T>);
        bytes.append(reinterpret_cast<const char*>(&v), sizeof v);
    }
    void text(std::string_view s) {
        value(std::uint64_t(s.size()));
        bytes.append(s);
    }
    /// A list of plain values as one block.
    template<class T> void block(const std::vector<T>& list) {
        value(std::uint64_t(list.size()));
        bytes.append(reinterpret_cast<const char*>(list.data()), list.size() * sizeof(T));
    }
};

/// Thrown when bytes do not hold what they say.
struct Broken {};

class Reader {
public:
    explicit Reader(std::string_view bytes) : m_bytes(bytes) {}
    template<class T> T value() {
        T v;
        std::memcpy(&v, take(sizeof v), sizeof v);
        return v;
    }
    std::string text() {
        const size_t n = count(1);
        return {take(n), n};
    }
    template<class T> std::vector<T> block() {
        const size_t n = count(sizeof(T));
        std::vector<T> out(n);
        std::memcpy(static_cast<void*>(out.data()), take(n * sizeof(T)), n * sizeof(T));
        return out;
    }
    /// A length that what is left can hold, at `each` bytes at least.
    size_t count(size_t each) {
        const auto n = value<std::uint64_t>();
        if (n > (m_bytes.size() - m_at) / each) throw Broken{};
        return size_t(n);
    }
    void end() const {
        if (m_at != m_bytes.size()) throw Broken{};
    }

private:
    const char* take(size_t n) {
        if (n > m_bytes.size() - m_at) throw Broken{};
        m_at += n;
        return m_bytes.data() + m_at - n;
    }
    std::string_view m_bytes;
    size_t m_at = 0;
};

} // namespace vicinal::wire
