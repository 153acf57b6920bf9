#include "app/strip/lanes/profile_lane.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/dialogs/profile_keys.h"
#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace vicinal {

ProfileLane::ProfileLane(const Profile& profile, std::string name, const QRectF& lane, double length, bool closed,
                         Unit unit, const std::optional<std::pair<double, double>>& range)
    : m_profile(profile), m_name(std::move(name)), m_lane(lane.adjusted(0, 9, 0, -9)), m_length(length),
      m_curve(profile, length, closed, otherwiseOf(m_name)), m_unit(unit) {
    if (range) {
        std::tie(m_least, m_most) = *range;
        return;
    }
    m_least = m_curve.least();
    m_most = m_curve.most();
    const double none = otherwiseOf(m_name);
    if (m_name != "pitches") m_least = std::min(m_least, none), m_most = std::max(m_most, none);
    const double usual = m_name == "roll"   ? 90 * kDegree
                         : m_name == "size" ? 0.5
                                            : std::max(50.0, 0.5 * std::abs(m_most));
    if (m_most - m_least < 0.2 * usual) m_least -= usual / 2, m_most += usual / 2;
    const double room = 0.12 * (m_most - m_least);
    m_least -= room;
    m_most += room;
}

double ProfileLane::y(double v) const { return m_lane.bottom() - (v - m_least) / (m_most - m_least) * m_lane.height(); }
double ProfileLane::valueAt(double y) const {
    return m_least + (m_lane.bottom() - y) / m_lane.height() * (m_most - m_least);
}

double ProfileLane::rounded(double v) const {
    const double unit = m_name == "roll" ? kDegree : 1, pixel = (m_most - m_least) / m_lane.height() / unit;
    const double step = std::pow(10, std::ceil(std::log10(pixel) - tolerance::rounding)) * unit;
    return std::round(v / step) * step;
}

QString ProfileLane::text(double v) const { return profile_keys::valueText(m_name, v, m_unit); }

int ProfileLane::keyAt(const StripMap& map, const QPointF& at) const {
    int best = -1;
    double nearest = 8;
    for (size_t i = 0; i < m_profile.keys.size(); ++i) {
        const double x = map.x(stationOf(m_profile, i, m_length));
        const double d = std::hypot(at.x() - x, at.y() - y(m_profile.keys[i].value));
        if (d < nearest) nearest = d, best = int(i);
    }
    return best;
}

void ProfileLane::paint(QPainter& p, const StripMap& map, int active) const {
    p.setRenderHint(QPainter::Antialiasing);
    const double none = otherwiseOf(m_name);
    if (m_name != "pitches" && none > m_least && none < m_most) { // as without any key
        p.setPen(QPen(theme::line(), 1, Qt::DashLine));
        p.drawLine(QPointF(map.left, y(none)), QPointF(map.left + map.width, y(none)));
    }
    QPainterPath line;
    const double from = std::max(0.0, map.station(map.left)),
                 to = std::min(m_length, map.station(map.left + map.width));
    const int n = std::max(2, int((to - from) / map.perPixel));
    for (int i = 0; i <= n; ++i) {
        const double s = from + (to - from) * i / n;
        const QPointF at(map.x(s), y(m_curve.at(s)));
        i ? line.lineTo(at) : line.moveTo(at);
    }
    p.setPen(QPen(m_profile.empty() ? theme::muted() : theme::accent(), 1.6));
    p.setBrush(Qt::NoBrush);
    p.drawPath(line);
    p.setFont(theme::font(11));
    const QFontMetricsF metrics(p.font());
    double free = -1e9; // labels do not overlap
    for (size_t i = 0; i < m_profile.keys.size(); ++i) {
        const QPointF at(map.x(stationOf(m_profile, i, m_length)), y(m_profile.keys[i].value));
        if (at.x() < map.left - 8 || at.x() > map.left + map.width + 8) continue;
        p.setPen(QPen(theme::accent(), 1.6));
        p.setBrush(int(i) == active ? theme::accent() : theme::paper());
        p.drawRect(QRectF(at - QPointF(4, 4), QSizeF(8, 8)));
        const QString words = text(m_profile.keys[i].value);
        const double w = metrics.horizontalAdvance(words);
        double x = at.x() + 8;
        if (x + w > map.left + map.width + 12) x = at.x() - w - 8;
        if (x < free) continue;
        p.setPen(theme::ink());
        p.drawText(QPointF(x, at.y() < m_lane.center().y() ? at.y() + 11 : at.y() - 3), words);
        free = x + w + 6;
    }
    if (!m_profile.empty()) return;
    p.setPen(theme::muted());
    p.drawText(m_lane.adjusted(16, -6, -16, 0), Qt::AlignTop | Qt::AlignLeft, QObject::tr("double-click sets a key"));
}

} // namespace vicinal
