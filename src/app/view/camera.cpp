#include "app/view/camera.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

namespace {
Vec3 towards(double yaw, double pitch) {
    return {std::cos(pitch) * std::cos(yaw), std::cos(pitch) * std::sin(yaw), std::sin(pitch)};
}
} // namespace

double Camera::shift() const {
    if (parallel) return 0;
    // A vertical line at the picture's edge, x from its middle, leans by about x tan(tilt of the picture plane).
    const double edge = std::tan(kFieldOfView / 2) * std::max(1.0, width / std::max(1.0, height));
    const double tilt = std::atan(std::tan(kLean) / edge), p = std::abs(pitch);
    const double whole = std::max(0.0, std::min(p, kUpright) - tilt);
    const double fades =
        p <= kUpright ? 1 : (kPi / 2 - p) / (kPi / 2 - kUpright); // from above there is nothing to keep
    return std::copysign(whole * fades, pitch);
}
Vec3 Camera::toEye() const { return towards(yaw, pitch); }
Vec3 Camera::back() const { return towards(yaw, pitch - shift()); }
Vec3 Camera::right() const { return {-std::sin(yaw), std::cos(yaw), 0}; }
Vec3 Camera::up() const { return back().cross(right()); }

double Camera::scale() const {
    return 2 * distance * std::cos(shift()) * std::tan(kFieldOfView / 2) / std::max(1.0, height);
}

Mat4 Camera::matrix(const Vec3& origin, const Box3& scene) const {
    Mat4 view = Mat4::Identity();
    view.row(0).head<3>() = right();
    view.row(1).head<3>() = up();
    view.row(2).head<3>() = back();
    view.topRightCorner<3, 1>() = view.topLeftCorner<3, 3>() * (origin - eye());
    // Near and far as close round the scene as they may be: depth has few bits.
    double nearest = kFar, farthest = -kFar;
    if (!scene.isEmpty())
        for (int i = 0; i < 8; ++i) {
            const double d = (eye() - scene.corner(Box3::CornerType(i))).dot(back());
            nearest = std::min(nearest, d);
            farthest = std::max(farthest, d);
        }
    if (nearest > farthest) nearest = distance / 2, farthest = distance * 2;
    const double margin = 0.05 * (farthest - nearest) + distance * 0.01;
    farthest = std::max(farthest + margin, distance * 0.1);
    nearest -= margin;
    if (!parallel) nearest = std::max({nearest, distance * 0.005, farthest * 1e-4});
    const double t = std::tan(kFieldOfView / 2), aspect = width / std::max(1.0, height);
    Mat4 p = Mat4::Zero();
    if (parallel) {
        p(0, 0) = 1 / (distance * t * aspect);
        p(1, 1) = 1 / (distance * t);
        p(2, 2) = -2 / (farthest - nearest);
        p(2, 3) = -(farthest + nearest) / (farthest - nearest);
        p(3, 3) = 1;
    } else {
        p(0, 0) = 1 / (t * aspect);
        p(1, 1) = 1 / t;
        p(1, 2) = -std::tan(shift()) / t;
        p(2, 2) = -(farthest + nearest) / (farthest - nearest);
        p(2, 3) = -2 * farthest * nearest / (farthest - nearest);
        p(3, 2) = -1;
    }
    return p * view;
}

std::optional<Vec3> Camera::project(const Vec3& p) const {
    const Vec3 d = p - eye();
    const double depth = -d.dot(back());
    const double perPixel = parallel ? scale() : 2 * depth * std::tan(kFieldOfView / 2) / height;
    if (!parallel && depth < distance * 1e-4) return std::nullopt;
    return Vec3(width / 2 + d.dot(right()) / perPixel,
                height / 2 - (d.dot(up()) + depth * std::tan(shift())) / perPixel, depth);
}

std::pair<Vec3, Vec3> Camera::ray(double x, double y) const {
    const Vec3 offset = ((x - width / 2) * right() + (height / 2 - y) * up()) * scale();
    if (parallel) return {eye() + offset, -back()};
    return {eye(), (offset - distance * toEye()).normalized()};
}

std::optional<Vec3> Camera::onPlane(double x, double y, const Vec3& point, const Vec3& n) const {
    const auto [start, direction] = ray(x, y);
    const double along = direction.dot(n);
    if (std::abs(along) < tolerance::alike) return std::nullopt;
    const double t = (point - start).dot(n) / along;
    if ((!parallel && t < 0) || t > distance * 1e4) return std::nullopt;
    return start + t * direction;
}

void Camera::orbit(double dx, double dy) {
    yaw = std::remainder(yaw - dx * 0.008, 2 * kPi);
    pitch = std::clamp(pitch + dy * 0.008, -kPi / 2, kPi / 2);
}

void Camera::orbitAbout(const Vec3& pivot, double dx, double dy) {
    const Vec3 d = pivot - eye();
    const double x = d.dot(right()), depth = -d.dot(back()), y = d.dot(up()) + depth * std::tan(shift());
    orbit(dx, dy);
    const double v = y - depth * std::tan(shift());
    target = pivot - x * right() - v * up() + depth * back() - distance * toEye();
}

void Camera::pan(double dx, double dy) { target += (-dx * right() + dy * up()) * scale(); }

void Camera::zoom(double factor, double x, double y) {
    const double before = scale();
    distance = std::clamp(distance * factor, 1.0, 1e10);
    const Vec3 offset = (x - width / 2) * right() + (height / 2 - y) * up();
    target += offset * (before - scale());
}

void Camera::frame(const std::vector<Vec3>& points) {
    if (points.empty()) return;
    const double t = std::tan(kFieldOfView / 2), aspect = width / std::max(1.0, height), room = 0.86;
    Box3 box;
    for (const Vec3& p : points) box.extend(p);
    target = box.center();
    const Vec3 r = right(), u = up(), b = back();
    const double across = std::tan(shift()), along = std::cos(shift());
    // Centre what is seen, then stand off until it fits; perspective makes each depend on the other, so a few rounds.
    for (int round = 0; round < 8; ++round) {
        double need = 1;
        for (const Vec3& p : points) {
            const Vec3 d = p - target;
            const double near = d.dot(b), y = d.dot(u) - across * near;
            need = std::max(
                need,
                (std::max(std::abs(d.dot(r)) / (t * aspect), std::abs(y) / t) / room + (parallel ? 0 : near)) / along);
        }
        distance = need;
        double lo[2] = {kFar, kFar}, hi[2] = {-kFar, -kFar};
        for (const Vec3& p : points) {
            const Vec3 d = p - target;
            const double near = d.dot(b);
            const double depth = parallel ? distance : std::max(distance * along - near, distance * 1e-3);
            const double seen[2] = {d.dot(r) / depth, (d.dot(u) - across * near) / depth};
            for (int i = 0; i < 2; ++i) lo[i] = std::min(lo[i], seen[i]), hi[i] = std::max(hi[i], seen[i]);
        }
        target += (r * (lo[0] + hi[0]) + u * (lo[1] + hi[1])) * (distance * along / 2);
    }
    distance = std::max(distance, 10.0);
}

void Camera::look(int way) {
    constexpr double yaws[] = {-60 * kDegree, -kPi / 2, -kPi / 2, 0}, pitches[] = {30 * kDegree, kPi / 2, 0, 0};
    yaw = yaws[way];
    pitch = pitches[way];
    parallel = way != 0;
}

void addCorners(const Mat4& pose, const Box3& box, std::vector<Vec3>& to) {
    for (int c = 0; c < 8; ++c) to.push_back((pose * box.corner(Box3::CornerType(c)).homogeneous()).head<3>());
}

} // namespace vicinal
