#include "layout/facing/facing.h"

namespace vicinal {

Mat3 extraTurn(const Facing& f) {
    using Eigen::AngleAxisd;
    return (AngleAxisd(f.turn.z(), Vec3::UnitZ()) * AngleAxisd(f.turn.y(), Vec3::UnitY()) *
            AngleAxisd(f.turn.x(), Vec3::UnitX()))
        .toRotationMatrix();
}

Angles anglesOf(const Mat3& R) {
    const Vec3 nose = R.col(0);
    Angles a;
    a.slope = std::atan2(nose.z(), std::hypot(nose.x(), nose.y()));
    if (std::hypot(nose.x(), nose.y()) < tolerance::angle) {
        a.heading = std::atan2(-R(0, 1), R(1, 1));
        return a;
    }
    a.heading = std::atan2(nose.y(), nose.x());
    a.roll = std::atan2(R(2, 1), R(2, 2));
    return a;
}

double detail::steepHeading(const Path& path, double station) {
    for (const auto& z : path.steepStretches()) {
        if (station < z.start - tolerance::length || station > z.end + tolerance::length) continue;
        const double x = z.end > z.start ? std::clamp((station - z.start) / (z.end - z.start), 0.0, 1.0) : 0.5;
        return z.from + (z.to - z.from) * x * x * (3 - 2 * x);
    }
    const Vec3 t = path.at(station).tangent; // just past the end of a stretch: the tangent still has a heading
    return std::atan2(t.y(), t.x());
}

} // namespace vicinal
