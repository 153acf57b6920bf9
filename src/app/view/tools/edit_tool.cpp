#include "app/view/tools/edit_tool.h"
#include "app/dialogs/profile_keys.h"
#include "app/view/pick.h"
#include "app/view/toolbox.h"
#include "app/view/view_scene.h"
#include "model/document/path_item.h"
#include "model/edits/crossing_edits.h"
#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <cmath>

namespace vicinal {

EditTool::EditTool(Viewport& view) : m_view(view), m_store(view.store()) {}

/// Where a handle is drawn, given where its point is: insets hang under the path, keys stand on stalks above it.
QPointF EditTool::shown(const Handle& h, const Vec3& pixel) const {
    double down = h.inset() ? 12 : 0;
    if (h.kind == Handle::Kind::Key) down = -26 - 18 * h.lane;
    return {pixel.x(), pixel.y() + down};
}

std::optional<Handle> EditTool::handleUnder(const QPointF& at) const {
    std::optional<Handle> best;
    double nearest = 9;
    for (const Handle& h : handlesOf(m_store)) {
        const auto p = m_view.camera().project(h.at);
        if (!p) continue;
        const QPointF away = at - shown(h, *p);
        if (const double d = std::hypot(away.x(), away.y()); d < nearest) nearest = d, best = h;
    }
    return best;
}

std::optional<QPointF> EditTool::handleAt(const QString& name) const {
    for (const Handle& h : handlesOf(m_store)) {
        if (nameOf(h) != name) continue;
        const auto p = m_view.camera().project(h.at);
        return p ? std::optional(shown(h, *p)) : std::nullopt;
    }
    return std::nullopt;
}

void EditTool::clickPlace(const Pick& pick, Qt::KeyboardModifiers keys) {
    Selection s = m_store.selection();
    if (m_store.document().body(pick.run)) {
        if (!(keys & Qt::ControlModifier)) return m_store.selectItem(Selection::Kind::Body, pick.run);
        Selection all = m_store.selection(); // with the other items
        if (all.kind == Selection::Kind::None) all.kind = Selection::Kind::Body, all.id = pick.run;
        if (all.id != pick.run && !all.also.erase(pick.run)) all.also.insert(pick.run);
        return m_store.select(all);
    }
    const auto kind = m_store.document().heap(pick.run) ? Selection::Kind::Heap : Selection::Kind::Run;
    const bool same = s.kind == kind && s.id == pick.run;
    if (!same) s = {kind, pick.run, {}, -1, {}};
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

bool EditTool::press(QMouseEvent* e) {
    const auto h = handleUnder(e->position());
    if (!h) return false;
    const bool several = e->modifiers() & Qt::ControlModifier;
    m_last = m_first = e->position();
    m_typed.clear();
    m_moved = false;
    m_mayGuide = !several; // with the click it adds to the selection
    m_guide.reset();
    m_drag.emplace(m_store, *h, QString("drag %1").arg(++m_number));
    if (h->kind == Handle::Kind::Point || h->kind == Handle::Kind::Wheel) {
        Selection s = m_store.selection();
        if (several) {
            if (s.point >= 0 && s.point != h->index) s.points.insert(s.point);
            s.points.insert(h->index);
        } else if (!s.points.count(h->index)) {
            s.points.clear();
        }
        s.point = h->index;
        m_store.select(s);
    }
    return true;
}

void EditTool::move(QMouseEvent* e) {
    m_last = e->position();
    if (m_drag) {
        if (m_view.tools().dragged()) m_moved = true;
        if (m_moved && m_typed.isEmpty())
            dragTo(m_last, e->modifiers() | (m_ctrl ? Qt::ControlModifier : Qt::NoModifier));
        return;
    }
    const auto hover = handleUnder(m_last);
    if (hover == m_hover) return;
    m_hover = hover;
    m_view.repaintOverlay();
}

void EditTool::release(QMouseEvent*) {
    if (m_drag) endDrag();
}

/// The crossing of the path in hand whose mark is there; -1: none.
int EditTool::crossingUnder(const QPointF& at) const {
    const auto path = m_store.currentPath();
    for (size_t i = 0; path && i < path->crossings.size(); ++i)
        if (const auto p = m_view.camera().project(path->crossings[i].at))
            if (std::hypot(at.x() - p->x(), at.y() - p->y()) <= 9) return int(i);
    return -1;
}

void EditTool::click(QMouseEvent* e) {
    if (const int k = crossingUnder(e->position()); k >= 0)
        return m_store.edit(withCrossingSwitched(m_store.document(), m_store.currentPath()->item->id, k + 1),
                            tr("Switch crossing %1").arg(k + 1));
    if (const auto pick = pickPlace(m_view, e->position())) return clickPlace(*pick, e->modifiers());
    for (const auto& [id, path] : m_store.evaluation().paths) {
        double away = 1e9;
        if (!path->path || hides(m_view.store(), *path)) continue;
        stationUnder(m_view.camera(), e->position(), *path->path, &away);
        if (away > 6) continue;
        if (m_store.currentPath() == path) return; // already in hand: a miss of a handle is no wish to leave the run
        return m_store.selectItem(Selection::Kind::Path, id);
    }
    Selection s = m_store.selection();
    s.places.clear();
    s.point = -1;
    m_store.select(s);
}

bool EditTool::doubleClick(QMouseEvent* e) {
    const auto h = handleUnder(e->position());
    if (!h) return insertPointAt(e->position());
    if (h->kind != Handle::Kind::Key) return false;
    if (const auto run = m_store.currentRun())
        profile_keys::type(&m_view, m_store, *run, kProfiles[h->index], size_t(h->key));
    return true;
}

void EditTool::keyMenu(QMenu& menu, const Handle& h) {
    const auto run = m_store.currentRun();
    if (!run) return;
    const std::string profile = kProfiles[h.index];
    menu.addAction(tr("Type this key\u2026"), &m_view,
                   [=, this] { profile_keys::type(&m_view, m_store, *run, profile, size_t(h.key)); });
    menu.addAction(tr("Delete this key"), &m_view,
                   [=, this] { profile_keys::remove(m_store, *run, profile, size_t(h.key)); })
        ->setObjectName("key.delete");
}

/// A key where the pointer is, of any profile the run can have.
void EditTool::setKeyMenu(QMenu& menu, double station) {
    const auto run = m_store.currentRun();
    if (!run || !run->path || !run->path->path) return;
    auto* set = menu.addMenu(tr("Set a key here"));
    const Path& path = *run->path->path;
    for (const char* profile : kProfiles) {
        const Profile* now = profileOf(*run->item, profile);
        if (!now) continue;
        const double value = ProfileCurve(*now, path.length(), path.closed(), otherwiseOf(profile)).at(station);
        set->addAction(profile_keys::title(profile), &m_view, [=, this] {
            profile_keys::change(m_store, *run, profile, tr("Set a key"), {},
                                 [&](Profile& p, double L) { addKey(p, station, value, L); });
        });
    }
}

bool EditTool::insertPointAt(const QPointF& at) {
    const auto path = m_store.currentPath();
    if (!path || !path->path || !editablePoints(*path->item)) return false;
    double away = 1e9;
    const double s = stationUnder(m_view.camera(), at, *path->path, &away);
    if (away > 8) return false;
    const int index = int(legAt(*editablePoints(*path->item), *path->path, s)) + 1;
    const Vec3 where = path->path->at(s).point;
    m_store.change<PathItem>(path->item->id, tr("Insert point %1").arg(index + 1), {}, [&](PathItem& p) {
        auto& points = std::get<PointsRecipe>(p.recipe).points;
        const bool smooth = points[std::min<size_t>(index - 1, points.size() - 1)].smooth ||
                            points[std::min<size_t>(index, points.size() - 1)].smooth;
        points.insert(points.begin() + std::min<long>(index, long(points.size())), {where, smooth});
    });
    Selection sel = m_store.selection();
    sel.point = index;
    m_store.select(sel);
    return true;
}

void EditTool::menu(QContextMenuEvent* e) {
    const QPointF at = e->pos();
    QMenu menu(&m_view);
    if (const auto h = handleUnder(at); h && h->kind == Handle::Kind::Key) {
        keyMenu(menu, *h);
    } else if (h && h->kind == Handle::Kind::Point) {
        const auto path = m_store.currentPath();
        const auto* recipe = editablePoints(*path->item);
        const Id id = path->item->id;
        const int index = h->index;
        const bool smooth = recipe->points[index].smooth;
        menu.addAction(
            smooth ? tr("Make point %1 a corner").arg(index + 1) : tr("Make point %1 smooth").arg(index + 1), &m_view,
            [=, this] {
                m_store.change<PathItem>(
                    id, smooth ? tr("Corner at point %1").arg(index + 1) : tr("Smooth at point %1").arg(index + 1), {},
                    [&](PathItem& p) { std::get<PointsRecipe>(p.recipe).points[index].smooth = !smooth; });
            });
        auto* remove = menu.addAction(tr("Delete point %1").arg(index + 1), &m_view, [=, this] {
            m_store.change<PathItem>(id, tr("Delete point %1").arg(index + 1), {}, [&](PathItem& p) {
                auto& points = std::get<PointsRecipe>(p.recipe).points;
                points.erase(points.begin() + index);
            });
        });
        remove->setEnabled(recipe->points.size() > 2);
    } else if (const auto pick = pickPlace(m_view, at)) {
        const Selection& s = m_store.selection();
        if (m_store.document().body(pick->run)) {
            if (s.id != pick->run) clickPlace(*pick, {});
            menu.addAction(tr("Go to it"), &m_view, &Viewport::frameSelection);
            menu.addAction(tr("Delete"), &m_view, [this] { emit m_view.removeWanted(); });
            menu.exec(e->globalPos());
            return;
        }
        if (s.id != pick->run || !s.places.count(pick->place)) clickPlace(*pick, {});
        if (heapInHand(m_store)) {
            menu.addAction(tr("Delete what is selected"), &m_view, [this] { emit m_view.removeWanted(); });
            menu.addAction(tr("Go to it"), &m_view, &Viewport::frameSelection);
            menu.exec(e->globalPos());
            return;
        }
        const auto run = m_store.currentRun();
        const bool out = run->placed->leftOut(pick->place);
        menu.addAction(out ? tr("Bring back") : tr("Leave out"), &m_view, [=, this] { setLeftOut(m_store, !out); });
        menu.addAction(tr("Go to it"), &m_view, &Viewport::frameSelection);
        setKeyMenu(menu, run->placed->stations()[size_t(run->placed->laid->original(size_t(pick->place)))]);
    } else {
        const auto path = m_store.currentPath();
        double away = 1e9;
        const double station = path && path->path ? stationUnder(m_view.camera(), at, *path->path, &away) : 0;
        if (away < 8 && editablePoints(*path->item)) {
            menu.addAction(tr("Insert a point here"), &m_view, [=, this] { insertPointAt(at); });
            menu.addAction(tr("Break the path here"), &m_view, [=, this] { emit m_view.breakWanted(station); });
        }
        if (away < 8) setKeyMenu(menu, station);
        menu.addAction(tr("Whole site"), &m_view, &Viewport::frameAll);
    }
    menu.exec(e->globalPos());
}

} // namespace vicinal
