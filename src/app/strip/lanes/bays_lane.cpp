// Every bay with its count and what is measured there.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/strip/lanes/lane.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"

namespace vicinal {
namespace {

class BaysLane final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return tr("bays"); }
    double height() const override { return 26; }
    void paint(QPainter&) const override;
};

void BaysLane::paint(QPainter& p) const {
    const auto shown = m_scene.placedRun();
    if (!shown) return;
    const RunResult& run = *shown;
    const QRectF r = rect.adjusted(0, 4, 0, -4);
    const Unit unit = m_scene.unit();
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

} // namespace

LanePtr baysLane(StripScene& scene, LaneId id) { return std::make_unique<BaysLane>(scene, std::move(id)); }

} // namespace vicinal
