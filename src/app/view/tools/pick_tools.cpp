#include "app/view/tools/pick_tools.h"
#include "app/controls/theme.h"
#include "app/view/tools/draw_tool.h"
#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

namespace vicinal {

void EdgeTool::click(QMouseEvent* e) {
    Viewport::Face face;
    const auto pick = m_view.pickPlace(e->position(), &face);
    if (!pick)
        return emit m_view.failed(tr("There is no part here. Click near an edge of one, or press Esc to give up."));
    const auto run = m_view.store().evaluation().run(pick->run);
    const Placed& placed = *run->placed;
    const size_t place = size_t(pick->place);
    const Mat4 pose = placed.pose(place);
    const double size = placed.laid->size[place];
    const Mat3 R = pose.topLeftCorner<3, 3>() / size;
    const Box3& box = placed.part(place).mesh->box;
    EdgesRecipe edges;
    edges.part = placed.part(place).id;
    const Vec3 local = R.transpose() * (face.at - pose.topRightCorner<3, 1>()) / size - box.min();
    for (int i = 0; i < 3; ++i) edges.pick[i] = box.sizes()[i] > 0 ? local[i] / box.sizes()[i] : 0;
    edges.at = pose.topRightCorner<3, 1>();
    edges.turn = std::atan2(R(1, 0), R(0, 0));
    m_view.takeUp(nullptr);
    emit m_view.edgePicked(edges);
}

bool EdgeTool::key(QKeyEvent* e) {
    if (e->key() != Qt::Key_Escape) return false;
    m_view.takeUp(nullptr);
    return true;
}

void EdgeTool::paint(QPainter& p) const {
    m_view.pill(p, {12, 10}, tr("Click a part near the edge a path is to follow \u00b7 Esc gives up"), theme::accent(),
                theme::ink());
}

void FaceTool::click(QMouseEvent* e) {
    Viewport::Face face;
    if (!m_view.pickPlace(e->position(), &face))
        return emit m_view.failed(tr("There is no part here. Click a face of one, or choose plan, front or side."));
    m_view.draw().setFace(face);
}

bool FaceTool::key(QKeyEvent* e) {
    if (e->key() != Qt::Key_Escape) return false;
    m_view.draw().setFace(std::nullopt);
    return true;
}

void FaceTool::paint(QPainter& p) const {
    m_view.draw().paintDrawn(p);
    m_view.pill(p, {12, 10}, tr("Click a face of a part to draw on its plane \u00b7 Esc gives up"), theme::accent(),
                theme::ink());
}

} // namespace vicinal
