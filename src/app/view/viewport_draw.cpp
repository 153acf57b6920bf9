// Drawing a path in the view: clicks, strokes, typed points, what they catch on.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/view/draw_bar.h"
#include "app/view/viewport.h"
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

namespace vicinal {

Vec3 Viewport::drawNormal() const { return m_drawFace ? m_drawFace->normal : planeNormal(); }

std::optional<Vec3> Viewport::drawPoint(const QPointF& at, bool snap) {
    m_caught.reset();
    const Vec3 n = drawNormal();
    const double sign = m_look == Look::Front ? -1 : 1; // level counts along x, y or z
    const Vec3 on = m_drawFace ? m_drawFace->at : Vec3(sign * m_drawLevel * n);
    const auto p = m_camera.onPlane(at.x(), at.y(), on, n);
    if (!p || !snap) return p;
    SnapQuery q;
    q.pointer = *p;
    q.normal = n;
    if (!m_pen.points.empty()) q.from = m_pen.via ? *m_pen.via : m_pen.points.back().at;
    q.gridStep = m_gridStep / 10;
    q.reach = 9;
    const bool along = m_camera.parallel && m_look != Look::Free;
    q.depthAxis = !along ? -1 : m_look == Look::Plan ? 2 : m_look == Look::Front ? 1 : 0;
    // In a free view what is far behind may look near: then all are asked, as long as they are few.
    if (along || m_store.evaluation().paths.size() > 200) q.worldReach = 60 * m_camera.scale();
    q.off = m_snapOff;
    q.away = [&](const Vec3& v) {
        const auto s = m_camera.project(v);
        return s ? std::hypot(s->x() - at.x(), s->y() - at.y()) : 1e9;
    };
    std::vector<Path> paths;
    for (const auto& [id, path] : m_store.evaluation().paths)
        if (path->path) paths.push_back(*path->path);
    std::vector<Vec3> points;
    for (const auto& [id, path] : m_store.evaluation().paths)
        if (const auto* r = editablePoints(*path->item))
            for (const auto& x : r->points) points.push_back(x.at);
    for (size_t i = 0; i + 1 < m_pen.points.size(); ++i) points.push_back(m_pen.points[i].at);
    m_caught = snapTo(q, paths, points);
    return m_caught ? m_caught->at : p;
}

/// What was typed: a point (x, y, z), a length in the pointer's direction, or "length at angle" in plan.
Result<Vec3> Viewport::typedPoint() const {
    const Unit unit = m_store.document().unit;
    const Vec3 from = m_pen.points.empty() ? Vec3(Vec3::Zero()) : m_pen.points.back().at;
    const QString at = tr("at");
    const int k = m_drawTyped.indexOf(at);
    if (k > 0) {
        const auto length = parseLength(m_drawTyped.left(k).trimmed().toStdString(), unit);
        if (!length) return length.problem();
        const auto angle = parseAngle(m_drawTyped.mid(k + at.size()).trimmed().toStdString());
        if (!angle) return angle.problem();
        const Mat3 axes = m_drawFace || m_look == Look::Free || m_look == Look::Plan
                              ? Mat3::Identity()
                              : axesOf(m_look == Look::Front ? Plane::Front : Plane::Side);
        return Vec3(from + *length * (std::cos(*angle) * axes.col(0) + std::sin(*angle) * axes.col(1)));
    }
    if (!m_drawTyped.contains(',') && !m_drawTyped.contains(';')) {
        if (m_pen.points.empty()) return Problem{"The first point needs x, y and, if wanted, z.", "point"};
        const auto length = parseLength(m_drawTyped.trimmed().toStdString(), unit);
        if (!length) return length.problem();
        const Vec3 d = m_drawPointer ? Vec3(*m_drawPointer - from) : Vec3::Zero();
        if (d.norm() < 1e-6)
            return Problem{"Move the pointer to where the leg should lead, or type \"length at angle\".", "point"};
        return Vec3(from + *length * d.normalized());
    }
    return parsePoint(m_drawTyped, unit, from);
}

void Viewport::setPoint(const Vec3& p, const std::optional<Vec3>& handle) {
    m_pen.normal = drawNormal();
    if (const auto problem = m_pen.add(p, handle)) emit failed(m_store.say(problem->text));
    emit drawingChanged();
    moved(true);
}

void Viewport::drawPress(QMouseEvent* e) {
    const auto p = drawPoint(e->position(), !(e->modifiers() & Qt::AltModifier));
    if (!p || m_pickFace) return;
    if (m_freehand) {
        m_action = Action::Stroke;
        m_trace = {*p};
    } else if (m_pen.mode == PenMode::Handles) {
        m_action = Action::Pull;
        m_pull = p;
    } // other points are set on release, so that the view can be turned meanwhile
}

bool Viewport::drawMove(const QPointF& at, Qt::KeyboardModifiers keys, Qt::MouseButtons buttons) {
    m_drawTyped.clear();
    m_typedPointer.reset();
    if (m_action == Action::Stroke) {
        if (const auto p = drawPoint(at, false)) m_trace.push_back(*p);
        moved(true);
        return true;
    }
    m_drawPointer = drawPoint(at, !(keys & Qt::AltModifier));
    if (m_action == Action::Pull) {
        if ((at - m_pressed).manhattanLength() > 3) m_dragged = true;
        moved(true);
        return true;
    }
    if (m_action == Action::None && (buttons & Qt::LeftButton) && (at - m_pressed).manhattanLength() > 6) {
        m_action = Action::Orbit; // a drag turns the view, a click sets a point
        m_pivot = pivotUnder(m_pressed);
        m_dragged = true;
    }
    emit previewChanged();
    return false;
}

void Viewport::drawRelease(QMouseEvent* e) {
    const Action action = m_action;
    m_action = Action::None;
    if (m_pickFace) {
        Face face;
        if (!pickPlace(e->position(), &face))
            return emit failed(tr("There is no part here. Click a face of one, or choose plan, front or side."));
        m_pickFace = false;
        m_drawFace = face;
        emit drawingChanged();
        return moved(true);
    }
    if (action == Action::Stroke) {
        if (m_trace.size() > 1) m_pen.stroke(m_trace, 2.5 * m_camera.scale());
        m_trace.clear();
        emit drawingChanged();
        return moved(true);
    }
    if (action == Action::Pull) {
        const auto to = drawPoint(e->position(), !(e->modifiers() & Qt::AltModifier));
        const Vec3 at = *m_pull;
        m_pull.reset();
        return setPoint(at, m_dragged && to ? std::optional<Vec3>(*to - at) : std::nullopt);
    }
    const auto p = drawPoint(e->position(), !(e->modifiers() & Qt::AltModifier));
    if (!p) return;
    if (m_pen.points.size() > 2) {
        const auto first = m_camera.project(m_pen.points.front().at);
        if (first && std::hypot(e->position().x() - first->x(), e->position().y() - first->y()) < 10)
            return finishDrawing(true);
    }
    setPoint(*p);
}

/// What is typed stands in the picture at once, as soon as it can be read.
void Viewport::setTyped(const QString& text) {
    m_drawTyped = text;
    m_typedPointer.reset();
    if (!text.isEmpty())
        if (const auto p = typedPoint()) m_typedPointer = *p;
    emit drawingChanged();
    moved(true);
}

bool Viewport::drawKey(QKeyEvent* e) {
    const QString typed = e->text();
    switch (e->key()) {
    case Qt::Key_Escape:
        if (m_drawTyped.isEmpty()) return cancelDrawing(), true;
        setTyped({});
        return true;
    case Qt::Key_Backspace:
        if (!m_drawTyped.isEmpty())
            setTyped(m_drawTyped.chopped(1));
        else
            m_pen.takeBack();
        emit drawingChanged();
        moved(true);
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_drawTyped.isEmpty()) return finishDrawing(false), true;
        if (const auto p = typedPoint()) {
            setTyped({});
            setPoint(*p);
        } else
            emit failed(m_store.say(p.problem().text));
        moved(true);
        return true;
    default: break;
    }
    if (e->key() == Qt::Key_C && m_drawTyped.isEmpty()) {
        setPen(m_pen.mode == PenMode::Smooth ? PenMode::Straight : PenMode::Smooth);
        return true;
    }
    if (!typed.isEmpty() && typed[0].isPrint()) {
        if (!m_drawPointer) m_drawPointer = m_pen.points.empty() ? Vec3(Vec3::Zero()) : m_pen.points.back().at;
        setTyped(m_drawTyped + typed);
        return true;
    }
    return false;
}

