// Lanes along the whole path: what vehicles sweep, bays, how tightly it bends.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/strip/strip.h"
#include "geometry/curves/edit.h"
#include "layout/spacing/rules.h"
#include "layout/vehicles/envelope.h"
#include "model/document/run_item.h"
#include <QPainter>
#include <cmath>

namespace vicinal {

/// How far vehicles reach beside the path where they come by: to the left above the line, to the right below it.
void Strip::paintThrow(QPainter& p, const RunResult& run) const {
    const SweptEnvelope& all = *run.sweeps;
    const QRectF r = lane(Lane::SweptEnvelope).adjusted(0, 4, 0, -4);
    double most = 1e-6;
    for (size_t i = 0; i < all.stations.size(); ++i) most = std::max({most, all.left[i], all.right[i]});
    const double zero = r.center().y(), scale = r.height() / 2 / most;
    QPolygonF band;
    for (size_t i = 0; i < all.stations.size(); ++i)
        band << QPointF(m_map.x(all.stations[i]), zero - all.left[i] * scale);
    for (size_t i = all.stations.size(); i-- > 0;)
        band << QPointF(m_map.x(all.stations[i]), zero + all.right[i] * scale);
    QColor fill = run.stale() ? QColor("#d3d2cd") : theme::ochre();
    fill.setAlpha(90);
    p.setPen(QPen(run.stale() ? theme::line() : theme::ochre(), 1));
    p.setBrush(fill);
    p.drawPolygon(band);
    p.setPen(QPen(theme::muted(), 1, Qt::DashLine));
    p.drawLine(QPointF(m_map.x(0), zero), QPointF(m_map.x(m_map.length), zero));
    const Unit unit = m_store.document().unit;
    const QString text =
        tr("%1 inside \u00b7 %2 outside \u00b7 %3 wide")
            .arg(lengthText(all.inside.reach, unit), lengthText(all.outside.reach, unit), lengthText(all.widest, unit));
    p.setFont(theme::font(11));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text);
    const double x = std::clamp(m_map.x(all.widestAt) - w / 2, m_map.left, std::max(m_map.left, r.right() - w - 8));
    QColor paper = theme::paper();
    paper.setAlpha(215);
    p.setPen(Qt::NoPen);
    p.setBrush(paper);
    p.drawRoundedRect(QRectF(x - 6, zero - 8, w + 12, 16), 4, 4);
    p.setPen(theme::ink());
    p.drawText(QPointF(x, zero + 4), text);
}

/// Every bay with its count and what is measured there.
void Strip::paintBays(QPainter& p, const RunResult& run) const {
    const QRectF r = lane(Lane::Bays).adjusted(0, 4, 0, -4);
    const Unit unit = m_store.document().unit;
    const bool gaps = run.item->spacing->measure == Measure::ClearGap;
    p.setFont(theme::font(11));
    const QFontMetricsF metrics(p.font());
    for (const Bay& bay : run.placed->laid->bays) {
        const double a = m_map.x(bay.start + bay.faceStart), b = m_map.x(bay.end - bay.faceEnd);
        if (b < r.left() || a > r.right()) continue;
        const QRectF box(a, r.top(), b - a, r.height());
        p.setPen(QPen(bay.problem ? theme::brick() : theme::line(), 1));
        p.setBrush(bay.problem ? QColor("#f6e4de") : theme::field());
        p.drawRoundedRect(box.adjusted(1, 0, -1, 0), 3, 3);
        const QString count = QString::number(bay.count);
        const QString text = tr("%1 \u00b7 %2").arg(count, lengthText(gaps ? bay.value : bay.pitch, unit, false));
        p.setPen(bay.problem ? theme::brick() : theme::ink());
        const QString fits = metrics.horizontalAdvance(text) < box.width() - 8    ? text
                             : metrics.horizontalAdvance(count) < box.width() - 4 ? count
                                                                                  : QString();
        p.drawText(box, Qt::AlignCenter, fits);
    }
}

/// How far the path bends away under a part as long as the run's: the mid-ordinate, length^2 * curvature / 8. Each
/// pixel shows the worst of its stretch.
void Strip::paintTightness(QPainter& p) {
    const auto path = this->path();
    if (!path) return;
    const auto run = this->run();
    const double part = run ? partLength(*run) : 0;
    if (!m_bendOf || m_bendOf->spans().data() != path->spans().data() ||
        m_bendMap != std::array{m_map.from, m_map.perPixel, m_map.width}) {
        m_bendOf = path;
        m_bendMap = {m_map.from, m_map.perPixel, m_map.width};
        const int n = int(m_map.width);
        std::vector<double> stations;
        for (int i = 0; i <= 2 * n; ++i)
            stations.push_back(std::clamp(m_map.station(m_map.left + i / 2.0), 0.0, m_map.length));
        const auto all = curvatures(*path, stations);
        m_bend.assign(size_t(n), 0);
        for (int i = 0; i < n; ++i)
            for (int k = 2 * i; k <= 2 * i + 2; ++k)
                m_bend[size_t(i)] = std::max(m_bend[size_t(i)], all[size_t(k)].norm());
    }
    const QRectF r = lane(Lane::Tightness).adjusted(0, 18, 0, -1); // the text stands above
    double most = 0;
    size_t at = 0;
    for (size_t i = 0; i < m_bend.size(); ++i)
        if (m_bend[i] > most) most = m_bend[i], at = i;
    const Unit unit = m_store.document().unit;
    p.setFont(theme::font(11));
    if (most < 1e-9) {
        p.setPen(theme::muted());
        p.drawText(lane(Lane::Tightness).adjusted(16, 0, -16, 0), Qt::AlignVCenter | Qt::AlignLeft, tr("straight"));
        return;
    }
    p.setRenderHint(QPainter::Antialiasing, false);
    QColor fill = theme::ochre();
    fill.setAlpha(150);
    for (size_t i = 0; i < m_bend.size(); ++i) {
        const double x = m_map.left + double(i);
        if (m_map.station(x) < 0 || m_map.station(x) > m_map.length) continue;
        p.fillRect(QRectF(x, r.bottom() - m_bend[i] / most * r.height(), 1, m_bend[i] / most * r.height()), fill);
    }
    p.setRenderHint(QPainter::Antialiasing);
    const QString radius = tr("radius %1").arg(lengthText(1 / most, unit));
    const QString text = part > 0 ? tr("%1 off a part %2 long \u00b7 %3")
                                        .arg(lengthText(part * part * most / 8, unit), lengthText(part, unit), radius)
                                  : radius;
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text),
                 x = std::clamp(m_map.left + double(at) - w / 2, m_map.left, r.right() - w - 8);
    p.setPen(theme::ink());
    p.drawText(QPointF(x, lane(Lane::Tightness).top() + 15), text);
}

} // namespace vicinal
