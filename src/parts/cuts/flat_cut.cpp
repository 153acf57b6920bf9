#include "parts/cuts/flat_cut.h"
#include "geometry/curves/crossings.h"
#include "parts/cuts/ring_shape.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

namespace vicinal {
namespace {

constexpr double kOn = 1e-7;   ///< mm; so near a curve a point is on it
constexpr double kJoin = 1e-5; ///< mm; ends of pieces that are one
constexpr double kDust = 1e-7; ///< mm; shorter pieces are none

Ring turned(Ring ring) {
    std::reverse(ring.begin(), ring.end());
    for (Segment& s : ring) s = reversed(s);
    return ring;
}

/// Boxes in squares of a grid: which of them meet.
class Grid {
public:
    Grid(const std::vector<RingShape>& all, double cell) : m_cell(cell) {
        for (size_t i = 0; i < all.size(); ++i) each(all[i].box, [&](long long key) { m_cells[key].push_back(i); });
    }
    template<class Use> void each(const FlatBox& b, Use&& use) const {
        for (long x = at(b.x0); x <= at(b.x1); ++x)
            for (long y = at(b.y0); y <= at(b.y1); ++y) use((long long)(x) << 32 ^ (long long)(y & 0xffffffffL));
    }
    /// Those after i in squares that it reaches into, each once.
    std::vector<size_t> after(size_t i, const FlatBox& b) const {
        std::vector<size_t> out;
        each(b, [&](long long key) {
            for (size_t k : m_cells.at(key))
                if (k > i) out.push_back(k);
        });
        std::sort(out.begin(), out.end());
        out.erase(std::unique(out.begin(), out.end()), out.end());
        return out;
    }

private:
    long at(double v) const { return long(std::floor(v / m_cell)); }
    double m_cell;
    std::unordered_map<long long, std::vector<size_t>> m_cells;
};

/// One ring of the general way: outlines first, then the cutters that touch something.
struct Part {
    RingShape shape;
    bool cutter;
    std::vector<std::vector<double>> cuts; ///< parameters on each of its spans
    std::vector<size_t> near;              ///< parts that it may touch
};

struct Piece {
    Segment segment;
    Vec2 from, to;
};

class General {
public:
    explicit General(std::vector<Part> parts) : m_parts(std::move(parts)) {}

    /// Where two meet; true when they cross.
    bool cross(size_t a, size_t b) {
        Part &p = m_parts[a], &q = m_parts[b];
        p.near.push_back(b);
        q.near.push_back(a);
        // Only spans that come near the other ring; a far one between the two, since neighbours do not count.
        std::vector<Span> all;
        std::vector<size_t> which;
        const auto take = [&](const RingShape& of, const FlatBox& other) {
            for (size_t s = 0; s < of.spans.size(); ++s)
                if (of.boxes[s].meets(other, kOn)) all.push_back(of.spans[s]), which.push_back(s);
        };
        take(p.shape, q.shape.box);
        const double far = std::max({std::abs(p.shape.box.x1), std::abs(q.shape.box.x1), 1.0}) * 4 + 1000;
        all.push_back(spansOf(Line{Vec3(far, far, 0), Vec3(far + 1, far, 0)}, 0).front());
        which.push_back(0);
        const size_t first = all.size();
        take(q.shape, p.shape.box);
        const double sag = std::max(p.shape.reach, q.shape.reach) / 20000;
        bool crossed = false;
        for (const Crossing& c : crossingsInPlan(all, false, sag)) {
            if (c.a + 1 >= first || c.b < first) continue;
            p.cuts[which[c.a]].push_back(c.ta);
            q.cuts[which[c.b]].push_back(c.tb);
            crossed = true;
        }
        // Where an end lies on the other ring they meet without crossing.
        meetEnds(p, q);
        meetEnds(q, p);
        return crossed;
    }

    size_t count() const { return m_parts.size(); }
    /// True when its curve meets any other one.
    bool touched(size_t i) const {
        return std::any_of(m_parts[i].cuts.begin(), m_parts[i].cuts.end(), [](const auto& c) { return !c.empty(); });
    }

