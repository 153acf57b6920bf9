#pragma once
#include "app/strip/strip_map.h"
#include "model/verdicts/checked.h"
#include <QRectF>
#include <QString>
#include <functional>
#include <set>

class QPainter;

namespace vicinal {

/// What one pixel column of a check's lane shows: never better than the worst value in it.
struct CheckColumn {
    int worst = -1; ///< index into CheckResult::places; -1: nothing was measured there
    double least = 0, most = 0;
};

/// One check over the strip's stations, against its limits. A plain value.
class CheckLane {
public:
    CheckLane(const CheckResult&, const RunResult&, const StripMap&, const QRectF& lane);
    /// One entry per pixel from the map's left on.
    const std::vector<CheckColumn>& columns() const { return m_columns; }
    /// `selected`: places to stand out; `say`: words in the document's unit.
    void paint(QPainter&, const std::set<int>& selected, bool stale,
               const std::function<QString(const Words&)>& say) const;
    /// The measured place under a pixel, the worst of a few round it; -1: none.
    int at(double px) const;
    /// From where to where on the path a measured place goes.
    std::pair<double, double> stretch(const CheckedPlace&) const;

private:
    double y(double value) const;
    const CheckResult& m_result;
    const RunResult& m_run;
    const StripMap& m_map;
    QRectF m_lane;
    double m_top = 1, m_bottom = 0; ///< values at the lane's edges
    std::vector<CheckColumn> m_columns;
};

} // namespace vicinal
