#include "checks/depth.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

constexpr size_t kMostWays = 36;

Vec3 cornerOf(const Mesh& m, std::uint32_t t, int k) { return m.points[m.triangles[t][size_t(k)]]; }

/// The points that a mesh's triangles use.
std::vector<Vec3> used(const Mesh& m) {
    std::vector<char> is(m.points.size(), 0);
    for (const auto& t : m.triangles)
        for (const auto i : t) is[i] = 1;
    std::vector<Vec3> out;
    for (size_t i = 0; i < is.size(); ++i)
        if (is[i]) out.push_back(m.points[i]);
    return out;
}
/// Least and most along a direction.
std::pair<double, double> along(const std::vector<Vec3>& points, const Vec3& n) {
    double least = 1e300, most = -1e300;
    for (const Vec3& p : points) {
        const double v = n.dot(p);
        least = std::min(least, v);
        most = std::max(most, v);
    }
    return {least, most};
}

class Ways {
public:
    void add(const Vec3& n) {
        const double length = n.norm();
        if (!(length > 1e-9)) return;
        const Vec3 unit = n / length;
        for (const Vec3& have : m_ways)
            if (std::abs(have.dot(unit)) > 1 - 1e-7) return;
        m_ways.push_back(unit);
    }
    bool full(size_t most) const { return m_ways.size() >= most; }
    const std::vector<Vec3>& all() const { return m_ways; }

private:
    std::vector<Vec3> m_ways;
};

/// A little beside where it is, so that no two faces stay in one plane.
Lie beside(const MeshTree& a, const MeshTree& b, Lie lie, double way) {
    const double size = a.nodes()[0].box.sizes().norm() + lie.size * b.nodes()[0].box.sizes().norm();
    const Vec3 about = Vec3(0.41, -0.57, 0.71).normalized(), middle = lie.turn * b.nodes()[0].box.center() + lie.at;
    const Mat3 turn = Eigen::AngleAxisd(way * 1e-7, about).toRotationMatrix();
    lie.turn = turn * lie.turn;
    lie.at = turn * (lie.at - middle) + middle + way * 1e-7 * size * Vec3(0.61, 0.53, 0.59);
    return lie;
}

} // namespace

static Depth sought(const MeshTree& a, const MeshTree& b, const Lie& asked, const Stop*, bool swapped);

bool overlapping(const MeshTree& a, const MeshTree& b, const Lie& lie) {
    // What only touches is freed by going one of two ways; what is held on both sides (a peg in its hole) is not, so
    // points just under the faces are asked.
    if (!cross(a, b, beside(a, b, lie, 1)) || !cross(a, b, beside(a, b, lie, -1))) return false;
    const auto under = [](const MeshTree& of, const MeshTree& in, const Lie& to) {
        const Mesh& m = of.mesh();
        const double little = 1e-6 * of.nodes()[0].box.sizes().norm();
        for (std::uint32_t t = 0; t < m.triangles.size(); ++t) {
            const Vec3 middle = (cornerOf(m, t, 0) + cornerOf(m, t, 1) + cornerOf(m, t, 2)) / 3;
            const Vec3 p = to.turn * (middle - little * of.flatNormal(t)) + to.at;
            if (inside(in, p) && in.nearest(p).distance > little * to.size / 2) return true;
        }
        return false;
    };
    return under(b, a, lie) || under(a, b, lie.inverse());
}

bool contained(const MeshTree& a, const MeshTree& b, const Lie& lie) {
    if (a.nodes().empty() || b.nodes().empty()) return false;
    const Vec3 ofB = lie.turn * cornerOf(b.mesh(), 0, 0) + lie.at;
    const Vec3 ofA = lie.inverse().turn * (cornerOf(a.mesh(), 0, 0) - lie.at);
    return inside(a, ofB) || inside(b, ofA);
}

Depth depthOf(const MeshTree& a, const MeshTree& b, const Lie& asked, const Stop* stop) {
    return sought(a, b, asked, stop, false);
}