    /// The pieces that bound what is left, material on the left; `skip`: parts that are dealt with.
    std::vector<Piece> pieces(const std::vector<bool>& skip) const {
        std::vector<Piece> out;
        for (size_t i = 0; i < m_parts.size(); ++i) {
            if (skip[i]) continue;
            const Part& p = m_parts[i];
            for (size_t s = 0; s < p.shape.spans.size(); ++s) {
                std::vector<double> at = p.cuts[s];
                at.push_back(0), at.push_back(1);
                std::sort(at.begin(), at.end());
                for (size_t k = 0; k + 1 < at.size(); ++k) {
                    const Span& span = p.shape.spans[s];
                    const double a = std::clamp(at[k], 0.0, 1.0), b = std::clamp(at[k + 1], 0.0, 1.0);
                    if (!(b > a) || lengthBetween(span, a, b) < kDust) continue;
                    const Jet middle = span.jet((a + b) / 2);
                    if (!stays(i, middle.p.head<2>(), middle.d1.head<2>())) continue;
                    Segment segment = segmentOf(span, a, b);
                    if (p.cutter) segment = reversed(segment);
                    const Vec3 from = startOf(segment), to = endOf(segment);
                    out.push_back({std::move(segment), from.head<2>(), to.head<2>()});
                }
            }
        }
        return out;
    }

private:
    static void meetEnds(const Part& from, Part& on) {
        for (const Span& s : from.shape.spans) {
            const Vec2 p = s.point(0).head<2>();
            for (size_t k = 0; k < on.shape.spans.size(); ++k) {
                const FlatBox& b = on.shape.boxes[k];
                if (p.x() < b.x0 - kOn || p.x() > b.x1 + kOn || p.y() < b.y0 - kOn || p.y() > b.y1 + kOn) continue;
                SpanGap gap;
                nearer(on.shape.spans[k], p, gap);
                if (gap.distance > kOn) continue;
                if (const auto t = parameterAt(on.shape.spans[k], gap.from)) on.cuts[k].push_back(*t);
            }
        }
    }
    static std::optional<double> parameterAt(const Span& s, const Vec2& p) {
        double best = kFar, at = 0;
        for (int i = 0; i <= 64; ++i) {
            double t = i / 64.0;
            for (int k = 0; k < 20; ++k) {
                const Jet j = s.jet(t);
                const Vec2 d = j.d1.head<2>();
                const double step = (j.p.head<2>() - p).dot(d) / std::max(d.squaredNorm(), kTiny);
                t = std::clamp(t - step, 0.0, 1.0);
                if (std::abs(step) < 1e-15) break;
            }
            const double off = (s.point(t).head<2>() - p).norm();
            if (off < best) best = off, at = t;
            if (best < kOn / 10) break;
        }
        return best < kOn * 10 ? std::optional(at) : std::nullopt;
    }

    /// Whether a piece of part i, by its middle and its direction there, bounds what is left.
    bool stays(size_t i, const Vec2& p, const Vec2& along) const {
        const Part& own = m_parts[i];
        bool inside = !own.cutter;
        for (size_t k : own.near) {
            const Part& other = m_parts[k];
            if (const auto same = onIt(other, p, along)) {
                if (own.cutter && !other.cutter) return false;          // the outline's own piece says it
                if (!own.cutter && other.cutter && *same) return false; // what is beside it goes
                if (own.cutter && other.cutter && (!*same || k < i)) return false;
            } else if (other.cutter && other.shape.inside(p)) {
                return false;
            }
        }
        // Any outline may lie round a cutter, however far off.
        for (size_t k = 0; own.cutter && k < m_parts.size() && !m_parts[k].cutter; ++k)
            if (m_parts[k].shape.inside(p)) inside = !inside;
        return inside;
    }
    /// Nothing when a point is not on a ring; else whether that runs the same way there.
    static std::optional<bool> onIt(const Part& other, const Vec2& p, const Vec2& along) {
        for (size_t s = 0; s < other.shape.spans.size(); ++s) {
            const FlatBox& b = other.shape.boxes[s];
            if (p.x() < b.x0 - kOn || p.x() > b.x1 + kOn || p.y() < b.y0 - kOn || p.y() > b.y1 + kOn) continue;
            SpanGap gap;
            nearer(other.shape.spans[s], p, gap);
            if (gap.distance > kOn) continue;
            if (const auto t = parameterAt(other.shape.spans[s], gap.from))
                return other.shape.spans[s].jet(*t).d1.head<2>().dot(along) > 0;
        }
        return std::nullopt;
    }

