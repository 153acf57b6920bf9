// Gaps along the path against their limits.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/strip/lanes/lane.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include <cmath>

namespace vicinal {
namespace {

class GapsLane final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return tr("gap along"); }
    double height() const override { return 50; }
    void prepare() override;
    void paint(QPainter&) const override;
    QString tip(const QPointF&, const QString& usual) const override;
    void menu(QMenu& menu, const QPointF& at) override { m_scene.placeMenu(menu, at); }

private:
    std::shared_ptr<const RunResult> m_of; ///< what the columns were made from
    std::vector<GapColumn> m_columns;
    double m_top = 1; ///< mm at the lane's upper edge
    int m_worst = -1;
};

void GapsLane::prepare() {
    m_of = m_scene.placedRun();
    m_columns.clear();
    m_worst = -1;
    if (!m_of || isLinked(m_of->item->spacing)) return;
    const SpacingLimits limits = limitsOf(m_of->item->spacing);
    m_columns = gapColumns(m_map, *m_of->placed, limits);
    double top = 0;
    for (const Gap& g : m_of->placed->gaps) top = std::max(top, g.clear());
    if (limits.gapMost) top = std::max(top, std::min(*limits.gapMost, top * 3 + 1));
    m_worst = tightestGap(*m_of->placed);
    m_top = std::max(top * 1.12, tolerance::length);
}

QString GapsLane::tip(const QPointF& at, const QString& usual) const {
    if (!m_of || !rect.contains(at)) return usual;
    const QString what = tr("Gap along: the free length along the path from one part's front to the next one's back, "
                            "for parts as their boxes. Distances between true bodies are not measured here.");
    const auto i = size_t(std::max(0.0, at.x() - m_map.left));
    if (i >= m_columns.size() || !m_columns[i].any) return what;
    const Gap& g = m_of->placed->gaps[m_columns[i].worst];
    return tr("gap along %1 between places %2 and %3")
               .arg(lengthText(g.clear(), m_scene.unit()))
               .arg(g.from + 1)
               .arg(g.to + 1) +
           "\n" + what;
}

void GapsLane::paint(QPainter& p) const {
    if (!m_of) return;
    const RunResult& run = *m_of;
    const SpacingLimits limits = limitsOf(run.item->spacing);
    const QRectF r = rect.adjusted(0, 8, 0, -6);
    if (isLinked(run.item->spacing)) { // their boxes overlap, and that says nothing
        p.setPen(theme::muted());
        p.setFont(theme::font(11));
        p.drawText(rect.adjusted(16, 2, -16, 0), Qt::AlignTop | Qt::AlignLeft,
                   tr("joined to one another: joints, no gap"));
        return;
    }
    const auto height = [&](double v) { return std::clamp(v / m_top, 0.03, 1.0) * r.height(); };
    p.setRenderHint(QPainter::Antialiasing, false);
    const auto& selected = m_scene.selectionOf(run).places;
    for (size_t i = 0; i < m_columns.size(); ++i) {
        const GapColumn& c = m_columns[i];
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
        if (!limit || *limit > m_top) continue;
        p.setPen(QPen(theme::brick(), 1, Qt::DashLine));
        const double y = r.bottom() - *limit / m_top * r.height();
        p.drawLine(QPointF(m_map.left, y), QPointF(m_map.x(m_map.length), y));
    }
    p.setRenderHint(QPainter::Antialiasing);
    if (m_worst >= 0 && limits.overlaps(run.placed->gaps[m_worst].clear())) {
        p.setPen(theme::brick());
        p.setFont(theme::font(11, QFont::DemiBold));
        p.drawText(rect.adjusted(16, 2, -16, 0), Qt::AlignTop | Qt::AlignLeft, tr("\u2715 parts overlap"));
    }
}

} // namespace

LanePtr gapsLane(StripScene& scene, LaneId id) { return std::make_unique<GapsLane>(scene, std::move(id)); }

} // namespace vicinal
