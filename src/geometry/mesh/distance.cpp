#include "geometry/mesh/distance.h"
#include "geometry/mesh/triangle_pair.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal {
namespace {

using pair::Best;
using pair::Faced;
using pair::Triangle;
using pair::triangles;

Triangle triangleOf(const Mesh& m, std::uint32_t t) {
    return {m.points[m.triangles[t][0]], m.points[m.triangles[t][1]], m.points[m.triangles[t][2]]};
}
Triangle triangleOf(const Mesh& m, std::uint32_t t, const RelativePose& lie) {
    Triangle out = triangleOf(m, t);
    for (Vec3& p : out) p = lie.turn * p + lie.at;
    return out;
}

// Boxes are compared four numbers at a time in single precision: bounds that are a little too low cost nothing.
typedef float Four __attribute__((vector_size(16)));
inline Four four(const Vec3& v) { return Four{float(v.x()), float(v.y()), float(v.z()), 0}; }
inline Four absolute(Four v) {
    typedef int Bits __attribute__((vector_size(16)));
    return Four(Bits(v) & Bits{0x7fffffff, 0x7fffffff, 0x7fffffff, 0x7fffffff});
}
inline Four larger(Four a, Four b) { return a > b ? a : b; }
inline float squared(Four free) {
    free = larger(free, Four{});
    free *= free;
    return free[0] + free[1] + free[2];
}

/// A node's boxes: along the axes of the question, and as its triangles lie.
struct Boxed {
    Four low, high;
    Four x, y, z; ///< the patch's axes: their x, y and z, one axis a number
    Four middle, half;
    bool plain;
};
/// Rounded outwards.
Boxed boxed(const Vec3& low, const Vec3& high, const Mat3& axes, const Vec3& middle, const Vec3& half, bool plain) {
    const double more = tolerance::alike * (low.cwiseAbs().maxCoeff() + high.cwiseAbs().maxCoeff());
    const Vec3 round = Vec3::Constant(more);
    return {four(low - round), four(high + round), four(axes.row(0)),      four(axes.row(1)),
            four(axes.row(2)), four(middle),       four(half + 2 * round), plain};
}

/// A bound of the squared distance: along the faces of both boxes, as they stand and as they lie.
inline float boundOf(const Boxed& p, const Boxed& q, float limit) {
    const float plain = squared(larger(p.low - q.high, q.low - p.high));
    if (plain >= limit || (p.plain && q.plain)) return plain;
    const Four d = q.middle - p.middle;
    const Four along = absolute(d[0] * p.x + d[1] * p.y + d[2] * p.z);
    // The second's axes in those of the first, one each.
    const Four r0 = absolute(q.x[0] * p.x + q.y[0] * p.y + q.z[0] * p.z),
               r1 = absolute(q.x[1] * p.x + q.y[1] * p.y + q.z[1] * p.z),
               r2 = absolute(q.x[2] * p.x + q.y[2] * p.y + q.z[2] * p.z);
    const float one = squared(along - p.half - (q.half[0] * r0 + q.half[1] * r1 + q.half[2] * r2));
    if (one >= limit) return one;
    const Four across = absolute(d[0] * q.x + d[1] * q.y + d[2] * q.z);
    const Four reach = {r0[0] * p.half[0] + r0[1] * p.half[1] + r0[2] * p.half[2],
                        r1[0] * p.half[0] + r1[1] * p.half[1] + r1[2] * p.half[2],
                        r2[0] * p.half[0] + r2[1] * p.half[1] + r2[2] * p.half[2], 0};
    const float two = squared(across - q.half - reach);
    return std::max({plain, one, two});
}

/// The first tree's nodes as they are; kept from one question to the next.
class Fixed {
public:
    void begin(const MeshTree& t) {
        m_tree = &t;
        if (t.id() == m_id) return;
        m_id = t.id();
        m_patches = &t.patches();
        m_known.assign(t.nodes().size(), 0);
        m_nodes.resize(t.nodes().size());
    }
    const Boxed& at(std::uint32_t i) {
        if (!m_known[i]) {
            m_known[i] = 1;
            const Box3& box = m_tree->nodes()[i].box;
            const auto& p = (*m_patches)[i];
            m_nodes[i] = boxed(box.min(), box.max(), p.axes, p.middle, p.half, p.plain);
        }
        return m_nodes[i];
    }

private:
    const MeshTree* m_tree = nullptr;
    const std::vector<MeshTree::Patch>* m_patches = nullptr;
    std::uint64_t m_id = 0;
    std::vector<char> m_known;
    std::vector<Boxed> m_nodes;
};

/// The second tree's nodes in the axes of the first, each turned once a question.
class Turned {
public:
    void begin(const MeshTree& t, const RelativePose& lie) {
        m_tree = &t;
        m_patches = &t.patches();
        m_lie = &lie;
        m_reach = lie.turn.cwiseAbs();
        m_unit = lie.turn / lie.size;
        if (m_slot.size() < t.nodes().size()) m_slot.resize(t.nodes().size(), {0, 0});
        ++m_stamp;
        m_nodes.clear();
    }
    const Boxed& at(std::uint32_t i) {
        auto& [stamp, slot] = m_slot[i];
        if (stamp == m_stamp) return m_nodes[slot];
        stamp = m_stamp;
        slot = std::uint32_t(m_nodes.size());
        const Box3& box = m_tree->nodes()[i].box;
        const auto& p = (*m_patches)[i];
        const Vec3 middle = m_lie->turn * box.center() + m_lie->at, half = m_reach * (box.sizes() / 2);
        m_nodes.push_back(boxed(middle - half, middle + half, m_unit * p.axes, m_lie->turn * p.middle + m_lie->at,
                                m_lie->size * p.half, p.plain));
        return m_nodes.back();
    }

private:
    const MeshTree* m_tree = nullptr;
    const std::vector<MeshTree::Patch>* m_patches = nullptr;
    const RelativePose* m_lie = nullptr;
    Mat3 m_reach, m_unit;
    std::vector<std::pair<std::uint64_t, std::uint32_t>> m_slot;
    std::vector<Boxed> m_nodes;
    std::uint64_t m_stamp = 0;
};

/// Goes down both trees: pairs of leaves nearer than `limit()` (squared), the nearest first.
template<class Limit, class Leaves> void descend(const MeshTree& a, const MeshTree& b, const RelativePose& lie,
                                                 Limit&& limit, Leaves&& leaves, const Stop* stop) {
    const auto &nodesA = a.nodes(), &nodesB = b.nodes();
    if (nodesA.empty() || nodesB.empty()) return;
    static thread_local Fixed keptFirst;
    static thread_local Turned keptSecond;
    Fixed& ones = keptFirst; // looked up once
    Turned& others = keptSecond;
    ones.begin(a);
    others.begin(b, lie);
    const double k = lie.size;
    // The limit rounded up: what is as near as that is looked at.
    const auto bound = [&](std::uint32_t i, std::uint32_t l) {
        return double(boundOf(ones.at(i), others.at(l), float(std::min(limit() * (1 + tolerance::alike), 1e37)))) *
               (1 - 1e-5);
    };
    struct Pair {
        std::uint32_t a, b;
        double bound;
    };
    static thread_local std::vector<Pair> keptStack; // nobody asks again from within
    std::vector<Pair>& stack = keptStack;
    stack.clear();
    stack.push_back({0, 0, bound(0, 0)});
    int asked = 0;
    while (!stack.empty()) {
        const Pair p = stack.back();
        stack.pop_back();
        if (p.bound >= limit()) continue;
        if ((++asked & 0xfff) == 0 && stopped(stop)) break;
        const auto &x = nodesA[p.a], &y = nodesB[p.b];
        if (x.count > 0 && y.count > 0) {
            if (!leaves(x, y)) break;
            continue;
        }
        // The larger one is opened.
        const bool first =
            y.count > 0 || (x.count == 0 && x.box.diagonal().squaredNorm() >= k * k * y.box.diagonal().squaredNorm());
        Pair one = first ? Pair{p.a + 1, p.b, 0} : Pair{p.a, p.b + 1, 0};
        Pair two = first ? Pair{x.first, p.b, 0} : Pair{p.a, y.first, 0};
        one.bound = bound(one.a, one.b);
        two.bound = bound(two.a, two.b);
        if (one.bound > two.bound) std::swap(one, two);
        if (two.bound < limit()) stack.push_back(two);
        if (one.bound < limit()) stack.push_back(one);
    }
}

/// Triangles of one side of a question, made ready the first time one is met. One a thread and side.
class Ready {
public:
    /// `kept`: they are as they were for the same tree.
    void begin(const MeshTree& t, bool kept) {
        if (kept && t.id() == m_id) return;
        m_id = t.id();
        if (m_slot.size() < t.mesh().triangles.size()) m_slot.resize(t.mesh().triangles.size(), {0, 0});
        ++m_stamp;
        m_faces.clear();
    }
    template<class Make> size_t at(std::uint32_t t, Make&& make) {
        auto& [stamp, slot] = m_slot[t];
        if (stamp != m_stamp) {
            stamp = m_stamp;
            slot = std::uint32_t(m_faces.size());
            m_faces.push_back(Faced(make(t)));
        }
        return slot;
    }
    const Faced& operator[](size_t slot) const { return m_faces[slot]; }

private:
    std::uint64_t m_id = 0;
    std::vector<std::pair<std::uint64_t, std::uint32_t>> m_slot;
    std::vector<Faced> m_faces;
    std::uint64_t m_stamp = 0;
};

/// Hands `use` the pairs of triangles of two leaves.
template<class Use> struct Leaves {
    const MeshTree &a, &b;
    const RelativePose& lie;
    Ready &ones, &others;
    Use use;
    bool operator()(const MeshTree::Node& x, const MeshTree::Node& y) {
        std::array<size_t, 8> first, second;
        for (std::uint32_t i = 0; i < x.count; ++i)
            first[i] = ones.at(a.order()[x.first + i], [&](std::uint32_t t) { return triangleOf(a.mesh(), t); });
        for (std::uint32_t i = 0; i < y.count; ++i)
            second[i] =
                others.at(b.order()[y.first + i], [&](std::uint32_t t) { return triangleOf(b.mesh(), t, lie); });
        for (std::uint32_t k = 0; k < y.count; ++k)
            for (std::uint32_t i = 0; i < x.count; ++i)
                if (!use(ones[first[i]], others[second[k]], a.order()[x.first + i], b.order()[y.first + k]))
                    return false;
        return true;
    }
};
template<class Use> Leaves<Use> leavesOf(const MeshTree& a, const MeshTree& b, const RelativePose& lie, Use use) {
    static thread_local Ready ones, others;
    ones.begin(a, true);
    others.begin(b, false);
    return {a, b, lie, ones, others, std::move(use)};
}

} // namespace

