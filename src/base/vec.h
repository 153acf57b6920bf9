#pragma once
// The vector types of the whole program, and the tolerances. Right-handed, z up, millimetres, radians.
#include <Eigen/Core>
#include <Eigen/Geometry>
#include <cassert>

namespace vicinal {

using Vec2 = Eigen::Vector2d;
using Vec3 = Eigen::Vector3d;
using Vec4 = Eigen::Vector4d;
using Mat3 = Eigen::Matrix3d;
using Mat4 = Eigen::Matrix4d;
using Quat = Eigen::Quaterniond;

inline constexpr double kPi = 3.14159265358979323846;
inline constexpr double kDegree = kPi / 180.0;

/// All tolerances, each with its unit and its reason.
namespace tolerance {
inline constexpr double length = 1e-6;   ///< mm; closer points are one point: files keep 6 decimals
inline constexpr double arc = 1e-9;      ///< relative; stations and counts: floor(U/p + arc) takes an exact fit
inline constexpr double station = 1e-10; ///< mm; error allowed when a station is turned into a point
inline constexpr double angle = 1e-9;    ///< rad; smaller angles between directions count as none
inline constexpr double corner = 1e-4;   ///< rad; a joint that turns more is a corner: drawings join arcs this badly
inline constexpr double steep = 0.01745; ///< sine; a tangent nearer to vertical (1 degree) has no heading of its own
inline constexpr double alike = 1e-6;    ///< relative; shares, factors and directions that files and typing keep apart
/// Relative, or of shares, directions and mm beside others: below it nothing is told from what rounding leaves of zero.
inline constexpr double rounding = 1e-9;
inline constexpr double fine = 1e-12; ///< relative; where a search ends, as a few steps of arithmetic leave no less
} // namespace tolerance

/// Farther, larger and worse than anything: where a search for the least or the most begins.
inline constexpr double kFar = 1e300;
/// Less than any square of a length: added to what is divided by, it keeps a point from dividing by zero.
inline constexpr double kTiny = 1e-300;

/// mm; the largest coordinate and length anywhere in a document: 1000 km, where a double still tells 1e-7 mm apart.
/// Fields, recipes, files and what is brought in are held to it.
inline constexpr double kLargest = 1e9;

/// Box with its sides along the axes; empty until the first point is added.
using Box3 = Eigen::AlignedBox3d;

/// A unit vector square to `v`, the same for every call with the same `v`. Precondition: |v| > 0.
inline Vec3 anyNormal(const Vec3& v) {
    assert(v.squaredNorm() > 0);
    const Vec3 axis = std::abs(v.z()) < 0.9 * v.norm() ? Vec3::UnitZ() : Vec3::UnitX();
    return (axis - v * (v.dot(axis) / v.squaredNorm())).normalized();
}

/// What the second direction is to the left of the first: |a| |b| sin of the angle between them.
inline double cross(const Vec2& a, const Vec2& b) { return a.x() * b.y() - a.y() * b.x(); }

/// True when no component is NaN or infinite.
inline bool finite(const Vec3& v) { return v.allFinite(); }

/// True when every coordinate is a number no larger than kLargest.
inline bool inReach(const Vec3& v) { return v.cwiseAbs().maxCoeff() <= kLargest && v.allFinite(); }
inline bool inReach(double v) { return std::abs(v) <= kLargest; } // false for NaN too

} // namespace vicinal
