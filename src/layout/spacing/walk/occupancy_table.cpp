#include "layout/spacing/walk/occupancy_table.h"
#include <array>
#include <cmath>

namespace vicinal {
namespace {

/// A table larger than this is no gain; what is left is taken as it is (only wild curves come near it).
constexpr size_t kMostPieces = 400'000;

/// Chebyshev nodes of a piece and the matrix from values at them to powers of x in -1..1.
struct Fitting {
    std::array<double, OccupancyTable::kTerms> x;                                           // rising
    std::array<std::array<double, OccupancyTable::kTerms>, OccupancyTable::kTerms> toPower; // power <- node
    Fitting() {
        for (int k = 0; k < OccupancyTable::kTerms; ++k)
            x[k] = -std::cos((2 * k + 1) * kPi / (2 * OccupancyTable::kTerms));
        std::array<std::array<double, OccupancyTable::kTerms>, OccupancyTable::kTerms>
            cheb{}; // Chebyshev polynomial -> powers
        cheb[0][0] = 1;
        cheb[1][1] = 1;
        for (int n = 2; n < OccupancyTable::kTerms; ++n)
            for (int p = 0; p < OccupancyTable::kTerms; ++p)
                cheb[n][p] = (p > 0 ? 2 * cheb[n - 1][p - 1] : 0) - cheb[n - 2][p];
        for (int p = 0; p < OccupancyTable::kTerms; ++p)
            for (int k = 0; k < OccupancyTable::kTerms; ++k) {
                double sum = 0;
                for (int n = 0; n < OccupancyTable::kTerms; ++n)
                    sum += cheb[n][p] * (n == 0 ? 1.0 : 2.0) / OccupancyTable::kTerms * std::cos(n * std::acos(x[k]));
                toPower[p][k] = sum;
            }
    }
};

const Fitting& fitting() {
    static const Fitting f;
    return f;
}

class TableMaker {
public:
    TableMaker(const Occupancy& part, const Box3& box) : m_part(part), m_path(part.path()) {
        // no finer than the path's own stations
        m_allowed = tolerance::station + 1e-13 * box.sizes().maxCoeff() + 4e-15 * m_path.length();
    }

    OccupancyTable make() {
        std::vector<double> stations;
        for (const auto& c : m_path.corners()) stations.push_back(c.station);
        const auto there = m_part.at(stations);
        for (size_t i = 0; i < stations.size(); ++i) m_out.corners.emplace_back(stations[i], there[i]);
        if (m_path.closed() && !stations.empty() && stations.front() == 0)
            m_out.corners.emplace_back(m_path.length(), there.front());
        std::vector<double> breaks{0, m_path.length()};
        for (const auto& s : m_path.spans()) breaks.push_back(s.start);
        for (const auto& z : m_path.steepStretches())
            for (double s : {z.start, z.end})
                if (s > 0 && s < m_path.length()) breaks.push_back(s);
        for (double s : m_part.breaks()) breaks.push_back(s);
        std::sort(breaks.begin(), breaks.end());
        breaks.erase(std::unique(breaks.begin(), breaks.end()), breaks.end());
        size_t c = 0; // corners are always between spans
        for (size_t i = 1; i < breaks.size(); ++i) {
            double from = breaks[i - 1], to = breaks[i];
            while (c < m_out.corners.size() && m_out.corners[c].first < from - tolerance::length) ++c;
            const auto isCorner = [&](size_t k, double s) {
                return k < m_out.corners.size() && std::abs(m_out.corners[k].first - s) <= tolerance::length;
            };
            if (isCorner(c, from)) {
                from += kCornerReach;
                ++c;
            }
            const bool ends = isCorner(c, to);
            if (ends) to -= kCornerReach;
            if (to > from) m_todo.push_back({from, to, ends ? int(c) : -1});
        }
        while (!m_todo.empty()) cutAll();
        std::sort(m_out.pieces.begin(), m_out.pieces.end(), [](const auto& a, const auto& b) { return a.s0 < b.s0; });
        for (auto& piece : m_out.pieces) finish(piece);
        m_out.mean /= m_path.length();
        return std::move(m_out);
    }

private:
    struct Stretch {
        double from, to;
        int corner; ///< just behind its end
        double at(double x) const { return std::clamp((from + to + x * (to - from)) / 2, from, to); }
        bool tiny() const { return to - from < 1e-7; } ///< across a jump: half and half
    };

