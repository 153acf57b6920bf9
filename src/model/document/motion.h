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
template<class V, Describes<Motion> M> void describe(V&& v, M& m) {
    v.flag("moves", "Moves along", "The run moves along its path when the clock runs", m.moves);
    v.choice("motionBy", "Speed by", "What the speed is counted in", m.by,
             {{"speed", "length", "Length of path a second", ""}, {"places", "places", "Places a second", ""}});
    v.length("speed", "Speed", "Along the path, a second; below zero back", m.speed);
    v.number("placesASecond", "Places a second", "Below zero back", m.places);
    v.choice("motionWay", "At the end", "What happens where there is no way on", m.way,
             {{"round", "round", "On and on; on an open path from its start again", ""},
              {"to and fro", "to and fro", "Back again, and so on", ""},
              {"once", "once", "It stays there", ""}});
    v.profile("pace", "Pace along", "Share of the speed, by the station of the first place: 1 is all of it", m.pace,
              ProfileOf::Factor);
    v.stations("stops", "Stops at", "Stations of the first place at which the run stands for a while", m.stops);
    v.number("dwell", "For seconds", "How long it stands at each stop", m.dwell);
    v.length("ramp", "Slows over", "The way over which it slows down to a stop, and gets up to speed behind it",
             m.ramp);
}

/// False for values that have no effect with the other ones as they are.
inline bool counts(const Motion& m, const std::string& key) {
    if (key == "moves") return true;
    if (key == "dwell" || key == "ramp") return m.moves && !m.stops.empty();
    return m.moves && (key == "speed" ? m.by == MotionBy::Speed : key != "placesASecond" || m.by == MotionBy::Places);
}

} // namespace vicinal
