#include "geometry/curves/edit.h"
#include "base/say.h"
#include "geometry/curves/crossings.h"
#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace vicinal {
namespace {

using say::mm;

/// The spans that one segment was cut into.
struct SpanRange {
    size_t first, count;
};
SpanRange rangeOf(const Path& path, size_t span) {
    const auto& spans = path.spans();
    const int segment = spans[span].segment;
    size_t a = span, b = span + 1;
    while (a > 0 && spans[a - 1].segment == segment) --a;
    while (b < spans.size() && spans[b].segment == segment) ++b;
    return {a, b - a};
}

/// Pieces of the path between two loci, from <= to in travel.
void addBetween(const Path& path, Path::Locus from, Path::Locus to, std::vector<Segment>& out) {
    const auto& spans = path.spans();
    size_t k = from.span;
    double t = from.t;
    while (k <= to.span) {
        const SpanRange range = rangeOf(path, k);
        const size_t last = std::min(range.first + range.count - 1, to.span);
        const double tEnd = last == to.span ? to.t : 1;
        const bool whole = k == range.first && t == 0 && last == range.first + range.count - 1 && tEnd == 1;
        const bool even = !std::holds_alternative<Nurbs>(path.segments()[spans[k].segment]);
        if (whole) {
            out.push_back(path.segments()[spans[k].segment]);
        } else if (even) {
            const double n = double(range.count), u0 = (double(k - range.first) + t) / n,
                         u1 = (double(last - range.first) + tEnd) / n;
            if (u1 - u0 > 1e-13) {
                Segment s = path.segments()[spans[k].segment];
                if (u1 < 1) s = split(s, u1).first;
                if (u0 > 0) s = split(s, u0 / u1).second;
                out.push_back(std::move(s));
            }
        } else {
            for (size_t i = k; i <= last; ++i) {
                const double a = i == k ? t : 0, b = i == last ? tEnd : 1;
                if (b - a > 1e-13) out.push_back(segmentOf(spans[i], a, b));
            }
        }
        k = last + 1;
        t = 0;
    }
}

} // namespace

Result<std::vector<Segment>> stretchOf(const Path& path, double from, double to) {
    if (!std::isfinite(from) || !std::isfinite(to)) return Problem{"A station is not a number. Type a length.", "from"};
    const double L = path.length();
    from = std::clamp(from, 0.0, L);
    to = std::clamp(to, 0.0, L);
    std::vector<Segment> out;
    const auto end = [&] { return Path::Locus{path.spans().size() - 1, 1}; };
    if (to > from + tolerance::length) {
        addBetween(path, path.locate(from), to >= L ? end() : path.locate(to), out);
    } else if (path.closed() && from - to > tolerance::length && L - from + to > tolerance::length) {
        if (from < L) addBetween(path, path.locate(from), end(), out);
        if (to > 0) addBetween(path, {0, 0}, path.locate(to), out);
    } else
        return Problem{"From " + mm(from) + " to " + mm(to) + " there is nothing of the " + mm(L) +
                           " long path. Let the end station be larger than the start.",
                       "from"};
    std::erase_if(out, [](const Segment& s) { // a cut right at a joint leaves a crumb
        double length = 0;
        for (const auto& x : spansOf(s, 0)) length += x.length;
        return length < tolerance::length;
    });
    return out;
}

std::vector<Segment> backwards(const Path& path) {
    std::vector<Segment> out(path.segments().rbegin(), path.segments().rend());
    for (auto& s : out) s = reversed(s);
    return out;
}

Result<std::vector<Segment>> startMovedTo(const Path& path, double station) {
    if (!path.closed())
        return Problem{"Only a closed path can start elsewhere. Take a stretch of it instead.", "station"};
    if (!std::isfinite(station)) return Problem{"The station is not a number. Type a length.", "station"};
    double s = std::fmod(station, path.length());
    if (s < 0) s += path.length();
    if (s < tolerance::length || path.length() - s < tolerance::length) return path.segments();
    std::vector<Segment> out;
    addBetween(path, path.locate(s), {path.spans().size() - 1, 1}, out);
    addBetween(path, {0, 0}, path.locate(s), out);
    return out;
}

