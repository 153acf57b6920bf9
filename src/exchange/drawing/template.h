#pragma once
// Templates at full size: the places of runs on paper, 1:1, over as many pages as it takes, with the proof of scale.
#include "base/describe.h"
#include "base/job.h"
#include "base/rule_words.h"
#include "exchange/drawing/sheet.h"
#include "exchange/out/send_out.h"

namespace vicinal {

enum class TemplatePlane { Plan, Front, Side, Unrolled };
enum class TemplateShows { Outlines, Holes, Marks };
enum class Paper { A4, A3, A2, Letter, Roll };

struct TemplateOrder {
    TemplatePlane plane = TemplatePlane::Plan;
    TemplateShows shows = TemplateShows::Outlines;
    bool numbers = true, noses = true, paths = true;
    Paper paper = Paper::A4;
    bool landscape = false;
    double roll = 610;                   ///< mm, width of Paper::Roll; as long as it takes
    double margin = 8, overlap = 12;     ///< mm: what a printer leaves free; what neighbours share
    bool mirrored = false;               ///< for the underside
    double barAcross = 100, barUp = 100; ///< mm that the bars of an earlier print measured
    bool operator==(const TemplateOrder&) const = default;
};
template<class V, Describes<TemplateOrder> T> void describe(V&& v, T& t) {
    v.choice("plane", "Plane", "What the paper lies on", t.plane,
             {{"plan", "plan", "Seen from above", ""},
              {"front", "front", "Seen from the front", ""},
              {"side", "side", "Seen from the side", ""},
              {"unrolled", "unrolled", "Along the path pulled straight", ""}});
    v.choice("shows", "Shows", "What of each place is drawn", t.shows,
             {{"outlines", "outlines", "The outline of each part", ""},
              {"holes", "holes", "Only what is cut out of the parts, and parts that are holes", ""},
              {"marks", "marks", "Only a cross where each place is", ""}});
    v.flag("numbers", "Numbers", "The number of each place", t.numbers);
    v.flag("noses", "Noses", "A tick that shows which way each part faces", t.noses);
    v.flag("paths", "Path", "The path with its stations", t.paths);
    v.choice("paper", "Paper", "The size of a page", t.paper, {"A4", "A3", "A2", "letter", "roll"});
    v.flag("landscape", "Landscape", "The long side across", t.landscape);
    v.length("roll", "Roll width", "Of a roll; it is as long as it takes", t.roll);
    v.length("margin", "Margin", "What the printer leaves free at each side", t.margin);
    v.length("overlap", "Overlap", "What neighbouring pages share, to be glued", t.overlap);
    v.flag("mirrored", "Mirrored", "The mirror image, for the underside", t.mirrored);
    v.length("barAcross", "Bar across measured",
             "What the level bar of the last print measured; 100: nothing to correct", t.barAcross);
    v.length("barUp", "Bar up measured", "What the upright bar of the last print measured", t.barUp);
}
bool counts(const TemplateOrder&, const std::string& key);

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
Result<Template> templateOf(const Runs&, const TemplateOrder&, const std::string& title, const Stop* = nullptr);

} // namespace vicinal
