#pragma once
// Rails straight from place to place: the pieces, how each end is cut, and how long they are.
#include "base/result.h"
#include "base/vec.h"
#include <span>
#include <vector>

namespace vicinal {

/// What a section reaches: the hull of its points, grown by a radius (a round bar: one point and its radius). Across
/// the rail, mm: x to the left, y up, from the line that runs through the places.
struct RailSection {
    std::vector<Vec2> points{Vec2::Zero()};
    double radius = 0;
};

/// How two pieces meet at a place.
enum class RailJoint {
    Mitred,     ///< both cut in the plane that halves the angle between them
    Butted,     ///< both cut square, as long as they can be without running into each other
    Overlapping ///< both cut square and run on past the place; every other piece lies above the line
};

struct RailOrder {
    RailJoint joint = RailJoint::Mitred;
    double gap = 0;     ///< mm, between two pieces that are mitred or butted; zero or more
    double overlap = 0; ///< mm, how far a piece runs on past a place where they overlap; zero or more
    bool closed = false;
};

/// One end of a piece.
struct RailCut {
    Vec3 normal; ///< of the plane it is cut in, unit, away from the piece
    double at;   ///< mm, from the first place along the piece to where its line meets that plane
    /// Radians, of the marks on its upper face (plan) and on its left face (slope) from square. Positive where the cut
    /// is farther out on the right, and lower down. At a level joint `plan` is half the turn to the left; where only
    /// the slope changes `slope` is half of what it grows by.
    double plan = 0, slope = 0;
};

struct RailPiece {
    Vec3 from; ///< the first of its two places, moved up where pieces overlap
    Mat3 axes; ///< columns: along, left, up
    RailCut start, end;
    double length = 0;  ///< mm, along its line, from cut to cut
    double longest = 0; ///< mm, over all: what it is cut from
    double twist = 0;   ///< radians: how far the next piece's section is turned against this one's in the joint behind
                        ///< it, so that their edges miss each other; 0 for all that bends in plan or in slope only
};

/// Pieces between places that follow each other; closed: one more, back to the first.
/// `ups`: directions that are up for the rail at each place (they carry a roll), or none: plumb. A piece takes the mean
/// of its two, square to itself.
/// Problem: fewer than two places (closed: three); two on one another, or a number out of reach ("places"); a piece
/// along its own up ("ups"); a joint that turns back so sharply, or lies so near the next one, that nothing is left of
/// a piece
/// ("joint"); a gap or overlap below zero ("gap", "overlap").
/// Source: elementary; the mitre plane's normal is the sum of both directions, and a plane n . x = 0 is marked on a
/// face spanned by e (along) and f at atan(n.f / n.e) from square.
Result<std::vector<RailPiece>> straightRails(std::span<const Vec3> places, std::span<const Vec3> ups,
                                             const RailSection&, const RailOrder&);

/// A point of a piece: `across` in its section, `share` of the way from its start (0) to its end (1). What it makes of
/// a prism's points is the piece, cut.
Vec3 pointOn(const RailPiece&, const Vec2& across, double share);

} // namespace vicinal
