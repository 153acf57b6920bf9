#include "geometry/mesh/apart.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

using Triangle = std::array<Vec3, 3>;

/// Nearest points of two segments: shares along both. Source: Ericson 2005, 5.1.9.
void nearestOfSegments(const Vec3& p, const Vec3& u, double uu, const Vec3& q, const Vec3& v, double vv, double& s,
                       double& t) {
    const Vec3 r = p - q;
    const double f = v.dot(r), c = u.dot(r), b = u.dot(v);
    const double whole = uu * vv - b * b;
    // Almost parallel ones: any point will do, then the ends are looked at.
    s = whole > 1e-14 * uu * vv ? std::clamp((b * f - c * vv) / whole, 0.0, 1.0) : 0.0;
    const double on = b * s + f;
    if (on < 0) {
        t = 0;
        s = uu > 0 ? std::clamp(-c / uu, 0.0, 1.0) : 0.0;
    } else if (on > vv) {
        t = 1;
        s = uu > 0 ? std::clamp((b - c) / uu, 0.0, 1.0) : 0.0;
    } else
        t = vv > 0 ? on / vv : 0.0;
}

/// What is asked of a triangle again and again.
struct Faced {
    Triangle p;
    std::array<Vec3, 3> edge;
    std::array<double, 3> squared;
    Vec3 normal;
    double length; ///< of the normal; 0 for one without area
    Vec3 low, high;
    explicit Faced(const Triangle& t) : p(t) {
        for (size_t k = 0; k < 3; ++k) {
            edge[k] = p[(k + 1) % 3] - p[k];
            squared[k] = edge[k].squaredNorm();
        }
        normal = edge[0].cross(-edge[2]);
        length = normal.norm();
        if (length > 0) normal /= length;
        low = p[0].cwiseMin(p[1]).cwiseMin(p[2]);
        high = p[0].cwiseMax(p[1]).cwiseMax(p[2]);
    }
    Faced() = default;
    double size() const { return std::sqrt(std::max({squared[0], squared[1], squared[2]})); }
    /// The point, which lies in the plane, is inside.
    bool holds(const Vec3& x, double slack) const {
        for (size_t k = 0; k < 3; ++k)
            if (edge[k].cross(x - p[k]).dot(normal) < -slack * std::sqrt(squared[k])) return false;
        return true;
    }
};

/// Best so far; the points may be swapped by the caller.
struct Best {
    double squared;
    Vec3 a, b;
    bool crossing = false, any = false;
    void take(double d, const Vec3& x, const Vec3& y) {
        if (d >= squared) return;
        squared = d;
        a = x;
        b = y;
        any = true;
    }
};

/// An edge of `a` that goes right through `b`: heights of a's corners over b's plane are known.
bool pierces(const Faced& a, const std::array<double, 3>& height, const Faced& b, double slack, Vec3& at) {
    for (size_t k = 0; k < 3; ++k) {
        const double h = height[k], g = height[(k + 1) % 3];
        if (!((h > slack && g < -slack) || (h < -slack && g > slack))) continue;
        const Vec3 x = a.p[k] + h / (h - g) * a.edge[k];
        if (b.holds(x, -slack)) {
            at = x;
            return true;
        }
    }
    return false;
}

bool triangles(const Faced& a, const Faced& b, Best& best) {
    std::array<double, 3> ofA{}, ofB{};
    const auto heights = [](const Faced& of, const Faced& over, std::array<double, 3>& h) {
        for (size_t k = 0; k < 3; ++k) h[k] = (of.p[k] - over.p[0]).dot(over.normal);
    };
    const auto beyond = [&](const std::array<double, 3>& h) {
        const double least = std::min({h[0], h[1], h[2]}), most = std::max({h[0], h[1], h[2]});
        return (least > 0 && least * least >= best.squared) || (most < 0 && most * most >= best.squared);
    };
    if (b.length > 0) {
        heights(a, b, ofA);
        if (beyond(ofA)) return false;
    }
    if (a.length > 0) {
        heights(b, a, ofB);
        if (beyond(ofB)) return false;
    }
    const double before = best.squared;
    const double slack = 1e-10 * (1 + a.size() + b.size());
    if (a.length > 0 && b.length > 0) {
        Vec3 at;
        const auto both = [&](const std::array<double, 3>& h) {
            return std::min({h[0], h[1], h[2]}) < -slack && std::max({h[0], h[1], h[2]}) > slack;
        };
        if ((both(ofA) && pierces(a, ofA, b, slack, at)) || (both(ofB) && pierces(b, ofB, a, slack, at))) {
            best.squared = 0;
            best.a = best.b = at;
            best.crossing = best.any = true;
            return true;
        }
    }
    // Corners over faces.
    const auto over = [&](const Faced& of, const std::array<double, 3>& h, const Faced& face, bool swapped) {
        if (!(face.length > 0)) return;
        for (size_t k = 0; k < 3; ++k) {
            const double d = h[k] * h[k];
            if (d >= best.squared) continue;
            const Vec3 foot = of.p[k] - h[k] * face.normal;
            if (!face.holds(foot, 0)) continue;
            swapped ? best.take(d, foot, of.p[k]) : best.take(d, of.p[k], foot);
        }
    };
    over(a, ofA, b, false);
    over(b, ofB, a, true);
    for (size_t i = 0; i < 3; ++i)
        for (size_t k = 0; k < 3; ++k) {
            double s, t;
            nearestOfSegments(a.p[i], a.edge[i], a.squared[i], b.p[k], b.edge[k], b.squared[k], s, t);
            const Vec3 x = a.p[i] + s * a.edge[i], y = b.p[k] + t * b.edge[k];
            best.take((x - y).squaredNorm(), x, y);
        }
    return best.squared < before;
}

