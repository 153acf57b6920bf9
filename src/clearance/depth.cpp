#include "clearance/depth.h"
#include <algorithm>
#include <cmath>
#include <queue>

namespace vicinal {
namespace {

using detail::cornerOf;
std::array<Vec3, 3> cornersOf(const Mesh& m, std::uint32_t t) {
    return {cornerOf(m, t, 0), cornerOf(m, t, 1), cornerOf(m, t, 2)};
}

/// One surface in the other body. All in the axes of that one: `lie` takes the surface there.
/// Idea: branch and bound over the triangles of the surface. Within one the distance to a face of the body is convex,
/// so that it lies below the plane through its corners' distances; the depth lies below the least of a few such planes,
/// and no farther than its middle's and its radius. The piece that may be deepest is halved first. Invariant: no piece
/// that was let go is deeper than what was found by more than slack(); what is still open bounds the error. Ends by a
/// ten-thousandth, or after kMostAsked questions, which is said.
class Sinking {
public:
    Sinking(const MeshTree& surface, const MeshTree& body, const RelativePose& lie, std::vector<Spared> spared,
            double enough, const Stop* stop)
        : m_surface(surface), m_body(body), m_lie(lie), m_spared(std::move(spared)), m_enough(enough), m_stop(stop) {}

    struct Found {
        double by = 0, most = 0; ///< the deepest that was found; none is deeper than `most`
        Vec3 at = Vec3::Zero(), to = Vec3::Zero();
    };
    Found run(double atLeast) {
        m_found.by = atLeast; // what is not deeper is of no use
        m_faces.assign(m_surface.mesh().points.size(), kNoFace);
        collect(0, {});
        m_asked = 0;
        while (!m_open.empty() && m_asked < kMostAsked && !stopped(m_stop)) {
            const Piece p = m_open.top();
            if (p.most <= m_found.by + slack()) break;
            m_open.pop();
            halve(p);
        }
        m_found.most = m_open.empty() ? m_found.by : std::max(m_found.by, m_open.top().most);
        return m_found;
    }

private:
    static constexpr size_t kMostAsked = 20'000;
    static constexpr std::uint32_t kNoFace = ~std::uint32_t(0);
    /// A point that was asked, with what of the body is nearest to it. What lies nearer to the point than that is on
    /// the same side of the surface as the point: most are known to be inside or outside by one that was asked before.
    struct Seen {
        Vec3 p = Vec3::Zero();
        MeshTree::Near near{Vec3::Zero(), kNoFace, -1};
        std::optional<bool> in;
    };
    struct Corner {
        Vec3 at;
        std::uint32_t face; ///< of the body, that it is nearest to
    };
    using Corners = std::array<Corner, 3>;
    struct Piece {
        Corners p;
        double most;
        bool within; ///< all of it is inside
        Seen middle;
        bool operator<(const Piece& o) const { return most < o.most; }
    };
    Seen see(const Vec3& p, const Seen& by) {
        Seen out{p, m_body.nearestFrom(p, by.near.triangle), {}};
        if ((p - by.p).norm() < by.near.distance * (1 - tolerance::rounding)) out.in = by.in;
        return out;
    }
    bool isIn(Seen& s) const {
        if (!s.in) s.in = inside(m_body, s.p);
        return *s.in;
    }
    double slack() const { return std::max({1e-5, 1e-4 * m_found.by, m_enough}); }

