#include "base/numeric/solve.h"
#include "geometry/path/span.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// Parameters at which one coordinate turns back; each kind of span adds its own.
class Turning {
public:
    Turning(const Span& s, Box3& box) : m_span(s), m_box(box) {}

    void at(double t) const {
        if (t > 0 && t < 1) m_box.extend(m_span.point(t));
    }
    void arc(int k) const {
        const double top = std::atan2(m_span.c2[k], m_span.c1[k]);
        for (int turn = -3; turn <= 3; ++turn) at((top + turn * kPi) / m_span.sweep);
    }
    void cubic(int k) const { // c1 + 2 c2 t + 3 c3 t^2 = 0
        const double a = 3 * m_span.c3[k], b = m_span.c2[k], c = m_span.c1[k], d = b * b - a * c;
        if (d < 0) return;
        const double q = -(b + std::copysign(std::sqrt(d), b));
        if (a != 0) at(q / a);
        if (q != 0) at(c / q);
    }
    void catenary(int k) const {
        const double along = m_span.c1[k], up = m_span.c2[k];
        if (up != 0) at((-m_span.r0 * along / up - m_span.dr) / m_span.sweep);
    }
    void
    helix(int k) const { // at most a quarter turn: few roots, none of them close together but where it hardly moves
        constexpr int n = 32;
        const auto slope = [&](double t) { return m_span.jet(t).d1[k]; };
        double before = slope(0);
        for (int i = 1; i <= n; ++i) {
            const double now = slope(double(i) / n);
            if ((before < 0) != (now < 0)) {
                const auto [a, b] = halved(double(i - 1) / n, double(i) / n, 50,
                                           [&](double t) { return (slope(t) < 0) == (before < 0); });
                at((a + b) / 2);
            }
            before = now;
        }
    }

private:
    const Span& m_span;
    Box3& m_box;
};

/// Largest value of coordinate k times `sign` over a rational Bezier form, by halving: what a piece can reach is held
/// by its control points (weights are positive), and that bound nears the curve four times a halving.
double farthest(const BezierForm& form, int k, double sign) {
    using Row = std::vector<Vec4>;
    const auto value = [&](const Vec4& h) { return sign * h[k] / h.w(); };
    double best = std::max(value(form.h.front()), value(form.h.back())), size = 0;
    for (const auto& h : form.h) size = std::max(size, std::abs(value(h)));
    const double enough = 1e-13 * size + tolerance::fine;
    std::vector<std::pair<Row, int>> todo{{form.h, 0}};
    for (int work = 0; !todo.empty() && work < 4000; ++work) {
        auto [row, depth] = std::move(todo.back());
        todo.pop_back();
        double reach = -std::numeric_limits<double>::infinity();
        for (const auto& h : row) reach = std::max(reach, value(h));
        if (reach <= best + enough || depth > 48) continue;
        Row right(row.size());
        const size_t n = row.size();
        for (size_t r = 0; r < n; ++r) { // de Casteljau at the middle, in place: row becomes the left half
            right[n - 1 - r] = row[n - 1];
            for (size_t i = n - 1; i > r; --i) row[i] = (row[i] + row[i - 1]) / 2;
        }
        best = std::max(best, value(right.front()));
        todo.emplace_back(std::move(right), depth + 1);
        todo.emplace_back(std::move(row), depth + 1);
    }
    return sign * best;
}

} // namespace

Box3 boundsOf(const Span& s) {
    Box3 box;
    if (s.kind == Span::Kind::General) {
        for (int k = 0; k < 3; ++k) {
            box.min()[k] = farthest(s.form, k, -1);
            box.max()[k] = farthest(s.form, k, 1);
        }
        return box;
    }
    box.extend(s.point(0));
    box.extend(s.point(1));
    const Turning turning(s, box);
    for (int k = 0; k < 3; ++k) switch (s.kind) {
        case Span::Kind::Arc: turning.arc(k); break;
        case Span::Kind::Cubic: turning.cubic(k); break;
        case Span::Kind::Catenary: turning.catenary(k); break;
        case Span::Kind::Helix: turning.helix(k); break;
        case Span::Kind::Line:
        case Span::Kind::General: break;
        }
    return box;
}

Box3 boundsOf(const Segment& segment) {
    Box3 box;
    for (const auto& s : spansOf(segment, 0)) box.extend(boundsOf(s));
    return box;
}

} // namespace vicinal
