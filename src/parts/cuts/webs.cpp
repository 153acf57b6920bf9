#include "parts/cuts/webs.h"
#include "parts/cuts/ring_shape.h"
#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace vicinal {
namespace {

/// Something that a hole may be near to, in a circle that holds it.
struct Item {
    Vec2 middle;
    double reach;
    size_t hole;      ///< or Web::kEdge
    const Span* span; ///< of the edge
};

class Nearby {
public:
    Nearby(std::vector<Item> items, double cell) : m_items(std::move(items)), m_cell(cell) {
        for (size_t i = 0; i < m_items.size(); ++i) {
            const Item& it = m_items[i];
            if (it.reach > 4 * m_cell) {
                m_large.push_back(i);
                continue;
            }
            m_reach = std::max(m_reach, it.reach);
            m_cells[key(at(it.middle.x()), at(it.middle.y()))].push_back(i);
            m_x0 = std::min(m_x0, at(it.middle.x())), m_x1 = std::max(m_x1, at(it.middle.x()));
            m_y0 = std::min(m_y0, at(it.middle.y())), m_y1 = std::max(m_y1, at(it.middle.y()));
        }
    }
    /// Hands items to `use`, which says how near anything is by now, as long as one may be nearer than that.
    template<class Use> void near(const Vec2& p, double reach, double limit, Use&& use) const {
        for (size_t i : m_large) limit = use(m_items[i]);
        const long x = at(p.x()), y = at(p.y());
        const long most = std::max({std::abs(x - m_x0), std::abs(x - m_x1), std::abs(y - m_y0), std::abs(y - m_y1)});
        for (long ring = 0; ring <= most; ++ring) {
            if ((double(ring) - 1) * m_cell - reach - m_reach > limit) break;
            const auto cell = [&](long cx, long cy) {
                const auto found = m_cells.find(key(cx, cy));
                if (found == m_cells.end()) return;
                for (size_t i : found->second) limit = use(m_items[i]);
            };
            if (ring == 0) {
                cell(x, y);
                continue;
            }
            for (long k = -ring; k <= ring; ++k) cell(x + k, y - ring), cell(x + k, y + ring);
            for (long k = -ring + 1; k < ring; ++k) cell(x - ring, y + k), cell(x + ring, y + k);
        }
    }

private:
    long at(double v) const { return long(std::floor(v / m_cell)); }
    static long long key(long x, long y) { return (long long)(x) << 32 ^ (long long)(y & 0xffffffffL); }
    std::vector<Item> m_items;
    std::vector<size_t> m_large;
    double m_cell, m_reach = 0;
    long m_x0 = 1L << 40, m_x1 = -(1L << 40), m_y0 = 1L << 40, m_y1 = -(1L << 40);
    std::unordered_map<long long, std::vector<size_t>> m_cells;
};

/// The gap between two holes, or a hole and a piece of the edge.
void gapTo(const RingShape& a, const RingShape* b, const Span* span, SpanGap& best) {
    const auto offer = [&](const Vec2& from, const Vec2& to) {
        const double d = (to - from).norm();
        if (d < best.distance) best = {d, from, to};
    };
    if (a.circle && b && b->circle) {
        const Vec2 d = b->middle - a.middle;
        const double n = d.norm();
        if (n < tolerance::fine) return;
        offer(a.middle + d * (a.reach / n), b->middle - d * (b->reach / n));
        return;
    }
    if (a.circle && span) {
        SpanGap centre;
        nearer(*span, a.middle, centre);
        const Vec2 d = centre.from - a.middle;
        if (d.norm() > tolerance::fine) offer(a.middle + d * (a.reach / d.norm()), centre.from);
        return;
    }
    const auto far = [&](const FlatBox& x, const FlatBox& y) { return !x.meets(y, best.distance); };
    for (size_t i = 0; i < a.spans.size(); ++i) {
        if (span) {
            nearer(a.spans[i], *span, best);
            continue;
        }
        if (far(a.boxes[i], b->box)) continue;
        for (size_t k = 0; k < b->spans.size(); ++k)
            if (!far(a.boxes[i], b->boxes[k])) nearer(a.spans[i], b->spans[k], best);
    }
}

} // namespace

std::vector<Web> websOf(std::span<const Ring> holes, std::span<const Ring> edge) {
    std::vector<RingShape> shapes, edges;
    std::vector<Item> items;
    FlatBox all;
    for (const Ring& r : holes) {
        shapes.emplace_back(r);
        items.push_back({shapes.back().middle, shapes.back().reach, shapes.size() - 1, nullptr});
        const Vec2 reach =
            Vec2::Constant(shapes.back().reach); // one hole, or several in a line, have no area otherwise
        all.add(shapes.back().middle - reach);
        all.add(shapes.back().middle + reach);
    }
    for (const Ring& r : edge) edges.emplace_back(r);
    for (const RingShape& e : edges)
        for (size_t k = 0; k < e.spans.size(); ++k)
            items.push_back({e.boxes[k].middle(), e.boxes[k].reach(), Web::kEdge, &e.spans[k]});
    if (shapes.empty()) return {};
    const double area = std::max((all.x1 - all.x0) * (all.y1 - all.y0), tolerance::fine);
    FlatBox whole; // with the edge: rings of cells are gone through up to the farthest of them
    for (const Item& it : items) whole.add(it.middle);
    const double wide =
        std::max({whole.x1 - whole.x0, whole.y1 - whole.y0, all.x1 - all.x0, all.y1 - all.y0, tolerance::length});
    const double cell = std::max(std::sqrt(area / double(shapes.size())), wide / 2000);
    const Nearby nearby(std::move(items), cell);
    std::vector<Web> out;
    for (size_t i = 0; i < shapes.size(); ++i) {
        const RingShape& a = shapes[i];
        SpanGap best;
        size_t other = Web::kEdge;
        nearby.near(a.middle, a.reach, kFar, [&](const Item& it) {
            if (it.hole == i) return best.distance;
            if ((it.middle - a.middle).norm() - it.reach - a.reach > best.distance) return best.distance;
            const double before = best.distance;
            gapTo(a, it.span ? nullptr : &shapes[it.hole], it.span, best);
            if (best.distance < before) other = it.hole;
            return best.distance;
        });
        if (best.distance < 1e299) out.push_back({i, other, best.distance, best.from, best.to});
    }
    std::sort(out.begin(), out.end(),
              [](const Web& a, const Web& b) { return a.width != b.width ? a.width < b.width : a.hole < b.hole; });
    return out;
}

} // namespace vicinal
