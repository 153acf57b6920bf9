#pragma once
// Drawings: views at a scale with hidden lines removed, dimensions, parts, schedule, title block.
#include "exchange/out/export_set.h"
#include "exchange/sheet/sheet.h"

namespace vicinal {

struct Drawing {
    std::vector<Sheet> sheets;  ///< the views first, then parts and schedule
    double scale = 1;           ///< 1 : scale
    std::vector<Words> remarks; ///< what the paper cannot show as it is
};
inline constexpr size_t kMostDrawn = 20'000; ///< bodies in a view
inline constexpr size_t kMostListed = 4000;  ///< rows of a drawing's schedule

/// Problem (`field` as described): no view, nothing in it, a scale that is not believable or does not fit (which one
/// would), stopped.
Result<Drawing> drawingOf(const ExportSet&, const DrawingOrder&,
                          const std::vector<std::pair<std::string, std::string>>& fields, const std::string& title,
                          Job* = nullptr);

/// A line picture: edges alone, seen from a side, fitted into width by height (pixels, as mm of the sheet).
Result<Sheet> linePictureOf(const ExportSet&, const PictureOrder&, Job* = nullptr);

} // namespace vicinal
