#include "exchange/drawing/hidden.h"
#include "exchange/drawing/covers.h"
#include "exchange/drawing/strands.h"
#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <exception>
#include <map>
#include <memory>
#include <set>
#include <thread>

namespace vicinal {

Mat3 viewFrom(double heading, double pitch) {
    // Who looks stands at `heading` (from x, counter-clockwise), `pitch` above the ground.
    const Vec3 back(std::cos(pitch) * std::cos(heading), std::cos(pitch) * std::sin(heading), std::sin(pitch));
    const Vec3 right(-std::sin(heading), std::cos(heading), 0);
    Mat3 out;
    out.row(0) = right;
    out.row(1) = back.cross(right);
    out.row(2) = back;
    return out;
}

using namespace covers;
namespace {

/// A pose in the picture: turned alike up to a turn in its plane.
struct SeenBody {
    size_t part;
    Vec3 at;
    double angle;
};

/// The steps towards the lines that are seen.
class SeenLines {
public:
    SeenLines(const std::vector<MeshAt>& bodies, const Mat3& view, bool withHidden, Job* job)
        : m_view(view), m_withHidden(withHidden), m_job(job) {
        collect(bodies);
    }
    Seen make() {
        turnAll();
        if (halted()) return std::move(m_out);
        measure();
        if (m_all.isEmpty()) return std::move(m_out);
        hideOwn();
        if (halted()) return std::move(m_out);
        findWhatIsBehind();
        auto covers = coversBefore();
        if (halted()) return std::move(m_out);
        hideByOthers(Grid(std::move(covers)));
        return std::move(m_out);
    }

private:
    bool halted() const { return m_job && stopped(&m_job->stop); }
    /// Parts that look alike but for a turn in the plane of the picture.
    void collect(const std::vector<MeshAt>& bodies) {
        std::map<std::pair<const Mesh*, std::array<long long, 9>>, size_t> known;
        for (const MeshAt& b : bodies) {
            if (halted()) return;
            const Mat3 M = m_view * b.pose.topLeftCorner<3, 3>();
            Vec2 axis = M.col(0).head<2>();
            if (axis.norm() < 0.5 * M.col(0).norm()) axis = M.col(1).head<2>();
            double angle = std::atan2(axis.y(), axis.x());
            Mat3 alike = Eigen::AngleAxisd(-angle, Vec3::UnitZ()).toRotationMatrix() * M;
            std::array<long long, 9> key;
            for (int k = 0; k < 9; ++k) key[size_t(k)] = std::llround(alike(k) * 1e9);
            const auto [it, fresh] = known.try_emplace({b.mesh, key}, m_wanted.size());
            if (fresh) {
                m_wanted.push_back({b.mesh, alike});
                if (const auto [e, first] = m_edges.try_emplace(b.mesh); first) e->second = edgesOf(*b.mesh);
            }
            m_stands.push_back({it->second, m_view * b.pose.topRightCorner<3, 1>(), angle});
        }
    }
    /// Work for 0 to count, on two threads.
    template<class Work> void inTwo(size_t count, Work&& work) {
        std::atomic<size_t> next = 0;
        const auto some = [&] {
            for (size_t n = next++; n < count && !halted(); n = next++) work(n);
        };
        std::exception_ptr failed; // no memory there is no memory here
        std::thread helper([&] {
            try {
                some();
            } catch (...) {
                failed = std::current_exception();
                next = count;
            }
        });
        const auto join = [&](std::thread* t) { t->join(); };
        std::unique_ptr<std::thread, decltype(join)> joined(&helper, join); // whatever happens here
        some();
        joined.reset();
        if (failed) std::rethrow_exception(failed);
    }
    void turnAll() {
        m_parts.resize(m_wanted.size());
        inTwo(m_wanted.size(), [&](size_t k) {
            m_parts[k] = covers::turned(*m_wanted[k].first, m_edges.at(m_wanted[k].first), m_wanted[k].second);
        });
    }
    /// Boxes of the bodies in the picture; how near counts as touching.
    void measure() {
        m_boxes.resize(m_stands.size());
        for (size_t k = 0; k < m_stands.size(); ++k) {
            const SeenBody& s = m_stands[k];
            const Mat3 R = Eigen::AngleAxisd(s.angle, Vec3::UnitZ()).toRotationMatrix();
            const Box3& own = m_parts[s.part].box;
            for (int c = 0; c < 8; ++c) m_boxes[k].extend(Vec3(s.at + R * own.corner(Box3::CornerType(c))));
            m_all.extend(m_boxes[k]);
        }
        m_eps = std::max(2e-4, 1e-8 * (m_all.isEmpty() ? 0 : m_all.diagonal().norm()));
    }
    /// What each part hides of itself: once for all that look alike.
    void hideOwn() {
        m_out.parts.resize(m_parts.size());
        inTwo(m_parts.size(), [&](size_t p) {
            Turned& t = m_parts[p];
            const Grid own(t.covers);
            for (const Edge& e : t.edges) t.hidden.push_back(hiddenIn(own, e, {}, m_eps, -1));
            Strands joined;
            for (size_t k = 0; k < t.edges.size(); ++k)
                addPieces(joined, t.edges[k], openOf(t.hidden[k]), Vec2::Zero(), 0);
            m_out.parts[p].strands = joined.joined();
        });
    }
    /// Bodies before which another one may stand: their boxes meet in the picture, and it reaches farther forward. By a
    /// sweep along x.
    void findWhatIsBehind() {
        std::vector<size_t> order(m_stands.size());
        for (size_t k = 0; k < order.size(); ++k) order[k] = k;
        std::sort(order.begin(), order.end(),
                  [&](size_t a, size_t b) { return m_boxes[a].min().x() < m_boxes[b].min().x(); });
        m_behind.assign(m_stands.size(), 0);
        m_before.assign(m_stands.size(), 0);
        std::vector<size_t> open;
        for (size_t k : order) {
            std::erase_if(open, [&](size_t o) { return m_boxes[o].max().x() <= m_boxes[k].min().x() + m_eps; });
            for (size_t o : open) {
                if (m_boxes[o].max().y() <= m_boxes[k].min().y() + m_eps ||
                    m_boxes[o].min().y() >= m_boxes[k].max().y() - m_eps)
                    continue;
                for (const auto& [a, b] : {std::pair{k, o}, {o, k}}) // a before b
                    if (m_boxes[a].max().z() > m_boxes[b].min().z() + m_eps) m_behind[b] = 1, m_before[a] = 1;
            }
            open.push_back(k);
        }
    }
    std::vector<Cover> coversBefore() const {
        std::vector<Cover> covers;
        for (size_t k = 0; k < m_stands.size(); ++k) {
            if (!m_before[k]) continue;
            const SeenBody& s = m_stands[k];
            const Eigen::Rotation2Dd R(s.angle);
            for (Cover c : m_parts[s.part].covers) {
                const Vec2 slope = R * Vec2(c.zx, c.zy);
                for (Vec2& p : c.p) p = R * p + s.at.head<2>();
                c.zx = slope.x();
                c.zy = slope.y();
                c.z0 += s.at.z() - slope.dot(s.at.head<2>());
                c.nearest += s.at.z();
                c.body = std::uint32_t(k);
                covers.push_back(c);
            }
        }
        return covers;
    }
    void hideByOthers(const Grid& grid) {
        std::vector<size_t> todo;
        for (size_t k = 0; k < m_stands.size(); ++k) {
            if (m_behind[k])
                todo.push_back(k);
            else if (!m_withHidden)
                m_out.stands.push_back({k, m_stands[k].part, m_stands[k].at.head<2>(), m_stands[k].angle});
            else
                todo.push_back(k); // its own hidden edges are its own
        }
        m_out.others.resize(todo.size());
        inTwo(todo.size(), [&](size_t n) {
            const size_t k = todo[n];
            const SeenBody& s = m_stands[k];
            const Turned& t = m_parts[s.part];
            const Eigen::Rotation2Dd R(s.angle);
            Strands seen, unseen;
            for (size_t i = 0; i < t.edges.size(); ++i) {
                Edge e = t.edges[i];
                for (Vec3* p : {&e.a, &e.b}) {
                    p->head<2>() = R * Vec2(p->head<2>());
                    *p += s.at;
                }
                const auto hidden = m_behind[k] ? hiddenIn(grid, e, t.hidden[i], m_eps, std::int64_t(k)) : t.hidden[i];
                addPieces(seen, e, openOf(hidden), Vec2::Zero(), 0);
                if (m_withHidden)
                    for (const Interval& h : hidden)
                        addPieces(unseen, e, {{std::max(0.0, h.first), std::min(1.0, h.second)}}, Vec2::Zero(), 0);
            }
            m_out.others[n] = {k, seen.joined(), unseen.joined()};
            if (m_job) m_job->progress = 0.1 + 0.8 * double(n) / double(todo.size());
        });
    }

