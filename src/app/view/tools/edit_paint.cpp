// What the edit tool draws: handles, the line a drag is held to, the value beside the pointer.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/view/overlays/painting.h"
#include "app/view/tools/edit_tool.h"
#include "model/document/path_item.h"
#include "model/recipes/recipe.h"
#include <QPainter>

namespace vicinal {
namespace {} // namespace

void EditTool::paintHandle(QPainter& p, const Handle& h, const PointsRecipe* points) const {
    const auto at = m_view.camera().project(h.at);
    if (!at) return;
    const Selection& selection = m_store.selection();
    const bool active = (m_drag && m_drag->handle() == h) || (m_hover && *m_hover == h);
    p.setPen(QPen(theme::accent(), active ? 2.4 : 1.6));
    const QPointF c = pixel(*at);
    if (h.inset()) {
        p.setBrush(theme::accent());
        const QPointF tip = c + QPointF(0, 6);
        p.drawPolygon(QPolygonF{tip, tip + QPointF(6, 11), tip + QPointF(-6, 11)});
        return;
    }
    if (h.kind == Handle::Kind::Key) { // on a stalk, so that points and parts below stay in reach
        const QPointF head = shown(h, *at);
        p.setPen(QPen(theme::ochre(), active ? 2 : 1.2));
        p.drawLine(c, head);
        p.setBrush(active ? theme::ochre() : theme::paper());
        p.drawEllipse(head, 4.5, 4.5);
        if (active && !m_drag)
            paintPill(p, m_view, head + QPointF(12, -26), textOf(h, m_store), theme::line(), theme::ink());
        return;
    }
    if (h.kind == Handle::Kind::RunPoint) { // a cross in a ring: what the run is aimed at, or stands about
        p.setBrush(theme::paper());
        p.drawEllipse(c, 7, 7);
        p.drawLine(c - QPointF(10, 0), c + QPointF(10, 0));
        p.drawLine(c - QPointF(0, 10), c + QPointF(0, 10));
        paintPill(p, m_view, c + QPointF(12, -26), h.index == 0 ? tr("target") : tr("echo"), theme::line(),
                  theme::ink());
        return;
    }
    if (h.kind == Handle::Kind::BodyTurn || h.kind == Handle::Kind::BodySize) {
        p.setBrush(active ? theme::accent() : theme::paper());
        if (h.kind == Handle::Kind::BodySize) { // two steps of a corner
            p.drawRect(QRectF(c - QPointF(5, 5), QSizeF(10, 10)));
            p.drawRect(QRectF(c - QPointF(2, 2), QSizeF(4, 4)));
        } else { // part of a ring with its gap
            p.drawEllipse(c, 6, 6);
            p.drawArc(QRectF(c - QPointF(10, 10), QSizeF(20, 20)), 30 * 16, 120 * 16);
        }
        return;
    }
    const bool point = h.kind == Handle::Kind::Point;
    const bool selected = ((point || h.kind == Handle::Kind::Wheel) && selection.point == h.index) ||
                          (point && selection.points.count(h.index));
    p.setBrush(selected ? theme::accent() : theme::paper());
    if (point && points && !points->points[size_t(h.index)].smooth) // a corner stands on its point
        p.drawPolygon(QPolygonF{c + QPointF(0, -5.5), c + QPointF(5.5, 0), c + QPointF(0, 5.5), c + QPointF(-5.5, 0)});
    else if (point || h.kind == Handle::Kind::Value)
        p.drawRect(QRectF(c - QPointF(4, 4), QSizeF(8, 8)));
    else
        p.drawEllipse(c, 4.5, 4.5);
}

/// The line a drag is held to, with its name.
void EditTool::paintGuide(QPainter& p) const {
    const Camera& camera = m_view.camera();
    const double reach = 2 * camera.scale() * (m_view.width() + m_view.height());
    std::vector<QPointF> line; // in pieces: an end may lie behind the eye
    for (int i = -50; i <= 50; ++i)
        if (const auto at = camera.project(m_drag->start() + i / 50.0 * reach * m_guide->direction))
            line.push_back(pixel(*at));
    p.setPen(QPen(theme::ochre(), 1.2, Qt::DashLine));
    p.drawPolyline(line.data(), int(line.size()));
    if (const auto at = camera.project(m_drag->start()))
        paintPill(p, m_view, pixel(*at) + QPointF(12, -30), m_guide->name, theme::ochre(), theme::ink());
}

void EditTool::paint(QPainter& p) const {
    const auto path = m_store.currentPath();
    const auto* points = path ? editablePoints(*path->item) : nullptr;
    if (points) // arms from a point to its handles
        for (const auto& q : points->points)
            for (const auto& arm : {q.in, q.out}) {
                if (!arm) continue;
                const auto a = m_view.camera().project(q.at), b = m_view.camera().project(q.at + *arm);
                p.setPen(QPen(theme::accent(), 1));
                if (a && b) p.drawLine(pixel(*a), pixel(*b));
            }
    for (const Handle& h : handlesOf(m_store)) paintHandle(p, h, points);
    if (!m_drag || !m_moved) return;
    if (m_guide) paintGuide(p);
    paintPill(p, m_view, m_last + QPointF(16, 18),
              m_typed.isEmpty() ? textOf(m_drag->handle(), m_store) : tr("%1 \u2014 Enter").arg(m_typed),
              theme::accent(), theme::accent());
}

} // namespace vicinal
