#include "model/evaluate/motion/timetable.h"
#include "base/vec.h"
#include <algorithm>
#include <cassert>
#include <cmath>

namespace vicinal {

Timetable::Timetable(const Motion& m, double speed, double low, double high, double length, bool closed,
                     const std::function<double(double)>& stationOf) {
    assert(std::abs(speed) > 0 && high >= low);
    constexpr int kPieces = 16; // of a stretch between keys: pace is straight or smooth there, its square is neither
    constexpr double kSlowest = 0.01;
    const bool sound = !defectOf(m.pace, "pace");
    const ProfileCurve pace(sound ? m.pace : Profile{}, length, closed, 1);
    std::vector<double> breaks = pace.breaks(), keys = breaks;
    if (!pace.constant()) keys.insert(keys.begin(), 0.0), keys.push_back(length);
    for (size_t i = 0; i + 1 < keys.size(); ++i)
        for (int k = 1; k < kPieces; ++k) breaks.push_back(keys[i] + (keys[i + 1] - keys[i]) * k / kPieces);
    for (double s : m.stops)
        for (double by : {-m.ramp, 0.0, m.ramp}) breaks.push_back(s + by);
    // As ways: the same station comes by once a lap.
    std::vector<double> ways{low, high};
    const double first = stationOf(low);
    for (double s : breaks) {
        double w = low + s - first;
        if (closed) w = low + std::fmod(std::fmod(s - first, length) + length, length);
        if (w > low + tolerance::length && w < high - tolerance::length) ways.push_back(w);
    }
    // Half-way between two stops that lie nearer than their ramps.
    for (size_t i = 0; i < m.stops.size() && m.stops.size() < 1000; ++i)
        for (size_t k = i + 1; k < m.stops.size(); ++k) {
            const double w = low + (m.stops[i] + m.stops[k]) / 2 - first;
            if (std::abs(m.stops[k] - m.stops[i]) < 2 * m.ramp && w > low && w < high) ways.push_back(w);
        }
    std::sort(ways.begin(), ways.end());
    ways.erase(std::unique(ways.begin(), ways.end(), [](double a, double b) { return b - a < tolerance::length; }),
               ways.end());
    const auto apart = [&](double a, double b) {
        const double d = std::abs(a - b);
        return closed ? std::min(std::fmod(d, length), length - std::fmod(d, length)) : d;
    };
    double time = 0;
    for (size_t i = 0; i < ways.size(); ++i) {
        const double s = stationOf(ways[i]);
        double square = std::pow(std::max(kSlowest, pace.at(s)), 2);
        bool stop = false;
        double near = 1;
        for (double at : m.stops) {
            const double d = apart(s, at);
            // The seam is one place, though it begins and ends a lap.
            stop = stop || (d < 2 * tolerance::length && !(closed && i + 1 == ways.size()));
            if (m.ramp > 0) near = std::min(near, d / m.ramp);
        }
        square *= near;
        const double v = std::abs(speed) * std::sqrt(square);
        if (i > 0) time += 2 * (ways[i] - ways[i - 1]) / std::max(tolerance::fine, m_stages.back().speed + v);
        m_stages.push_back({ways[i], v, time, time + (stop ? std::max(0.0, m.dwell) : 0.0)});
        time = m_stages.back().leaves;
    }
}

double Timetable::timeAt(double way) const {
    const auto next =
        std::upper_bound(m_stages.begin(), m_stages.end(), way, [](double w, const Stage& s) { return w < s.way; });
    if (next == m_stages.begin()) return m_stages.front().arrives;
    const Stage& a = *(next - 1);
    if (next == m_stages.end()) return a.leaves;
    const Stage& b = *next;
    const double x = way - a.way;
    if (x <= 0) return a.leaves;
    const double square = a.speed * a.speed + (b.speed * b.speed - a.speed * a.speed) * x / (b.way - a.way);
    return a.leaves + 2 * x / (a.speed + std::sqrt(std::max(0.0, square)));
}

double Timetable::wayAt(double time) const {
    const auto next = std::upper_bound(m_stages.begin(), m_stages.end(), time,
                                       [](double t, const Stage& s) { return t < s.arrives; });
    if (next == m_stages.begin()) return m_stages.front().way;
    const Stage& a = *(next - 1);
    if (next == m_stages.end() || time <= a.leaves) return a.way;
    const Stage& b = *next;
    const double t = time - a.leaves, faster = (b.speed * b.speed - a.speed * a.speed) / (2 * (b.way - a.way));
    return std::clamp(a.way + t * (a.speed + faster * t / 2), a.way, b.way);
}

} // namespace vicinal
