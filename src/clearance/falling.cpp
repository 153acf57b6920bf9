#include "clearance/falling.h"
#include <cmath>

namespace vicinal {

Fall fallOn(const FallingBody& falling, const FallingBody& other, const Stop* stop) {
    const PosedBody &a = *falling.body, &b = *other.body;
    const Mat3& axes = falling.frame.axes;
    const Vec3 pivot =
        falling.frame.seat + a.size * (axes.col(0) * falling.seated.max().x() + axes.col(2) * falling.seated.min().z());
    const Vec3 about = axes.col(2).cross(axes.col(0)); // crown towards nose
    double radius = 0;
    for (int k = 0; k < 8; ++k) {
        const Vec3 c = falling.frame.seat + axes * (a.size * falling.seated.corner(Box3::CornerType(k))) - pivot;
        radius = std::max(radius, (c - c.dot(about) * about).norm());
    }
    Fall out;
    Distance near;
    bool known = false;
    for (int i = 0; i < 2000 && out.angle < kPi / 2 && !stopped(stop); ++i) {
        const Mat3 turned = Eigen::AngleAxisd(out.angle, about).toRotationMatrix();
        const Mat3 turn = turned * a.turn;
        const Vec3 at = turned * (a.at - pivot) + pivot;
        const PosedBody now{a.body, turn, at, a.size};
        near = distanceBetween(treeOf(*a.body), treeOf(*b.body), relativePose(now, b), kFar, known ? &near : nullptr,
                               stop);
        known = true;
        const double d = near.distance * a.size;
        if (d < 1e-4) {
            out.hits = true;
            out.at = turn * near.a + at;
            break;
        }
        out.angle += d / radius;
    }
    if (!out.hits) {
        out.angle = kPi / 2;
        return out;
    }
    const Vec3 on = other.frame.axes.transpose() * (out.at - other.frame.seat) / b.size;
    const double height = other.seated.max().z() - other.seated.min().z();
    out.share = height > 0 ? (on.z() - other.seated.min().z()) / height : 0;
    out.aside = b.size * (on.y() - other.seated.center().y());
    return out;
}

} // namespace vicinal
