// The strip under the hand: what each lane does with the pointer, zoom, keys, menus.
#include "app/strip/strip.h"
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QToolTip>
#include <cmath>

namespace vicinal {

void Strip::mousePressEvent(QMouseEvent* e) {
    setFocus();
    if (e->button() != Qt::LeftButton && e->button() != Qt::MiddleButton) return;
    m_pressed = m_last = e->position();
    m_moved = false;
    ++m_scene.drags;
    m_drag = e->button() == Qt::MiddleButton ? Drag::Map : Drag::None;
    m_held = m_lanes.at(m_pressed.y());
    if (m_drag == Drag::None && m_held && m_held->grab(m_pressed)) m_drag = Drag::Lane;
    prepare();
}

void Strip::mouseMoveEvent(QMouseEvent* e) {
    const QPointF at = e->position();
    if (m_drag == Drag::None) {
        const StripLane* over = m_lanes.at(at.y());
        setCursor(over ? over->cursor(at) : Qt::ArrowCursor);
        return;
    }
    if ((at - m_pressed).manhattanLength() > 3) m_moved = true;
    if (m_moved && m_drag == Drag::Map) m_scene.map.scroll(m_last.x() - at.x());
    if (m_moved && m_drag == Drag::Lane) m_held->drag(at);
    m_last = at;
    if (m_moved) prepare();
}

void Strip::mouseReleaseEvent(QMouseEvent* e) {
    const Drag drag = m_drag;
    m_drag = Drag::None;
    if (drag == Drag::None) return;
    if (drag == Drag::Lane) m_held->drop(e->position(), m_moved, e->modifiers());
    if (m_moved) m_scene.store.seal();
    prepare();
}

void Strip::mouseDoubleClickEvent(QMouseEvent* e) {
    StripLane* lane = m_lanes.at(e->position().y());
    if (!lane || e->button() != Qt::LeftButton || !lane->twice(e->position())) QWidget::mouseDoubleClickEvent(e);
}

void Strip::wheelEvent(QWheelEvent* e) {
    if (e->modifiers() & Qt::ShiftModifier)
        m_scene.map.scroll(-e->angleDelta().y() * 0.5 - e->angleDelta().x() * 0.5);
    else
        m_scene.map.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x());
    prepare();
}

void Strip::keyPressEvent(QKeyEvent* e) {
    const auto run = m_scene.placedRun();
    const int step = int(e->key() == Qt::Key_Right) - int(e->key() == Qt::Key_Left);
    if (!run || step == 0 || run->placed->count() == 0) return QWidget::keyPressEvent(e);
    Selection s = m_scene.selectionOf(*run);
    const int n = int(firstRow(*run->placed));
    int from = step > 0 ? -1 : n;
    if (!s.places.empty()) from = step > 0 ? *s.places.rbegin() : *s.places.begin();
    const int to = std::clamp(from + step, 0, n - 1);
    if (!(e->modifiers() & Qt::ShiftModifier)) s.places.clear();
    s.places.insert(to);
    s.point = -1;
    m_scene.store.select(s);
}

bool Strip::event(QEvent* e) {
    if (e->type() != QEvent::ToolTip) return QWidget::event(e);
    const auto* help = static_cast<QHelpEvent*>(e);
    QString text = tr("Click a place to select it, Ctrl or Shift for several; drag it to slide the run; drag a "
                      "triangle to change an inset. "
                      "The wheel zooms, Shift and the wheel scroll. Delete leaves out.");
    if (const StripLane* lane = m_lanes.at(help->pos().y())) text = lane->tip(help->pos(), text);
    QToolTip::showText(help->globalPos(), "<p>" + text.toHtmlEscaped().replace("\n", "<br>") + "</p>", this);
    return true;
}

/// What can be done with any lane but the ruler.
void Strip::laneMenu(QMenu& menu, const StripLane& lane) {
    if (lane.id.kind == LaneKind::Station) return;
    const auto add = [&](const QString& words, auto&& how) {
        menu.addAction(words, this, [this, how, id = lane.id] {
            how(m_lanes, id);
            refresh();
        });
    };
    add(tr("Lane up"), [](LaneList& all, const LaneId& id) { all.move(id, -1); });
    add(tr("Lane down"), [](LaneList& all, const LaneId& id) { all.move(id, 1); });
    add(tr("Hide this lane"), [](LaneList& all, const LaneId& id) { all.hide(id); });
}

void Strip::contextMenuEvent(QContextMenuEvent* e) {
    const QPointF at = e->pos();
    QMenu menu(this);
    if (StripLane* lane = m_lanes.at(at.y())) {
        lane->menu(menu, at);
        if (!m_folded) laneMenu(menu, *lane);
    }
    if (m_scene.run() && !m_folded) {
        auto* add = menu.addMenu(tr("Show a lane"));
        for (const StripLane* lane : m_lanes.offered())
            add->addAction(lane->name(), this,
                           [this, id = lane->id] {
                               m_lanes.show(id);
                               refresh();
                           })
                ->setObjectName("lane." + lane->name());
        add->setEnabled(!add->isEmpty());
    }
    menu.addAction(tr("Show the whole path"), this, [this] {
        m_scene.map.showAll();
        prepare();
    });
    menu.exec(e->globalPos());
}

} // namespace vicinal