    std::vector<Part> m_parts; ///< outlines first
};

/// Pieces put end to end.
std::vector<Ring> chained(std::vector<Piece> pieces) {
    std::map<std::pair<long long, long long>, std::vector<size_t>> starts;
    const auto key = [](const Vec2& p, long dx, long dy) {
        return std::pair((long long)std::llround(p.x() / kJoin) + dx, (long long)std::llround(p.y() / kJoin) + dy);
    };
    for (size_t i = 0; i < pieces.size(); ++i) starts[key(pieces[i].from, 0, 0)].push_back(i);
    std::vector<bool> used(pieces.size(), false);
    const auto direction = [](const Segment& s, bool end) {
        const auto spans = spansOf(s, 0);
        const Vec3 t = end ? spans.back().tangent(1, false) : spans.front().tangent(0);
        return Vec2(t.head<2>());
    };
    std::vector<Ring> out;
    for (size_t first = 0; first < pieces.size(); ++first) {
        if (used[first]) continue;
        Ring ring;
        size_t at = first;
        bool whole = false;
        while (true) {
            used[at] = true;
            ring.push_back(pieces[at].segment);
            const Vec2 end = pieces[at].to;
            if ((end - pieces[first].from).norm() < kJoin && ring.size() > 0) {
                whole = true;
                break;
            }
            // Where several go on, the one that turns most to the left: outlines that touch stay apart.
            size_t next = pieces.size();
            double most = -kFar;
            const Vec2 t = direction(pieces[at].segment, true);
            for (long dx = -1; dx <= 1; ++dx)
                for (long dy = -1; dy <= 1; ++dy) {
                    const auto found = starts.find(key(end, dx, dy));
                    if (found == starts.end()) continue;
                    for (size_t i : found->second) {
                        if (used[i] || (pieces[i].from - end).norm() > kJoin) continue;
                        const Vec2 u = direction(pieces[i].segment, false);
                        const double turn = std::atan2(t.x() * u.y() - t.y() * u.x(), t.dot(u));
                        if (turn > most) most = turn, next = i;
                    }
                }
            if (next == pieces.size()) break;
            at = next;
        }
        if (whole && std::abs(RingShape(ring).area) > tolerance::rounding) out.push_back(std::move(ring));
    }
    return out;
}

/// What stays of an outline when shapes are cut out of it.
class Cutting {
public:
    Cutting(std::span<const Ring> outline, std::span<const Ring> cutters, const Stop* stop)
        : m_edge(outline.begin(), outline.end()), m_tools(cutters.begin(), cutters.end()), m_stop(stop) {}
    Result<FlatCut> make() {
        const Problem ended{"This was stopped.", ""};
        orient();
        if (!findWhatMeets()) return ended;
        sortOut();
        if (m_parts.size() == m_edges.size()) { // the outline stays as it is
            m_out.rings.insert(m_out.rings.end(), m_edge.begin(), m_edge.end());
            return std::move(m_out);
        }
        General work(std::move(m_parts));
        if (!crossAll(work)) return ended;
        const auto rings = chained(work.pieces(keepWhole(work)));
        m_out.rings.insert(m_out.rings.end(), rings.begin(), rings.end());
        const bool left =
            std::any_of(m_out.rings.begin(), m_out.rings.end(), [](const Ring& r) { return RingShape(r).area > 0; });
        if (!left) return Problem{"Nothing is left of it: the shapes swallow it whole.", "run"};
        return std::move(m_out);
    }

private:
    static constexpr size_t kNone = size_t(-1);
    static Vec2 firstOf(const RingShape& r) { return r.spans.front().point(0.37).head<2>(); }

