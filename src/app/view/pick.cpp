#include "app/view/pick.h"
#include "app/view/view_scene.h"
#include "geometry/mesh/ray.h"
#include "model/document/run_item.h"
#include <cmath>

namespace vicinal {

Vec3 planeNormal(Viewport::Look look) {
    if (look == Viewport::Look::Front) return -Vec3::UnitY();
    if (look == Viewport::Look::Side) return Vec3::UnitX();
    return Vec3::UnitZ();
}

std::optional<Pick> pickPlace(const Viewport& view, const QPointF& at, PickedFace* face) {
    const Camera& camera = view.camera();
    const auto [start, direction] = camera.ray(at.x(), at.y());
    std::optional<Pick> best;
    double nearest = kFar;
    struct {
        Mat3 turn;
        Vec3 a, b, c;
    } struck;
    for (const auto& of : view.shown().standing()) {
        if (!of->instances || hides(view.store(), *of)) continue;
        const Instances& all = *of->instances;
        const double slack = camera.scale() * 2;          // thin parts can still be hit
        for (size_t i = 0; i < all.bodies(); ++i) {       // what is left out, too: it can be had back
            if (of->asHeap() && all.leftOut(i)) continue; // its part is missing
            const Mesh& mesh = *of->partAt(i).mesh;
            const double size = all.size(i), radius = size * mesh.box.diagonal().norm() / 2 + slack;
            const Mat4 pose = all.pose(i);
            const Vec3 centre = mesh.box.center(), middle = (pose * centre.homogeneous()).head<3>();
            const Vec3 to = middle - start;
            const double along = to.dot(direction);
            if ((to - along * direction).squaredNorm() > radius * radius) continue;
            const Mat3 R = pose.topLeftCorner<3, 3>() / size;
            const Vec3 s = R.transpose() * (start - middle) / size + centre, d = R.transpose() * direction;
            auto x = treeOf(*of->partAt(i).body).hit(s, d, camera.parallel ? -kFar : 0);
            if (x) x->distance *= size;
            if (!x || x->distance >= nearest) continue;
            const auto& t = mesh.triangles[x->triangle];
            nearest = x->distance;
            best = Pick{of->id, int(all.placeOf(i)), int(i)};
            struck = {R, mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]};
        }
    }
    if (face && best) {
        face->at = start + nearest * direction;
        face->normal = (struck.turn * (struck.b - struck.a).cross(struck.c - struck.a)).normalized();
    }
    return best;
}

double stationUnder(const Camera& camera, const QPointF& at, const Path& path, double* away) {
    const int n = 600;
    double best = kFar, station = 0;
    std::optional<Vec3> before;
    for (int i = 0; i <= n; ++i) {
        const double s = path.length() * i / n;
        const auto p = camera.project(path.at(s).point);
        if (p && before) {
            const Vec2 a = before->head<2>(), ab = p->head<2>() - a, ap = Vec2(at.x(), at.y()) - a;
            const double t = ab.squaredNorm() > 0 ? std::clamp(ap.dot(ab) / ab.squaredNorm(), 0.0, 1.0) : 0;
            if (const double d = (ap - t * ab).norm(); d < best) best = d, station = path.length() * (i - 1 + t) / n;
        }
        before = p;
    }
    if (away) *away = best;
    return station;
}

Vec3 pivotUnder(const Viewport& view, const QPointF& at) {
    const Camera& camera = view.camera();
    PickedFace face;
    if (pickPlace(view, at, &face)) return face.at;
    Box3 near = view.scene().content();
    if (near.isEmpty()) return camera.target;
    const Vec3 room = near.sizes() / 2;
    near.extend(Vec3(near.min() - room));
    near.extend(Vec3(near.max() + room));
    const auto ground = camera.onPlane(at.x(), at.y(), camera.target, Vec3::UnitZ());
    return ground && near.contains(*ground) ? *ground : camera.target;
}

} // namespace vicinal
