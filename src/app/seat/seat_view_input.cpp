// What is clicked, dragged and typed in the seat view.
#include "app/controls/format.h"
#include "app/seat/seat_view.h"
#include "app/sheet/part/seat_fields.h"
#include "model/document/part_item.h"
#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

namespace vicinal {

bool SeatView::directions() const {
    return m_action == Action::Nose || m_action == Action::Crown || m_tool == Tool::Nose || m_tool == Tool::Crown;
}

void SeatView::change(const QString& step, const std::function<void(Seat&)>& how) {
    m_message.clear();
    if (m_stage.taken()) m_store.change<PartItem>(m_stage.id(), step, {}, [&](PartItem& p) { how(p.seat); });
    m_store.seal();
}

void SeatView::take(const SeatPick& pick, Tool tool) {
    switch (tool) {
    case Tool::Point: {
        // A point of the box stays one, and follows when the part is changed.
        std::variant<BoxPoint, Vec3> point = pick.at;
        const Box3& box = m_stage.part().mesh->box;
        for (int k = 0; k < 27; ++k) {
            Seat s;
            s.point = BoxPoint{k % 3 - 1, k / 3 % 3 - 1, k / 9 - 1};
            if ((seatPoint(s, box) - pick.at).norm() < tolerance::rounding * (1 + box.diagonal().norm()))
                point = s.point;
        }
        return change(tr("Seat point"), [&](Seat& s) { s.point = point; });
    }
    case Tool::Nose: return takeDirection(pick.direction, true);
    case Tool::Crown: return takeDirection(pick.direction, false);
    case Tool::FirstPin: return takePin(pick.at, 0);
    case Tool::SecondPin: return takePin(pick.at, 1);
    case Tool::Line: return takeLine(pick.at);
    }
}

/// "This line runs along the path": the nose from the first point to the second.
void SeatView::takeLine(const Vec3& at) {
    if (!m_lineBegun) {
        m_lineBegun = at;
        return say(tr("Now click the second point: the nose runs from the first one to it."));
    }
    const Vec3 line = at - *m_lineBegun;
    if (line.norm() < tolerance::length) return say(tr("Both points are the same. Choose another one."));
    m_lineBegun.reset();
    Direction taken(line);
    for (int k = 0; k < 6; ++k)
        if (directionOf(Axis{k}).dot(taken.v) > 1 - tolerance::fine) taken = Axis{k};
    change(tr("Nose along a line"), [&](Seat& s) {
        if (std::abs(taken.v.dot(s.crown.v)) > std::cos(kDegree)) s.crown = s.nose; // it gives way
        s.nose = taken;
    });
}

/// Edges and axes have two senses: the one nearer to what is there now; the same once more turns it round.
void SeatView::takeDirection(const Vec3& direction, bool nose) {
    if (direction.isZero()) return;
    const Seat& now = m_stage.part().item->seat;
    const Direction& old = nose ? now.nose : now.crown;
    Vec3 d = direction;
    const bool faces = m_hover && (!m_hover->spot || m_hover->spot->kind == Spot::Kind::FaceCentre);
    if (!faces && d.dot(old.v) < 0) d = -d;
    if (d.dot(old.v) > 1 - tolerance::fine) d = -d;
    Direction taken(d);
    for (int k = 0; k < 6; ++k)
        if (directionOf(Axis{k}).dot(taken.v) > 1 - tolerance::fine) taken = Axis{k};
    change(nose ? tr("Nose") : tr("Crown"), [&](Seat& s) {
        Direction& mine = nose ? s.nose : s.crown;
        Direction& other = nose ? s.crown : s.nose;
        if (std::abs(taken.v.dot(other.v)) > std::cos(kDegree)) other = mine; // gives way, so that one click is enough
        mine = taken;
    });
}

void SeatView::takePin(const Vec3& at, int which) {
    const auto have = pinsOf(*m_stage.part().body, m_stage.part().item->seat);
    m_pinBegun[size_t(which)] = at;
    const auto other = m_pinBegun[size_t(1 - which)] ? m_pinBegun[size_t(1 - which)]
                       : have                        ? std::optional((*have)[size_t(1 - which)])
                                                     : std::nullopt;
    const Tool next = which == 0 ? Tool::SecondPin : Tool::FirstPin;
    if (!other) { // the first of two: the other one is asked for
        const auto begun = m_pinBegun;
        setTool(next);
        m_pinBegun = begun;
        return say(which == 0 ? tr("Now click where it meets the part ahead of it (pin 2).")
                              : tr("Now click where it meets the part behind it (pin 1)."));
    }
    if ((*other - at).norm() < tolerance::length) {
        m_pinBegun[size_t(which)].reset();
        return say(tr("Both pins would be at the same point. Choose another one."));
    }
    const Pins pins = which == 0 ? Pins{at, *other} : Pins{*other, at};
    m_pinBegun = {};
    change(tr("Pin %1").arg(which + 1), [&](Seat& s) { s.pins = pins; });
    if (which == 0 && !have) setTool(Tool::SecondPin);
}

void SeatView::say(const QString& text) {
    m_message = text;
    m_overlay->update();
}

QString SeatView::hoverText() const {
    return m_hover ? wordsOf(*m_hover, m_store.document().unit, directions()) : QString();
}

bool SeatView::event(QEvent* e) {
    if (e->type() == QEvent::ShortcutOverride) {
        const auto* k = static_cast<QKeyEvent*>(e);
        if (!(k->modifiers() & (Qt::ControlModifier | Qt::MetaModifier))) {
            e->accept(); // letters and digits mean this view while it is open
            return true;
        }
    }
    return QWidget::event(e);
}

void SeatView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    m_pressed = m_last = e->position();
    m_dragged = false;
    m_message.clear();
    if (e->button() == Qt::MiddleButton || (e->button() == Qt::LeftButton && (e->modifiers() & Qt::AltModifier))) {
        m_action = Action::Pan;
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    const auto nose = arrowTip(true), crown = arrowTip(false);
    if (nose && away(*nose, e->position()) < 13)
        m_action = Action::Nose;
    else if (crown && away(*crown, e->position()) < 13)
        m_action = Action::Crown;
    else
        m_action = Action::Orbit;
}

void SeatView::mouseMoveEvent(QMouseEvent* e) {
    const QPointF at = e->position(), by = at - m_last;
    m_last = at;
    if (m_action != Action::None && away(at, m_pressed) > 4) m_dragged = true;
    if (m_action == Action::Pan || (m_action == Action::Orbit && m_dragged)) {
        m_action == Action::Pan || m_look != 0 ? m_camera.pan(by.x(), by.y()) : m_camera.orbit(by.x(), by.y());
        m_hover.reset();
        m_untouched = false;
        return moved();
    }
    m_hover = m_stage.pickAt(m_camera, m_marks.spots(), at, directions());
    const auto nose = arrowTip(true), crown = arrowTip(false);
    const bool arrow = (nose && away(*nose, at) < 13) || (crown && away(*crown, at) < 13);
    const auto plain = arrow ? Qt::OpenHandCursor : Qt::ArrowCursor;
    setCursor(m_hover ? Qt::PointingHandCursor : plain);
    m_overlay->update();
}

void SeatView::mouseReleaseEvent(QMouseEvent* e) {
    const Action action = m_action;
    m_action = Action::None;
    if (e->button() != Qt::LeftButton) return moved();
    if (action == Action::Nose || action == Action::Crown) {
        m_hover = m_stage.pickAt(m_camera, m_marks.spots(), e->position(), true);
        if (!m_dragged)
            setTool(action == Action::Nose ? Tool::Nose : Tool::Crown);
        else if (m_hover)
            takeDirection(m_hover->direction, action == Action::Nose);
        else
            say(tr("Drop the arrow on a face, an edge or an axis of the part."));
        m_hover.reset();
        return moved();
    }
    if (action == Action::Orbit && !m_dragged) {
        m_hover = m_stage.pickAt(m_camera, m_marks.spots(), e->position(), directions());
        if (m_hover) {
            const SeatPick pick = *m_hover;
            take(pick, m_tool);
        }
        m_hover.reset();
    }
    moved();
}

void SeatView::wheelEvent(QWheelEvent* e) {
    m_camera.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x(), e->position().y());
    m_untouched = false;
    moved();
}

