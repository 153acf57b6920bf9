#pragma once
// Which place an exception is about.
#include "layout/along/changes.h"
#include <span>

namespace vicinal {

/// The stations of a run's first row, and what tells near from far on them.
struct RowStations {
    std::span<const double> at;
    double pitch = 0, length = 0; ///< mm; of the path
    bool closed = false;
    size_t numbered = 0; ///< places that have a number of their own: more than `at` where rows have other places
};
/// Index of the place that the exception is bound to: by its number, or the nearest one within half a pitch of its
/// station. Nothing when that place is no longer there.
std::optional<size_t> placeOf(const Exception&, const RowStations&);

} // namespace vicinal
