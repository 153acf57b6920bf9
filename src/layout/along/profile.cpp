#include "layout/along/profile.h"
#include "base/say.h"
#include "base/vec.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

std::optional<Problem> defectOf(const Profile& p, const char* field) {
    for (size_t i = 0; i < p.keys.size(); ++i) {
        const Key& k = p.keys[i];
        if (!std::isfinite(k.at) || !std::isfinite(k.value) || std::abs(k.at) > kLargest ||
            std::abs(k.value) > kLargest)
            return Problem{"Key " + say::count(i + 1) + " is not a number that can be used. Type it again.", field};
        if (p.stretches && (k.at < 0 || k.at > 1))
            return Problem{
                "Key " + say::count(i + 1) +
                    " is beyond the path: a profile that stretches has its keys between 0 and 1 of the length.",
                field};
        if (i > 0 && !(k.at > p.keys[i - 1].at))
            return Problem{"Keys " + say::count(i) + " and " + say::count(i + 1) +
                               " stand at one station or out of order. Move one of them.",
                           field};
    }
    return std::nullopt;
}

ProfileCurve::ProfileCurve(const Profile& p, double length, bool closed, double otherwise)
    : m_value(otherwise), m_length(length), m_least(otherwise), m_most(otherwise), m_closed(closed) {
    if (p.keys.empty()) return;
    std::vector<Key> keys = p.keys;
    for (Key& k : keys)
        if (p.stretches) k.at *= length;
    m_least = m_most = m_value = keys.front().value;
    for (const Key& k : keys) m_least = std::min(m_least, k.value), m_most = std::max(m_most, k.value);
    if (m_least == m_most) return;
    if (closed) { // once more before and after, so that the seam is like any other stretch
        for (Key& k : keys) {
            k.at = std::fmod(k.at, length);
            if (k.at < 0) k.at += length;
        }
        std::stable_sort(keys.begin(), keys.end(), [](const Key& a, const Key& b) { return a.at < b.at; });
        const size_t n = keys.size();
        std::vector<Key> round;
        for (int lap : {-1, 0, 1})
            for (size_t i = 0; i < n; ++i) round.push_back({keys[i].at + lap * length, keys[i].value});
        keys = std::move(round);
    }
    const size_t n = keys.size();
    std::vector<double> slope(n, 0), chord(n, 0);
    for (size_t i = 0; i + 1 < n; ++i) {
        const double h = keys[i + 1].at - keys[i].at;
        chord[i] = h > 0 ? (keys[i + 1].value - keys[i].value) / h : 0;
    }
    if (p.smooth)
        for (size_t i = 1; i + 1 < n; ++i)
            if (chord[i - 1] * chord[i] > 0) {
                const double h0 = keys[i].at - keys[i - 1].at, h1 = keys[i + 1].at - keys[i].at;
                slope[i] = 3 * (h0 + h1) / ((2 * h1 + h0) / chord[i - 1] + (h1 + 2 * h0) / chord[i]);
            }
    const auto flat = [&](double s0, double s1, double v) {
        if (s1 > s0) m_pieces.push_back({s0, s1, {v, 0, 0, 0}});
    };
    flat(0, std::min(keys.front().at, length), keys.front().value);
    for (size_t i = 0; i + 1 < n; ++i) {
        const double a = keys[i].at, b = keys[i + 1].at, h = b - a;
        if (!(h > 0) || b <= 0 || a >= length) continue;
        const double m0 = p.smooth ? slope[i] : chord[i], m1 = p.smooth ? slope[i + 1] : chord[i];
        Piece piece{a, b, {keys[i].value, m0, (3 * chord[i] - 2 * m0 - m1) / h, (m0 + m1 - 2 * chord[i]) / (h * h)}};
        if (!p.smooth) piece.c[2] = piece.c[3] = 0;
        m_pieces.push_back(piece);
    }
    flat(std::max(0.0, keys.back().at), length, keys.back().value);
}

double ProfileCurve::at(double s) const {
    if (m_pieces.empty()) return m_value;
    if (m_closed) {
        s = std::fmod(s, m_length);
        if (s < 0) s += m_length;
    }
    auto it = std::upper_bound(m_pieces.begin(), m_pieces.end(), s, [](double v, const Piece& p) { return v < p.s0; });
    if (it != m_pieces.begin()) --it;
    return it->at(std::clamp(s, it->s0, it->s1));
}

std::vector<double> ProfileCurve::breaks() const {
    std::vector<double> out;
    for (const Piece& p : m_pieces)
        for (double s : {p.s0, p.s1})
            if (s > 0 && s < m_length && (out.empty() || s > out.back())) out.push_back(s);
    return out;
}

} // namespace vicinal