    /// Triangles of the surface that may be deeper than what was found. Most lie outside, and go by the box.
    void collect(std::uint32_t node, const Seen& by) {
        const auto& n = m_surface.nodes()[node];
        const Vec3 middle = m_lie.turn * n.box.center() + m_lie.at, half = n.box.sizes() / 2;
        const Vec3 wide = m_lie.turn.cwiseAbs() * half;
        if (stopped(m_stop) || !Box3(middle - wide, middle + wide).intersects(m_body.nodes()[0].box)) return;
        Seen here = see(middle, by);
        const double reach = half.norm() * m_lie.size, way = here.near.distance, most = m_found.by + slack();
        if (way + reach <= most || (reach - way <= most && !isIn(here))) return;
        const auto held = [&](const Spared& s) {
            for (int k = 0; k < 8; ++k)
                if (!s.holds(m_lie.turn * n.box.corner(Box3::CornerType(k)) + m_lie.at)) return false;
            return true;
        };
        if (std::any_of(m_spared.begin(), m_spared.end(), held)) return;
        if (n.count == 0) {
            collect(node + 1, here);
            collect(n.first, here);
            return;
        }
        for (std::uint32_t k = n.first; k < n.first + n.count; ++k) {
            const std::uint32_t t = m_surface.order()[k];
            Corners p;
            std::array<Vec3, 3> at;
            for (size_t c = 0; c < 3; ++c)
                at[c] = p[c].at = m_lie.turn * cornerOf(m_surface.mesh(), t, int(c)) + m_lie.at;
            if (spared(at) || clearedBy(at, m_found.by + slack(), here)) continue;
            for (size_t c = 0; c < 3; ++c) {
                const auto point = m_surface.mesh().triangles[t][c];
                if (m_faces[point] == kNoFace) m_faces[point] = look(p[c].at, here).near.triangle;
                p[c].face = m_faces[point];
            }
            within(p, here);
        }
    }
    /// What of a triangle is in the body's box: the rest is outside.
    void within(const Corners& p, const Seen& by) {
        std::vector<Corner> ring(p.begin(), p.end()), cut;
        const Box3& box = m_body.nodes()[0].box;
        for (int side = 0; side < 6 && ring.size() > 2; ++side) {
            const int axis = side / 2;
            const auto in = [&](const Corner& q) {
                return side % 2 ? box.max()[axis] - q.at[axis] : q.at[axis] - box.min()[axis];
            };
            cut.clear();
            for (size_t k = 0; k < ring.size(); ++k) {
                const Corner &a = ring[k], &b = ring[(k + 1) % ring.size()];
                const double u = in(a), v = in(b);
                if (u >= 0) cut.push_back(a);
                if ((u > 0 && v < 0) || (u < 0 && v > 0)) cut.push_back({a.at + u / (u - v) * (b.at - a.at), kNoFace});
            }
            ring.swap(cut);
        }
        for (Corner& c : ring)
            if (c.face == kNoFace) c.face = m_body.nearestFrom(c.at, by.near.triangle).triangle;
        for (size_t k = 2; k < ring.size(); ++k) add({ring[0], ring[k - 1], ring[k]}, by);
    }
    Seen look(const Vec3& p, const Seen& by) {
        ++m_asked;
        Seen out = see(p, by);
        if (out.near.distance > m_found.by && !spared(p) && isIn(out)) {
            m_found.by = out.near.distance;
            m_found.at = p;
            m_found.to = out.near.at;
        }
        return out;
    }
    bool spared(const Vec3& p) const {
        return std::any_of(m_spared.begin(), m_spared.end(), [&](const Spared& s) { return s.holds(p); });
    }
    /// All of it within one cylinder: it is convex.
    bool spared(const std::array<Vec3, 3>& p) const {
        return std::any_of(m_spared.begin(), m_spared.end(),
                           [&](const Spared& s) { return s.holds(p[0]) && s.holds(p[1]) && s.holds(p[2]); });
    }
    void add(const Corners& corners, const Seen& by, bool known = false) {
        const std::array<Vec3, 3> p{corners[0].at, corners[1].at, corners[2].at};
        if (spared(p)) return;
        const Vec3 middle = (p[0] + p[1] + p[2]) / 3;
        double reach = 0;
        for (const Vec3& v : p) reach = std::max(reach, (v - middle).norm());
        Seen seen = look(middle, by);
        const auto& near = seen.near;
        if (known) seen.in = true;
        double most = reach + near.distance;
        if (most <= m_found.by + slack()) return;
        const bool all = known || near.distance > reach;
        if (!isIn(seen)) {
            if (all) return;              // all of it is outside
            most = reach - near.distance; // on the way from the middle to what is inside lies the surface
            if (most <= m_found.by + slack() || !meetsSurface(p)) return;
        }
        if (clearedBy(p, m_found.by + slack(), seen)) return;
        // No farther from its surface than from any one face of it: of each the plane through the distances of the
        // corners is over the distance (which is convex), and the least of these planes over the depth.
        std::array<std::uint32_t, 4> faces{near.triangle, 0, 0, 0};
        size_t count = 1;
        for (const Corner& c : corners)
            if (std::find(faces.begin(), faces.begin() + long(count), c.face) == faces.begin() + long(count))
                faces[count++] = c.face;
        Planes over;
        for (size_t k = 0; k < count; ++k) {
            Vec3 away;
            for (int c = 0; c < 3; ++c)
                away[c] = (p[size_t(c)] - nearestOnTriangle(p[size_t(c)], cornersOf(m_body.mesh(), faces[k]))).norm();
            over.push_back(away);
        }
        // Nor deeper than under a side of the body's box, which it must come out by.
        Planes sides;
        const Box3& box = m_body.nodes()[0].box;
        for (int axis = 0; axis < 3; ++axis) {
            const Vec3 low(p[0][axis] - box.min()[axis], p[1][axis] - box.min()[axis], p[2][axis] - box.min()[axis]),
                high(box.max()[axis] - p[0][axis], box.max()[axis] - p[1][axis], box.max()[axis] - p[2][axis]);
            for (const Vec3& side : {low, high})
                if (side.minCoeff() < most) sides.push_back(side);
        }
        over.insert(over.end(), sides.begin(), sides.end());
        Vec3 at;
        most = std::min(most, highestOfLeast(over, at));
        if (most <= m_found.by + slack()) return;
        if (wherePlain(p, middle, reach + most, over)) {
            over.insert(over.end(), sides.begin(), sides.end());
            most = std::min(most, highestOfLeast(over, at));
            if (most <= m_found.by + slack()) return;
        }
        look(at.x() * p[0] + at.y() * p[1] + at.z() * p[2], seen); // likely the deepest
        if (most > m_found.by + slack()) m_open.push({corners, most, all, seen});
    }
    /// Pushed back so far into what it is the surface of, all of it that is not spared is outside the body: then no
    /// point of it is deeper.
    bool clearedBy(const std::array<Vec3, 3>& p, double way, const Seen& by) {
        const Vec3 n = (p[1] - p[0]).cross(p[2] - p[0]) * (m_lie.turn.determinant() < 0 ? -1 : 1);
        const double area = n.norm();
        if (!(area > 1e-20)) return false;
        const Vec3 push = -0.99 * way / area * n;
        std::array<Vec3, 3> back;
        for (size_t k = 0; k < 3; ++k) back[k] = p[k] + push;
        const Spared* round = nullptr;
        if (meetsSurface(back, push, &round)) return false;
        // In one piece, so one point tells of all. What is left of a triangle beside something convex may be in
        // several, but each of them has a corner of it.
        const auto out = [&](const Vec3& q) {
            ++m_asked;
            Seen there = see(q, by);
            return !isIn(there);
        };
        if (!round) return out((back[0] + back[1] + back[2]) / 3);
        return std::all_of(back.begin(), back.end(), [&](const Vec3& q) { return holds(*round, q, push) || out(q); });
    }
    /// Spared, and was before it was pushed.
    static bool holds(const Spared& s, const Vec3& q, const Vec3& push) { return s.holds(q) && s.holds(q - push); }
    /// It touches or crosses one of the body's triangles: else all of it is where its middle is. `round`: but for what
    /// lies in one that is spared, which is told.
    bool meetsSurface(const std::array<Vec3, 3>& p, const Vec3& push = Vec3::Zero(),
                      const Spared** round = nullptr) const {
        Box3 box;
        for (const Vec3& v : p) box.extend(v);
        const Mesh& mesh = m_body.mesh();
        std::vector<std::uint32_t> open{0};
        while (!open.empty()) {
            const std::uint32_t node = open.back();
            open.pop_back();
            const auto& n = m_body.nodes()[node];
            if (!n.box.intersects(box)) continue;
            if (n.count == 0) {
                open.push_back(node + 1);
                open.push_back(n.first);
                continue;
            }
            for (std::uint32_t k = n.first; k < n.first + n.count; ++k) {
                const auto other = cornersOf(mesh, m_body.order()[k]);
                if (distanceBetween(p, other).distance > tolerance::rounding) continue;
                const Spared* held = round ? heldWhereMet(p, other, push) : nullptr;
                if (!held || (*round && *round != held)) return true;
                *round = held;
            }
        }
        return false;
    }
    /// What is spared and holds all of where a triangle goes through the plane of another; null where nothing does.
    const Spared* heldWhereMet(const std::array<Vec3, 3>& plane, const std::array<Vec3, 3>& t, const Vec3& push) const {
        const Vec3 n = (plane[1] - plane[0]).cross(plane[2] - plane[0]).normalized();
        std::array<double, 3> over;
        for (size_t k = 0; k < 3; ++k) over[k] = n.dot(t[k] - plane[0]);
        for (const Spared& s : m_spared) {
            bool all = true, any = false;
            for (size_t k = 0; k < 3 && all; ++k) {
                const double u = over[k], v = over[(k + 1) % 3];
                if (std::abs(u - v) <
                    tolerance::alike * (t[k] - t[(k + 1) % 3]).norm()) { // along the plane: it counts where near
                    all = std::min(std::abs(u), std::abs(v)) > tolerance::length;
                    continue;
                }
                if ((u < 0) == (v < 0)) continue;
                any = true;
                all = holds(s, t[k] + u / (u - v) * (t[(k + 1) % 3] - t[k]), push);
            }
            if (all && any) return &s;
        }
        return nullptr;
    }
    using Planes = std::vector<Vec3>; ///< values at the corners
    /// The body may be convex round here although all of it is not: then nothing inside is deeper than under the plane
    /// of any of its faces here, also where faces lie in one plane with the triangle. Gives how deep the corners are
    /// under these (below zero: outside). False where it is not convex, or has too many faces.
    bool wherePlain(const std::array<Vec3, 3>& p, const Vec3& middle, double radius, Planes& under) const {
        constexpr size_t kMostFaces = 64, kMostPlanes = 8;
        const Mesh& mesh = m_body.mesh();
        std::vector<std::uint32_t> here, open{0};
        while (!open.empty()) {
            const std::uint32_t node = open.back();
            open.pop_back();
            const auto& n = m_body.nodes()[node];
            if (n.box.squaredExteriorDistance(middle) > radius * radius) continue;
            if (n.count == 0) {
                open.push_back(node + 1);
                open.push_back(n.first);
                continue;
            }
            for (std::uint32_t k = n.first; k < n.first + n.count; ++k) {
                const auto t = m_body.order()[k];
                if ((middle - nearestOnTriangle(middle, cornersOf(mesh, t))).norm() > radius) continue;
                if (here.size() == kMostFaces) return false;
                here.push_back(t);
            }
        }
        const double little = tolerance::rounding * m_body.nodes()[0].box.sizes().norm();
        std::vector<std::pair<Vec3, double>> planes;
        for (const auto t : here) {
            const Vec3 n = m_body.flatNormal(t);
            const double c = n.dot(cornerOf(mesh, t, 0));
            if (std::any_of(planes.begin(), planes.end(), [&](const auto& have) {
                    return (have.first - n).squaredNorm() < 1e-18 && std::abs(have.second - c) < little;
                }))
                continue;
            // Pieces of one body that lie on one another: a face inside it, with body on either side.
            if (planes.size() == kMostPlanes || std::any_of(planes.begin(), planes.end(), [&](const auto& have) {
                    return (have.first + n).squaredNorm() < tolerance::fine && std::abs(have.second + c) < little;
                }))
                return false;
            planes.emplace_back(n, c);
            for (const auto other : here)
                for (int k = 0; k < 3; ++k)
                    if (n.dot(cornerOf(mesh, other, k)) > c + little) return false;
        }
        under.clear();
        for (const auto& [n, c] : planes) under.push_back(Vec3(c - n.dot(p[0]), c - n.dot(p[1]), c - n.dot(p[2])));
        return !under.empty();
    }
    /// The highest point of the least of some planes over a triangle, exactly: it is a corner, or where two meet on an
    /// edge, or where three meet. `at`: its shares of the corners.
    static double highestOfLeast(const Planes& all, Vec3& at) {
        double best = -std::numeric_limits<double>::infinity();
        const auto tryAt = [&](Vec3 shares) {
            if (!(shares.minCoeff() >= -tolerance::fine)) return;
            // Planes that hardly differ meet anywhere: what comes out is to be a point of the triangle all the same.
            shares = shares.cwiseMax(0) / shares.cwiseMax(0).sum();
            double least = std::numeric_limits<double>::infinity();
            for (const Vec3& plane : all) least = std::min(least, plane.dot(shares));
            if (least > best) best = least, at = shares;
        };
        for (int c = 0; c < 3; ++c) tryAt(Vec3::Unit(c));
        for (size_t j = 0; j < all.size(); ++j)
            for (size_t k = j + 1; k < all.size(); ++k) {
                const Vec3 d = all[j] - all[k];
                for (int c = 0; c < 3; ++c) { // on the edge from corner c to the next
                    const int n = (c + 1) % 3;
                    const double way = d[c] - d[n];
                    if (std::abs(way) < kTiny) continue;
                    const double t = d[c] / way;
                    if (t > 0 && t < 1) tryAt((1 - t) * Vec3::Unit(c) + t * Vec3::Unit(n));
                }
                for (size_t m = k + 1; m < all.size(); ++m) {
                    Mat3 both;
                    both.row(0) = d;
                    both.row(1) = all[j] - all[m];
                    both.row(2) = Vec3::Ones();
                    if (const double det = both.determinant(); std::abs(det) > kTiny)
                        tryAt(both.inverse() * Vec3::UnitZ());
                }
            }
        return best;
    }
    void halve(const Piece& piece) {
        int longest = 0;
        double most = 0;
        for (int k = 0; k < 3; ++k)
            if (const double d = (piece.p[size_t((k + 1) % 3)].at - piece.p[size_t(k)].at).squaredNorm(); d > most) {
                most = d;
                longest = k;
            }
        const Corner &a = piece.p[size_t(longest)], &b = piece.p[size_t((longest + 1) % 3)],
                     &c = piece.p[size_t((longest + 2) % 3)];
        Corner middle{(a.at + b.at) / 2, a.face};
        middle.face = m_body.nearestFrom(middle.at, a.face).triangle;
        add({a, middle, c}, piece.middle, piece.within);
        add({middle, b, c}, piece.middle, piece.within);
    }

