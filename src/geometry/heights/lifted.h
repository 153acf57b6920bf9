#pragma once
#include "base/job.h"
#include "geometry/path/path.h"

namespace vicinal {

/// Which strand lies on top where a path crosses itself.
enum class OnTop {
    Later,      ///< the one farther along the path: it was laid last
    Earlier,    ///< the other one
    Alternating ///< over, under, over as one goes along
};
struct LiftOrder {
    double thickness = 20; ///< mm that strands keep from one another, middle to middle
    double ease = 100;     ///< mm of way from level to lifted, where there is room
    OnTop top = OnTop::Later;
    std::vector<long> switched{}; ///< numbers of crossings, from 1, that are the other way round
};
/// Where strands cross, or run along one another nearer than the thickness.
struct StrandCrossing {
    double upper = 0, lower = 0; ///< stations of the source, of the strand on top and the other one
    bool other = false;          ///< `lower` (or, where it passes beneath, the upper one) is of the other path
    bool beneath = false;        ///< of another path: this one passes beneath it
    bool along = false;          ///< they run along one another
    Vec3 at = Vec3::Zero();      ///< on the strand that is lifted, after that
    double lift = 0;             ///< mm that it is raised by there; lowered below zero
};
struct LiftedPath {
    std::vector<Segment> segments;
    bool closed = false;
    std::vector<StrandCrossing> crossings; ///< in order along the path, by their first strand
    double least = 0;                      ///< mm; the least distance of any two strands that were nearer before
    double shortest =
        0; ///< mm it is eased over where that is less than wished, since crossings are close; 0: as wished
    std::vector<double> hairpins{}; ///< stations where it turns back sharper than the thickness: there strands touch
};

/// The path with its strands over one another: raised plumb, by a bump that is flat over the crossing and eased by the
/// quintic 6x^5 - 15x^4 + 10x^3 (no jump of slope or curvature at its ends), until every two points on different
/// strands are the thickness apart. `other`: a path that stays as it is; this one passes over it (switched: beneath).
/// Far from crossings it is the same curve; where it is lifted within 1e-3 mm.
/// Problem ("thickness", "ease"): not numbers above zero; a crossing that has too little way to rise (says the least).
Result<LiftedPath> liftedOver(const Path&, const LiftOrder&, const Path* other = nullptr, const Stop* = nullptr);

} // namespace vicinal
