#include "layout/vehicles/envelope.h"
#include "base/numeric/solve.h"
#include "geometry/wheels/hull.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal {
namespace {

/// A path seen from above.
class InPlan {
public:
    explicit InPlan(const Path& path) : m_path(path), m_length(path.length()) {}

    struct At {
        Vec2 point, tangent; ///< unit; zero where the path stands plumb
        Vec2 left() const { return {-tangent.y(), tangent.x()}; }
    };
    At at(double s) const {
        if (m_path.closed()) {
            s = std::fmod(s, m_length);
            if (s < 0) s += m_length;
        }
        s = std::clamp(s, 0.0, m_length);
        const Sample x = m_path.at(s);
        const Vec2 t = x.tangent.head<2>();
        return {x.point.head<2>(), t.norm() > tolerance::rounding ? Vec2(t.normalized()) : Vec2(0, 0)};
    }
    /// The station near `guess` that lies square below a point.
    double below(const Vec2& p, double guess) const {
        double s = guess, step = 0, miss = 0;
        for (int i = 0; i < 30; ++i) {
            const At a = at(s);
            const double now = (p - a.point).dot(a.tangent);
            // Secants: in a bend what is missing shrinks by less than one goes.
            const double slope = i > 0 && now != miss ? (now - miss) / step : -1;
            miss = now;
            step = slope < -0.2 && slope > -5 ? -now / slope : now;
            s += step;
            if (std::abs(step) < 1e-11 * (1 + std::abs(s))) break;
        }
        return s;
    }
    double beside(const Vec2& p, double station) const {
        const At a = at(station);
        return (p - a.point).dot(a.left());
    }
    double wrap(double s) const {
        if (!m_path.closed()) return std::clamp(s, 0.0, m_length);
        s = std::fmod(s, m_length);
        return s < 0 ? s + m_length : s;
    }

private:
    const Path& m_path;
    double m_length;
};

/// Its box from above: convex, counter-clockwise.
std::vector<Vec2> outlineOf(const Frame& f, const Box3& seated) {
    std::vector<Vec2> corners, out;
    for (int c = 0; c < 8; ++c) corners.push_back((f.seat + f.axes * seated.corner(Box3::CornerType(c))).head<2>());
    for (size_t k : convexHull(corners)) out.push_back(corners[k]);
    return out;
}

// Idea: a train is let go along the path in steps; lines square to the path are cut with the outline of every vehicle,
// its corners dropped onto the path, and the parabola through three neighbours stands for what lies between steps. The
// worst reach to either side is then searched over the station between the steps beside it, for corners and for the
// farthest points of edges, which each go smoothly. Invariant: what is told as the worst is taken by an outline that
// stands there. O(length / step).
/// How far an outline reaches on a line square to the path, and by which of its edges.
struct Across {
    std::array<double, 2> reach{-kFar, -kFar}; ///< to the left, to the right
    std::array<size_t, 2> edge{};
};
std::optional<Across> across(const std::vector<Vec2>& outline, const InPlan::At& at) {
    Across out;
    bool any = false;
    const Vec2 left = at.left();
    for (size_t k = 0; k < outline.size(); ++k) {
        const Vec2 a = outline[k] - at.point, b = outline[(k + 1) % outline.size()] - at.point;
        const double x = a.dot(at.tangent), y = b.dot(at.tangent);
        if ((x > 0) == (y > 0)) continue;
        const double u = (a + (b - a) * (x / (x - y))).dot(left);
        if (u > out.reach[0]) out.reach[0] = u, out.edge[0] = k;
        if (-u > out.reach[1]) out.reach[1] = -u, out.edge[1] = k;
        any = true;
    }
    return any ? std::optional(out) : std::nullopt;
}

} // namespace

