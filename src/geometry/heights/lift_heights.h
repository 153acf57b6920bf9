#pragma once
// How high a lifted path is over its source, by station. Only for lifted.cpp.
#include <algorithm>
#include <cmath>
#include <set>
#include <utility>
#include <vector>

namespace vicinal::lift {

inline double step(double x) { return x * x * x * (x * (6 * x - 15) + 10); }
inline double stepSlope(double x) { return 30 * x * x * (x - 1) * (x - 1); }
inline constexpr double kSteepest = 1.875; ///< of the quintic, in means

/// A stretch of the path that is to be so high at least.
struct Wish {
    double from = 0, to = 0, level = 0;
};

/// The height above the source, by station: wherever a wish asks for it so high, and down to nothing within the ease
/// beyond. What is asked for, widened by half the ease, is a stair; every jump of it becomes a quintic over the ease.
class Lift {
public:
    Lift(const std::vector<Wish>& wishes, double ease, double length, bool round) : m_ease(ease) {
        struct Edge {
            double s;
            double level;
            bool begins;
        };
        std::vector<Edge> edges;
        const auto put = [&](double from, double to, double level) {
            edges.push_back({from, level, true});
            edges.push_back({to, level, false});
        };
        for (const Wish& w : wishes) {
            if (!(w.level > 0)) continue;
            const double from = w.from - ease / 2, to = w.to + ease / 2;
            put(from, to, w.level);
            // On a closed path the stair goes on over the seam, both ways.
            for (double turn = length; round && from + turn < length + ease; turn += length)
                put(from + turn, to + turn, w.level);
            for (double turn = -length; round && to + turn > -ease; turn -= length)
                put(from + turn, to + turn, w.level);
        }
        std::sort(edges.begin(), edges.end(),
                  [](const Edge& a, const Edge& b) { return a.s != b.s ? a.s < b.s : a.begins > b.begins; });
        std::multiset<double> open;
        double now = 0;
        for (size_t k = 0; k < edges.size(); ++k) {
            if (edges[k].begins)
                open.insert(edges[k].level);
            else
                open.erase(open.find(edges[k].level));
            if (k + 1 < edges.size() && edges[k + 1].s == edges[k].s) continue;
            const double level = open.empty() ? 0 : *open.rbegin();
            if (level == now) continue;
            m_jumps.push_back({edges[k].s, level - now, level});
            now = level;
        }
    }

    double at(double s, double* slope = nullptr) const {
        // Jumps that are past by half the ease count in full, those half the ease ahead not yet.
        const auto before = std::lower_bound(m_jumps.begin(), m_jumps.end(), s - m_ease / 2,
                                             [](const Jump& j, double v) { return j.s < v; });
        double h = before == m_jumps.begin() ? 0 : (before - 1)->level;
        if (slope) *slope = 0;
        for (auto j = before; j != m_jumps.end() && j->s < s + m_ease / 2; ++j) {
            const double x = (s - j->s) / m_ease + 0.5;
            h += j->by * step(x);
            if (slope) *slope += j->by * stepSlope(x) / m_ease;
        }
        return h;
    }
    /// Stations where it begins or ends to change.
    void cuts(std::vector<double>& to) const {
        for (const Jump& j : m_jumps) to.push_back(j.s - m_ease / 2), to.push_back(j.s + m_ease / 2);
    }
    /// The steepest slope, and where.
    std::pair<double, double> steepest() const {
        std::pair<double, double> out{0, 0};
        for (const Jump& j : m_jumps)
            for (double f : {-0.25, 0.0, 0.25}) {
                double slope = 0;
                at(j.s + f * m_ease, &slope);
                if (std::abs(slope) > out.first) out = {std::abs(slope), j.s};
            }
        return out;
    }

private:
    struct Jump {
        double s, by, level; ///< `level`: behind it
    };
    double m_ease;
    std::vector<Jump> m_jumps;
};

} // namespace vicinal::lift
