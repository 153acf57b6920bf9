// The places of the run to scale: selected, slid along, drawn in from the ends.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "app/strip/lanes/lane.h"
#include "app/strip/silhouettes.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include <cmath>

namespace vicinal {
namespace {

class PlacesLane final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return tr("places"); }
    double height() const override { return 58; }
    void paint(QPainter&) const override;
    QString tip(const QPointF&, const QString& usual) const override;
    Qt::CursorShape cursor(const QPointF&) const override;
    bool grab(const QPointF&) override;
    void drag(const QPointF&) override;
    void drop(const QPointF&, bool moved, Qt::KeyboardModifiers) override;
    void menu(QMenu& menu, const QPointF& at) override {
        m_scene.placeMenu(menu, at);
        m_scene.stretchMenu(menu, at);
    }

private:
    enum class Held { Nothing, Run, InsetStart, InsetEnd, Band };
    Held under(const QPointF&) const;
    void slide(const RunResult&, double by);
    void inset(const RunResult&, double by);
    void paintPlaces(QPainter&, const RunResult&) const;
    /// True when the parts themselves were drawn: there is room for them.
    bool paintParts(QPainter&, const RunResult&) const;
    void paintKept(QPainter&, const RunResult&) const;
    void paintBand(QPainter&) const;

    mutable Silhouettes m_silhouettes;
    Held m_held = Held::Nothing;
    bool m_moved = false;
    QPointF m_pressed, m_last;
    std::shared_ptr<const RunItem> m_before;
    double m_leftOverBefore = 0;
};

PlacesLane::Held PlacesLane::under(const QPointF& at) const {
    const auto run = m_scene.placedRun();
    if (!run || run->stale() || !rect.contains(at)) return Held::Nothing;
    if (!run->placed->laid->closed && at.y() > rect.bottom() - 11) {
        const Usable u = usableOf(run->item->spacing, m_map.length);
        if (std::abs(at.x() - m_map.x(u.start)) < 8) return Held::InsetStart;
        if (std::abs(at.x() - m_map.x(u.end)) < 8) return Held::InsetEnd;
    }
    return placeAt(m_map, *run->placed, at.x(), 3) >= 0 ? Held::Run : Held::Band;
}

Qt::CursorShape PlacesLane::cursor(const QPointF& at) const {
    switch (under(at)) {
    case Held::InsetStart:
    case Held::InsetEnd: return Qt::SizeHorCursor;
    case Held::Run: return Qt::PointingHandCursor;
    case Held::Band:
    case Held::Nothing: break;
    }
    return Qt::ArrowCursor;
}

bool PlacesLane::grab(const QPointF& at) {
    m_held = under(at);
    m_moved = false;
    m_pressed = m_last = at;
    const auto run = m_scene.placedRun();
    if (!run) return false;
    m_before = run->item;
    m_leftOverBefore = run->placed->laid->leftOver;
    return m_held != Held::Nothing;
}

void PlacesLane::drag(const QPointF& at) {
    m_last = at;
    m_moved = true;
    if (m_held == Held::Band) return;
    const auto run = m_scene.run();
    if (!run || !run->path || !run->path->path) return;
    const double round = m_scene.round(), by = std::round((at.x() - m_pressed.x()) * m_map.perPixel / round) * round;
    m_held == Held::Run ? slide(*run, by) : inset(*run, by);
    const auto after = m_scene.run();
    if (!after) return;
    const Spacing& s = after->item->spacing;
    const Unit unit = m_scene.unit();
    m_scene.tell(
        at, run->path->path->closed()
                ? tr("slide %1").arg(lengthText(s.slide, unit))
                : tr("in at start %1, at end %2").arg(lengthText(s.insetStart, unit), lengthText(s.insetEnd, unit)));
}

void PlacesLane::slide(const RunResult& run, double by) {
    Stations now;
    now.leftOver = m_leftOverBefore;
    const Spacing next = slid(*run.path->path, m_before->spacing, now, by);
    m_scene.store.change<RunItem>(run.item->id, tr("Slide the run"), QString("strip %1").arg(m_scene.drags),
                                  [&](RunItem& r) { r.spacing = next; });
}

void PlacesLane::inset(const RunResult& run, double by) {
    const bool start = m_held == Held::InsetStart;
    const Spacing& was = m_before->spacing;
    const double length = run.path->path->length(), round = m_scene.round();
    const double from = was.from.value_or(0), to = was.to.value_or(length);
    const double whole = to > from ? to - from : to - from + length;
    const double room = whole - (start ? was.insetEnd : was.insetStart) - 1;
    const double inset = std::clamp(std::round((start ? was.insetStart + by : was.insetEnd - by) / round) * round, 0.0,
                                    std::max(0.0, room));
    m_scene.store.change<RunItem>(run.item->id, start ? tr("Inset at start") : tr("Inset at end"),
                                  QString("strip %1").arg(m_scene.drags),
                                  [&](RunItem& r) { (start ? r.spacing->insetStart : r.spacing->insetEnd) = inset; });
}

