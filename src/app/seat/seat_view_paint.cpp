// What the seat view draws over its picture.
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/render/gl_canvas.h"
#include "app/seat/seat_bar.h"
#include "app/seat/seat_view.h"
#include "app/sheet/part/seat_fields.h"
#include "model/document/part_item.h"
#include <QPainter>
#include <QResizeEvent>
#include <cmath>

namespace vicinal {

namespace {

void paintArrow(QPainter& p, const Camera& camera, const Vec3& to, const QColor& colour, const QString& name,
                bool hot) {
    const auto a = camera.project(Vec3(0, 0, 0)), b = camera.project(to);
    if (!a || !b) return;
    const QPointF s(a->x(), a->y()), t(b->x(), b->y());
    p.setPen(QPen(colour, hot ? 3.2 : 2.2));
    p.drawLine(s, t);
    QPointF d = t - s;
    const double length = std::hypot(d.x(), d.y());
    d = length > 1 ? d / length : QPointF(0, -1);
    const QPointF n(-d.y(), d.x());
    p.setBrush(colour);
    p.setPen(Qt::NoPen);
    p.drawPolygon(QPolygonF{t + d * 8, t - d * 4 + n * 6, t - d * 4 - n * 6});
    p.setFont(theme::font(12, QFont::DemiBold));
    p.setPen(colour);
    p.drawText(QRectF(t + d * 14 + n * (n.y() < 0 ? 16 : -16) - QPointF(40, 10), QSizeF(80, 20)), Qt::AlignCenter,
               name);
}

} // namespace

void SeatView::showEvent(QShowEvent*) {
    m_bar->place(width());
    frame(false);
}

void SeatView::resizeEvent(QResizeEvent* e) {
    if (m_canvas) m_canvas->setGeometry(rect());
    m_overlay->setGeometry(rect());
    m_bar->place(width());
    m_camera.width = e->size().width();
    m_camera.height = e->size().height();
    if (m_untouched) frame(false);
}

void SeatView::paintEvent(QPaintEvent*) {
    if (m_canvas && m_canvas->isVisible()) return;
    QPainter p(this);
    p.fillRect(rect(), theme::skyBottom());
}

void SeatView::paintMarks(QPainter& p) const {
    if (!ready()) return;
    const std::vector<Spot>& spots = m_marks.spots();
    for (size_t i = 0; i < spots.size(); ++i) {
        const Spot& s = spots[i];
        if (directions() && s.direction.isZero()) continue;
        if (m_marks.hidden(i)) continue;
        const auto at = pixelOf(s.at);
        if (!at) continue;
        // Where there are very many, only those near the pointer.
        if (spots.size() > 160 && away(*at, m_last) > 90) continue;
        QColor ink = theme::ink();
        ink.setAlpha(s.kind == Spot::Kind::BoxPoint ? 70 : 150);
        p.setPen(QPen(ink, 1));
        p.setBrush(QColor(255, 255, 255, 200));
        const QPointF c = *at;
        switch (s.kind) {
        case Spot::Kind::Corner: p.drawRect(QRectF(c - QPointF(2.5, 2.5), QSizeF(5, 5))); break;
        case Spot::Kind::EdgeMiddle:
            p.drawPolygon(
                QPolygonF{c + QPointF(0, -3.5), c + QPointF(3.5, 0), c + QPointF(0, 3.5), c + QPointF(-3.5, 0)});
            break;
        case Spot::Kind::FaceCentre: p.drawEllipse(c, 3, 3); break;
        case Spot::Kind::HoleAxis:
        case Spot::Kind::ShaftAxis:
            p.drawEllipse(c, 4.5, 4.5);
            p.drawLine(c - QPointF(7, 0), c + QPointF(7, 0));
            p.drawLine(c - QPointF(0, 7), c + QPointF(0, 7));
            break;
        case Spot::Kind::VolumeCentre:
            p.setBrush(ink);
            p.drawEllipse(c, 2.5, 2.5);
            break;
        case Spot::Kind::BoxPoint:
            p.drawLine(c - QPointF(2.5, 2.5), c + QPointF(2.5, 2.5));
            p.drawLine(c - QPointF(2.5, -2.5), c + QPointF(2.5, -2.5));
            break;
        }
    }
}

void SeatView::paintPins(QPainter& p) const {
    auto pins = pinsOf(*m_stage.part().body, m_stage.part().item->seat);
    std::array<std::optional<Vec3>, 2> shown = m_pinBegun;
    for (size_t k = 0; k < 2; ++k)
        if (!shown[k] && pins) shown[k] = (*pins)[k];
    std::array<std::optional<QPointF>, 2> at;
    for (size_t k = 0; k < 2; ++k)
        if (shown[k]) at[k] = pixelOf(*shown[k]);
    const QColor colour = theme::ochre();
    if (at[0] && at[1]) {
        p.setPen(QPen(colour, 1.4, Qt::DashLine));
        p.drawLine(*at[0], *at[1]);
        const QString text = lengthText((*shown[1] - *shown[0]).norm(), m_store.document().unit);
        const QPointF middle = (*at[0] + *at[1]) / 2;
        p.setFont(theme::font(12, QFont::DemiBold));
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 12;
        p.setPen(QPen(colour, 1));
        p.setBrush(theme::paper());
        const QRectF box(middle + QPointF(-w / 2, 12), QSizeF(w, 20));
        p.drawRoundedRect(box, 4, 4);
        p.setPen(colour);
        p.drawText(box, Qt::AlignCenter, text);
    }
    p.setFont(theme::font(11, QFont::Bold));
    for (size_t k = 0; k < 2; ++k) {
        if (!at[k]) continue;
        p.setPen(QPen(Qt::white, 1.4));
        p.setBrush(colour);
        p.drawEllipse(*at[k], 9, 9);
        p.drawText(QRectF(*at[k] - QPointF(9, 9), QSizeF(18, 18)), Qt::AlignCenter, QString::number(k + 1));
    }
}

void SeatView::paintOver(QPainter& p) {
    if (!m_stage.there()) { // there never was a good one
        const auto wrong = m_store.currentPart();
        p.setPen(theme::brick());
        p.setFont(theme::font(13));
        if (wrong && wrong->problem)
            p.drawText(rect().adjusted(40, m_bar->height(), -40, 0), Qt::AlignCenter | Qt::TextWordWrap,
                       QString("\u2715  ") + m_store.say(wrong->problem->text));
        return;
    }
    const QRectF room(0, m_bar->height(), width(), height() - m_bar->height());
    const auto pill = [&](const QPointF& at, const QString& text, const QColor& border, const QColor& ink) {
        drawPill(p, room, at, text, border, ink);
    };
    // The stub.
    p.setPen(QPen(theme::accent(), 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    std::optional<Vec3> before;
    for (const Vec3& v : m_stage.stub().path.polyline(m_stage.stub().path.length() * 1e-4)) {
        const auto at = m_camera.project(v);
        if (at && before && std::abs(at->x()) < 1e5 && std::abs(at->y()) < 1e5)
            p.drawLine(QPointF(before->x(), before->y()), QPointF(at->x(), at->y()));
        before = at;
    }
    paintMarks(p);
    const bool noseHot = m_action == Action::Nose || m_tool == Tool::Nose,
               crownHot = m_action == Action::Crown || m_tool == Tool::Crown;
    paintArrow(p, m_camera, m_stage.tip(true), theme::accent(), tr("nose"), noseHot);
    paintArrow(p, m_camera, m_stage.tip(false), QColor("#4a62ad"), tr("crown"), crownHot);
    paintPins(p);
    if (const auto at = m_camera.project(Vec3(0, 0, 0))) {
        const QPointF c(at->x(), at->y());
        p.setPen(QPen(Qt::white, 4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(c, 6.5, 6.5);
        p.setPen(QPen(theme::accent(), 2.4));
        p.drawEllipse(c, 6.5, 6.5);
    }
    if ((m_action == Action::Nose || m_action == Action::Crown) && m_dragged)
        if (const auto a = m_camera.project(Vec3(0, 0, 0))) {
            p.setPen(QPen(m_action == Action::Nose ? theme::accent() : QColor("#4a62ad"), 1.6, Qt::DashLine));
            p.drawLine(QPointF(a->x(), a->y()), m_last);
        }
    if (m_hover) {
        const auto at = pixelOf(m_hover->at);
        if (at) {
            p.setPen(QPen(theme::accent(), 2));
            p.setBrush(theme::accentTint());
            p.drawEllipse(*at, 6, 6);
            if (!m_hover->direction.isZero() && directions())
                if (const auto to = pixelOf(m_hover->at + m_hover->direction * m_stage.reach() * 0.4))
                    p.drawLine(*at, *to);
            pill(*at + QPointF(14, 14), hoverText(), theme::accent(), theme::accent());
        }
    }
    const Unit unit = m_store.document().unit;
    const Seat& seat = m_stage.part().item->seat;
    const Box3& s = *m_stage.part().seated;
    const auto len = [&](double v) { return lengthText(v, unit, false); };
    pill({12, height() - 62.0},
         tr("%1 before, %2 behind \u00b7 %3 left, %4 right \u00b7 %5 up, %6 down")
             .arg(len(s.max().x()), len(-s.min().x()), len(s.max().y()), len(-s.min().y()), len(s.max().z()),
                  lengthText(-s.min().z(), unit)),
         theme::line(), theme::ink());
    pill({12, height() - 33.0},
         tr("nose %1 \u00b7 crown %2 \u00b7 %3 \u00b7 0 shows all, 5 the part")
             .arg(directionText(seat.nose), directionText(seat.crown),
                  m_stage.pitch() < m_stage.spacing()
                      ? tr("neighbours drawn nearer, at %1 instead of %2")
                            .arg(len(m_stage.pitch()), lengthText(m_stage.spacing(), unit))
                      : tr("neighbours at %1").arg(lengthText(m_stage.spacing(), unit))),
         theme::line(), theme::muted());
    const auto now = m_store.currentPart();
    QString message = m_message;
    if (now && now->problem) message = m_store.say(now->problem->text);
    if (!message.isEmpty()) pill({12, m_bar->height() + 8.0}, message, theme::brick(), theme::brick());
}

} // namespace vicinal
