#pragma once
// Rails straight from place to place, as a body; and what they are cut from.
#include "parts/body.h"
#include "parts/rails/section.h"
#include <string>

namespace vicinal {

/// One bar of a cut list.
struct RailBar {
    int rail = 0;       ///< which of the rails beside or above one another, from 0
    size_t piece = 0;   ///< from 0, along the rail
    double length = 0;  ///< mm, along its line
    double longest = 0; ///< mm, over all: what it is cut from
    /// Radians from square: marks on the upper face (plan) and on the left one (slope), as RailCut.
    double startPlan = 0, startSlope = 0, endPlan = 0, endSlope = 0;
    double twist = 0;  ///< radians, as RailPiece
    bool bent = false; ///< it is bent to its line: the length is that of the straight bar
};
/// Bars that are cut alike (lengths to 0.05 mm, angles to 0.05 degrees), with how many there are of each; in the order
/// in which they first come.
struct BarKind {
    RailBar bar;
    std::vector<size_t> which; ///< indices into the list
};
std::vector<BarKind> kindsOf(const std::vector<RailBar>&);

/// The plate that closes a piece at one of its cuts, square to it; `thick`: mm.
RailPiece capOf(const RailPiece&, const RailCut&, bool atStart, double thick);
/// The pieces as one body round `home`. The solid is built when it is asked for.
BodyPtr piecesBody(const std::vector<RailPiece>&, const RailFace&, const Vec3& home);

} // namespace vicinal
