// What checks show in the view: the worst place with its dimension or its ball, and all places that break a limit.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "app/view/overlays/overlay.h"
#include "app/view/toolbox.h"
#include "geometry/wheels/hull.h"
#include "model/document/run_item.h"
#include <QPainter>
#include <cmath>
#include <set>

namespace vicinal {
namespace {

constexpr int kMostSigns = 300; ///< beyond them signs would cover what they stand at

QColor colourOf(Mark m) { return m == Mark::Wrong || m == Mark::Doubtful ? theme::markColour(m) : theme::accent(); }

/// The check in hand: all places that break it, and the one that is selected, else the worst, with its dimension or its
/// ball.
class ChecksOverlay : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const override {
        const auto run = m_store.currentRun();
        if (run && !m_view.tools().drawing()) paint(p, *run);
    }

private:
    void paint(QPainter& p, const RunResult& run) const {
        const auto all = m_store.checks().of(run.item->id);
        if (!all || all->run.get() != &run || !run.placed) return; // also at another time than 0
        const CheckResult* r = m_store.checks().shown(*all);
        if (!r) return;
        paintBroken(p, run, *r);
        // The place that is selected, else the worst.
        std::optional<CheckedPlace> place = r->worst;
        if (m_store.checks().inHand()) {
            const auto& chosen = m_store.selection().places;
            for (const CheckedPlace& q : r->places) {
                const bool pair = q.item == 0 && q.other >= 0;
                if (chosen == (pair ? std::set<int>{q.place, q.other} : std::set<int>{q.place})) {
                    place = q;
                    break;
                }
            }
        }
        if (!place || wordsOf(r->check.of).lane[0] == 0) return;
        const QColor c = colourOf(place->mark);
        const QString sign = place->mark == Mark::Wrong      ? QString::fromUtf8("\u2715 ")
                             : place->mark == Mark::Doubtful ? QString::fromUtf8("\u25b2 ")
                                                             : QString();
        const QString text = sign + m_store.say(inWords(r->check, place->value));
        if (r->check.of == CheckKind::Opening)
            paintOpening(p, *place, c, text);
        else
            paintDistance(p, *place, c, text);
    }
    void paintOpening(QPainter& p, const CheckedPlace& place, const QColor& c, const QString& text) const {
        const auto centre = m_camera.project(place.a);
        if (!centre || !(place.value > 0)) return;
        // As large as it is seen there: a point as far off, square to the line of sight.
        const auto edge = m_camera.project(place.a + place.value / 2 * m_camera.right());
        const double radius = edge ? std::hypot(edge->x() - centre->x(), edge->y() - centre->y()) : 0;
        QColor fill = c;
        fill.setAlpha(60);
        p.setPen(QPen(c, 1.6));
        p.setBrush(fill);
        const QPointF at(centre->x(), centre->y());
        p.drawEllipse(at, radius, radius);
        p.drawLine(at - QPointF(radius, 0), at + QPointF(radius, 0));
        pill(p, at + QPointF(radius + 10, -13), QString::fromUtf8("\u2300 ") + text, c, theme::ink());
    }
    void paintDistance(QPainter& p, const CheckedPlace& place, const QColor& c, const QString& text) const {
        const auto from = m_camera.project(place.a), to = m_camera.project(place.b);
        if (!from || !to) return;
        const QPointF a(from->x(), from->y()), b(to->x(), to->y());
        const QPointF way = b - a;
        const double length = std::hypot(way.x(), way.y());
        p.setPen(QPen(c, 2));
        if (length > 1.5) {
            const QPointF across(-way.y() / length * 6, way.x() / length * 6);
            p.drawLine(a, b);
            p.drawLine(a - across, a + across);
            p.drawLine(b - across, b + across);
        } else {
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(a, 6, 6);
        }
        pill(p, (a + b) / 2 + QPointF(14, -30), text, c, theme::ink());
    }
    /// An outline and a sign at every place that breaks the limit.
    void paintBroken(QPainter& p, const RunResult& run, const CheckResult& r) const {
        if (wordsOf(r.check.of).lane[0] == 0) return;
        std::map<int, Mark> worst;
        for (const CheckedPlace& q : r.places) {
            if (q.mark == Mark::Good) continue;
            const auto add = [&](int place) {
                if (place < 0 || size_t(place) >= run.placed->count()) return;
                auto [at, fresh] = worst.try_emplace(place, q.mark);
                at->second = std::max(at->second, q.mark);
            };
            add(q.place);
            if (q.item == 0) add(q.other);
        }
        int drawn = 0;
        for (const auto& [place, mark] : worst) {
            if (drawn >= kMostSigns) break;
            std::vector<Vec3> corners;
            addCorners(run, size_t(place), corners);
            std::vector<Vec2> points;
            for (const Vec3& c : corners)
                if (const auto at = m_camera.project(c); at && std::abs(at->x()) < 1e4 && std::abs(at->y()) < 1e4)
                    points.push_back(at->head<2>());
            if (points.size() < 8) continue;
            QPolygonF outline;
            double top = 1e9, x = 0;
            for (size_t k : convexHull(points)) {
                outline += {points[k].x(), points[k].y()};
                if (points[k].y() < top) top = points[k].y();
            }
            for (const Vec2& q : points) x += q.x() / double(points.size());
            if (!m_view.rect().adjusted(-20, -20, 20, 20).contains(QPoint(int(x), int(top)))) continue;
            ++drawn;
            const QColor c = colourOf(mark);
            p.setBrush(Qt::NoBrush);
            if (outline.boundingRect().width() + outline.boundingRect().height() > 10) {
                p.setPen(QPen(c, 1.3));
                p.drawPolygon(outline);
            }
            p.setPen(c);
            p.setFont(theme::font(10, QFont::DemiBold));
            p.drawText(QPointF(x - 4, top - 3),
                       mark == Mark::Wrong ? QString::fromUtf8("\u2715") : QString::fromUtf8("\u25b2"));
        }
    }
};

} // namespace

OverlayPtr checkInHand(const Viewport& view) { return std::make_unique<ChecksOverlay>(view); }

} // namespace vicinal