std::vector<Segment> mirrored(const Path& path, const Vec3& point, const Vec3& normal) {
    const Mat3 R = Mat3::Identity() - 2 * normal * normal.transpose();
    std::vector<Segment> out;
    for (const auto& s : path.segments()) out.push_back(moved(s, R, point - R * point));
    return out;
}

Result<std::vector<Segment>> projectedTo(const Path& path, const Vec3& point, const Vec3& n) {
    const Mat3 A = Mat3::Identity() - n * n.transpose();
    const Vec3 t = n * n.dot(point);
    std::vector<Segment> out;
    const auto add = [&](const Segment& s) {
        double length = 0;
        for (const auto& x : spansOf(s, 0)) length += x.length;
        if (length > tolerance::length) out.push_back(s);
    };
    for (const auto& s : path.segments()) {
        if (std::holds_alternative<Helix>(s) || std::holds_alternative<Catenary>(s))
            for (const auto& b : cubicsNear(s, tolerance::length)) add(mapped(b, A, t));
        else
            add(mapped(s, A, t));
    }
    if (out.empty()) return Problem{"Seen this way the path is a single point. Choose another plane.", "normal"};
    return out;
}

std::vector<Vec3> evenPoints(const Path& path, long count) {
    std::vector<double> stations(static_cast<size_t>(count));
    const double steps = double(path.closed() ? count : count - 1);
    for (long i = 0; i < count; ++i) stations[size_t(i)] = std::min(path.length(), path.length() * double(i) / steps);
    std::vector<Sample> samples(stations.size());
    path.sample(stations, false, samples);
    std::vector<Vec3> out;
    out.reserve(samples.size());
    for (const auto& s : samples) out.push_back(s.point);
    if (!path.closed()) out.back() = path.spans().back().point(1);
    return out;
}

std::vector<Vec3> smoothedPoints(const Path& path, long count, double reach, bool keepEnds) {
    const auto p = evenPoints(path, count);
    const long n = long(p.size());
    const double step = path.length() / double(path.closed() ? n : n - 1);
    std::vector<Vec3> out(p.size());
    for (long i = 0; i < n; ++i) {
        double sigma = reach;
        if (!path.closed() && keepEnds) sigma = std::min(sigma, double(std::min(i, n - 1 - i)) * step / 2.5);
        const long wide = std::min(n - 1, long(std::ceil(3 * sigma / step)));
        if (sigma < tolerance::rounding * step || wide == 0) {
            out[size_t(i)] = p[size_t(i)];
            continue;
        }
        Vec3 sum = Vec3::Zero();
        double weight = 0;
        for (long k = -wide; k <= wide; ++k) {
            long j = i + k;
            if (path.closed())
                j = ((j % n) + n) % n;
            else
                j = std::clamp(j, 0L, n - 1);
            const double x = double(k) * step / sigma, w = std::exp(-x * x / 2);
            sum += w * p[size_t(j)];
            weight += w;
        }
        out[size_t(i)] = sum / weight;
    }
    return out;
}

std::vector<Vec3> simplified(std::span<const Vec3> points, double tolerance) {
    if (points.size() < 3) return {points.begin(), points.end()};
    std::vector<char> keep(points.size(), 0);
    keep.front() = keep.back() = 1;
    std::vector<std::pair<size_t, size_t>> todo{{0, points.size() - 1}};
    while (!todo.empty()) {
        const auto [a, b] = todo.back();
        todo.pop_back();
        double worst = tolerance;
        size_t at = 0;
        const Vec3 chord = points[b] - points[a];
        const double n2 = chord.squaredNorm();
        for (size_t i = a + 1; i < b; ++i) {
            const Vec3 d = points[i] - points[a];
            const double f = n2 > 0 ? std::clamp(d.dot(chord) / n2, 0.0, 1.0) : 0, away = (d - f * chord).norm();
            if (away > worst) worst = away, at = i;
        }
        if (at == 0) continue;
        keep[at] = 1;
        todo.push_back({a, at});
        todo.push_back({at, b});
    }
    std::vector<Vec3> out;
    for (size_t i = 0; i < points.size(); ++i)
        if (keep[i]) out.push_back(points[i]);
    return out;
}

