#include "parts/cuts/ring_shape.h"
#include "base/numeric/solve.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal {
namespace {

Vec2 flat(const Vec3& p) { return p.head<2>(); }

/// Above zero where an arc goes round counter-clockwise.
double turnOf(const Span& s) { return s.sweep * cross(flat(s.c1), flat(s.c2)); }

/// Twice the area between a span and the origin.
double twiceArea(const Span& s) {
    if (s.kind == Span::Kind::Line) return cross(flat(s.c0), flat(s.c0 + s.c1));
    const Vec2 a = flat(s.point(0)), b = flat(s.point(1));
    if (s.kind == Span::Kind::Arc) {
        const double r2 = std::abs(cross(flat(s.c1), flat(s.c2)));
        return cross(flat(s.c0), b - a) + std::copysign(r2 * std::abs(s.sweep), turnOf(s));
    }
    double out = 0; // five points on each of 16 pieces: of degree 9 on each
    constexpr int kPieces = 16;
    const auto swept = [&](double t) {
        const Jet j = s.jet(t);
        return cross(flat(j.p), flat(j.d1));
    };
    for (int i = 0; i < kPieces; ++i) out += integral<5>(swept, double(i) / kPieces, double(i + 1) / kPieces);
    return out;
}

double angleAt(const Vec2& p, const Vec2& a, const Vec2& b) {
    return std::atan2(cross(a - p, b - p), (a - p).dot(b - p));
}

/// The parameter of an arc's point in a direction from its centre, where it has one.
std::optional<double> arcAt(const Span& s, const Vec2& direction) {
    double a = std::atan2(direction.dot(flat(s.c2)), direction.dot(flat(s.c1)));
    const double sweep = s.sweep, whole = 2 * kPi;
    if (sweep > 0 && a < 0) a += whole;
    if (sweep < 0 && a > 0) a -= whole;
    const double t = a / sweep;
    return t >= 0 && t <= 1 ? std::optional(t) : std::nullopt;
}

void offer(SpanGap& best, const Vec2& from, const Vec2& to) {
    const double d = (to - from).norm();
    if (d < best.distance) best = {d, from, to};
}

/// The parameter of the foot of p near t, by Newton.
double footNear(const Span& s, const Vec2& p, double t) {
    for (int k = 0; k < 12; ++k) {
        const Jet j = s.jet(t);
        const Vec2 e = flat(j.p) - p, d = flat(j.d1);
        const double g = std::max(d.squaredNorm() + e.dot(flat(j.d2)), d.squaredNorm() / 4);
        const double step = g > 0 ? e.dot(d) / g : 0;
        t = std::clamp(t - step, 0.0, 1.0);
        if (std::abs(step) < 1e-14) break;
    }
    return t;
}

/// The points of a span that may be nearest to p.
template<class Use> void feet(const Span& s, const Vec2& p, Use&& use) {
    use(flat(s.point(0)));
    use(flat(s.point(1)));
    if (s.kind == Span::Kind::Line) {
        const Vec2 d = flat(s.c1);
        const double t = (p - flat(s.c0)).dot(d) / std::max(d.squaredNorm(), kTiny);
        if (t > 0 && t < 1) use(Vec2(flat(s.c0) + t * d));
    } else if (s.kind == Span::Kind::Arc) {
        if (const auto t = arcAt(s, p - flat(s.c0))) use(flat(s.point(*t)));
    } else {
        constexpr int kPieces = 24; // then by Newton from the nearest
        int at = 0;
        double least = kFar;
        for (int i = 0; i <= kPieces; ++i)
            if (const double d = (flat(s.point(double(i) / kPieces)) - p).squaredNorm(); d < least) least = d, at = i;
        use(flat(s.point(footNear(s, p, double(at) / kPieces))));
    }
}

bool plain(const Span& s) { return s.kind == Span::Kind::Line || s.kind == Span::Kind::Arc; }

} // namespace

bool within(const std::vector<Vec2>& ring, const Vec2& p) {
    bool in = false;
    for (size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++)
        if ((ring[i].y() > p.y()) != (ring[j].y() > p.y()) &&
            p.x() < (ring[j].x() - ring[i].x()) * (p.y() - ring[i].y()) / (ring[j].y() - ring[i].y()) + ring[i].x())
            in = !in;
    return in;
}

