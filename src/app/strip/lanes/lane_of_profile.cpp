// One profile of the run that is shown, with its keys: dragged, typed, set and deleted.
#include "app/controls/format.h"
#include "app/dialogs/profile_keys.h"
#include "app/strip/lanes/lane.h"
#include "app/strip/lanes/profile_lane.h"
#include "layout/along/changes.h"
#include "layout/along/typed.h"
#include "model/document/run_item.h"
#include <QGuiApplication>
#include <QInputDialog>
#include <QLineEdit>
#include <QMenu>
#include <cmath>

namespace vicinal {
namespace {

class LaneOfProfile final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return profile_keys::title(id.of); }
    double height() const override { return 56; }
    bool wanted() const override {
        const Profile* p = profile();
        return p && !p->empty();
    }
    void prepare() override { m_drawn = drawn(); }
    void paint(QPainter& p) const override {
        if (m_drawn) m_drawn->paint(p, m_map, m_key ? int(*m_key) : -1);
    }
    QString tip(const QPointF&, const QString& usual) const override;
    Qt::CursorShape cursor(const QPointF& at) const override {
        return keyAt(at) >= 0 ? Qt::SizeAllCursor : Qt::ArrowCursor;
    }
    bool grab(const QPointF&) override;
    void drag(const QPointF&) override;
    void drop(const QPointF&, bool, Qt::KeyboardModifiers) override { m_range.reset(); }
    bool twice(const QPointF&) override;
    void menu(QMenu&, const QPointF&) override;

private:
    const Profile* profile() const {
        const auto run = m_scene.run();
        return run ? profileOf(*run->item, id.of) : nullptr;
    }
    /// As it is now; nothing when the run has none of that name.
    std::optional<ProfileLane> drawn() const {
        const auto on = m_scene.path();
        const Profile* p = profile();
        if (!p || !on || rect.isEmpty()) return std::nullopt;
        return ProfileLane(*p, id.of, rect, on->length(), on->closed(), m_scene.unit(), m_range);
    }
    int keyAt(const QPointF& at) const { return m_drawn ? m_drawn->keyAt(m_map, at) : -1; }

    std::optional<ProfileLane> m_drawn;
    std::optional<size_t> m_key;                      ///< dragged, or dragged last
    std::optional<std::pair<double, double>> m_range; ///< of the lane while a key is dragged
};

bool LaneOfProfile::grab(const QPointF& at) {
    m_key.reset();
    m_range.reset();
    const int key = keyAt(at);
    if (key < 0) return false;
    m_key = size_t(key);
    m_range = m_drawn->range();
    return true;
}

/// A key follows the pointer: by whole numbers as fine as a pixel; Shift keeps its station, Ctrl its value.
void LaneOfProfile::drag(const QPointF& at) {
    const auto shown = drawn();
    const Profile* now = profile();
    if (!shown || !now || !m_key || *m_key >= now->keys.size()) return;
    const auto keys = QGuiApplication::keyboardModifiers();
    const double length = m_scene.path()->length(), was = stationOf(*now, *m_key, length), round = m_scene.round();
    const double station = keys & Qt::ShiftModifier ? was : std::round(m_map.station(at.x()) / round) * round;
    const double value = keys & Qt::ControlModifier ? now->keys[*m_key].value : shown->rounded(shown->valueAt(at.y()));
    m_scene.changeProfile(id.of, tr("Move a key"), QString("key %1").arg(m_scene.drags),
                          [&, which = *m_key](Profile& p, double L) { moveKey(p, which, station, value, L); });
    m_scene.tell(at, tr("%1 at %2").arg(shown->text(value), lengthText(station, m_scene.unit())));
}

bool LaneOfProfile::twice(const QPointF& at) {
    const auto shown = drawn();
    if (!shown || at.x() < StripScene::kLabels) return false;
    if (const int key = shown->keyAt(m_map, at); key >= 0) {
        if (const auto run = m_scene.run())
            profile_keys::type(&m_scene.widget, m_scene.store, *run, id.of, size_t(key));
        return true;
    }
    const double round = m_scene.round();
    const double station = std::clamp(std::round(m_map.station(at.x()) / round) * round, 0.0, m_map.length);
    const double value = shown->rounded(shown->valueAt(at.y()));
    m_scene.changeProfile(id.of, tr("Set a key"), {}, [&](Profile& p, double L) { addKey(p, station, value, L); });
    return true;
}

