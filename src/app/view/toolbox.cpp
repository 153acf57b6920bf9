#include "app/view/toolbox.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/tools/edit_tool.h"
#include "app/view/tools/look_tool.h"
#include "app/view/tools/pick_tools.h"
#include <QMouseEvent>

namespace vicinal {

Toolbox::Toolbox(Viewport& view)
    : m_view(view), m_lookRound(std::make_unique<LookTool>(view)), m_edit(std::make_unique<EditTool>(view)),
      m_draw(std::make_unique<DrawTool>(view)), m_edge(std::make_unique<EdgeTool>(view)),
      m_face(std::make_unique<FaceTool>(view)), m_inHand(m_edit.get()) {}
Toolbox::~Toolbox() = default;

void Toolbox::takeUp(ViewTool* tool) {
    if (!tool) tool = m_edit.get();
    if (m_inHand != tool) m_inHand->putDown();
    if (m_held != m_lookRound.get()) m_held = nullptr;
    m_inHand = tool;
    if (tool != m_edit.get()) m_view.setFocus();
    m_view.setCursor(tool->cursor());
    m_view.moved(true);
}

void Toolbox::pickDirection() {
    m_edge->want(EdgeTool::Want::Direction);
    takeUp(m_edge.get());
}

void Toolbox::pickEdge() {
    if (drawing()) m_draw->cancel();
    m_edge->want(EdgeTool::Want::Path);
    takeUp(m_edge.get());
}

void Toolbox::pickFace() {
    if (drawing()) m_draw->cancel();
    m_edge->want(EdgeTool::Want::Face);
    takeUp(m_edge.get());
}

void Toolbox::pickDrawFace() {
    takeUp(m_face.get());
    emit m_view.drawingChanged();
}

bool Toolbox::edits() const { return m_inHand == m_edit.get(); }
bool Toolbox::picksEdge() const { return m_inHand == m_edge.get(); }
bool Toolbox::picksFace() const { return m_inHand == m_face.get(); }
bool Toolbox::drawing() const { return m_inHand == m_draw.get() || picksFace(); }
std::optional<Path> Toolbox::drawnPath() const { return drawing() ? m_draw->drawn() : std::nullopt; }

void Toolbox::press(QMouseEvent* e) {
    m_pressed = e->position();
    m_dragged = false;
    const bool pan = e->button() == Qt::MiddleButton || (e->modifiers() & Qt::AltModifier);
    m_held = m_inHand;
    if (pan || !m_inHand->press(e)) (m_held = m_lookRound.get())->press(e);
}

void Toolbox::move(QMouseEvent* e) {
    if (m_held && (e->position() - m_pressed).manhattanLength() > 3) m_dragged = true;
    (m_held ? m_held : m_inHand)->move(e);
    if (!m_held) m_view.setCursor(m_inHand->cursor());
}

void Toolbox::release(QMouseEvent* e) {
    ViewTool* held = m_held;
    if (!held) return;
    m_held = nullptr;
    held->release(e);
    if (held == m_lookRound.get() && e->button() == Qt::LeftButton && !m_dragged) m_inHand->click(e);
}

} // namespace vicinal