void PlacesLane::drop(const QPointF& at, bool moved, Qt::KeyboardModifiers keys) {
    const Held held = m_held;
    m_held = Held::Nothing;
    const auto run = m_scene.placedRun();
    if (!run || (moved && held != Held::Band) || (held != Held::Run && held != Held::Band)) return;
    Selection s = m_scene.selectionOf(*run);
    if (held == Held::Band && moved) {
        if (!(keys & Qt::ControlModifier)) s.places.clear();
        const auto [a, b] = std::minmax(m_map.station(m_pressed.x()), m_map.station(at.x()));
        for (size_t i = 0; i < firstRow(*run->placed); ++i)
            if (run->placed->stations()[i] >= a && run->placed->stations()[i] <= b) s.places.insert(int(i));
    } else {
        const int place = placeAt(m_map, *run->placed, at.x(), 6);
        if (place < 0) {
            s.places.clear();
        } else if (keys & Qt::ControlModifier) {
            if (!s.places.erase(place)) s.places.insert(place);
        } else if ((keys & Qt::ShiftModifier) && !s.places.empty()) {
            const int from = std::min(*s.places.begin(), place), to = std::max(*s.places.rbegin(), place);
            for (int i = from; i <= to; ++i) s.places.insert(i);
        } else {
            s.places = {place};
        }
    }
    m_scene.store.select(s);
}

QString PlacesLane::tip(const QPointF& at, const QString& usual) const {
    const auto run = m_scene.placedRun();
    const int place = run && rect.contains(at) ? placeAt(m_map, *run->placed, at.x(), 3) : -1;
    if (place < 0) return usual;
    return tr("place %1 at station %2")
               .arg(place + 1)
               .arg(lengthText(run->placed->stations()[size_t(place)], m_scene.unit())) +
           (run->placed->leftOut(size_t(place)) ? tr(", left out") : QString()) + "\n" + usual;
}

void PlacesLane::paint(QPainter& p) const {
    const auto run = m_scene.placedRun();
    if (!run) {
        p.setPen(theme::muted());
        p.setFont(theme::font(12));
        p.drawText(rect, Qt::AlignCenter,
                   m_scene.drawn ? tr("The path that is being drawn") : tr("No run follows this path yet."));
        return;
    }
    paintKept(p, *run);
    paintPlaces(p, *run);
    if (m_held == Held::Band && m_moved) paintBand(p);
}

void PlacesLane::paintBand(QPainter& p) const {
    p.setPen(QPen(theme::accent(), 1));
    QColor fill = theme::accent();
    fill.setAlpha(36);
    p.setBrush(fill);
    p.drawRect(QRectF(QPointF(m_pressed.x(), rect.top() + 4), QPointF(m_last.x(), rect.bottom() - 4)).normalized());
}

