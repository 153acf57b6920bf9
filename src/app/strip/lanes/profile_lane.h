#pragma once
#include "app/strip/strip_map.h"
#include "base/quantity.h"
#include "model/edits/profile_edits.h"
#include <QRectF>
#include <QString>

class QPainter;

namespace vicinal {

/// One profile drawn over the strip's stations: its curve and its keys. A plain value.
class ProfileLane {
public:
    /// `range`: the values its height shows, least and most; those of the keys with some room when there is none (while
    /// a key is dragged the range stays).
    ProfileLane(const Profile&, std::string name, const QRectF& lane, double length, bool closed, Unit,
                const std::optional<std::pair<double, double>>& range);
    std::pair<double, double> range() const { return {m_least, m_most}; }
    void paint(QPainter&, const StripMap&, int activeKey) const;
    /// The key within a few pixels of a spot; -1 when there is none.
    int keyAt(const StripMap&, const QPointF&) const;
    double valueAt(double y) const;
    double valueOf(double station) const { return m_curve.at(station); }
    /// Whole numbers as fine as a pixel, for drags.
    double rounded(double value) const;
    QString text(double value) const; ///< with its unit

private:
    double y(double value) const;
    Profile m_profile;
    std::string m_name;
    QRectF m_lane;
    double m_length;
    ProfileCurve m_curve;
    Unit m_unit;
    double m_least, m_most;
};

} // namespace vicinal
