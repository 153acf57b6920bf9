#pragma once
#include "base/vec.h"
#include <array>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace vicinal {

/// Straight from a to b.
struct Line {
    Vec3 a, b;
};

/// Circular arc in space: P(u) = centre + radius (cos(u sweep) xAxis + sin(u sweep) yAxis), u in 0..1.
/// xAxis, yAxis: unit, square to each other. sweep: radians, signed, 0 < |sweep| <= 2 pi.
struct Arc {
    Vec3 centre, xAxis, yAxis;
    double radius = 0, sweep = 0;
};

/// Cubic Bezier curve.
struct Bezier {
    std::array<Vec3, 4> p;
};

/// Rational B-spline, kept as it was imported. knots: points.size() + degree + 1, not decreasing; weights: one per
/// point, positive. The curve runs over knots[degree] .. knots[points.size()].
struct Nurbs {
    int degree = 3;
    std::vector<double> knots;
    std::vector<Vec3> points;
    std::vector<double> weights;
};

/// Screw line, also conical or flat: P(u) = centre + r(u) (cos(u sweep) xAxis + sin(u sweep) yAxis) + u rise zAxis with
/// r(u) = r0 + u (r1 - r0), zAxis = xAxis x yAxis, u in 0..1. sweep: radians, signed, any number of turns.
struct Helix {
    Vec3 centre, xAxis, yAxis;
    double r0 = 0, r1 = 0, sweep = 0, rise = 0;
};

/// Hanging chain: P(s) = low + a asinh(s / a) along + (sqrt(a^2 + s^2) - a) up, s from s0 to s1 (s0 < s1): s is the arc
/// length from the lowest point. along, up: unit, square to each other. a > 0: mm, radius of curvature at `low`.
struct Catenary {
    Vec3 low, along, up;
    double a = 0, s0 = 0, s1 = 0;
};

using Segment = std::variant<Line, Arc, Bezier, Nurbs, Helix, Catenary>;

/// A smooth rational piece in homogeneous Bezier form (x w, y w, z w, w): the common form of Bezier and NURBS spans.
struct BezierForm {
    std::vector<Vec4> h; ///< degree + 1 control values
    bool rational = false;
};

/// Nurbs pieces between its distinct knots, each exact (blossoming; Ramshaw, "Blossoms are polar forms", CAGD 1989).
std::vector<BezierForm> bezierForms(const Nurbs&);

/// First and last point of a segment.
Vec3 startOf(const Segment&);
Vec3 endOf(const Segment&);

/// The same curve run backwards.
Segment reversed(const Segment&);

/// The segment moved by `x -> k R x + t`; R must be a rotation or a rotation with a mirroring, k > 0.
Segment moved(const Segment&, const Mat3& R, const Vec3& t, double k = 1);

/// The segment mapped by x -> A x + t, A any matrix (sheared, flattened): lines, splines and arcs exactly, an arc as an
/// ellipse arc where A is no similarity. Precondition: not a Helix or Catenary unless A is a similarity.
Segment mapped(const Segment&, const Mat3& A, const Vec3& t);

/// The two parts of a segment cut at u in (0, 1) of its parameter (for NURBS: of its knot range). Same curve exactly.
std::pair<Segment, Segment> split(const Segment&, double u);

/// Arc through three points that are not on one line (else a Line from a to c).
Segment arcThrough(const Vec3& a, const Vec3& b, const Vec3& c);

/// The quadratic NURBS, exact, of an ellipse arc: centre + cos(t) major + sin(t) minor, t from t0 to t1 (t0 < t1 <= t0
/// + 2 pi).
Nurbs ellipseArc(const Vec3& centre, const Vec3& major, const Vec3& minor, double t0, double t1);

/// Why a segment cannot be used (NaN, sizes that do not fit, zero radius...), or an empty string.
std::string defectOf(const Segment&);

} // namespace vicinal
