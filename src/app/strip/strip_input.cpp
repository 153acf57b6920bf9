// The strip under the hand: selecting, sliding, insets, keys of profiles, menus.
#include "app/controls/format.h"
#include "app/dialogs/profile_keys.h"
#include "app/state/checks.h"
#include "app/strip/strip.h"
#include "layout/along/typed.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include <QGuiApplication>
#include <QHelpEvent>
#include <QInputDialog>
#include <QLineEdit>
#include <QMouseEvent>
#include <QToolTip>
#include <cmath>

namespace vicinal {

Strip::Drag Strip::under(const QPointF& at) const {
    const auto run = this->run();
    if (m_folded) return Drag::Scroll;
    if (const auto l = laneAt(at.y()); l && l->kind == Lane::Changes) {
        const auto shown = profileLane(*l);
        return shown && shown->keyAt(m_map, at) >= 0 ? Drag::Key : Drag::None;
    }
    if (run && at.y() < heightOf(Lane::Station)) {
        const Spacing& spacing = run->item->spacing;
        if (spacing.from && std::abs(at.x() - m_map.x(*spacing.from)) < 7) return Drag::From;
        if (spacing.to && std::abs(at.x() - m_map.x(*spacing.to)) < 7) return Drag::To;
    }
    if (!run || !run->placed || run->stale() || !lane(Lane::Places).adjusted(0, 0, 0, 2).contains(at))
        return at.y() < heightOf(Lane::Station) ? Drag::Scroll : Drag::None;
    if (!run->placed->laid->closed && at.y() > lane(Lane::Places).bottom() - 11) {
        const Usable u = usableOf(run->item->spacing, m_map.length);
        if (std::abs(at.x() - m_map.x(u.start)) < 8) return Drag::InsetStart;
        if (std::abs(at.x() - m_map.x(u.end)) < 8) return Drag::InsetEnd;
    }
    return placeAt(m_map, *run->placed, at.x(), 3) >= 0 ? Drag::Slide : Drag::Band;
}

void Strip::mousePressEvent(QMouseEvent* e) {
    setFocus();
    if (e->button() != Qt::LeftButton && e->button() != Qt::MiddleButton) return;
    m_pressed = m_last = e->position();
    m_dragged = false;
    m_drag = e->button() == Qt::MiddleButton ? Drag::Scroll : under(e->position());
    ++m_dragNumber;
    m_key.reset();
    m_range.reset();
    if (const auto l = laneAt(m_pressed.y()); l && l->kind == Lane::Check && e->button() == Qt::LeftButton && !m_folded)
        pressCheck(*l, m_pressed, false);
    if (m_drag == Drag::Key) {
        const auto l = laneAt(m_pressed.y());
        const auto shown = profileLane(*l);
        m_key = {*l, size_t(shown->keyAt(m_map, m_pressed))};
        m_range = shown->range();
        update();
    }
    if (const auto run = this->run()) {
        if (const StripMark* mark = markAt(m_pressed); mark && mark->place >= 0)
            m_store.select({Selection::Kind::Run, run->item->id, {mark->place}, -1, {}});
        m_before = run->item;
        m_leftOverBefore = run->placed ? run->placed->laid->leftOver : 0;
    }
}

void Strip::mouseMoveEvent(QMouseEvent* e) {
    const QPointF at = e->position();
    if (m_drag == Drag::None) {
        const Drag d = under(at);
        setCursor(d == Drag::Key                                                                     ? Qt::SizeAllCursor
                  : d == Drag::InsetStart || d == Drag::InsetEnd || d == Drag::From || d == Drag::To ? Qt::SizeHorCursor
                  : d == Drag::Slide ? Qt::PointingHandCursor
                                     : Qt::ArrowCursor);
        return;
    }
    if ((at - m_pressed).manhattanLength() > 3) m_dragged = true;
    if (m_dragged) dragTo(at);
    m_last = at;
}

void Strip::dragTo(const QPointF& at) {
    if (m_drag == Drag::Scroll) {
        m_map.scroll(m_last.x() - at.x());
        return update();
    }
    if (m_drag == Drag::Band) return update();
    if (m_drag == Drag::Key) return dragKey(at);
    if (m_drag == Drag::From || m_drag == Drag::To) {
        const double to = std::clamp(caught(at.x()), 0.0, m_map.length);
        const bool start = m_drag == Drag::From;
        return setStretch(start ? tr("Stretch starts") : tr("Stretch ends"), QString("stretch %1").arg(m_dragNumber),
                          start ? to : m_before->spacing->from, start ? m_before->spacing->to : to);
    }
    const auto run = this->run();
    if (!run || !run->path || !run->path->path) return;
    const Path& path = *run->path->path;
    const double round = std::pow(10, std::floor(std::log10(m_map.perPixel)));
    const double by = std::round((at.x() - m_pressed.x()) * m_map.perPixel / round) * round;
    const QString merge = QString("strip %1").arg(m_dragNumber);
    if (m_drag == Drag::Slide) {
        Stations now;
        now.leftOver = m_leftOverBefore;
        const Spacing next = slid(path, m_before->spacing, now, by);
        m_store.changeRun(run->item->id, tr("Slide the run"), merge, [&](RunItem& r) { r.spacing = next; });
    } else {
        const bool start = m_drag == Drag::InsetStart;
        const double from = m_before->spacing->from.value_or(0), to = m_before->spacing->to.value_or(path.length());
        const double whole = to > from ? to - from : to - from + path.length();
        const double room = whole - (start ? m_before->spacing->insetEnd : m_before->spacing->insetStart) - 1;
        const double inset = std::clamp(
            std::round((start ? m_before->spacing->insetStart + by : m_before->spacing->insetEnd - by) / round) * round,
            0.0, std::max(0.0, room));
        m_store.changeRun(run->item->id, start ? tr("Inset at start") : tr("Inset at end"), merge,
                          [&](RunItem& r) { (start ? r.spacing->insetStart : r.spacing->insetEnd) = inset; });
    }
    const auto after = this->run();
    if (!after) return;
    const Unit unit = m_store.document().unit;
    const Spacing& s = after->item->spacing;
    QToolTip::showText(
        mapToGlobal(at.toPoint()) + QPoint(12, -34),
        path.closed()
            ? tr("slide %1").arg(lengthText(s.slide, unit))
            : tr("in at start %1, at end %2").arg(lengthText(s.insetStart, unit), lengthText(s.insetEnd, unit)),
        this);
}

void Strip::mouseReleaseEvent(QMouseEvent* e) {
    const Drag drag = m_drag;
    m_drag = Drag::None;
    if (drag == Drag::None) return;
    if (m_dragged && drag != Drag::Band) {
        m_range.reset();
        m_store.seal();
        update();
        return;
    }
    const auto run = this->run();
    if (!run || !run->placed || (drag != Drag::Slide && drag != Drag::Band)) return;
    Selection s = selectionOf(*run);
    if (drag == Drag::Band && m_dragged) {
        if (!(e->modifiers() & Qt::ControlModifier)) s.places.clear();
        const double a = std::min(m_map.station(m_pressed.x()), m_map.station(e->position().x()));
        const double b = std::max(m_map.station(m_pressed.x()), m_map.station(e->position().x()));
        for (size_t i = 0; i < firstRow(*run->placed); ++i)
            if (run->placed->stations()[i] >= a && run->placed->stations()[i] <= b) s.places.insert(int(i));
    } else {
        const int place = placeAt(m_map, *run->placed, e->position().x(), 6);
        if (place < 0)
            s.places.clear();
        else if (e->modifiers() & Qt::ControlModifier) {
            if (!s.places.erase(place)) s.places.insert(place);
        } else if ((e->modifiers() & Qt::ShiftModifier) && !s.places.empty()) {
            const int from = std::min(*s.places.begin(), place), to = std::max(*s.places.rbegin(), place);
            for (int i = from; i <= to; ++i) s.places.insert(i);
        } else
            s.places = {place};
    }
    m_store.select(s);
    update();
}

void Strip::wheelEvent(QWheelEvent* e) {
    if (e->modifiers() & Qt::ShiftModifier)
        m_map.scroll(-e->angleDelta().y() * 0.5 - e->angleDelta().x() * 0.5);
    else
        m_map.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x());
    update();
}

