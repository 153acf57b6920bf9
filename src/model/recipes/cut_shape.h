#pragma once
// A body that a run of cutting shapes is cut out of, or raised on.
#include "base/describe.h"
#include "base/id.h"
#include "base/rule_words.h"

namespace vicinal {

enum class CutDoes { Cut, Raise };
enum class CutDepth { Through, Deep, AsItIs };
enum class CutWay { Crown, Face };

/// Follows the body and the run; both stay as they are. Echoes, rows, exceptions and sizes of the run count.
struct CutBy {
    Id of = 0;   ///< the body that is cut
    Id part = 0; ///< the part that is cut, where it is no body
    Id run = 0;  ///< whose parts cut
    CutDoes does = CutDoes::Cut;
    CutDepth depth = CutDepth::Through;
    double deep = 10; ///< mm, of Deep; how high where it raises
    CutWay way = CutWay::Crown;
    double clearance = 0; ///< mm, that the shapes are larger all round; below zero: smaller
    double least = 0;     ///< mm, webs that are narrower are said; 0: any
    bool operator==(const CutBy&) const = default;
};
template<class V, Describes<CutBy> C> void describe(V&& v, C& c) {
    v.item("of", "Body", "That is cut or raised on; it stays as it is, hide it to see this one alone", c.of,
           ItemOf::Body);
    if (c.of == 0) v.item("part", "Or part", "That is cut, where it is no body", c.part, ItemOf::Part);
    v.item("run", "By the run", "Whose parts are the cutting shapes, wherever it has a place", c.run, ItemOf::Run);
    v.choice("does", "Does", "Take away or put on", c.does,
             {{"cut", "cut away", "The shapes are taken out of the body", "cut away"},
              {"raise", "raise", "The shapes stand on the body and become one with it", "raised"}});
    v.choice(
        "depth", "How far", "Where the shapes begin and end", c.depth,
        {{"through", "through", "The outline of each part, through the whole body", "through"},
         {"deep", "to a depth", "The outline of each part, from its seat point down; raised: up", "to a depth"},
         {"as it is", "as the part is", "The part itself as it stands there, whatever its shape", "as the part is"}});
    if (c.depth == CutDepth::Deep)
        v.length("deep", c.does == CutDoes::Cut ? "Depth" : "Height",
                 "From the seat point, against the crown; raised: along it", c.deep);
    if (c.depth != CutDepth::AsItIs) {
        v.choice("way", "Along", "Which way it is cut", c.way,
                 {{"crown", "each crown", "Along the crown of each place", ""},
                  {"face", "the face", "Square to the body's own face where the place is nearest to it",
                   "square to the face"}});
        v.length("clearance", "Clearance", "The shapes are larger by it all round; below zero: smaller", c.clearance);
    }
    if (c.does == CutDoes::Cut)
        v.length("least", "Least web", "Webs that are narrower are marked; 0: none is", c.least);
}

} // namespace vicinal