    const MeshTree &m_surface, &m_body;
    RelativePose m_lie;
    std::vector<Spared> m_spared;
    double m_enough;
    const Stop* m_stop;
    Found m_found;
    std::priority_queue<Piece> m_open;
    size_t m_asked = 0;
    std::vector<std::uint32_t> m_faces; ///< of the surface's points that were asked: what they are nearest to
};

} // namespace

Depth depthOf(const MeshTree& a, const MeshTree& b, const RelativePose& lie, std::span<const Spared> spared,
              double enough, const Stop* stop) {
    if (a.nodes().empty() || b.nodes().empty()) return {};
    const RelativePose back = lie.inverse();
    // The second's surface in the first, in its axes; then the other way round.
    const std::vector<Spared> here(spared.begin(), spared.end());
    const auto second = Sinking(b, a, lie, here, enough, stop).run(0);
    std::vector<Spared> there = here;
    for (Spared& s : there) {
        s.point = back.turn * s.point + back.at;
        s.axis = (back.turn * s.axis).normalized();
        s.radius *= back.size;
        s.half *= back.size;
    }
    const auto first = Sinking(a, b, back, there, enough * back.size, stop).run(second.by * back.size);
    Depth out;
    out.by = second.by;
    out.at = second.at;
    out.to = second.to;
    if (first.by * lie.size > second.by * (1 + tolerance::fine)) {
        out.by = first.by * lie.size;
        out.at = lie.turn * first.at + lie.at;
        out.to = lie.turn * first.to + lie.at;
    }
    out.error = std::max({0.0, enough, second.most - out.by, first.most * lie.size - out.by});
    if (spared.empty())
        if (const double ball = 2 * detail::ballInBoth(a, b, lie, stop); ball > 5 * (out.by + out.error)) {
            out.by = ball;
            out.error = ball / 100;
        }
    return out;
}

} // namespace vicinal
