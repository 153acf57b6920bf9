// How tightly the path bends.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/strip/lanes/lane.h"
#include "geometry/curves/edit.h"
#include "model/document/run_item.h"
#include <array>
#include <cmath>

namespace vicinal {
namespace {

/// How far the path bends away under a part as long as the run's: the mid-ordinate, length^2 * curvature / 8. Each
/// pixel shows the worst of its stretch.
class TightnessLane final : public StripLane {
public:
    using StripLane::StripLane;
    QString name() const override { return tr("tightness"); }
    double height() const override { return 40; }
    void prepare() override;
    void paint(QPainter&) const override;

private:
    std::optional<Path> m_of; ///< what m_bend was worked out for, and where
    std::array<double, 3> m_at{};
    std::vector<double> m_bend; ///< curvature, 1/mm, the worst of each pixel
    double m_part = 0;          ///< length of the run's part, mm
};

void TightnessLane::prepare() {
    const auto run = m_scene.run();
    m_part = run ? partLength(*run) : 0;
    const auto path = m_scene.path();
    if (!path) return m_bend.clear();
    const std::array now{m_map.from, m_map.perPixel, m_map.width};
    if (m_of && m_of->spans().data() == path->spans().data() && m_at == now) return;
    m_of = path;
    m_at = now;
    const int n = int(m_map.width);
    std::vector<double> stations;
    for (int i = 0; i <= 2 * n; ++i)
        stations.push_back(std::clamp(m_map.station(m_map.left + i / 2.0), 0.0, m_map.length));
    const auto all = curvatures(*path, stations);
    m_bend.assign(size_t(n), 0);
    for (int i = 0; i < n; ++i)
        for (int k = 2 * i; k <= 2 * i + 2; ++k) m_bend[size_t(i)] = std::max(m_bend[size_t(i)], all[size_t(k)].norm());
}

void TightnessLane::paint(QPainter& p) const {
    if (m_bend.empty()) return;
    const QRectF r = rect.adjusted(0, 18, 0, -1); // the text stands above
    double most = 0;
    size_t at = 0;
    for (size_t i = 0; i < m_bend.size(); ++i)
        if (m_bend[i] > most) most = m_bend[i], at = i;
    const Unit unit = m_scene.unit();
    p.setFont(theme::font(11));
    if (most < tolerance::rounding) {
        p.setPen(theme::muted());
        p.drawText(rect.adjusted(16, 0, -16, 0), Qt::AlignVCenter | Qt::AlignLeft, tr("straight"));
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
    const QString text = m_part > 0
                             ? tr("%1 off a part %2 long \u00b7 %3")
                                   .arg(lengthText(m_part * m_part * most / 8, unit), lengthText(m_part, unit), radius)
                             : radius;
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text),
                 x = std::clamp(m_map.left + double(at) - w / 2, m_map.left, r.right() - w - 8);
    p.setPen(theme::ink());
    p.drawText(QPointF(x, rect.top() + 15), text);
}

} // namespace

LanePtr tightnessLane(StripScene& scene, LaneId id) { return std::make_unique<TightnessLane>(scene, std::move(id)); }

} // namespace vicinal
