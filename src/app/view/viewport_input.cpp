#include "app/controls/format.h"
#include "app/view/viewport.h"
#include "geometry/mesh/ray.h"
#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <cmath>

namespace vicinal {
namespace {

double distance(const QPointF& a, const Vec3& b) { return std::hypot(a.x() - b.x(), a.y() - b.y()); }

} // namespace

Vec3 Viewport::planeNormal() const {
    if (m_look == Look::Front) return -Vec3::UnitY();
    if (m_look == Look::Side) return Vec3::UnitX();
    return Vec3::UnitZ();
}

std::optional<Viewport::Handle> Viewport::handleUnder(const QPointF& at) const {
    std::optional<Handle> best;
    double nearest = 9;
    for (const Handle& h : handles()) {
        const auto p = m_camera.project(h.at);
        if (!p) continue;
        const bool inset = h.kind == Handle::Kind::InsetStart || h.kind == Handle::Kind::InsetEnd;
        const Vec3 shown = inset ? Vec3(*p + Vec3(0, 12, 0)) : *p;
        if (const double d = distance(at, shown); d < nearest) nearest = d, best = h;
    }
    return best;
}

std::optional<QPointF> Viewport::handleAt(const QString& name) const {
    for (const Handle& h : handles()) {
        if (handleName(h) != name) continue;
        const auto p = m_camera.project(h.at);
        if (!p) return std::nullopt;
        const bool inset = h.kind == Handle::Kind::InsetStart || h.kind == Handle::Kind::InsetEnd;
        return QPointF(p->x(), p->y() + (inset ? 12 : 0));
    }
    return std::nullopt;
}

std::optional<Viewport::Pick> Viewport::pickPlace(const QPointF& at, Face* face) const {
    const auto [start, direction] = m_camera.ray(at.x(), at.y());
    std::optional<Pick> best;
    double nearest = 1e300;
    struct {
        Mat3 turn;
        Vec3 a, b, c;
    } struck;
    for (const auto& run : m_store.evaluation().runs) {
        if (!run->placed) continue;
        const Placed& placed = *run->placed;
        const double slack = m_camera.scale() * 2; // thin parts can still be hit
        for (size_t i = 0; i < placed.count(); ++i) {
            const Mesh& mesh = *placed.part(i).mesh;
            const double size = placed.laid->size[i], radius = size * mesh.box.diagonal().norm() / 2 + slack;
            const Mat4 pose = placed.pose(i);
            const Vec3 centre = mesh.box.center(), middle = (pose * centre.homogeneous()).head<3>();
            const Vec3 to = middle - start;
            const double along = to.dot(direction);
            if ((to - along * direction).squaredNorm() > radius * radius) continue;
            const Mat3 R = pose.topLeftCorner<3, 3>() / size;
            const Vec3 s = R.transpose() * (start - middle) / size + centre, d = R.transpose() * direction;
            auto x = hitMesh(mesh, s, d, m_camera.parallel ? -1e300 : 0);
            if (x) x->distance *= size;
            if (!x || x->distance >= nearest) continue;
            const auto& t = mesh.triangles[x->triangle];
            nearest = x->distance;
            best = Pick{run->item->id, int(i)};
            struck = {R, mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]};
        }
    }
    if (face && best) {
        face->at = start + nearest * direction;
        face->normal = (struck.turn * (struck.b - struck.a).cross(struck.c - struck.a)).normalized();
    }
    return best;
}

double Viewport::stationUnder(const QPointF& at, const Path& path, double* away) const {
    const int n = 600;
    double best = 1e300, station = 0;
    std::optional<Vec3> before;
    for (int i = 0; i <= n; ++i) {
        const double s = path.length() * i / n;
        const auto p = m_camera.project(path.at(s).point);
        if (p && before) {
            const Vec2 a = before->head<2>(), ab = p->head<2>() - a, ap = Vec2(at.x(), at.y()) - a;
            const double t = ab.squaredNorm() > 0 ? std::clamp(ap.dot(ab) / ab.squaredNorm(), 0.0, 1.0) : 0;
            if (const double d = (ap - t * ab).norm(); d < best) best = d, station = path.length() * (i - 1 + t) / n;
        }
        before = p;
    }
    if (away) *away = best;
    return station;
}

