// What is drawn over the parts: overlays in their order, then the tool in hand.
#include "app/render/gl_canvas.h"
#include "app/view/overlays/overlay.h"
#include "app/view/tools/edit_tool.h"
#include "app/view/viewport.h"
#include <QPainter>
#include <QPainterPath>

namespace vicinal {

void Viewport::pill(QPainter& p, const QPointF& at, const QString& text, const QColor& border,
                    const QColor& ink) const {
    drawPill(p, rect(), at, text, border, ink);
}

void Viewport::paintPath(QPainter& p, const PathResult& result, const QColor& colour, double width) const {
    if (!result.path) return;
    const double sag = std::max(m_camera.scale() * 0.2, result.path->length() * 1e-6);
    QPainterPath line;
    bool pen = false;
    for (const Vec3& v : result.path->polyline(sag)) {
        const auto at = m_camera.project(v);
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

bool Viewport::edits() const { return m_tool == m_edit.get(); }

void Viewport::paintOverlay(QPainter& p) const {
    for (const auto& overlay : m_overlays) overlay->paint(p);
    m_tool->paint(p);
}

} // namespace vicinal
