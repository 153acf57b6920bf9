// What the strip shows, lane by lane.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/strip/strip.h"
#include "geometry/curves/edit.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "layout/vehicles/envelope.h"
#include "model/document/run_item.h"
#include <QPainter>
#include <cmath>

namespace vicinal {

void Strip::paintRuler(QPainter& p) const {
    const QRectF r = lane(Lane::Station);
    const Unit unit = m_store.document().unit;
    const bool metric = unit == Unit::Millimetre || unit == Unit::Centimetre || unit == Unit::Metre;
    // Long stretches read in metres or feet, short ones in the document's unit.
    double step = m_map.tickStep(1, 95);
    Unit shown = step >= 100 ? Unit::Metre : Unit::Millimetre;
    if (!metric) shown = m_map.tickStep(25.4, 95) >= 12 * 25.4 ? Unit::Foot : Unit::Inch;
    step = m_map.tickStep(millimetresPer(shown), 95);
    const int decimals = std::max(0, int(std::ceil(-std::log10(step / millimetresPer(shown)) - 1e-9)));
    p.setFont(theme::font(12));
    if (const auto of = run(); of && (of->item->spacing->from || of->item->spacing->to)) { // ends of the stretch
        p.setPen(Qt::NoPen);
        p.setBrush(theme::ochre());
        for (const auto& at : {of->item->spacing->from, of->item->spacing->to})
            if (at) {
                const double x = m_map.x(*at);
                p.drawPolygon(QPolygonF{{x, r.bottom()}, {x - 5, r.bottom() - 9}, {x + 5, r.bottom() - 9}});
            }
    }
    for (double s = std::ceil(std::max(0.0, m_map.from) / (step / 5)) * (step / 5); s <= m_map.length + 1e-9;
         s += step / 5) {
        const double x = m_map.x(s);
        if (x > r.right()) break;
        const bool main = std::abs(s / step - std::round(s / step)) < 1e-6;
        p.setPen(QPen(main ? theme::muted() : theme::line(), 1));
        p.drawLine(QPointF(x, r.bottom() - (main ? 12 : 5)), QPointF(x, r.bottom()));
        if (!main) continue;
        p.setPen(theme::ink());
        const QString text = QString::number(s / millimetresPer(shown), 'f', decimals) + " " + nameOf(shown);
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text);
        p.drawText(QPointF(std::min(x + 4, r.right() - w - 2), r.top() + 16), text);
    }
}

