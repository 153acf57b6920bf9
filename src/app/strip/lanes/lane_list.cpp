#include "app/strip/lanes/lane_list.h"
#include "layout/vehicles/envelope.h"
#include <QSettings>
#include <algorithm>

namespace vicinal {
namespace {

using Names = std::vector<std::string>;
const Names kOne{""}, kNone{};

struct LaneRow {
    LaneKind kind;
    LanePtr (*make)(StripScene&, LaneId);
    Names (*of)(const StripScene&); ///< which there may be now
};
constexpr auto kAlways = [](const StripScene&) { return kOne; };

/// From above, as they stand before anyone moves them.
const LaneRow kRows[] = {
    {LaneKind::Station, rulerLane, kAlways},
    {LaneKind::Places, placesLane, kAlways},
    {LaneKind::Gaps, gapsLane, kAlways},
    {LaneKind::Bays, baysLane,
     [](const StripScene& s) {
         const auto run = s.placedRun();
         return run && !run->placed->laid->bays.empty() ? kOne : kNone;
     }},
    {LaneKind::SweptEnvelope, envelopeLane,
     [](const StripScene& s) {
         const auto run = s.placedRun();
         return run && run->sweeps ? kOne : kNone;
     }},
    {LaneKind::Check, laneOfCheck, checksOnStrip},
    {LaneKind::Changes, laneOfProfile, profilesOnStrip},
    {LaneKind::Tightness, tightnessLane, kAlways},
    {LaneKind::Marks, marksLane, kAlways},
};

} // namespace

LaneList::LaneList(StripScene& scene) : m_scene(scene) {
    const QSettings settings;
    m_order = settings.value("strip/order").toStringList();
    m_hidden = settings.value("strip/hidden").toStringList();
}

StripLane& LaneList::kept(const LaneId& id) {
    LanePtr& lane = m_all[id.key()];
    if (!lane)
        for (const LaneRow& row : kRows)
            if (row.kind == id.kind) lane = row.make(m_scene, id);
    return *lane;
}

bool LaneList::refresh() {
    m_there.clear();
    for (const LaneRow& row : kRows)
        for (const std::string& of : row.of(m_scene)) m_there.push_back(&kept({row.kind, of}));
    const auto run = m_scene.run();
    std::vector<StripLane*> all;
    for (StripLane* l : m_there) {
        const QString key = l->id.key();
        if (m_hidden.contains(key)) continue;
        if (l->wanted() || (run && m_added.count({run->item->id, key}))) all.push_back(l);
    }
    const auto rank = [&](const StripLane* l) {
        const auto at = m_order.indexOf(l->id.key());
        return at < 0 ? qsizetype(1000) : at;
    };
    std::stable_sort(all.begin() + 1, all.end(),
                     [&](const StripLane* a, const StripLane* b) { return rank(a) < rank(b); });
    if (all == m_shown) return false;
    m_shown = std::move(all);
    return true;
}

void LaneList::layOut(const QSizeF& size, bool folded, bool tall) {
    double grown = 1;
    if (tall && !m_shown.empty()) {
        const double ruler = m_shown.front()->height();
        grown = std::max(1.0, (size.height() - ruler - 1) / std::max(naturalHeight(false) - ruler - 1, 1.0));
    }
    for (const auto& [key, lane] : m_all) lane->rect = {};
    double top = 0;
    for (StripLane* l : m_shown) {
        const bool ruler = l->id.kind == LaneKind::Station;
        if (folded && !ruler) continue;
        const double height = l->height() * (ruler ? 1 : grown);
        l->rect = {StripScene::kLabels, top, std::max(10.0, size.width() - StripScene::kLabels), height};
        top += height;
    }
}

double LaneList::naturalHeight(bool folded) const {
    double height = 1;
    for (const StripLane* l : m_shown)
        if (!folded || l->id.kind == LaneKind::Station) height += l->height();
    return height;
}

QRectF LaneList::of(const LaneId& id) const {
    const auto it = m_all.find(id.key());
    return it == m_all.end() ? QRectF() : it->second->rect;
}

StripLane* LaneList::at(double y) const {
    for (StripLane* l : m_shown)
        if (!l->rect.isEmpty() && y >= l->rect.top() && y < l->rect.bottom()) return l;
    return nullptr;
}

QStringList LaneList::names() const {
    QStringList out;
    for (const StripLane* l : m_shown) out += l->name();
    return out;
}

void LaneList::move(const LaneId& which, int by) {
    QStringList order;
    for (const StripLane* l : m_shown)
        if (l->id.kind != LaneKind::Station) order += l->id.key();
    const auto at = order.indexOf(which.key());
    if (at < 0) return;
    order.move(at, std::clamp(at + by, qsizetype(0), order.size() - 1));
    m_order = order;
    remember();
}

void LaneList::hide(const LaneId& which) {
    m_hidden.append(which.key());
    remember();
}

void LaneList::show(const LaneId& which) {
    if (const auto run = m_scene.run()) m_added.insert({run->item->id, which.key()});
    m_hidden.removeAll(which.key());
    remember();
}

std::vector<const StripLane*> LaneList::offered() const {
    std::vector<const StripLane*> out;
    for (const StripLane* l : m_there)
        if ((l->wanted() || l->id.kind == LaneKind::Changes) && // keys are set in an empty one; others would stay bare
            std::find(m_shown.begin(), m_shown.end(), l) == m_shown.end())
            out.push_back(l);
    return out;
}

void LaneList::remember() const {
    QSettings settings;
    settings.setValue("strip/order", m_order);
    settings.setValue("strip/hidden", m_hidden);
}

} // namespace vicinal
