// The way from an event to the tool in hand.
#include "app/view/toolbox.h"
#include "app/view/tools/tool.h"
#include "app/view/viewport.h"
#include <QContextMenuEvent>
#include <QMouseEvent>
#include <cmath>

namespace vicinal {

void Viewport::mousePressEvent(QMouseEvent* e) {
    setFocus();
    if (e->button() != Qt::LeftButton && e->button() != Qt::MiddleButton) return;
    m_tools->press(e);
}

void Viewport::mouseMoveEvent(QMouseEvent* e) { m_tools->move(e); }
void Viewport::mouseReleaseEvent(QMouseEvent* e) { m_tools->release(e); }

void Viewport::mouseDoubleClickEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton || !m_tools->inHand().doubleClick(e))
        mousePressEvent(e); // two quick clicks are two clicks
}

void Viewport::wheelEvent(QWheelEvent* e) {
    m_camera.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x(), e->position().y());
    cameraMoved();
}

void Viewport::leaveEvent(QEvent*) {
    m_tools->inHand().leave();
    m_overlay->update();
}

bool Viewport::event(QEvent* e) {
    // Keys that menus would take while a value is typed or a path drawn belong to the view.
    if (e->type() == QEvent::ShortcutOverride && m_tools->inHand().takesKeys()) {
        const auto* key = static_cast<QKeyEvent*>(e);
        if (!(key->modifiers() & (Qt::ControlModifier | Qt::MetaModifier))) {
            e->accept();
            return true;
        }
    }
    return QWidget::event(e);
}

void Viewport::keyPressEvent(QKeyEvent* e) {
    if (!m_tools->inHand().key(e)) QWidget::keyPressEvent(e);
}

void Viewport::keyReleaseEvent(QKeyEvent* e) {
    m_tools->inHand().keyUp(e);
    QWidget::keyReleaseEvent(e);
}

void Viewport::contextMenuEvent(QContextMenuEvent* e) { m_tools->inHand().menu(e); }

} // namespace vicinal
