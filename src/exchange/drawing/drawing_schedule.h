#pragma once
// The schedule of a drawing: every place a row, in columns beside one another on sheets of its own.
#include "exchange/out/export_set.h"
#include "exchange/sheet/sheet.h"
#include <functional>

namespace vicinal {

/// Adds the sheets it takes. from: upper left corner of what a sheet has room for, mm; fresh: an empty sheet with its
/// frame, called when those before it are in `out`. Sizes have a column where they differ. False: it was cut off after
/// kMostListed rows (drawing.h).
bool scheduleOn(std::vector<Sheet>& out, const ExportSet& goods, const Vec2& from, const Vec2& room,
                const std::function<Sheet()>& fresh);

} // namespace vicinal