void SeatView::leaveEvent(QEvent*) {
    m_hover.reset();
    m_overlay->update();
}

/// The keyboard's way over the marks: arrows go from one to the next, Enter takes it.
void SeatView::step(int by) {
    const int n = int(m_marks.spots().size());
    for (int i = 1; i <= n; ++i) {
        const int at = ((m_cursor < 0 && by < 0 ? 0 : m_cursor) + by * i + 2 * n) % n;
        if (directions() && m_marks.spots()[size_t(at)].direction.isZero()) continue;
        m_cursor = at;
        const Spot& s = m_marks.spots()[size_t(at)];
        m_hover = SeatPick{s, s.at, s.direction};
        break;
    }
    m_overlay->update();
}

void SeatView::keyPressEvent(QKeyEvent* e) {
    switch (e->key()) {
    case Qt::Key_Escape:
        if (m_action != Action::None) {
            m_action = Action::None;
            m_hover.reset();
            return moved();
        }
        return leave();
    case Qt::Key_0: return frame(true);
    case Qt::Key_5: return frame(false);
    case Qt::Key_1: return setLook(0);
    case Qt::Key_2: return setLook(1);
    case Qt::Key_3: return setLook(2);
    case Qt::Key_4: return setLook(3);
    case Qt::Key_Right:
    case Qt::Key_Down: return step(1);
    case Qt::Key_Left:
    case Qt::Key_Up: return step(-1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_hover) {
            const SeatPick pick = *m_hover;
            take(pick, m_tool);
        }
        return;
    default: QWidget::keyPressEvent(e);
    }
}

} // namespace vicinal