bool Strip::paintParts(QPainter& p, const RunResult& run) {
    constexpr double kLeast = 9; // pixels that a part takes at least, on the mean
    constexpr size_t kMost = 400;
    const Placed& all = *run.placed;
    const QRectF r = lane(Lane::Places).adjusted(0, 5, 0, -9);
    std::vector<size_t> seen;
    std::vector<Vec3> tangents;
    double least = 1e300, most = -1e300, taken = 0;
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
    const auto& selected = selectionOf(run).places;
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

void Strip::refreshMarks() {
    const auto shown = run();
    if (shown && m_marksOf.lock() == shown) return;
    m_marksOf = shown ? shown : nullptr;
    m_marks = shown ? marksOf(*shown, m_store.document().unit) : std::vector<StripMark>();
}

const StripMark* Strip::markAt(const QPointF& at) const {
    if (!lane(Lane::Marks).contains(at)) return nullptr;
    const StripMark* best = nullptr;
    double nearest = 9;
    for (const StripMark& m : m_marks)
        if (const double d = std::abs(m_map.x(m.station) - at.x()); d < nearest) nearest = d, best = &m;
    return best;
}

/// A sign a mark, and its words where they have room.
void Strip::paintMarks(QPainter& p) const {
    const QRectF r = lane(Lane::Marks);
    p.setFont(theme::font(11));
    const QFontMetricsF metrics(p.font());
    for (size_t i = 0; i < m_marks.size(); ++i) {
        const StripMark& m = m_marks[i];
        const double x = m_map.x(m.station);
        if (x < m_map.left - 12 || x > r.right() + 12) continue;
        const QPointF c(x, r.center().y());
        const QColor colour = m.kind == StripMark::Special                                ? theme::accent()
                              : m.kind == StripMark::LeftOut || m.kind == StripMark::Lost ? theme::brick()
                              : m.kind == StripMark::Stretch || m.kind == StripMark::Aim  ? theme::ochre()
                                                                                          : theme::muted();
        p.setPen(QPen(colour, 1.4));
        p.setBrush(m.kind == StripMark::Special || m.kind == StripMark::Stretch ? QBrush(colour) : QBrush(Qt::NoBrush));
        switch (m.kind) {
        case StripMark::Corner:
            p.drawPolyline(QPolygonF{c + QPointF(-5, 4), c + QPointF(0, -4), c + QPointF(5, 4)});
            break;
        case StripMark::Seam: p.drawLine(c + QPointF(0, -6), c + QPointF(0, 6)); break;
        case StripMark::Stretch:
            p.drawPolygon(QPolygonF{c + QPointF(-4, -4), c + QPointF(4, -4), c + QPointF(0, 4)});
            break;
        case StripMark::Aim:
            p.drawEllipse(c, 4, 4);
            p.drawPoint(c);
            break;
        case StripMark::Special: p.drawEllipse(c, 3.5, 3.5); break;
        case StripMark::LeftOut:
        case StripMark::Lost:
            p.drawLine(c + QPointF(-4, -4), c + QPointF(4, 4));
            p.drawLine(c + QPointF(-4, 4), c + QPointF(4, -4));
            break;
        }
        double next = r.right();
        for (size_t k = i + 1; k < m_marks.size(); ++k)
            if (const double other = m_map.x(m_marks[k].station); other > x + 1) {
                next = other - 6;
                break;
            }
        if (x + 8 + metrics.horizontalAdvance(m.text) > next) continue;
        p.setPen(theme::ink());
        p.drawText(QPointF(x + 8, c.y() + 4), m.text);
    }
}

void Strip::paintPlaces(QPainter& p, const RunResult& run) {
    const Places& all = *run.placed;
    const QRectF r = lane(Lane::Places).adjusted(0, 10, 0, -10);
    const bool stale = run.stale();
    const QColor plain = stale ? QColor("#c3c2bd") : QColor("#8095a0");
    const auto& selected = selectionOf(run).places;
    const Spacing& rule = run.item->spacing;
    const bool open = !all.laid->closed;
    const Usable usable = usableOf(rule, m_map.length);
    if (open) { // what insets and stretch keep empty
        const auto shade = [&](double a, double b) {
            if (b > a)
                p.fillRect(QRectF(QPointF(m_map.x(a), lane(Lane::Places).top()),
                                  QPointF(m_map.x(b), lane(Lane::Places).bottom())),
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
            const QPointF c(m_map.x(s), lane(Lane::Places).bottom() - 8);
            p.drawPolygon(QPolygonF{c, c + QPointF(5.5, 8), c + QPointF(-5.5, 8)});
        }
    }
}

void Strip::paintGaps(QPainter& p, const RunResult& run) const {
    const SpacingLimits limits = limitsOf(run.item->spacing);
    const QRectF r = lane(Lane::Gaps).adjusted(0, 8, 0, -6);
    if (isLinked(run.item->spacing)) { // their boxes overlap, and that says nothing
        p.setPen(theme::muted());
        p.setFont(theme::font(11));
        p.drawText(lane(Lane::Gaps).adjusted(16, 2, -16, 0), Qt::AlignTop | Qt::AlignLeft,
                   tr("joined to one another: joints, no gap"));
        return;
    }
    const auto columns = gapColumns(m_map, *run.placed, limits);
    double top = 0;
    for (const Gap& g : run.placed->gaps) top = std::max(top, g.clear());
    if (limits.gapMost) top = std::max(top, std::min(*limits.gapMost, top * 3 + 1));
    const int worst = tightestGap(*run.placed);
    top = std::max(top * 1.12, 1e-6);
    const auto height = [&](double v) { return std::clamp(v / top, 0.03, 1.0) * r.height(); };
    p.setRenderHint(QPainter::Antialiasing, false);
    const auto& selected = selectionOf(run).places;
    for (size_t i = 0; i < columns.size(); ++i) {
        const GapColumn& c = columns[i];
        if (!c.any) continue;
        const Gap& g = run.placed->gaps[c.worst];
        // Seen from afar a column is as tall as its largest gap when that is too large, else as its smallest.
        const double v = c.over ? c.most : c.least;
        QColor colour = c.over || c.under ? theme::brick() : theme::mossTint();
        if (run.stale()) colour = QColor("#d3d2cd");
        if (!c.over && !c.under && selected.count(g.from) && !run.stale()) colour = theme::accent();
        p.fillRect(QRectF(m_map.left + double(i), r.bottom() - height(v), 1, height(v)), colour);
    }
    for (const auto& limit : {limits.gapMost, limits.gapLeast}) {
        if (!limit || *limit > top) continue;
        p.setPen(QPen(theme::brick(), 1, Qt::DashLine));
        const double y = r.bottom() - *limit / top * r.height();
        p.drawLine(QPointF(m_map.left, y), QPointF(m_map.x(m_map.length), y));
    }
    p.setRenderHint(QPainter::Antialiasing);
    if (worst >= 0 && limits.overlaps(run.placed->gaps[worst].clear())) {
        p.setPen(theme::brick());
        p.setFont(theme::font(11, QFont::DemiBold));
        p.drawText(lane(Lane::Gaps).adjusted(16, 2, -16, 0), Qt::AlignTop | Qt::AlignLeft, tr("\u2715 parts overlap"));
    }
}

/// What a profile's lane shows; nothing when the run has none of that name.
std::optional<ProfileLane> Strip::profileLane(const Lane& l) const {
    const auto shown = run();
    const auto on = path();
    const Profile* profile = shown ? profileOf(*shown->item, l.profile) : nullptr;
    if (!profile || !on || lane(l).isEmpty()) return std::nullopt;
    return ProfileLane(*profile, l.profile, lane(l), on->length(), on->closed(), m_store.document().unit, m_range);
}

void Strip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme::paper());
    for (const Lane& l : m_lanes) {
        const QRectF r = lane(l);
        if (r.isEmpty()) continue;
        p.setPen(QPen(theme::line(), 1));
        p.drawLine(QPointF(0, r.bottom()), QPointF(width(), r.bottom()));
        p.setPen(theme::muted());
        p.setFont(theme::font(12));
        p.drawText(QRectF(14, r.top(), kLabels - 20, r.height()), Qt::AlignVCenter | Qt::AlignLeft, laneName(l));
    }
    p.setPen(QPen(theme::line(), 1));
    p.drawLine(QPointF(0, 0), QPointF(width(), 0));
    p.drawLine(QPointF(kLabels, 0), QPointF(kLabels, height()));
    p.setClipRect(QRectF(kLabels + 1, 0, width() - kLabels, height()));
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_shown) {
        p.setPen(theme::muted());
        p.drawText(lane(m_folded ? Lane::Station : Lane::Places), Qt::AlignCenter, tr("There is no path yet."));
        return;
    }
    paintRuler(p);
    if (m_folded) return;
    if (!lane(Lane::Tightness).isEmpty()) paintTightness(p);
    if (!lane(Lane::Marks).isEmpty()) paintMarks(p);
    const auto run = this->run();
    if (run && run->placed) {
        if (!lane(Lane::Places).isEmpty()) {
            paintKept(p, *run);
            paintPlaces(p, *run);
        }
        if (!lane(Lane::Gaps).isEmpty()) paintGaps(p, *run);
        if (!lane(Lane::Bays).isEmpty()) paintBays(p, *run);
        if (run->sweeps && !lane(Lane::SweptEnvelope).isEmpty()) paintThrow(p, *run);
        for (const Lane& l : m_lanes)
            if (l.kind == Lane::Check) paintCheck(p, *run, l);
        for (const Lane& l : m_lanes)
            if (l.kind == Lane::Changes)
                if (const auto shown = profileLane(l))
                    shown->paint(p, m_map, m_key && m_key->first == l ? int(m_key->second) : -1);
        if (m_drag == Drag::Band && m_dragged) {
            p.setPen(QPen(theme::accent(), 1));
            QColor fill = theme::accent();
            fill.setAlpha(36);
            p.setBrush(fill);
            p.drawRect(QRectF(QPointF(m_pressed.x(), lane(Lane::Places).top() + 4),
                              QPointF(m_last.x(), lane(Lane::Places).bottom() - 4))
                           .normalized());
        }
    } else {
        p.setPen(theme::muted());
        p.drawText(lane(Lane::Places), Qt::AlignCenter,
                   m_drawn ? tr("The path that is being drawn") : tr("No run follows this path yet."));
    }
}

} // namespace vicinal