void Strip::keyPressEvent(QKeyEvent* e) {
    const auto run = this->run();
    const int step = int(e->key() == Qt::Key_Right) - int(e->key() == Qt::Key_Left);
    if (!run || !run->placed || step == 0 || run->placed->count() == 0) return QWidget::keyPressEvent(e);
    Selection s = selectionOf(*run);
    const int n = int(firstRow(*run->placed));
    int from = step > 0 ? -1 : n;
    if (!s.places.empty()) from = step > 0 ? *s.places.rbegin() : *s.places.begin();
    const int to = std::clamp(from + step, 0, n - 1);
    if (!(e->modifiers() & Qt::ShiftModifier)) s.places.clear();
    s.places.insert(to);
    s.point = -1;
    m_store.select(s);
}

void Strip::changeProfile(const std::string& name, const QString& step, const QString& merge,
                          const std::function<void(Profile&, double)>& how) {
    if (const auto run = this->run()) profile_keys::change(m_store, *run, name, step, merge, how);
}

/// A key follows the pointer: by whole numbers as fine as a pixel; Shift keeps its station, Ctrl its value.
void Strip::dragKey(const QPointF& at) {
    const auto [l, key] = *m_key;
    const auto shown = profileLane(l);
    const auto run = this->run();
    if (!shown || !run) return;
    const Profile& now = *profileOf(*run->item, l.profile);
    if (key >= now.keys.size()) return;
    const auto keys = QGuiApplication::keyboardModifiers();
    const double round = std::pow(10, std::floor(std::log10(m_map.perPixel)));
    const double length = path()->length(), was = stationOf(now, key, length);
    const double station = keys & Qt::ShiftModifier ? was : std::round(m_map.station(at.x()) / round) * round;
    const double value = keys & Qt::ControlModifier ? now.keys[key].value : shown->rounded(shown->valueAt(at.y()));
    changeProfile(l.profile, tr("Move a key"), QString("key %1").arg(m_dragNumber),
                  [&, which = key](Profile& p, double L) { moveKey(p, which, station, value, L); });
    QToolTip::showText(mapToGlobal(at.toPoint()) + QPoint(12, -34),
                       tr("%1 at %2").arg(shown->text(value), lengthText(station, m_store.document().unit)), this);
    update();
}

