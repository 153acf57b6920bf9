#include "geometry/curves/crossings.h"
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <tuple>
#include <unordered_map>

namespace vicinal {
namespace {

Vec2 inPlan(const Vec3& p) { return p.head<2>(); }

/// Parameters at which a span is cut so that no chord leaves it by more than `sag` in plan.
void chordsOf(const Span& s, double sag, std::vector<double>& out) {
    out.assign(1, 0.0);
    if (s.kind == Span::Kind::Line) {
        out.push_back(1);
        return;
    }
    const auto add = [&](auto&& self, double a, double b, int depth) -> void {
        const Vec2 pa = inPlan(s.point(a)), pb = inPlan(s.point(b)), chord = pb - pa;
        const double n2 = chord.squaredNorm();
        double away = 0;
        for (double f : {0.3, 0.7}) {
            const Vec2 d = inPlan(s.point(a + f * (b - a))) - pa;
            away = std::max(away, n2 > 0 ? (d - chord * (d.dot(chord) / n2)).norm() : d.norm());
        }
        // Flat at two places and no turn between its ends: no loop hides in it.
        const auto along = [&](double t) {
            const Vec2 d = inPlan(s.jet(t).d1);
            return d.dot(chord) > 0.5 * d.norm() * chord.norm();
        };
        if (depth > 20 || (away <= 0.8 * sag && (depth >= 2 || (along(a) && along(b))))) {
            out.push_back(b);
            return;
        }
        self(self, a, (a + b) / 2, depth + 1);
        self(self, (a + b) / 2, b, depth + 1);
    };
    add(add, 0, 1, 0);
}

/// Newton for the parameters at which two spans have the same x, y. False when it does not settle within both.
bool meet(const Span& a, const Span& b, double& ta, double& tb) {
    for (int i = 0; i < 30; ++i) {
        const Jet ja = a.jet(ta), jb = b.jet(tb);
        const Vec2 miss = inPlan(jb.p) - inPlan(ja.p), da = inPlan(ja.d1), db = inPlan(jb.d1);
        const double det = -da.x() * db.y() + db.x() * da.y();
        if (std::abs(det) < 1e-14 * da.norm() * db.norm()) return false;
        const double ua = (-miss.x() * db.y() + db.x() * miss.y()) / det;
        const double ub = (da.x() * miss.y() - miss.x() * da.y()) / det;
        ta += std::clamp(ua, -0.3, 0.3);
        tb += std::clamp(ub, -0.3, 0.3);
        if (ta < -0.5 || ta > 1.5 || tb < -0.5 || tb > 1.5) return false;
        if (std::abs(ua) * da.norm() < tolerance::fine && std::abs(ub) * db.norm() < tolerance::fine) break;
    }
    const double slack = tolerance::rounding;
    if (ta < -slack || ta > 1 + slack || tb < -slack || tb > 1 + slack) return false;
    ta = std::clamp(ta, 0.0, 1.0);
    tb = std::clamp(tb, 0.0, 1.0);
    return (inPlan(a.point(ta)) - inPlan(b.point(tb))).norm() < 1e-7;
}

struct CrossPiece {
    Vec2 p, q;
    double t0, t1;
    int span;
};

} // namespace

std::vector<Crossing> crossingsInPlan(std::span<const Span> spans, bool closed, double sag, const Stop* stop) {
    std::vector<CrossPiece> pieces;
    std::vector<double> cuts;
    double total = 0;
    for (size_t k = 0; k < spans.size(); ++k) {
        chordsOf(spans[k], sag, cuts);
        for (size_t i = 1; i < cuts.size(); ++i) {
            pieces.push_back(
                {inPlan(spans[k].point(cuts[i - 1])), inPlan(spans[k].point(cuts[i])), cuts[i - 1], cuts[i], int(k)});
            total += (pieces.back().q - pieces.back().p).norm();
        }
    }
    std::vector<Crossing> out;
    if (pieces.empty() || !(total > 0)) return out;
    // A grid about as wide as a piece is long: each cell lists the pieces whose boxes touch it.
    const double cell = std::max(2 * total / double(pieces.size()), total * 1e-5) + 2 * sag;
    for (size_t i = 0, before = pieces.size(); i < before; ++i) { // long ones would fill whole boxes of cells
        const CrossPiece x = pieces[i];
        const int parts = int(std::min(1000.0, (x.q - x.p).norm() / (8 * cell)));
        if (parts < 2 || spans[x.span].kind != Span::Kind::Line) continue;
        for (int k = 0; k < parts; ++k) {
            const double f0 = double(k) / parts, f1 = double(k + 1) / parts;
            const CrossPiece part{x.p + f0 * (x.q - x.p), x.p + f1 * (x.q - x.p), x.t0 + f0 * (x.t1 - x.t0),
                                  x.t0 + f1 * (x.t1 - x.t0), x.span};
            if (k == 0)
                pieces[i] = part;
            else
                pieces.push_back(part);
        }
    }
    std::unordered_map<std::uint64_t, std::vector<int>> grid;
    grid.reserve(pieces.size() * 2);
    std::vector<int> seen(pieces.size(), -1);
    const size_t n = spans.size();
    const auto follows = [&](int a, int b) { return b == a + 1 || (closed && a == 0 && b == int(n) - 1); };
    for (int i = 0; i < int(pieces.size()) && !stopped(stop); ++i) {
        const Vec2 lo = pieces[i].p.cwiseMin(pieces[i].q).array() - sag,
                   hi = pieces[i].p.cwiseMax(pieces[i].q).array() + sag;
        for (long cx = long(std::floor(lo.x() / cell)); cx <= long(std::floor(hi.x() / cell)); ++cx)
            for (long cy = long(std::floor(lo.y() / cell)); cy <= long(std::floor(hi.y() / cell)); ++cy) {
                auto& list = grid[std::uint64_t(cx) * 0x9e3779b97f4a7c15ull + std::uint64_t(cy)];
                for (int k : list) {
                    if (seen[k] == i) continue;
                    seen[k] = i;
                    // The pieces of a long line that was cut up come after those of later spans.
                    const CrossPiece &y = pieces[k].span <= pieces[i].span ? pieces[k] : pieces[i],
                                     &x = pieces[k].span <= pieces[i].span ? pieces[i] : pieces[k];
                    if ((pieces[k].p.cwiseMin(pieces[k].q).array() - sag > hi.array()).any() ||
                        (pieces[k].p.cwiseMax(pieces[k].q).array() + sag < lo.array()).any())
                        continue;
                    if (y.span == x.span && (spans[x.span].kind == Span::Kind::Line || y.t1 >= x.t0 - tolerance::fine))
                        continue;
                    double ta = (y.t0 + y.t1) / 2, tb = (x.t0 + x.t1) / 2;
                    if (!meet(spans[y.span], spans[x.span], ta, tb)) continue;
                    // Only in the neighbourhood of these two pieces; others find theirs.
                    const double ra = y.t1 - y.t0, rb = x.t1 - x.t0;
                    if (ta < y.t0 - ra || ta > y.t1 + ra || tb < x.t0 - rb || tb > x.t1 + rb) continue;
                    if (y.span == x.span && std::abs(ta - tb) < tolerance::alike) continue;
                    const Vec3 at = spans[y.span].point(ta);
                    if (follows(y.span, x.span)) { // their common end is no crossing
                        const bool seam = !(x.span == y.span + 1);
                        const Vec2 joint = inPlan(spans[y.span].point(seam ? 0 : 1));
                        if ((inPlan(at) - joint).norm() < tolerance::length) continue;
                        const Vec2 other = inPlan(spans[y.span].point(seam ? 1 : 0));
                        if (n == 2 && closed && (inPlan(at) - other).norm() < tolerance::length) continue;
                    }
                    out.push_back({size_t(y.span), size_t(x.span), ta, tb, at});
                }
                list.push_back(i);
            }
    }
    std::sort(out.begin(), out.end(), [](const Crossing& x, const Crossing& y) {
        return std::tie(x.a, x.b, x.ta, x.tb) < std::tie(y.a, y.b, y.ta, y.tb);
    });
    const auto same = [&](const Crossing& x, const Crossing& y) {
        return x.a == y.a && x.b == y.b && (x.at - y.at).norm() < tolerance::length;
    };
    out.erase(std::unique(out.begin(), out.end(), same), out.end());
    return out;
}

NearestSpan::NearestSpan(std::span<const Span> spans, double sag) : m_spans(spans.begin(), spans.end()), m_sag(sag) {
    std::vector<double> cuts;
    for (size_t k = 0; k < spans.size(); ++k) {
        chordsOf(spans[k], sag, cuts);
        for (size_t i = 1; i < cuts.size(); ++i) {
            const Vec3 p = spans[k].point(cuts[i - 1]), q = spans[k].point(cuts[i]);
            m_chords.push_back({p.x(), p.y(), q.x(), q.y(), cuts[i - 1], cuts[i], int(k)});
        }
    }
    m_nodes.resize(1);
    build(0, 0, int(m_chords.size()));
}

void NearestSpan::build(int node, int first, int count) {
    Node n{kFar, kFar, -kFar, -kFar, first, count};
    for (int i = first; i < first + count; ++i) {
        const Chord& c = m_chords[i];
        n.x0 = std::min({n.x0, c.x0, c.x1}), n.y0 = std::min({n.y0, c.y0, c.y1});
        n.x1 = std::max({n.x1, c.x0, c.x1}), n.y1 = std::max({n.y1, c.y0, c.y1});
    }
    if (count > 4) {
        const bool wide = n.x1 - n.x0 > n.y1 - n.y0;
        const int half = count / 2;
        std::nth_element(m_chords.begin() + first, m_chords.begin() + first + half, m_chords.begin() + first + count,
                         [wide](const Chord& a, const Chord& b) {
                             return wide ? a.x0 + a.x1 < b.x0 + b.x1 : a.y0 + a.y1 < b.y0 + b.y1;
                         });
        const int child = int(m_nodes.size());
        m_nodes.resize(m_nodes.size() + 2);
        n.first = child;
        n.count = 0;
        m_nodes[node] = n;
        build(child, first, half);
        build(child + 1, first + half, count - half);
        return;
    }
    m_nodes[node] = n;
}

double NearestSpan::distance(const Vec3& p, double limit, double enough) const {
    double best = limit; // of chords, then made exact
    const auto toBox = [&](const Node& n) {
        const double dx = std::max({n.x0 - p.x(), 0.0, p.x() - n.x1}), dy = std::max({n.y0 - p.y(), 0.0, p.y() - n.y1});
        return dx * dx + dy * dy;
    };
    const auto exact = [&](const Chord& c, double f) {
        const Span& s = m_spans[c.span];
        double t = c.t0 + f * (c.t1 - c.t0);
        if (s.kind == Span::Kind::Arc && std::abs(s.c1.z()) + std::abs(s.c2.z()) == 0) {
            const Vec2 d = inPlan(p) - inPlan(s.c0);
            t = std::clamp(std::atan2(d.dot(inPlan(s.c2)), d.dot(inPlan(s.c1))) / s.sweep, c.t0, c.t1);
            return (inPlan(s.point(t)) - inPlan(p)).norm();
        }
        for (int i = 0; i < 8 && s.kind != Span::Kind::Line; ++i) {
            const Jet j = s.jet(t);
            const Vec2 d = inPlan(j.p) - inPlan(p), d1 = inPlan(j.d1), d2 = inPlan(j.d2);
            const double slope = d.dot(d1), bend = d1.squaredNorm() + d.dot(d2);
            const double step = bend > 0 ? slope / bend : slope / std::max(d1.squaredNorm(), kTiny);
            const double next = std::clamp(t - step, c.t0, c.t1);
            if (std::abs(next - t) < 1e-13) break;
            t = next;
        }
        return (inPlan(s.point(t)) - inPlan(p)).norm();
    };
    int stack[128];
    int top = 0;
    stack[top++] = 0;
    while (top > 0) {
        const Node& n = m_nodes[stack[--top]];
        if (toBox(n) >= (best + 2 * m_sag) * (best + 2 * m_sag)) continue;
        if (n.count == 0) {
            const bool nearFirst = toBox(m_nodes[n.first]) < toBox(m_nodes[n.first + 1]);
            stack[top++] = nearFirst ? n.first + 1 : n.first;
            stack[top++] = nearFirst ? n.first : n.first + 1;
            continue;
        }
        for (int i = n.first; i < n.first + n.count; ++i) {
            const Chord& c = m_chords[i];
            const Vec2 a(c.x0, c.y0), ab = Vec2(c.x1, c.y1) - a, ap = inPlan(p) - a;
            const double n2 = ab.squaredNorm(), f = n2 > 0 ? std::clamp(ap.dot(ab) / n2, 0.0, 1.0) : 0;
            if ((ap - f * ab).squaredNorm() >= (best + 2 * m_sag) * (best + 2 * m_sag)) continue;
            if (const double d = exact(c, f); d < best) {
                best = d;
                if (best < enough) return best;
            }
        }
    }
    return best;
}

} // namespace vicinal
