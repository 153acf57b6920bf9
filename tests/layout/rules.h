#pragma once
// Paths with one curvature and rules with one value, that several tests of spacing share.
#include "layout/facing/facing.h"
#include "layout/placement_input.h"
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"
#include "support.h"

namespace vicinal::test {

inline Path straight(double length) { return pathOf({Line{{0, 0, 0}, {length, 0, 0}}}); }
/// By its length, in plan about the origin.
inline Path roundPath(double length) {
    return pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), length / (2 * kPi), 2 * kPi}}, true);
}
inline Spacing stepOff(double pitch, LeftOver left = LeftOver::AtEnd) {
    Spacing s;
    s.rule = StepOff{pitch, left};
    return s;
}
inline Spacing shareOut(long count, ShareEnds ends = ShareEnds::AtEnds) {
    Spacing s;
    s.rule = ShareOut{count, ends};
    return s;
}
inline Spacing evenOut(double about) {
    Spacing s;
    s.rule = EvenOut{about};
    return s;
}

} // namespace vicinal::test
