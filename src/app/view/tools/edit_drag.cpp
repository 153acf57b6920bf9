// A handle under way: where the pointer puts it, the line Ctrl holds it to, values typed meanwhile.
#include "app/controls/format.h"
#include "app/view/pick.h"
#include "app/view/tools/edit_tool.h"
#include "layout/spacing/rules.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/profile_edits.h"
#include "model/recipes/recipe.h"
#include <QKeyEvent>
#include <cmath>

namespace vicinal {

/// Lines a point can be dragged along: the axes, the way the path runs there, and across it.
std::vector<EditTool::Guide> EditTool::guides() const {
    std::vector<Guide> out{{Vec3::UnitX(), tr("x")}, {Vec3::UnitY(), tr("y")}, {Vec3::UnitZ(), tr("z")}};
    const auto path = m_store.currentPath();
    if (!m_drag->tangent().isZero() && path) {
        out.push_back({m_drag->tangent(), tr("along the path")});
        const Vec3 across = Vec3::UnitZ().cross(m_drag->tangent());
        if (across.norm() > tolerance::alike) out.push_back({across.normalized(), tr("across the path")});
    }
    return out;
}

/// Of those the one nearest to the pointer, as it is seen; one that is seen end on cannot be meant.
std::optional<EditTool::Guide> EditTool::guideUnder(const QPointF& at) const {
    const auto from = m_view.camera().project(m_drag->start());
    if (!from) return std::nullopt;
    const Vec2 pull(at.x() - from->x(), at.y() - from->y());
    std::optional<Guide> best;
    double most = -1;
    for (const Guide& g : guides()) {
        const auto to = m_view.camera().project(m_drag->start() + 100 * m_view.camera().scale() * g.direction);
        if (!to) continue;
        const Vec2 seen = to->head<2>() - from->head<2>();
        if (seen.norm() < 15) continue;
        // The axes come first: of two that look the same the pointer cannot choose.
        if (const double nearness = std::abs(pull.dot(seen)) / seen.norm(); nearness > most + tolerance::alike)
            most = nearness, best = g;
    }
    return best;
}

/// How far along a guide the pointer is: where its line comes nearest to the ray, mm.
double EditTool::along(const Guide& g, const QPointF& at) const {
    const auto [start, ray] = m_view.camera().ray(at.x(), at.y());
    const Vec3 w = m_drag->start() - start;
    const double b = g.direction.dot(ray), denominator = 1 - b * b;
    return denominator < tolerance::rounding ? 0 : (b * ray.dot(w) - g.direction.dot(w)) / denominator;
}

/// Along the path; with Shift its value instead, up for more.
void EditTool::dragKey(const QPointF& at, Qt::KeyboardModifiers keys) {
    const auto run = m_store.currentRun();
    if (!run || !run->path || !run->path->path) return;
    const double fine = std::pow(10, std::floor(std::log10(std::max(m_view.camera().scale(), 1e-3))));
    if (!(keys & Qt::ShiftModifier)) {
        const QPointF stalk(0, 26 + 18 * m_drag->handle().lane);
        const double s = stationUnder(m_view.camera(), at + stalk, *run->path->path);
        return m_drag->setKey(std::round(s / fine) * fine, m_drag->keyValue());
    }
    const double up = m_first.y() - at.y();
    double step = fine; // a pixel's worth
    switch (valuesOfProfile(kProfiles[m_drag->handle().index])) {
    case ProfileKind::Angle: step = kDegree; break;
    case ProfileKind::Factor: step = 0.01; break;
    case ProfileKind::Length: break;
    }
    m_drag->setKey(m_drag->keyStation(), std::round((m_drag->keyValue() + up * step) / step) * step);
}

void EditTool::dragTo(const QPointF& at, Qt::KeyboardModifiers keys) {
    const Handle& handle = m_drag->handle();
    if (handle.kind == Handle::Kind::Key) return dragKey(at, keys);
    const double fine = std::max(m_view.camera().scale(), 1e-3);
    const double round = std::pow(10, std::floor(std::log10(fine))); // whole values, as fine as a pixel
    if (!handle.inset()) {
        const Vec3 n = m_drag->normal(planeNormal(m_view.look()));
        const bool upright =
            m_view.look() == Viewport::Look::Free && (keys & Qt::ShiftModifier) && handle.kind != Handle::Kind::Wheel;
        std::optional<Vec3> to;
        if (upright) { // up and down
            Vec3 back = m_view.camera().back();
            back.z() = 0;
            if (back.norm() > 1e-3)
                if (const auto p = m_view.camera().onPlane(at.x(), at.y(), m_drag->start(), back.normalized()))
                    to = Vec3(m_drag->start().x(), m_drag->start().y(), p->z());
        } else {
            to = m_view.camera().onPlane(at.x(), at.y(), m_drag->start(), n);
        }
        if (!to) return;
        const Vec3 target = (*to / round).array().round() * round;
        Vec3 kept = upright ? Vec3(m_drag->start().x(), m_drag->start().y(), target.z())
                            : Vec3(target - n * target.dot(n) + n * m_drag->start().dot(n));
        m_guide.reset();
        if (m_mayGuide && (keys & Qt::ControlModifier)) m_guide = guideUnder(at);
        if (m_guide) kept = m_drag->start() + std::round(along(*m_guide, at) / round) * round * m_guide->direction;
        m_drag->to(kept);
        return;
    }
    const auto run = m_store.currentRun();
    if (!run || !run->path || !run->path->path) return;
    const Path& path = *run->path->path;
    const bool start = handle.kind == Handle::Kind::InsetStart;
    const double s = stationUnder(m_view.camera(), at - QPointF(0, 12), path);
    const Spacing& now = run->item->spacing;
    // The two insets never pass each other: dragging stops where a millimetre is left.
    const double from = now.from.value_or(0), to = now.to.value_or(path.length());
    const double whole = to > from ? to - from : to - from + path.length();
    const double room = whole - (start ? now.insetEnd : now.insetStart) - 1;
    double away = start ? s - from : to - s;
    if (path.closed() && away < 0) away += path.length(); // over the seam
    const double inset = std::clamp(std::round(away / round) * round, 0.0, std::max(0.0, room));
    m_drag->setInset(inset);
}

/// What was typed during a drag, applied instead of the pointer's place.
void EditTool::applyTyped() {
    const Unit unit = m_store.document().unit;
    if (QString why; m_drag->handle().kind == Handle::Kind::Key) {
        if (!m_drag->setKeyTyped(m_typed, &why)) return emit m_view.failed(why);
    } else if (!m_drag->handle().inset()) {
        const auto to = parsePoint(m_typed, unit, m_drag->start());
        if (!to) return emit m_view.failed(QString::fromStdString(to.problem().text));
        m_drag->to(*to);
    } else {
        const auto v = parseLength(m_typed.toStdString(), unit);
        if (!v) return emit m_view.failed(QString::fromStdString(v.problem().text));
        m_drag->setInset(*v);
    }
    endDrag();
}

void EditTool::endDrag() {
    m_drag.reset();
    m_ctrl = m_moved = false;
    m_guide.reset();
    m_typed.clear();
    m_store.seal();
    m_view.moved(true);
}

bool EditTool::key(QKeyEvent* e) {
    if (!m_drag) return false;
    const QString typed = e->text();
    switch (e->key()) {
    case Qt::Key_Escape: {
        // Only what this drag itself did is taken back: a value may have been typed and nothing moved yet.
        const bool changed = m_drag->changed();
        endDrag();
        if (changed) m_store.undo();
        return true;
    }
    case Qt::Key_Backspace:
        m_typed.chop(1);
        m_view.repaintOverlay();
        return true;
    case Qt::Key_Control:
        if (!m_mayGuide || !m_moved || !m_typed.isEmpty() || e->isAutoRepeat()) return false;
        m_ctrl = true;
        dragTo(m_last, e->modifiers() | Qt::ControlModifier);
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (!m_typed.isEmpty()) applyTyped();
        return true;
    default: break;
    }
    if (typed.isEmpty() || !typed[0].isPrint()) return false;
    m_moved = true;
    m_typed += typed;
    m_view.repaintOverlay();
    return true;
}

void EditTool::keyUp(QKeyEvent* e) {
    if (e->key() != Qt::Key_Control || e->isAutoRepeat() || !m_drag) return;
    m_ctrl = false;
    m_mayGuide = true; // let go of once: the next press is meant for the drag
    if (m_moved && m_typed.isEmpty()) dragTo(m_last, e->modifiers() & ~Qt::ControlModifier);
}

} // namespace vicinal
