#pragma once
// When a moving run is where: its pace along the path, its stops.
#include "model/document/motion.h"
#include <functional>

namespace vicinal {

/// One pass along what a run can go along, from `low` to `high` mm. Between its breaks the run speeds up or slows down
/// evenly: v^2 is straight over the way, so that t = 2 x / (v0 + v1). It is never slower than a hundredth of its speed
/// but at stops.
class Timetable {
public:
    /// `stationOf`: of the first place, at a way. `length`, `closed`: of the path. Precondition: |speed| is above zero.
    Timetable(const Motion&, double speed, double low, double high, double length, bool closed,
              const std::function<double(double)>& stationOf);
    /// Time for all of it, with what is stood still, s.
    double whole() const { return m_stages.back().leaves; }
    /// When it goes on from there.
    double timeAt(double way) const;
    /// Within 0 and whole().
    double wayAt(double time) const;

private:
    struct Stage {
        double way, speed;      ///< mm, mm/s
        double arrives, leaves; ///< s
    };
    std::vector<Stage> m_stages;
};

/// True when a motion has the same speed everywhere.
inline bool steady(const Motion& m) { return m.pace.empty() && m.stops.empty(); }

} // namespace vicinal