void Viewport::clickPlace(const Pick& pick, Qt::KeyboardModifiers keys) {
    Selection s = m_store.selection();
    const bool same = s.kind == Selection::Kind::Run && s.id == pick.run;
    if (!same) s = {Selection::Kind::Run, pick.run, {}, -1, {}};
    if (same && (keys & Qt::ControlModifier)) {
        if (!s.places.erase(pick.place)) s.places.insert(pick.place);
    } else if (same && (keys & Qt::ShiftModifier) && !s.places.empty()) {
        const int from = std::min(*s.places.begin(), pick.place), to = std::max(*s.places.rbegin(), pick.place);
        for (int i = from; i <= to; ++i) s.places.insert(i);
    } else {
        s.places = {pick.place};
    }
    s.point = -1;
    m_store.select(s);
}

void Viewport::mousePressEvent(QMouseEvent* e) {
    setFocus();
    m_pressed = m_last = e->position();
    m_dragged = false;
    m_typed.clear();
    if (e->button() == Qt::MiddleButton || (e->button() == Qt::LeftButton && (e->modifiers() & Qt::AltModifier))) {
        m_action = Action::Pan;
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    if (m_drawing) return drawPress(e);
    if (const auto h = handleUnder(e->position())) {
        m_action = Action::Handle;
        m_handle = *h;
        m_handleStart = h->at;
        ++m_dragNumber;
        m_stepAtPress = m_store.history().index();
        m_mayGuide = !(e->modifiers() & Qt::ControlModifier); // with the click it adds to the selection
        m_guide.reset();
        m_guideTangent.setZero();
        if (const auto path = m_store.currentPath(); path && path->path)
            m_guideTangent = path->path->at(path->path->closest(m_handleStart)).tangent;
        beginMove();
        if (h->kind == Handle::Kind::Point || h->kind == Handle::Kind::Wheel) {
            Selection s = m_store.selection();
            if (e->modifiers() & Qt::ControlModifier) { // several at once
                if (s.point >= 0 && s.point != h->index) s.points.insert(s.point);
                s.points.insert(h->index);
            } else if (!s.points.count(h->index))
                s.points.clear();
            s.point = h->index;
            m_store.select(s);
        }
        return;
    }
    m_action = Action::Orbit;
    m_pivot = pivotUnder(e->position());
}

/// What the view is turned about: the point under the pointer, on a part, else on the ground near what is there.
Vec3 Viewport::pivotUnder(const QPointF& at) const {
    Face face;
    if (pickPlace(at, &face)) return face.at;
    Box3 near = contentBounds();
    if (near.isEmpty()) return m_camera.target;
    const Vec3 room = near.sizes() / 2;
    near.extend(Vec3(near.min() - room));
    near.extend(Vec3(near.max() + room));
    const auto ground = m_camera.onPlane(at.x(), at.y(), m_camera.target, Vec3::UnitZ());
    return ground && near.contains(*ground) ? *ground : m_camera.target;
}

void Viewport::mouseMoveEvent(QMouseEvent* e) {
    const QPointF at = e->position(), step = at - m_last;
    m_last = at;
    if (m_drawing && drawMove(at, e->modifiers(), e->buttons())) return;
    if (m_action != Action::None && (at - m_pressed).manhattanLength() > 3) m_dragged = true;
    switch (m_action) {
    case Action::Orbit:
        if (!m_dragged) return;
        if (m_look != Look::Free) { // a drawing view is moved, not turned
            m_camera.pan(step.x(), step.y());
        } else {
            m_camera.orbitAbout(m_pivot, step.x(), step.y());
        }
        m_gridDirty = true;
        moved();
        return;
    case Action::Pan:
        m_camera.pan(step.x(), step.y());
        m_gridDirty = true;
        moved();
        return;
    case Action::Handle:
        if (m_dragged && m_typed.isEmpty())
            dragTo(at, e->modifiers() | (m_ctrl ? Qt::ControlModifier : Qt::NoModifier));
        return;
    case Action::None:
    case Action::Stroke:
    case Action::Pull: break;
    }
    const auto hover = m_drawing ? std::nullopt : handleUnder(at);
    if (hover != m_hover || m_drawing) {
        m_hover = hover;
        setCursor(m_drawing ? Qt::CrossCursor : hover ? Qt::SizeAllCursor : Qt::ArrowCursor);
        m_overlay->update();
    }
}

/// Lines a point can be dragged along: the axes, the way the path runs there, and across it.
std::vector<Viewport::Guide> Viewport::guides() const {
    std::vector<Guide> out{{Vec3::UnitX(), tr("x")}, {Vec3::UnitY(), tr("y")}, {Vec3::UnitZ(), tr("z")}};
    const auto path = m_store.currentPath();
    if (!m_guideTangent.isZero() && path) {
        out.push_back({m_guideTangent, tr("along the path")});
        const Vec3 across = Vec3::UnitZ().cross(m_guideTangent);
        if (across.norm() > 1e-6) out.push_back({across.normalized(), tr("across the path")});
    }
    return out;
}

/// Of those the one nearest to the pointer, as it is seen; one that is seen end on cannot be meant.
std::optional<Viewport::Guide> Viewport::guideUnder(const QPointF& at) const {
    const auto from = m_camera.project(m_handleStart);
    if (!from) return std::nullopt;
    const Vec2 pull(at.x() - from->x(), at.y() - from->y());
    std::optional<Guide> best;
    double most = -1;
    for (const Guide& g : guides()) {
        const auto to = m_camera.project(m_handleStart + 100 * m_camera.scale() * g.direction);
        if (!to) continue;
        const Vec2 seen = to->head<2>() - from->head<2>();
        if (seen.norm() < 15) continue;
        // The axes come first: of two that look the same the pointer cannot choose.
        if (const double nearness = std::abs(pull.dot(seen)) / seen.norm(); nearness > most + 1e-6)
            most = nearness, best = g;
    }
    return best;
}

/// How far along a guide the pointer is: where its line comes nearest to the ray, mm.
double Viewport::along(const Guide& g, const QPointF& at) const {
    const auto [start, ray] = m_camera.ray(at.x(), at.y());
    const Vec3 w = m_handleStart - start;
    const double b = g.direction.dot(ray), denominator = 1 - b * b;
    return denominator < 1e-9 ? 0 : (b * ray.dot(w) - g.direction.dot(w)) / denominator;
}

void Viewport::dragTo(const QPointF& at, Qt::KeyboardModifiers keys) {
    const QString merge = QString("drag %1").arg(m_dragNumber);
    if (m_handle.kind != Handle::Kind::InsetStart && m_handle.kind != Handle::Kind::InsetEnd) {
        const Vec3 n = dragNormal();
        const bool upright = m_look == Look::Free && (keys & Qt::ShiftModifier) && m_handle.kind != Handle::Kind::Wheel;
        std::optional<Vec3> to;
        if (upright) { // up and down
            Vec3 back = m_camera.back();
            back.z() = 0;
            if (back.norm() > 1e-3)
                if (const auto p = m_camera.onPlane(at.x(), at.y(), m_handleStart, back.normalized()))
                    to = Vec3(m_handleStart.x(), m_handleStart.y(), p->z());
        } else {
            to = m_camera.onPlane(at.x(), at.y(), m_handleStart, n);
        }
        if (!to) return;
        const double round =
            std::pow(10, std::floor(std::log10(std::max(m_camera.scale(), 1e-3)))); // whole values, as fine as a pixel
        const Vec3 target = (*to / round).array().round() * round;
        Vec3 kept = upright ? Vec3(m_handleStart.x(), m_handleStart.y(), target.z())
                            : Vec3(target - n * target.dot(n) + n * m_handleStart.dot(n));
        m_guide.reset();
        if (m_mayGuide && (keys & Qt::ControlModifier)) m_guide = guideUnder(at);
        if (m_guide) kept = m_handleStart + std::round(along(*m_guide, at) / round) * round * m_guide->direction;
        moveHandle(kept);
        return;
    }
    const auto run = m_store.currentRun();
    if (!run || !run->path || !run->path->path) return;
    const Path& path = *run->path->path;
    const bool start = m_handle.kind == Handle::Kind::InsetStart;
    const double s = stationUnder(at - QPointF(0, 12), path);
    const double round = std::pow(10, std::floor(std::log10(std::max(m_camera.scale(), 1e-3))));
    const Spacing& now = run->item->spacing;
    // The two insets never pass each other: dragging stops where a millimetre is left.
    const double room = path.length() - (start ? now.insetEnd : now.insetStart) - 1;
    const double inset =
        std::clamp(std::round((start ? s : path.length() - s) / round) * round, 0.0, std::max(0.0, room));
    m_store.changeRun(run->item->id, start ? tr("Inset at start") : tr("Inset at end"), merge,
                      [&](RunItem& r) { (start ? r.spacing.insetStart : r.spacing.insetEnd) = inset; });
}

/// What was typed during a drag, applied instead of the pointer's place.
void Viewport::applyTyped() {
    const Unit unit = m_store.document().unit;
    const QString merge = QString("drag %1").arg(m_dragNumber);
    if (m_handle.kind != Handle::Kind::InsetStart && m_handle.kind != Handle::Kind::InsetEnd) {
        const auto to = parsePoint(m_typed, unit, m_handleStart);
        if (!to) return emit failed(QString::fromStdString(to.problem().text));
        moveHandle(*to);
    } else if (const auto run = m_store.currentRun()) {
        const auto v = parseLength(m_typed.toStdString(), unit);
        if (!v) return emit failed(QString::fromStdString(v.problem().text));
        const bool start = m_handle.kind == Handle::Kind::InsetStart;
        m_store.changeRun(run->item->id, start ? tr("Inset at start") : tr("Inset at end"), merge,
                          [&](RunItem& r) { (start ? r.spacing.insetStart : r.spacing.insetEnd) = *v; });
    }
    endDrag();
}

void Viewport::endDrag() {
    m_action = Action::None;
    m_ctrl = false;
    m_guide.reset();
    m_recipeStart.reset();
    m_typed.clear();
    m_store.seal();
    moved(true);
}

void Viewport::mouseReleaseEvent(QMouseEvent* e) {
    const Action action = m_action;
    if (m_drawing && e->button() == Qt::LeftButton &&
        (action == Action::None || action == Action::Stroke || action == Action::Pull))
        return drawRelease(e);
    if (action == Action::Handle) return endDrag();
    m_action = Action::None;
    if (action != Action::None) moved(true);
    if (e->button() != Qt::LeftButton || m_dragged) return;
    if (m_pickEdge) {
        Face face;
        const auto pick = pickPlace(e->position(), &face);
        if (!pick) return emit failed(tr("There is no part here. Click near an edge of one, or press Esc to give up."));
        m_pickEdge = false;
        setCursor(Qt::ArrowCursor);
        const auto run = m_store.evaluation().run(pick->run);
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
        moved(true);
        return emit edgePicked(edges);
    }
    if (const auto pick = pickPlace(e->position())) return clickPlace(*pick, e->modifiers());
    for (const auto& [id, path] : m_store.evaluation().paths) {
        double away = 1e9;
        if (!path->path) continue;
        stationUnder(e->position(), *path->path, &away);
        if (away > 6) continue;
        if (m_store.currentPath() == path) return; // already in hand: a miss of a handle is no wish to leave the run
        return m_store.selectItem(Selection::Kind::Path, id);
    }
    Selection s = m_store.selection();
    s.places.clear();
    s.point = -1;
    m_store.select(s);
}

void Viewport::insertPointAt(const QPointF& at) {
    const auto path = m_store.currentPath();
    if (!path || !path->path || !editablePoints(*path->item)) return;
    double away = 1e9;
    const double s = stationUnder(at, *path->path, &away);
    if (away > 8) return;
    const int index = int(legAt(*editablePoints(*path->item), *path->path, s)) + 1;
    const Vec3 where = path->path->at(s).point;
    m_store.changePath(path->item->id, tr("Insert point %1").arg(index + 1), {}, [&](PathItem& p) {
        auto& points = std::get<PointsRecipe>(p.recipe).points;
        const bool smooth = points[std::min<size_t>(index - 1, points.size() - 1)].smooth ||
                            points[std::min<size_t>(index, points.size() - 1)].smooth;
        points.insert(points.begin() + std::min<long>(index, long(points.size())), {where, smooth});
    });
    Selection sel = m_store.selection();
    sel.point = index;
    m_store.select(sel);
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* e) {
    if (e->button() == Qt::LeftButton && !m_drawing && !handleUnder(e->position())) insertPointAt(e->position());
}

void Viewport::wheelEvent(QWheelEvent* e) {
    m_camera.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x(), e->position().y());
    m_gridDirty = true;
    moved();
}

