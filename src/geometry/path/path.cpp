#include "geometry/path/path.h"
#include "base/numeric/solve.h"
#include "base/say.h"
#include <algorithm>
#include <array>

namespace vicinal {
namespace {

using say::mm;

double flat(const Vec3& t) { return std::sqrt(t.x() * t.x() + t.y() * t.y()); }
double headingOf(const Vec3& t) { return std::atan2(t.y(), t.x()); }

/// Difference of two headings in (-pi, pi]; exact opposites always turn left, so that noise cannot choose the side.
double turnBetween(double from, double to) {
    double d = std::remainder(to - from, 2 * kPi);
    if (d < -kPi + tolerance::alike) d += 2 * kPi;
    return d;
}

struct SlopeSample {
    int span;
    double t, flat, up; ///< flat, up: sizes of the tangent's parts in plan and along z
};

/// Samples fine enough that no steep stretch slips between two of them.
std::vector<SlopeSample> slopeSamples(const std::vector<Span>& spans) {
    std::vector<SlopeSample> out;
    for (int k = 0; k < int(spans.size()); ++k) {
        const Span& s = spans[k];
        const auto add = [&](double t) {
            const Vec3 d = s.tangent(t, t < 0.5);
            out.push_back({k, t, flat(d), std::abs(d.z())});
        };
        if (s.kind == Span::Kind::Line) {
            add(0);
            add(1);
            continue;
        }
        const int n = 16;
        for (int i = 0; i <= n; ++i) {
            add(double(i) / n);
            const size_t m = out.size();
            if (i >= 2 && out[m - 2].flat < 0.3 && out[m - 2].flat <= out[m - 1].flat &&
                out[m - 2].flat <= out[m - 3].flat) {
                double a = out[m - 3].t, b = out[m - 1].t; // a dip: put a sample at its bottom
                for (int j = 0; j < 40; ++j) {
                    const double u = a + (b - a) / 3, v = b - (b - a) / 3;
                    (flat(s.tangent(u)) < flat(s.tangent(v)) ? b : a) = flat(s.tangent(u)) < flat(s.tangent(v)) ? v : u;
                }
                out[m - 2].t = (a + b) / 2;
                out[m - 2].flat = flat(s.tangent(out[m - 2].t));
            }
        }
    }
    return out;
}

/// The point between two samples of one span where the tangent becomes (or stops being) steep.
double crossing(const Span& s, double a, double b) {
    const bool steepAtA = flat(s.tangent(a)) < tolerance::steep;
    const auto [before, after] =
        halved(a, b, 50, [&](double t) { return (flat(s.tangent(t)) < tolerance::steep) == steepAtA; });
    return (before + after) / 2;
}

std::vector<SteepStretch> findSteep(const Path::Body& body, const std::vector<SlopeSample>& samples) {
    if (std::none_of(samples.begin(), samples.end(), [](const auto& s) { return s.flat < tolerance::steep; }))
        return {};
    std::vector<SteepStretch> out;
    const double none = std::nan("");
    const auto station = [&](int k, double t) { return body.spans[k].start + lengthBetween(body.spans[k], 0, t); };
    bool inside = false;
    double from = none;
    for (size_t i = 0; i < samples.size(); ++i) {
        const auto& s = samples[i];
        const Span& span = body.spans[s.span];
        const bool steep = s.flat < tolerance::steep;
        if (steep != inside) {
            double t = s.t;
            if (i > 0 && samples[i - 1].span == s.span) t = crossing(span, samples[i - 1].t, s.t);
            const double at = station(s.span, t);
            if (steep) {
                if (i > 0) from = samples[i - 1].span == s.span ? headingOf(span.tangent(t)) : from;
                out.push_back({at, body.length, from, none});
            } else {
                out.back().end = at;
                out.back().to = headingOf(span.tangent(t));
            }
            inside = steep;
        }
        if (!steep) from = headingOf(span.tangent(s.t, s.t < 0.5));
    }
    // A closed path that is steep across its seam: one stretch, listed at both ends.
    if (body.closed && out.size() > 1 && out.front().start <= 0 && inside) {
        SteepStretch& first = out.front();
        SteepStretch& last = out.back();
        first.from = last.from;
        last.to = first.to;
        last.end = body.length + first.end;
        first.start = last.start - body.length;
    }
    for (auto& z : out) {
        if (std::isnan(z.from) && std::isnan(z.to)) { // steep from end to end: take what heading there is
            const auto best = std::max_element(samples.begin(), samples.end(),
                                               [](const auto& a, const auto& b) { return a.flat < b.flat; });
            z.from = best->flat > tolerance::angle ? headingOf(body.spans[best->span].tangent(best->t)) : 0;
        }
        if (std::isnan(z.from)) z.from = z.to;
        if (std::isnan(z.to)) z.to = z.from;
        z.to = z.from + turnBetween(z.from, z.to);
    }
    return out;
}

/// A box round a span: its ends and whatever else holds it in.
void extend(Box3& box, const Span& s) {
    box.extend(s.point(0));
    box.extend(s.point(1));
    const auto round = [&](const Vec3& middle, double r) {
        box.extend(Vec3(middle - Vec3::Constant(r)));
        box.extend(Vec3(middle + Vec3::Constant(r)));
    };
    switch (s.kind) {
    case Span::Kind::Line: break;
    case Span::Kind::Arc: round(s.c0, s.c1.norm()); break;
    case Span::Kind::Helix:
        for (double t : {0.0, 1.0}) round(s.c0 + t * s.c3, std::max(s.r0, s.r0 + s.dr));
        break;
    case Span::Kind::Catenary: round((s.point(0) + s.point(1)) / 2, s.length / 2); break;
    case Span::Kind::Cubic: // its control points
        box.extend(Vec3(s.c0 + s.c1 / 3));
        box.extend(Vec3(s.c0 + 2 * s.c1 / 3 + s.c2 / 3));
        break;
    case Span::Kind::General:
        for (const auto& h : s.form.h) box.extend(Vec3(h.head<3>() / h.w()));
        break;
    }
}

void findCorners(Path::Body& body) {
    const auto& spans = body.spans;
    const auto joint = [&](const Span& a, const Span& b, double station) {
        const Vec3 before = a.tangent(1, false), after = b.tangent(0, true);
        if (before.cross(after).norm() > tolerance::corner || before.dot(after) < 0)
            body.corners.push_back({station, before, after});
    };
    if (body.closed) joint(spans.back(), spans.front(), 0);
    for (size_t i = 1; i < spans.size(); ++i) joint(spans[i - 1], spans[i], spans[i].start);
}

/// Crown with which the least-twisting frame starts: as near vertical as it goes.
Vec3 crownAtStart(const Vec3& tangent) {
    const Vec3 up = Vec3::UnitZ() - tangent.z() * tangent;
    return up.norm() > tolerance::steep ? Vec3(up.normalized()) : anyNormal(tangent);
}

} // namespace

const ArcTable& Path::Body::table() const {
    std::call_once(m_once, [&] { m_table = arcTableOf(*this); });
    return m_table;
}

double Path::Body::polish(const ArcPiece& piece, double station) const {
    const Span& span = spans[piece.span];
    const double x = station - piece.s0;
    double lo = piece.t0, hi = piece.t1;
    double t = std::clamp(piece.guess(x * piece.perLength), lo, hi);
    for (int i = 0; i < 80; ++i) {
        const double miss = quickLength(span, piece.t0, t) - x;
        if (std::abs(miss) < tolerance::fine) break;
        (miss > 0 ? hi : lo) = t;
        const double speed = span.speed(t), next = t - miss / std::max(speed, kTiny);
        if (!(next > lo && next < hi)) {
            t = (lo + hi) / 2;
            continue;
        }
        t = next;
    }
    return t;
}

size_t Path::Body::find(const ArcTable& table, double station) const {
    const auto it = std::upper_bound(table.pieces.begin(), table.pieces.end(), station,
                                     [](double s, const ArcPiece& p) { return s < p.s0; });
    return it == table.pieces.begin() ? 0 : size_t(it - table.pieces.begin()) - 1;
}

Result<Path> Path::make(const std::vector<Segment>& segments, bool closed, double gapTolerance) {
    if (segments.empty()) return Problem{"The path has no line or curve in it. Draw or bring in at least one.", "path"};
    auto body = std::make_shared<Body>();
    body->closed = closed;
    std::optional<Vec3> end;
    for (size_t i = 0; i < segments.size(); ++i) {
        if (auto defect = defectOf(segments[i]); !defect.empty())
            return Problem{"Piece " + say::count(i + 1) + " of the path cannot be used: " + defect + ".", "path"};
        const Vec3 start = startOf(segments[i]);
        if (end && (start - *end).norm() > gapTolerance)
            return Problem{"There is a gap of " + mm((start - *end).norm()) + " before piece " + say::count(i + 1) +
                               " of the path. Join the ends or raise the join tolerance.",
                           "path"};
        end = endOf(segments[i]);
        for (auto& span : spansOf(segments[i], int(i))) {
            if (span.length < tolerance::length) continue;
            span.start = body->length;
            body->length += span.length;
            body->spans.push_back(std::move(span));
        }
    }
    if (body->spans.empty() || !(body->length >= tolerance::length))
        return Problem{"The path has no length: all its points are in one place. Move a point.", "path"};
    if (!std::isfinite(body->length)) return Problem{"The path is too long to be measured.", "path"};
    if (closed) {
        const double gap = (body->spans.back().point(1) - body->spans.front().point(0)).norm();
        if (gap > gapTolerance)
            return Problem{"The path is marked closed, but its ends are " + mm(gap) + " apart.", "path"};
    }
    body->segments = segments;
    for (const auto& s : body->spans) extend(body->hull, s);
    body->firstCrown = crownAtStart(body->spans.front().tangent(0));
    findCorners(*body);
    const auto samples = slopeSamples(body->spans);
    for (const auto& s : samples) body->steepest = std::max(body->steepest, s.up);
    body->steep = findSteep(*body, samples);
    Path path;
    path.m_body = std::move(body);
    return path;
}

double Path::length() const { return m_body->length; }
bool Path::closed() const { return m_body->closed; }
const std::vector<Span>& Path::spans() const { return m_body->spans; }
const std::vector<Segment>& Path::segments() const { return m_body->segments; }
const std::vector<Corner>& Path::corners() const { return m_body->corners; }
const std::vector<SteepStretch>& Path::steepStretches() const { return m_body->steep; }
double Path::steepest() const { return m_body->steepest; }
double Path::closingTwist() const { return m_body->table().closingTwist; }

const Box3& Path::hull() const { return m_body->hull; }

Box3 Path::bounds() const {
    Box3 box;
    for (const auto& s : m_body->spans) box.extend(boundsOf(s));
    return box;
}

Sample Path::at(double station, bool carried) const {
    const double s = std::clamp(station, 0.0, length());
    const ArcTable& table = m_body->table();
    Sample out;
    m_body->visit(table, m_body->find(table, s), std::span(&s, 1), carried, [&](size_t, const Sample& x) { out = x; });
    return out;
}

Path::Locus Path::locate(double station) const {
    const double s = std::clamp(station, 0.0, length());
    const ArcTable& table = m_body->table();
    const ArcPiece& piece = table.pieces[m_body->find(table, s)];
    const double t = piece.exact ? piece.guess((s - piece.s0) * piece.perLength) : m_body->polish(piece, s);
    return {size_t(piece.span), std::clamp(t, 0.0, 1.0)};
}

void Path::sample(std::span<const double> stations, bool carried, std::span<Sample> out) const {
    assert(out.size() == stations.size());
    visit(stations, carried, [&](size_t i, const Sample& s) { out[i] = s; });
}

double Path::closest(const Vec3& p) const {
    double best = std::numeric_limits<double>::infinity(), station = 0;
    for (const auto& s : m_body->spans) {
        const int n = s.kind == Span::Kind::Line ? 1 : 16;
        double spanBest = std::numeric_limits<double>::infinity(), at = 0;
        for (int i = 0; i <= n; ++i) {
            const double d = (s.point(double(i) / n) - p).squaredNorm();
            if (d < spanBest) spanBest = d, at = double(i) / n;
        }
        double a = std::max(0.0, at - 1.0 / n), b = std::min(1.0, at + 1.0 / n);
        for (int i = 0; i < 60 && b - a > tolerance::fine; ++i) {
            const double u = a + (b - a) * 0.382, v = a + (b - a) * 0.618;
            if ((s.point(u) - p).squaredNorm() < (s.point(v) - p).squaredNorm())
                b = v;
            else
                a = u;
        }
        const double t = (a + b) / 2, d = (s.point(t) - p).squaredNorm();
        if (d < best) best = d, station = s.start + lengthBetween(s, 0, t);
    }
    return station;
}

std::vector<Vec3> Path::polyline(double sag) const {
    std::vector<Vec3> out;
    const auto add = [&](auto&& self, const Span& s, double a, double b, int depth) -> void {
        const Vec3 pa = s.point(a), pb = s.point(b), chord = pb - pa;
        bool flatEnough = depth <= 0;
        if (!flatEnough && depth < 12) {
            flatEnough = true;
            for (double f : {0.25, 0.5, 0.75}) {
                const Vec3 d = s.point(a + f * (b - a)) - pa;
                const double n2 = chord.squaredNorm();
                const double away = n2 > 0 ? (d - chord * (d.dot(chord) / n2)).norm() : d.norm();
                if (away > sag * 0.9) flatEnough = false;
            }
        }
        if (flatEnough) {
            out.push_back(pb);
            return;
        }
        self(self, s, a, (a + b) / 2, depth - 1);
        self(self, s, (a + b) / 2, b, depth - 1);
    };
    out.push_back(m_body->spans.front().point(0));
    for (const auto& s : m_body->spans) {
        if (s.kind == Span::Kind::Line)
            out.push_back(s.point(1));
        else
            add(add, s, 0, 1, 12);
    }
    return out;
}

} // namespace vicinal