RingShape::RingShape(const Ring& ring) {
    for (size_t i = 0; i < ring.size(); ++i)
        for (Span& s : spansOf(ring[i], int(i))) {
            FlatBox b;
            const Box3 all = boundsOf(s);
            b.add(flat(all.min())), b.add(flat(all.max()));
            box.add(flat(all.min())), box.add(flat(all.max()));
            boxes.push_back(b);
            area += twiceArea(s) / 2;
            spans.push_back(std::move(s));
        }
    if (spans.empty()) return;
    const Span& first = spans.front();
    circle = first.kind == Span::Kind::Arc;
    const double r = flat(first.c1).norm();
    for (const Span& s : spans)
        circle = circle && s.kind == Span::Kind::Arc && flat(s.c0 - first.c0).norm() < tolerance::rounding &&
                 std::abs(flat(s.c1).norm() - r) < tolerance::rounding;
    middle = circle ? flat(first.c0) : box.middle();
    reach = circle ? r : box.reach();
}

int RingShape::winding(const Vec2& p) const {
    if (p.x() < box.x0 || p.x() > box.x1 || p.y() < box.y0 || p.y() > box.y1) return 0;
    if (circle && (p - middle).squaredNorm() >= reach * reach) return 0;
    if (circle) return area > 0 ? 1 : -1;
    double angle = 0;
    for (const Span& s : spans) {
        const Vec2 a = flat(s.point(0)), b = flat(s.point(1));
        if (plain(s)) {
            angle += angleAt(p, a, b);
            if (s.kind == Span::Kind::Line) continue;
            // Between the arc and its chord it is seen the other way round.
            const double way = turnOf(s) > 0 ? 1 : -1;
            if ((p - flat(s.c0)).squaredNorm() < flat(s.c1).squaredNorm() && way * cross(b - a, p - a) < 0)
                angle += way * 2 * kPi;
        } else {
            constexpr int kPieces = 64;
            Vec2 last = a;
            for (int i = 1; i <= kPieces; ++i) {
                const Vec2 next = flat(s.point(double(i) / kPieces));
                angle += angleAt(p, last, next);
                last = next;
            }
        }
    }
    return int(std::lround(angle / (2 * kPi)));
}

void nearer(const Span& a, const Vec2& p, SpanGap& best) {
    feet(a, p, [&](const Vec2& q) { offer(best, q, p); });
}

void nearer(const Span& a, const Span& b, SpanGap& best) {
    const auto both = [&](const Vec2& p, const Vec2& q) { offer(best, p, q); };
    // Ends of one against the other.
    for (double t : {0.0, 1.0}) {
        const Vec2 p = flat(a.point(t)), q = flat(b.point(t));
        feet(b, p, [&](const Vec2& f) { both(p, f); });
        feet(a, q, [&](const Vec2& f) { both(f, q); });
    }
    const bool arcA = a.kind == Span::Kind::Arc, arcB = b.kind == Span::Kind::Arc;
    if (plain(a) && plain(b)) {
        if (!arcA && !arcB) return; // two lines that do not cross are nearest at an end
        if (arcA && arcB) {
            Vec2 d = flat(b.c0 - a.c0);
            if (d.norm() < tolerance::fine) return; // about one centre: the same everywhere
            for (double x : {1.0, -1.0})
                if (const auto t = arcAt(a, x * d))
                    for (double y : {1.0, -1.0})
                        if (const auto u = arcAt(b, y * d)) both(flat(a.point(*t)), flat(b.point(*u)));
            return;
        }
        const Span &line = arcA ? b : a, &arc = arcA ? a : b;
        const Vec2 d = flat(line.c1), c = flat(arc.c0);
        const double t = (c - flat(line.c0)).dot(d) / std::max(d.squaredNorm(), kTiny);
        if (t <= 0 || t >= 1) return;
        const Vec2 foot = flat(line.c0) + t * d;
        for (double x : {1.0, -1.0})
            if (const auto u = arcAt(arc, x * (foot - c))) {
                const Vec2 on = flat(arc.point(*u));
                arcA ? both(on, foot) : both(foot, on);
            }
        return;
    }
    // From the nearest of sampled pairs, each in turn the foot of the other.
    constexpr int kSamples = 24;
    std::array<Vec2, kSamples + 1> pa, pb;
    for (int i = 0; i <= kSamples; ++i) {
        pa[size_t(i)] = flat(a.point(double(i) / kSamples));
        pb[size_t(i)] = flat(b.point(double(i) / kSamples));
    }
    double least = kFar, ta = 0, tb = 0;
    for (int i = 0; i <= kSamples; ++i)
        for (int k = 0; k <= kSamples; ++k)
            if (const double d = (pa[size_t(i)] - pb[size_t(k)]).squaredNorm(); d < least)
                least = d, ta = double(i) / kSamples, tb = double(k) / kSamples;
    for (int k = 0; k < 60; ++k) {
        const double before = ta;
        tb = footNear(b, flat(a.point(ta)), tb);
        ta = footNear(a, flat(b.point(tb)), ta);
        if (std::abs(ta - before) < 1e-13) break;
    }
    both(flat(a.point(ta)), flat(b.point(tb)));
}

} // namespace vicinal
