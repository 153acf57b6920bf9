#include "geometry/path/span.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// Value and two derivatives of a homogeneous Bezier form, by de Casteljau.
Jet generalJet(const BezierForm& form, double t) {
    Vec4 d[26];
    const int n = int(form.h.size()) - 1;
    std::copy(form.h.begin(), form.h.end(), d);
    Vec4 second = Vec4::Zero(), first = Vec4::Zero();
    for (int r = n; r > 0; --r) {
        if (r == 2) second = (d[2] - 2 * d[1] + d[0]) * (n * (n - 1.0));
        if (r == 1) first = (d[1] - d[0]) * double(n);
        for (int i = 0; i < r; ++i) d[i] += t * (d[i + 1] - d[i]);
    }
    Jet j;
    const double w = d[0].w();
    j.p = d[0].head<3>() / w;
    j.d1 = (first.head<3>() - first.w() * j.p) / w;
    j.d2 = (second.head<3>() - 2 * first.w() * j.d1 - second.w() * j.p) / w;
    return j;
}

double integrate(const Span& s, double a, double b, double whole, int depth) {
    const double m = (a + b) / 2, l = quickLength(s, a, m), r = quickLength(s, m, b);
    // Halving a ten-order rule leaves about 1/1000 of the difference as error.
    if (std::abs(l + r - whole) <= 1e-10 + 1e-14 * whole || depth == 0) return l + r;
    return integrate(s, a, m, l, depth - 1) + integrate(s, m, b, r, depth - 1);
}

Span cubic(const std::array<Vec3, 4>& p, int index) {
    Span s;
    s.kind = Span::Kind::Cubic;
    s.segment = index;
    s.c0 = p[0];
    s.c1 = 3 * (p[1] - p[0]);
    s.c2 = 3 * (p[2] - 2 * p[1] + p[0]);
    s.c3 = p[3] - 3 * p[2] + 3 * p[1] - p[0];
    return s;
}

Span fromForm(const BezierForm& f, int index) {
    if (!f.rational && f.h.size() <= 4) {
        std::vector<Vec3> p;
        for (const auto& h : f.h) p.push_back(h.head<3>() / h.w());
        if (p.size() == 2) {
            Span s;
            s.segment = index;
            s.c0 = p[0];
            s.c1 = p[1] - p[0];
            return s;
        }
        if (p.size() == 3) return cubic({p[0], (p[0] + 2 * p[1]) / 3, (2 * p[1] + p[2]) / 3, p[2]}, index);
        return cubic({p[0], p[1], p[2], p[3]}, index);
    }
    Span s;
    s.kind = Span::Kind::General;
    s.segment = index;
    s.form = f;
    return s;
}

} // namespace

Jet Span::jet(double t) const {
    switch (kind) {
    case Kind::Line: return {c0 + t * c1, c1, Vec3::Zero()};
    case Kind::Cubic: return {c0 + t * (c1 + t * (c2 + t * c3)), c1 + t * (2 * c2 + t * 3 * c3), 2 * c2 + t * 6 * c3};
    case Kind::Arc: {
        const double a = t * sweep, c = std::cos(a), s = std::sin(a);
        const Vec3 out = c * c1 + s * c2;
        return {c0 + out, sweep * (c * c2 - s * c1), -sweep * sweep * out};
    }
    case Kind::Helix: {
        const double a = t * sweep, c = std::cos(a), s = std::sin(a), r = r0 + t * dr;
        const Vec3 out = c * c1 + s * c2, turn = sweep * (c * c2 - s * c1);
        return {c0 + r * out + t * c3, dr * out + r * turn + c3, 2 * dr * turn - (r * sweep * sweep) * out};
    }
    case Kind::Catenary: {
        const double s = dr + t * sweep, h = std::sqrt(r0 * r0 + s * s), k = sweep / h, k2 = k * k / h;
        return {c0 + (r0 * std::asinh(s / r0)) * c1 + (s * s / (h + r0)) * c2, k * (r0 * c1 + s * c2),
                k2 * r0 * (r0 * c2 - s * c1)};
    }
    case Kind::General: break;
    }
    return generalJet(form, t);
}

double Span::speed(double t) const {
    if (kind == Kind::Cubic) return (c1 + t * (2 * c2 + t * 3 * c3)).norm();
    return jet(t).d1.norm();
}

Vec3 Span::tangent(double t, bool forward) const {
    const Jet j = jet(t);
    const double n = j.d1.norm();
    if (n > tolerance::rounding * std::max(length, kTiny)) return j.d1 / n;
    // A point where the speed vanishes: look a little to the wanted side.
    for (double h = tolerance::alike; h < 0.1; h *= 10) {
        const double u = forward ? std::min(1.0, t + h) : std::max(0.0, t - h);
        const Vec3 d = forward ? Vec3(point(u) - j.p) : Vec3(j.p - point(u));
        if (d.norm() > 1e-10 * std::max(length, kTiny)) return d.normalized();
    }
    return Vec3::UnitX();
}

