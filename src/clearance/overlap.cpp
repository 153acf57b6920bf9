// Whether two bodies have room in common.
#include "clearance/depth.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal {

namespace detail {

RelativePose beside(const MeshTree& a, const MeshTree& b, RelativePose lie, double way) {
    const double size = a.nodes()[0].box.sizes().norm() + lie.size * b.nodes()[0].box.sizes().norm();
    const Vec3 about = Vec3(0.41, -0.57, 0.71).normalized(), middle = lie.turn * b.nodes()[0].box.center() + lie.at;
    const Mat3 turn = Eigen::AngleAxisd(way * 1e-7, about).toRotationMatrix();
    lie.turn = turn * lie.turn;
    lie.at = turn * (lie.at - middle) + middle + way * 1e-7 * size * Vec3(0.61, 0.53, 0.59);
    return lie;
}

double ballInBoth(const MeshTree& a, const MeshTree& b, const RelativePose& lie, const Stop* stop) {
    const RelativePose back = lie.inverse();
    const Box3 theirs = b.nodes()[0].box;
    const Vec3 middle = lie.turn * theirs.center() + lie.at, half = lie.turn.cwiseAbs() * (theirs.sizes() / 2);
    const Box3 both = a.nodes()[0].box.intersection(Box3(middle - half, middle + half));
    if (both.isEmpty()) return 0;
    const auto of = [&](const Vec3& p) {
        const Vec3 q = back.turn * p + back.at;
        if (!inside(a, p) || !inside(b, q)) return 0.0;
        return std::min(a.nearest(p).distance, b.nearest(q).distance * lie.size);
    };
    double best = 0;
    Vec3 at = both.center();
    for (int k = 0; k < 200 && !stopped(stop); ++k) {
        const Vec3 share(std::fmod(0.5 + 0.8191725 * k, 1), std::fmod(0.5 + 0.6710436 * k, 1),
                         std::fmod(0.5 + 0.5497005 * k, 1));
        const Vec3 p = both.min() + share.cwiseProduct(both.sizes());
        if (const double r = of(p); r > best) best = r, at = p;
    }
    for (double step = both.sizes().maxCoeff() / 8; best > 0 && step > 1e-3 * best && !stopped(stop);) {
        bool better = false;
        for (int k = 0; k < 6; ++k) {
            const Vec3 p = at + (k % 2 ? step : -step) * Vec3::Unit(k / 2);
            if (const double r = of(p); r > best) best = r, at = p, better = true;
        }
        if (!better) step /= 2;
    }
    return best;
}

} // namespace detail

bool overlapping(const MeshTree& a, const MeshTree& b, const RelativePose& lie) {
    // What only touches is freed by going one of two ways; what is held on both sides (a peg in its hole) is not, so
    // points just under the faces are asked.
    for (const double way : {1.0, -1.0}) // or, from a corner it stands in, goes all the way in
        if (const RelativePose freed = detail::beside(a, b, lie, way); !cross(a, b, freed))
            return contained(a, b, freed);
    const auto under = [](const MeshTree& of, const MeshTree& in, const RelativePose& to) {
        const Mesh& m = of.mesh();
        const double little = tolerance::alike * of.nodes()[0].box.sizes().norm();
        for (std::uint32_t t = 0; t < m.triangles.size(); ++t) {
            const Vec3 middle = (detail::cornerOf(m, t, 0) + detail::cornerOf(m, t, 1) + detail::cornerOf(m, t, 2)) / 3;
            const Vec3 p = to.turn * (middle - little * of.flatNormal(t)) + to.at;
            if (inside(in, p) && in.nearest(p).distance > little * to.size / 2) return true;
        }
        return false;
    };
    return under(b, a, lie) || under(a, b, lie.inverse());
}

bool contained(const MeshTree& a, const MeshTree& b, const RelativePose& lie) {
    if (a.nodes().empty() || b.nodes().empty()) return false;
    const Vec3 ofB = lie.turn * detail::cornerOf(b.mesh(), 0, 0) + lie.at;
    const Vec3 ofA = lie.inverse().turn * (detail::cornerOf(a.mesh(), 0, 0) - lie.at);
    return inside(a, ofB) || inside(b, ofA);
}

} // namespace vicinal
