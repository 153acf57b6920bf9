#include "app/view/overlays/painting.h"
#include "app/render/gl_canvas.h"
#include <QPainter>
#include <QPainterPath>

namespace vicinal {

void paintPill(QPainter& p, const Viewport& view, const QPointF& at, const QString& text, const QColor& border,
               const QColor& ink) {
    drawPill(p, view.rect(), at, text, border, ink);
}

void paintPath(QPainter& p, const Camera& camera, const PathResult& result, const QColor& colour, double width) {
    if (!result.path) return;
    const double sag = std::max(camera.scale() * 0.2, result.path->length() * tolerance::alike);
    QPainterPath line;
    bool pen = false;
    for (const Vec3& v : result.path->polyline(sag)) {
        const auto at = camera.project(v);
        if (!at || std::abs(at->x()) > 1e5 || std::abs(at->y()) > 1e5) {
            pen = false;
            continue;
        }
        if (pen)
            line.lineTo(pixel(*at));
        else
            line.moveTo(pixel(*at));
        pen = true;
    }
    QPen stroke(result.problem ? QColor("#a9aaa6") : colour, width, result.problem ? Qt::DashLine : Qt::SolidLine,
                Qt::RoundCap, Qt::RoundJoin);
    p.setPen(stroke);
    p.setBrush(Qt::NoBrush);
    p.drawPath(line);
}

} // namespace vicinal
