#pragma once
// Templates at full size: the places of runs on paper, 1:1, over as many pages as it takes, with the proof of scale.
#include "base/job.h"
#include "exchange/out/send_out.h"
#include "exchange/sheet/sheet.h"
#include "model/delivery/orders.h"
#include "parts/makers/maker.h"

namespace vicinal {

/// Page size, mm, as it lies.
Vec2 paperSize(const TemplateOrder&);

/// The drawing and how it is cut into pages.
struct Template {
    Sheet whole;                ///< uncut: its own size, without proof of scale; what SVG and DXF hold
    Vec2 origin = Vec2::Zero(); ///< of the whole sheet in the plane, mm
    long columns = 1, rows = 1;
    struct Tile {
        std::string name;
        Vec2 from, to; ///< what it shows of the whole sheet, mm of the real thing
        bool empty = false;
    };
    std::vector<Tile> tiles;    ///< all of them, row by row from below
    Vec2 covers = Vec2::Zero(); ///< what they reach over together, mm of the real thing
    std::vector<Sheet> pages;   ///< the map first where there are several; those without ink are not among them
    long empty = 0;             ///< pages that were left out
    std::vector<Words> remarks; ///< what the paper cannot show as it is
};
inline constexpr long kMostPages = 400;

/// Problem (`field` as described): paper that leaves nothing between its margins, an overlap wider than half of that,
/// corrections that are not believable (beyond 10 %), nothing in the plane, more than kMostPages.
/// `lines`: paths that are drawn as lines of their own, whole.
Result<Template> templateOf(const Standings&, const TemplateOrder&, const std::string& title, const Stop* = nullptr,
                            const std::vector<std::shared_ptr<const PathResult>>& lines = {});

} // namespace vicinal
