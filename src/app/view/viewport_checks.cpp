// What checks change in the scene: places that break a limit, and the state that was kept to compare with.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "app/view/viewport.h"
#include "geometry/wheels/hull.h"
#include "model/document/run_item.h"
#include "model/verdicts/sight.h"
#include <QPainter>
#include <cmath>
#include <set>

namespace vicinal {
void Viewport::lookAt(const Sight& sight) {
    m_look = Look::Free;
    m_camera.parallel = false;
    const Vec3 way = sight.toEye.normalized();
    m_camera.yaw = std::atan2(way.y(), way.x());
    m_camera.pitch = std::clamp(std::asin(std::clamp(way.z(), -1.0, 1.0)), -89 * kDegree, 89 * kDegree);
    m_camera.target = sight.at;
    m_camera.distance = std::max(20.0, 1.15 * sight.radius / std::tan(Camera::kFieldOfView / 2));
    m_framed = m_gridDirty = true;
    moved(true);
    emit lookChanged();
}

std::set<int> Viewport::brokenPlaces(const RunResult& run) const {
    const auto all = m_store.checks().of(run.item->id);
    if (!all || all->run.get() != &run || !run.placed) return {}; // also at another time than 0
    return vicinal::brokenPlaces(*all);
}

/// Verdicts came: bodies are drawn anew only where others have to be tinted.
void Viewport::checked() {
    std::map<Id, std::set<int>> now;
    for (const auto& run : shown().runs)
        if (auto broken = brokenPlaces(*run); !broken.empty() && !hides(*run)) now[run->item->id] = std::move(broken);
    if (now != m_tinted) {
        m_sceneDirty = true;
        moved(!m_moving);
    } else
        repaintOverlay();
}

/// Places that break a limit are tinted, whatever else is selected.
void Viewport::tintBroken(const RunResult& run, std::vector<QRgb>& colours) {
    auto broken = brokenPlaces(run);
    const QColor c = theme::brick();
    for (const int place : broken) {
        if (size_t(place) >= colours.size() || run.placed->leftOut(size_t(place))) continue;
        const QColor was = QColor::fromRgba(colours[size_t(place)]);
        const auto mix = [](int x, int y) { return (45 * x + 55 * y) / 100; };
        colours[size_t(place)] =
            qRgba(mix(was.red(), c.red()), mix(was.green(), c.green()), mix(was.blue(), c.blue()), was.alpha());
    }
    if (!broken.empty()) m_tinted[run.item->id] = std::move(broken);
}

/// The state that was kept: bodies that stand elsewhere now, see-through.
void Viewport::addGhosts(std::vector<Batch>& to) {
    const auto* kept = m_store.checks().kept();
    m_ghosts = kept && kept->ghost;
    if (!m_ghosts) return;
    const QRgb tone = qRgba(theme::accent().red(), theme::accent().green(), theme::accent().blue(), 70);
    for (const auto& then : kept->evaluation->standing()) {
        if (!then->instances || then->hidden) continue;
        const auto now = m_store.evaluation().standing(then->id);
        if (now && now->instances == then->instances) continue;
        const Instances &before = *then->instances, *after = now ? now->instances.get() : nullptr;
        for (size_t slot = 0; slot < then->placedParts->size(); ++slot) {
            std::vector<size_t> which;
            for (size_t i = 0; i < before.bodies(); ++i) {
                if (before.slot(i) != slot || before.leftOut(i)) continue;
                const bool same = after && i < after->bodies() && !after->leftOut(i) &&
                                  now->partAt(i).mesh == then->partAt(i).mesh &&
                                  (after->pose(i) - before.pose(i)).cwiseAbs().maxCoeff() < 1e-6;
                if (!same) which.push_back(i);
            }
            if (which.empty()) continue;
            std::vector<QRgb> tones(which.size(), tone);
            to.push_back({(*then->placedParts)[slot].mesh,
                          [then, which = std::move(which)](size_t i) { return then->instances->pose(which[i]); },
                          std::move(tones)});
        }
    }
}

} // namespace vicinal
