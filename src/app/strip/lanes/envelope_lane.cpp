// What vehicles sweep beside the path.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/strip/lanes/lane.h"
#include "layout/vehicles/envelope.h"
#include "model/document/run_item.h"

namespace vicinal {
namespace {

class EnvelopeLane final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return tr("swept width"); }
    double height() const override { return 52; }
    void paint(QPainter&) const override;
};

/// How far vehicles reach beside the path where they come by: to the left above the line, to the right below it.
void EnvelopeLane::paint(QPainter& p) const {
    const auto shown = m_scene.placedRun();
    if (!shown || !shown->sweeps) return;
    const RunResult& run = *shown;
    const SweptEnvelope& all = *run.sweeps;
    const QRectF r = rect.adjusted(0, 4, 0, -4);
    double most = tolerance::length;
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
    const Unit unit = m_scene.unit();
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

} // namespace

LanePtr envelopeLane(StripScene& scene, LaneId id) { return std::make_unique<EnvelopeLane>(scene, std::move(id)); }

} // namespace vicinal
