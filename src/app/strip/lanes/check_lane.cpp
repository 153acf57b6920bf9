#include "app/strip/lanes/check_lane.h"
#include "app/controls/theme.h"
#include "clearance/check.h"
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace vicinal {

CheckLane::CheckLane(const CheckResult& result, const RunResult& run, const StripMap& map, const QRectF& lane)
    : m_result(result), m_run(run), m_map(map), m_lane(lane.adjusted(0, 5, 0, -4)) {
    m_columns.assign(size_t(std::max(0.0, map.width)) + 1, {});
    double least = 0, most = 0;
    const auto worse = [&](const CheckedPlace& a, const CheckedPlace& b) {
        if (a.mark != b.mark) return a.mark > b.mark;
        const auto beyond = [&](double v) {
            double by = -kFar;
            if (result.check.least) by = std::max(by, *result.check.least - v);
            if (result.check.most) by = std::max(by, v - *result.check.most);
            if (by > -kFar) return by;
            return wordsOf(result.check.of).clearances ? -v : v;
        };
        return beyond(a.value) > beyond(b.value);
    };
    for (size_t i = 0; i < result.places.size(); ++i) {
        const CheckedPlace& p = result.places[i];
        least = std::min(least, p.value);
        most = std::max(most, p.value);
        const auto [from, to] = stretch(p);
        const double last = double(m_columns.size()) - 1;
        const double low = map.x(from) - map.left, high = map.x(to) - map.left;
        if (high < 0 || low > last) continue;
        for (size_t c = size_t(std::clamp(low, 0.0, last)); c <= size_t(std::clamp(high, 0.0, last)); ++c) {
            CheckColumn& column = m_columns[c];
            if (column.worst < 0) {
                column = {int(i), p.value, p.value};
                continue;
            }
            column.least = std::min(column.least, p.value);
            column.most = std::max(column.most, p.value);
            if (worse(p, result.places[size_t(column.worst)])) column.worst = int(i);
        }
    }
    const Check& c = result.check;
    if (c.most) most = std::max(most, std::min(*c.most, 3 * most + tolerance::rounding));
    if (c.least) most = std::max(most, *c.least);
    m_top = std::max(most * 1.12, tolerance::rounding);
    m_bottom = std::min(0.0, least);
}

double CheckLane::y(double v) const {
    const double share = (std::clamp(v, m_bottom, m_top) - m_bottom) / (m_top - m_bottom);
    return m_lane.bottom() - share * m_lane.height();
}

std::pair<double, double> CheckLane::stretch(const CheckedPlace& p) const {
    if (!m_run.placed) return {0, 0};
    const Placed& all = *m_run.placed;
    const auto station = [&](int place) {
        const size_t first = std::max<size_t>(1, all.laid->originals());
        return all.stations()[std::min(size_t(place) % first, all.count() - 1)];
    };
    if (all.count() == 0 || p.place < 0 || size_t(p.place) >= all.count()) return {0, 0};
    const double a = station(p.place);
    const CheckKind k = m_result.check.of;
    const bool pair = p.item == 0 && p.other >= 0 && size_t(p.other) < all.count() && k != CheckKind::Itself;
    const Occupied& o = all.occupied(size_t(p.place));
    if (!pair) return {a - std::min(o.behind, 1e9), a + std::min(o.ahead, 1e9)};
    double b = station(p.other);
    if (k == CheckKind::JointTurns) return {a - o.behind * 0.3, a + o.ahead * 0.3};
    // From front to back, as the gap is; where they overlap round the middle.
    double from = a + o.ahead, to = b - all.occupied(size_t(p.other)).behind;
    if (b < a) to += m_map.length;
    if (to - from < 2 * m_map.perPixel) {
        const double middle = (from + to) / 2;
        from = middle - m_map.perPixel;
        to = middle + m_map.perPixel;
    }
    return {from, to};
}

int CheckLane::at(double px) const {
    int best = -1;
    for (int d = 0; d <= 6; ++d)
        for (const int side : {-1, 1}) {
            const int c = int(std::lround(px - m_map.left)) + side * d;
            if (c < 0 || size_t(c) >= m_columns.size() || m_columns[size_t(c)].worst < 0) continue;
            const int found = m_columns[size_t(c)].worst;
            if (best < 0 || m_result.places[size_t(found)].mark > m_result.places[size_t(best)].mark) best = found;
        }
    return best;
}

void CheckLane::paint(QPainter& p, const std::set<int>& selected, bool stale,
                      const std::function<QString(const Words&)>& say) const {
    const Check& c = m_result.check;
    p.setRenderHint(QPainter::Antialiasing, false);
    const double zero = y(0);
    for (size_t i = 0; i < m_columns.size(); ++i) {
        const CheckColumn& column = m_columns[i];
        if (column.worst < 0) continue;
        const CheckedPlace& worst = m_result.places[size_t(column.worst)];
        QColor colour = stale                          ? QColor("#d3d2cd")
                        : worst.mark == Mark::Wrong    ? theme::brick()
                        : worst.mark == Mark::Doubtful ? theme::ochre()
                                                       : theme::mossTint();
        if (worst.mark == Mark::Good && !stale &&
            (selected.count(worst.place) || (worst.item == 0 && selected.count(worst.other))))
            colour = theme::accent();
        // From afar a column is as tall as its largest value where that is what is wrong, else as its smallest.
        const bool largest = c.most && !(c.least && worst.value < *c.least);
        double v = largest ? column.most : column.least;
        if (!largest && worst.mark == Mark::Wrong) v = worst.value;
        double top = std::min(y(v), zero), bottom = std::max(y(v), zero);
        if (bottom - top < 2) top = bottom - 2;
        p.fillRect(QRectF(m_map.left + double(i), top, 1, bottom - top), colour);
    }
    for (const auto& limit : {c.least, c.most}) {
        if (!limit || *limit > m_top || (*limit == 0 && m_bottom == 0)) continue;
        p.setPen(QPen(theme::brick(), 1, Qt::DashLine));
        p.drawLine(QPointF(m_map.left, y(*limit)), QPointF(std::min(m_map.x(m_map.length), m_lane.right()), y(*limit)));
    }
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_result.worst) return;
    // The worst place is marked, at the edge where it is beyond it.
    const CheckedPlace& worst = *m_result.worst;
    const auto [from, to] = stretch(worst);
    const double middle = m_map.x((from + to) / 2), left = m_map.left, right = m_lane.right() - 4;
    const QColor colour = worst.mark == Mark::Wrong      ? theme::brick()
                          : worst.mark == Mark::Doubtful ? theme::ochre()
                                                         : theme::muted();
    p.setFont(theme::font(11, worst.mark == Mark::Good ? QFont::Normal : QFont::DemiBold));
    QString text = say(inWords(c, worst.value));
    if (worst.mark == Mark::Wrong) text = QString::fromUtf8("\u2715 ") + text;
    if (worst.mark == Mark::Doubtful) text = QString::fromUtf8("\u25b2 ") + text;
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text);
    const bool before = middle<left, beyond = middle> right;
    const double at = std::clamp(middle, left, right);
    double x = at + 7;
    if (x + w > right) x = at - 9 - w;
    if (before) text = QString::fromUtf8("\u2190 ") + text;
    if (beyond) {
        text += QString::fromUtf8(" \u2192");
        x = right - QFontMetricsF(p.font()).horizontalAdvance(text) - 2;
    }
    QColor paper = theme::paper();
    paper.setAlpha(220);
    p.setPen(Qt::NoPen);
    p.setBrush(paper);
    p.drawRoundedRect(QRectF(x - 3, m_lane.top() - 2, QFontMetricsF(p.font()).horizontalAdvance(text) + 6, 15), 3, 3);
    p.setBrush(colour);
    if (!before && !beyond)
        p.drawPolygon(QPolygonF{{at, m_lane.top() + 7}, {at - 4, m_lane.top()}, {at + 4, m_lane.top()}});
    p.setPen(worst.mark == Mark::Good ? theme::ink() : colour);
    p.drawText(QPointF(x, m_lane.top() + 10), text);
}

} // namespace vicinal
