#include "parts/rails/bent.h"
#include "base/say.h"
#include "parts/rails/sweep.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

Mat3 axesOf(const Vec3& tangent, const Vec3& up) {
    Mat3 out;
    out << tangent, up.cross(tangent), up;
    return out;
}

/// The stops of a line: as few as its bends allow.
class Stops {
public:
    Stops(const Path& line, const RailUps& ups, double sag) : m_line(line), m_ups(ups), m_sag(sag) {}

    std::vector<RailStop> all() const {
        std::vector<double> stations;
        for (const Span& s : m_line.spans()) {
            const int pieces = s.kind == Span::Kind::Line && m_ups.ups.empty() ? 1 : 4;
            for (int k = 0; k < pieces; ++k) stations.push_back(s.start + s.length * k / pieces);
        }
        stations.push_back(m_line.length());
        std::vector<Stop> stops = at(stations);
        for (int round = 0; round < 12; ++round) { // halved where it bends too much
            std::vector<double> more;
            for (size_t i = 0; i + 1 < stops.size(); ++i)
                if (stops.size() + more.size() < 200'000 && bends(stops[i], stops[i + 1]))
                    more.push_back((stations[i] + stations[i + 1]) / 2);
            if (more.empty()) break;
            auto added = at(more);
            std::vector<double> s;
            std::vector<Stop> merged;
            s.reserve(stations.size() + more.size());
            merged.reserve(s.capacity());
            size_t k = 0;
            for (size_t i = 0; i < stations.size(); ++i) {
                for (; k < more.size() && more[k] < stations[i]; ++k) s.push_back(more[k]), merged.push_back(added[k]);
                s.push_back(stations[i]);
                merged.push_back(stops[i]);
            }
            stations = std::move(s);
            stops = std::move(merged);
        }
        // A line of many short pieces has more than its bends need.
        std::vector<RailStop> out{stops.front()};
        size_t kept = 0;
        for (size_t i = 1; i + 1 < stops.size(); ++i) {
            const bool corner = !stops[i].leaving.isApprox(stops[i].axes, tolerance::fine);
            if (!corner && !bends(stops[kept], stops[i + 1])) continue;
            out.push_back(stops[i]);
            kept = i;
        }
        if (!m_line.closed()) out.push_back(stops.back()); // else the first one again
        return out;
    }

private:
    /// At a corner it arrives one way and leaves another.
    struct Stop : RailStop {
        Mat3 leaving;
    };
    std::vector<Stop> at(const std::vector<double>& stations) const {
        std::vector<Sample> samples(stations.size());
        m_line.sample(stations, false, samples);
        std::vector<Stop> out;
        out.reserve(stations.size());
        const auto& corners = m_line.corners();
        const double L = m_line.length();
        for (size_t i = 0; i < stations.size(); ++i) {
            const double s = stations[i];
            Vec3 t = samples[i].tangent, cut = t, leaving = t;
            for (double on : {s, m_line.closed() && s > L - tolerance::length ? 0 : s}) {
                const auto c = std::lower_bound(corners.begin(), corners.end(), on - tolerance::length,
                                                [](const Corner& a, double b) { return a.station < b; });
                if (c == corners.end() || c->station > on + tolerance::length) continue;
                const Vec3 sum = c->before + c->after;
                t = c->before, leaving = c->after;
                cut = sum.norm() < 1e-3 ? t : Vec3(sum.normalized()); // turns right back: found out as too sharp
            }
            out.push_back({{samples[i].point, axesOf(t, m_ups.at(s, t)), cut}, axesOf(leaving, m_ups.at(s, leaving))});
        }
        return out;
    }
    bool bends(const Stop& a, const Stop& b) const {
        const Eigen::AngleAxisd turn(Mat3(a.leaving.transpose() * b.axes));
        return turn.angle() > tolerance::alike &&
               (turn.angle() > 8 * kDegree || (b.at - a.at).norm() * turn.angle() / 8 > m_sag);
    }

    const Path& m_line;
    const RailUps& m_ups;
    double m_sag;
};

/// The bend of a return and its leg, going away from the rail.
std::vector<RailStop> returned(const RailStop& from, bool atStart, const RailEnds& ends) {
    std::vector<RailStop> out;
    const Vec3 t = atStart ? Vec3(-from.axes.col(0)) : Vec3(from.axes.col(0)), d = towards(ends.to, from.axes);
    const Vec3 centre = from.at + ends.radius * d, axis = t.cross(d);
    constexpr int kSteps = 12;
    for (int k = 1; k <= kSteps + 1; ++k) {
        const bool leg = k > kSteps;
        if (leg && !(ends.leg > tolerance::length)) break;
        const double a = kPi / 2 * std::min(k, kSteps) / kSteps;
        const Mat3 axes = Eigen::AngleAxisd(a, axis).toRotationMatrix() * from.axes;
        const Vec3 at = centre + ends.radius * (std::sin(a) * t - std::cos(a) * d);
        out.push_back({leg ? Vec3(at + ends.leg * d) : at, axes, axes.col(0)});
    }
    return out;
}

/// Where the section runs back into itself between two stops.
std::optional<Problem> tooSharp(const Path& line, const std::vector<RailStop>& stops, const RailFace& face) {
    const size_t n = stops.size();
    for (size_t i = 0; i + (line.closed() ? 0 : 1) < n; ++i) {
        const RailStop &a = stops[i], &b = stops[(i + 1) % n];
        const Vec3 along = b.at - a.at;
        for (const Vec3& p : face.mesh->points)
            if ((pointAt(b, p.head<2>()) - pointAt(a, p.head<2>())).dot(along) <= 0) {
                const double turn = Eigen::AngleAxisd(Mat3(a.axes.transpose() * b.axes)).angle();
                const Words radius =
                    turn > 1e-3 ? ", to a radius of about " + say::mm(along.norm() / turn) + "," : Words();
                return Problem{"The path bends too sharply at station " + say::mm(line.closest(a.at)) + radius +
                                   " for a section that reaches so far to the inside. Make the section smaller, or run "
                                   "it on the outside of the bend.",
                               "width"};
            }
    }
    return std::nullopt;
}

} // namespace