std::vector<Segment> cubicsNear(const Segment& segment, double tolerance) {
    if (std::holds_alternative<Bezier>(segment)) return {segment};
    std::vector<Segment> out;
    for (const Span& s : spansOf(segment, 0)) {
        const auto add = [&](auto&& self, double a, double b, int depth) -> void {
            const Jet ja = s.jet(a), jb = s.jet(b);
            const double h = (b - a) / 3;
            const Bezier c{{ja.p, ja.p + h * ja.d1, jb.p - h * jb.d1, jb.p}};
            bool good = depth >= 16;
            if (!good) {
                good = true;
                const Span fitted = spansOf(c, 0).front();
                for (double f : {0.2, 0.35, 0.5, 0.65, 0.8}) // at the same parameter: no less than the true distance
                    if ((fitted.point(f) - s.point(a + f * (b - a))).norm() > 0.9 * tolerance) good = false;
            }
            if (good) {
                out.push_back(c);
                return;
            }
            self(self, a, (a + b) / 2, depth + 1);
            self(self, (a + b) / 2, b, depth + 1);
        };
        add(add, 0, 1, 0);
    }
    return out;
}

Result<Joined> joined(std::span<const Path> members, double gapTolerance) {
    if (members.empty()) return Problem{"No paths are chosen to be joined. Add at least two.", "members"};
    if (!(gapTolerance >= 0) || !std::isfinite(gapTolerance))
        return Problem{"The gap must be a length of zero or more.", "gap"};
    Joined out;
    std::vector<char> turned(members.size(), 0);
    const auto start = [&](size_t i) { return startOf(members[i].segments().front()); };
    const auto end = [&](size_t i) { return endOf(members[i].segments().back()); };
    for (size_t i = 0; i < members.size(); ++i)
        if (members[i].closed() && members.size() > 1)
            return Problem{"Member " + say::count(i + 1) + " is closed and has no ends to join. Take it out.",
                           "members"};
    if (members.size() > 1) { // the first is turned so that its end is the one nearer to the second
        const auto nearest = [&](const Vec3& p) { return std::min((start(1) - p).norm(), (end(1) - p).norm()); };
        turned[0] = nearest(start(0)) < nearest(end(0)) - tolerance::rounding;
    }
    const auto put = [&](size_t i) {
        auto s = turned[i] ? backwards(members[i]) : members[i].segments();
        out.segments.insert(out.segments.end(), s.begin(), s.end());
    };
    put(0);
    const auto bridge = [&](size_t before, size_t after, const Vec3& to) -> std::optional<Problem> {
        const Vec3 at = endOf(out.segments.back());
        const double gap = (to - at).norm();
        if (gap > gapTolerance && gap > 1e-4)
            return Problem{"Between member " + say::count(before + 1) + " and member " + say::count(after + 1) +
                               " there is a gap of " + mm(gap) + ". Bring the ends together, or join gaps up to that.",
                           "gap"};
        if (gap > 1e-4) out.segments.push_back(Line{at, to});
        out.joints.push_back({before, after, gap, bool(turned[after]), gap > 1e-4});
        return std::nullopt;
    };
    for (size_t i = 1; i < members.size(); ++i) {
        const Vec3 at = endOf(out.segments.back());
        turned[i] = (end(i) - at).norm() < (start(i) - at).norm() - tolerance::rounding;
        if (auto p = bridge(i - 1, i, turned[i] ? end(i) : start(i))) return *p;
        put(i);
    }
    const Vec3 first = startOf(out.segments.front());
    const double gap = (first - endOf(out.segments.back())).norm();
    if (members.size() == 1 && members[0].closed())
        out.closed = true;
    else if (members.size() > 1 && (gap <= gapTolerance || gap <= 1e-4)) {
        if (auto p = bridge(members.size() - 1, 0, first)) return *p;
        out.closed = true;
    }
    return out;
}

