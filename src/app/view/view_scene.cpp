#include "app/view/view_scene.h"
#include "app/controls/rounding.h"
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "app/state/clock.h"
#include "geometry/wheels/hull.h"
#include "model/document/body_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/recipes/body_shape.h"
#include "model/verdicts/sight.h"
#include <cmath>

namespace vicinal {

bool hides(const Store& store, const Standing& s) { return s.hidden && store.selection().id != s.id; }
bool hides(const Store& store, const PathResult& p) { return p.item->hidden && store.currentPath().get() != &p; }

void addBatches(const Standing& of, std::vector<QRgb> colours, std::vector<Batch>& to) {
    const auto& parts = *of.placedParts;
    const auto all = of.instances; // kept as long as it is drawn
    if (parts.size() == 1) {
        to.push_back({parts[0].mesh, [all](size_t i) { return all->pose(i); }, std::move(colours)});
        return;
    }
    for (size_t slot = 0; slot < parts.size(); ++slot) {
        std::vector<size_t> which;
        std::vector<QRgb> tones;
        for (size_t i = 0; i < all->bodies(); ++i)
            if (all->slot(i) == slot) which.push_back(i), tones.push_back(colours[i]);
        to.push_back({parts[slot].mesh, [all, which = std::move(which)](size_t i) { return all->pose(which[i]); },
                      std::move(tones)});
    }
}

void addCorners(const Standing& of, size_t body, std::vector<Vec3>& to) {
    addCorners(of.instances->pose(body), of.partAt(body).mesh->box, to);
}

/// Site bodies are quieter than parts: stone with a breath of their colour.
QColor siteTone(int colour) {
    const QColor c = theme::run(colour);
    return QColor::fromHslF(c.hslHueF(), c.hslSaturationF() * 0.12f, 0.74f);
}

void ViewScene::refresh(SceneRenderer& renderer, const Camera& camera, const Vec3& normal, double reach) {
    if (m_bodiesOld) rebuild(renderer);
    if (m_gridOld) rebuildGrid(renderer, camera, normal, reach);
}

void ViewScene::setPlain(bool plain) {
    m_plain = plain;
    m_gridOld = true;
    m_bodiesOld = m_bodiesOld || plain;
}

/// One a body: a quiet tone of its run's colour, and what stands out of it.
std::vector<QRgb> ViewScene::coloursOf(const Standing& of) {
    const Selection& selection = m_store.selection();
    const Instances& all = *of.instances;
    const RunResult* run = of.asRun();
    const BodyResult* site = of.asBody();
    const bool current = selection.id == of.id && !site &&
                         (selection.kind == Selection::Kind::Run || selection.kind == Selection::Kind::Heap);
    const bool body = site && selection.items().count(of.id);
    QColor base = theme::run(of.colour);
    // Parts keep a quiet tone of their run's colour, so that what is selected stands out.
    base = QColor::fromHslF(base.hslHueF(), base.hslSaturationF() * 0.22f, 0.62f);
    if (site) base = siteTone(of.colour);
    if (body) base = theme::accentTint();
    if (run && selection.kind == Selection::Kind::Part && selection.id == run->item->part) { // in hand
        const QColor a = theme::accent();
        const auto mix = [](int x, int y) { return (65 * x + 35 * y) / 100; };
        base = QColor(mix(base.red(), a.red()), mix(base.green(), a.green()), mix(base.blue(), a.blue()));
    }
    if (run && run->stale()) base = QColor("#c3c2bd");
    if (site && site->item->seeThrough) base.setAlpha(90);
    std::vector<QRgb> colours(all.bodies(), base.rgba());
    for (size_t i = 0; i < colours.size(); ++i)
        if (all.leftOut(i)) colours[i] = (theme::brick().rgb() & 0xffffff);
    if (run) tintBroken(*run, colours);
    if (current) {
        const auto pick = [&](size_t i) {
            colours[i] = all.leftOut(i) && !run ? 0
                         : all.leftOut(i)       ? (theme::accent().rgb() & 0xffffff)
                                                : theme::accent().rgba();
        };
        for (int i : selection.places)
            if (size_t(i) < colours.size()) pick(size_t(i));
        for (size_t i = all.count(); i < all.bodies(); ++i) // what a place stands on goes with it
            if (selection.places.count(int(all.placeOf(i)))) pick(i);
    }
    return colours;
}

void ViewScene::rebuild(SceneRenderer& renderer) {
    m_bodiesOld = false;
    m_tinted.clear();
    if (!m_content.isEmpty()) m_origin = m_content.center();
    std::vector<Batch> batches;
    for (const auto& of : m_clock.shown().standing()) {
        if (!of->instances || hides(m_store, *of)) continue;
        addBatches(*of, coloursOf(*of), batches);
        if (const BodyResult* site = of->asBody()) batches.back().ground = isGround(site->item->shape);
    }
    for (const auto& [id, path] : m_store.evaluation().paths) {
        if (path->wheels.empty() || hides(m_store, *path)) continue;
        const auto wheels = wheelsOf(m_clock.shown(), *path);
        std::vector<QRgb> colours(path->wheels.size(), QColor(path->problem ? "#c3c2bd" : "#cfcbbd").rgba());
        if (m_store.currentPath() == path && !path->problem)
            for (size_t i = 0; i < colours.size(); ++i)
                if (m_store.selection().point == int(path->wheels[i].wheel)) colours[i] = theme::accentTint().rgba();
        addBatches(*wheels, std::move(colours), batches);
    }
    addGhosts(batches);
    renderer.setScene(std::move(batches), m_origin);
    m_gridOld = true;
}

void ViewScene::rebuildGrid(SceneRenderer& renderer, const Camera& camera, const Vec3& n, double reach) {
    m_gridOld = false;
    if (m_plain) return renderer.setGrid({}, theme::gridLine(), 1);
    // Lines at 1, 2 or 5 times a power of ten, about 90 pixels apart, in the plane that is looked at.
    m_gridStep = roundStep(camera.scale() * 90);
    const Vec3 a = n.z() > 0.5 || n.y() < -0.5 ? Vec3::UnitX() : Vec3::UnitY();
    const Vec3 b = n.cross(a);
    const Vec3 foot = camera.target - n * camera.target.dot(n);
    const double ca = std::round(foot.dot(a) / m_gridStep), cb = std::round(foot.dot(b) / m_gridStep);
    std::vector<Vec3> ends;
    const int count = 40;
    for (int i = -count; i <= count; ++i) {
        for (int k = -count; k < count; k += 10) { // in pieces, so that the fading shows
            ends.push_back(a * (ca + i) * m_gridStep + b * (cb + k) * m_gridStep);
            ends.push_back(a * (ca + i) * m_gridStep + b * (cb + k + 10) * m_gridStep);
            ends.push_back(b * (cb + i) * m_gridStep + a * (ca + k) * m_gridStep);
            ends.push_back(b * (cb + i) * m_gridStep + a * (ca + k + 10) * m_gridStep);
        }
    }
    renderer.setGrid(ends, theme::gridLine(), m_gridStep * reach);
}

void ViewScene::measure() {
    m_points.clear();
    for (const auto& [id, p] : m_store.evaluation().paths)
        if (p->path && !p->item->hidden)
            for (const Vec3& v : p->path->polyline(p->path->length() / 300)) m_points.push_back(v);
    for (const auto& of : m_store.evaluation().standing()) {
        if (!of->instances || of->hidden) continue;
        const size_t step = std::max<size_t>(1, of->count() / 200);
        for (size_t i = 0; i < of->count(); i += step) addCorners(*of, i, m_points);
    }
    m_content = Box3();
    for (const Vec3& v : m_points) m_content.extend(v);
}

Box3 ViewScene::bounds(const Camera& camera, const std::vector<Vec3>& more) const {
    Box3 box = m_content;
    if (box.isEmpty()) box.extend(camera.target);
    const Vec3 reach = Vec3::Constant(m_gridStep * 20);
    box.extend(Vec3(camera.target - Vec3(reach.x(), reach.y(), 0)));
    box.extend(Vec3(camera.target + Vec3(reach.x(), reach.y(), 0)));
    for (const Vec3& p : more) box.extend(p);
    const Vec3 margin = box.diagonal() * 0.02 + Vec3::Constant(1);
    return Box3(box.min() - margin, box.max() + margin);
}

std::set<int> ViewScene::brokenPlaces(const RunResult& run) const {
    const auto all = m_store.checks().of(run.item->id);
    if (!all || all->run.get() != &run || !run.placed) return {}; // also at another time than 0
    return vicinal::brokenPlaces(*all);
}

bool ViewScene::tintsOthers() const {
    std::map<Id, std::set<int>> now;
    for (const auto& run : m_clock.shown().runs)
        if (auto broken = brokenPlaces(*run); !broken.empty() && !hides(m_store, *run))
            now[run->item->id] = std::move(broken);
    return now != m_tinted;
}

/// Places that break a limit are tinted, whatever else is selected.
void ViewScene::tintBroken(const RunResult& run, std::vector<QRgb>& colours) {
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
void ViewScene::addGhosts(std::vector<Batch>& to) {
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
                                  (after->pose(i) - before.pose(i)).cwiseAbs().maxCoeff() < tolerance::length;
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
