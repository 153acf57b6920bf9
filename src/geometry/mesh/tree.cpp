#include "geometry/mesh/tree.h"
#include <algorithm>
#include <atomic>
#include <cmath>

namespace vicinal {
namespace {

constexpr std::uint32_t kLeaf = 3; ///< triangles at most

Vec3 corner(const Mesh& m, std::uint32_t t, int k) { return m.points[m.triangles[t][size_t(k)]]; }

std::array<Vec3, 3> cornersOf(const Mesh& m, std::uint32_t t) {
    return {corner(m, t, 0), corner(m, t, 1), corner(m, t, 2)};
}

} // namespace

Vec3 nearestOnTriangle(const Vec3& p, const std::array<Vec3, 3>& of) {
    const auto& [a, b, c] = of;
    const Vec3 ab = b - a, ac = c - a, ap = p - a;
    const double d1 = ab.dot(ap), d2 = ac.dot(ap);
    if (d1 <= 0 && d2 <= 0) return a;
    const Vec3 bp = p - b;
    const double d3 = ab.dot(bp), d4 = ac.dot(bp);
    if (d3 >= 0 && d4 <= d3) return b;
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return a + d1 / (d1 - d3) * ab;
    const Vec3 cp = p - c;
    const double d5 = ab.dot(cp), d6 = ac.dot(cp);
    if (d6 >= 0 && d5 <= d6) return c;
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return a + d2 / (d2 - d6) * ac;
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b + (d4 - d3) / ((d4 - d3) + (d5 - d6)) * (c - b);
    const double sum = va + vb + vc;
    return a + vb / sum * ab + vc / sum * ac;
}

MeshTree::MeshTree(std::shared_ptr<const Mesh> mesh) : m_mesh(std::move(mesh)) {
    static std::atomic<std::uint64_t> last = 0;
    m_id = ++last;
    const size_t n = m_mesh->triangles.size();
    m_order.resize(n);
    std::vector<Vec3> middles(n);
    for (std::uint32_t t = 0; t < n; ++t) {
        m_order[t] = t;
        middles[t] = (corner(*m_mesh, t, 0) + corner(*m_mesh, t, 1) + corner(*m_mesh, t, 2)) / 3;
    }
    m_nodes.reserve(n / kLeaf * 3 + 1);
    if (n == 0) return;
    build(0, std::uint32_t(n), middles);
    const Box3& all = m_nodes[0].box;
    m_slack = tolerance::rounding * (1 + all.min().cwiseAbs().maxCoeff() + all.max().cwiseAbs().maxCoeff());
}

void MeshTree::build(std::uint32_t first, std::uint32_t count, const std::vector<Vec3>& middles) {
    const size_t me = m_nodes.size();
    m_nodes.push_back({{}, first, count});
    Box3 box, spread;
    for (std::uint32_t i = first; i < first + count; ++i) {
        spread.extend(middles[m_order[i]]);
        if (count <= kLeaf)
            for (int k = 0; k < 3; ++k) box.extend(corner(*m_mesh, m_order[i], k));
    }
    if (count > kLeaf) {
        int axis = 0;
        spread.sizes().maxCoeff(&axis);
        const std::uint32_t half = count / 2;
        std::nth_element(m_order.begin() + first, m_order.begin() + first + half, m_order.begin() + first + count,
                         [&](std::uint32_t a, std::uint32_t b) { return middles[a][axis] < middles[b][axis]; });
        build(first, half, middles);
        const auto second = std::uint32_t(m_nodes.size());
        build(first + half, count - half, middles);
        box = m_nodes[me + 1].box.merged(m_nodes[second].box);
        m_nodes[me].first = second;
        m_nodes[me].count = 0;
    }
    m_nodes[me].box = box;
}

/// Hands `use` every triangle whose leaf the whole line meets.
template<class Use> void MeshTree::along(const Vec3& start, const Vec3& direction, double least, Use&& use) const {
    if (m_nodes.empty()) return;
    const Vec3 inverse = direction.cwiseInverse();
    std::uint32_t stack[64];
    int top = 0;
    stack[top++] = 0;
    while (top > 0) {
        const std::uint32_t me = stack[--top];
        const Node& n = m_nodes[me];
        double from = least, to = kFar;
        bool apart = false;
        for (int k = 0; k < 3 && !apart; ++k) {
            const double low = n.box.min()[k] - m_slack - start[k], high = n.box.max()[k] + m_slack - start[k];
            if (std::abs(direction[k]) < kTiny) {
                apart = low > 0 || high < 0;
                continue;
            }
            double a = low * inverse[k], b = high * inverse[k];
            if (a > b) std::swap(a, b);
            from = std::max(from, a);
            to = std::min(to, b);
            apart = from > to;
        }
        if (apart) continue;
        if (n.count == 0) {
            stack[top++] = n.first;
            stack[top++] = me + 1;
            continue;
        }
        for (std::uint32_t i = n.first; i < n.first + n.count; ++i) use(m_order[i], from, to);
    }
}

std::optional<MeshHit> MeshTree::hit(const Vec3& start, const Vec3& direction, double from) const {
    std::optional<MeshHit> best;
    along(start, direction, -kFar, [&](std::uint32_t t, double near, double far) {
        if (far < from || (best && near > best->distance)) return;
        const auto x =
            hitTriangle(start, direction, corner(*m_mesh, t, 0), corner(*m_mesh, t, 1), corner(*m_mesh, t, 2));
        if (x && *x >= from && (!best || *x < best->distance || (*x == best->distance && t < best->triangle)))
            best = MeshHit{*x, t};
    });
    return best;
}

void MeshTree::hits(const Vec3& start, const Vec3& direction, std::vector<MeshHit>& to, double least) const {
    along(start, direction, least, [&](std::uint32_t t, double, double) {
        if (const auto x =
                hitTriangle(start, direction, corner(*m_mesh, t, 0), corner(*m_mesh, t, 1), corner(*m_mesh, t, 2)))
            to.push_back({*x, t});
    });
}

std::optional<int> MeshTree::leaves(const Vec3& start, const Vec3& direction) const {
    constexpr double kNear = 1e-7; // of an edge, in shares of the triangle; of edge on, as a sine
    int count = 0;
    bool certain = true;
    along(start, direction, 0, [&](std::uint32_t t, double, double) {
        // As hitTriangle(), with what is near an edge told apart.
        const Vec3 a = corner(*m_mesh, t, 0), ab = corner(*m_mesh, t, 1) - a, ac = corner(*m_mesh, t, 2) - a;
        const Vec3 n = ab.cross(ac), s = start - a, q = s.cross(direction);
        const double det = -direction.dot(n);
        const double u = ac.dot(q), v = -ab.dot(q), size = std::abs(det);
        const double near = kNear * size + 1e-14 * q.lpNorm<1>() * (ab.lpNorm<1>() + ac.lpNorm<1>()); // and of rounding
        const double su = det > 0 ? u : -u, sv = det > 0 ? v : -v;
        if (su < -near || sv < -near || su + sv > size + near) return;
        if (size <= kNear * n.norm()) {
            certain = false;
            return;
        }
        const double distance = s.dot(n) / det;
        if (distance <= 0) return;
        if (su < near || sv < near || su + sv > size - near) certain = false;
        count += det < 0 ? 1 : -1;
    });
    if (!certain) return std::nullopt;
    return count;
}

bool MeshTree::closed() const {
    std::call_once(m_asked, [&] { m_closed = isClosed(*m_mesh); });
    return m_closed;
}

void MeshTree::inView(const Eigen::Matrix<double, 2, 3>& axes, const Vec2& low, const Vec2& high,
                      std::vector<std::uint32_t>& to) const {
    if (m_nodes.empty()) return;
    const Eigen::Matrix<double, 2, 3> reach = axes.cwiseAbs();
    std::uint32_t stack[64];
    int top = 0;
    stack[top++] = 0;
    while (top > 0) {
        const std::uint32_t me = stack[--top];
        const Node& n = m_nodes[me];
        const Vec2 middle = axes * n.box.center(), half = reach * (n.box.sizes() / 2);
        if (((middle - half).array() > high.array()).any() || ((middle + half).array() < low.array()).any()) continue;
        if (n.count == 0) {
            stack[top++] = n.first;
            stack[top++] = me + 1;
            continue;
        }
        for (std::uint32_t i = n.first; i < n.first + n.count; ++i) {
            const Vec2 a = axes * corner(*m_mesh, m_order[i], 0), b = axes * corner(*m_mesh, m_order[i], 1),
                       c = axes * corner(*m_mesh, m_order[i], 2);
            if ((a.cwiseMin(b).cwiseMin(c).array() <= high.array()).all() &&
                (a.cwiseMax(b).cwiseMax(c).array() >= low.array()).all())
                to.push_back(m_order[i]);
        }
    }
}

MeshTree::Near MeshTree::nearest(const Vec3& p) const { return nearest(p, 1e150); }

MeshTree::Near MeshTree::nearest(const Vec3& p, double below) const {
    Near best{Vec3::Zero(), 0, kFar};
    double least = below * below;
    nearest(p, least, best);
    return best;
}

MeshTree::Near MeshTree::nearestFrom(const Vec3& p, std::uint32_t likely) const {
    if (likely >= m_mesh->triangles.size()) return nearest(p);
    Near best{nearestOnTriangle(p, cornersOf(*m_mesh, likely)), likely, 0};
    double least = (best.at - p).squaredNorm();
    nearest(p, least, best);
    return best;
}

void MeshTree::nearest(const Vec3& p, double& least, Near& best) const {
    std::pair<std::uint32_t, double> stack[64];
    int top = 0;
    stack[top++] = {0, m_nodes[0].box.squaredExteriorDistance(p)};
    while (top > 0) {
        const auto [me, away] = stack[--top];
        if (away >= least) continue;
        const Node& n = m_nodes[me];
        if (n.count == 0) {
            const double a = m_nodes[me + 1].box.squaredExteriorDistance(p),
                         b = m_nodes[n.first].box.squaredExteriorDistance(p);
            if (a < b) {
                stack[top++] = {n.first, b};
                stack[top++] = {me + 1, a};
            } else {
                stack[top++] = {me + 1, a};
                stack[top++] = {n.first, b};
            }
            continue;
        }
        for (std::uint32_t i = n.first; i < n.first + n.count; ++i) {
            const std::uint32_t t = m_order[i];
            const Vec3 q = nearestOnTriangle(p, cornersOf(*m_mesh, t));
            const double d = (q - p).squaredNorm();
            if (d < least || (d == least && t < best.triangle)) least = d, best = {q, t, 0};
        }
    }
    best.distance = std::sqrt(least);
}

const std::vector<MeshTree::Patch>& MeshTree::patches() const {
    std::call_once(m_patched, [&] {
        constexpr std::uint32_t kSmall = 48; ///< triangles that are still nearly flat together
        m_patches.resize(m_nodes.size());
        // How many triangles a node holds, from the last one back: children stand behind their node.
        std::vector<std::uint32_t> first(m_nodes.size()), count(m_nodes.size());
        for (size_t i = m_nodes.size(); i-- > 0;) {
            const Node& n = m_nodes[i];
            first[i] = n.count > 0 ? n.first : first[i + 1];
            count[i] = n.count > 0 ? n.count : count[i + 1] + count[n.first];
            Patch& patch = m_patches[i];
            patch = {Mat3::Identity(), n.box.center(), n.box.sizes() / 2, true};
            if (count[i] > kSmall) continue;
            Vec3 normal = Vec3::Zero(), longest = Vec3::Zero();
            for (std::uint32_t k = first[i]; k < first[i] + count[i]; ++k) {
                const Vec3 a = corner(*m_mesh, m_order[k], 0), b = corner(*m_mesh, m_order[k], 1),
                           c = corner(*m_mesh, m_order[k], 2);
                normal += (b - a).cross(c - a);
                for (const Vec3& e : {Vec3(b - a), Vec3(c - b), Vec3(a - c)})
                    if (e.squaredNorm() > longest.squaredNorm()) longest = e;
            }
            Vec3 along = longest - longest.dot(normal) / std::max(kTiny, normal.squaredNorm()) * normal;
            if (!(normal.norm() > tolerance::rounding * longest.squaredNorm()) ||
                !(along.norm() > tolerance::alike * longest.norm()))
                continue;
            Mat3 axes;
            axes.col(2) = normal.normalized();
            axes.col(0) = along.normalized();
            axes.col(1) = axes.col(2).cross(axes.col(0));
            Box3 box;
            for (std::uint32_t k = first[i]; k < first[i] + count[i]; ++k)
                for (int c = 0; c < 3; ++c) box.extend(Vec3(axes.transpose() * corner(*m_mesh, m_order[k], c)));
            if (box.sizes().sum() < 1.2 * n.box.sizes().sum() ||
                box.sizes().minCoeff() < 0.7 * n.box.sizes().minCoeff())
                patch = {axes, axes * box.center(), box.sizes() / 2, false};
        }
    });
    return m_patches;
}

Vec3 MeshTree::flatNormal(std::uint32_t t) const {
    const Vec3 a = corner(*m_mesh, t, 0);
    return (corner(*m_mesh, t, 1) - a).cross(corner(*m_mesh, t, 2) - a).normalized();
}

Vec3 MeshTree::normalAt(const Vec3& p, std::uint32_t t) const {
    std::call_once(m_smooth, [&] { m_normals = cornerNormals(*m_mesh); });
    const Vec3 a = corner(*m_mesh, t, 0), b = corner(*m_mesh, t, 1), c = corner(*m_mesh, t, 2),
               n = (b - a).cross(c - a);
    const double whole = n.squaredNorm();
    const double v = (c - b).cross(p - b).dot(n) / whole, w = (a - c).cross(p - c).dot(n) / whole;
    const Vec3 mixed = v * m_normals[3 * t] + w * m_normals[3 * t + 1] + (1 - v - w) * m_normals[3 * t + 2];
    return mixed.norm() > tolerance::rounding ? Vec3(mixed.normalized()) : Vec3(n.normalized());
}

const MeshTree& LazyTree::of(const std::shared_ptr<const Mesh>& mesh) const {
    std::call_once(m_once, [&] { m_tree = std::make_unique<const MeshTree>(mesh); });
    return *m_tree;
}

} // namespace vicinal