    Mat3 m_view;
    bool m_withHidden;
    Job* m_job;
    Seen m_out;
    std::vector<std::pair<const Mesh*, Mat3>> m_wanted;
    std::map<const Mesh*, MeshEdges> m_edges; ///< once a mesh, however it is turned
    std::vector<Turned> m_parts;
    std::vector<SeenBody> m_stands;
    std::vector<Box3> m_boxes; ///< of the bodies
    Box3 m_all;
    double m_eps = 0;
    std::vector<char> m_behind, m_before; ///< others may hide it; it may hide others
};

} // namespace

/// Idea: parts that look alike but for a turn in the picture's plane are worked out once - which of their edges show,
/// and what their own faces hide of them - and put where they stand; only bodies whose boxes meet in the picture hide
/// anything of one another. Of an edge a triangle hides the stretch that lies behind it, an interval of the edge in
/// closed form; what is left when all intervals are taken away is seen. Invariant: intervals are shares of the edge, so
/// that rounding moves an end and never loses a line. The triangles stand in cells of a grid over the picture; two
/// threads, a body at a time, give the same whatever the order.
Seen seenLines(const std::vector<MeshAt>& bodies, const Mat3& view, bool withHidden, Job* job) {
    return SeenLines(bodies, view, withHidden, job).make();
}

} // namespace vicinal