void Strip::mouseDoubleClickEvent(QMouseEvent* e) {
    const auto l = laneAt(e->position().y());
    if (l && l->kind == Lane::Check && e->button() == Qt::LeftButton) return pressCheck(*l, e->position(), true);
    const auto shown = l && l->kind == Lane::Changes ? profileLane(*l) : std::nullopt;
    if (!shown || e->button() != Qt::LeftButton || e->position().x() < kLabels)
        return QWidget::mouseDoubleClickEvent(e);
    if (const int key = shown->keyAt(m_map, e->position()); key >= 0) {
        if (const auto run = this->run()) profile_keys::type(this, m_store, *run, l->profile, size_t(key));
        return;
    }
    const double round = std::pow(10, std::floor(std::log10(m_map.perPixel)));
    const double station = std::clamp(std::round(m_map.station(e->position().x()) / round) * round, 0.0, m_map.length);
    const double value = shown->rounded(shown->valueAt(e->position().y()));
    changeProfile(l->profile, tr("Set a key"), {}, [&](Profile& p, double L) { addKey(p, station, value, L); });
}

double Strip::caught(double px) const {
    const double s = m_map.station(px), round = std::pow(10, std::floor(std::log10(m_map.perPixel)));
    if (const auto on = path())
        for (const Corner& c : on->corners())
            if (std::abs(m_map.x(c.station) - px) < 7) return c.station;
    return std::round(s / round) * round;
}

void Strip::setStretch(const QString& step, const QString& merge, std::optional<double> from,
                       std::optional<double> to) {
    if (const auto run = this->run())
        m_store.changeRun(run->item->id, step, merge, [&](RunItem& r) {
            r.spacing->from = from;
            r.spacing->to = to;
        });
}

QStringList Strip::laneNames() const {
    QStringList out;
    for (const Lane& l : m_lanes) out += laneName(l);
    return out;
}

bool Strip::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        const auto run = this->run();
        const Unit unit = m_store.document().unit;
        const auto at = laneAt(help->pos().y());
        QString text = tr("Click a place to select it, Ctrl or Shift for several; drag it to slide the run; drag a "
                          "triangle to change an inset. "
                          "The wheel zooms, Shift and the wheel scroll. Delete leaves out.");
        if (at && at->kind == Lane::Changes) {
            text =
                tr("Double-click sets a key, or types the one under the pointer; drag a key (Shift keeps its station, "
                   "Ctrl its value); right-click for more.");
            if (const auto shown = profileLane(*at); shown && help->pos().x() > kLabels) {
                const double s = std::clamp(m_map.station(help->pos().x()), 0.0, m_map.length);
                text = tr("%1 at %2").arg(shown->text(shown->valueOf(s)), lengthText(s, unit)) + "\n" + text;
            }
        } else if (const CheckResult* check = at ? checkOf(*at) : nullptr) {
            text = tr(wordsOf(check->check.of).tip) + ".\n" + m_store.say(check->text) + "\n" +
                   tr("Click for the place there, double-click to go there.");
        } else if (const StripMark* mark = markAt(help->pos())) {
            text = mark->tip;
        } else if (run && run->placed && lane(Lane::Gaps).contains(help->pos())) {
            text = tr("Gap along: the free length along the path from one part's front to the next one's back, for "
                      "parts as their boxes. Distances between true bodies are not measured here.");
            const auto columns = gapColumns(m_map, *run->placed, limitsOf(run->item->spacing));
            const auto i = size_t(std::max(0.0, help->pos().x() - m_map.left));
            if (i < columns.size() && columns[i].any && !isLinked(run->item->spacing)) {
                const Gap& g = run->placed->gaps[columns[i].worst];
                text = tr("gap along %1 between places %2 and %3")
                           .arg(lengthText(g.clear(), unit))
                           .arg(g.from + 1)
                           .arg(g.to + 1) +
                       "\n" + text;
            }
        } else if (run && run->placed && lane(Lane::Places).contains(help->pos())) {
            if (const int place = placeAt(m_map, *run->placed, help->pos().x(), 3); place >= 0)
                text =
                    tr("place %1 at station %2").arg(place + 1).arg(lengthText(run->placed->stations()[place], unit)) +
                    (run->placed->leftOut(place) ? tr(", left out") : QString()) + "\n" + text;
        }
        QToolTip::showText(help->globalPos(), "<p>" + text.toHtmlEscaped().replace("\n", "<br>") + "</p>", this);
        return true;
    }
    return QWidget::event(e);
}

} // namespace vicinal
