#include "app/view/tools/pick_tools.h"
#include "app/controls/theme.h"
#include "app/view/overlays/painting.h"
#include "app/view/pick.h"
#include "app/view/toolbox.h"
#include "app/view/tools/draw_tool.h"
#include "geometry/mesh/mesh.h"
#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

namespace vicinal {

namespace {

/// The feature edge that comes nearest to a point.
std::optional<std::array<std::uint32_t, 2>> nearestEdge(const Mesh& mesh, const Vec3& at) {
    std::optional<std::array<std::uint32_t, 2>> best;
    double least = std::numeric_limits<double>::infinity();
    for (const auto& e : featureEdges(mesh)) {
        const Vec3 a = mesh.points[e[0]], ab = mesh.points[e[1]] - a;
        const double t = std::clamp((at - a).dot(ab) / std::max(ab.squaredNorm(), kTiny), 0.0, 1.0);
        if (const double d = (at - a - t * ab).squaredNorm(); d < least) least = d, best = e;
    }
    return best;
}

} // namespace

void EdgeTool::click(QMouseEvent* e) {
    PickedFace face;
    const auto pick = pickPlace(m_view, e->position(), &face);
    if (!pick)
        return emit m_view.failed(tr("There is no part here. Click near an edge of one, or press Esc to give up."));
    if (m_want == Want::Face) {
        Vec3 out = face.normal.normalized();
        for (double& v : out) v = std::abs(v) < tolerance::fine ? 0 : v;
        emit m_view.facePicked(out);
        return m_view.tools().takeUp(nullptr);
    }
    const auto picked = m_view.shown().standing(pick->run);
    const auto body = size_t(pick->body);
    const PlacedPart& part = picked->partAt(body);
    const Mat4 pose = picked->instances->pose(body);
    const double size = picked->instances->size(body);
    const Mat3 R = pose.topLeftCorner<3, 3>() / size;
    if (m_want == Want::Direction) {
        const Mesh& mesh = *part.mesh;
        const auto edge = nearestEdge(mesh, R.transpose() * (face.at - pose.topRightCorner<3, 1>()) / size);
        if (!edge) return emit m_view.failed(tr("This part has no edge. Click another one, or press Esc."));
        Vec3 along = (R * (mesh.points[(*edge)[1]] - mesh.points[(*edge)[0]])).normalized();
        double up = along.x(); // by the highest axis it has anything of
        for (int axis : {1, 2})
            if (std::abs(along[axis]) > tolerance::rounding) up = along[axis];
        for (double& v : along) v = std::abs(v) < tolerance::fine ? 0 : v;
        m_view.tools().takeUp(nullptr);
        return emit m_view.directionPicked(up < 0 ? Vec3(-along) : along);
    }
    const Box3& box = part.mesh->box;
    EdgesRecipe edges;
    edges.part = part.id;
    const Vec3 local = R.transpose() * (face.at - pose.topRightCorner<3, 1>()) / size - box.min();
    for (int i = 0; i < 3; ++i) edges.pick[i] = box.sizes()[i] > 0 ? local[i] / box.sizes()[i] : 0;
    if (!picked->asBody()) { // a site body says itself where it stands
        edges.at = pose.topRightCorner<3, 1>();
        edges.turn = std::atan2(R(1, 0), R(0, 0));
    }
    m_view.tools().takeUp(nullptr);
    emit m_view.edgePicked(edges);
}

void EdgeTool::putDown() {
    if (m_want == Want::Face) emit m_view.pickGivenUp();
}

bool EdgeTool::key(QKeyEvent* e) {
    if (e->key() != Qt::Key_Escape) return false;
    m_view.tools().takeUp(nullptr);
    return true;
}

void EdgeTool::paint(QPainter& p) const {
    paintPill(p, m_view, {12, 10},
              m_want == Want::Path   ? tr("Click a part near the edge a path is to follow \u00b7 Esc gives up")
              : m_want == Want::Face ? tr("Click a face of a part: the paper lies on it \u00b7 Esc gives up")
                                     : tr("Click a part near the edge that is the direction \u00b7 Esc gives up"),
              theme::accent(), theme::ink());
}

void FaceTool::click(QMouseEvent* e) {
    PickedFace face;
    if (!pickPlace(m_view, e->position(), &face))
        return emit m_view.failed(tr("There is no part here. Click a face of one, or choose plan, front or side."));
    m_view.tools().draw().setFace(face);
}

bool FaceTool::key(QKeyEvent* e) {
    if (e->key() != Qt::Key_Escape) return false;
    m_view.tools().draw().setFace(std::nullopt);
    return true;
}

void FaceTool::paint(QPainter& p) const {
    m_view.tools().draw().paintDrawn(p);
    paintPill(p, m_view, {12, 10}, tr("Click a face of a part to draw on its plane \u00b7 Esc gives up"),
              theme::accent(), theme::ink());
}

} // namespace vicinal