RelativePose RelativePose::inverse() const {
    Mat3 back = turn.transpose(); // in two steps: GCC 12 takes it for not set where it is one
    back /= size * size;
    return {back, -(back * at), 1 / size};
}

Distance distanceBetween(const Triangle& a, const Triangle& b, double below) {
    Best best{below * below, {}, {}};
    triangles(Faced(a), Faced(b), best);
    if (!best.any) return {};
    return {std::sqrt(best.squared), best.a, best.b, 0, 0, best.crossing};
}

Distance distanceBetween(const MeshTree& a, const MeshTree& b, const RelativePose& lie, double below,
                         const Distance* near, const Stop* stop) {
    Distance out;
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
            leavesOf(a, b, lie,
                     [&](const Faced& p, const Faced& q, std::uint32_t i, std::uint32_t k) {
                         const Vec3 free = (p.low - q.high).cwiseMax(q.low - p.high).cwiseMax(0);
                         if (free.squaredNorm() >= best.squared && best.squared > 0) return true;
                         if (triangles(p, q, best)) took(i, k);
                         return !best.crossing;
                     }),
            stop);
    if (!best.any) return out;
    out.distance = std::sqrt(best.squared);
    out.a = best.a;
    out.b = best.b;
    out.crossing = best.crossing;
    // Where they touch somewhere they may still cross elsewhere.
    if (!out.crossing && out.distance <= tolerance::rounding * (1 + best.a.cwiseAbs().maxCoeff()))
        out.crossing = eachCrossing(a, b, lie, [&](std::uint32_t i, std::uint32_t k) {
            took(i, k);
            return false;
        });
    return out;
}

