#pragma once
// What triangles hide of edges in a picture, in closed form: the ground of seenLines (hidden.h).
#include "exchange/drawing/strands.h"
#include "geometry/mesh/mesh.h"
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <span>
#include <vector>

namespace vicinal::covers {

using Interval = std::pair<double, double>;

/// An edge in the picture: z grows towards who looks.
struct Edge {
    Vec3 a, b;
};
/// A triangle that may hide something.
struct Cover {
    Vec2 p[3];                     ///< counter-clockwise
    double zx = 0, zy = 0, z0 = 0; ///< its plane: z = zx x + zy y + z0
    double nearest = 0;            ///< largest z
    std::uint32_t body = 0;
};

/// A mesh in the picture's directions, from its own origin.
struct Turned {
    const Mesh* mesh;
    std::vector<Edge> edges;
    std::vector<Cover> covers;
    Box3 box;
    std::vector<std::vector<Interval>> hidden; ///< of each edge, by the part itself
};

/// What of a triangle hides along an edge, as shares of it; empty when nothing does. Less than `eps` deep does not
/// count: an edge is not hidden by the faces it bounds.
inline Interval hiddenBy(const Edge& e, const Cover& c, double eps) {
    const Vec2 a = e.a.head<2>(), d = e.b.head<2>() - a;
    double from = 0, to = 1;
    for (int k = 0; k < 3 && from < to; ++k) {
        const Vec2 side = c.p[(k + 1) % 3] - c.p[k];
        // Left of the side is inside.
        const double at = side.x() * (a.y() - c.p[k].y()) - side.y() * (a.x() - c.p[k].x()),
                     grows = side.x() * d.y() - side.y() * d.x();
        const double scale = tolerance::fine * (1 + side.norm() * (1 + d.norm()));
        if (std::abs(grows) <= scale) {
            if (at <= scale) return {1, 0};
            continue;
        }
        const double t = -at / grows;
        if (grows > 0)
            from = std::max(from, t);
        else
            to = std::min(to, t);
    }
    if (!(to - from > tolerance::rounding)) return {1, 0};
    // How far the triangle is before the edge.
    const double before = c.zx * a.x() + c.zy * a.y() + c.z0 - e.a.z() - eps,
                 grows = c.zx * d.x() + c.zy * d.y() - (e.b.z() - e.a.z());
    const double first = before + from * grows, last = before + to * grows;
    if (first <= 0 && last <= 0) return {1, 0};
    if (first < 0) from = -before / grows;
    if (last < 0) to = -before / grows;
    return {from, to};
}

/// Shares 0..1 that are covered, kept sorted and apart.
class Covered {
public:
    explicit Covered(std::vector<Interval> start = {}) : m_all(std::move(start)) {}
    void add(Interval i) {
        constexpr double kApart = 1e-7; // neighbouring triangles leave no gap
        i.first -= kApart;
        i.second += kApart;
        std::vector<Interval> out;
        out.reserve(m_all.size() + 1);
        for (const Interval& o : m_all) {
            if (o.second < i.first || o.first > i.second)
                out.push_back(o);
            else
                i = {std::min(o.first, i.first), std::max(o.second, i.second)};
        }
        out.insert(std::upper_bound(out.begin(), out.end(), i), i);
        m_all.swap(out);
    }
    bool whole(double from, double to) const {
        for (const Interval& o : m_all)
            if (o.first <= from && o.second >= to) return true;
        return false;
    }
    const std::vector<Interval>& all() const { return m_all; }

private:
    std::vector<Interval> m_all;
};

inline Cover coverOf(const Vec3& a, const Vec3& b, const Vec3& c, bool front, std::uint32_t body) {
    Cover out;
    out.p[0] = a.head<2>();
    out.p[1] = (front ? b : c).head<2>();
    out.p[2] = (front ? c : b).head<2>();
    const Vec3 n = (b - a).cross(c - a);
    out.zx = -n.x() / n.z();
    out.zy = -n.y() / n.z();
    out.z0 = a.z() - out.zx * a.x() - out.zy * a.y();
    out.nearest = std::max({a.z(), b.z(), c.z()});
    out.body = body;
    return out;
}

/// Edges to draw and triangles that hide, of a mesh turned by R and sized.
inline Turned turned(const Mesh& m, const MeshEdges& edges, const Mat3& R) {
    Turned out;
    out.mesh = &m;
    std::vector<Vec3> p(m.points.size());
    for (size_t i = 0; i < p.size(); ++i) {
        p[i] = R * m.points[i];
        out.box.extend(p[i]);
    }
    bool open = false;
    for (const MeshEdge& e : edges.edges) open = open || e.triangles == 1;
    std::vector<Vec3> normals(m.triangles.size());
    for (size_t t = 0; t < m.triangles.size(); ++t) {
        const auto& c = m.triangles[t];
        const Vec3 n = (p[c[1]] - p[c[0]]).cross(p[c[2]] - p[c[0]]);
        const double size = n.norm();
        normals[t] = size > 0 ? Vec3(n / size) : Vec3::Zero();
        if (std::abs(normals[t].z()) < tolerance::alike) continue; // seen from its edge
        const bool front = normals[t].z() > 0;
        if (front || open) out.covers.push_back(coverOf(p[c[0]], p[c[1]], p[c[2]], front, 0));
    }
    const double crease = std::cos(20 * kDegree);
    for (const MeshEdge& e : edges.edges) {
        bool draw = e.triangles != 2;
        if (!draw) {
            const Vec3 &a = normals[edges.triangles[e.first]], &b = normals[edges.triangles[e.first + 1]];
            // A face that is seen from its edge belongs to neither side: its neighbours decide.
            draw = a.dot(b) < crease || (a.z() > tolerance::rounding) != (b.z() > tolerance::rounding);
        }
        if (draw && (p[e.a] - p[e.b]).head<2>().norm() > tolerance::length) out.edges.push_back({p[e.a], p[e.b]});
    }
    return out;
}

/// Triangles by the squares of the picture they lie in, the nearest first.
class Grid {
public:
    explicit Grid(std::vector<Cover> covers) : m_covers(std::move(covers)) {
        std::sort(m_covers.begin(), m_covers.end(),
                  [](const Cover& a, const Cover& b) { return a.nearest > b.nearest; });
        for (const Cover& c : m_covers)
            for (const Vec2& q : c.p) m_from = m_from.cwiseMin(q), m_to = m_to.cwiseMax(q);
        if (m_covers.empty()) m_from = m_to = Vec2::Zero();
        const Vec2 size = (m_to - m_from).cwiseMax(tolerance::length);
        const double cells = std::clamp(double(m_covers.size()) * 2, 16.0, 1e6);
        m_step = std::sqrt(size.x() * size.y() / cells);
        m_step = std::max({m_step, size.x() / 4000, size.y() / 4000});
        m_nx = int(size.x() / m_step) + 1;
        m_ny = int(size.y() / m_step) + 1;
        // Counted first, so that the lists lie one behind the other.
        std::vector<std::uint32_t> counts(size_t(m_nx) * size_t(m_ny) + 1, 0);
        each([&](size_t cell, std::uint32_t) { ++counts[cell + 1]; });
        for (size_t k = 1; k < counts.size(); ++k) counts[k] += counts[k - 1];
        m_first = counts;
        m_list.resize(counts.back());
        each([&](size_t cell, std::uint32_t c) { m_list[counts[cell]++] = c; });
    }

