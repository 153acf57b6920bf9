#pragma once
// Lists as tables: the schedule, the cut list, running dimensions; as CSV, JSON or a spreadsheet.
#include "exchange/out/export_set.h"
#include <functional>
#include <span>

namespace vicinal {

struct ListColumn {
    std::string name;    ///< "x"
    std::string unit{};  ///< "mm"; empty: none
    bool isText = false; ///< else numbers
    int decimals = 6;    ///< in text files and on screen
};
struct Cell {
    const std::string* text = nullptr;
    double number = 0;
    bool empty = false;
};
/// A table whose rows are made as they are asked for.
struct List {
    std::string title;
    std::vector<ListColumn> columns;
    /// Hands every row to `use`, which says false to end it. The cells live as long as the call.
    std::function<void(const std::function<bool(std::span<const Cell>)>& use)> rows;
    std::vector<Words> remarks;
};

/// Places: as the setting-out schedule, with the columns that are asked for, coordinates from the order's origin and
/// north. Parts: one row a part and size, lengths in mm, weights in kg, and a last row with all. Running: start, places
/// with back and front, gaps, end or seam; of the first row of each run. Bars: of rails, angles in degrees. Webs: of
/// what is cut. The goods must outlive it. Problem ("of"): nothing to list.
Result<List> listOf(const ExportSet&, const ScheduleOrder&);

/// Stopped: what is there so far.
std::string csvOf(const List&, const Stop* = nullptr);
/// An object {"units", "angles", "rows": [...]}; numbers that read back exactly.
std::string jsonOf(const List&, const Stop* = nullptr);
/// OpenDocument 1.2 spreadsheet; a new sheet after a million rows.
Result<std::string> odsOf(const List&, const Stop* = nullptr);

} // namespace vicinal
