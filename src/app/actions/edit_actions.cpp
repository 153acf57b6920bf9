// Steps taken back; places, points and items deleted and copied.
#include "app/actions/actions.h"
#include "app/window/main_window.h"
#include "app/yard/yard.h"
#include "geometry/wheels/wheels.h"
#include "model/document/heap.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/release.h"
#include "model/edits/yard_edits.h"
#include <QAction>
#include <QMenu>

namespace vicinal {

Menu EditActions::menu() {
    const History& h = m_store->history();
    Command undo{"undo", tr("&Undo"), tr("Take back the last step"), QKeySequence("Ctrl+Z"),
                 [this] { m_store->undo(); }};
    undo.enabled = [&h] { return h.canUndo(); };
    undo.says = [&h] { return h.canUndo() ? tr("&Undo: %1").arg(h.undoName().c_str()) : tr("&Undo"); };
    Command redo{"redo", tr("&Redo"), tr("Do the step again"), QKeySequence("Ctrl+Shift+Z"),
                 [this] { m_store->redo(); }};
    redo.enabled = [&h] { return h.canRedo(); };
    redo.says = [&h] { return h.canRedo() ? tr("&Redo: %1").arg(h.redoName().c_str()) : tr("&Redo"); };
    return {tr("&Edit"),
            {undo, redo, Menu{tr("&History"), {}, [this](QMenu& m) { fillHistory(m); }}, MenuLine{},
             Command{"delete", tr("&Delete"), tr("Leave out the selected places, or delete the selected point"),
                     QKeySequence::Delete, [this] { removeSelected(); }}}};
}

void EditActions::fillHistory(QMenu& menu) {
    menu.clear();
    const History& h = m_store->history();
    const int from = std::max(0, int(h.size()) - 30);
    for (int i = from; i < int(h.size()); ++i) {
        auto* action = menu.addAction(i == 0 ? tr("As opened") : QString(h.nameAt(size_t(i)).c_str()), this,
                                      [this, i] { m_store->goTo(i); });
        action->setCheckable(true);
        action->setChecked(size_t(i) == h.index());
    }
}

/// Delete means the smallest thing that is selected: places, then a point, then the item.
void EditActions::removeSelected() {
    const Selection s = m_store->selection();
    if (s.kind == Selection::Kind::Heap && !s.places.empty()) return removeLoose();
    if (!s.places.empty()) return vicinal::toggleLeftOut(*m_store);
    const auto path = m_store->currentPath();
    const auto* points = path ? editablePoints(*path->item) : nullptr;
    if (s.point >= 0 && points) {
        auto all = s.points;
        all.insert(s.point);
        if (points->points.size() < all.size() + 2)
            return showMessage(tr("A path keeps at least two points. Delete the path itself instead."));
        const QString name =
            all.size() > 1 ? tr("Delete %1 points").arg(all.size()) : tr("Delete point %1").arg(s.point + 1);
        m_store->change<PathItem>(path->item->id, name, {}, [&](PathItem& p) {
            auto& list = std::get<PointsRecipe>(p.recipe).points;
            for (auto it = all.rbegin(); it != all.rend(); ++it) list.erase(list.begin() + *it);
        });
        return;
    }
    if (s.point >= 0 && path && pointCount(path->item->recipe) > 0) {
        if (pointCount(path->item->recipe) <= 2) return showMessage(tr("A loop keeps at least two wheels."));
        m_store->change<PathItem>(path->item->id, tr("Remove a wheel"), {}, [&](PathItem& p) {
            auto& w = std::get<WheelShape>(std::get<ShapeRecipe>(p.recipe).shape).wheels;
            w.erase(w.begin() + s.point);
        });
        return;
    }
    if (s.kind == Selection::Kind::Body || (s.kind != Selection::Kind::None && m_window.yard().hasFocus()))
        removeItems(s.items());
}

void EditActions::removeLoose() {
    const Selection s = m_store->selection();
    const auto d = withoutLoose(m_store->document(), s.id, s.places);
    if (!d) return showMessage(m_store->say(d.problem().text));
    m_store->edit(*d, tr("Delete %n loose part(s)", nullptr, int(s.places.size())));
}

void EditActions::removeItems(const std::set<Id>& ids) {
    const Document d = m_store->document();
    QStringList names, users;
    for (Id id : ids) {
        names += QString::fromStdString(nameOf(d, id));
        for (const auto& u : usersOf(d, id)) {
            const QString user = QString::fromStdString(u);
            const bool goes = std::any_of(ids.begin(), ids.end(), [&](Id other) { return nameOf(d, other) == u; });
            if (!goes && !users.contains(user)) users += user;
        }
    }
    if (ids.empty()) return;
    const QString what = names.size() == 1 ? names[0] : tr("%n items", nullptr, int(names.size()));
    const size_t step = m_store->history().index();
    m_store->edit(withoutAll(d, ids), tr("Delete %1").arg(what));
    if (m_store->history().index() == step || users.empty()) return; // something is locked
    showMessage(tr("%1 was used by %2: shown in grey until another is chosen. Undo brings it back.")
                    .arg(what, users.join(", ")));
}

void EditActions::copyItems(const std::set<Id>& ids) {
    std::vector<Id> made;
    Document d = copied(m_store->document(), ids, &made);
    if (made.empty()) return;
    const Id first = made.front();
    Selection s;
    s.kind = d.run(first)    ? Selection::Kind::Run
             : d.heap(first) ? Selection::Kind::Heap
             : d.body(first) ? Selection::Kind::Body
             : d.path(first) ? Selection::Kind::Path
                             : Selection::Kind::Part;
    s.id = first;
    s.also = {made.begin() + 1, made.end()};
    m_store->edit(std::move(d), made.size() == 1 ? tr("Make a copy") : tr("Make %n copies", nullptr, int(made.size())));
    m_store->select(s);
}

} // namespace vicinal