void Viewport::leaveEvent(QEvent*) {
    m_hover.reset();
    m_drawPointer.reset();
    m_overlay->update();
}

bool Viewport::event(QEvent* e) {
    // Keys that menus would take while a value is typed or a path drawn belong to the view.
    if (e->type() == QEvent::ShortcutOverride && (m_drawing || m_action == Action::Handle)) {
        const auto* key = static_cast<QKeyEvent*>(e);
        if (!(key->modifiers() & (Qt::ControlModifier | Qt::MetaModifier))) {
            e->accept();
            return true;
        }
    }
    return QWidget::event(e);
}

void Viewport::keyPressEvent(QKeyEvent* e) {
    const QString typed = e->text();
    const bool printable = !typed.isEmpty() && typed[0].isPrint();
    if (m_pickEdge && e->key() == Qt::Key_Escape) {
        m_pickEdge = false;
        setCursor(Qt::ArrowCursor);
        return moved(true);
    }
    if (m_drawing) {
        if (drawKey(e)) return;
    } else if (m_action == Action::Handle) {
        if (e->key() == Qt::Key_Escape) {
            const QString merge = QString("drag %1").arg(m_dragNumber);
            // Only what this drag itself did is taken back: a value may have been typed and nothing moved yet.
            const bool changed = m_store.history().index() > m_stepAtPress;
            endDrag();
            if (changed) m_store.undo();
            return;
        }
        if (e->key() == Qt::Key_Backspace) return m_typed.chop(1), m_overlay->update();
        if (e->key() == Qt::Key_Control && m_mayGuide && m_dragged && m_typed.isEmpty() && !e->isAutoRepeat()) {
            m_ctrl = true;
            return dragTo(m_last, e->modifiers() | Qt::ControlModifier);
        }
        if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) {
            if (!m_typed.isEmpty()) applyTyped();
            return;
        }
        if (printable) {
            m_dragged = true;
            m_typed += typed;
            return m_overlay->update();
        }
    }
    QWidget::keyPressEvent(e);
}

