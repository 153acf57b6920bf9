#pragma once
// Where to look at a place that a check names.
#include "model/verdicts/checked.h"

namespace vicinal {

struct Sight {
    Vec3 at = Vec3::Zero();        ///< what is looked at
    double radius = 100;           ///< mm round it that have to be seen
    Vec3 toEye = Vec3(0, -1, 0.3); ///< unit: from there to whoever looks
};
/// From the side from which the two nearest points (or the ball, or the part) are seen apart and, where there is one,
/// with nothing before them.
Sight sightOf(const Evaluation&, const RunResult&, const CheckResult&, const CheckedPlace&);

/// Bodies round a point that have to do with it, the place's own and the other's first: indices into the bodies of
/// each.
struct NearBody {
    std::shared_ptr<const Standing> of;
    size_t body = 0;
};
std::vector<NearBody> bodiesNear(const Evaluation&, const Vec3& at, double radius, size_t most = 60);

} // namespace vicinal
