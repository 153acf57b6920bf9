#include "geometry/curves/offset.h"
#include "base/numeric/solve.h"
#include "base/say.h"
#include "geometry/curves/crossings.h"
#include "geometry/curves/edit.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal {
namespace {

constexpr double kOffsetFit = 5e-7; // mm

Vec3 leftOf(const Vec3& v) {
    const double n = std::hypot(v.x(), v.y());
    return n > tolerance::fine ? Vec3(-v.y() / n, v.x() / n, 0) : Vec3::Zero();
}

double turnOf(const Vec3& a, const Vec3& b) {
    return std::atan2(a.x() * b.y() - a.y() * b.x(), a.x() * b.x() + a.y() * b.y());
}

bool level(const Span& s) {
    return std::abs(s.c1.z()) + std::abs(s.c2.z()) < tolerance::rounding * (s.c1.norm() + s.c2.norm());
}

class RawOffset {
public:
    RawOffset(const Path& path, double d, CornerStyle style) : m_path(path), m_d(d), m_style(style) {}

    /// All pieces in order, self-crossings and all.
    std::vector<Segment> make() {
        const auto& spans = m_path.spans();
        std::optional<Vec3> tangentBefore;
        for (size_t k = 0; k < spans.size(); ++k) {
            const Span& s = spans[k];
            if (tangentBefore) joint(*tangentBefore, s.tangent(0), s.point(0));
            piece(s);
            tangentBefore = s.tangent(1, false);
        }
        if (m_path.closed()) joint(*tangentBefore, spans.front().tangent(0), spans.front().point(0));
        return std::move(m_out);
    }

private:
    void line(const Vec3& a, const Vec3& b) {
        if ((b - a).norm() > tolerance::rounding) m_out.push_back(Line{a, b});
    }

    void piece(const Span& s) {
        if (s.kind == Span::Kind::Line) {
            const Vec3 n = m_d * leftOf(s.c1);
            if (std::hypot(s.c1.x(), s.c1.y()) > tolerance::rounding) m_out.push_back(Line{s.c0 + n, s.c0 + s.c1 + n});
            return;
        }
        if (s.kind == Span::Kind::Arc && level(s)) {
            const double r = s.c1.norm(), ccw = (s.c1.x() * s.c2.y() - s.c1.y() * s.c2.x()) * s.sweep > 0 ? 1 : -1;
            const double R = r - ccw * m_d; // its centre is on the left when it turns counter-clockwise
            if (std::abs(R) < tolerance::rounding) return;
            // Beyond the centre the arc is run backwards on the other side; such pieces are thrown out later.
            const double side = R > 0 ? 1 : -1;
            m_out.push_back(Arc{s.c0, side * s.c1 / r, side * s.c2 / r, std::abs(R), s.sweep});
            return;
        }
        // Cut where the curvature reaches 1/d: there the offset has a cusp.
        std::vector<double> cuts{0};
        const auto speed = [&](double t) { // of the offset along the tangent, in plan
            const Jet j = s.jet(t);
            const double v2 = j.d1.head<2>().squaredNorm(), v = std::sqrt(v2);
            if (v < tolerance::fine) return 0.0;
            return v - m_d * (j.d1.x() * j.d2.y() - j.d1.y() * j.d2.x()) / v2;
        };
        const int n = 16;
        double before = speed(tolerance::rounding);
        for (int i = 1; i <= n; ++i) {
            const double t = i == n ? 1 - tolerance::rounding : double(i) / n, now = speed(t);
            if ((before > 0) != (now > 0)) {
                const double a =
                    halved(double(i - 1) / n, t, 60, [&](double x) { return (speed(x) > 0) == (before > 0); }).first;
                if (a > cuts.back() + tolerance::rounding && a < 1 - tolerance::rounding) cuts.push_back(a);
            }
            before = now;
        }
        cuts.push_back(1);
        for (size_t i = 1; i < cuts.size(); ++i) fit(s, cuts[i - 1], cuts[i], 0);
    }

    Jet at(const Span& s, double t) const {
        const Jet j = s.jet(t);
        const double v2 = j.d1.head<2>().squaredNorm();
        const Vec3 n = v2 > 1e-24 ? leftOf(j.d1) : leftOf(s.tangent(t, t < 0.5));
        const double turn = v2 > 1e-24 ? (j.d1.x() * j.d2.y() - j.d1.y() * j.d2.x()) / v2 : 0; // of the tangent, by t
        const Vec3 along(n.y(), -n.x(), 0);
        return {j.p + m_d * n, j.d1 - m_d * turn * along, Vec3::Zero()};
    }