EnvelopeAt envelopeAt(const Path& path, const Vehicles& vehicles, const VehiclePose& s, const Box3& seated) {
    const InPlan plan(path);
    const Frame f = vehicles.frame(s);
    const auto outline = outlineOf(f, seated);
    const double middle = (s.first + s.last) / 2;
    const Vec2 nose = f.axes.col(0).head<2>(), centre = s.middle().head<2>();
    EnvelopeAt out;
    out.left = out.right = -kFar;
    const auto take = [&](const Vec2& p) {
        const double at = plan.below(p, middle + (p - centre).dot(nose)), u = plan.beside(p, at);
        if (u > out.left) out.left = u, out.leftStation = plan.wrap(at);
        if (-u > out.right) out.right = -u, out.rightStation = plan.wrap(at);
    };
    for (size_t k = 0; k < outline.size(); ++k) {
        const Vec2 a = outline[k], b = outline[(k + 1) % outline.size()];
        take(a);
        for (double sign : {1.0, -1.0}) {
            const double t = largest(0, 1, [&](double x) {
                const Vec2 p = a + x * (b - a);
                return sign * plan.beside(p, plan.below(p, middle + (p - centre).dot(nose)));
            });
            take(a + t * (b - a));
        }
    }
    const Vec2 t = plan.at(s.first).tangent, u = plan.at(s.last).tangent;
    out.bend = std::atan2(t.x() * u.y() - t.y() * u.x(), t.dot(u));
    if (std::abs(out.bend) < tolerance::rounding) out.bend = 0;
    return out;
}