bool eachCrossing(const MeshTree& a, const MeshTree& b, const RelativePose& lie,
                  const std::function<bool(std::uint32_t, std::uint32_t)>& use) {
    bool ended = false;
    constexpr double kTouching = 1e-300; // boxes that touch may hold triangles that cross
    descend(
        a, b, lie, [&] { return kTouching; },
        leavesOf(a, b, lie,
                 [&](const Faced& p, const Faced& q, std::uint32_t i, std::uint32_t k) {
                     if ((p.low - q.high).cwiseMax(q.low - p.high).maxCoeff() > 0) return true;
                     Best best{kTiny, {}, {}};
                     triangles(p, q, best);
                     if (!best.crossing || use(i, k)) return true;
                     ended = true;
                     return false;
                 }),
        nullptr);
    return ended;
}

bool cross(const MeshTree& a, const MeshTree& b, const RelativePose& lie) {
    return eachCrossing(a, b, lie, [](std::uint32_t, std::uint32_t) { return false; });
}

bool inside(const MeshTree& t, const Vec3& p) {
    if (t.nodes().empty() || !t.nodes()[0].box.contains(p)) return false;
    // A line that hits edges says so by two hits at one distance; a few odd directions, the most frequent answer.
    static const Vec3 kWays[] = {Vec3(0.5773, 0.6011, 0.5525).normalized(), Vec3(-0.4127, 0.3181, 0.8533).normalized(),
                                 Vec3(0.1931, -0.9301, 0.3127).normalized()};
    int yes = 0, asked = 0;
    thread_local std::vector<MeshHit> hits;
    for (const Vec3& way : kWays) {
        if (asked == 2 && yes != 1) break; // both say the same
        ++asked;
        if (t.closed()) // one line that meets no edge is enough
            if (const auto leaves = t.leaves(p, way)) return *leaves != 0;
        hits.clear();
        t.hits(p, way, hits, 0);
        std::sort(hits.begin(), hits.end(), [](const auto& x, const auto& y) { return x.distance < y.distance; });
        // How often it is left less how often it is entered: two faces that lie on one another, a pin's and its
        // hole's, are one of each. An edge that is hit says the same twice.
        int left = 0;
        std::array<double, 2> last{-1, -1};
        for (const auto& h : hits) {
            if (h.distance <= 0) continue;
            const bool out = t.flatNormal(h.triangle).dot(way) > 0;
            if (h.distance - last[out] < tolerance::rounding * (1 + h.distance)) continue;
            last[out] = h.distance;
            left += out ? 1 : -1;
        }
        yes += left != 0;
    }
    return yes >= 2;
}

} // namespace vicinal
