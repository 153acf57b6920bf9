#include "layout/along/bound_exceptions.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

std::optional<size_t> placeOf(const Exception& e, const RowStations& row) {
    if (!e.station)
        return e.place >= 1 && size_t(e.place) <= std::max(row.numbered, row.at.size())
                   ? std::optional(size_t(e.place) - 1)
                   : std::nullopt;
    std::optional<size_t> best;
    double least = std::max(row.pitch / 2, tolerance::length) * (1 + tolerance::rounding);
    for (size_t i = 0; i < row.at.size(); ++i) {
        double d = std::abs(row.at[i] - *e.station);
        if (row.closed) d = std::min(d, row.length - d);
        if (d < least) least = d, best = i;
    }
    return best;
}

} // namespace vicinal
