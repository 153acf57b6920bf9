// The strip's menus: lanes and their profiles, the stretch, places.
#include "app/dialogs/profile_keys.h"
#include "app/strip/strip.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include <QContextMenuEvent>
#include <QInputDialog>
#include <QMenu>
#include <cmath>

namespace vicinal {

/// What can be done with a lane, and with the profile in it.
void Strip::laneMenu(QMenu& menu, const Lane& l, const QPointF& at) {
    const auto run = this->run();
    if (l.kind == Lane::Changes && run) {
        const auto shown = profileLane(l);
        const Profile profile = *profileOf(*run->item, l.profile);
        const int key = shown ? shown->keyAt(m_map, at) : -1;
        if (key >= 0) {
            menu.addAction(tr("Type this key\u2026"), this,
                           [=, this] { profile_keys::type(this, m_store, *run, l.profile, size_t(key)); });
            menu.addAction(tr("Delete this key"), this,
                           [=, this] { profile_keys::remove(m_store, *run, l.profile, size_t(key)); })
                ->setObjectName("key.delete");
        } else if (shown && at.x() > kLabels) {
            const double station = std::clamp(m_map.station(at.x()), 0.0, m_map.length);
            const double value = shown->valueOf(station);
            menu.addAction(tr("Set a key here"), this, [=, this] {
                changeProfile(l.profile, tr("Set a key"), {},
                              [&](Profile& p, double L) { addKey(p, station, value, L); });
            });
        }
        auto* smooth = menu.addAction(tr("Smooth between keys"), this, [=, this](bool on) {
            changeProfile(l.profile, on ? tr("Smooth") : tr("Straight"), {},
                          [&](Profile& p, double) { p.smooth = on; });
        });
        smooth->setCheckable(true);
        smooth->setChecked(profile.smooth);
        auto* stretch = menu.addAction(tr("Keys stretch with the path"), this, [=, this](bool on) {
            changeProfile(l.profile, tr("How keys follow the path"), {},
                          [&](Profile& p, double L) { setStretching(p, on, L); });
        });
        stretch->setCheckable(true);
        stretch->setChecked(profile.stretches);
        menu.addAction(tr("Shift all keys\u2026"), this, [=, this] {
            bool ok = false;
            const QString text = QInputDialog::getText(
                this, tr("Shift all keys"), tr("By (below zero: towards the start)"), QLineEdit::Normal, "0", &ok);
            const auto by = parseLength(text.toStdString(), m_store.document().unit);
            if (ok && by)
                changeProfile(l.profile, tr("Shift all keys"), {}, [&](Profile& p, double L) { shiftKeys(p, *by, L); });
        });
        auto* copy = menu.addMenu(tr("Copy to"));
        for (const auto& other : m_store.document().runs) {
            if (other->id == run->item->id || !profileOf(*other, l.profile)) continue;
            copy->addAction(other->name.c_str(), this, [=, this, id = other->id] {
                m_store.changeRun(id, tr("Copy %1").arg(laneName(l)), {},
                                  [&](RunItem& r) { *profileOf(r, l.profile) = profile; });
            });
        }
        copy->setEnabled(!copy->isEmpty());
        menu.addAction(tr("Delete all keys"), this,
                       [=, this] {
                           changeProfile(l.profile, tr("Delete all keys"), {},
                                         [&](Profile& p, double) { p.keys.clear(); });
                       })
            ->setEnabled(!profile.empty() && l.profile != "pitches");
        menu.addSeparator();
    }
    if (l.kind == Lane::Station) return;
    menu.addAction(tr("Lane up"), this, [=, this] { moveLane(l, -1); });
    menu.addAction(tr("Lane down"), this, [=, this] { moveLane(l, 1); });
    menu.addAction(tr("Hide this lane"), this, [=, this] { hideLane(l, true); });
}

/// A stretch of the path, set from where the pointer is.
void Strip::stretchMenu(QMenu& menu, const QPointF& at) {
    const auto run = this->run();
    const auto on = path();
    if (!run || !on) return;
    const Spacing s = run->item->spacing;
    const double here = std::clamp(caught(at.x()), 0.0, m_map.length);
    menu.addAction(tr("The stretch starts here"), this,
                   [=, this] { setStretch(tr("Stretch starts"), {}, here, s.to); });
    menu.addAction(tr("The stretch ends here"), this, [=, this] { setStretch(tr("Stretch ends"), {}, s.from, here); });
    const auto& corners = on->corners();
    if (!corners.empty()) {
        const double spot = m_map.station(at.x());
        std::optional<double> before, behind;
        for (const Corner& c : corners) {
            if (c.station <= spot) before = c.station;
            if (c.station > spot && !behind) behind = c.station;
        }
        if (on->closed()) { // round again
            if (!before) before = corners.back().station;
            if (!behind) behind = corners.front().station;
        }
        menu.addAction(tr("From corner to corner"), this,
                       [=, this] { setStretch(tr("From corner to corner"), {}, before, behind); })
            ->setEnabled(!on->closed() || corners.size() > 1);
    }
    if (s.from || s.to)
        menu.addAction(tr("No stretch: the whole path"), this,
                       [=, this] { setStretch(tr("The whole path"), {}, {}, {}); });
    menu.addSeparator();
}

void Strip::placeMenu(QMenu& menu, const QPointF& at) {
    const auto run = this->run();
    const int place = placeAt(m_map, *run->placed, at.x(), 6);
    if (place >= 0 && !m_store.selection().places.count(place))
        m_store.select({Selection::Kind::Run, run->item->id, {place}, -1, {}});
    if (m_store.selection().places.empty()) return;
    const int first = place >= 0 ? place : *m_store.selection().places.begin();
    const bool out = run->placed->leftOut(size_t(first));
    menu.addAction(out ? tr("Bring back") : tr("Leave out"), this, [this, out] { m_store.setLeftOut(!out); });
    menu.addAction(tr("Go to it"), this, &Strip::showSelection);
    menu.addAction(tr("Emphasise here"), this,
                   [=, this] { // larger at this place, over a few neighbours
                       const double station = run->placed->stations()[size_t(first)],
                                    width = 6 * run->placed->laid->pitch;
                       const bool closed = run->placed->path.closed();
                       changeProfile("size", tr("Emphasise place %1").arg(first + 1), {},
                                     [&](Profile& p, double L) { emphasise(p, station, width, 1.5, L, closed, 1); });
                   })
        ->setObjectName("place.emphasise");
    menu.addSeparator();
}

void Strip::contextMenuEvent(QContextMenuEvent* e) {
    const auto run = this->run();
    const QPointF at = e->pos();
    const auto l = laneAt(at.y());
    QMenu menu(this);
    if (run && run->placed && !run->stale() && l && (l->kind == Lane::Places || l->kind == Lane::Gaps) &&
        at.x() > kLabels)
        placeMenu(menu, at);
    if (l && at.x() > kLabels && (l->kind == Lane::Places || l->kind == Lane::Station)) stretchMenu(menu, at);
    if (l && !m_folded) laneMenu(menu, *l, at);
    if (run && !m_folded) {
        auto* add = menu.addMenu(tr("Show a lane"));
        const auto offer = [&](const Lane& lane) {
            if (std::find(m_lanes.begin(), m_lanes.end(), lane) != m_lanes.end()) return;
            add->addAction(laneName(lane), this,
                           [=, this] { lane.kind == Lane::Changes ? addLane(lane.profile) : hideLane(lane, false); })
                ->setObjectName("lane." + laneName(lane));
        };
        for (auto kind : {Lane::Places, Lane::Gaps, Lane::Tightness}) offer({kind, {}});
        if (run->placed && !run->placed->laid->bays.empty()) offer({Lane::Bays, {}});
        for (const char* name : kProfiles)
            if (profileOf(*run->item, name)) offer({Lane::Changes, name});
        add->setEnabled(!add->isEmpty());
    }
    menu.addAction(tr("Show the whole path"), this, [this] { m_map.showAll(), update(); });
    menu.exec(e->globalPos());
}

} // namespace vicinal
