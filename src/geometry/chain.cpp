#include "geometry/chain.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace vicinal {
namespace {

struct End {
    size_t strand;
    bool atStart;
    Vec3 p;
};

/// Ends in a grid as wide as the tolerance; neighbours are in the 27 cells around.
class EndGrid {
public:
    EndGrid(const std::vector<Strand>& strands, double tolerance) : m_tolerance(std::max(tolerance, 1e-9)) {
        for (size_t i = 0; i < strands.size(); ++i) {
            if (strands[i].closed || strands[i].segments.empty()) continue;
            add({i, true, startOf(strands[i].segments.front())});
            add({i, false, endOf(strands[i].segments.back())});
        }
    }
    std::vector<End> near(const Vec3& p) const {
        std::vector<End> out;
        const auto c = cell(p);
        for (long dx = -1; dx <= 1; ++dx)
            for (long dy = -1; dy <= 1; ++dy)
                for (long dz = -1; dz <= 1; ++dz) {
                    const auto it = m_cells.find({c[0] + dx, c[1] + dy, c[2] + dz});
                    if (it == m_cells.end()) continue;
                    for (const End& e : it->second)
                        if ((e.p - p).norm() <= m_tolerance) out.push_back(e);
                }
        return out;
    }

private:
    std::array<long, 3> cell(const Vec3& p) const {
        return {long(std::floor(p.x() / m_tolerance)), long(std::floor(p.y() / m_tolerance)),
                long(std::floor(p.z() / m_tolerance))};
    }
    void add(const End& e) { m_cells[cell(e.p)].push_back(e); }
    double m_tolerance;
    std::map<std::array<long, 3>, std::vector<End>> m_cells;
};

void append(Strand& to, Strand more) {
    const Vec3 a = endOf(to.segments.back()), b = startOf(more.segments.front());
    if ((a - b).norm() > 1e-4) to.segments.push_back(Line{a, b});
    to.segments.insert(to.segments.end(), more.segments.begin(), more.segments.end());
}

} // namespace

Strand reversed(Strand s) {
    std::reverse(s.segments.begin(), s.segments.end());
    for (auto& x : s.segments) x = reversed(x);
    return s;
}

std::vector<Strand> chainByEnds(std::vector<Strand> strands, double tolerance, bool keepLayers) {
    const EndGrid grid(strands, tolerance);
    std::vector<char> used(strands.size(), 0);
    std::vector<Strand> out;
    // The one strand that continues from the end `p` of strand `from`; nothing when there is none or a choice.
    const auto nextAt = [&](const Vec3& p, size_t from, bool fromStart) -> std::optional<End> {
        std::optional<End> found;
        int others = 0;
        for (const End& e : grid.near(p)) {
            if (e.strand == from && e.atStart == fromStart) continue;
            if (keepLayers && strands[e.strand].layer != strands[from].layer) continue;
            ++others;
            found = e;
        }
        return others == 1 ? found : std::nullopt;
    };
    for (size_t i = 0; i < strands.size(); ++i) {
        if (used[i] || strands[i].segments.empty()) continue;
        used[i] = 1;
        Strand chain = strands[i];
        if (!chain.closed) {
            size_t head = i, tail = i;
            bool headAtStart = true, tailAtStart = false;
            while (auto e = nextAt(endOf(chain.segments.back()), tail, tailAtStart)) {
                if (e->strand == head && e->atStart == headAtStart) {
                    const Vec3 a = endOf(chain.segments.back()), b = startOf(chain.segments.front());
                    if ((a - b).norm() > 1e-4) chain.segments.push_back(Line{a, b});
                    chain.closed = true;
                    break;
                }
                if (used[e->strand]) break;
                used[e->strand] = 1;
                append(chain, e->atStart ? strands[e->strand] : reversed(strands[e->strand]));
                tail = e->strand;
                tailAtStart = !e->atStart;
            }
            while (!chain.closed) {
                const auto e = nextAt(startOf(chain.segments.front()), head, headAtStart);
                if (!e || used[e->strand]) break;
                used[e->strand] = 1;
                Strand before = e->atStart ? reversed(strands[e->strand]) : strands[e->strand];
                append(before, std::move(chain));
                before.closed = false;
                chain = std::move(before);
                head = e->strand;
                headAtStart = !e->atStart;
            }
        }
        out.push_back(std::move(chain));
    }
    return out;
}

} // namespace vicinal
