#include "app/view/tools/look_tool.h"
#include "app/view/pick.h"
#include "app/view/toolbox.h"
#include "app/view/viewport.h"
#include <QMouseEvent>

namespace vicinal {

bool LookTool::press(QMouseEvent* e) {
    m_pan = e->button() == Qt::MiddleButton || (e->modifiers() & Qt::AltModifier);
    m_last = e->position();
    if (!m_pan) m_pivot = pivotUnder(m_view, e->position());
    return true;
}

void LookTool::move(QMouseEvent* e) {
    if (!m_view.tools().dragged()) return; // a click may shake a little
    const QPointF step = e->position() - m_last;
    m_last = e->position();
    if (m_pan || m_view.look() != Viewport::Look::Free)
        m_view.camera().pan(step.x(), step.y());
    else
        m_view.camera().orbitAbout(m_pivot, step.x(), step.y());
    m_view.cameraMoved();
}

void LookTool::release(QMouseEvent*) { m_view.moved(true); }

} // namespace vicinal
