#include "layout/spacing/walk/lineup.h"
#include <algorithm>
#include <cassert>
#include <numeric>

namespace vicinal {

double chance(std::uint64_t seed, std::uint64_t place, std::uint64_t purpose) {
    const auto mix = [](std::uint64_t z) {
        z += 0x9e3779b97f4a7c15u;
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
        z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
        return z ^ (z >> 31);
    };
    return double(mix(mix(mix(seed) ^ place) ^ (purpose * 0xd1342543de82ef95u)) >> 11) * 0x1p-53;
}

std::uint16_t Pattern::slot(long i) const {
    if (weights.empty()) return order[size_t(i) % order.size()];
    const double whole = std::accumulate(weights.begin(), weights.end(), 0.0);
    double at = chance(seed, std::uint64_t(i), 1) * whole;
    for (size_t k = 0; k + 1 < weights.size(); ++k) {
        if (at < weights[k]) return std::uint16_t(k);
        at -= weights[k];
    }
    return std::uint16_t(weights.size() - 1);
}

Lineup::Lineup(std::vector<Occupancy> parts, Pattern pattern, std::vector<std::optional<double>> pins)
    : m_parts(std::move(parts)), m_slots(m_parts.size()), m_pattern(std::move(pattern)), m_pins(std::move(pins)) {
    assert(!m_parts.empty() && !m_pattern.order.empty());
}

void Lineup::setSpecial(SpecialSlots s, size_t count, size_t phases) {
    m_slots = count;
    m_special = std::move(s);
    m_phases = phases;
}

bool Lineup::stands(size_t slot) const {
    if (m_pattern.weights.empty()
            ? std::find(m_pattern.order.begin(), m_pattern.order.end(), slot) != m_pattern.order.end()
            : slot < m_pattern.weights.size())
        return true;
    const auto is = [&](const std::optional<std::uint16_t>& s) { return s && *s == slot; };
    return is(m_special.first) || is(m_special.last) || is(m_special.corner) ||
           (m_special.every > 0 && is(m_special.nth)) ||
           std::any_of(m_special.single.begin(), m_special.single.end(), [&](const auto& o) { return is(o.part); });
}

size_t Lineup::slotAt(long inPattern, long inRun, bool last, bool corner) const {
    const auto& s = m_special;
    if (!s.single.empty()) {
        const auto it = std::lower_bound(s.single.begin(), s.single.end(), inRun,
                                         [](const auto& o, long place) { return o.place < place; });
        if (it != s.single.end() && it->place == inRun && it->part) return *it->part;
    }
    if (last && s.last) return *s.last;
    if (inRun == 0 && s.first) return *s.first;
    if (corner && s.corner) return *s.corner;
    if (s.nth && s.every > 0 && inRun % s.every == 0) return *s.nth;
    return m_slots == 1 ? 0 : m_pattern.slot(inPattern);
}

size_t Lineup::indexAt(size_t slot, long inRun) const {
    const auto& all = m_special.single;
    const auto it =
        std::lower_bound(all.begin(), all.end(), inRun, [](const auto& o, long place) { return o.place < place; });
    if (it != all.end() && it->place == inRun && slot < it->as.size()) return it->as[slot];
    return slot * m_phases + size_t(inRun) % m_phases;
}

double Lineup::mean() const {
    double sum = 0, whole = 0;
    if (single()) return m_parts[0].mean();
    if (!m_pattern.weights.empty()) {
        for (size_t k = 0; k < m_slots && k < m_pattern.weights.size(); ++k)
            sum += m_pattern.weights[k] * m_parts[k * m_phases].mean(), whole += m_pattern.weights[k];
        return sum / whole;
    }
    for (auto slot : m_pattern.order) sum += m_parts[slot * m_phases].mean();
    return sum / double(m_pattern.order.size());
}

long Lineup::period() const {
    const auto& order = m_pattern.order;
    const size_t n = order.size();
    if (single() || !m_pattern.weights.empty()) return 1;
    for (size_t p = 1; p < n; ++p) {
        bool repeats = n % p == 0;
        for (size_t i = p; i < n && repeats; ++i) repeats = order[i] == order[i - p];
        if (repeats) return long(p);
    }
    return long(n);
}

} // namespace vicinal