    /// The squares that an edge crosses with its share there.
    template<class Use> void along(const Edge& e, Use&& use) const {
        const Vec2 a = e.a.head<2>(), d = e.b.head<2>() - a;
        double t = 0;
        const auto cellOf = [&](double v, double from, int n) {
            return std::clamp(int(std::floor((v - from) / m_step)), 0, n - 1);
        };
        int x = cellOf(a.x(), m_from.x(), m_nx), y = cellOf(a.y(), m_from.y(), m_ny);
        const auto next = [&](int cell, double v, double dv, double from) {
            if (std::abs(dv) < 1e-15) return kFar;
            return (from + m_step * (cell + (dv > 0 ? 1 : 0)) - v) / dv;
        };
        for (int guard = 0; guard < m_nx + m_ny + 4; ++guard) {
            const double tx = next(x, a.x(), d.x(), m_from.x()), ty = next(y, a.y(), d.y(), m_from.y());
            const bool lastX = d.x() > 0 ? x == m_nx - 1 : x == 0, lastY = d.y() > 0 ? y == m_ny - 1 : y == 0;
            const double nx = lastX ? kFar : tx, ny = lastY ? kFar : ty,
                         end = std::min({1.0, std::max(nx, t), std::max(ny, t)});
            if (!use(size_t(y) * size_t(m_nx) + size_t(x), t, end) || end >= 1) return;
            t = end;
            if (nx <= ny)
                x += d.x() > 0 ? 1 : -1;
            else
                y += d.y() > 0 ? 1 : -1;
        }
    }
    std::span<const std::uint32_t> in(size_t cell) const {
        return {m_list.data() + m_first[cell], m_first[cell + 1] - m_first[cell]};
    }
    const Cover& cover(std::uint32_t k) const { return m_covers[k]; }

private:
    template<class Use> void each(Use&& use) const {
        for (std::uint32_t k = 0; k < m_covers.size(); ++k) {
            const Cover& c = m_covers[k];
            Vec2 from = c.p[0].cwiseMin(c.p[1]).cwiseMin(c.p[2]), to = c.p[0].cwiseMax(c.p[1]).cwiseMax(c.p[2]);
            const auto cell = [&](double v, double origin, int n) {
                return std::clamp(int(std::floor((v - origin) / m_step)), 0, n - 1);
            };
            for (int y = cell(from.y(), m_from.y(), m_ny); y <= cell(to.y(), m_from.y(), m_ny); ++y)
                for (int x = cell(from.x(), m_from.x(), m_nx); x <= cell(to.x(), m_from.x(), m_nx); ++x)
                    use(size_t(y) * size_t(m_nx) + size_t(x), k);
        }
    }
    std::vector<Cover> m_covers;
    Vec2 m_from = Vec2::Constant(kFar), m_to = Vec2::Constant(-kFar);
    double m_step = 1;
    int m_nx = 1, m_ny = 1;
    std::vector<std::uint32_t> m_first, m_list;
};

/// What the triangles of a grid hide of an edge besides `start`; those of `except` are not asked.
inline std::vector<Interval> hiddenIn(const Grid& grid, const Edge& e, std::vector<Interval> start, double eps,
                                      std::int64_t except) {
    Covered covered(std::move(start));
    const double deepest = std::min(e.a.z(), e.b.z());
    grid.along(e, [&](size_t cell, double from, double to) {
        if (covered.whole(from, to)) return true;
        for (std::uint32_t k : grid.in(cell)) {
            const Cover& c = grid.cover(k);
            if (c.nearest < deepest + eps) break; // the others are farther off still
            if (std::int64_t(c.body) == except) continue;
            Interval i = hiddenBy(e, c, eps);
            // A triangle lies in several squares: each takes its own share of the edge.
            i = {std::max(i.first, from), std::min(i.second, to)};
            if (i.second - i.first > tolerance::rounding) {
                covered.add(i);
                if (covered.whole(from, to)) break;
            }
        }
        return true;
    });
    return covered.all();
}

/// The parts of 0..1 that are not covered.
inline std::vector<Interval> openOf(const std::vector<Interval>& covered) {
    std::vector<Interval> out;
    double at = 0;
    for (const Interval& i : covered) {
        if (i.first > at) out.push_back({at, std::min(1.0, i.first)});
        at = std::max(at, i.second);
    }
    if (at < 1) out.push_back({at, 1});
    return out;
}

inline void addPieces(Strands& to, const Edge& e, const std::vector<Interval>& shares, const Vec2& at, double angle) {
    const Eigen::Rotation2Dd R(angle);
    for (const Interval& i : shares) {
        const Vec3 a = e.a + i.first * (e.b - e.a), b = e.a + i.second * (e.b - e.a);
        to.add(at + R * a.head<2>(), at + R * b.head<2>());
    }
}

} // namespace vicinal::covers
