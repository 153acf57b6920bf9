// The path's stations, and the ends of a stretch of it.
#include "app/controls/theme.h"
#include "app/strip/lanes/lane.h"
#include "model/document/run_item.h"
#include <cmath>

namespace vicinal {
namespace {

class RulerLane final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return tr("station"); }
    double height() const override { return 34; }
    void paint(QPainter&) const override;
    Qt::CursorShape cursor(const QPointF& at) const override {
        return endAt(at) == Held::All ? Qt::ArrowCursor : Qt::SizeHorCursor;
    }
    bool grab(const QPointF& at) override {
        m_held = endAt(at);
        m_last = at;
        const auto run = m_scene.run();
        m_before = run ? run->item : nullptr;
        return true;
    }
    void drag(const QPointF& at) override;
    void menu(QMenu& menu, const QPointF& at) override { m_scene.stretchMenu(menu, at); }

private:
    enum class Held { All, From, To }; ///< the whole map, or an end of the stretch
    Held endAt(const QPointF&) const;
    Held m_held = Held::All;
    QPointF m_last;
    std::shared_ptr<const RunItem> m_before;
};

RulerLane::Held RulerLane::endAt(const QPointF& at) const {
    const auto run = m_scene.run();
    if (!run) return Held::All;
    const Spacing& spacing = run->item->spacing;
    if (spacing.from && std::abs(at.x() - m_map.x(*spacing.from)) < 7) return Held::From;
    if (spacing.to && std::abs(at.x() - m_map.x(*spacing.to)) < 7) return Held::To;
    return Held::All;
}

void RulerLane::drag(const QPointF& at) {
    if (m_held == Held::All || !m_before) {
        m_scene.map.scroll(m_last.x() - at.x());
        m_last = at;
        return;
    }
    const double to = std::clamp(m_scene.caught(at.x()), 0.0, m_map.length);
    const bool start = m_held == Held::From;
    m_scene.setStretch(start ? tr("Stretch starts") : tr("Stretch ends"), QString("stretch %1").arg(m_scene.drags),
                       start ? to : m_before->spacing->from, start ? m_before->spacing->to : to);
}

void RulerLane::paint(QPainter& p) const {
    const QRectF& r = rect;
    const Unit unit = m_scene.unit();
    const bool metric = unit == Unit::Millimetre || unit == Unit::Centimetre || unit == Unit::Metre;
    // Long stretches read in metres or feet, short ones in the document's unit.
    double step = m_map.tickStep(1, 95);
    Unit shown = step >= 100 ? Unit::Metre : Unit::Millimetre;
    if (!metric) shown = m_map.tickStep(25.4, 95) >= 12 * 25.4 ? Unit::Foot : Unit::Inch;
    step = m_map.tickStep(millimetresPer(shown), 95);
    const int decimals = std::max(0, int(std::ceil(-std::log10(step / millimetresPer(shown)) - tolerance::rounding)));
    p.setFont(theme::font(12));
    if (const auto of = m_scene.run();
        of && (of->item->spacing->from || of->item->spacing->to)) { // ends of the stretch
        p.setPen(Qt::NoPen);
        p.setBrush(theme::ochre());
        for (const auto& at : {of->item->spacing->from, of->item->spacing->to})
            if (at) {
                const double x = m_map.x(*at);
                p.drawPolygon(QPolygonF{{x, r.bottom()}, {x - 5, r.bottom() - 9}, {x + 5, r.bottom() - 9}});
            }
    }
    for (double s = std::ceil(std::max(0.0, m_map.from) / (step / 5)) * (step / 5);
         s <= m_map.length + tolerance::rounding; s += step / 5) {
        const double x = m_map.x(s);
        if (x > r.right()) break;
        const bool main = std::abs(s / step - std::round(s / step)) < tolerance::alike;
        p.setPen(QPen(main ? theme::muted() : theme::line(), 1));
        p.drawLine(QPointF(x, r.bottom() - (main ? 12 : 5)), QPointF(x, r.bottom()));
        if (!main) continue;
        p.setPen(theme::ink());
        const QString text = QString::number(s / millimetresPer(shown), 'f', decimals) + " " + nameOf(shown);
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text);
        p.drawText(QPointF(std::min(x + 4, r.right() - w - 2), r.top() + 16), text);
    }
}

} // namespace

LanePtr rulerLane(StripScene& scene, LaneId id) { return std::make_unique<RulerLane>(scene, std::move(id)); }

} // namespace vicinal
