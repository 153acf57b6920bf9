// One check of the run that is shown.
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "app/strip/lanes/check_lane.h"
#include "app/strip/lanes/lane.h"
#include "model/document/run_item.h"
#include <algorithm>

namespace vicinal {
namespace {

std::string keyOf(const Check& c) {
    return c.other == 0 ? wordsOf(c.of).file : std::string(wordsOf(c.of).file) + " " + std::to_string(c.other);
}
const CheckResult* resultOf(const StripScene& scene, const std::string& key) {
    const auto shown = scene.run();
    const auto all = shown ? scene.store.checks().of(shown->item->id) : nullptr;
    if (!all) return nullptr;
    for (const CheckResult& r : all->list)
        if (keyOf(r.check) == key) return &r;
    return nullptr;
}

class LaneOfCheck final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override;
    double height() const override { return 30; }
    void prepare() override;
    void paint(QPainter&) const override;
    QString tip(const QPointF&, const QString& usual) const override {
        const CheckResult* check = resultOf(m_scene, id.of);
        if (!check) return usual;
        return tr(wordsOf(check->check.of).tip) + ".\n" + m_scene.store.say(check->text) + "\n" +
               tr("Click for the place there, double-click to go there.");
    }
    bool grab(const QPointF& at) override {
        take(at, false);
        return false;
    }
    bool twice(const QPointF& at) override {
        take(at, true);
        return true;
    }

private:
    /// Takes the check in hand and selects the place; `go`: the view goes there.
    void take(const QPointF&, bool go);
    std::shared_ptr<const RunChecks> m_of; ///< what m_drawn reads
    std::optional<CheckLane> m_drawn;
};

QString LaneOfCheck::name() const {
    const CheckResult* r = resultOf(m_scene, id.of);
    if (!r) { // not measured yet
        const auto of = checkNamed(id.of);
        return of ? tr(wordsOf(*of).lane) : QString();
    }
    if (r->check.other == 0) return tr(wordsOf(r->check.of).lane);
    const auto other = m_scene.store.evaluation().standing(r->check.other);
    const QString name = other ? QString::fromStdString(other->name) : tr("deleted");
    return QFontMetricsF(theme::font(12)).elidedText(tr("to %1").arg(name), Qt::ElideRight, StripScene::kLabels - 22);
}

void LaneOfCheck::prepare() {
    m_drawn.reset();
    const auto shown = m_scene.placedRun();
    const CheckResult* r = resultOf(m_scene, id.of);
    if (!r || !shown) return;
    m_of = m_scene.store.checks().of(shown->item->id);
    m_drawn.emplace(*r, *m_of->run, m_map, rect);
}

void LaneOfCheck::paint(QPainter& p) const {
    const auto shown = m_scene.placedRun();
    if (!m_drawn || !shown) return;
    const bool lags = shown->stale() || m_of->run->placed->count() != shown->placed->count();
    m_drawn->paint(p, m_scene.selectionOf(*shown).places, lags,
                   [this](const Words& w) { return m_scene.store.say(w); });
}

void LaneOfCheck::take(const QPointF& at, bool go) {
    const CheckResult* r = resultOf(m_scene, id.of);
    const auto shown = m_scene.placedRun();
    if (!r || !shown) return;
    const Check c = r->check;
    const bool fresh = m_drawn && m_of == m_scene.store.checks().of(shown->item->id);
    const int i = at.x() > StripScene::kLabels && fresh ? m_drawn->at(at.x()) : -1;
    const auto place = i >= 0 ? std::optional(r->places[size_t(i)]) : r->worst;
    if (!place) return;
    if (go) return m_scene.store.checks().go(shown->item->id, c, place);
    Selection s{Selection::Kind::Run, shown->item->id, {place->place}, -1, {}};
    if (place->other >= 0 && place->item == 0) s.places.insert(place->other);
    m_scene.store.select(s);
    m_scene.store.checks().takeInHand(c);
}

} // namespace

/// One a check that is on, known before anything is measured, so that the window does not move under the hand when
/// verdicts come. Those that have something to show only where something is near come with it.
std::vector<std::string> checksOnStrip(const StripScene& scene) {
    std::vector<std::string> out;
    const auto shown = scene.placedRun();
    if (!shown) return out;
    for (const Check& c : checksOf(*shown)) {
        if (!c.on || wordsOf(c.of).lane[0] == 0) continue;
        // Asked because of how a bend is just now, they would come and go under the hand that drags it; tightness
        // tells the same. With a limit of one's own they stay.
        const auto& own = shown->item->checks;
        if ((c.of == CheckKind::Bow || c.of == CheckKind::Corner) &&
            std::none_of(own.begin(), own.end(), [&](const Check& x) { return x.same(c); }))
            continue;
        if (wordsOf(c.of).whenNear) {
            const CheckResult* r = resultOf(scene, keyOf(c));
            if (!r || r->places.empty()) continue;
        }
        out.push_back(keyOf(c));
    }
    return out;
}

LanePtr laneOfCheck(StripScene& scene, LaneId id) { return std::make_unique<LaneOfCheck>(scene, std::move(id)); }

} // namespace vicinal
