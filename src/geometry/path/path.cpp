#include "geometry/path/path.h"
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
    if (d < -kPi + 1e-6) d += 2 * kPi;
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
    for (int i = 0; i < 50; ++i) {
        const double m = (a + b) / 2;
        ((flat(s.tangent(m)) < tolerance::steep) == steepAtA ? a : b) = m;
    }
    return (a + b) / 2;
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

class TableBuilder {
public:
    explicit TableBuilder(const Path::Body& body)
        : m_body(body), m_exactError(std::max(tolerance::station, 4e-15 * body.length)) {}

    ArcTable build() {
        m_table.pieces.reserve(m_body.spans.size() * 12);
        m_carried = m_body.firstCrown;
        Vec3 before = m_body.spans.front().tangent(0);
        for (size_t k = 0; k < m_body.spans.size(); ++k) {
            const Span& s = m_body.spans[k];
            m_span = int(k);
            const Vec3 tangent = s.tangent(0);
            m_carried = carry(s.c0, before, m_carried, s.c0, tangent);
            m_station = s.start;
            if (s.kind == Span::Kind::Line || s.kind == Span::Kind::Arc || s.kind == Span::Kind::Catenary)
                uniform(s); // even speed and in one plane, where one double reflection is exact
            else
                cut(s, node(s, 0), node(s, 1));
            m_table.pieces.back().s1 = s.start + s.length;
            before = s.tangent(1, false);
        }
        if (m_body.closed) {
            const Vec3 p = Vec3::Zero(), first = m_body.spans.front().tangent(0);
            const Vec3 end = carry(p, before, m_carried, p, first);
            m_table.closingTwist = std::atan2(first.dot(m_body.firstCrown.cross(end)), m_body.firstCrown.dot(end));
            if (std::abs(m_table.closingTwist) < 1e-12) m_table.closingTwist = 0;
        }
        return std::move(m_table);
    }

private:
    struct Node {
        double t, dt, ddt; ///< t and its derivatives by arc length
        Vec3 p, tangent;
    };

    static Node node(const Span& s, double t) {
        const Jet j = s.jet(t);
        const double f2 = j.d1.squaredNorm(), f = std::sqrt(f2);
        if (f < 1e-9 * s.length) return {t, 1 / std::max(f, 1e-300), 0, j.p, s.tangent(t, t < 0.5)};
        return {t, 1 / f, -j.d1.dot(j.d2) / (f2 * f2), j.p, j.d1 / f};
    }

    void uniform(const Span& s) {
        const Node a = node(s, 0), b = node(s, 1);
        ArcPiece piece = pieceFrom(a, 1, s.length);
        piece.q[1] = 1;
        piece.exact = true;
        m_table.pieces.push_back(piece);
        m_carried = carry(a.p, a.tangent, m_carried, b.p, b.tangent).normalized();
    }

    ArcPiece pieceFrom(const Node& a, double t1, double h) const {
        ArcPiece piece{};
        piece.s0 = m_station;
        piece.s1 = m_station + h;
        piece.t0 = piece.q[0] = a.t;
        piece.t1 = t1;
        piece.perLength = h > 0 ? 1 / h : 0;
        piece.span = m_span;
        piece.p0 = a.p;
        piece.tangent0 = a.tangent;
        piece.carried0 = m_carried;
        return piece;
    }

    /// Parts that bring an error, in units of what is allowed, down to one; at most one when it is already.
    static double ask(double error, double order) { return error <= 1 ? 1 : std::pow(error, 1 / order); }

