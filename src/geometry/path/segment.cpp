#include "geometry/path/segment.h"
#include <algorithm>
#include <cmath>
#include <string>

namespace vicinal {
namespace {

template<class... Ts> struct Overloaded : Ts... { using Ts::operator()...; };
template<class... Ts> Overloaded(Ts...) -> Overloaded<Ts...>;

Vec4 lifted(const Nurbs& c, size_t i) {
    const double w = c.weights.empty() ? 1.0 : c.weights[i];
    return {c.points[i].x() * w, c.points[i].y() * w, c.points[i].z() * w, w};
}

Vec3 projected(const Vec4& h) { return h.head<3>() / h.w(); }

/// Polar form of the polynomial over knot span k at `args` (degree many).
Vec4 blossom(const Nurbs& c, int k, const std::vector<double>& args) {
    const int p = c.degree;
    std::vector<Vec4> d(p + 1);
    for (int j = 0; j <= p; ++j) d[j] = lifted(c, k - p + j);
    for (int r = 1; r <= p; ++r)
        for (int j = p; j >= r; --j) {
            const int i = k - p + j;
            const double lo = c.knots[i], hi = c.knots[i + p - r + 1];
            const double a = (args[r - 1] - lo) / (hi - lo);
            d[j] = (1 - a) * d[j - 1] + a * d[j];
        }
    return d[p];
}

Vec3 arcPoint(const Arc& a, double u) {
    const double t = u * a.sweep;
    return a.centre + a.radius * (std::cos(t) * a.xAxis + std::sin(t) * a.yAxis);
}

Vec3 helixPoint(const Helix& h, double u) {
    const double t = u * h.sweep, r = h.r0 + u * (h.r1 - h.r0);
    return h.centre + r * (std::cos(t) * h.xAxis + std::sin(t) * h.yAxis) + u * h.rise * h.xAxis.cross(h.yAxis);
}

/// sqrt(a^2 + s^2) - a without cancellation.
double sagAt(double a, double s) { return s * s / (std::sqrt(a * a + s * s) + a); }

Vec3 catenaryPoint(const Catenary& c, double s) {
    return c.low + c.a * std::asinh(s / c.a) * c.along + sagAt(c.a, s) * c.up;
}

bool isRational(const Nurbs& c) {
    return std::any_of(c.weights.begin(), c.weights.end(), [&](double w) { return w != c.weights.front(); });
}

/// NURBS that holds some neighbouring Bezier forms, knots 0, 1, 2...
Nurbs fromForms(const std::vector<BezierForm>& forms, const std::vector<double>& breaks) {
    Nurbs out;
    out.degree = int(forms.front().h.size()) - 1;
    out.knots.assign(out.degree + 1, breaks.front());
    for (size_t f = 0; f < forms.size(); ++f) {
        for (size_t i = f == 0 ? 0 : 1; i < forms[f].h.size(); ++i) {
            out.points.push_back(projected(forms[f].h[i]));
            out.weights.push_back(forms[f].h[i].w());
        }
        const int times = f + 1 == forms.size() ? out.degree + 1 : out.degree;
        out.knots.insert(out.knots.end(), times, breaks[f + 1]);
    }
    return out;
}

template<class P> std::pair<std::vector<P>, std::vector<P>> casteljau(std::vector<P> p, double u) {
    std::vector<P> left, right;
    for (size_t n = p.size(); n > 0; --n) {
        left.push_back(p[0]);
        right.insert(right.begin(), p[n - 1]);
        for (size_t i = 0; i + 1 < n; ++i) p[i] = (1 - u) * p[i] + u * p[i + 1];
    }
    return {left, right};
}

std::vector<double> distinctKnots(const Nurbs& c) {
    std::vector<double> out;
    for (size_t i = c.degree; i <= c.points.size(); ++i)
        if (out.empty() || c.knots[i] > out.back()) out.push_back(c.knots[i]);
    return out;
}

std::pair<Segment, Segment> splitNurbs(const Nurbs& c, double u) {
    const auto breaks = distinctKnots(c);
    auto forms = bezierForms(c);
    const double at = breaks.front() + u * (breaks.back() - breaks.front());
    size_t f = 0;
    while (f + 1 < forms.size() && breaks[f + 1] <= at) ++f;
    const auto [l, r] = casteljau(forms[f].h, (at - breaks[f]) / (breaks[f + 1] - breaks[f]));
    std::vector<BezierForm> left(forms.begin(), forms.begin() + f), right(forms.begin() + f + 1, forms.end());
    std::vector<double> lb(breaks.begin(), breaks.begin() + f + 1), rb(breaks.begin() + f + 1, breaks.end());
    lb.push_back(at);
    rb.insert(rb.begin(), at);
    left.push_back({l, forms[f].rational});
    right.insert(right.begin(), {r, forms[f].rational});
    return {fromForms(left, lb), fromForms(right, rb)};
}

} // namespace

std::vector<BezierForm> bezierForms(const Nurbs& c) {
    std::vector<BezierForm> out;
    const bool rational = isRational(c);
    const int p = c.degree;
    for (size_t k = p; k < c.points.size(); ++k) {
        const double a = c.knots[k], b = c.knots[k + 1];
        if (!(b > a)) continue;
        BezierForm form;
        form.rational = rational;
        std::vector<double> args(p, a);
        for (int j = 0; j <= p; ++j) {
            form.h.push_back(blossom(c, int(k), args));
            if (j < p) args[p - 1 - j] = b;
        }
        out.push_back(std::move(form));
    }
    return out;
}

Vec3 startOf(const Segment& s) {
    return std::visit(Overloaded{[](const Line& l) { return l.a; }, [](const Arc& a) { return arcPoint(a, 0); },
                                 [](const Bezier& b) { return b.p[0]; },
                                 [](const Nurbs& c) { return projected(bezierForms(c).front().h.front()); },
                                 [](const Helix& h) { return helixPoint(h, 0); },
                                 [](const Catenary& k) { return catenaryPoint(k, k.s0); }},
                      s);
}

Vec3 endOf(const Segment& s) {
    return std::visit(Overloaded{[](const Line& l) { return l.b; }, [](const Arc& a) { return arcPoint(a, 1); },
                                 [](const Bezier& b) { return b.p[3]; },
                                 [](const Nurbs& c) { return projected(bezierForms(c).back().h.back()); },
                                 [](const Helix& h) { return helixPoint(h, 1); },
                                 [](const Catenary& k) { return catenaryPoint(k, k.s1); }},
                      s);
}

Segment reversed(const Segment& s) {
    return std::visit(
        Overloaded{[](const Line& l) -> Segment {
                       return Line{l.b, l.a};
                   },
                   [](const Arc& a) -> Segment {
                       const Vec3 x = std::cos(a.sweep) * a.xAxis + std::sin(a.sweep) * a.yAxis;
                       const Vec3 y = std::sin(a.sweep) * a.xAxis - std::cos(a.sweep) * a.yAxis;
                       return Arc{a.centre, x, y, a.radius, a.sweep};
                   },
                   [](const Bezier& b) -> Segment {
                       return Bezier{{b.p[3], b.p[2], b.p[1], b.p[0]}};
                   },
                   [](const Nurbs& c) -> Segment {
                       Nurbs r = c;
                       std::reverse(r.points.begin(), r.points.end());
                       std::reverse(r.weights.begin(), r.weights.end());
                       const double sum = c.knots.front() + c.knots.back();
                       for (size_t i = 0; i < r.knots.size(); ++i) r.knots[i] = sum - c.knots[c.knots.size() - 1 - i];
                       return r;
                   },
                   [](const Helix& h) -> Segment {
                       const Vec3 x = std::cos(h.sweep) * h.xAxis + std::sin(h.sweep) * h.yAxis;
                       const Vec3 y = std::sin(h.sweep) * h.xAxis - std::cos(h.sweep) * h.yAxis;
                       return Helix{h.centre + h.rise * h.xAxis.cross(h.yAxis), x, y, h.r1, h.r0, h.sweep, h.rise};
                   },
                   [](const Catenary& k) -> Segment { return Catenary{k.low, -k.along, k.up, k.a, -k.s1, -k.s0}; }},
        s);
}

Segment moved(const Segment& s, const Mat3& R, const Vec3& t, double k) {
    const auto go = [&](const Vec3& p) -> Vec3 { return k * (R * p) + t; };
    return std::visit(Overloaded{[&](const Line& l) -> Segment {
                                     return Line{go(l.a), go(l.b)};
                                 },
                                 [&](const Arc& a) -> Segment {
                                     return Arc{go(a.centre), R * a.xAxis, R * a.yAxis, k * a.radius, a.sweep};
                                 },
                                 [&](const Bezier& b) -> Segment {
                                     return Bezier{{go(b.p[0]), go(b.p[1]), go(b.p[2]), go(b.p[3])}};
                                 },
                                 [&](Nurbs c) -> Segment {
                                     for (auto& p : c.points) p = go(p);
                                     return c;
                                 },
                                 [&](const Helix& h) -> Segment { // mirrored, x cross y points the other way
                                     return Helix{go(h.centre),
                                                  R * h.xAxis,
                                                  R * h.yAxis,
                                                  k * h.r0,
                                                  k * h.r1,
                                                  h.sweep,
                                                  (R.determinant() < 0 ? -k : k) * h.rise};
                                 },
                                 [&](const Catenary& c) -> Segment {
                                     return Catenary{go(c.low), R * c.along, R * c.up, k * c.a, k * c.s0, k * c.s1};
                                 }},
                      s);
}

Segment mapped(const Segment& s, const Mat3& A, const Vec3& t) {
    const double k = std::cbrt(std::abs(A.determinant()));
    if (k > 0 && (A * A.transpose() / (k * k) - Mat3::Identity()).cwiseAbs().maxCoeff() < tolerance::fine)
        return moved(s, A / k, t, k);
    const auto go = [&](const Vec3& p) -> Vec3 { return A * p + t; };
    if (const auto* l = std::get_if<Line>(&s)) return Line{go(l->a), go(l->b)};
    if (const auto* b = std::get_if<Bezier>(&s)) return Bezier{{go(b->p[0]), go(b->p[1]), go(b->p[2]), go(b->p[3])}};
    if (const auto* a = std::get_if<Arc>(&s)) {
        const Vec3 x = A * a->xAxis, y = A * a->yAxis; // still a circle when they are as long and square to each other
        const double r = x.norm();
        if (r > 0 && std::abs(y.norm() - r) < tolerance::fine * r && std::abs(x.dot(y)) < tolerance::fine * r * r)
            return Arc{go(a->centre), x / r, y / r, a->radius * r, a->sweep};
        return ellipseArc(go(a->centre), a->radius * x, (a->sweep < 0 ? -1 : 1) * a->radius * y, 0, std::abs(a->sweep));
    }
    assert(std::holds_alternative<Nurbs>(s));
    Nurbs c = std::get<Nurbs>(s);
    for (auto& p : c.points) p = go(p);
    return c;
}

std::pair<Segment, Segment> split(const Segment& s, double u) {
    assert(u > 0 && u < 1);
    return std::visit(
        Overloaded{
            [&](const Line& l) -> std::pair<Segment, Segment> {
                const Vec3 m = l.a + u * (l.b - l.a);
                return {Line{l.a, m}, Line{m, l.b}};
            },
            [&](const Arc& a) -> std::pair<Segment, Segment> {
                const double t = u * a.sweep;
                const Vec3 x = std::cos(t) * a.xAxis + std::sin(t) * a.yAxis;
                const Vec3 y = -std::sin(t) * a.xAxis + std::cos(t) * a.yAxis;
                return {Arc{a.centre, a.xAxis, a.yAxis, a.radius, t}, Arc{a.centre, x, y, a.radius, a.sweep - t}};
            },
            [&](const Bezier& b) -> std::pair<Segment, Segment> {
                const auto [l, r] = casteljau(std::vector<Vec3>(b.p.begin(), b.p.end()), u);
                return {Bezier{{l[0], l[1], l[2], l[3]}}, Bezier{{r[0], r[1], r[2], r[3]}}};
            },
            [&](const Nurbs& c) { return splitNurbs(c, u); },
            [&](const Helix& h) -> std::pair<Segment, Segment> {
                const double t = u * h.sweep, r = h.r0 + u * (h.r1 - h.r0);
                const Vec3 x = std::cos(t) * h.xAxis + std::sin(t) * h.yAxis;
                const Vec3 y = -std::sin(t) * h.xAxis + std::cos(t) * h.yAxis;
                const Vec3 up = u * h.rise * h.xAxis.cross(h.yAxis);
                return {Helix{h.centre, h.xAxis, h.yAxis, h.r0, r, t, u * h.rise},
                        Helix{h.centre + up, x, y, r, h.r1, h.sweep - t, h.rise - u * h.rise}};
            },
            [&](const Catenary& k) -> std::pair<Segment, Segment> {
                Catenary l = k, r = k;
                l.s1 = r.s0 = k.s0 + u * (k.s1 - k.s0);
                return {l, r};
            }},
        s);
}

Segment arcThrough(const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a, n = ab.cross(ac);
    if (n.norm() <= tolerance::angle * ab.norm() * ac.norm()) return Line{a, c};
    const Vec3 toCentre = (n.cross(ab) * ac.squaredNorm() + ac.cross(n) * ab.squaredNorm()) / (2 * n.squaredNorm());
    Arc arc;
    arc.centre = a + toCentre;
    arc.radius = toCentre.norm();
    arc.xAxis = -toCentre / arc.radius;
    arc.yAxis = n.normalized().cross(arc.xAxis);
    const Vec3 end = c - arc.centre;
    arc.sweep = std::atan2(end.dot(arc.yAxis), end.dot(arc.xAxis));
    if (arc.sweep <= 0) arc.sweep += 2 * kPi; // n points so that the turn a -> b -> c is positive
    return arc;
}

Nurbs ellipseArc(const Vec3& centre, const Vec3& major, const Vec3& minor, double t0, double t1) {
    const int quarters = std::max(1, int(std::ceil((t1 - t0) / (kPi / 2) - tolerance::fine)));
    const double step = (t1 - t0) / quarters, w = std::cos(step / 2);
    Nurbs c;
    c.degree = 2;
    const auto at = [&](double t, double scale) -> Vec3 {
        return centre + scale * (std::cos(t) * major + std::sin(t) * minor);
    };
    c.knots = {t0, t0, t0};
    c.points = {at(t0, 1)};
    c.weights = {1};
    for (int q = 0; q < quarters; ++q) {
        const double a = t0 + q * step, b = q + 1 == quarters ? t1 : a + step;
        c.points.push_back(at((a + b) / 2, 1 / w));
        c.points.push_back(at(b, 1));
        c.weights.insert(c.weights.end(), {w, 1.0});
        c.knots.insert(c.knots.end(), q + 1 == quarters ? 3 : 2, b);
    }
    return c;
}

std::string defectOf(const Segment& s) {
    const auto bad = [](auto&&... v) { return !(finite(v) && ...); };
    const auto far = [](auto&&... v) { return !(inReach(v) && ...); };
    const char* const beyond = "a coordinate lies beyond 1000 km";
    return std::visit(
        Overloaded{[&](const Line& l) -> std::string {
                       if (bad(l.a, l.b)) return "a line has a coordinate that is not a number";
                       return far(l.a, l.b) ? beyond : "";
                   },
                   [&](const Arc& a) -> std::string {
                       if (bad(a.centre, a.xAxis, a.yAxis) || !std::isfinite(a.radius) || !std::isfinite(a.sweep))
                           return "an arc has a value that is not a number";
                       if (!(a.radius > 0)) return "an arc has no radius";
                       // A very flat arc may have its centre far out; its points may not.
                       if (a.radius > 1e3 * kLargest || far(arcPoint(a, 0), arcPoint(a, 0.5), arcPoint(a, 1)))
                           return beyond;
                       if (std::abs(a.sweep) > 2 * kPi + tolerance::rounding)
                           return "an arc turns more than once round";
                       return "";
                   },
                   [&](const Bezier& b) -> std::string {
                       if (bad(b.p[0], b.p[1], b.p[2], b.p[3])) return "a curve has a coordinate that is not a number";
                       return far(b.p[0], b.p[1], b.p[2], b.p[3]) ? beyond : "";
                   },
                   [&](const Nurbs& c) -> std::string {
                       if (c.degree < 1 || c.degree > 25)
                           return "a spline has degree " + std::to_string(c.degree) + ", not 1 to 25";
                       if (c.points.size() < size_t(c.degree) + 1)
                           return "a spline has too few control points for its degree";
                       if (c.knots.size() != c.points.size() + c.degree + 1)
                           return "a spline's knots do not fit its points";
                       if (!c.weights.empty() && c.weights.size() != c.points.size())
                           return "a spline's weights do not fit its points";
                       for (const auto& p : c.points)
                           if (bad(p)) return "a spline has a coordinate that is not a number";
                       for (double w : c.weights)
                           if (!std::isfinite(w) || w <= 0) return "a spline has a weight that is not positive";
                       for (const auto& p : c.points)
                           if (far(p)) return beyond;
                       if (!c.weights.empty()) {
                           const auto [least, most] = std::minmax_element(c.weights.begin(), c.weights.end());
                           if (*most > 1e9 * *least) return "a spline's weights differ by more than a billion times";
                       }
                       for (double k : c.knots)
                           if (!std::isfinite(k)) return "a spline has a knot that is not a number";
                       if (!std::is_sorted(c.knots.begin(), c.knots.end())) return "a spline's knots are not in order";
                       if (!(c.knots[c.points.size()] > c.knots[c.degree])) return "a spline's knots span nothing";
                       return "";
                   },
                   [&](const Helix& h) -> std::string {
                       if (bad(h.centre, h.xAxis, h.yAxis) || !std::isfinite(h.r0 + h.r1 + h.sweep + h.rise))
                           return "a helix has a value that is not a number";
                       if (far(h.centre, h.r0, h.r1, h.rise)) return beyond;
                       if (h.r0 < 0 || h.r1 < 0) return "a helix has a radius below zero";
                       if (std::abs(h.sweep) > 2 * kPi * 10000) return "a helix has more than 10000 turns";
                       return "";
                   },
                   [&](const Catenary& k) -> std::string {
                       if (bad(k.low, k.along, k.up) || !std::isfinite(k.a + k.s0 + k.s1))
                           return "a hanging line has a value that is not a number";
                       if (!(k.a > 0) || !(k.s1 > k.s0)) return "a hanging line has no length";
                       if (k.a > 1e6 * kLargest || far(catenaryPoint(k, k.s0), catenaryPoint(k, k.s1))) return beyond;
                       return "";
                   }},
        s);
}

} // namespace vicinal