    void fit(const Span& s, double a, double b, int depth) {
        const Jet ja = at(s, a), jb = at(s, b);
        const double h = (b - a) / 3;
        const Bezier c{{ja.p, ja.p + h * ja.d1, jb.p - h * jb.d1, jb.p}};
        const Span fitted = spansOf(c, 0).front();
        bool good = true;
        if (depth < 14)
            for (double f : {0.2, 0.5, 0.8}) {
                const Vec3 miss = fitted.point(f) - at(s, a + f * (b - a)).p;
                const Vec3 along = fitted.tangent(f);
                // Sliding along the curve is no error; only what is square to it.
                if (Vec3(miss - along * along.dot(miss)).norm() > kOffsetFit * 0.7 || miss.norm() > 1e3 * kOffsetFit)
                    good = false;
            }
        if (good) {
            if (fitted.length > tolerance::rounding) m_out.push_back(c);
            return;
        }
        fit(s, a, (a + b) / 2, depth + 1);
        fit(s, (a + b) / 2, b, depth + 1);
    }

    void joint(const Vec3& before, const Vec3& after, const Vec3& corner) {
        const double turn = turnOf(before, after);
        if (std::abs(turn) < tolerance::rounding) return;
        const Vec3 n0 = leftOf(before), n1 = leftOf(after);
        const Vec3 a = corner + m_d * n0, b = corner + m_d * n1;
        const bool outer = turn * m_d < 0;
        if (!outer || std::abs(turn) < tolerance::corner) return line(a, b); // inside: overlaps, cut away later
        if (m_style == CornerStyle::Round || std::abs(turn) > kPi - tolerance::alike) {
            const Vec3 x = m_d > 0 ? n0 : Vec3(-n0), y(-x.y(), x.x(), 0);
            m_out.push_back(Arc{corner, x, y, std::abs(m_d), turn});
            return;
        }
        const double reach = std::abs(m_d) * std::tan(std::abs(turn) / 2);
        const Vec3 u(n0.y(), -n0.x(), 0), v(n1.y(), -n1.x(), 0);
        const double most = 4 * std::abs(m_d);
        if (std::abs(m_d) / std::cos(turn / 2) <= most) {
            line(a, a + reach * u);
            line(b - reach * v, b);
        } else {
            line(a, a + most * u);
            line(a + most * u, b - most * v);
            line(b - most * v, b);
        }
    }

