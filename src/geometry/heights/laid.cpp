#include "geometry/heights/laid.h"
#include "base/say.h"
#include "geometry/curves/cubics.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

constexpr double kLaidFit = 1e-6; ///< mm; of cubics that stand for other curves
constexpr double kStep = 1e-3;    ///< mm; a higher jump is an upright step
constexpr size_t kMostPieces = 2'000'000;

using View = Eigen::Matrix<double, 2, 3>;

/// A stretch of the source over one plane, or over nothing.
struct LaidPiece {
    size_t span = 0;
    double t0 = 0, t1 = 1;
    bool there = false;
    Vec3 at = Vec3::Zero(), normal = Vec3::UnitZ(); ///< of the plane
};

class Laying {
public:
    Laying(const Path& path, const Ground& ground, const LayOrder& order, const Stop* stop)
        : m_path(path), m_ground(ground), m_order(order), m_stop(stop), m_d(order.along.normalized()) {
        const Vec3 x = anyNormal(m_d);
        m_view.row(0) = x;
        m_view.row(1) = m_d.cross(x);
        const MeshTree& tree = ground.tree();
        const Box3& box = tree.mesh().box;
        const View own = m_view * ground.turn();
        const Vec2 size = own.cwiseAbs() * box.sizes();
        m_cell = std::max(
            std::sqrt(size.x() * size.y() / double(std::max<size_t>(1, tree.mesh().triangles.size() / 2))), 1e-3);
    }

    Result<LaidPath> run() {
        if (m_order.points) return points();
        for (size_t i = 0; i < m_path.spans().size(); ++i) {
            if (stopped(m_stop)) return Problem{"Laying the path was stopped.", ""};
            cut(i);
            if (m_pieces.size() > kMostPieces)
                return Problem{"The path crosses more than " + say::count(kMostPieces) +
                                   " triangles. Lay a stretch of it, or a simpler surface.",
                               "body"};
        }
        if (std::none_of(m_pieces.begin(), m_pieces.end(), [](const LaidPiece& p) { return p.there; })) return missed();
        m_out.closed = m_path.closed();
        note();
        return m_order.smooth > 0 ? smooth() : exact();
    }

private:
    Problem missed() const {
        return {"Nothing of the body is over or under this path along that direction, so that it cannot be laid on it. "
                "Move one of them, or choose another body.",
                "body"};
    }
    double station(size_t span, double t) const { return stationOn(m_path.spans()[span], t); }

