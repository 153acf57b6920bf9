#pragma once
#include "geometry/path/segment.h"

namespace vicinal {

/// Point and derivatives by the span's own parameter t in 0..1.
struct Jet {
    Vec3 p, d1, d2;
};

/// One smooth piece of a path, ready for fast evaluation. Every segment becomes one or several.
struct Span {
    enum class Kind { Line, Arc, Cubic, General, Helix, Catenary };
    Kind kind = Kind::Line;
    /// Line: c0 + t c1. Cubic: c0 + t (c1 + t (c2 + t c3)). Arc: centre c0, axes c1, c2 already times the radius.
    Vec3 c0 = Vec3::Zero(), c1 = Vec3::Zero(), c2 = Vec3::Zero(), c3 = Vec3::Zero();
    /// Helix: centre c0, unit axes c1, c2, whole rise c3. Catenary: lowest point c0, unit axes c1 (along), c2 (up).
    double sweep = 0;  ///< Arc, Helix: radians. Catenary: mm of arc length
    double r0 = 0;     ///< Helix: radius at t = 0. Catenary: its a
    double dr = 0;     ///< Helix: change of radius. Catenary: arc length from c0 at t = 0
    BezierForm form;   ///< General only
    int segment = 0;   ///< index of the segment it came from
    double start = 0;  ///< mm, station where it begins
    double length = 0; ///< mm

    Jet jet(double t) const;
    Vec3 point(double t) const { return jet(t).p; }
    double speed(double t) const;
    /// Unit direction of travel at t. Where the speed vanishes, the limit from inside the span (towards larger t
    /// when `forward`, else from smaller t).
    Vec3 tangent(double t, bool forward = true) const;
};

/// The spans of a segment in order; arcs and helices are cut so that none turns more than a quarter.
std::vector<Span> spansOf(const Segment&, int index);

/// The part of a span between t0 and t1 (t0 < t1) as a segment; the same curve.
Segment segmentOf(const Span&, double t0 = 0, double t1 = 1);

/// Length of `span` between t = a and t = b (a <= b), mm. Exact for lines and arcs, else adaptive Gauss-Legendre with
/// an absolute error below tolerance::station / 100 for curves without cusps and below tolerance::station with them.
double lengthBetween(const Span& span, double a, double b);
/// The station of its path at t; the span's own ends at 0 and below, at 1 and beyond.
double stationOn(const Span&, double t);

/// The box of a span, and of a segment: exact to 1e-12 of its size, whatever its kind.
Box3 boundsOf(const Span& span);
Box3 boundsOf(const Segment&);

/// Five-point Gauss-Legendre estimate of the same, without error control.
double quickLength(const Span& span, double a, double b);

} // namespace vicinal