std::vector<Vec3> curvatures(const Path& path, std::span<const double> stations) {
    std::vector<Vec3> out;
    out.reserve(stations.size());
    for (double s : stations) {
        const auto at = path.locate(s);
        const Jet j = path.spans()[at.span].jet(at.t);
        const double v2 = j.d1.squaredNorm();
        // Source: do Carmo, "Differential Geometry of Curves and Surfaces", 1976, 1-5, exercise 12.
        out.push_back(v2 > 1e-18 ? Vec3((j.d2 - j.d1 * (j.d1.dot(j.d2) / v2)) / v2) : Vec3::Zero());
    }
    return out;
}

PathPlane planeOf(const Path& path) {
    PathPlane out;
    std::vector<Vec3> points;
    for (const auto& s : path.spans())
        for (int i = 0; i < (s.kind == Span::Kind::Line ? 1 : 6); ++i)
            points.push_back(s.point(i / (s.kind == Span::Kind::Line ? 1.0 : 6.0)));
    points.push_back(path.spans().back().point(1));
    for (const auto& p : points) out.middle += p / double(points.size());
    Mat3 spread = Mat3::Zero();
    for (const auto& p : points) spread += (p - out.middle) * (p - out.middle).transpose();
    const Eigen::SelfAdjointEigenSolver<Mat3> axes(spread);
    const double middle = axes.eigenvalues()[1], largest = axes.eigenvalues()[2];
    out.normal = axes.eigenvectors().col(0);
    if (middle < 1e-18 * largest) // straight: any plane holds it; the level-most one is the natural choice
        out.normal = anyNormal(axes.eigenvectors().col(2))
                         .cross(axes.eigenvectors().col(2))
                         .cross(axes.eigenvectors().col(2))
                         .normalized();
    if (out.normal.z() < 0 || (out.normal.z() == 0 && out.normal.sum() < 0)) out.normal = -out.normal;
    for (const auto& p : points)
        if (std::abs(out.normal.dot(p - out.middle)) > tolerance::alike * path.length()) out.planar = false;
    return out;
}

PathFacts factsOf(const Path& path) {
    PathFacts out{planeOf(path)};
    double bend = 0;
    for (const auto& s : path.spans()) {
        if (s.kind == Span::Kind::Line) continue;
        const auto at = [&](double t) {
            const Jet j = s.jet(t);
            const double v2 = j.d1.squaredNorm();
            return v2 > 1e-18 * s.length * s.length ? j.d1.cross(j.d2).norm() / (v2 * std::sqrt(v2)) : 0;
        };
        const int n = s.kind == Span::Kind::Arc ? 1 : 24;
        std::vector<double> samples(size_t(n) + 1);
        for (int i = 0; i <= n; ++i) samples[size_t(i)] = at(double(i) / n);
        for (int i = 0; i <= n; ++i) {
            double t = double(i) / n, k = samples[size_t(i)];
            // A top may stand beside any sample that is no lower than its neighbours, be it lower than one elsewhere.
            if (i > 0 && samples[size_t(i) - 1] > k) continue;
            if (i < n && samples[size_t(i) + 1] > k) continue;
            double a = std::max(0.0, t - 1.0 / n), b = std::min(1.0, t + 1.0 / n);
            for (int j = 0; j < 50 && n > 1; ++j) {
                const double u = a + (b - a) * 0.382, v = a + (b - a) * 0.618;
                (at(u) > at(v) ? b : a) = at(u) > at(v) ? v : u;
            }
            if (n > 1 && at((a + b) / 2) > k) t = (a + b) / 2, k = at(t);
            if (k <= bend) continue;
            bend = k;
            out.sharpest = 1 / k;
            out.sharpestAt = s.start + lengthBetween(s, 0, t);
        }
    }
    const Quat turn = Quat::FromTwoVectors(out.normal, Vec3::UnitZ());
    std::vector<Span> level;
    for (const auto& s : path.segments())
        for (auto& x : spansOf(moved(s, turn.toRotationMatrix(), -(turn * out.middle)), 0))
            level.push_back(std::move(x));
    for (const auto& c : crossingsInPlan(level, path.closed(), path.length() * 1e-4))
        if (std::abs(level[c.a].point(c.ta).z() - level[c.b].point(c.tb).z()) < 1e-3) ++out.crossings;
    return out;
}

} // namespace vicinal
