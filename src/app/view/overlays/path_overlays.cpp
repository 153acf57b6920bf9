// Over paths: those there are, the one in hand with its bends, what it lost, how far a soft drag reaches.
#include "app/controls/theme.h"
#include "app/view/overlays/overlay.h"
#include "app/view/overlays/painting.h"
#include "app/view/view_scene.h"
#include "geometry/curves/edit.h"
#include "model/document/path_item.h"
#include <QPainter>
#include <QPainterPath>

namespace vicinal {
namespace {

/// All paths but the one in hand.
class OtherPathsOverlay : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const override {
        const auto current = m_store.currentPath();
        for (const auto& [id, path] : m_store.evaluation().paths)
            if (path != current && !hides(m_view.store(), *path))
                paintPath(p, m_view.camera(), *path, QColor(120, 130, 128, 120), 1.2);
    }
};

/// What an offset could not keep.
class LostOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& path) const override {
        for (const auto& part : path.lost)
            if (const auto lost = Path::make(part.segments, part.closed, 1e-3)) {
                PathResult grey;
                grey.path = *lost;
                grey.problem = Problem{};
                paintPath(p, m_view.camera(), grey, theme::muted(), 1.4);
            }
    }
};

/// Teeth as long as the curvature, towards the outside of the bend: a bump or a kink is seen at once.
class CombOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& shown) const override {
        if (!m_view.comb() || !shown.path) return;
        const Path& path = *shown.path;
        const int n = std::clamp(m_view.width() / 3, 60, 600);
        std::vector<double> stations;
        for (int i = 0; i <= n; ++i) stations.push_back(path.length() * i / n);
        const auto bend = curvatures(path, stations);
        double most = 0;
        for (const auto& k : bend) most = std::max(most, k.norm());
        if (!(most > tolerance::fine)) return;
        const double reach = m_camera.scale() * 70 / most; // the sharpest tooth is 70 pixels long
        QPainterPath tips;
        p.setPen(QPen(QColor(theme::ochre().red(), theme::ochre().green(), theme::ochre().blue(), 150), 1));
        bool pen = false;
        for (size_t i = 0; i < stations.size(); ++i) {
            const Vec3 at = path.at(stations[i]).point;
            const auto a = m_camera.project(at), b = m_camera.project(at - reach * bend[i]);
            if (!a || !b) {
                pen = false;
                continue;
            }
            p.drawLine(pixel(*a), pixel(*b));
            pen ? tips.lineTo(pixel(*b)) : tips.moveTo(pixel(*b));
            pen = true;
        }
        p.setPen(QPen(theme::ochre(), 1.4));
        p.setBrush(Qt::NoBrush);
        p.drawPath(tips);
    }
};

/// How far a soft drag reaches: the stretch that follows, thinning out.
class SoftReachOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& path) const override {
        const double reach = m_store.softReach();
        const auto* points = editablePoints(*path.item);
        const int index = m_store.selection().point;
        if (!(reach > 0) || !points || index < 0 || index >= int(points->points.size()) || !path.path) return;
        const double L = path.path->length(), s0 = path.path->closest(points->points[size_t(index)].at);
        for (int i = -40; i < 40; ++i) {
            double s = s0 + reach * (i + 0.5) / 40;
            if (path.path->closed())
                s = std::fmod(s + 2 * L, L);
            else if (s < 0 || s > L)
                continue;
            const double x = (i + 0.5) / 40, w = (1 - x * x) * (1 - x * x);
            if (const auto at = m_camera.project(path.path->at(s).point)) {
                QColor c = theme::accent();
                c.setAlphaF(float(0.45 * w));
                p.setPen(Qt::NoPen);
                p.setBrush(c);
                p.drawEllipse(pixel(*at), 2 + 6 * w, 2 + 6 * w);
            }
        }
    }
};

/// The path in hand.
class PathOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& path) const override {
        paintPath(p, m_view.camera(), path, theme::accent(), 2.2);
    }
};

/// A bridge over every crossing, with its number; a click on it switches what is on top.
class CrossingsOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& path) const override {
        p.setFont(theme::font(11, QFont::DemiBold));
        for (size_t i = 0; i < path.crossings.size(); ++i) {
            const auto at = m_camera.project(path.crossings[i].at);
            if (!at) continue;
            const QPointF c = pixel(*at);
            p.setPen(QPen(theme::accent(), 1.6));
            p.setBrush(theme::paper());
            p.drawEllipse(c, 8, 8);
            p.drawText(QRectF(c.x() - 8, c.y() - 8, 16, 16), Qt::AlignCenter, QString::number(i + 1));
        }
    }
};

} // namespace

OverlayPtr otherPaths(const Viewport& view) { return std::make_unique<OtherPathsOverlay>(view); }
OverlayPtr lostParts(const Viewport& view) { return std::make_unique<LostOverlay>(view); }
OverlayPtr curvatureComb(const Viewport& view) { return std::make_unique<CombOverlay>(view); }
OverlayPtr softReach(const Viewport& view) { return std::make_unique<SoftReachOverlay>(view); }
OverlayPtr pathInHand(const Viewport& view) { return std::make_unique<PathOverlay>(view); }
OverlayPtr crossings(const Viewport& view) { return std::make_unique<CrossingsOverlay>(view); }

} // namespace vicinal
