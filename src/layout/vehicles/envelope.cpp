#include "layout/vehicles/envelope.h"
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
        return {x.point.head<2>(), t.norm() > 1e-9 ? Vec2(t.normalized()) : Vec2(0, 0)};
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

/// Where f is largest in a..b, by the golden section.
template<class F> double largest(double a, double b, F&& f) {
    const double g = (std::sqrt(5.0) - 1) / 2;
    double x = b - g * (b - a), y = a + g * (b - a), fx = f(x), fy = f(y);
    for (int i = 0; i < 28; ++i) { // to a millionth of the range: at a top the value is good to its square
        if (fx > fy)
            b = y, y = x, fy = fx, x = b - g * (b - a), fx = f(x);
        else
            a = x, x = y, fx = fy, y = a + g * (b - a), fy = f(y);
    }
    return fx > fy ? x : y;
}

// Idea: a train is let go along the path in steps; lines square to the path are cut with the outline of every vehicle,
// its corners dropped onto the path, and the parabola through three neighbours stands for what lies between steps. The
// worst reach to either side is then searched over the station between the steps beside it, for corners and for the
// farthest points of edges, which each go smoothly. Invariant: what is told as the worst is taken by an outline that
// stands there. O(length / step).
/// How far an outline reaches on a line square to the path, and by which of its edges.
struct Across {
    std::array<double, 2> reach{-1e300, -1e300}; ///< to the left, to the right
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
    out.left = out.right = -1e300;
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
    if (std::abs(out.bend) < 1e-9) out.bend = 0;
    return out;
}

SweptEnvelope sweptEnvelope(const Path& path, const Vehicles& vehicles, std::span<const size_t> which,
                            std::span<const Slot> parts, const Stop* stop) {
    const InPlan plan(path);
    const double L = path.length();
    SweptEnvelope out;
    double shortest = L;
    for (size_t k : which) shortest = std::min(shortest, vehicles.gear(k).apart());
    const int n = int(std::clamp(L / shortest * 12, 96.0, 480.0));
    std::vector<InPlan::At> at;
    for (int i = 0; i <= n; ++i) {
        out.stations.push_back(L * i / n);
        at.push_back(plan.at(out.stations.back()));
    }
    out.left.assign(at.size(), 0);
    out.right.assign(at.size(), 0);
    const double step = L / n;
    // Where each part was worst, as the steps tell; then between them.
    struct Candidate {
        double inside = -1, outside = -1, insideAt = 0, outsideAt = 0;
    };
    for (size_t slot : which) {
        const Box3& seated = parts[slot].seated;
        Candidate worst;
        const double last = path.closed() ? L - step / 2 : L - vehicles.toLast(int(slot)) + step / 2;
        for (double s = 0; s <= last; s += step) {
            if (stopped(stop)) return out;
            const VehiclePose stood = vehicles.stand(slot, s);
            if (!stood.stands()) continue;
            const Frame f = vehicles.frame(stood);
            const auto outline = outlineOf(f, seated);
            double reach = 0, left = -1e300, right = -1e300;
            for (const Vec2& p : outline) reach = std::max(reach, (p - stood.middle().head<2>()).norm());
            const double middle = (stood.first + stood.last) / 2;
            const int from = int(std::floor((middle - 1.3 * reach) / step)),
                      to = int((middle + 1.3 * reach) / step) + 1;
            const auto put = [&](int i, size_t side, double reached) {
                if (path.closed())
                    i = (i % n + n) % n;
                else if (i < 0 || i > n)
                    return;
                double& most = (side == 0 ? out.left : out.right)[size_t(i)];
                most = std::max(most, reached);
            };
            std::vector<Across> lines; // neighbours
            int firstLine = 0;
            for (int i = from; i <= to; ++i) {
                if (!path.closed() && (i < 0 || i > n)) continue;
                const auto line = across(outline, at[size_t(path.closed() ? (i % n + n) % n : i)]);
                // Another strand of the path may pass below the same line.
                if (!line || std::max(line->reach[0], line->reach[1]) > 2 * reach) continue;
                put(i, 0, line->reach[0]);
                put(i, 1, line->reach[1]);
                left = std::max(left, line->reach[0]), right = std::max(right, line->reach[1]);
                if (lines.empty()) firstLine = i;
                if (i == firstLine + int(lines.size())) lines.push_back(*line);
            }
            // Between the lines an edge may reach farther: the top of the parabola through three of them.
            for (size_t k = 1; k + 1 < lines.size(); ++k)
                for (size_t side = 0; side < 2; ++side) {
                    const double a = lines[k - 1].reach[side], b = lines[k].reach[side], c = lines[k + 1].reach[side];
                    const size_t edge = lines[k].edge[side];
                    if (lines[k - 1].edge[side] != edge || lines[k + 1].edge[side] != edge) continue;
                    if (!(b >= a && b >= c) || !(2 * b - a - c > 0)) continue;
                    put(firstLine + int(k), side, b + (c - a) * (c - a) / (8 * (2 * b - a - c)));
                }
            const Vec2 centre = stood.middle().head<2>(), nose = f.axes.col(0).head<2>();
            for (const Vec2& p : outline) { // corners are farthest out, and lie between the lines
                const double below = plan.below(p, middle + (p - centre).dot(nose)), u = plan.beside(p, below);
                if (!path.closed() && (below < 0 || below > L)) continue;
                put(int(std::lround(below / step)), 0, u);
                put(int(std::lround(below / step)), 1, -u);
                left = std::max(left, u), right = std::max(right, -u);
            }
            const Vec2 t = plan.at(stood.first).tangent, u = plan.at(stood.last).tangent;
            const double bend = t.x() * u.y() - t.y() * u.x();
            double inside = bend > 0 ? left : right, outside = bend > 0 ? right : left;
            if (std::abs(bend) <= 1e-9) inside = outside = std::max(left, right);
            if (inside > worst.inside + 1e-9) worst.inside = inside, worst.insideAt = s;
            if (outside > worst.outside + 1e-9) worst.outside = outside, worst.outsideAt = s;
        }
        if (worst.inside < 0) continue;
        const auto refine = [&](double s0, bool inside, SweptEnvelope::Worst& best) {
            EnvelopeAt exact;
            const double low = path.closed() ? s0 - step : std::max(0.0, s0 - step);
            const double high = path.closed() ? s0 + step : std::min(s0 + step, L - vehicles.toLast(int(slot)));
            const auto measure = [&](double s) {
                const VehiclePose stood = vehicles.stand(slot, s);
                if (!stood.stands()) return -1e300;
                exact = envelopeAt(path, vehicles, stood, seated);
                return inside ? exact.inside() : exact.outside();
            };
            for (double s : {largest(low, std::max(low, high), measure), std::min(s0, std::max(low, high))})
                if (const double v = measure(s); v > best.reach + 1e-9)
                    best = {v, inside ? exact.insideStation() : exact.outsideStation(), slot};
        };
        refine(worst.insideAt, true, out.inside);
        refine(worst.outsideAt, false, out.outside);
    }
    if (path.closed()) out.left.back() = out.left.front(), out.right.back() = out.right.front();
    for (size_t i = 0; i < at.size(); ++i)
        if (out.left[i] + out.right[i] > out.widest)
            out.widest = out.left[i] + out.right[i], out.widestAt = out.stations[i];
    return out;
}

} // namespace vicinal