QString LaneOfProfile::tip(const QPointF& at, const QString&) const {
    const QString text =
        tr("Double-click sets a key, or types the one under the pointer; drag a key (Shift keeps its station, "
           "Ctrl its value); right-click for more.");
    if (!m_drawn || at.x() <= StripScene::kLabels) return text;
    const double s = m_scene.clamped(at.x());
    return tr("%1 at %2").arg(m_drawn->text(m_drawn->valueOf(s)), lengthText(s, m_scene.unit())) + "\n" + text;
}

void LaneOfProfile::menu(QMenu& menu, const QPointF& at) {
    const auto run = m_scene.run();
    if (!run || !profile()) return;
    const auto shown = drawn();
    const Profile profile = *profileOf(*run->item, id.of);
    const int key = shown ? shown->keyAt(m_map, at) : -1;
    if (key >= 0) {
        menu.addAction(tr("Type this key\u2026"), &m_scene.widget,
                       [=, this] { profile_keys::type(&m_scene.widget, m_scene.store, *run, id.of, size_t(key)); });
        menu.addAction(tr("Delete this key"), &m_scene.widget,
                       [=, this] { profile_keys::remove(m_scene.store, *run, id.of, size_t(key)); })
            ->setObjectName("key.delete");
    } else if (shown && at.x() > StripScene::kLabels) {
        const double station = std::clamp(m_map.station(at.x()), 0.0, m_map.length);
        const double value = shown->valueOf(station);
        menu.addAction(tr("Set a key here"), &m_scene.widget, [=, this] {
            m_scene.changeProfile(id.of, tr("Set a key"), {},
                                  [&](Profile& p, double L) { addKey(p, station, value, L); });
        });
    }
    auto* smooth = menu.addAction(tr("Smooth between keys"), &m_scene.widget, [=, this](bool on) {
        m_scene.changeProfile(id.of, on ? tr("Smooth") : tr("Straight"), {},
                              [&](Profile& p, double) { p.smooth = on; });
    });
    smooth->setCheckable(true);
    smooth->setChecked(profile.smooth);
    auto* stretch = menu.addAction(tr("Keys stretch with the path"), &m_scene.widget, [=, this](bool on) {
        m_scene.changeProfile(id.of, tr("How keys follow the path"), {},
                              [&](Profile& p, double L) { setStretching(p, on, L); });
    });
    stretch->setCheckable(true);
    stretch->setChecked(profile.stretches);
    menu.addAction(tr("Shift all keys\u2026"), &m_scene.widget, [=, this] {
        bool ok = false;
        const QString text =
            QInputDialog::getText(&m_scene.widget, tr("Shift all keys"), tr("By (below zero: towards the start)"),
                                  QLineEdit::Normal, "0", &ok);
        const auto by = parseLength(text.toStdString(), m_scene.unit());
        if (ok && by)
            m_scene.changeProfile(id.of, tr("Shift all keys"), {}, [&](Profile& p, double L) { shiftKeys(p, *by, L); });
    });
    auto* copy = menu.addMenu(tr("Copy to"));
    for (const auto& other : m_scene.store.document().runs) {
        if (other->id == run->item->id || !profileOf(*other, id.of)) continue;
        copy->addAction(other->name.c_str(), &m_scene.widget, [=, this, to = other->id] {
            m_scene.store.change<RunItem>(to, tr("Copy %1").arg(name()), {},
                                          [&](RunItem& r) { *profileOf(r, id.of) = profile; });
        });
    }
    copy->setEnabled(!copy->isEmpty());
    menu.addAction(tr("Delete all keys"), &m_scene.widget,
                   [=, this] {
                       m_scene.changeProfile(id.of, tr("Delete all keys"), {},
                                             [&](Profile& p, double) { p.keys.clear(); });
                   })
        ->setEnabled(!profile.empty() && id.of != "pitches");
    menu.addSeparator();
}

} // namespace

std::vector<std::string> profilesOnStrip(const StripScene& scene) {
    std::vector<std::string> out;
    if (const auto run = scene.run())
        for (const char* name : kProfiles)
            if (profileOf(*run->item, name)) out.push_back(name);
    return out;
}

LanePtr laneOfProfile(StripScene& scene, LaneId id) { return std::make_unique<LaneOfProfile>(scene, std::move(id)); }

} // namespace vicinal
