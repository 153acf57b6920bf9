#include "parts/makers/sprocket.h"
#include "base/numeric/solve.h"
#include "base/say.h"
#include <cmath>

namespace vicinal {
namespace {

Vec3 polar(double r, double a) { return {r * std::cos(a), r * std::sin(a), 0}; }

/// From one point to another about a centre, the short way.
Arc arcBetween(const Vec3& centre, const Vec3& a, const Vec3& b) {
    const Vec3 x = (a - centre).normalized(), to = (b - centre).normalized();
    const double sweep = std::atan2(x.cross(to).z(), x.dot(to));
    const Vec3 y = sweep < 0 ? Vec3(x.y(), -x.x(), 0) : Vec3(-x.y(), x.x(), 0);
    return {centre, x, y, (a - centre).norm(), std::abs(sweep)};
}

} // namespace

ToothForm toothForm(long teeth, double p, double d1) {
    const double z = double(teeth);
    ToothForm f;
    f.pitchDiameter = p / std::sin(kPi / z);
    f.rootDiameter = f.pitchDiameter - d1;
    f.tipDiameter = f.pitchDiameter - d1 + (p * (1 - 1.6 / z) + 1.25 * p) / 2;
    f.seatRadius = 0.505 * d1 + 0.069 * std::cbrt(d1) / 2;
    f.seatAngle = (130 - 90 / z) * kDegree;
    f.flankRadius = (0.12 * d1 * (z + 2) + 0.008 * d1 * (z * z + 180)) / 2;
    return f;
}

Result<Ring> toothedRing(long teeth, double p, double d1) {
    const ToothForm f = toothForm(teeth, p, d1);
    const double half = kPi / double(teeth), rp = f.pitchDiameter / 2, ra = f.tipDiameter / 2;
    // One gap, its middle on +x: the seating arc about the roller's middle, then the flank, tangent to it, about a
    // centre on the other side.
    const Vec3 middle = polar(rp, 0);
    // The seat opens outwards: its ends lie half the seating angle to either side of inwards.
    const Vec3 end = middle + polar(f.seatRadius, kPi - f.seatAngle / 2);
    const Vec3 flank = end + f.flankRadius * (end - middle).normalized();
    if (!(std::atan2(end.y(), end.x()) < half))
        return Problem{"Rollers of " + Words::length(d1, Words::Style::Decimals) +
                           " leave nothing between the gaps. Use less than " +
                           Words::length(0.7 * p, Words::Style::Decimals) + ", or a longer pitch.",
                       "roller"};
    // Where the flank reaches a circle about the origin: the crossing nearest to the gap.
    const auto on = [&](double r) -> std::optional<Vec3> {
        const double d = flank.head<2>().norm(), re = f.flankRadius;
        const double c = (r * r + d * d - re * re) / (2 * r * d);
        if (!(std::abs(c) <= 1)) return std::nullopt;
        return polar(r, std::atan2(flank.y(), flank.x()) - std::acos(c));
    };
    const auto angleOf = [](const Vec3& v) { return std::atan2(v.y(), v.x()); };
    std::optional<Vec3> tip = on(ra);
    bool pointed = !tip || angleOf(*tip) >= half;
    if (pointed) { // both flanks meet on the tooth's middle line
        tip = on(halved(end.norm(), ra, 200, [&](double r) {
                     const auto at = on(r);
                     return at && angleOf(*at) < half;
                 }).first);
        if (!tip) return Problem{"These teeth have no flank. Use another roller diameter or pitch.", "roller"};
        tip = polar(tip->norm(), half);
    }
    const auto mirrored = [](const Vec3& v) { return Vec3(v.x(), -v.y(), 0); };
    Ring out;
    for (long k = 0; k < teeth; ++k) {
        const Mat3 R = Eigen::AngleAxisd(2 * half * double(k), Vec3::UnitZ()).toRotationMatrix();
        const Vec3 m = R * middle, e0 = R * mirrored(end), e1 = R * end, t0 = R * mirrored(*tip), t1 = R * *tip;
        out.push_back(arcBetween(R * mirrored(flank), t0, e0));
        // Through the root: the long way would be outside.
        out.push_back(arcBetween(m, e0, e1));
        out.push_back(arcBetween(R * flank, e1, t1));
        if (!pointed) {
            const Vec3 next = Eigen::AngleAxisd(2 * half, Vec3::UnitZ()) * t0;
            out.push_back(arcBetween(Vec3::Zero(), t1, next));
        }
    }
    return out;
}

std::optional<double> standardRoller(double pitch) {
    static constexpr double kSizes[][2] = {{9.525, 6.35}, {12.7, 8.51},   {15.875, 10.16}, {19.05, 12.07},
                                           {25.4, 15.88}, {31.75, 19.05}, {38.1, 25.4}};
    for (const auto& s : kSizes)
        if (std::abs(pitch - s[0]) < 1e-3) return s[1];
    return std::nullopt;
}

} // namespace vicinal
