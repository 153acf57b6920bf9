#include "clearance/opening.h"
#include <algorithm>
#include <cmath>
#include <queue>

namespace vicinal {
namespace {

constexpr double kNone = 1e300;
constexpr int kMostLines = 1500, kMostPoints = 200;

/// A body's section in the gate.
struct Section {
    std::vector<std::array<Vec2, 2>> pieces; ///< (u, v)
};

/// What is known of a line across: half of what is free on it, and where the largest ball there is nearest to a and b.
struct Line {
    double v = 0, free = 0;
    struct Touch {
        std::uint32_t triangle = 0;
        Vec3 at; ///< (u, v, off the gate)
    };
    std::optional<std::array<Touch, 2>> touches; ///< none without two bodies, or where nothing is free
};

class Gate {
public:
    Gate(const OpeningOrder& order, double shift, const Stop* stop) : m_order(order), m_stop(stop) {
        const Vec3 along = order.footB - order.footA;
        m_normal = along.cross(order.up).normalized();
        m_origin = order.footA + shift * m_normal;
        m_middle = order.up.cross(m_normal); // square to up, towards b
        if (m_middle.dot(along) < 0) m_middle = -m_middle;
        m_width = along.dot(m_middle);
        // Floor and ceiling follow the line between the feet.
        m_level = (order.up - order.up.dot(along.normalized()) * along.normalized()).normalized();
        setAxes(m_middle);
    }

    /// Lines go the way the bodies are nearest.
    void aim() {
        const auto &a = m_order.a, &b = m_order.b;
        if (!a || !b) return;
        const Distance near = distanceBetween(treeOf(*a->body), treeOf(*b->body), relativePose(*a, *b));
        if (!near.found() || near.distance * a->size < 1e-3) return;
        Vec3 way = a->turn * (near.b - near.a);
        way -= way.dot(m_normal) * m_normal;
        if (way.norm() > tolerance::length && way.normalized().dot(m_middle) > 0.5) setAxes(way.normalized());
    }

    Opening search() {
        m_ofA = sectionOf(m_order.a);
        m_ofB = sectionOf(m_order.b);
        double low = kNone, high = -kNone;
        for (const Vec3& foot : {Vec3(Vec3::Zero()), Vec3(m_order.footB - m_order.footA)})
            for (const double h : {m_order.from, m_order.to}) {
                const double v = (foot + h * m_order.up).dot(m_v);
                low = std::min(low, v);
                high = std::max(high, v);
            }
        if (!(high > low) || !(m_width > 0)) return {};
        const double tolerance = std::max(0.005, 1e-4 * m_width);
        struct Part {
            Line low, high;
            double most;
            bool operator<(const Part& o) const { return most < o.most; }
        };
        std::priority_queue<Part> parts;
        const auto add = [&](const Line& l, const Line& h) {
            double most = (l.free + h.free + (h.v - l.v)) / 2;
            if (most > m_best + tolerance) most = std::min(most, held(l, h));
            if (most > m_best + tolerance) most = std::min(most, widest(l.v, h.v));
            if (most > m_best + tolerance) parts.push({l, h, most});
        };
        // Idea: half the free width on a line across the gate changes by no more than the line moves (Piyavskii,
        // "An algorithm for finding the absolute extremum of a function", 1972), so two lines bound what lies between;
        // section pieces that go all along a strip bound it closer. The strip that may hold the largest ball is halved
        // first, nearer to its freer side, until no bound is above what was found. Invariant: m_best is reached, no
        // strip in the queue is left out whose bound is above it.
        constexpr int kFirst = 8;
        Line before = line(low);
        for (int i = 1; i <= kFirst; ++i) {
            const Line next = line(i == kFirst ? high : low + (high - low) * i / kFirst);
            add(before, next);
            before = next;
        }
        double bound = m_best;
        for (int lines = 0; !parts.empty(); ++lines) {
            const Part p = parts.top();
            if (p.most <= m_best + tolerance) break;
            bound = p.most;
            if (lines >= kMostLines || stopped(m_stop)) break;
            parts.pop();
            bound = m_best;
            const double tall = p.high.v - p.low.v;
            const Line middle = line(std::clamp((p.low.v + p.high.v) / 2 + (p.high.free - p.low.free) / 2,
                                                p.low.v + tall / 8, p.high.v - tall / 8));
            add(p.low, middle);
            add(middle, p.high);
        }
        return {2 * m_best, 2 * std::max(tolerance, bound - m_best), m_at};
    }

private:
    void setAxes(const Vec3& u) {
        m_u = u;
        m_v = m_u.cross(m_normal);
        if (m_v.dot(m_order.up) < 0) m_v = -m_v;
    }
    Vec2 flat(const Vec3& p) const { return {(p - m_origin).dot(m_u), (p - m_origin).dot(m_v)}; }
    Vec3 lifted(double u, double v) const { return m_origin + u * m_u + v * m_v; }

