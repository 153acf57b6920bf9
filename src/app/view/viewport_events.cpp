// The way from an event to the tool in hand.
#include "app/view/tools/draw_tool.h"
#include "app/view/tools/edit_tool.h"
#include "app/view/tools/look_tool.h"
#include "app/view/tools/pick_tools.h"
#include <QContextMenuEvent>
#include <QMouseEvent>
#include <cmath>

namespace vicinal {

void Viewport::takeUp(ViewTool* tool) {
    if (!tool) tool = m_edit.get();
    if (m_tool != tool) m_tool->putDown();
    if (m_held != m_lookRound.get()) m_held = nullptr;
    m_tool = tool;
    if (tool != m_edit.get()) setFocus();
    setCursor(tool->cursor());
    moved(true);
}

void Viewport::pickDirection() {
    m_edge->want(EdgeTool::Want::Direction);
    takeUp(m_edge.get());
}

void Viewport::pickEdge() {
    if (drawing()) m_draw->cancel();
    m_edge->want(EdgeTool::Want::Path);
    takeUp(m_edge.get());
}

void Viewport::pickFace() {
    if (drawing()) m_draw->cancel();
    m_edge->want(EdgeTool::Want::Face);
    takeUp(m_edge.get());
}

void Viewport::pickDrawFace() {
    takeUp(m_face.get());
    emit drawingChanged();
}

bool Viewport::picksEdge() const { return m_tool == m_edge.get(); }
bool Viewport::picksFace() const { return m_tool == m_face.get(); }
bool Viewport::drawing() const { return m_tool == m_draw.get() || picksFace(); }
std::optional<Path> Viewport::drawnPath() const { return drawing() ? m_draw->drawn() : std::nullopt; }

void Viewport::mousePressEvent(QMouseEvent* e) {
    setFocus();
    if (e->button() != Qt::LeftButton && e->button() != Qt::MiddleButton) return;
    m_pressed = e->position();
    m_dragged = false;
    const bool pan = e->button() == Qt::MiddleButton || (e->modifiers() & Qt::AltModifier);
    m_held = m_tool;
    if (pan || !m_tool->press(e)) (m_held = m_lookRound.get())->press(e);
}

void Viewport::mouseMoveEvent(QMouseEvent* e) {
    if (m_held && (e->position() - m_pressed).manhattanLength() > 3) m_dragged = true;
    (m_held ? m_held : m_tool)->move(e);
    if (!m_held) setCursor(m_tool->cursor());
}

void Viewport::mouseReleaseEvent(QMouseEvent* e) {
    ViewTool* held = m_held;
    if (!held) return;
    m_held = nullptr;
    held->release(e);
    if (held == m_lookRound.get() && e->button() == Qt::LeftButton && !m_dragged) m_tool->click(e);
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton || !m_tool->doubleClick(e)) mousePressEvent(e); // two quick clicks are two clicks
}

void Viewport::wheelEvent(QWheelEvent* e) {
    m_camera.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x(), e->position().y());
    cameraMoved();
}

void Viewport::leaveEvent(QEvent*) {
    m_tool->leave();
    m_overlay->update();
}

bool Viewport::event(QEvent* e) {
    // Keys that menus would take while a value is typed or a path drawn belong to the view.
    if (e->type() == QEvent::ShortcutOverride && m_tool->takesKeys()) {
        const auto* key = static_cast<QKeyEvent*>(e);
        if (!(key->modifiers() & (Qt::ControlModifier | Qt::MetaModifier))) {
            e->accept();
            return true;
        }
    }
    return QWidget::event(e);
}

void Viewport::keyPressEvent(QKeyEvent* e) {
    if (!m_tool->key(e)) QWidget::keyPressEvent(e);
}

void Viewport::keyReleaseEvent(QKeyEvent* e) {
    m_tool->keyUp(e);
    QWidget::keyReleaseEvent(e);
}

void Viewport::contextMenuEvent(QContextMenuEvent* e) { m_tool->menu(e); }

} // namespace vicinal