/// Where places stood in the state that was kept: short strokes under the present ones.
void PlacesLane::paintKept(QPainter& p, const RunResult& run) const {
    const auto* kept = m_scene.store.checks().kept();
    if (!kept || !kept->ghost) return;
    const auto then = kept->evaluation->run(run.item->id);
    if (!then || !then->placed || then->placed == run.placed) return;
    const QRectF& r = rect;
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

bool PlacesLane::paintParts(QPainter& p, const RunResult& run) const {
    constexpr double kLeast = 9; // pixels that a part takes at least, on the mean
    constexpr size_t kMost = 400;
    const Placed& all = *run.placed;
    const QRectF r = rect.adjusted(0, 5, 0, -9);
    std::vector<size_t> seen;
    std::vector<Vec3> tangents;
    double least = kFar, most = -kFar, taken = 0;
    for (size_t i = 0; i < firstRow(all); ++i) {
        const Occupied& o = all.occupied(i);
        const double s = all.stations()[i];
        if (m_map.x(s + o.ahead) < m_map.left - 20 || m_map.x(s - o.behind) > r.right() + 20) continue;
        if (seen.size() >= kMost) return false;
        seen.push_back(i);
        tangents.push_back(all.path.at(s).tangent);
        const auto [low, high] = Silhouettes::heights(all.laid->usedSlots[all.laid->slot[i]], all.frame(i),
                                                      all.laid->size[i], tangents.back());
        least = std::min(least, low);
        most = std::max(most, high);
        taken += o.total() / m_map.perPixel;
    }
    if (seen.empty() || taken / double(seen.size()) < kLeast || !(most > least)) return false;
    // Along the path to scale; upwards, too, where the lane has the room. Flat parts are raised to be seen.
    const double flat = std::min(14.0, r.height()) / (most - least);
    const Silhouettes::Scale scale{1 / m_map.perPixel,
                                   std::clamp(1 / m_map.perPixel, flat, r.height() / (most - least))};
    const double base = r.bottom() + least * scale.up; // pixel of the seat points' height
    const auto& selected = m_scene.selectionOf(run).places;
    const QColor plain = run.stale() ? QColor("#c3c2bd") : QColor("#8095a0");
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    for (size_t k = 0; k < seen.size(); ++k) {
        const size_t i = seen[k];
        const bool isSelected = selected.count(int(i)) > 0;
        const Occupied& o = all.occupied(i);
        // What stands on pins has its station at the back one: its middle is that of the stretch it takes up.
        const Slot& slot = all.laid->usedSlots[all.laid->slot[i]];
        const bool pinned = !all.laid->joints.empty() || !all.laid->swings.empty();
        const double seat = pinned ? (o.ahead - o.behind) / 2 - slot.seated.center().x() * all.laid->size[i] : 0;
        const double x = m_map.x(all.stations()[i] + seat);
        if (all.leftOut(i)) {
            p.setPen(QPen(isSelected ? theme::accent() : theme::brick(), 1, Qt::DashLine));
            p.setBrush(Qt::NoBrush);
            p.drawRect(QRectF(QPointF(m_map.x(all.stations()[i] - o.behind), r.top()),
                              QPointF(m_map.x(all.stations()[i] + o.ahead), r.bottom())));
            continue;
        }
        const auto& picture = m_silhouettes.of(all.part(i).mesh, slot, all.frame(i), all.laid->size[i], tangents[k],
                                               scale, isSelected ? theme::accent() : plain);
        p.drawImage(QPointF(x, base) + picture.at, picture.image);
    }
    return true;
}

void PlacesLane::paintPlaces(QPainter& p, const RunResult& run) const {
    const Places& all = *run.placed;
    const QRectF r = rect.adjusted(0, 10, 0, -10);
    const bool stale = run.stale();
    const QColor plain = stale ? QColor("#c3c2bd") : QColor("#8095a0");
    const auto& selected = m_scene.selectionOf(run).places;
    const Spacing& rule = run.item->spacing;
    const bool open = !all.laid->closed;
    const Usable usable = usableOf(rule, m_map.length);
    if (open) { // what insets and stretch keep empty
        const auto shade = [&](double a, double b) {
            if (b > a)
                p.fillRect(QRectF(QPointF(m_map.x(a), rect.top()), QPointF(m_map.x(b), rect.bottom())),
                           theme::accentTint());
        };
        if (usable.start <= usable.end) {
            shade(0, usable.start);
            shade(usable.end, m_map.length);
        } else { // over the seam
            shade(usable.end, usable.start);
        }
    }
    // Too many to tell apart: one column a pixel, painted once, with what is selected or left out winning.
    const bool drawn = paintParts(p, run);
    p.setRenderHint(QPainter::Antialiasing, false);
    const bool dense = !drawn && all.count() > 1 && all.laid->pitch / m_map.perPixel < 2;
    std::vector<char> columns(dense ? size_t(m_map.width) + 2 : 0);
    for (size_t i = 0; !drawn && i < firstRow(all); ++i) {
        const Occupied& o = all.occupied(i);
        double a = m_map.x(all.stations()[i] - o.behind), b = m_map.x(all.stations()[i] + o.ahead);
        if (b < m_map.left - 20 || a > r.right()) continue;
        const bool isSelected = selected.count(int(i)) > 0, out = all.leftOut(i);
        if (dense) {
            const auto column = size_t(std::clamp(m_map.x(all.stations()[i]) - m_map.left, 0.0, m_map.width));
            const char rank = out ? 2 : 1; // what is chosen, then what is left out shows of those in one column
            columns[column] = std::max(columns[column], isSelected ? char(3) : rank);
            continue;
        }
        if (b - a < 2) b = a + 2;
        const QRectF bar(a, r.top(), b - a, r.height());
        if (out) {
            p.setPen(QPen(isSelected ? theme::accent() : theme::brick(), 1, Qt::DashLine));
            p.setBrush(Qt::NoBrush);
            p.drawRect(bar.adjusted(0, 0, -1, -1));
        } else {
            // Whole pixels, the last one left free: neighbours that touch stay countable, without a loose sliver.
            const double first = std::floor(a), last = std::max(first + 2, std::floor(b) - (b - a > 7 ? 1 : 0));
            p.fillRect(QRectF(first, r.top(), last - first, r.height()), isSelected ? theme::accent() : plain);
        }
    }
    for (size_t i = 0; i < columns.size(); ++i)
        if (columns[i])
            p.fillRect(QRectF(m_map.left + double(i), r.top(), 1, r.height()), columns[i] == 3   ? theme::accent()
                                                                               : columns[i] == 2 ? theme::brick()
                                                                                                 : plain);
    p.setRenderHint(QPainter::Antialiasing);
    if (!stale && open) {
        p.setPen(Qt::NoPen);
        p.setBrush(theme::accent());
        for (double s : {usable.start, usable.end}) {
            const QPointF c(m_map.x(s), rect.bottom() - 8);
            p.drawPolygon(QPolygonF{c, c + QPointF(5.5, 8), c + QPointF(-5.5, 8)});
        }
    }
}

} // namespace

LanePtr placesLane(StripScene& scene, LaneId id) { return std::make_unique<PlacesLane>(scene, std::move(id)); }

} // namespace vicinal