void Viewport::keyReleaseEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Control && !e->isAutoRepeat() && m_action == Action::Handle) {
        m_ctrl = false;
        m_mayGuide = true; // let go of once: the next press is meant for the drag
        if (m_dragged && m_typed.isEmpty()) dragTo(m_last, e->modifiers() & ~Qt::ControlModifier);
    }
    QWidget::keyReleaseEvent(e);
}

void Viewport::contextMenuEvent(QContextMenuEvent* e) {
    if (m_drawing) return;
    const QPointF at = e->pos();
    QMenu menu(this);
    if (const auto h = handleUnder(at); h && h->kind == Handle::Kind::Point) {
        const auto path = m_store.currentPath();
        const auto* recipe = editablePoints(*path->item);
        const Id id = path->item->id;
        const int index = h->index;
        const bool smooth = recipe->points[index].smooth;
        menu.addAction(
            smooth ? tr("Make point %1 a corner").arg(index + 1) : tr("Make point %1 smooth").arg(index + 1), this,
            [=, this] {
                m_store.changePath(
                    id, smooth ? tr("Corner at point %1").arg(index + 1) : tr("Smooth at point %1").arg(index + 1), {},
                    [&](PathItem& p) { std::get<PointsRecipe>(p.recipe).points[index].smooth = !smooth; });
            });
        auto* remove = menu.addAction(tr("Delete point %1").arg(index + 1), this, [=, this] {
            m_store.changePath(id, tr("Delete point %1").arg(index + 1), {}, [&](PathItem& p) {
                auto& points = std::get<PointsRecipe>(p.recipe).points;
                points.erase(points.begin() + index);
            });
        });
        remove->setEnabled(recipe->points.size() > 2);
    } else if (const auto pick = pickPlace(at)) {
        const Selection& s = m_store.selection();
        if (s.kind != Selection::Kind::Run || s.id != pick->run || !s.places.count(pick->place)) clickPlace(*pick, {});
        const auto run = m_store.currentRun();
        const bool out = run->placed->leftOut(pick->place);
        menu.addAction(out ? tr("Bring back") : tr("Leave out"), this, [=, this] { m_store.setLeftOut(!out); });
        menu.addAction(tr("Go to it"), this, &Viewport::frameSelection);
    } else {
        const auto path = m_store.currentPath();
        double away = 1e9;
        const double station = path && path->path ? stationUnder(at, *path->path, &away) : 0;
        if (away < 8 && editablePoints(*path->item)) {
            menu.addAction(tr("Insert a point here"), this, [=, this] { insertPointAt(at); });
            menu.addAction(tr("Break the path here"), this, [=, this] { emit breakWanted(station); });
        }
        menu.addAction(tr("Whole site"), this, &Viewport::frameAll);
    }
    menu.exec(e->globalPos());
}

} // namespace vicinal
