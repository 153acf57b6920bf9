// The table from station to parameter of a path, and the frames that are carried along it.
#include "geometry/path/path_body.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal {
namespace {

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
            if (std::abs(m_table.closingTwist) < tolerance::fine) m_table.closingTwist = 0;
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
        if (f < tolerance::rounding * s.length) return {t, 1 / std::max(f, kTiny), 0, j.p, s.tangent(t, t < 0.5)};
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
        const bool last = dt < 1e-11 || h < tolerance::rounding;
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
            piece.twist = std::abs(miss) > tolerance::fine ? miss / (1 - rest) : 0;
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

ArcTable arcTableOf(const Path::Body& body) { return TableBuilder(body).build(); }

} // namespace vicinal