    /// Outlines with what is solid on their left, cutters counter-clockwise.
    void orient() {
        for (const Ring& r : m_edge) m_edges.emplace_back(r);
        for (size_t i = 0; i < m_edge.size(); ++i) {
            int depth = 0;
            const Vec2 p = m_edges[i].spans.front().point(0).head<2>();
            for (size_t k = 0; k < m_edge.size(); ++k) depth += k != i && m_edges[k].inside(p);
            if ((m_edges[i].area > 0) != (depth % 2 == 0))
                m_edge[i] = turned(m_edge[i]), m_edges[i] = RingShape(m_edge[i]);
        }
        for (size_t i = 0; i < m_tools.size(); ++i) {
            m_all.emplace_back(m_tools[i]);
            if (m_all.back().area < 0) m_tools[i] = turned(m_tools[i]), m_all.back() = RingShape(m_tools[i]);
            m_largest = std::max(m_largest, m_all.back().reach);
            m_mean += m_all.back().reach / double(m_tools.size());
        }
    }
    /// Which cutters meet others or the edge; false when stopped.
    bool findWhatMeets() {
        std::vector<Span> edgeSpans;
        for (const RingShape& e : m_edges) {
            edgeSpans.insert(edgeSpans.end(), e.spans.begin(), e.spans.end());
            m_size = std::max(m_size, e.reach);
        }
        const NearestSpan nearest(edgeSpans, m_size / 2000);
        if (stopped(m_stop)) return false;

        // What touches nothing is a hole as it is, or misses.
        const Grid grid(m_all, std::max(2 * std::min(m_mean, m_largest) + tolerance::length, m_size / 2000));
        m_general.resize(m_tools.size());
        m_atEdge.resize(m_tools.size());
        for (size_t i = 0; i < m_tools.size(); ++i) {
            if (i % 256 == 0 && stopped(m_stop)) return false;
            const RingShape& a = m_all[i];
            for (size_t k : grid.after(i, a.box)) {
                const RingShape& b = m_all[k];
                const double apart = (a.middle - b.middle).norm();
                if (!a.box.meets(b.box, kOn) || apart > a.reach + b.reach + kOn) continue;
                m_met.emplace_back(i, k);
                m_general[i] = m_general[k] = true;
            }
            const double near = a.reach + kOn;
            // Chords of the edge are so far off at the most.
            if (nearest.distance(Vec3(a.middle.x(), a.middle.y(), 0), near + m_size / 1000) < near + m_size / 1000)
                m_atEdge[i] = true;
        }
        return true;
    }
    bool solidAt(const Vec2& p) const {
        int depth = 0;
        for (const RingShape& e : m_edges) depth += e.inside(p);
        return depth % 2 == 1;
    }
    /// What touches nothing is a hole as it is, or misses; of all else and the outline parts are made that may cross.
    void sortOut() {
        m_partOf.assign(m_tools.size(), kNone);
        for (size_t i = 0; i < m_edges.size(); ++i) {
            Part p{m_edges[i], false, {}, {}};
            p.cuts.resize(p.shape.spans.size());
            m_parts.push_back(std::move(p));
        }
        for (size_t i = 0; i < m_tools.size(); ++i) {
            if (m_general[i] || m_atEdge[i]) {
                m_partOf[i] = m_parts.size();
                Part p{m_all[i], true, {}, {}};
                p.cuts.resize(p.shape.spans.size());
                m_parts.push_back(std::move(p));
            } else if (solidAt(m_all[i].spans.front().point(0).head<2>())) {
                m_out.rings.push_back(turned(m_tools[i]));
                m_out.whole.push_back(i);
            } else {
                m_out.missed.push_back(i);
            }
        }
    }
    /// All crossings; which cutters lie over the edge, miss, or go together. False when stopped.
    bool crossAll(General& work) {
        for (size_t i = 0; i < m_tools.size(); ++i) {
            if (m_partOf[i] == kNone) continue;
            if (stopped(m_stop)) return false;
            bool edgeCut = false;
            for (size_t e = 0; m_atEdge[i] && e < m_edges.size(); ++e)
                if (m_edges[e].box.meets(m_all[i].box, kOn)) edgeCut = work.cross(e, m_partOf[i]) || edgeCut;
            if (edgeCut)
                m_out.overEdge.push_back(i);
            else if (!solidAt(firstOf(m_all[i])) &&
                     std::none_of(m_edges.begin(), m_edges.end(),
                                  [&](const RingShape& e) { return m_all[i].inside(firstOf(e)); }))
                m_out.missed.push_back(i);
        }
        for (const auto& [a, b] : m_met) {
            if (stopped(m_stop)) return false;
            if (work.cross(m_partOf[a], m_partOf[b]) || m_all[b].inside(firstOf(m_all[a])) ||
                m_all[a].inside(firstOf(m_all[b])))
                m_out.together.emplace_back(a, b);
        }
        std::sort(m_out.missed.begin(), m_out.missed.end());
        return true;
    }
    /// Those that touch nothing after all are holes as they are. Which parts are done with thereby.
    std::vector<bool> keepWhole(General& work) {
        std::vector<bool> alone(m_tools.size(), false);
        std::vector<bool> skip(work.count(), false);
        for (size_t i = 0; i < m_tools.size(); ++i)
            alone[i] = m_partOf[i] != kNone && !std::binary_search(m_out.missed.begin(), m_out.missed.end(), i) &&
                       !work.touched(m_partOf[i]);
        for (const auto& [a, b] : m_out.together) alone[a] = alone[b] = false;
        for (size_t i = 0; i < m_tools.size(); ++i) {
            if (!alone[i]) continue;
            if (std::any_of(m_edges.begin(), m_edges.end(),
                            [&](const RingShape& e) { return m_all[i].inside(firstOf(e)); }))
                continue; // it takes a hole or an island of the outline with it
            skip[m_partOf[i]] = true;
            m_out.rings.push_back(turned(m_tools[i]));
            m_out.whole.push_back(i);
        }
        for (size_t e = 0; e < m_edges.size(); ++e) {
            if (work.touched(e)) continue;
            const Vec2 p = firstOf(m_edges[e]);
            bool gone = false;
            for (size_t i = 0; i < m_tools.size() && !gone; ++i) gone = m_partOf[i] != kNone && m_all[i].inside(p);
            skip[e] = true;
            if (!gone) m_out.rings.push_back(m_edge[e]);
        }
        return skip;
    }