    Section sectionOf(const PosedBody* s) const {
        Section out;
        if (!s) return out;
        const Mesh& m = *s->body->mesh;
        std::vector<double> height(m.points.size());
        std::vector<Vec3> points(m.points.size());
        for (size_t i = 0; i < points.size(); ++i) {
            points[i] = s->turn * m.points[i] + s->at;
            height[i] = (points[i] - m_origin).dot(m_normal);
            if (height[i] == 0) height[i] = tolerance::fine; // a corner in the plane is a little beside it
        }
        for (const auto& t : m.triangles) {
            std::array<Vec2, 2> ends;
            int n = 0;
            for (size_t k = 0; k < 3; ++k) {
                const auto i = t[k], j = t[(k + 1) % 3];
                if ((height[i] > 0) == (height[j] > 0) || n == 2) continue;
                ends[size_t(n++)] = flat(points[i] + height[i] / (height[i] - height[j]) * (points[j] - points[i]));
            }
            if (n == 2) out.pieces.push_back(ends);
        }
        return out;
    }

    /// Half of what is free between a and b at most, on all lines from v = `low` to `high`.
    double widest(double low, double high) const {
        const auto [first, last] = reach(low, high);
        // Where no piece is known to be there all along, nothing is known: a ball may reach beyond the middle lines.
        double left = m_order.a ? -kNone : first, right = m_order.b ? kNone : last;
        const auto covered = [&](const Section& of, auto&& use) {
            for (const auto& e : of.pieces) {
                const Vec2 &p = e[0].y() < e[1].y() ? e[0] : e[1], &q = e[0].y() < e[1].y() ? e[1] : e[0];
                if (p.y() > low || q.y() < high || !(q.y() > p.y())) continue;
                const auto at = [&](double v) { return p.x() + (v - p.y()) / (q.y() - p.y()) * (q.x() - p.x()); };
                use(std::min(at(low), at(high)), std::max(at(low), at(high)));
            }
        };
        covered(m_ofA, [&](double least, double most) {
            if (most <= last) left = std::max(left, least);
        });
        covered(m_ofB, [&](double least, double most) {
            if (least >= first) right = std::min(right, most);
        });
        double most = left <= -kNone || right >= kNone ? kNone : std::max(0.0, (right - left) / 2);
        // A ball that is larger than a neck is held by what is above and below it: no centre at height v is farther
        // from both surface points of a line at height w than the root of (half of what is free there)^2 + (v - w)^2.
        for (const auto& [v, half] : m_lines) {
            const double away = std::max(std::abs(low - v), std::abs(high - v));
            if (away < most) most = std::min(most, std::sqrt(half * half + away * away));
        }
        return most;
    }

