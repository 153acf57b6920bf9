// What stands at single stations: corners, seam, ends of the stretch, special places, exceptions that lost theirs.
#include "app/controls/theme.h"
#include "app/strip/lanes/lane.h"
#include "app/strip/marks.h"
#include "model/document/run_item.h"
#include <cmath>

namespace vicinal {
namespace {

class MarksLane final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return tr("marks"); }
    double height() const override { return 24; }
    bool wanted() const override { return !marks().empty(); }
    void paint(QPainter&) const override;
    QString tip(const QPointF& at, const QString& usual) const override {
        const StripMark* mark = markAt(at);
        return mark ? mark->tip : usual;
    }
    bool grab(const QPointF& at) override {
        const auto run = m_scene.run();
        if (const StripMark* mark = markAt(at); mark && mark->place >= 0 && run)
            m_scene.store.select({Selection::Kind::Run, run->item->id, {mark->place}, -1, {}});
        return false;
    }

private:
    const StripMark* markAt(const QPointF& at) const {
        if (!rect.contains(at)) return nullptr;
        const StripMark* best = nullptr;
        double nearest = 9;
        for (const StripMark& m : marks())
            if (const double d = std::abs(m_map.x(m.station) - at.x()); d < nearest) nearest = d, best = &m;
        return best;
    }
    /// Of the run shown; made anew with it.
    const std::vector<StripMark>& marks() const {
        const auto run = m_scene.run();
        if (!run || m_of.lock() != run) {
            m_of = run;
            m_marks = run ? marksOf(*run, m_scene.unit()) : std::vector<StripMark>();
        }
        return m_marks;
    }
    mutable std::vector<StripMark> m_marks;
    mutable std::weak_ptr<const RunResult> m_of;
};

/// A sign a mark, and its words where they have room.
void MarksLane::paint(QPainter& p) const {
    const std::vector<StripMark>& all = marks();
    const QRectF& r = rect;
    p.setFont(theme::font(11));
    const QFontMetricsF metrics(p.font());
    for (size_t i = 0; i < all.size(); ++i) {
        const StripMark& m = all[i];
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
        for (size_t k = i + 1; k < all.size(); ++k)
            if (const double other = m_map.x(all[k].station); other > x + 1) {
                next = other - 6;
                break;
            }
        if (x + 8 + metrics.horizontalAdvance(m.text) > next) continue;
        p.setPen(theme::ink());
        p.drawText(QPointF(x + 8, c.y() + 4), m.text);
    }
}

} // namespace

LanePtr marksLane(StripScene& scene, LaneId id) { return std::make_unique<MarksLane>(scene, std::move(id)); }

} // namespace vicinal