    std::vector<Ring> m_edge, m_tools;
    const Stop* m_stop;
    std::vector<RingShape> m_edges, m_all; ///< of the outline, of the cutters
    double m_size = tolerance::rounding, m_largest = 0, m_mean = 0;
    std::vector<std::pair<size_t, size_t>> m_met; ///< cutters that may
    std::vector<bool> m_general, m_atEdge;        ///< of cutters: meets another, lies at the edge
    std::vector<Part> m_parts;
    std::vector<size_t> m_partOf; ///< of each cutter, or kNone
    FlatCut m_out;
};

} // namespace

/// Idea: a region is held by its edge, solid to its left. What meets nothing stays as it is: a hole, or nothing. Of all
/// others the edges are cut where they cross; a piece of the outline stays where it is in no cutter, a piece of a
/// cutter, the other way round, where it is in the solid and in no other cutter. What stays is chained to rings, at a
/// crossing by the sharpest turn to the solid's side. Invariant: what stays has the result to its left on all its
/// length. Lines and arcs stay lines and arcs. A grid finds what meets: O(n + crossings) for holes of one size.
Result<FlatCut> cutFlat(std::span<const Ring> outline, std::span<const Ring> cutters, const Stop* stop) {
    return Cutting(outline, cutters, stop).make();
}

} // namespace vicinal