Triangle triangleOf(const Mesh& m, std::uint32_t t) {
    return {m.points[m.triangles[t][0]], m.points[m.triangles[t][1]], m.points[m.triangles[t][2]]};
}
Triangle triangleOf(const Mesh& m, std::uint32_t t, const Lie& lie) {
    Triangle out = triangleOf(m, t);
    for (Vec3& p : out) p = lie.turn * p + lie.at;
    return out;
}

/// Squared distance of two boxes with the same axes.
double boxes(const Vec3& middleA, const Vec3& halfA, const Vec3& middleB, const Vec3& halfB) {
    const Vec3 free = ((middleB - middleA).cwiseAbs() - halfA - halfB).cwiseMax(0);
    return free.squaredNorm();
}

/// Goes down both trees: pairs of leaves nearer than `limit()` (squared), the nearest first.
template<class Limit, class Leaves>
void descend(const MeshTree& a, const MeshTree& b, const Lie& lie, Limit&& limit, Leaves&& leaves, const Stop* stop) {
    const auto &nodesA = a.nodes(), &nodesB = b.nodes();
    if (nodesA.empty() || nodesB.empty()) return;
    const double k = lie.size;
    const Mat3 reach = lie.turn.cwiseAbs(), back = lie.turn.transpose() / (k * k), backReach = back.cwiseAbs();
    const Vec3 backAt = -(back * lie.at);
    const auto bound = [&](const MeshTree::Node& x, const MeshTree::Node& y) {
        const Vec3 mx = (x.box.min() + x.box.max()) / 2, hx = (x.box.max() - x.box.min()) / 2;
        const Vec3 my = (y.box.min() + y.box.max()) / 2, hy = (y.box.max() - y.box.min()) / 2;
        const double one = boxes(mx, hx, lie.turn * my + lie.at, reach * hy);
        if (one >= limit()) return one;
        return std::max(one, k * k * boxes(my, hy, back * mx + backAt, backReach * hx));
    };
    struct Pair {
        std::uint32_t a, b;
        double bound;
    };
    std::vector<Pair> stack;
    stack.reserve(128);
    stack.push_back({0, 0, bound(nodesA[0], nodesB[0])});
    int asked = 0;
    while (!stack.empty()) {
        const Pair p = stack.back();
        stack.pop_back();
        if (p.bound >= limit()) continue;
        if ((++asked & 0xfff) == 0 && stopped(stop)) return;
        const auto &x = nodesA[p.a], &y = nodesB[p.b];
        if (x.count > 0 && y.count > 0) {
            if (!leaves(x, y)) return;
            continue;
        }
        // The larger one is opened.
        const bool first =
            y.count > 0 || (x.count == 0 && x.box.diagonal().squaredNorm() >= k * k * y.box.diagonal().squaredNorm());
        Pair one = first ? Pair{p.a + 1, p.b, 0} : Pair{p.a, p.b + 1, 0};
        Pair two = first ? Pair{x.first, p.b, 0} : Pair{p.a, y.first, 0};
        one.bound = bound(nodesA[one.a], nodesB[one.b]);
        two.bound = bound(nodesA[two.a], nodesB[two.b]);
        if (one.bound > two.bound) std::swap(one, two);
        if (two.bound < limit()) stack.push_back(two);
        if (one.bound < limit()) stack.push_back(one);
    }
}

/// Faces of a leaf, made once a pair of leaves.
struct Leaf {
    std::array<Faced, 8> faces;
    std::array<std::uint32_t, 8> ids;
    size_t count = 0;
    template<class Make> Leaf(const MeshTree& t, const MeshTree::Node& n, Make&& make) {
        for (std::uint32_t i = n.first; i < n.first + n.count; ++i) {
            ids[count] = t.order()[i];
            faces[count] = Faced(make(ids[count]));
            ++count;
        }
    }
};

} // namespace