namespace {

/// The room of vehicles, station by station.
class Envelope {
public:
    Envelope(const Path& path, const Vehicles& vehicles, std::span<const size_t> which, std::span<const Slot> parts,
             const Stop* stop)
        : m_path(path), m_vehicles(vehicles), m_parts(parts), m_stop(stop), m_plan(path), m_length(path.length()) {
        double shortest = m_length;
        for (size_t k : which) shortest = std::min(shortest, m_vehicles.gear(k).apart());
        m_n = int(std::clamp(m_length / shortest * 12, 96.0, 480.0));
        for (int i = 0; i <= m_n; ++i) {
            m_out.stations.push_back(m_length * i / m_n);
            m_at.push_back(m_plan.at(m_out.stations.back()));
        }
        m_out.left.assign(m_at.size(), 0);
        m_out.right.assign(m_at.size(), 0);
        m_step = m_length / m_n;
    }
    /// All along with one kind of part; false when stopped.
    bool sweep(size_t slot) {
        // Where it was worst, as the steps tell; then between them.
        Candidate worst;
        const double last =
            m_path.closed() ? m_length - m_step / 2 : m_length - m_vehicles.toLast(int(slot)) + m_step / 2;
        for (double s = 0; s <= last; s += m_step) {
            if (stopped(m_stop)) return false;
            const VehiclePose stood = m_vehicles.stand(slot, s);
            if (!stood.stands()) continue;
            const Sides reach = stand(stood, m_parts[slot].seated);
            const Vec2 t = m_plan.at(stood.first).tangent, u = m_plan.at(stood.last).tangent;
            const double bend = t.x() * u.y() - t.y() * u.x();
            double inside = bend > 0 ? reach.left : reach.right, outside = bend > 0 ? reach.right : reach.left;
            if (std::abs(bend) <= tolerance::rounding) inside = outside = std::max(reach.left, reach.right);
            if (inside > worst.inside + tolerance::rounding) worst.inside = inside, worst.insideAt = s;
            if (outside > worst.outside + tolerance::rounding) worst.outside = outside, worst.outsideAt = s;
        }
        if (worst.inside < 0) return true;
        refine(slot, worst.insideAt, true, m_out.inside);
        refine(slot, worst.outsideAt, false, m_out.outside);
        return true;
    }
    SweptEnvelope take(bool whole) {
        if (!whole) return std::move(m_out);
        if (m_path.closed()) m_out.left.back() = m_out.left.front(), m_out.right.back() = m_out.right.front();
        for (size_t i = 0; i < m_at.size(); ++i)
            if (m_out.left[i] + m_out.right[i] > m_out.widest)
                m_out.widest = m_out.left[i] + m_out.right[i], m_out.widestAt = m_out.stations[i];
        return std::move(m_out);
    }

private:
    struct Candidate {
        double inside = -1, outside = -1, insideAt = 0, outsideAt = 0;
    };
    struct Sides {
        double left = -kFar, right = -kFar;
    };
    void put(int i, size_t side, double reached) {
        if (m_path.closed())
            i = (i % m_n + m_n) % m_n;
        else if (i < 0 || i > m_n)
            return;
        double& most = (side == 0 ? m_out.left : m_out.right)[size_t(i)];
        most = std::max(most, reached);
    }
    /// One body where it stands: how far it reaches, here and at every station beside it.
    Sides stand(const VehiclePose& stood, const Box3& seated) {
        Sides most;
        const Frame f = m_vehicles.frame(stood);
        const auto outline = outlineOf(f, seated);
        double reach = 0;
        for (const Vec2& p : outline) reach = std::max(reach, (p - stood.middle().head<2>()).norm());
        const double middle = (stood.first + stood.last) / 2;
        const int from = int(std::floor((middle - 1.3 * reach) / m_step)),
                  to = int((middle + 1.3 * reach) / m_step) + 1;
        std::vector<Across> lines; // neighbours
        int firstLine = 0;
        for (int i = from; i <= to; ++i) {
            if (!m_path.closed() && (i < 0 || i > m_n)) continue;
            const auto line = across(outline, m_at[size_t(m_path.closed() ? (i % m_n + m_n) % m_n : i)]);
            // Another strand of the path may pass below the same line.
            if (!line || std::max(line->reach[0], line->reach[1]) > 2 * reach) continue;
            put(i, 0, line->reach[0]);
            put(i, 1, line->reach[1]);
            most.left = std::max(most.left, line->reach[0]), most.right = std::max(most.right, line->reach[1]);
            if (lines.empty()) firstLine = i;
            if (i == firstLine + int(lines.size())) lines.push_back(*line);
        }
        topBetween(lines, firstLine);
        const Vec2 centre = stood.middle().head<2>(), nose = f.axes.col(0).head<2>();
        for (const Vec2& p : outline) { // corners are farthest out, and lie between the lines
            const double below = m_plan.below(p, middle + (p - centre).dot(nose)), u = m_plan.beside(p, below);
            if (!m_path.closed() && (below < 0 || below > m_length)) continue;
            put(int(std::lround(below / m_step)), 0, u);
            put(int(std::lround(below / m_step)), 1, -u);
            most.left = std::max(most.left, u), most.right = std::max(most.right, -u);
        }
        return most;
    }
    /// Between the lines an edge may reach farther: the top of the parabola through three of them.
    void topBetween(const std::vector<Across>& lines, int firstLine) {
        for (size_t k = 1; k + 1 < lines.size(); ++k)
            for (size_t side = 0; side < 2; ++side) {
                const double a = lines[k - 1].reach[side], b = lines[k].reach[side], c = lines[k + 1].reach[side];
                const size_t edge = lines[k].edge[side];
                if (lines[k - 1].edge[side] != edge || lines[k + 1].edge[side] != edge) continue;
                if (!(b >= a && b >= c) || !(2 * b - a - c > 0)) continue;
                put(firstLine + int(k), side, b + (c - a) * (c - a) / (8 * (2 * b - a - c)));
            }
    }
    void refine(size_t slot, double s0, bool inside, SweptEnvelope::Worst& best) const {
        EnvelopeAt exact;
        const double low = m_path.closed() ? s0 - m_step : std::max(0.0, s0 - m_step);
        const double high =
            m_path.closed() ? s0 + m_step : std::min(s0 + m_step, m_length - m_vehicles.toLast(int(slot)));
        const auto measure = [&](double s) {
            const VehiclePose stood = m_vehicles.stand(slot, s);
            if (!stood.stands()) return -kFar;
            exact = envelopeAt(m_path, m_vehicles, stood, m_parts[slot].seated);
            return inside ? exact.inside() : exact.outside();
        };
        for (double s : {largest(low, std::max(low, high), measure), std::min(s0, std::max(low, high))})
            if (const double v = measure(s); v > best.reach + tolerance::rounding)
                best = {v, inside ? exact.insideStation() : exact.outsideStation(), slot};
    }

    const Path& m_path;
    const Vehicles& m_vehicles;
    std::span<const Slot> m_parts;
    const Stop* m_stop;
    InPlan m_plan;
    double m_length, m_step = 0;
    int m_n = 0;
    std::vector<InPlan::At> m_at; ///< the path at the stations
    SweptEnvelope m_out;
};

} // namespace

SweptEnvelope sweptEnvelope(const Path& path, const Vehicles& vehicles, std::span<const size_t> which,
                            std::span<const Slot> parts, const Stop* stop) {
    Envelope envelope(path, vehicles, which, parts, stop);
    bool whole = true;
    for (size_t k = 0; k < which.size() && whole; ++k) whole = envelope.sweep(which[k]);
    return envelope.take(whole);
}

} // namespace vicinal
