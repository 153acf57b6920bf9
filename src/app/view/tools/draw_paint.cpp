// What the draw tool shows: the path so far, what the next point catches on, the numbers beside the pointer.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/view/overlays/painting.h"
#include "app/view/tools/draw_tool.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include <QPainter>
#include <cmath>

namespace vicinal {
namespace {} // namespace

void DrawTool::paintDrawn(QPainter& p) const {
    const Camera& camera = m_view.camera();
    PathResult preview;
    preview.path = drawn();
    paintPath(p, m_view.camera(), preview, theme::accent(), 2);
    for (size_t i = 0; i < m_pen.points.size(); ++i) {
        const auto at = camera.project(m_pen.points[i].at);
        if (!at) continue;
        p.setPen(QPen(theme::accent(), 1.6));
        p.setBrush(i == 0 ? theme::accentTint() : theme::paper());
        if (i == 0)
            p.drawEllipse(pixel(*at), 6, 6);
        else
            p.drawRect(QRectF(pixel(*at) - QPointF(4, 4), QSizeF(8, 8)));
    }
    if (m_pen.via)
        if (const auto at = camera.project(*m_pen.via)) p.drawEllipse(pixel(*at), 4, 4);
}

QString DrawTool::pointerText(const std::optional<Path>& path) const {
    if (!m_typed.isEmpty()) return tr("%1 \u2014 Enter sets the point").arg(m_typed);
    const Unit unit = m_store.document().unit;
    QString text = QString("%1, %2, %3")
                       .arg(lengthText(m_pointer->x(), unit, false), lengthText(m_pointer->y(), unit, false),
                            lengthText(m_pointer->z(), unit, false));
    if (!m_pen.points.empty()) {
        const Vec3 d = *m_pointer - m_pen.points.back().at;
        text += tr(" \u00b7 leg %1 at %2\u00b0")
                    .arg(lengthText(d.norm(), unit))
                    .arg(std::atan2(d.y(), d.x()) / kDegree, 0, 'f', 1);
    }
    if (path && m_pen.points.size() > 1) text += tr(" \u00b7 path %1").arg(longLengthText(path->length(), unit));
    if (m_caught && m_caught->kind != SnapKind::Grid)
        text += QString(" \u00b7 ") + Viewport::tr(nameOf(m_caught->kind));
    return text;
}

void DrawTool::paint(QPainter& p) const {
    paintDrawn(p);
    paintPill(p, m_view, {12, 10},
              tr("Drawing a path \u00b7 Enter ends \u00b7 click the first point to close \u00b7 Backspace takes back "
                 "\u00b7 Esc cancels"),
              theme::accent(), theme::ink());
    if (!m_pointer) return;
    const auto pointer = next();
    const auto at = m_view.camera().project(pointer ? *pointer : *m_pointer);
    if (!at) return;
    if (m_caught && !m_atTyped && m_caught->kind != SnapKind::Grid) { // where it catches, and on what
        p.setPen(QPen(theme::ochre(), 1.8));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(pixel(*at), 8, 8);
        if (m_caught->kind == SnapKind::Axis && !m_pen.points.empty())
            if (const auto from = m_view.camera().project(m_pen.via ? *m_pen.via : m_pen.points.back().at)) {
                p.setPen(QPen(theme::ochre(), 1, Qt::DashLine));
                p.drawLine(pixel(*from), pixel(*at));
            }
    }
    paintPill(p, m_view, pixel(*at) + QPointF(16, 16), pointerText(drawn()), theme::accent(), theme::accent());
}

} // namespace vicinal
