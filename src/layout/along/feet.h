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
void describe(const ValueVisitor&, Feet&);

/// What feet did to the places.
struct Dropped {
    std::vector<double> by;       ///< mm, one a body: upwards; 0 where there is no ground
    std::vector<size_t> without;  ///< places that have no ground over or under them: they stay on the path
    std::vector<size_t> overhung; ///< places under which the ground lies more than once: the uppermost counts
};

} // namespace vicinal