    /// One round: a piece over every stretch, all asked for in one sweep along the path; what does not fit is halved.
    void cutAll() {
        const auto& f = fitting();
        constexpr std::array<double, 4> checks{-0.999, -0.41, 0.27, 0.999};
        constexpr size_t each = OccupancyTable::kTerms + checks.size();
        std::array<std::pair<double, int>, each> order; // nodes and checks rising: the sweep wants that
        for (int k = 0; k < OccupancyTable::kTerms; ++k) order[size_t(k)] = {f.x[size_t(k)], k};
        for (int k = 0; k < int(checks.size()); ++k)
            order[size_t(OccupancyTable::kTerms) + size_t(k)] = {checks[size_t(k)], OccupancyTable::kTerms + k};
        std::sort(order.begin(), order.end());
        std::vector<double> stations;
        stations.reserve(m_todo.size() * each);
        for (const Stretch& t : m_todo)
            for (const auto& o : order) stations.push_back(t.at(t.tiny() ? 0 : o.first));
        const auto values = m_part.at(std::span<const double>(stations));
        std::vector<Stretch> next;
        for (size_t n = 0; n < m_todo.size(); ++n) {
            const Stretch& t = m_todo[n];
            std::array<Occupied, each> is;
            for (size_t i = 0; i < each; ++i) is[size_t(order[i].second)] = values[n * each + i];
            OccupancyTable::Piece p;
            p.s0 = t.from;
            p.s1 = t.to;
            p.perHalf = t.to > t.from ? 2 / (t.to - t.from) : 0;
            for (size_t q = 0; q < OccupancyTable::kTerms; ++q)
                for (size_t k = 0; k < OccupancyTable::kTerms; ++k) {
                    p.ahead[q] += f.toPower[q][k] * is[k].ahead;
                    p.behind[q] += f.toPower[q][k] * is[k].behind;
                }
            double miss = 0;
            for (size_t k = 0; k < checks.size(); ++k) {
                const Occupied fitted = p.at(t.at(checks[k]));
                miss = std::max({miss, std::abs(fitted.ahead - is[OccupancyTable::kTerms + k].ahead),
                                 std::abs(fitted.behind - is[OccupancyTable::kTerms + k].behind)});
            }
            if (!(miss <= m_allowed) && !t.tiny() && m_out.pieces.size() + next.size() < kMostPieces) {
                const double middle = (t.from + t.to) / 2;
                next.push_back({t.from, middle, -1});
                next.push_back({middle, t.to, t.corner});
            } else {
                p.corner = t.corner;
                m_out.pieces.push_back(p);
            }
        }
        m_todo = std::move(next);
    }

    void finish(OccupancyTable::Piece& p) {
        const double h = p.s1 - p.s0;
        double before = p.back(p.s0);
        p.backAt0 = p.backMost = before;
        constexpr int n = 8;
        for (int i = 0; i <= n; ++i) {
            const double s = p.s0 + h * i / n, back = p.back(s), total = p.at(s).total();
            if (back < before) p.rising = false;
            before = back;
            p.backMost = std::max(p.backMost, back);
            m_out.leastBehind = std::min(m_out.leastBehind, p.at(s).behind);
            m_out.mean += total * h / (n + 1);
        }
        p.backAt1 = before;
        if (!p.rising) p.backMost = std::max(p.backMost, p.s1 - p.at(p.s1).behind) + h; // never skipped unseen
    }

    const Occupancy& m_part;
    const Path& m_path;
    double m_allowed;
    std::vector<Stretch> m_todo;
    OccupancyTable m_out;
};

} // namespace

OccupancyTable tableOf(const Occupancy& part, const Box3& box) { return TableMaker(part, box).make(); }

} // namespace vicinal
