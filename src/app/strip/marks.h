#pragma once
#include "app/state/store.h"

namespace vicinal {

/// What stands at a station besides places: corners of the path, its seam, ends of the stretch, what the run is aimed
/// at, places that are special, exceptions that lost their place.
struct StripMark {
    enum Kind { Corner, Seam, Stretch, Aim, Special, LeftOut, Lost } kind = Corner;
    double station = 0;
    QString text; ///< in few words
    QString tip;
    int place = -1; ///< of Special and LeftOut
};

/// By station.
std::vector<StripMark> marksOf(const RunResult&, Unit);

} // namespace vicinal