Depth sought(const MeshTree& a, const MeshTree& b, const Lie& asked, const Stop* stop, bool swapped) {
    if (a.nodes().empty() || b.nodes().empty()) return {};
    // Ways are sought among those of the first faces that are met: always in the same order, so that the answer does
    // not depend on which of the two is called the first.
    const Lie inverse = asked.inverse();
    const auto rank = [](const MeshTree& t, const Lie& l) {
        const Vec3 s = t.nodes()[0].box.sizes();
        return std::array<double, 5>{double(t.mesh().triangles.size()), std::round(s.sum() * 1e6),
                                     std::round(l.at.x() * 1e6), std::round(l.at.y() * 1e6),
                                     std::round(l.at.z() * 1e6)};
    };
    if (!swapped && rank(b, inverse) < rank(a, asked)) {
        Depth found = sought(b, a, inverse, stop, true);
        found.way = -(asked.turn * found.way).normalized();
        found.by *= asked.size;
        return found;
    }
    const Lie lie = beside(a, b, asked, 1);
    const Mesh &first = a.mesh(), &second = b.mesh();
    Ways ways;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
    eachCrossing(a, b, lie, [&](std::uint32_t i, std::uint32_t k) {
        pairs.emplace_back(i, k);
        return pairs.size() < 4000;
    });
    if (pairs.empty() && !contained(a, b, lie)) return {};
    const auto edges = [](const Mesh& m, std::uint32_t t) {
        std::array<Vec3, 3> e;
        for (int k = 0; k < 3; ++k) e[size_t(k)] = cornerOf(m, t, (k + 1) % 3) - cornerOf(m, t, k);
        return e;
    };
    for (int k = 0; k < 3; ++k) ways.add(lie.turn.col(k));
    for (int k = 0; k < 3; ++k) ways.add(Vec3::Unit(k));
    ways.add(lie.turn * b.nodes()[0].box.center() + lie.at - a.nodes()[0].box.center());
    for (const auto& [i, k] : pairs) {
        if (ways.full(kMostWays / 2)) break;
        const auto ea = edges(first, i), eb = edges(second, k);
        ways.add(ea[0].cross(ea[1]));
        ways.add(lie.turn * eb[0].cross(eb[1]));
    }
    for (const auto& [i, k] : pairs) {
        if (ways.full(kMostWays)) break;
        for (const Vec3& x : edges(first, i))
            for (const Vec3& y : edges(second, k))
                if (!ways.full(kMostWays)) ways.add(x.normalized().cross((lie.turn * y).normalized()));
    }
    const auto free = [&](const Vec3& n, double t) {
        Lie pushed = lie;
        pushed.at += t * n;
        return !cross(a, b, pushed) && !contained(a, b, pushed);
    };
    // The shortest push beyond all of it, each way; then whether less would do.
    struct Push {
        Vec3 way;
        double most;
    };
    std::vector<Push> pushes;
    const auto pointsA = used(first), pointsB = used(second);
    for (const Vec3& n : ways.all()) {
        const auto [lowA, highA] = along(pointsA, n);
        Vec3 back = lie.turn.transpose() * n; // of n . (T x)
        const auto [lowB, highB] = along(pointsB, back);
        const double shift = n.dot(lie.at);
        pushes.push_back({n, highA - (lowB + shift)});
        pushes.push_back({-n, (highB + shift) - lowA});
    }
    std::sort(pushes.begin(), pushes.end(), [](const Push& x, const Push& y) { return x.most < y.most; });
    Depth best{std::numeric_limits<double>::infinity(), Vec3::UnitZ()};
    for (const Push& p : pushes) {
        if (stopped(stop)) break;
        if (!(p.most > 0)) continue;
        // Convex bodies are free only beyond all of them; others may be sooner.
        double high = std::min(p.most, best.by);
        if (high < p.most) { // only a shorter push helps
            if (!free(p.way, high * (1 - 1e-6))) continue;
        } else {
            best = {p.most, p.way};
            if (!free(p.way, high * (1 - 1e-6))) continue;
        }
        double low = 0;
        for (int i = 0; i < 24 && high - low > 1e-6 * (1 + high); ++i) {
            const double middle = (low + high) / 2;
            (free(p.way, middle) ? high : low) = middle;
        }
        if (high < best.by) best = {high, p.way};
    }
    if (!std::isfinite(best.by)) best.by = 0;
    return best;
}

} // namespace vicinal
