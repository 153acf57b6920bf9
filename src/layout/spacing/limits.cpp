#include "layout/spacing/limits.h"
#include "base/vec.h"
#include "layout/spacing/rule_kind.h"

namespace vicinal {
namespace {

bool above(double v, const std::optional<double>& limit) { return limit && v > *limit + tolerance::length; }
bool below(double v, const std::optional<double>& limit) { return limit && v < *limit - tolerance::length; }

} // namespace

bool SpacingLimits::gapOver(double gap) const { return above(gap, gapMost); }
bool SpacingLimits::gapUnder(double gap) const { return below(gap, gapLeast); }
bool SpacingLimits::overlaps(double gap) const { return !overlap && gap < -tolerance::length; }
bool SpacingLimits::pitchOver(double pitch) const { return above(pitch, pitchMost); }
bool SpacingLimits::pitchUnder(double pitch) const { return below(pitch, pitchLeast); }

bool isLinked(const Spacing& s) { return kindOf(s).linked(); }

bool mayOverlap(const Spacing& s) { return isLinked(s) || (s.measure == Measure::OfLength && s.ofLength < 1); }

SpacingLimits limitsOf(const Spacing& s) {
    SpacingLimits out{s.gapAtLeast, s.gapAtMost, s.pitchAtLeast, s.pitchAtMost, mayOverlap(s)};
    if (isLinked(s)) out.gapLeast = out.gapMost = std::nullopt;
    return out;
}

} // namespace vicinal
