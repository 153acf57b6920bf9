// Lines, rings and triangles that makers are made from.
#include "geometry/path/path.h"
#include "parts/makers/build.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

Ring turnedProfile(const Baluster& b) {
    const double R = b.width / 2, h = b.height - (b.top == Baluster::Top::Flat ? 0 : b.point);
    const auto p = [&](double r, double z) { return Vec3(R * r, 0, h * z); };
    return {Line{p(1, 0), p(1, 0.10)},          Line{p(1, 0.10), p(0.62, 0.12)},
            Line{p(0.62, 0.12), p(0.62, 0.14)}, Bezier{{p(0.62, 0.14), p(1.12, 0.20), p(1.05, 0.42), p(0.50, 0.70)}},
            Line{p(0.50, 0.70), p(0.50, 0.74)}, Bezier{{p(0.50, 0.74), p(0.86, 0.745), p(0.86, 0.785), p(0.50, 0.79)}},
            Line{p(0.50, 0.79), p(0.50, 0.82)}, Line{p(0.50, 0.82), p(0.92, 0.86)},
            Line{p(0.92, 0.86), p(0.92, 1)}};
}

std::vector<Vec2> lampProfile(const BollardLamp& m) {
    const double D = m.diameter / 2, cap = std::min(0.06 * m.height, (m.height - m.footThickness - m.ring) / 3);
    const double ring = m.height - cap - m.ring;
    return {{m.foot / 2, 0},
            {m.foot / 2, m.footThickness},
            {0.86 * D, m.footThickness},
            {0.86 * D, ring - 0.4 * cap},
            {D, ring - 0.4 * cap},
            {D, ring},
            {0.72 * D, ring},
            {0.72 * D, ring + m.ring},
            {D, ring + m.ring},
            {D, ring + m.ring + 0.4 * cap},
            {0.6 * D, m.height}};
}

Ring stoneEdge(const SteppingStone& m) {
    // Seeded and the same on every machine: a few bits of a well-mixed number for each corner.
    std::vector<Vec3> points;
    const int n = 9;
    for (int i = 0; i < n; ++i) {
        std::uint64_t x =
            (std::uint64_t(m.number) + 1) * 0x9e3779b97f4a7c15ull + std::uint64_t(i) * 0xbf58476d1ce4e5b9ull;
        x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9ull;
        x = (x ^ (x >> 27)) * 0x94d049bb133111ebull;
        x ^= x >> 31;
        const double f = 1 + m.roughness * (double(x >> 11) * 0x1p-53 * 2 - 1), a = 2 * kPi * i / n;
        points.push_back(Vec3(m.length / 2 * f * std::cos(a), m.width / 2 * f * std::sin(a), 0));
    }
    std::unique_ptr<bool[]> smooth(new bool[n]);
    std::fill_n(smooth.get(), n, true);
    return throughPoints(points, std::span<const bool>(smooth.get(), n), true);
}

