#pragma once
// The inside of Path: tables of the inverse arc length and of the carried frame. Included by path.h for its hot loop.
#include "geometry/path/path.h"
#include <cmath>
#include <mutex>

namespace vicinal {

/// A short stretch of one span. t(s) is a polynomial of degree nine that matches t, dt/ds and d2t/ds2 at both ends, and
/// t and dt/ds at two stations between.
struct ArcPiece {
    static constexpr int terms = 10;
    double s0, s1;    ///< stations, mm
    double t0, t1;    ///< span parameters
    double perLength; ///< 1 / (s1 - s0)
    double q[terms];  ///< t = q0 + u (q1 + u (...)), u = (s - s0) * perLength
    int span;
    bool exact;        ///< the polynomial is within tolerance::station; else (next to a cusp) a first guess for Newton
    Vec3 p0, tangent0; ///< at t0
    Vec3 carried0;     ///< crown of the least-twisting frame at t0
    double twist; ///< rad by which one double reflection over the whole piece falls short; grows with the fifth power

    double guess(double u) const { // Estrin's scheme: short chains, the loop is bound by latency
        const double u2 = u * u, u4 = u2 * u2;
        return ((q[0] + u * q[1]) + u2 * (q[2] + u * q[3])) +
               u4 * (((q[4] + u * q[5]) + u2 * (q[6] + u * q[7])) + u4 * (q[8] + u * q[9]));
    }
};

/// Pieces of the whole path in order.
struct ArcTable {
    std::vector<ArcPiece> pieces;
    double closingTwist = 0;
};
ArcTable arcTableOf(const Path::Body&);

/// Unit normal at (p1, t1) that least twist carries from unit normal r at (p0, t0).
/// Source: Wang, Juettler, Zheng, Liu, "Computation of Rotation Minimizing Frames", ACM TOG 27(1), 2008.
[[gnu::always_inline]] inline Vec3 carry(const Vec3& p0, const Vec3& t0, const Vec3& r, const Vec3& p1,
                                         const Vec3& t1) {
    const Vec3 v1 = p1 - p0;
    const double c1 = v1.squaredNorm();
    if (c1 < 1e-14) { // same point, perhaps another direction: the smallest turn that takes t0 to t1
        const double c = 1 + t0.dot(t1);
        return c > tolerance::fine ? Vec3(r - (r.dot(t1) / c) * (t0 + t1)) : r;
    }
    // Both reflections scaled by c1, so that the two divisions do not wait for each other.
    const Vec3 rl = c1 * r - (2 * v1.dot(r)) * v1;
    const Vec3 v2 = c1 * (t1 - t0) + (2 * v1.dot(t0)) * v1;
    return (rl - (2 * v2.dot(rl) / v2.squaredNorm()) * v2) * (1 / c1);
}

struct Path::Body {
    std::vector<Segment> segments;
    std::vector<Span> spans;
    bool closed = false;
    double length = 0;
    std::vector<Corner> corners;
    std::vector<SteepStretch> steep;
    double steepest = 0;
    Vec3 firstCrown;
    Box3 hull;

    /// Built when it is first asked for.
    const ArcTable& table() const;
    /// Parameter of a station within a piece by Newton's method, kept inside by bisection.
    double polish(const ArcPiece&, double station) const;
    size_t find(const ArcTable&, double station) const;

    template<class Use> void visit(const ArcTable&, size_t piece, std::span<const double>, bool carried, Use&&) const;

private:
    mutable std::once_flag m_once;
    mutable ArcTable m_table;
};

template<class Use> void Path::Body::visit(const ArcTable& table, size_t k, std::span<const double> stations,
                                           bool carried, Use&& use) const {
    const ArcPiece* piece = table.pieces.data() + k;
    const ArcPiece* last = table.pieces.data() + table.pieces.size() - 1;
    const bool twisted = carried && std::abs(table.closingTwist) > 0;
    const double twistRate = table.closingTwist / length;
    const size_t n = stations.size();
    for (size_t i = 0; i < n; ++i) {
        const double s = stations[i];
        while (piece < last && s >= piece->s1) ++piece;
        const double u = (s - piece->s0) * piece->perLength;
        const double t = piece->exact ? piece->guess(u) : polish(*piece, s);
        const Span& span = spans[piece->span];
        Sample out;
        Vec3 d1;
        if (span.kind == Span::Kind::Cubic) {
            const double t2 = t * t;
            out.point = (span.c0 + t * span.c1) + t2 * (span.c2 + t * span.c3);
            d1 = (span.c1 + (2 * t) * span.c2) + (3 * t2) * span.c3;
        } else {
            const Jet j = span.jet(t);
            out.point = j.p;
            d1 = j.d1;
        }
        const double n2 = d1.squaredNorm();
        out.tangent =
            n2 > 1e-18 * span.length * span.length ? Vec3(d1 * (1 / std::sqrt(n2))) : span.tangent(t, t < 0.5);
        if (carried) {
            out.carried = carry(piece->p0, piece->tangent0, piece->carried0, out.point, out.tangent);
            if (piece->twist != 0) {
                const double u2 = u * u;
                out.carried += (piece->twist * u2 * u2 * u) * out.tangent.cross(out.carried);
            }
            if (twisted) {
                const double a = -twistRate * s;
                out.carried = std::cos(a) * out.carried + std::sin(a) * out.tangent.cross(out.carried);
            }
        }
        use(i, out);
    }
}

template<class Use> void Path::visit(std::span<const double> stations, bool carried, Use&& use) const {
    if (stations.empty()) return;
    assert(std::is_sorted(stations.begin(), stations.end()));
    const ArcTable& table = m_body->table();
    m_body->visit(table, m_body->find(table, stations.front()), stations, carried, use);
}

} // namespace vicinal