Apart apart(const Triangle& a, const Triangle& b, double below) {
    Best best{below * below, {}, {}};
    triangles(Faced(a), Faced(b), best);
    if (!best.any) return {};
    return {std::sqrt(best.squared), best.a, best.b, 0, 0, best.crossing};
}

Apart apart(const MeshTree& a, const MeshTree& b, const Lie& lie, double below, const Apart* near, const Stop* stop) {
    Apart out;
    Best best{below * below, {}, {}};
    const auto took = [&](std::uint32_t i, std::uint32_t k) {
        out.first = i;
        out.second = k;
    };
    if (near && near->first < a.mesh().triangles.size() && near->second < b.mesh().triangles.size() &&
        triangles(Faced(triangleOf(a.mesh(), near->first)), Faced(triangleOf(b.mesh(), near->second, lie)), best))
        took(near->first, near->second);
    if (!best.crossing)
        descend(
            a, b, lie, [&] { return best.squared; },
            [&](const MeshTree::Node& x, const MeshTree::Node& y) {
                const Leaf ones(a, x, [&](std::uint32_t t) { return triangleOf(a.mesh(), t); });
                const Leaf others(b, y, [&](std::uint32_t t) { return triangleOf(b.mesh(), t, lie); });
                for (size_t k = 0; k < others.count; ++k)
                    for (size_t i = 0; i < ones.count; ++i) {
                        const Faced &p = ones.faces[i], &q = others.faces[k];
                        const Vec3 free = (p.low - q.high).cwiseMax(q.low - p.high).cwiseMax(0);
                        if (free.squaredNorm() >= best.squared && best.squared > 0) continue;
                        if (triangles(p, q, best)) took(ones.ids[i], others.ids[k]);
                        if (best.crossing) return false;
                    }
                return true;
            },
            stop);
    if (!best.any) return out;
    out.distance = std::sqrt(best.squared);
    out.a = best.a;
    out.b = best.b;
    out.crossing = best.crossing;
    // Where they touch somewhere they may still cross elsewhere.
    if (!out.crossing && out.distance <= 1e-9 * (1 + best.a.cwiseAbs().maxCoeff()))
        out.crossing = eachCrossing(a, b, lie, [&](std::uint32_t i, std::uint32_t k) {
            took(i, k);
            return false;
        });
    return out;
}

bool eachCrossing(const MeshTree& a, const MeshTree& b, const Lie& lie,
                  const std::function<bool(std::uint32_t, std::uint32_t)>& use) {
    bool ended = false;
    constexpr double kTouching = 1e-300; // boxes that touch may hold triangles that cross
    descend(
        a, b, lie, [&] { return kTouching; },
        [&](const MeshTree::Node& x, const MeshTree::Node& y) {
            const Leaf ones(a, x, [&](std::uint32_t t) { return triangleOf(a.mesh(), t); });
            const Leaf others(b, y, [&](std::uint32_t t) { return triangleOf(b.mesh(), t, lie); });
            for (size_t k = 0; k < others.count; ++k)
                for (size_t i = 0; i < ones.count; ++i) {
                    const Faced &p = ones.faces[i], &q = others.faces[k];
                    if ((p.low - q.high).cwiseMax(q.low - p.high).maxCoeff() > 0) continue;
                    Best best{1e-300, {}, {}};
                    triangles(p, q, best);
                    if (best.crossing && !use(ones.ids[i], others.ids[k])) {
                        ended = true;
                        return false;
                    }
                }
            return true;
        },
        nullptr);
    return ended;
}

bool cross(const MeshTree& a, const MeshTree& b, const Lie& lie) {
    return eachCrossing(a, b, lie, [](std::uint32_t, std::uint32_t) { return false; });
}

bool inside(const MeshTree& t, const Vec3& p) {
    if (t.nodes().empty() || !t.nodes()[0].box.contains(p)) return false;
    // A line that hits edges says so by two hits at one distance; a few odd directions, the most frequent answer.
    static const Vec3 kWays[] = {Vec3(0.5773, 0.6011, 0.5525).normalized(), Vec3(-0.4127, 0.3181, 0.8533).normalized(),
                                 Vec3(0.1931, -0.9301, 0.3127).normalized()};
    int yes = 0;
    std::vector<MeshHit> hits;
    for (const Vec3& way : kWays) {
        hits.clear();
        t.hits(p, way, hits);
        std::sort(hits.begin(), hits.end(), [](const auto& x, const auto& y) { return x.distance < y.distance; });
        int ahead = 0;
        double last = -1;
        for (const auto& h : hits) {
            if (h.distance <= 0 || h.distance - last < 1e-9 * (1 + h.distance)) continue;
            last = h.distance;
            ++ahead;
        }
        yes += ahead % 2;
    }
    return yes >= 2;
}

} // namespace vicinal