namespace build {

Ring PlaneRings::polygon(std::initializer_list<Vec2> corners) const {
    Ring out;
    const Vec2* p = corners.begin();
    for (size_t i = 0; i < corners.size(); ++i) {
        const Vec2 a = p[i], b = p[(i + 1) % corners.size()];
        out.push_back(Line{at(a.x(), a.y()), at(b.x(), b.y())});
    }
    return out;
}

Ring PlaneRings::circle(double x, double y, double radius) const { return {Arc{at(x, y), u, v, radius, 2 * kPi}}; }

Ring PlaneRings::slot(double length, double width) const {
    const double r = width / 2, a = length / 2 - r;
    if (a <= 0) return circle(0, 0, r);
    return {Line{at(-a, -r), at(a, -r)}, Arc{at(a, 0), -v, u, r, kPi}, Line{at(a, r), at(-a, r)},
            Arc{at(-a, 0), v, -u, r, kPi}};
}

Ring PlaneRings::rectangle(double width, double height, double r) const {
    const double x = width / 2, y = height / 2;
    if (r <= 0) return polygon({{-x, -y}, {x, -y}, {x, y}, {-x, y}});
    Ring out;
    const auto straight = [&](double ax, double ay, double bx, double by) {
        if (std::hypot(bx - ax, by - ay) > tolerance::rounding) out.push_back(Line{at(ax, ay), at(bx, by)});
    };
    straight(-x + r, -y, x - r, -y);
    out.push_back(Arc{at(x - r, -y + r), -v, u, r, kPi / 2});
    straight(x, -y + r, x, y - r);
    out.push_back(Arc{at(x - r, y - r), u, v, r, kPi / 2});
    straight(x - r, y, -x + r, y);
    out.push_back(Arc{at(-x + r, y - r), v, -u, r, kPi / 2});
    straight(-x, y - r, -x, -y + r);
    out.push_back(Arc{at(-x + r, -y + r), -u, -v, r, kPi / 2});
    return out;
}

Mesh tubeMesh(const std::vector<std::vector<Vec3>>& rows) {
    Mesh out;
    const auto n = std::uint32_t(rows.size()), k = std::uint32_t(rows[0].size());
    for (const auto& row : rows) out.points.insert(out.points.end(), row.begin(), row.end());
    for (std::uint32_t i = 0; i < n; ++i)
        for (std::uint32_t j = 0; j < k; ++j) {
            const std::uint32_t a = i * k + j, b = i * k + (j + 1) % k, c = (i + 1) % n * k + j,
                                d = (i + 1) % n * k + (j + 1) % k;
            out.triangles.push_back({a, b, d});
            out.triangles.push_back({a, d, c});
        }
    for (const Vec3& p : out.points) out.box.extend(p);
    return out;
}

Mesh turnedMesh(const Ring& line, const Vec3& axis, int steps) {
    std::vector<Vec3> profile{startOf(line.front())};
    for (const auto& s : line) {
        const auto path = Path::make({s}, false);
        const int n = std::holds_alternative<Line>(s) ? 1 : 12;
        for (int i = 1; i <= n; ++i) profile.push_back(path->at(path->length() * i / n).point);
    }
    Mesh out;
    std::vector<std::uint32_t> first; // of each point's circle, or its pole
    std::vector<char> pole;
    for (const Vec3& p : profile) {
        first.push_back(std::uint32_t(out.points.size()));
        pole.push_back((p - axis * p.dot(axis)).norm() < tolerance::fine);
        for (int i = 0; i < (pole.back() ? 1 : steps); ++i)
            out.points.push_back(Eigen::AngleAxisd(2 * kPi * i / steps, axis) * p);
    }
    for (size_t r = 0; r + 1 < profile.size(); ++r)
        for (std::uint32_t i = 0; i < std::uint32_t(steps); ++i) {
            const std::uint32_t k = (i + 1) % std::uint32_t(steps);
            const auto a = first[r] + (pole[r] ? 0 : i), b = first[r] + (pole[r] ? 0 : k),
                       c = first[r + 1] + (pole[r + 1] ? 0 : i), d = first[r + 1] + (pole[r + 1] ? 0 : k);
            if (!pole[r]) out.triangles.push_back({a, b, d});
            if (!pole[r + 1]) out.triangles.push_back({a, d, c});
        }
    if (volumeOf(out) < 0)
        for (auto& t : out.triangles) std::swap(t[1], t[2]);
    return out;
}

Mesh roundLinkMesh(const RoundLink& m) {
    const double r = m.bar / 2, R = (m.insideWidth + m.bar) / 2, a = (m.insideLength - m.insideWidth) / 2;
    std::vector<std::vector<Vec3>> rows;
    const int bow = 12, round = 20;
    for (const int end : {1, -1})
        for (int i = 0; i <= bow; ++i) {
            if (a < tolerance::rounding && i == bow) continue; // a ring: the next bow starts there
            const double t = (end > 0 ? -kPi / 2 : kPi / 2) + kPi * i / bow;
            const Vec3 out(std::cos(t), std::sin(t), 0), middle = Vec3(end * a, 0, 0) + R * out;
            rows.emplace_back();
            for (int k = 0; k < round; ++k) {
                const double u = 2 * kPi * k / round;
                rows.back().push_back(middle + r * (std::cos(u) * out + std::sin(u) * Vec3::UnitZ()));
            }
        }
    Mesh out = tubeMesh(rows);
    if (volumeOf(out) < 0)
        for (auto& t : out.triangles) std::swap(t[1], t[2]);
    if (m.studded) { // its ends lie inside the bars
        const double s = m.stud / 2;
        const Mesh stud = turnedMesh({Line{Vec3(0, -R, 0), Vec3(s, -R, 0)}, Line{Vec3(s, -R, 0), Vec3(s, R, 0)},
                                      Line{Vec3(s, R, 0), Vec3(0, R, 0)}},
                                     Vec3::UnitY(), 16);
        const auto first = std::uint32_t(out.points.size());
        out.points.insert(out.points.end(), stud.points.begin(), stud.points.end());
        for (const auto& t : stud.triangles) out.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
    }
    const double x = m.insideLength / 2 + m.bar, y = m.insideWidth / 2 + m.bar;
    out.box = Box3(Vec3(-x, -y, -std::max(r, m.studded ? m.stud / 2 : 0)),
                   Vec3(x, y, std::max(r, m.studded ? m.stud / 2 : 0)));
    return out;
}

Ring turnedLine(const Baluster& m) {
    const double top = m.height - (m.top == Baluster::Top::Flat ? 0 : m.point);
    Ring line = m.section == Baluster::Section::Turned ? turnedProfile(m)
                                                       : Ring{Line{Vec3(m.width / 2, 0, 0), Vec3(m.width / 2, 0, top)}};
    line.insert(line.begin(), Line{Vec3::Zero(), startOf(line.front())});
    line.push_back(Line{endOf(line.back()), Vec3(0, 0, m.height)});
    return line;
}

Ring turnedLine(const BollardLamp& m) {
    const auto corners = lampProfile(m);
    Ring line{Line{Vec3::Zero(), Vec3(corners[0].x(), 0, 0)}};
    for (const auto& c : corners)
        if (const Vec3 p(c.x(), 0, c.y()); (p - endOf(line.back())).norm() > tolerance::rounding)
            line.push_back(Line{endOf(line.back()), p});
    line.push_back(Line{endOf(line.back()), Vec3(0, 0, m.height)});
    return line;
}

Ring turnedLine(const Stitch& m) {
    const double r = m.thread / 2, a = m.length / 2 - r, k = r * std::sqrt(0.5);
    Ring line{arcThrough(Vec3(-a - r, 0, 0), Vec3(-a - k, k, 0), Vec3(-a, r, 0))};
    if (a > tolerance::rounding) line.push_back(Line{Vec3(-a, r, 0), Vec3(a, r, 0)});
    line.push_back(arcThrough(Vec3(a, r, 0), Vec3(a + k, k, 0), Vec3(a + r, 0, 0)));
    return line;
}

} // namespace build
} // namespace vicinal
