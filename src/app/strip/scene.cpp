#include "app/strip/scene.h"
#include "app/dialogs/profile_keys.h"
#include "layout/spacing/rules.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <QMenu>
#include <QToolTip>
#include <QWidget>
#include <cmath>

namespace vicinal {

std::shared_ptr<const RunResult> StripScene::run() const {
    if (drawn) return nullptr;
    const Selection& s = store.selection();
    const auto& runs = store.evaluation().runs;
    const auto first = [&](auto&& fits) -> std::shared_ptr<const RunResult> {
        std::shared_ptr<const RunResult> found;
        for (const auto& r : runs)
            if (fits(*r) && (!found || r->item->id == chosen)) found = r;
        return found;
    };
    switch (s.kind) {
    case Selection::Kind::Run: return store.evaluation().run(s.id);
    case Selection::Kind::Path: return first([&](const RunResult& r) { return r.item->path == s.id; });
    case Selection::Kind::Part:
        if (auto r = first([&](const RunResult& x) { return x.item->part == s.id; })) return r;
        break;
    case Selection::Kind::Body:
        if (const auto body = store.currentBody()) { // rails and cuts: the run they follow, or their path alone
            if (body->run) return store.evaluation().run(body->run->item->id);
            if (body->path) return first([&](const RunResult& r) { return r.item->path == body->path->item->id; });
        }
        break;
    case Selection::Kind::Heap:
    case Selection::Kind::None: break;
    }
    return first([&](const RunResult&) { return true; });
}

std::shared_ptr<const RunResult> StripScene::placedRun() const {
    const auto shown = run();
    return shown && shown->placed ? shown : nullptr;
}

Id StripScene::pathId() const {
    const Selection& s = store.selection();
    if (s.kind == Selection::Kind::Path) return s.id;
    if (const auto r = run()) return r->item->path;
    if (const auto body = store.currentBody(); body && body->path) return body->path->item->id;
    return store.document().paths.empty() ? 0 : store.document().paths.front()->id;
}

std::optional<Path> StripScene::path() const {
    if (drawn) return drawn;
    const auto it = store.evaluation().paths.find(pathId());
    return it == store.evaluation().paths.end() ? std::nullopt : it->second->path;
}

Selection StripScene::selectionOf(const RunResult& run) const {
    Selection s = store.selection();
    if (s.kind != Selection::Kind::Run || s.id != run.item->id) s = {Selection::Kind::Run, run.item->id, {}, -1, {}};
    s.point = -1;
    return s;
}

double StripScene::round() const { return std::pow(10, std::floor(std::log10(map.perPixel))); }

double StripScene::caught(double px) const {
    if (const auto on = path())
        for (const Corner& c : on->corners())
            if (std::abs(map.x(c.station) - px) < 7) return c.station;
    return std::round(map.station(px) / round()) * round();
}

double StripScene::clamped(double px) const { return std::clamp(map.station(px), 0.0, map.length); }

void StripScene::setStretch(const QString& step, const QString& merge, std::optional<double> from,
                            std::optional<double> to) {
    if (const auto run = this->run())
        store.change<RunItem>(run->item->id, step, merge, [&](RunItem& r) {
            r.spacing->from = from;
            r.spacing->to = to;
        });
}

void StripScene::changeProfile(const std::string& name, const QString& step, const QString& merge,
                               const std::function<void(Profile&, double)>& how) {
    if (const auto run = this->run()) profile_keys::change(store, *run, name, step, merge, how);
}

void StripScene::tell(const QPointF& at, const QString& text) const {
    QToolTip::showText(widget.mapToGlobal(at.toPoint()) + QPoint(12, -34), text, &widget);
}

void StripScene::stretchMenu(QMenu& menu, const QPointF& at) {
    const auto run = this->run();
    const auto on = path();
    if (!run || !on || at.x() <= kLabels) return;
    const Spacing s = run->item->spacing;
    const double here = std::clamp(caught(at.x()), 0.0, map.length);
    menu.addAction(tr("The stretch starts here"), &widget,
                   [=, this] { setStretch(tr("Stretch starts"), {}, here, s.to); });
    menu.addAction(tr("The stretch ends here"), &widget,
                   [=, this] { setStretch(tr("Stretch ends"), {}, s.from, here); });
    const auto& corners = on->corners();
    if (!corners.empty()) {
        const double spot = map.station(at.x());
        std::optional<double> before, behind;
        for (const Corner& c : corners) {
            if (c.station <= spot) before = c.station;
            if (c.station > spot && !behind) behind = c.station;
        }
        if (on->closed()) { // round again
            if (!before) before = corners.back().station;
            if (!behind) behind = corners.front().station;
        }
        menu.addAction(tr("From corner to corner"), &widget,
                       [=, this] { setStretch(tr("From corner to corner"), {}, before, behind); })
            ->setEnabled(!on->closed() || corners.size() > 1);
    }
    if (s.from || s.to)
        menu.addAction(tr("No stretch: the whole path"), &widget,
                       [=, this] { setStretch(tr("The whole path"), {}, {}, {}); });
    menu.addSeparator();
}

void StripScene::placeMenu(QMenu& menu, const QPointF& at) {
    const auto run = placedRun();
    if (!run || run->stale() || at.x() <= kLabels) return;
    const int place = placeAt(map, *run->placed, at.x(), 6);
    if (place >= 0 && !store.selection().places.count(place))
        store.select({Selection::Kind::Run, run->item->id, {place}, -1, {}});
    if (store.selection().places.empty()) return;
    const int first = place >= 0 ? place : *store.selection().places.begin();
    const bool out = run->placed->leftOut(size_t(first));
    menu.addAction(out ? tr("Bring back") : tr("Leave out"), &widget, [this, out] { setLeftOut(store, !out); });
    menu.addAction(tr("Go to it"), &widget, [this] { showSelection(); });
    menu.addAction(tr("Emphasise here"), &widget,
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

} // namespace vicinal