    /// Makes [a, b] one piece when it is good enough, else as many equal ones as the orders of the errors ask for.
    void cut(const Span& s, const Node& a, const Node& b) {
        // Unevenly spaced: of a symmetric curve an evenly spaced fit is right in the middle, and would prove nothing.
        constexpr double x1 = 0.28, xCheck = 0.47, x2 = 0.68;
        constexpr auto fifth = [](double x) { return x * x * x * x * x; };
        constexpr double rest = fifth(x1) + fifth(xCheck - x1) + fifth(x2 - xCheck) + fifth(1 - x2);
        const double dt = b.t - a.t;
        const Node n1 = node(s, a.t + x1 * dt), check = node(s, a.t + xCheck * dt), n2 = node(s, a.t + x2 * dt);
        const double s1 = quickLength(s, a.t, n1.t), sCheck = s1 + quickLength(s, n1.t, check.t),
                     s2 = sCheck + quickLength(s, check.t, n2.t), h = s2 + quickLength(s, n2.t, b.t);
        const bool last = dt < 1e-11 || h < 1e-9;
        // The rule errs by h^10, on the four parts together by less than a ten-thousandth of what it does on the whole.
        double parts = ask(std::abs(h - quickLength(s, a.t, b.t)) / (1e-8 + 1e-14 * h), 10);

        ArcPiece piece = pieceFrom(a, b.t, h);
        fit(piece, {&a, &n1, &n2, &b}, {0, s1 / h, s2 / h, 1}, h);
        const double error = 2 * std::abs(piece.guess(sCheck / h) - check.t) / check.dt; // near its largest there
        const bool cusp = !(check.dt * h < 8 * dt); // there no error in t says anything about the one in s
        piece.exact = error <= m_exactError && !cusp;
        parts = std::max(parts, cusp ? 2 : ask(error / m_exactError, ArcPiece::terms));

        const Vec3 one = carry(a.p, a.tangent, m_carried, b.p, b.tangent);
        Vec3 many = carry(a.p, a.tangent, m_carried, n1.p, n1.tangent);
        many = carry(n1.p, n1.tangent, many, check.p, check.tangent);
        many = carry(check.p, check.tangent, many, n2.p, n2.tangent);
        many = carry(n2.p, n2.tangent, many, b.p, b.tangent);
        // Double reflection errs by h^5 a step: one Richardson step removes the leading term, here and for the places.
        const double miss = b.tangent.dot(one.cross(many));
        parts = std::max(parts, ask(std::abs(miss) / 1e-7, 5));

        if (parts <= 1 || last) {
            piece.twist = std::abs(miss) > 1e-12 ? miss / (1 - rest) : 0;
            m_table.pieces.push_back(piece);
            m_station += h;
            m_carried = many + (miss * rest / (1 - rest)) * b.tangent.cross(many);
            m_carried = (m_carried - m_carried.dot(b.tangent) * b.tangent).normalized();
            return;
        }
        const int n = int(std::clamp(std::ceil(parts * 1.05), 2.0, 32.0));
        Node from = a;
        for (int i = 1; i <= n; ++i) {
            const Node to = i == n ? b : node(s, a.t + dt * i / n);
            cut(s, from, to);
            from = to;
        }
    }

    /// Hermite interpolation by divided differences, written out in powers of u.
    /// Source: Stoer, Bulirsch, "Introduction to Numerical Analysis", 1980, 2.1.5.
    static void fit(ArcPiece& piece, const std::array<const Node*, 4>& node, const std::array<double, 4>& u, double h) {
        constexpr int n = ArcPiece::terms;
        constexpr int at[n] = {0, 0, 0, 1, 1, 2, 2, 3, 3, 3};
        const Node &a = *node[0], &b = *node[3];
        double fastest = 0;
        for (const Node* x : node) fastest = std::max(fastest, x->dt);
        if (!(h > 0) || !std::isfinite(fastest * h) || fastest * h > 8 * (b.t - a.t)) {
            piece.q[1] = b.t - a.t; // next to a cusp: a straight first guess
            return;
        }
        double x[n], d[n];
        for (int i = 0; i < n; ++i) x[i] = u[at[i]], d[i] = node[at[i]]->t - a.t;
        for (int order = 1; order < n; ++order)
            for (int i = n - 1; i >= order; --i) {
                const Node& p = *node[at[i]];
                if (at[i] != at[i - order])
                    d[i] = (d[i] - d[i - 1]) / (x[i] - x[i - order]);
                else
                    d[i] = order == 1 ? p.dt * h : p.ddt * h * h / 2;
            }
        double* q = piece.q;
        std::fill(q, q + n, 0.0);
        for (int i = n - 1; i >= 0; --i) { // q = q (u - x_i) + d_i
            for (int k = n - 1; k > 0; --k) q[k] = q[k - 1] - x[i] * q[k];
            q[0] = d[i] - x[i] * q[0];
        }
        q[0] += a.t;
    }

    const Path::Body& m_body;
    double m_exactError;
    ArcTable m_table;
    int m_span = 0;
    double m_station = 0;
    Vec3 m_carried;
};

} // namespace

const ArcTable& Path::Body::table() const {
    std::call_once(m_once, [&] { m_table = TableBuilder(*this).build(); });
    return m_table;
}

double Path::Body::polish(const ArcPiece& piece, double station) const {
    const Span& span = spans[piece.span];
    const double x = station - piece.s0;
    double lo = piece.t0, hi = piece.t1;
    double t = std::clamp(piece.guess(x * piece.perLength), lo, hi);
    for (int i = 0; i < 80; ++i) {
        const double miss = quickLength(span, piece.t0, t) - x;
        if (std::abs(miss) < 1e-12) break;
        (miss > 0 ? hi : lo) = t;
        const double speed = span.speed(t), next = t - miss / std::max(speed, 1e-300);
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
            return Problem{"Piece " + std::to_string(i + 1) + " of the path cannot be used: " + defect + ".", "path"};
        const Vec3 start = startOf(segments[i]);
        if (end && (start - *end).norm() > gapTolerance)
            return Problem{"There is a gap of " + mm((start - *end).norm()) + " before piece " + std::to_string(i + 1) +
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
        for (int i = 0; i < 60 && b - a > 1e-12; ++i) {
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
