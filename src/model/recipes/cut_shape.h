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
    static constexpr const char* kKind = "cut"; ///< in files
    static constexpr const char* kNeeds[] = {"run", "part or of"};
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
void describe(const ValueVisitor&, CutBy&);

} // namespace vicinal
