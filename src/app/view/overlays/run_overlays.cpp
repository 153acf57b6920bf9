// Over runs: frames and ribbon, the room vehicles sweep, what is left out, what is selected.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/view/overlays/overlay.h"
#include "app/view/toolbox.h"
#include "app/view/tools/edit_tool.h"
#include "app/view/view_scene.h"
#include "geometry/wheels/hull.h"
#include "layout/facing/facing.h"
#include "layout/spacing/limits.h"
#include "layout/vehicles/envelope.h"
#include "model/document/run_item.h"
#include <QPainter>
#include <QPainterPath>

namespace vicinal {
namespace {

/// A ribbon from the path along its crown, with the roll of the run, and the axes of as many places as can be told
/// apart.
class FramesOverlay : public OverRun {
public:
    using OverRun::OverRun;

private:
    void over(QPainter& p, const RunResult& run) const override {
        if (!m_view.frames()) return;
        const Placed& placed = *run.placed;
        const auto facing = resolved(run.item->facing, placed.path);
        if (!facing || placed.count() == 0) return;
        const double reach = 26 * m_camera.scale(), L = placed.path.length();
        Facing plain = *facing;
        plain.turn.setZero();
        if (!std::holds_alternative<AsDrawn>(plain.nose)) plain.nose = AlongPath{};
        const ProfileCurve roll(run.item->changes.roll, L, placed.path.closed(), 0);
        std::vector<double> stations;
        const int n = std::clamp(int(L / (4 * m_camera.scale())), 60, 600);
        for (int i = 0; i <= n; ++i) stations.push_back(L * i / n);
        std::vector<std::optional<std::pair<QPointF, QPointF>>> edges(stations.size());
        faceAt(placed.path, stations, plain, placed.laid->usedSlots[0].turn,
               [&](size_t i, const Vec3& at, const Vec3&, const Mat3& R) {
                   const double r = roll.at(stations[i]);
                   const Vec3 tip = at + reach * (std::cos(r) * R.col(2) - std::sin(r) * R.col(1));
                   const auto a = m_camera.project(at), b = m_camera.project(tip);
                   if (a && b) edges[i] = {pixel(*a), pixel(*b)};
               });
        QColor fill = theme::ochre();
        fill.setAlpha(46);
        QPen edge(theme::ochre(), 1);
        for (size_t i = 1; i < edges.size(); ++i) {
            if (!edges[i - 1] || !edges[i]) continue;
            p.setPen(Qt::NoPen);
            p.setBrush(fill);
            p.drawPolygon(QPolygonF{edges[i - 1]->first, edges[i]->first, edges[i]->second, edges[i - 1]->second});
            p.setPen(edge);
            p.drawLine(edges[i - 1]->second, edges[i]->second);
            if (i % 6 == 0) p.drawLine(edges[i]->first, edges[i]->second);
        }
        const size_t each = std::max<size_t>(1, placed.count() / 60);
        const std::pair<int, QColor> axes[] = {{0, theme::brick()}, {1, theme::moss()}, {2, QColor("#4a62ad")}};
        for (size_t i = 0; i < placed.count(); i += each) {
            const Frame& f = placed.frame(i);
            const auto from = m_camera.project(f.seat);
            if (!from) continue;
            for (const auto& [axis, colour] : axes)
                if (const auto to = m_camera.project(f.seat + 0.8 * reach * f.axes.col(axis))) {
                    p.setPen(QPen(colour, 1.8));
                    p.drawLine(pixel(*from), pixel(*to));
                }
        }
    }
};

/// The room that vehicles sweep, as a band on the ground, with its worst reaches on both sides of a bend.
class SweptOverlay : public OverRun {
public:
    using OverRun::OverRun;

private:
    void over(QPainter& p, const RunResult& run) const override {
        if (!run.sweeps || run.stale()) return;
        const SweptEnvelope& all = *run.sweeps;
        const Path& path = run.placed->path;
        const auto beside = [&](double station, double to) -> std::optional<Vec3> { // to the left, level
            const Sample at = path.at(std::clamp(station, 0.0, path.length()));
            const Vec3 left(-at.tangent.y(), at.tangent.x(), 0);
            if (left.norm() < tolerance::rounding) return std::nullopt;
            return m_camera.project(at.point + to * left.normalized());
        };
        QColor fill = theme::ochre();
        fill.setAlpha(48);
        QPainterPath left, right;
        std::optional<std::pair<QPointF, QPointF>> before;
        for (size_t i = 0; i < all.stations.size(); ++i) {
            const auto a = beside(all.stations[i], all.left[i]), b = beside(all.stations[i], -all.right[i]);
            if (!a || !b || all.left[i] + all.right[i] <= 0) {
                before.reset();
                continue;
            }
            const std::pair<QPointF, QPointF> now{pixel(*a), pixel(*b)};
            if (before) {
                p.setPen(Qt::NoPen);
                p.setBrush(fill);
                p.drawPolygon(QPolygonF{before->first, now.first, now.second, before->second});
                left.lineTo(now.first), right.lineTo(now.second);
            } else {
                left.moveTo(now.first), right.moveTo(now.second);
            }
            before = now;
        }
        p.setPen(QPen(theme::ochre(), 1.2));
        p.setBrush(Qt::NoBrush);
        p.drawPath(left);
        p.drawPath(right);
        const Unit unit = m_store.document().unit;
        for (const auto& [worst, text] : {std::pair{&all.inside, tr("inside %1")}, {&all.outside, tr("outside %1")}}) {
            // On whichever side the band is as wide as that there.
            const size_t k = size_t(std::lower_bound(all.stations.begin(), all.stations.end(), worst->station) -
                                    all.stations.begin());
            const size_t i = std::min(k, all.stations.size() - 1);
            const double side = std::abs(all.left[i] - worst->reach) <= std::abs(all.right[i] - worst->reach) ? 1 : -1;
            const auto from = beside(worst->station, 0), to = beside(worst->station, side * worst->reach);
            if (!from || !to) continue;
            p.setPen(QPen(theme::ochre(), 1.4));
            p.drawLine(pixel(*from), pixel(*to));
            p.drawEllipse(pixel(*to), 2.5, 2.5);
            pill(p, pixel(*to) + QPointF(10, worst == &all.inside ? -26 : 6), text.arg(lengthText(worst->reach, unit)),
                 theme::line(), theme::ink());
        }
    }
};

/// Where a part is left out: a dashed outline round the room it had, wide enough to be seen on the thinnest one, so
/// that it does not look like a part that stands.
class LeftOutOverlay : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const override {
        int drawn = 0;
        for (const auto& run : m_view.shown().runs) {
            if (!run->placed || run->placed->present == int(run->placed->count()) || hides(m_view.store(), *run))
                continue;
            const bool current =
                m_store.selection().kind == Selection::Kind::Run && m_store.selection().id == run->item->id;
            for (size_t i = 0; i < run->placed->count() && drawn < 1000; ++i) {
                if (!run->placed->leftOut(i)) continue;
                std::vector<Vec3> corners;
                addCorners(*run, i, corners);
                std::vector<Vec2> points;
                for (const Vec3& c : corners)
                    if (const auto at = m_camera.project(c); at && std::abs(at->x()) < 1e4 && std::abs(at->y()) < 1e4)
                        points.push_back(at->head<2>());
                if (points.size() < 8) continue;
                ++drawn;
                const bool selected = current && m_store.selection().places.count(int(i));
                QPainterPathStroker wider;
                wider.setWidth(7);
                wider.setJoinStyle(Qt::RoundJoin);
                QPainterPath hull;
                QPolygonF outline;
                for (size_t k : convexHull(points)) outline += {points[k].x(), points[k].y()};
                hull.addPolygon(outline);
                hull.closeSubpath();
                p.setPen(QPen(selected ? theme::accent() : theme::brick(), 1.3, Qt::DashLine));
                p.setBrush(Qt::NoBrush);
                p.drawPath(hull.united(wider.createStroke(hull)).simplified());
            }
        }
    }
};

/// What the selected places are.
class PlaceLabelOverlay : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const override {
        const auto run = m_store.currentRun();
        const auto& places = m_store.selection().places;
        if (!run || !run->placed || places.empty() || m_view.tools().edit().dragging()) return;
        const Places& all = *run->placed;
        const int first = *places.begin();
        const auto at = m_camera.project(all.frame(size_t(first)).seat);
        if (!at) return;
        const Unit unit = m_store.document().unit;
        QString text = tr("place %1").arg(first + 1);
        if (places.size() > 1) text = tr("%1 places from %2").arg(places.size()).arg(first + 1);
        if (all.leftOut(size_t(first))) text += tr(" \u00b7 left out");
        if (all.count() > 1) text += tr(" \u00b7 c/c %1").arg(lengthText(all.laid->pitch, unit, false));
        for (const Gap& g : all.gaps)
            if (g.from == first && g.to != first && !isLinked(run->item->spacing))
                text += tr(" \u00b7 gap along %1").arg(lengthText(g.clear(), unit, false));
        pill(p, pixel(*at) + QPointF(14, 22), text, theme::accent(), theme::accent());
    }
};

} // namespace

OverlayPtr framesAndRibbon(const Viewport& view) { return std::make_unique<FramesOverlay>(view); }
OverlayPtr sweptRoom(const Viewport& view) { return std::make_unique<SweptOverlay>(view); }
OverlayPtr leftOut(const Viewport& view) { return std::make_unique<LeftOutOverlay>(view); }
OverlayPtr placeLabel(const Viewport& view) { return std::make_unique<PlaceLabelOverlay>(view); }

} // namespace vicinal
