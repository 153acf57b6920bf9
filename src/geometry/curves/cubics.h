#pragma once
#include "geometry/path/segment.h"
#include <algorithm>

namespace vicinal {

/// Cubics with a curve's own ends and derivatives there, as many as it takes to keep within `fit` mm of it at the same
/// parameters: they follow one another without a jump of slope. `curve(t)`: point and derivative by t.
template<class Curve>
void addCubics(double t0, double t1, double fit, Curve&& curve, std::vector<Segment>& to, int depth = 0) {
    const std::pair<Vec3, Vec3> a = curve(t0), b = curve(t1);
    const double h = (t1 - t0) / 3;
    const Bezier made{{a.first, a.first + h * a.second, b.first - h * b.second, b.first}};
    double off = 0;
    for (double f : {0.25, 0.5, 0.75}) {
        const double g = 1 - f;
        const Vec3 on =
            g * g * g * made.p[0] + 3 * g * g * f * made.p[1] + 3 * g * f * f * made.p[2] + f * f * f * made.p[3];
        off = std::max(off, (on - curve(t0 + f * (t1 - t0)).first).norm());
    }
    if (off > fit && depth < 16) {
        addCubics(t0, (t0 + t1) / 2, fit, curve, to, depth + 1);
        addCubics((t0 + t1) / 2, t1, fit, curve, to, depth + 1);
        return;
    }
    if ((b.first - a.first).norm() > tolerance::length) to.push_back(made);
}

} // namespace vicinal
