#pragma once
// Sheets as files.
#include "base/result.h"
#include "exchange/sheet/sheet.h"

namespace vicinal {

/// All sheets as pages of one PDF: vectors stay vectors, text stays text (Vicinal Sans, embedded), page boxes exact.
/// Problem: text in a script that the font has not (which), no pages.
Result<std::string> pdfOf(const std::vector<Sheet>&, const std::string& title);

/// One sheet as SVG: its size in millimetres, lines and arcs as such, text as text, a group a layer.
std::string svgOf(const Sheet&, const std::string& title);

/// One sheet as DXF, mm: lines, arcs and circles as such, text as text, a layer each. Source of the shapes of the
/// records: the format's published reference.
Result<std::string> dxfOf(const Sheet&);

} // namespace vicinal
