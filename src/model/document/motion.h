#pragma once
// How a run moves along its path. A document says it; where a run stands at a time is worked out, and never stored.
#include "base/describe.h"
#include "base/rule_words.h"
#include "layout/along/profile.h"

namespace vicinal {

enum class MotionBy { Speed, Places };
/// What happens where there is no way on: on an open path at its ends, on a closed one after once round.
enum class MotionWay { Round, ToAndFro, Once };
struct Motion {
    bool moves = false;
    MotionBy by = MotionBy::Speed;
    double speed = 200; ///< mm/s along the path; below zero back
    double places = 1;  ///< places (by their pitch) a second instead
    MotionWay way = MotionWay::Round;
    Profile pace{};              ///< share of the speed along the path, by the station of the first place
    std::vector<double> stops{}; ///< stations of the first place at which the run stands for a while
    double dwell = 3;            ///< s, at each stop
    double ramp = 500;           ///< mm over which it slows down to a stop and gets up to speed behind it
    bool operator==(const Motion&) const = default;
};
void describe(const ValueVisitor&, Motion&);

/// False for values that have no effect with the other ones as they are.
inline bool counts(const Motion& m, const std::string& key) {
    if (key == "moves") return true;
    if (key == "dwell" || key == "ramp") return m.moves && !m.stops.empty();
    return m.moves && (key == "speed" ? m.by == MotionBy::Speed : key != "placesASecond" || m.by == MotionBy::Places);
}

} // namespace vicinal
