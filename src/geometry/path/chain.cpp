#include "geometry/path/chain.h"
#include "geometry/path/span.h"
#include <algorithm>
#include <cmath>
#include <optional>
#include <unordered_map>

namespace vicinal {
namespace {

struct End {
    size_t strand;
    bool atStart;
    Vec3 p;
};

/// Ends in a grid as wide as the tolerance, those of different layers apart; neighbours are in the 27 cells around.
class EndGrid {
public:
    EndGrid(const std::vector<Strand>& strands, double tolerance, bool keepLayers)
        : m_tolerance(std::max(tolerance, tolerance::rounding)) {
        std::unordered_map<std::string, long> layers;
        for (size_t i = 0; i < strands.size(); ++i) {
            m_layer.push_back(keepLayers ? layers.emplace(strands[i].layer, long(layers.size())).first->second : 0);
            if (strands[i].closed || strands[i].segments.empty()) continue;
            add({i, true, startOf(strands[i].segments.front())});
            add({i, false, endOf(strands[i].segments.back())});
        }
    }
    /// The one other end near `p` on the same layer, not counting those that `skip` says; nothing when there is none or
    /// a choice. Stops at the second: a hundred thousand ends may lie in one point.
    template<class Skip> std::optional<End> onlyOne(const Vec3& p, size_t strand, Skip&& skip) const {
        std::optional<End> found;
        const auto c = cell(p, m_layer[strand]);
        for (long dx = -1; dx <= 1; ++dx)
            for (long dy = -1; dy <= 1; ++dy)
                for (long dz = -1; dz <= 1; ++dz) {
                    const auto it = m_cells.find({c[0] + dx, c[1] + dy, c[2] + dz, c[3]});
                    if (it == m_cells.end()) continue;
                    for (const End& e : it->second) {
                        if ((e.p - p).norm() > m_tolerance || skip(e)) continue;
                        if (found) return std::nullopt;
                        found = e;
                    }
                }
        return found;
    }

private:
    using Cell = std::array<long, 4>;
    struct Hash {
        size_t operator()(const Cell& c) const {
            std::uint64_t h = 1469598103934665603u;
            for (long v : c) h = (h ^ std::uint64_t(v)) * 1099511628211u, h ^= h >> 29;
            return size_t(h);
        }
    };
    Cell cell(const Vec3& p, long layer) const {
        const auto index = [&](double v) { return long(std::clamp(std::floor(v / m_tolerance), -9e18, 9e18)); };
        return {index(p.x()), index(p.y()), index(p.z()), layer};
    }
    void add(const End& e) { m_cells[cell(e.p, m_layer[e.strand])].push_back(e); }
    double m_tolerance;
    std::vector<long> m_layer;
    std::unordered_map<Cell, std::vector<End>, Hash> m_cells;
};

void append(Strand& to, Strand&& more) {
    if (to.segments.empty()) {
        to.segments = std::move(more.segments);
        return;
    }
    const Vec3 a = endOf(to.segments.back()), b = startOf(more.segments.front());
    if ((a - b).norm() > 1e-4) to.segments.push_back(Line{a, b});
    to.segments.insert(to.segments.end(), std::make_move_iterator(more.segments.begin()),
                       std::make_move_iterator(more.segments.end()));
}

/// Whether the two ends of a chain that lie `gap` apart are one point of a closed line: not where the chain itself is
/// no longer than what is joined, since that would lead there and back.
bool closes(const Strand& s, double gap, double tolerance) {
    if (s.segments.size() == 1 && std::holds_alternative<Line>(s.segments[0])) return false;
    double length = 0;
    for (const auto& x : s.segments)
        for (const auto& span : spansOf(x, 0)) length += span.length;
    return gap <= 1e-4 ? length > 4 * gap : length > tolerance + 2 * gap;
}

/// One round: what follows what is found first, then each chain is put together once.
std::vector<Strand> chained(std::vector<Strand> strands, double tolerance, bool keepLayers) {
    const EndGrid grid(strands, tolerance, keepLayers);
    std::vector<char> used(strands.size(), 0);
    std::vector<Strand> out;
    const auto endPoint = [&](size_t i, bool atStart) {
        return atStart ? startOf(strands[i].segments.front()) : endOf(strands[i].segments.back());
    };
    struct Link {
        size_t strand;
        bool backwards;
    };
    for (size_t i = 0; i < strands.size(); ++i) {
        if (used[i] || strands[i].segments.empty()) continue;
        used[i] = 1;
        if (strands[i].closed) {
            out.push_back(std::move(strands[i]));
            continue;
        }
        // The next one at the end of `link`: never its own other end, unless that closes it.
        const auto next = [&](const Link& link, bool atFarEnd) {
            const bool atStart = atFarEnd == link.backwards;
            return grid.onlyOne(endPoint(link.strand, atStart), link.strand, [&](const End& e) {
                if (e.strand != link.strand) return false;
                if (e.atStart == atStart) return true;
                return !closes(strands[link.strand],
                               (endPoint(link.strand, true) - endPoint(link.strand, false)).norm(), tolerance);
            });
        };
        std::vector<Link> behind{{i, false}}, before;
        bool closed = false;
        while (true) {
            const auto e = next(behind.back(), true);
            if (!e) break;
            if (e->strand == i && e->atStart) {
                closed = true;
                break;
            }
            if (used[e->strand]) break;
            used[e->strand] = 1;
            behind.push_back({e->strand, !e->atStart});
        }
        while (!closed) {
            const auto e = next(before.empty() ? behind.front() : before.back(), false);
            if (!e || used[e->strand]) break;
            used[e->strand] = 1;
            before.push_back({e->strand, e->atStart});
        }
        Strand chain;
        chain.layer = strands[i].layer;
        const auto take = [&](const Link& l) {
            append(chain, l.backwards ? reversed(std::move(strands[l.strand])) : std::move(strands[l.strand]));
        };
        const Vec3 start = endPoint(i, true);
        for (auto k = before.rbegin(); k != before.rend(); ++k) take(*k);
        for (const auto& l : behind) take(l);
        if (closed) {
            const Vec3 end = endOf(chain.segments.back());
            const double gap = (end - start).norm();
            if (closes(chain, gap, tolerance)) {
                chain.closed = true;
                if (gap > 1e-4) chain.segments.push_back(Line{end, start});
            }
        }
        out.push_back(std::move(chain));
    }
    return out;
}

} // namespace

Strand reversed(Strand s) {
    std::reverse(s.segments.begin(), s.segments.end());
    for (auto& x : s.segments) x = reversed(x);
    return s;
}

std::vector<Strand> chainByEnds(std::vector<Strand> strands, double tolerance, bool keepLayers) {
    // Ends in one point first: a short piece between two others would else see both of their ends near each of its own.
    constexpr double kSame = 1e-4;
    strands = chained(std::move(strands), std::min(tolerance, kSame), keepLayers);
    return tolerance > kSame ? chained(std::move(strands), tolerance, keepLayers) : strands;
}

} // namespace vicinal