std::vector<Span> spansOf(const Segment& segment, int index) {
    std::vector<Span> out;
    if (const auto* l = std::get_if<Line>(&segment)) {
        Span s;
        s.segment = index;
        s.c0 = l->a;
        s.c1 = l->b - l->a;
        out.push_back(s);
    } else if (const auto* a = std::get_if<Arc>(&segment)) {
        const int n = std::max(1, int(std::ceil(std::abs(a->sweep) / (kPi / 2) - tolerance::rounding)));
        for (int i = 0; i < n; ++i) {
            const double t = a->sweep * i / n;
            Span s;
            s.kind = Span::Kind::Arc;
            s.segment = index;
            s.c0 = a->centre;
            s.c1 = a->radius * (std::cos(t) * a->xAxis + std::sin(t) * a->yAxis);
            s.c2 = a->radius * (-std::sin(t) * a->xAxis + std::cos(t) * a->yAxis);
            s.sweep = a->sweep / n;
            out.push_back(s);
        }
    } else if (const auto* b = std::get_if<Bezier>(&segment)) {
        out.push_back(cubic(b->p, index));
    } else if (const auto* h = std::get_if<Helix>(&segment)) {
        const int n = std::max(1, int(std::ceil(std::abs(h->sweep) / (kPi / 2) - tolerance::rounding)));
        const Vec3 z = h->xAxis.cross(h->yAxis);
        for (int i = 0; i < n; ++i) {
            const double u = double(i) / n, t = h->sweep * u;
            Span s;
            s.kind = Span::Kind::Helix;
            s.segment = index;
            s.c0 = h->centre + u * h->rise * z;
            s.c1 = std::cos(t) * h->xAxis + std::sin(t) * h->yAxis;
            s.c2 = -std::sin(t) * h->xAxis + std::cos(t) * h->yAxis;
            s.c3 = h->rise / n * z;
            s.sweep = h->sweep / n;
            s.r0 = h->r0 + u * (h->r1 - h->r0);
            s.dr = (h->r1 - h->r0) / n;
            out.push_back(s);
        }
    } else if (const auto* k = std::get_if<Catenary>(&segment)) {
        Span s;
        s.kind = Span::Kind::Catenary;
        s.segment = index;
        s.c0 = k->low;
        s.c1 = k->along;
        s.c2 = k->up;
        s.sweep = k->s1 - k->s0;
        s.r0 = k->a;
        s.dr = k->s0;
        out.push_back(s);
    } else {
        for (const auto& f : bezierForms(std::get<Nurbs>(segment))) out.push_back(fromForm(f, index));
    }
    for (auto& s : out) s.length = lengthBetween(s, 0, 1);
    return out;
}

Segment segmentOf(const Span& s, double t0, double t1) {
    Segment whole;
    switch (s.kind) {
    case Span::Kind::Line: whole = Line{s.c0, s.c0 + s.c1}; break;
    case Span::Kind::Arc: whole = Arc{s.c0, s.c1.normalized(), s.c2.normalized(), s.c1.norm(), s.sweep}; break;
    case Span::Kind::Cubic: {
        const Vec3 p1 = s.c0 + s.c1 / 3, p2 = 2 * p1 - s.c0 + s.c2 / 3;
        whole = Bezier{{s.c0, p1, p2, s.c0 + s.c1 + s.c2 + s.c3}};
        break;
    }
    case Span::Kind::General: {
        Nurbs c;
        c.degree = int(s.form.h.size()) - 1;
        c.knots.assign(c.degree + 1, 0.0);
        c.knots.insert(c.knots.end(), c.degree + 1, 1.0);
        for (const auto& h : s.form.h) c.points.push_back(h.head<3>() / h.w()), c.weights.push_back(h.w());
        whole = std::move(c);
        break;
    }
    case Span::Kind::Helix:
        whole = Helix{s.c0, s.c1, s.c2, s.r0, s.r0 + s.dr, s.sweep, s.c3.dot(s.c1.cross(s.c2))};
        break;
    case Span::Kind::Catenary: whole = Catenary{s.c0, s.c1, s.c2, s.r0, s.dr, s.dr + s.sweep}; break;
    }
    if (t1 < 1) whole = split(whole, t1).first;
    if (t0 > 0) whole = split(whole, t0 / t1).second;
    return whole;
}

double quickLength(const Span& s, double a, double b) {
    static constexpr double x[2] = {0.5384693101056830910363144, 0.9061798459386639927976269};
    static constexpr double w[3] = {0.5688888888888888888888889, 0.4786286704993664680412915,
                                    0.2369268850561890875142640};
    const double m = (a + b) / 2, h = (b - a) / 2;
    return h * (w[0] * s.speed(m) + w[1] * (s.speed(m - h * x[0]) + s.speed(m + h * x[0])) +
                w[2] * (s.speed(m - h * x[1]) + s.speed(m + h * x[1])));
}

double lengthBetween(const Span& s, double a, double b) {
    if (s.kind == Span::Kind::Line) return s.c1.norm() * (b - a);
    if (s.kind == Span::Kind::Arc) return s.c1.norm() * std::abs(s.sweep) * (b - a);
    if (s.kind == Span::Kind::Catenary) return s.sweep * (b - a);
    if (s.kind == Span::Kind::Helix && s.dr == 0) return std::hypot(s.r0 * s.sweep, s.c3.norm()) * (b - a);
    return integrate(s, a, b, quickLength(s, a, b), 45);
}

double stationOn(const Span& span, double t) {
    if (t <= 0) return span.start;
    return span.start + (t >= 1 ? span.length : lengthBetween(span, 0, t));
}

} // namespace vicinal
