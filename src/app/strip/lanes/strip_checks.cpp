// The lanes of checks, and what was kept to compare with.
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "app/strip/lanes/check_lane.h"
#include "app/strip/strip.h"
#include "model/document/run_item.h"
#include <QPainter>
#include <algorithm>

namespace vicinal {

namespace {
std::string keyOf(const Check& c) {
    return c.other == 0 ? wordsOf(c.of).file : std::string(wordsOf(c.of).file) + " " + std::to_string(c.other);
}
} // namespace

/// One a check that is on, known before anything is measured, so that the window does not move under the hand when
/// verdicts come. Those that have something to show only where something is near come with it.
void Strip::addCheckLanes(std::vector<Lane>& to) const {
    const auto shown = run();
    if (!shown || !shown->placed) return;
    for (const Check& c : checksOf(*shown)) {
        if (!c.on || wordsOf(c.of).lane[0] == 0) continue;
        // Asked because of how a bend is just now, they would come and go under the hand that drags it; tightness
        // tells the same. With a limit of one's own they stay.
        const auto& own = shown->item->checks;
        if ((c.of == CheckKind::Bow || c.of == CheckKind::Corner) &&
            std::none_of(own.begin(), own.end(), [&](const Check& x) { return x.same(c); }))
            continue;
        const Lane lane{Lane::Check, keyOf(c)};
        if (wordsOf(c.of).whenNear) {
            const CheckResult* r = checkOf(lane);
            if (!r || r->places.empty()) continue;
        }
        to.push_back(lane);
    }
}

const CheckResult* Strip::checkOf(const Lane& l) const {
    const auto shown = run();
    const auto all = shown ? m_store.checks().of(shown->item->id) : nullptr;
    if (!all || l.kind != Lane::Check) return nullptr;
    for (const CheckResult& r : all->list)
        if (keyOf(r.check) == l.profile) return &r;
    return nullptr;
}

QRectF Strip::checkLane(const std::string& check) const { return lane(Lane{Lane::Check, check}); }

void Strip::paintCheck(QPainter& p, const RunResult& run, const Lane& l) const {
    const CheckResult* r = checkOf(l);
    if (!r || !run.placed) return;
    const auto all = m_store.checks().of(run.item->id);
    const bool lags = run.stale() || all->run->placed->count() != run.placed->count();
    CheckLane(*r, *all->run, m_map, lane(l)).paint(p, selectionOf(run).places, lags, [this](const Words& w) {
        return m_store.say(w);
    });
}

/// Takes the check in hand and selects the place; `go`: the view goes there.
void Strip::pressCheck(const Lane& l, const QPointF& at, bool go) {
    const CheckResult* r = checkOf(l);
    const auto shown = run();
    if (!r || !shown || !shown->placed) return;
    const auto all = m_store.checks().of(shown->item->id);
    const Check c = r->check;
    const int i = at.x() > kLabels ? CheckLane(*r, *all->run, m_map, lane(l)).at(at.x()) : -1;
    const auto place = i >= 0 ? std::optional(r->places[size_t(i)]) : r->worst;
    if (!place) return;
    if (go) return m_store.checks().go(shown->item->id, c, place);
    Selection s{Selection::Kind::Run, shown->item->id, {place->place}, -1, {}};
    if (place->other >= 0 && place->item == 0) s.places.insert(place->other);
    m_store.select(s);
    m_store.checks().takeInHand(c);
}

/// Where places stood in the state that was kept: short strokes under the present ones.
void Strip::paintKept(QPainter& p, const RunResult& run) const {
    const auto* kept = m_store.checks().kept();
    if (!kept || !kept->ghost) return;
    const auto then = kept->evaluation->run(run.item->id);
    if (!then || !then->placed || then->placed == run.placed) return;
    const QRectF r = lane(Lane::Places);
    p.setRenderHint(QPainter::Antialiasing, false);
    p.setPen(QPen(theme::muted(), 1, Qt::DotLine));
    double last = -10;
    for (size_t i = 0; i < firstRow(*then->placed); ++i) {
        if (then->placed->leftOut(i)) continue;
        const double x = m_map.x(then->placed->stations()[i]);
        if (x - last < 2 || x < m_map.left - 2 || x > r.right()) continue;
        last = x;
        p.drawLine(QPointF(x, r.top() + 3), QPointF(x, r.bottom() - 3));
    }
    p.setRenderHint(QPainter::Antialiasing);
}

} // namespace vicinal