/// Where the next point would be, as far as it is known.
std::optional<Vec3> Viewport::nextPoint() const {
    if (m_freehand || (m_action == Action::Pull && m_pull)) return std::nullopt;
    return m_typedPointer ? m_typedPointer : m_drawPointer;
}

std::optional<Path> Viewport::drawnPath() const {
    if (!m_drawing) return std::nullopt;
    PathPen shown = m_pen;
    if (m_action == Action::Pull && m_pull && m_dragged && m_drawPointer) shown.add(*m_pull, *m_drawPointer - *m_pull);
    if (m_trace.size() > 1) shown.stroke(m_trace, 2.5 * m_camera.scale());
    const auto built = build(shown.preview(nextPoint()));
    return built ? std::optional(built->path) : std::nullopt;
}

void Viewport::paintDrawing(QPainter& p) const {
    const auto pixel = [](const Vec3& v) { return QPointF(v.x(), v.y()); };
    const Unit unit = m_store.document().unit;
    const std::optional<Vec3> pointer = nextPoint();
    PathResult preview;
    preview.path = drawnPath();
    paintPath(p, preview, theme::accent(), 2);
    for (size_t i = 0; i < m_pen.points.size(); ++i) {
        const auto at = m_camera.project(m_pen.points[i].at);
        if (!at) continue;
        p.setPen(QPen(theme::accent(), 1.6));
        p.setBrush(i == 0 ? theme::accentTint() : theme::paper());
        if (i == 0)
            p.drawEllipse(pixel(*at), 6, 6);
        else
            p.drawRect(QRectF(pixel(*at) - QPointF(4, 4), QSizeF(8, 8)));
    }
    if (m_pen.via)
        if (const auto at = m_camera.project(*m_pen.via)) p.drawEllipse(pixel(*at), 4, 4);
    pill(p, {12, 10},
         m_pickFace ? tr("Click a face of a part to draw on its plane \u00b7 Esc cancels")
                    : tr("Drawing a path \u00b7 Enter ends \u00b7 click the first point to close \u00b7 Backspace "
                         "takes back \u00b7 Esc cancels"),
         theme::accent(), theme::ink());
    if (!m_drawPointer) return;
    const auto at = m_camera.project(pointer ? *pointer : *m_drawPointer);
    if (!at) return;
    if (m_caught && !m_typedPointer && m_caught->kind != SnapKind::Grid) { // where it catches, and on what
        p.setPen(QPen(theme::ochre(), 1.8));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(pixel(*at), 8, 8);
        if (m_caught->kind == SnapKind::Axis && !m_pen.points.empty())
            if (const auto from = m_camera.project(m_pen.via ? *m_pen.via : m_pen.points.back().at)) {
                p.setPen(QPen(theme::ochre(), 1, Qt::DashLine));
                p.drawLine(pixel(*from), pixel(*at));
            }
    }
    QString text;
    if (!m_drawTyped.isEmpty())
        text = tr("%1 \u2014 Enter sets the point").arg(m_drawTyped);
    else {
        text = QString("%1, %2, %3")
                   .arg(lengthText(m_drawPointer->x(), unit, false), lengthText(m_drawPointer->y(), unit, false),
                        lengthText(m_drawPointer->z(), unit, false));
        if (!m_pen.points.empty()) {
            const Vec3 d = *m_drawPointer - m_pen.points.back().at;
            text += tr(" \u00b7 leg %1 at %2\u00b0")
                        .arg(lengthText(d.norm(), unit))
                        .arg(std::atan2(d.y(), d.x()) / kDegree, 0, 'f', 1);
        }
        if (preview.path && m_pen.points.size() > 1)
            text += tr(" \u00b7 path %1").arg(longLengthText(preview.path->length(), unit));
        if (m_caught && m_caught->kind != SnapKind::Grid) text += QString(" \u00b7 ") + tr(nameOf(m_caught->kind));
    }
    pill(p, pixel(*at) + QPointF(16, 16), text, theme::accent(), theme::accent());
}

