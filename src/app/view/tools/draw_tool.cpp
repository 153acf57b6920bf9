// Drawing a path in the view: clicks, strokes, typed points, what they catch on.
#include "app/view/tools/draw_tool.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/view/pick.h"
#include "app/view/toolbox.h"
#include "app/view/view_scene.h"
#include "model/document/path_item.h"
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

namespace vicinal {

Vec3 DrawTool::normal() const { return m_face ? m_face->normal : planeNormal(m_view.look()); }

std::optional<Vec3> DrawTool::pointAt(const QPointF& at, bool snap) {
    m_caught.reset();
    const Vec3 n = normal();
    const double sign = m_view.look() == Viewport::Look::Front ? -1 : 1; // level counts along x, y or z
    const Vec3 on = m_face ? m_face->at : Vec3(sign * m_level * n);
    const auto p = m_view.camera().onPlane(at.x(), at.y(), on, n);
    if (!p || !snap) return p;
    SnapQuery q;
    q.pointer = *p;
    q.normal = n;
    if (!m_pen.points.empty()) q.from = m_pen.via ? *m_pen.via : m_pen.points.back().at;
    q.gridStep = m_view.scene().gridStep() / 10;
    q.reach = 9;
    const bool along = m_view.camera().parallel && m_view.look() != Viewport::Look::Free;
    q.depthAxis = !along                                   ? -1
                  : m_view.look() == Viewport::Look::Plan  ? 2
                  : m_view.look() == Viewport::Look::Front ? 1
                                                           : 0;
    // In a free view what is far behind may look near: then all are asked, as long as they are few.
    if (along || m_store.evaluation().paths.size() > 200) q.worldReach = 60 * m_view.camera().scale();
    q.off = m_snapOff;
    q.away = [&](const Vec3& v) {
        const auto s = m_view.camera().project(v);
        return s ? std::hypot(s->x() - at.x(), s->y() - at.y()) : 1e9;
    };
    std::vector<Path> paths;
    for (const auto& [id, path] : m_store.evaluation().paths)
        if (path->path) paths.push_back(*path->path);
    std::vector<Vec3> points;
    for (const auto& [id, path] : m_store.evaluation().paths)
        if (const auto* r = editablePoints(*path->item))
            for (const auto& x : r->points) points.push_back(x.at);
    const SiteSnaps& site = siteSnaps();
    points.insert(points.end(), site.corners.begin(), site.corners.end());
    paths.insert(paths.end(), site.edges.begin(), site.edges.end());
    for (size_t i = 0; i + 1 < m_pen.points.size(); ++i) points.push_back(m_pen.points[i].at);
    m_caught = snapTo(q, paths, points);
    return m_caught ? m_caught->at : p;
}

/// Corners and edges of the site bodies in sight; found anew when what they are made of changed.
const DrawTool::SiteSnaps& DrawTool::siteSnaps() {
    constexpr size_t kMostEdges = 600; // of a body; finer ones are caught by their faces
    std::vector<std::shared_ptr<const Ground>> now;
    for (const auto& [id, body] : m_store.evaluation().bodies)
        if (body->ground && !hides(m_view.store(), *body)) now.push_back(body->ground);
    if (now == m_site.of) return m_site;
    m_site = {std::move(now), {}, {}};
    for (const auto& ground : m_site.of) {
        const Mesh& mesh = ground->tree().mesh();
        if (mesh.triangles.size() > 20'000) continue;
        const auto edges = featureEdges(mesh);
        if (edges.size() > kMostEdges) continue;
        const auto at = [&](std::uint32_t i) { return Vec3(ground->turn() * mesh.points[i] + ground->origin()); };
        for (const auto& e : edges) {
            m_site.corners.push_back(at(e[0]));
            m_site.corners.push_back(at(e[1]));
            if (const auto path = Path::make({Line{at(e[0]), at(e[1])}}, false)) m_site.edges.push_back(*path);
        }
    }
    return m_site;
}

/// What was typed: a point (x, y, z), a length in the pointer's direction, or "length at angle" in plan.
Result<Vec3> DrawTool::typedPoint() const {
    const Unit unit = m_store.document().unit;
    const Vec3 from = m_pen.points.empty() ? Vec3(Vec3::Zero()) : m_pen.points.back().at;
    const QString at = tr("at");
    const int k = m_typed.indexOf(at);
    if (k > 0) {
        const auto length = parseLength(m_typed.left(k).trimmed().toStdString(), unit);
        if (!length) return length.problem();
        const auto angle = parseAngle(m_typed.mid(k + at.size()).trimmed().toStdString());
        if (!angle) return angle.problem();
        const Mat3 axes = m_face || m_view.look() == Viewport::Look::Free || m_view.look() == Viewport::Look::Plan
                              ? Mat3::Identity()
                              : axesOf(m_view.look() == Viewport::Look::Front ? Plane::Front : Plane::Side);
        return Vec3(from + *length * (std::cos(*angle) * axes.col(0) + std::sin(*angle) * axes.col(1)));
    }
    if (!m_typed.contains(',') && !m_typed.contains(';')) {
        if (m_pen.points.empty()) return Problem{"The first point needs x, y and, if wanted, z.", "point"};
        const auto length = parseLength(m_typed.trimmed().toStdString(), unit);
        if (!length) return length.problem();
        const Vec3 d = m_pointer ? Vec3(*m_pointer - from) : Vec3::Zero();
        if (d.norm() < tolerance::length)
            return Problem{"Move the pointer to where the leg should lead, or type \"length at angle\".", "point"};
        return Vec3(from + *length * d.normalized());
    }
    return parsePoint(m_typed, unit, from);
}

void DrawTool::changed() {
    emit m_view.drawingChanged();
    m_view.moved(true);
}

void DrawTool::set(const Vec3& p, const std::optional<Vec3>& handle) {
    m_pen.normal = normal();
    if (const auto problem = m_pen.add(p, handle)) emit m_view.failed(m_store.say(problem->text));
    changed();
}

/// Strokes and pulled handles are drags; other points are set by a click, so that the view can be turned meanwhile.
bool DrawTool::press(QMouseEvent* e) {
    if (!m_freehand && m_pen.mode != PenMode::Handles) return false;
    const auto p = pointAt(e->position(), !(e->modifiers() & Qt::AltModifier));
    if (!p) return false;
    if (m_freehand)
        m_trace = {*p};
    else
        m_pull = p;
    return true;
}

void DrawTool::move(QMouseEvent* e) {
    m_typed.clear();
    m_atTyped.reset();
    if (!m_trace.empty()) {
        if (const auto p = pointAt(e->position(), false)) m_trace.push_back(*p);
        return m_view.moved(true);
    }
    m_pointer = pointAt(e->position(), !(e->modifiers() & Qt::AltModifier));
    if (m_pull) return m_view.moved(true);
    m_view.repaintOverlay();
    emit m_view.previewChanged();
}

void DrawTool::release(QMouseEvent* e) {
    if (!m_trace.empty()) {
        if (m_trace.size() > 1) m_pen.stroke(m_trace, 2.5 * m_view.camera().scale());
        m_trace.clear();
        return changed();
    }
    if (!m_pull) return;
    const auto to = pointAt(e->position(), !(e->modifiers() & Qt::AltModifier));
    const Vec3 at = *m_pull;
    m_pull.reset();
    set(at, m_view.tools().dragged() && to ? std::optional<Vec3>(*to - at) : std::nullopt);
}

void DrawTool::click(QMouseEvent* e) {
    const auto p = pointAt(e->position(), !(e->modifiers() & Qt::AltModifier));
    if (!p) return;
    if (m_pen.points.size() > 2) {
        const auto first = m_view.camera().project(m_pen.points.front().at);
        if (first && std::hypot(e->position().x() - first->x(), e->position().y() - first->y()) < 10)
            return finish(true);
    }
    set(*p);
}

/// What is typed stands in the picture at once, as soon as it can be read.
void DrawTool::setTyped(const QString& text) {
    m_typed = text;
    m_atTyped.reset();
    if (!text.isEmpty())
        if (const auto p = typedPoint()) m_atTyped = *p;
    changed();
}

bool DrawTool::key(QKeyEvent* e) {
    const QString typed = e->text();
    switch (e->key()) {
    case Qt::Key_Escape:
        if (m_typed.isEmpty()) return cancel(), true;
        setTyped({});
        return true;
    case Qt::Key_Backspace:
        if (!m_typed.isEmpty())
            setTyped(m_typed.chopped(1));
        else
            m_pen.takeBack();
        changed();
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_typed.isEmpty()) return finish(false), true;
        if (const auto p = typedPoint()) {
            setTyped({});
            set(*p);
        } else {
            emit m_view.failed(m_store.say(p.problem().text));
        }
        m_view.moved(true);
        return true;
    default: break;
    }
    if (e->key() == Qt::Key_C && m_typed.isEmpty()) {
        setPen(m_pen.mode == PenMode::Smooth ? PenMode::Straight : PenMode::Smooth);
        return true;
    }
    if (!typed.isEmpty() && typed[0].isPrint()) {
        if (!m_pointer) m_pointer = m_pen.points.empty() ? Vec3(Vec3::Zero()) : m_pen.points.back().at;
        setTyped(m_typed + typed);
        return true;
    }
    return false;
}

/// Where the next point would be, as far as it is known.
std::optional<Vec3> DrawTool::next() const {
    if (m_freehand || m_pull) return std::nullopt;
    return m_atTyped ? m_atTyped : m_pointer;
}

std::optional<Path> DrawTool::drawn() const {
    PathPen shown = m_pen;
    if (m_pull && m_view.tools().dragged() && m_pointer) shown.add(*m_pull, *m_pointer - *m_pull);
    if (m_trace.size() > 1) shown.stroke(m_trace, 2.5 * m_view.camera().scale());
    const auto built = build(shown.preview(next()));
    return built ? std::optional(built->path) : std::nullopt;
}

void DrawTool::begin() {
    m_view.tools().takeUp(this);
    m_pen.clear();
    m_typed.clear();
    m_atTyped.reset();
    m_face.reset();
    m_store.select({});
    changed();
}

void DrawTool::setPen(PenMode mode, bool freehand) {
    m_pen.mode = mode;
    m_pen.via.reset();
    m_freehand = freehand;
    changed();
}

void DrawTool::setRadius(double radius) {
    m_pen.radius = radius;
    changed();
}

void DrawTool::setLevel(double level) {
    m_level = level;
    m_face.reset();
    changed();
}

void DrawTool::setFace(const std::optional<PickedFace>& face) {
    m_view.tools().takeUp(this);
    m_face = face;
    changed();
}

void DrawTool::setSnap(SnapKind kind, bool on) {
    on ? void(m_snapOff.erase(kind)) : void(m_snapOff.insert(kind));
    m_view.moved(true);
}

void DrawTool::finish(bool closed) {
    if (m_pen.points.size() < (closed ? 3u : 2u)) {
        emit m_view.failed(
            closed ? tr("A closed path needs at least three points: click one more, or press Esc to give up.")
                   : tr("A path needs at least two points: click one more, or press Esc to give up."));
        return;
    }
    PathItem item;
    item.recipe = m_pen.finished(closed);
    cancel();
    const Document d = with(m_store.document(), item);
    m_store.edit(d, tr("Draw %1").arg(d.paths.back()->name.c_str()));
    m_store.selectItem(Selection::Kind::Path, d.paths.back()->id);
}

void DrawTool::cancel() {
    m_pen.clear();
    m_pointer.reset();
    m_caught.reset();
    m_view.tools().takeUp(nullptr);
    changed();
}

void DrawTool::putDown() { // what was under way is given up, the points set stay
    m_trace.clear();
    m_pull.reset();
    m_typed.clear();
    m_atTyped.reset();
}

} // namespace vicinal
