#pragma once
// A marking tape: a run's stations at full size on strips, to be laid along or wound round the real thing.
#include "exchange/drawing/template.h"

namespace vicinal {

struct TapeOrder {
    Paper paper = Paper::A4; ///< not a roll
    bool landscape = true;
    double height = 18;              ///< mm, of a strip
    double margin = 8, overlap = 12; ///< mm; what a strip shares with the next
    double barAcross = 100;          ///< mm that the bar of an earlier print measured
    bool operator==(const TapeOrder&) const = default;
};
template<class V, Describes<TapeOrder> T> void describe(V&& v, T& t) {
    v.choice("paper", "Paper", "The size of a page", t.paper, {"A4", "A3", "A2", "letter"});
    v.flag("landscape", "Landscape", "The long side across: longer strips", t.landscape);
    v.length("height", "Tape height", "Of a strip", t.height);
    v.length("margin", "Margin", "What the printer leaves free at each side", t.margin);
    v.length("overlap", "Overlap", "What a strip shares with the next one, to be glued", t.overlap);
    v.length("barAcross", "Bar measured", "What the bar of the last print measured; 100: nothing to correct",
             t.barAcross);
}

struct Tape {
    std::vector<Sheet> pages;
    long strips = 0;
    double length = 0; ///< mm
};
/// Ticks and lengths in millimetres; the stretch that each place takes up with its number, the clear gaps between them,
/// the part where it changes; start, end or seam; where strips join. The first row of the run. Problem as of templates.
Result<Tape> tapeOf(const RunResult&, const TapeOrder&);

} // namespace vicinal