void Viewport::startDrawing() {
    m_drawing = true;
    m_pen.clear();
    m_drawTyped.clear();
    m_typedPointer.reset();
    m_drawFace.reset();
    m_pickFace = false;
    m_store.select({});
    setFocus();
    setCursor(Qt::CrossCursor);
    emit drawingChanged();
    moved(true);
}

void Viewport::setPen(PenMode mode, bool freehand) {
    m_pen.mode = mode;
    m_pen.via.reset();
    m_freehand = freehand;
    emit drawingChanged();
    moved(true);
}

void Viewport::setPenRadius(double radius) {
    m_pen.radius = radius;
    emit drawingChanged();
    moved(true);
}

void Viewport::setDrawLevel(double level) {
    m_drawLevel = level;
    m_drawFace.reset();
    emit drawingChanged();
    moved(true);
}

void Viewport::pickDrawFace() {
    m_pickFace = true;
    emit drawingChanged();
    moved(true);
}

void Viewport::pickEdge() {
    if (m_drawing) cancelDrawing();
    m_pickEdge = true;
    setFocus();
    setCursor(Qt::CrossCursor);
    moved(true);
}

void Viewport::setSnap(SnapKind kind, bool on) {
    on ? void(m_snapOff.erase(kind)) : void(m_snapOff.insert(kind));
    moved(true);
}

void Viewport::finishDrawing(bool closed) {
    if (m_pen.points.size() < (closed ? 3u : 2u)) {
        emit failed(closed ? tr("A closed path needs at least three points: click one more, or press Esc to give up.")
                           : tr("A path needs at least two points: click one more, or press Esc to give up."));
        return;
    }
    PathItem item;
    item.recipe = m_pen.finished(closed);
    cancelDrawing();
    const Document d = with(m_store.document(), item);
    m_store.edit(d, tr("Draw %1").arg(d.paths.back()->name.c_str()));
    m_store.selectItem(Selection::Kind::Path, d.paths.back()->id);
}

void Viewport::cancelDrawing() {
    m_drawing = m_pickFace = false;
    m_pen.clear();
    m_trace.clear();
    m_drawTyped.clear();
    m_typedPointer.reset();
    m_drawPointer.reset();
    m_caught.reset();
    setCursor(Qt::ArrowCursor);
    emit drawingChanged();
    moved(true);
}

} // namespace vicinal