    /// Half of what is free at most on all lines between two whose balls touch the same two triangles: what is straight
    /// from touch to touch is on the bodies, so every ball between stays clear of it. With x along u from a's touch, w
    /// from touch to touch, and A and B the touches' distances square to u, a ball's radius is at most
    /// min(sqrt(x^2 + A^2), sqrt((w - x)^2 + B^2)), which grows with w, A and B; A^2 and B^2 are convex along the
    /// straight, w is linear: all are largest at an end.
    double held(const Line& l, const Line& h) const {
        if (!l.touches || !h.touches) return kNone;
        double wide = 0, beforeA = 0, behindB = 0, offA = 0, offB = 0;
        const auto [first, last] = reach(l.v, h.v);
        for (const Line* e : {&l, &h}) {
            const auto& [a, b] = *e->touches;
            if (a.triangle != (*l.touches)[0].triangle || b.triangle != (*l.touches)[1].triangle) return kNone;
            wide = std::max(wide, b.at.x() - a.at.x());
            beforeA = std::max(beforeA, a.at.x() - first);
            behindB = std::max(behindB, last - b.at.x());
            offA = std::max(offA, Vec2(a.at.y() - e->v, a.at.z()).squaredNorm());
            offB = std::max(offB, Vec2(b.at.y() - e->v, b.at.z()).squaredNorm());
        }
        if (!(wide > 0)) return kNone;
        const double x = std::clamp((wide * wide + offB - offA) / (2 * wide), 0.0, wide);
        const double between = std::min(x * x + offA, (wide - x) * (wide - x) + offB);
        return std::sqrt(std::max({between, beforeA * beforeA + offA, behindB * behindB + offB}));
    }

    /// From the middle line of a to that of b, on any of these lines.
    std::pair<double, double> reach(double low, double high) const {
        // u m_u.m_middle + v m_v.m_middle from 0 to m_width.
        const double c = m_u.dot(m_middle), s = m_v.dot(m_middle);
        return {std::min(-low * s, -high * s) / c, (m_width - std::min(low * s, high * s)) / c};
    }

    /// How far a point is from all of it.
    double away(const Vec3& p, double most) {
        double least = std::min({most, m_level.dot(p - m_origin - m_order.from * m_order.up),
                                 m_level.dot(m_origin + m_order.to * m_order.up - p)});
        if (!m_order.a) least = std::min(least, m_middle.dot(p - m_origin));
        if (!m_order.b) least = std::min(least, m_width - m_middle.dot(p - m_origin));
        const auto ask = [&](const PosedBody* s) {
            if (!s || least <= 0) return;
            const Vec3 own = s->turn.transpose() * (p - s->at) / (s->size * s->size);
            if (treeOf(*s->body).nodes()[0].box.exteriorDistance(own) * s->size >= least) return;
            least = std::min(least, treeOf(*s->body).nearest(own, least / s->size).distance * s->size);
        };
        ask(m_order.a);
        ask(m_order.b);
        for (const PosedBody* s : m_order.more) ask(s);
        return least;
    }

    /// The largest radius on a line across, from a to b.
    Line line(double v) {
        Line out{v, 0, {}};
        const auto centre = largestOn(v, out.free);
        if (!centre || !m_order.a || !m_order.b) return out;
        const auto touch = [&](const PosedBody& s) {
            const auto near = treeOf(*s.body).nearest(s.turn.transpose() * (*centre - s.at) / (s.size * s.size));
            const Vec3 at = s.turn * near.at + s.at;
            return Line::Touch{near.triangle,
                               {(at - m_origin).dot(m_u), (at - m_origin).dot(m_v), (at - m_origin).dot(m_normal)}};
        };
        out.touches = {touch(*m_order.a), touch(*m_order.b)};
        return out;
    }