    /// Parameters at which a span passes over edges of triangles, and what it lies over between them.
    void cut(size_t index) {
        const Span& s = m_path.spans()[index];
        std::vector<double> cuts{0, 1};
        const int chunks = int(std::clamp(std::ceil(s.length / (4 * m_cell)), 1.0, 20'000.0));
        for (int k = 0; k < chunks; ++k) chunk(s, double(k) / chunks, double(k + 1) / chunks, 0, cuts);
        std::sort(cuts.begin(), cuts.end());
        // Cuts nearer than a picometre in a metre are one.
        size_t n = 1;
        for (size_t i = 1; i < cuts.size(); ++i)
            if (cuts[i] - cuts[n - 1] > tolerance::fine) cuts[n++] = cuts[i];
        cuts.resize(n);
        cuts.back() = 1;
        for (size_t i = 0; i + 1 < cuts.size(); ++i) {
            LaidPiece p{index, cuts[i], cuts[i + 1]};
            const auto hit = m_ground.along(s.point((p.t0 + p.t1) / 2), m_d);
            if (hit) {
                p.there = true;
                p.at = hit->at;
                p.normal = m_ground.turn() * m_ground.tree().flatNormal(hit->triangle);
                m_out.overhangs = m_out.overhangs || hit->overhangs;
                if (std::abs(p.normal.dot(m_d)) < tolerance::rounding) p.there = false; // edge-on: no plane to lie on
            }
            if (!m_pieces.empty()) {
                LaidPiece& last = m_pieces.back();
                const bool same = last.span == index && last.there == p.there &&
                                  (!p.there || ((last.normal - p.normal).norm() < 1e-10 &&
                                                std::abs((p.at - last.at).dot(last.normal)) < tolerance::rounding));
                if (same) {
                    last.t1 = p.t1;
                    continue;
                }
            }
            m_pieces.push_back(p);
        }
    }

    void chunk(const Span& s, double ta, double tb, int depth, std::vector<double>& cuts) {
        const Vec3 pa = s.point(ta), pb = s.point(tb);
        const Vec2 a = m_view * pa, b = m_view * pb;
        Vec2 low = a.cwiseMin(b), high = a.cwiseMax(b);
        if (s.kind != Span::Kind::Line) {
            // So short that it cannot cross an edge twice without being all but on it.
            double off = 0;
            for (double f : {0.25, 0.5, 0.75}) {
                const Vec2 p = m_view * s.point(ta + f * (tb - ta));
                off = std::max(off, (p - a - f * (b - a)).norm());
                low = low.cwiseMin(p);
                high = high.cwiseMax(p);
            }
            if (off > std::max(1e-4, 2e-3 * (b - a).norm()) && depth < 24) {
                chunk(s, ta, (ta + tb) / 2, depth + 1, cuts);
                chunk(s, (ta + tb) / 2, tb, depth + 1, cuts);
                return;
            }
            if (depth > 0) cuts.push_back(ta);
            low.array() -= off, high.array() += off;
        }
        m_near.clear();
        const Vec2 shift = m_view * m_ground.origin();
        const View own = m_view * m_ground.turn();
        m_ground.tree().inView(own, low - shift, high - shift, m_near);
        const Mesh& mesh = m_ground.tree().mesh();
        for (auto t : m_near)
            for (size_t k = 0; k < 3; ++k) {
                const auto i = mesh.triangles[t][k], j = mesh.triangles[t][(k + 1) % 3];
                edge(s, ta, tb, a, b, own * mesh.points[std::min(i, j)] + shift,
                     own * mesh.points[std::max(i, j)] + shift, cuts);
            }
    }

    void edge(const Span& s, double ta, double tb, const Vec2& a, const Vec2& b, const Vec2& e0, const Vec2& e1,
              std::vector<double>& cuts) const {
        const Vec2 e = e1 - e0;
        double fa = cross(e, a - e0), fb = cross(e, b - e0);
        if ((fa > 0) == (fb > 0) && fa != 0 && fb != 0) return;
        if (fa == fb) return; // along the edge
        double t = ta + fa / (fa - fb) * (tb - ta);
        if (s.kind != Span::Kind::Line) { // bracketed: false position with the Illinois rule
            double lo = ta, hi = tb;
            for (int k = 0; k < 60 && hi - lo > 1e-14; ++k) {
                t = std::clamp(lo + fa / (fa - fb) * (hi - lo), lo, hi);
                const double f = cross(e, Vec2(m_view * s.point(t)) - e0);
                if (f == 0 || std::abs(f) < 1e-13 * e.norm()) break;
                if ((f > 0) == (fa > 0)) {
                    lo = t, fa = f;
                    fb /= 2;
                } else {
                    hi = t, fb = f;
                    fa /= 2;
                }
                if (fa == fb) break;
            }
        }
        const double u = (Vec2(m_view * s.point(t)) - e0).dot(e) / e.squaredNorm();
        if (u > -tolerance::rounding && u < 1 + tolerance::rounding) cuts.push_back(t);
    }

    /// What has nothing under it.
    void note() {
        size_t first = 0, last = m_pieces.size();
        if (!m_out.closed) {
            while (!m_pieces[first].there) ++first;
            while (!m_pieces[last - 1].there) --last;
            m_out.lostAtStart = first > 0 ? station(m_pieces[first].span, m_pieces[first].t0) : 0;
            m_out.lostAtEnd =
                last < m_pieces.size() ? m_path.length() - station(m_pieces[last - 1].span, m_pieces[last - 1].t1) : 0;
        }
        m_pieces = std::vector(m_pieces.begin() + long(first), m_pieces.begin() + long(last));
        for (const LaidPiece& p : m_pieces) {
            if (p.there) continue;
            const double from = station(p.span, p.t0), to = station(p.span, p.t1);
            if (!m_out.bridged.empty() && from - m_out.bridged.back().second < tolerance::length)
                m_out.bridged.back().second = to;
            else
                m_out.bridged.emplace_back(from, to);
        }
    }

    /// How far along the direction a point of the source is from the piece's plane.
    double drop(const LaidPiece& p, const Vec3& point) const {
        return (p.at - point).dot(p.normal) / m_d.dot(p.normal) - m_order.above;
    }

    void join(const Vec3& to) {
        if (m_out.segments.empty()) return;
        const Vec3 from = endOf(m_out.segments.back());
        if ((to - from).norm() <= 1e-5) return;
        const Vec3 by = to - from;
        if (by.norm() > kStep && (by - m_d * m_d.dot(by)).norm() < 1e-4) ++m_out.upright;
        m_out.segments.push_back(Line{from, to});
    }

    Result<LaidPath> exact() {
        for (const LaidPiece& p : m_pieces) {
            if (!p.there) continue;
            const Span& s = m_path.spans()[p.span];
            const Mat3 A = Mat3::Identity() - m_d * p.normal.transpose() / m_d.dot(p.normal);
            const Vec3 t = m_d * (p.at.dot(p.normal) / m_d.dot(p.normal) - m_order.above);
            join(A * s.point(p.t0) + t);
            if (s.kind == Span::Kind::Helix || s.kind == Span::Kind::Catenary)
                addCubics(
                    p.t0, p.t1, kLaidFit,
                    [&](double u) -> std::pair<Vec3, Vec3> {
                        const Jet j = s.jet(u);
                        return {A * j.p + t, A * j.d1};
                    },
                    m_out.segments);
            else
                m_out.segments.push_back(mapped(segmentOf(s, p.t0, p.t1), A, t));
        }
        if (m_out.closed) join(startOf(m_out.segments.front()));
        return std::move(m_out);
    }

    Result<LaidPath> points() {
        std::vector<Vec3> at;
        const auto& all = m_path.segments();
        for (size_t i = 0; i <= all.size(); ++i) {
            if (i == all.size() && m_path.closed()) break;
            const Vec3 p = i < all.size() ? startOf(all[i]) : endOf(all.back());
            const auto hit = m_ground.along(p, m_d);
            if (!hit)
                return Problem{"Point " + say::count(i + 1) +
                                   " of the path has nothing of the body over or under it. Move it, or lay all of the "
                                   "path.",
                               "body"};
            m_out.overhangs = m_out.overhangs || hit->overhangs;
            at.push_back(hit->at - m_order.above * m_d);
        }
        m_out.closed = m_path.closed();
        for (size_t i = 0; i + (m_out.closed ? 0 : 1) < at.size(); ++i) {
            const Vec3& to = at[(i + 1) % at.size()];
            if ((to - at[i]).norm() > tolerance::length) m_out.segments.push_back(Line{at[i], to});
        }
        if (m_out.segments.empty()) return Problem{"All points of the path come to lie on one another.", "body"};
        return std::move(m_out);
    }

    // Smooth

    struct Knot {
        size_t span;
        double t, s;     ///< parameter, station
        double w, slope; ///< drop, and its change a mm
    };
    /// The drop at a parameter of the pieces that were found; over nothing, between what is on either side.
    double dropAt(size_t span, double t) const {
        auto it = std::upper_bound(m_pieces.begin(), m_pieces.end(), std::pair(span, t),
                                   [](const auto& v, const LaidPiece& p) { return v < std::pair(p.span, p.t0); });
        size_t i = it == m_pieces.begin() ? 0 : size_t(it - m_pieces.begin()) - 1;
        if (m_pieces[i].there) return drop(m_pieces[i], m_path.spans()[span].point(t));
        size_t a = i, b = i;
        const size_t n = m_pieces.size();
        do a = (a + n - 1) % n;
        while (!m_pieces[a].there);
        do b = (b + 1) % n;
        while (!m_pieces[b].there);
        const double from = station(m_pieces[a].span, m_pieces[a].t1), L = m_path.length();
        double to = station(m_pieces[b].span, m_pieces[b].t0), s = station(span, t);
        if (to < from) to += L;
        if (s < from) s += L;
        const double x = to > from ? std::clamp((s - from) / (to - from), 0.0, 1.0) : 0.5;
        const Vec3 pa = m_path.spans()[m_pieces[a].span].point(m_pieces[a].t1),
                   pb = m_path.spans()[m_pieces[b].span].point(m_pieces[b].t0);
        return (1 - x) * drop(m_pieces[a], pa) + x * drop(m_pieces[b], pb);
    }

    void slopes(std::vector<Knot>& k) const {
        const size_t n = k.size();
        const bool round = m_out.closed;
        const auto secant = [&](size_t i) {
            return (k[i + 1].w - k[i].w) / std::max(k[i + 1].s - k[i].s, tolerance::fine);
        };
        for (size_t i = 0; i < n; ++i) {
            const bool first = i == 0, last = i + 1 == n;
            if ((first || last) && !round) {
                k[i].slope = first ? secant(0) : secant(n - 2);
                continue;
            }
            const size_t a = first || last ? n - 2 : i - 1, b = first || last ? 0 : i;
            const double ha = k[a + 1].s - k[a].s, hb = k[b + 1].s - k[b].s;
            k[i].slope = (hb * secant(a) + ha * secant(b)) / std::max(ha + hb, tolerance::fine);
        }
    }

    Result<LaidPath> smooth() {
        // The stretch from the first to the last piece; knots at the ends of spans, more where the surface asks for it.
        std::vector<Knot> knots;
        const auto add = [&](size_t span, double t, std::vector<Knot>& to) {
            to.push_back({span, t, station(span, t), dropAt(span, t), 0});
        };
        const LaidPiece &first = m_pieces.front(), &last = m_pieces.back();
        add(first.span, first.t0, knots);
        for (size_t i = first.span; i < last.span; ++i) add(i, 1, knots);
        add(last.span, last.t1, knots);
        const auto spanOf = [&](const Knot& a) { // the span an interval that starts at `a` lies in
            return a.t >= 1 && a.span < last.span ? a.span + 1 : a.span;
        };
        struct Check {
            double off = 0, at = 0;
        };
        const auto worst = [&](const Knot& a, const Knot& b) {
            const size_t span = spanOf(a);
            const double t0 = span == a.span ? a.t : 0, t1 = b.t;
            Check out;
            const auto look = [&](double t) {
                if (t <= t0 || t >= t1) return;
                const double off = std::abs(fitted(a, b, station(span, t)) - dropAt(span, t));
                if (off > out.off) out = {off, t};
            };
            for (int i = 1; i < 8; ++i) look(t0 + (t1 - t0) * i / 8);
            auto it = std::lower_bound(m_pieces.begin(), m_pieces.end(), std::pair(span, t0),
                                       [](const LaidPiece& p, const auto& v) { return std::pair(p.span, p.t0) < v; });
            for (; it != m_pieces.end() && it->span == span && it->t0 < t1; ++it) {
                look(it->t0 - tolerance::rounding);
                look(it->t0 + tolerance::rounding);
                look((it->t0 + it->t1) / 2);
            }
            return out;
        };
        for (int round = 0; round < 40; ++round) {
            if (stopped(m_stop)) return Problem{"Laying the path was stopped.", ""};
            slopes(knots);
            std::vector<Knot> more;
            bool any = false;
            m_out.off = 0;
            for (size_t i = 0; i < knots.size(); ++i) {
                more.push_back(knots[i]);
                if (i + 1 == knots.size()) break;
                const Check c = worst(knots[i], knots[i + 1]);
                const size_t span = spanOf(knots[i]);
                if (c.off > m_out.off) m_out.off = c.off, m_out.offAt = station(span, c.at);
                if (c.off <= m_order.smooth || knots[i + 1].s - knots[i].s < 0.02) continue;
                const double t0 = span == knots[i].span ? knots[i].t : 0;
                add(span, (t0 + knots[i + 1].t) / 2, more);
                any = true;
            }
            if (!any || more.size() > 200'000) break;
            knots = std::move(more);
        }
        slopes(knots);
        const double fit = std::clamp(1e-3 * m_order.smooth, kLaidFit, 1e-3); // seen along the direction
        for (size_t i = 0; i + 1 < knots.size(); ++i) {
            const Knot &a = knots[i], &b = knots[i + 1];
            const size_t span = spanOf(a);
            const Span& s = m_path.spans()[span];
            addCubics(
                span == a.span ? a.t : 0, b.t, fit,
                [&](double t) -> std::pair<Vec3, Vec3> {
                    const Jet j = s.jet(t);
                    double change = 0;
                    const double w = fitted(a, b, station(span, t), &change);
                    return {j.p + w * m_d, j.d1 + change * s.speed(t) * m_d};
                },
                m_out.segments);
        }
        if (m_out.closed) join(startOf(m_out.segments.front()));
        return std::move(m_out);
    }
    /// The cubic between two knots, by station.
    static double fitted(const Knot& a, const Knot& b, double s, double* change = nullptr) {
        const double h = std::max(b.s - a.s, tolerance::fine), x = std::clamp((s - a.s) / h, 0.0, 1.0);
        const double c0 = a.w, c1 = a.slope * h, d = b.w - a.w;
        const double c2 = 3 * d - 2 * c1 - b.slope * h, c3 = c1 + b.slope * h - 2 * d;
        if (change) *change = (c1 + x * (2 * c2 + 3 * x * c3)) / h;
        return c0 + x * (c1 + x * (c2 + x * c3));
    }

    const Path& m_path;
    const Ground& m_ground;
    const LayOrder& m_order;
    const Stop* m_stop;
    Vec3 m_d;
    View m_view;
    double m_cell = 1;
    std::vector<LaidPiece> m_pieces;
    std::vector<std::uint32_t> m_near;
    LaidPath m_out;
};

} // namespace

Result<LaidPath> laidOn(const Path& path, const Ground& ground, const LayOrder& order, const Stop* stop) {
    if (!order.along.allFinite() || !(order.along.norm() > tolerance::rounding))
        return Problem{"The direction it is dropped along has no length: give it at least one number other than 0.",
                       "along"};
    if (!(order.smooth >= 0 && inReach(order.smooth)))
        return Problem{"Smoothing is within " + say::mm(order.smooth) + "; use 0 (exactly on the surface) or more.",
                       "smooth"};
    if (!inReach(order.above))
        return Problem{"The distance above the surface is not a number that can be used.", "above"};
    return Laying(path, ground, order, stop).run();
}

} // namespace vicinal