    const Path& m_path;
    double m_d;
    CornerStyle m_style;
    std::vector<Segment> m_out;
};

struct Part {
    Span span;
    double t0, t1;
    Vec3 a, b; ///< ends
    Segment segment() const { return segmentOf(span, t0, t1); }
};

/// Whether a piece goes on the line or arc of the one before, which then takes it in.
bool takenIn(Segment& last, const Segment& s) {
    if (auto* l = std::get_if<Line>(&last))
        if (const auto* m = std::get_if<Line>(&s))
            if ((l->b - l->a).normalized().cross((m->b - m->a).normalized()).norm() < tolerance::rounding &&
                (l->b - l->a).dot(m->b - m->a) > 0) {
                l->b = m->b;
                return true;
            }
    if (auto* a = std::get_if<Arc>(&last))
        if (const auto* b = std::get_if<Arc>(&s))
            if ((a->centre - b->centre).norm() < 1e-7 && std::abs(a->radius - b->radius) < 1e-7 &&
                a->xAxis.cross(a->yAxis).dot(b->xAxis.cross(b->yAxis)) > 0 && a->sweep * b->sweep > 0 &&
                std::abs(a->sweep + b->sweep) < 2 * kPi + tolerance::fine) {
                a->sweep += b->sweep;
                return true;
            }
    return false;
}

/// With which part each goes on, and with which the one before: each end goes on with the part that begins there; the
/// ends of an open offset go on with nothing, -1.
std::pair<std::vector<int>, std::vector<int>> joined(const std::vector<Part>& parts) {
    const double near = 1e-5;
    std::vector<int> next(parts.size(), -1), before(parts.size(), -1);
    std::map<std::array<long, 2>, std::vector<int>> starts;
    const auto cell = [&](const Vec3& p) {
        return std::array<long, 2>{std::lround(p.x() / (10 * near)), std::lround(p.y() / (10 * near))};
    };
    for (int i = 0; i < int(parts.size()); ++i) starts[cell(parts[i].a)].push_back(i);
    for (int i = 0; i < int(parts.size()); ++i) {
        const auto c = cell(parts[i].b);
        double best = near;
        for (long dx = -1; dx <= 1; ++dx)
            for (long dy = -1; dy <= 1; ++dy)
                if (const auto it = starts.find({c[0] + dx, c[1] + dy}); it != starts.end())
                    for (int k : it->second)
                        if (const double away = (parts[k].a - parts[i].b).head<2>().norm();
                            away < best && before[k] < 0 && (k != i || parts.size() == 1))
                            best = away, next[i] = k;
        if (next[i] >= 0) before[next[i]] = i;
    }
    return {std::move(next), std::move(before)};
}

/// All chains of parts, end to end: open ones from their start, then what is left is closed.
std::vector<OffsetPart> chainsOf(const std::vector<Part>& parts, bool closed) {
    const auto [next, before] = joined(parts);
    std::vector<OffsetPart> chains;
    std::vector<char> used(parts.size(), 0);
    for (int pass = 0; pass < 2; ++pass)
        for (int i = 0; i < int(parts.size()); ++i) {
            if (used[i] || (pass == 0 && before[i] >= 0)) continue;
            OffsetPart chain;
            int k = i;
            for (; k >= 0 && !used[k]; k = next[k]) {
                used[k] = 1;
                Segment s = parts[k].segment();
                chain.length += (parts[k].t1 - parts[k].t0) * parts[k].span.length;
                if (chain.segments.empty() || !takenIn(chain.segments.back(), s))
                    chain.segments.push_back(std::move(s));
            }
            chain.closed = k == i && closed;
            if (chain.length > 1e-4) chains.push_back(std::move(chain));
        }
    return chains;
}

/// Pieces between crossings stay when they keep the distance everywhere; nothing when none does, or when stopped.
/// Idea: the raw offset (every piece by itself, joined at corners by the style) is cut at all its crossings; of the
/// true offset are just the parts that are nowhere nearer to the source than the distance, asked at three points each.
/// They are chained end to end: the longest chain is the path, others are told, what was dropped is shown. Invariant:
/// parts lie between crossings, so that each is wholly part of it or wholly not. O(n log n) by trees of boxes, and what
/// crosses.
std::optional<Offset> attempt(const Path& path, double d, CornerStyle style, const Stop* stop) {
    const auto raw = RawOffset(path, d, style).make();
    std::vector<Span> spans;
    for (size_t i = 0; i < raw.size(); ++i)
        for (auto& s : spansOf(raw[i], int(i)))
            if (s.length > tolerance::rounding) spans.push_back(std::move(s));
    if (spans.empty()) return std::nullopt;
    const double size = path.length(), sag = std::min(std::abs(d) * 1e-2, size * 1e-3);
    std::vector<std::vector<double>> cuts(spans.size(), {0, 1});
    for (const auto& c : crossingsInPlan(spans, path.closed(), sag, stop)) {
        cuts[c.a].push_back(c.ta);
        cuts[c.b].push_back(c.tb);
    }
    const NearestSpan source(path.spans(), sag);
    std::vector<Part> parts;
    std::vector<OffsetPart> vanished;
    for (size_t k = 0; k < spans.size(); ++k) {
        if (stopped(stop)) return std::nullopt;
        auto& t = cuts[k];
        std::sort(t.begin(), t.end());
        for (size_t i = 1; i < t.size(); ++i) {
            if ((t[i] - t[i - 1]) * spans[k].length < 1e-7) continue;
            bool good = true;
            for (double f : {0.5, 0.21, 0.83}) {
                const Vec3 p = spans[k].point(t[i - 1] + f * (t[i] - t[i - 1]));
                good = good && source.distance(p, std::abs(d), std::abs(d) - 1e-5) >= std::abs(d) - 1e-5;
            }
            if (good) {
                parts.push_back({spans[k], t[i - 1], t[i], spans[k].point(t[i - 1]), spans[k].point(t[i])});
                continue;
            }
            // Pieces that follow each other are one.
            if (vanished.empty() || (endOf(vanished.back().segments.back()) - spans[k].point(t[i - 1])).norm() > 1e-4)
                vanished.emplace_back();
            vanished.back().segments.push_back(segmentOf(spans[k], t[i - 1], t[i]));
            vanished.back().length += (t[i] - t[i - 1]) * spans[k].length;
        }
    }
    if (parts.empty()) return std::nullopt;
    auto chains = chainsOf(parts, path.closed());
    if (chains.empty()) return std::nullopt;
    std::stable_sort(chains.begin(), chains.end(), [](const auto& a, const auto& b) { return a.length > b.length; });
    Offset out;
    out.curve = {std::move(chains[0].segments), chains[0].closed};
    // At a plain inner corner two line ends and their joint go: that is no loss.
    std::erase_if(vanished, [](const OffsetPart& p) {
        const bool lines = std::all_of(p.segments.begin(), p.segments.end(),
                                       [](const Segment& s) { return std::holds_alternative<Line>(s); });
        return p.length < 1e-3 || (lines && p.segments.size() <= 3);
    });
    out.vanished = std::move(vanished);
    out.others.assign(std::make_move_iterator(chains.begin() + 1), std::make_move_iterator(chains.end()));
    return out;
}

} // namespace