    /// Its centre, if anything is free.
    std::optional<Vec3> largestOn(double v, double& best) {
        std::optional<Vec3> centre;
        auto [first, last] = reach(v, v);
        std::vector<std::pair<double, const PosedBody*>> met; // where the line goes in and out
        const auto hits = [&](const PosedBody* s) {
            if (!s) return;
            const Mat3 back = RelativePose{s->turn, s->at, s->size}.inverse().turn;
            std::vector<MeshHit> all;
            treeOf(*s->body).hits(back * (lifted(0, v) - s->at), back * m_u, all);
            for (const auto& h : all)
                if (h.distance > first && h.distance < last) met.emplace_back(h.distance, s);
        };
        hits(m_order.a);
        hits(m_order.b);
        const double from = first, to = last;
        bool stopA = !m_order.a, stopB = !m_order.b; // a wall is met everywhere
        for (const auto& [u, s] : met)
            if (s == m_order.a) first = std::max(first, u), stopA = true;
        for (const auto& [u, s] : met)
            if (s == m_order.b && u > first) last = std::min(last, u), stopB = true;
        if (stopA && stopB) m_lines.emplace_back(v, std::max({(last - first) / 2, first - from, to - last}));
        if (!(last > first)) return centre;
        met.clear();
        for (const PosedBody* s : m_order.more) hits(s);
        std::vector<double> ends{first, last};
        for (const auto& [u, s] : met) ends.push_back(u);
        std::sort(ends.begin(), ends.end());
        for (size_t i = 0; i + 1 < ends.size(); ++i) {
            if (ends[i + 1] - ends[i] <= 2 * best) continue;
            const Vec3 middle = lifted((ends[i] + ends[i + 1]) / 2, v);
            const auto within = [&](const PosedBody* s) {
                return inside(treeOf(*s->body), s->turn.transpose() * (middle - s->at) / (s->size * s->size));
            };
            if (!met.empty() && std::any_of(m_order.more.begin(), m_order.more.end(), within)) continue;
            between(ends[i], ends[i + 1], v, best, centre);
        }
        return centre;
    }

    void between(double low, double high, double v, double& best, std::optional<Vec3>& centre) {
        struct Part {
            double low, high, atLow, atHigh;
            double most() const { return (atLow + atHigh + high - low) / 2; }
            bool operator<(const Part& o) const { return most() < o.most(); }
        };
        const auto at = [&](double u) {
            const Vec3 p = lifted(u, v);
            const double d = std::max(0.0, away(p, kNone));
            if (d > best) {
                best = d;
                centre = p;
            }
            if (d > m_best) {
                m_best = d;
                m_at = p;
            }
            return d;
        };
        std::priority_queue<Part> parts;
        parts.push({low, high, at(low), at(high)});
        for (int i = 0; i < kMostPoints && !parts.empty(); ++i) {
            const Part p = parts.top();
            if (p.most() <= best + 1e-4) break;
            parts.pop();
            const double middle = std::clamp((p.low + p.high + p.atHigh - p.atLow) / 2, p.low, p.high);
            const double d = at(middle);
            if (middle - p.low > tolerance::alike) parts.push({p.low, middle, p.atLow, d});
            if (p.high - middle > tolerance::alike) parts.push({middle, p.high, d, p.atHigh});
        }
    }

    const OpeningOrder& m_order;
    const Stop* m_stop;
    Vec3 m_origin, m_normal, m_middle, m_level, m_u, m_v;
    double m_width = 0;
    Section m_ofA, m_ofB;
    std::vector<std::pair<double, double>> m_lines; ///< asked: height, and half of what is free there
    double m_best = 0;
    Vec3 m_at = Vec3::Zero();
};

} // namespace

Opening widestOpening(const OpeningOrder& order, const Stop* stop) {
    std::optional<Opening> out;
    for (const double share : {0.0, 0.25, -0.25}) {
        Gate gate(order, share * order.thickness, stop);
        gate.aim();
        const Opening found = gate.search();
        if (!out || found.diameter < out->diameter) out = found;
        if (order.thickness <= 0 || out->diameter <= order.limit) break;
    }
    return *out;
}

} // namespace vicinal
