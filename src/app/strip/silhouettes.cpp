#include "app/strip/silhouettes.h"
#include "geometry/wheels/hull.h"
#include <QPainter>
#include <QPolygonF>
#include <cmath>

namespace vicinal {
namespace {

constexpr size_t kMostOutlined = 6000; ///< of a part that is drawn whole; of larger ones the outline round all
constexpr double kWidest = 600;        ///< pixels of a picture

/// Up as it is seen square to the path: vertical made square to it, on the side that the part's crown is on (a belt
/// pulled straight does not turn over half-way). A path that goes straight up is seen from its side.
Vec3 upOf(const Vec3& tangent, const Frame& f) {
    Vec3 up = Vec3::UnitZ() - tangent * tangent.z();
    if (up.norm() < tolerance::alike) up = f.axes.col(2) - tangent * tangent.dot(f.axes.col(2));
    if (up.norm() < tolerance::alike) up = f.axes.col(1) - tangent * tangent.dot(f.axes.col(1));
    up.normalize();
    return f.axes.col(2).dot(up) < 0 ? Vec3(-up) : up;
}

} // namespace

std::pair<double, double> Silhouettes::heights(const Slot& slot, const Frame& f, double size, const Vec3& tangent) {
    const Vec3 up = f.axes.transpose() * upOf(tangent, f);
    double least = kFar, most = -kFar;
    for (int i = 0; i < 8; ++i) {
        const double h = size * up.dot(slot.seated.corner(Box3::CornerType(i)));
        least = std::min(least, h);
        most = std::max(most, h);
    }
    return {least, most};
}

const Silhouettes::Picture& Silhouettes::of(const std::shared_ptr<const Mesh>& mesh, const Slot& slot, const Frame& f,
                                            double size, const Vec3& tangent, const Scale& scale,
                                            const QColor& colour) {
    const Vec3 t = f.axes.transpose() * tangent, u = f.axes.transpose() * upOf(tangent, f);
    std::array<long, 6> turn{};
    for (int i = 0; i < 3; ++i) {
        turn[size_t(i)] = std::lround(t[i] * 64);
        turn[size_t(i) + 3] = std::lround(u[i] * 64);
    }
    const long sized = std::lround(std::log(size) * 50); // two hundredths apart look the same
    const Key key{mesh.get(), turn, sized, scale.along, scale.up, colour.rgba()};
    if (const auto found = m_pictures.find(key); found != m_pictures.end()) return found->second;
    if (m_pictures.size() > 400) m_pictures.clear();
    // Part axes to pixels about the seat point.
    const Vec3 a = slot.turn.transpose() * t * (size * scale.along), b = slot.turn.transpose() * u * (size * scale.up);
    const double a0 = t.dot(slot.origin) * size * scale.along, b0 = u.dot(slot.origin) * size * scale.up;
    const auto pixel = [&](const Vec3& x) { return QPointF(a.dot(x) + a0, -(b.dot(x) + b0)); };
    QRectF box;
    for (int i = 0; i < 8; ++i) {
        const QPointF p = pixel(mesh->box.corner(Box3::CornerType(i)));
        box =
            i == 0 ? QRectF(p, QSizeF(0, 0)) : box.united(QRectF(p, QSizeF(tolerance::rounding, tolerance::rounding)));
    }
    const QSizeF room(std::clamp(box.width(), 1.0, kWidest), std::clamp(box.height(), 1.0, kWidest));
    constexpr int kFiner = 2; // edges are smoothed by drawing it larger
    Picture out{QImage((room * kFiner).toSize() + QSize(2, 2), QImage::Format_ARGB32_Premultiplied), box.topLeft()};
    out.image.fill(Qt::transparent);
    out.image.setDevicePixelRatio(kFiner);
    QPainter p(&out.image);
    p.setPen(QPen(colour, 0));
    p.setBrush(colour);
    if (mesh->triangles.size() > kMostOutlined) {
        std::vector<Vec2> seen;
        for (const Vec3& x : mesh->points) seen.emplace_back(pixel(x).x(), pixel(x).y());
        QPolygonF outline;
        for (size_t i : convexHull(seen)) outline << QPointF(seen[i].x(), seen[i].y()) - box.topLeft();
        p.drawPolygon(outline);
    } else {
        for (const auto& triangle : mesh->triangles) {
            QPointF corners[3];
            for (size_t k = 0; k < 3; ++k) corners[k] = pixel(mesh->points[triangle[k]]) - box.topLeft();
            p.drawConvexPolygon(corners, 3);
        }
    }
    p.end();
    return m_pictures.emplace(key, std::move(out)).first->second;
}

} // namespace vicinal