namespace {

/// A screw line of one radius round the normal: in plan its turns lie over each other, which is no crossing; beside it
/// runs another screw line. Nothing for any other path.
std::optional<Result<Offset>> besideScrew(const Path& path, double d, const Vec3& normal) {
    if (path.segments().size() != 1) return std::nullopt;
    const auto* h = std::get_if<Helix>(&path.segments()[0]);
    if (!h || h->r0 != h->r1 || h->rise == 0) return std::nullopt;
    const double along = h->xAxis.cross(h->yAxis).dot(normal);
    if (std::abs(along) < 1 - tolerance::fine) return std::nullopt;
    const double radius = h->r0 - (h->sweep * along > 0 ? d : -d); // to the left is inwards where it turns left
    if (radius < tolerance::length)
        return Result<Offset>(Problem{"At a distance of " + say::mm(std::abs(d)) +
                                          " nothing of the path is left; the largest that works is less than " +
                                          say::mm(h->r0) + ".",
                                      "distance"});
    Helix beside = *h;
    beside.r0 = beside.r1 = radius;
    Offset out;
    out.curve.segments = {beside};
    return Result<Offset>(std::move(out));
}

} // namespace

Result<Offset> offsetOf(const Path& path, double d, CornerStyle style, const Vec3& normal, const Stop* stop) {
    using say::mm;
    if (!std::isfinite(d) || std::abs(d) > 1e8)
        return Problem{"The distance is not a number or beyond 100 km.", "distance"};
    if (std::abs(d) < 1e-3)
        return Problem{"The distance is " + mm(d) + "; it must be at least " + mm(0.001) + " to one side.", "distance"};
    if (auto screw = besideScrew(path, d, normal)) return *screw;
    const Quat turn = Quat::FromTwoVectors(normal, Vec3::UnitZ());
    const Mat3 R = turn.toRotationMatrix();
    std::vector<Segment> turned;
    for (const auto& s : path.segments()) turned.push_back(moved(s, R, Vec3::Zero()));
    const auto flat = Path::make(turned, path.closed(), 1e-3);
    if (!flat) return flat.problem();
    auto made = attempt(*flat, d, style, stop);
    if (!made) {
        double lo = 0, hi = std::abs(d); // the largest that leaves something
        for (int i = 0; i < 14 && !stopped(stop); ++i) {
            const double m = (lo + hi) / 2;
            (m > 1e-3 && attempt(*flat, std::copysign(m, d), style, stop) ? lo : hi) = m;
        }
        if (stopped(stop)) return Problem{"The offset was stopped.", ""};
        return Problem{"At a distance of " + mm(std::abs(d)) +
                           " nothing of the path is left; the largest that works is about " + mm(lo) + ".",
                       "distance"};
    }
    const auto back = [&](std::vector<Segment>& segments) {
        for (auto& s : segments) s = moved(s, R.transpose(), Vec3::Zero());
    };
    back(made->curve.segments);
    for (auto& o : made->others) back(o.segments);
    for (auto& o : made->vanished) back(o.segments);
    return std::move(*made);
}

} // namespace vicinal