Vec3 towards(RailReturn to, const Mat3& axes) {
    switch (to) {
    case RailReturn::Down: return -axes.col(2);
    case RailReturn::Up: return axes.col(2);
    case RailReturn::Left: return axes.col(1);
    default: return -axes.col(1);
    }
}

Vec3 RailUps::at(double station, const Vec3& tangent) const {
    Vec3 up = Vec3::UnitZ();
    if (!ups.empty()) {
        const auto i = size_t(std::upper_bound(stations.begin(), stations.end(), station) - stations.begin());
        if (i == 0 || i == stations.size()) {
            up = ups[i == 0 ? 0 : i - 1];
        } else {
            const double u = (station - stations[i - 1]) / std::max(stations[i] - stations[i - 1], tolerance::fine);
            up = (1 - u) * ups[i - 1] + u * ups[i];
        }
    }
    const Vec3 square = up - tangent * tangent.dot(up);
    return square.norm() > tolerance::rounding ? Vec3(square.normalized()) : anyNormal(tangent);
}

namespace {

/// Triangles over the section at every stop.
void sweep(Mesh& to, const Loft& loft, const std::vector<RailStop>& stops, bool closed) {
    std::vector<Vec3> points;
    points.reserve(stops.size() * loft.face().points.size());
    for (const RailStop& s : stops)
        for (const Vec3& p : loft.face().points) points.push_back(pointAt(s, p.head<2>()));
    loft.add(to, points, closed);
}

} // namespace

Result<BentRail> bentRail(const Path& line, const RailUps& ups, const RailFace& face, const RailEnds& ends) {
    const Vec3 size = face.mesh->box.sizes();
    auto stops = Stops(line, ups, std::max(size.maxCoeff() / 200, line.length() / 200'000)).all();
    if (auto wrong = tooSharp(line, stops, face)) return *wrong;
    BentRail out;
    out.home = line.bounds().center();
    out.length = line.length();
    out.mitred = !line.corners().empty();
    const bool closed = line.closed();
    const size_t first = 0, last = stops.size() - 1;
    const auto check = [&](const RailStop& from) -> std::optional<Problem> {
        const Vec3 d = towards(ends.to, from.axes);
        const double inside = reachOf(face.hull, Vec2(d.dot(from.axes.col(1)), d.dot(from.axes.col(2))));
        if (!(ends.radius > inside && inReach(ends.radius)))
            return Problem{"The return's radius is " + say::mm(ends.radius) + "; its inside needs more than " +
                               say::mm(inside) + ".",
                           "returnRadius"};
        if (!(ends.leg >= 0 && inReach(ends.leg)))
            return Problem{"The return goes on by " + say::mm(ends.leg) + "; use 0 or more.", "returnLeg"};
        return std::nullopt;
    };
    SweepOrder order{line, ups, face, ends, stops[first], stops[last]};
    std::vector<RailStop> before, after;
    if (!closed && ends.start == RailEnd::Returned) {
        if (auto wrong = check(stops[first])) return *wrong;
        before = returned(stops[first], true, ends);
        std::reverse(before.begin(), before.end());
        for (RailStop& s : before) s.cut = s.axes.col(0);
    }
    if (!closed && ends.end == RailEnd::Returned) {
        if (auto wrong = check(stops[last])) return *wrong;
        after = returned(stops[last], false, ends);
    }
    for (const auto* more : {&before, &after})
        if (!more->empty()) out.length += kPi / 2 * ends.radius + ends.leg;
    stops.insert(stops.begin(), before.begin(), before.end());
    stops.insert(stops.end(), after.begin(), after.end());
    for (const RailEnd e : {ends.start, ends.end})
        if (!closed && e == RailEnd::Capped && !(ends.cap >= 1e-3 && ends.cap <= 1e6))
            return Problem{"The cap is " + say::mm(ends.cap) + " thick; use 0.001 mm or more.", "cap"};
    Mesh mesh;
    sweep(mesh, Loft(*face.mesh), stops, closed);
    const auto cap = [&](const RailStop& at, double from, double to) {
        RailStop a = at, b = at;
        a.cut = b.cut = at.axes.col(0);
        a.at += from * at.axes.col(0);
        b.at += to * at.axes.col(0);
        sweep(mesh, Loft(*face.full), {a, b}, false);
    };
    if (!closed && ends.start == RailEnd::Capped) cap(stops.front(), -ends.cap, 0);
    if (!closed && ends.end == RailEnd::Capped) cap(stops.back(), 0, ends.cap);
    for (Vec3& p : mesh.points) p -= out.home;
    mesh.box = Box3();
    for (const Vec3& p : mesh.points) mesh.box.extend(p);
    Body body;
    body.mesh = std::make_shared<const Mesh>(std::move(mesh));
    order.home = out.home;
    body.slow = true;
    body.solid = std::make_shared<const LazySolid>([order] { return sweptSolid(order); });
    out.body = std::make_shared<const Body>(std::move(body));
    return out;
}

} // namespace vicinal
