#pragma once
// Feet on the ground: the path stays smooth, each place is dropped or raised onto a surface.
#include "base/describe.h"
#include "base/id.h"
#include "base/rule_words.h"
#include "geometry/mesh/ground.h"
#include <optional>
#include <span>
#include <vector>

namespace vicinal {

/// What a place's level goes by.
enum class FeetBy {
    Each, ///< its own ground
    Level ///< that of its bay: level there, and stepped at what ends the bays
};
/// Which ground of a bay its level is.
enum class BayLevel { Highest, Middle, Lowest };

struct Feet {
    Id ground = 0; ///< the site body; 0: the places stay on the path
    FeetBy by = FeetBy::Each;
    BayLevel level = BayLevel::Highest;
    double sunk = 0; ///< mm, into the ground; out of it below zero
    bool operator==(const Feet&) const = default;
};
template<class V, Describes<Feet> F> void describe(V&& v, F& f) {
    v.item("ground", "Ground", "The body that each place is dropped or raised onto, plumb; the path stays as it is",
           f.ground, ItemOf::Body);
    v.length("sunk", "Sunk by", "How deep the seat points are in the ground; below zero: how high above it", f.sunk);
    v.choice("feetBy", "Levels", "Each place by itself, or level in every bay and stepped at what ends it", f.by,
             {{"each", "each its own", "Every place stands on its own ground", "each on its own ground"},
              {"bay", "level bays", "All places of a bay stand at one level", "level in bays"}});
    v.choice("bayLevel", "At its ground's", "Which ground in a bay makes its level", f.level,
             {{"highest", "highest", "Nothing of the bay is under the ground", "highest"},
              {"middle", "middle", "Half-way between highest and lowest", "middle"},
              {"lowest", "lowest", "No gap under any place of the bay", "lowest"}});
}

/// What feet did to the places.
struct Dropped {
    std::vector<double> by;       ///< mm, one a body: upwards; 0 where there is no ground
    std::vector<size_t> without;  ///< places that have no ground over or under them: they stay on the path
    std::vector<size_t> overhung; ///< places under which the ground lies more than once: the uppermost counts
};

} // namespace vicinal
