#include "exchange/drawing/strands.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace vicinal {
namespace {

Vec3 up(const Vec2& p) { return {p.x(), p.y(), 0}; }

/// Circle through three points; nothing when they are nearly on a line.
std::optional<std::pair<Vec2, double>> circle(const Vec2& a, const Vec2& b, const Vec2& c) {
    const Vec2 u = b - a, v = c - a;
    const double cross = 2 * (u.x() * v.y() - u.y() * v.x());
    if (std::abs(cross) < tolerance::alike * u.norm() * v.norm()) return std::nullopt;
    const Vec2 m(v.y() * u.squaredNorm() - u.y() * v.squaredNorm(), u.x() * v.squaredNorm() - v.x() * u.squaredNorm());
    return std::pair{Vec2(a + m / cross), (m / cross).norm()};
}

double turn(const Vec2& a, const Vec2& b, const Vec2& c) {
    return (b - a).x() * (c - b).y() - (b - a).y() * (c - b).x();
}
bool straight(const Vec2& a, const Vec2& b, const Vec2& c) {
    const Vec2 d = (c - a);
    const double off = std::abs(d.x() * (b - a).y() - d.y() * (b - a).x());
    return off < 2e-4 * d.norm() && (b - a).dot(c - b) > 0;
}
double sag(const std::pair<Vec2, double>& c, const Vec2& a, const Vec2& b) {
    return c.second - ((a + b) / 2 - c.first).norm();
}
void arc(std::vector<Segment>& out, const std::pair<Vec2, double>& c, const std::vector<Vec2>& p, size_t i, size_t j,
         double sense, bool whole) {
    const auto angle = [&](const Vec2& q) { return std::atan2(q.y() - c.first.y(), q.x() - c.first.x()); };
    const double from = angle(p[i]);
    double sweep = 0;
    for (size_t k = i; k < j; ++k) sweep += std::remainder(angle(p[k + 1]) - angle(p[k]), 2 * kPi);
    if (whole || std::abs(std::abs(sweep) - 2 * kPi) < tolerance::alike) sweep = std::copysign(2 * kPi, sense);
    Arc a;
    a.centre = up(c.first);
    a.radius = c.second;
    a.xAxis = {std::cos(from), std::sin(from), 0};
    a.yAxis = {-std::sin(from), std::cos(from), 0};
    a.sweep = sweep;
    out.push_back(a);
}

/// `closed`: the last point is the first.
std::vector<Segment> simpler(const std::vector<Vec2>& p, bool closed) {
    std::vector<Segment> out;
    const size_t n = p.size();
    size_t i = 0;
    while (i + 1 < n) {
        // As far as points go round one circle, evenly enough to be one that was cut into pieces.
        size_t j = i;
        if (i + 4 < n) {
            // By points in the middle: the first and last piece may be cut short by what stands before.
            if (const auto c = circle(p[i + 1], p[i + 2], p[i + 3])) {
                const double near = 1e-4 + 2e-5 * c->second, sagitta = sag(*c, p[i + 1], p[i + 2]);
                const auto on = [&](size_t k) { return std::abs((p[k] - c->first).norm() - c->second) < near; };
                const auto about = [&](size_t k) {
                    const double d = (p[k] - c->first).norm() - c->second;
                    return d < near && d > -1.05 * sagitta - near;
                };
                const double sense = turn(p[i + 1], p[i + 2], p[i + 3]);
                const double step = (p[i + 2] - p[i + 1]).norm();
                const auto even = [&](size_t k) {
                    return std::abs((p[k + 1] - p[k]).norm() - step) < 0.02 * step + 1e-4;
                };
                // Corners of a rectangle lie on a circle, too: what was round has many short even pieces.
                if (c->second < 1e6 && sagitta < 0.08 * c->second && even(i + 2) && on(i + 1) && on(i + 2) &&
                    on(i + 3) && about(i)) {
                    j = i + 3;
                    while (j + 1 < n && turn(p[j - 1], p[j], p[j + 1]) * sense > 0 && on(j) && about(j + 1) &&
                           (p[j + 1] - p[j]).norm() < 1.02 * step + 1e-4)
                        ++j;
                    if (j >= i + 4) {
                        arc(out, *c, p, i, j, sense, closed && i == 0 && j + 1 == n);
                        i = j;
                        continue;
                    }
                }
            }
        }
        // Else as far as it goes straight on.
        j = i + 1;
        while (j + 1 < n && straight(p[i], p[j], p[j + 1])) ++j;
        out.push_back(Line{up(p[i]), up(p[j])});
        i = j;
    }
    return out;
}

} // namespace

void Strands::add(const Vec2& a, const Vec2& b) {
    if ((b - a).norm() < 1e-4) return;
    // The same line twice (two faces at one place) is one.
    std::pair<Spot, Spot> key{spot(a), spot(b)};
    if (key.second < key.first) std::swap(key.first, key.second);
    if (key.first == key.second || !m_known.insert(key).second) return;
    m_pieces.push_back({a, b});
}

std::vector<std::vector<Segment>> Strands::joined() const {
    std::map<Spot, std::vector<size_t>> at;
    for (size_t k = 0; k < m_pieces.size(); ++k)
        for (const Vec2& p : {m_pieces[k].first, m_pieces[k].second}) at[spot(p)].push_back(k);
    std::vector<bool> used(m_pieces.size(), false);
    std::vector<std::vector<Segment>> out;
    const auto follow = [&](std::vector<Vec2>& chain, bool front) {
        while (true) {
            const Vec2 end = front ? chain.front() : chain.back();
            const auto& there = at[spot(end)];
            if (there.size() != 2) return; // an end, or where several meet
            const size_t next = used[there[0]] ? there[1] : there[0];
            if (used[next]) return;
            used[next] = true;
            const auto& [a, b] = m_pieces[next];
            const Vec2 to = spot(a) == spot(end) ? b : a;
            if (front)
                chain.insert(chain.begin(), to);
            else
                chain.push_back(to);
        }
    };
    for (size_t k = 0; k < m_pieces.size(); ++k) {
        if (used[k]) continue;
        used[k] = true;
        std::vector<Vec2> chain{m_pieces[k].first, m_pieces[k].second};
        follow(chain, false);
        std::vector<Vec2> back(chain.rbegin(), chain.rend()); // cheap at its end
        follow(back, false);
        out.push_back(simpler(back, back.size() > 3 && spot(back.front()) == spot(back.back())));
    }
    return out;
}

} // namespace vicinal
