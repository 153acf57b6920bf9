#pragma once
// The limits of gaps and pitches, judged here for all who ask: rules that keep them, the table of counts, the verdict,
// the selection, the strip.
#include <optional>

namespace vicinal {

struct Spacing; // layout/spacing/rules.h

/// mm, within tolerance::length.
struct SpacingLimits {
    std::optional<double> gapLeast, gapMost; ///< none of what is joined: it has joints, no gap along
    std::optional<double> pitchLeast, pitchMost;
    bool overlap = false; ///< parts may

    bool gapOver(double gap) const;
    bool gapUnder(double gap) const; ///< the limit, that is: see overlaps()
    bool overlaps(double gap) const; ///< and must not
    bool gapBroken(double gap) const { return gapOver(gap) || gapUnder(gap) || overlaps(gap); }
    bool pitchOver(double pitch) const;
    bool pitchUnder(double pitch) const;
};
SpacingLimits limitsOf(const Spacing&);

/// Joined to their neighbours, at pins or couplings: such parts have joints, and no gap along.
bool isLinked(const Spacing&);
/// True for rules whose parts overlap by nature: what is joined, and shares of the length below 1.
bool mayOverlap(const Spacing&);

} // namespace vicinal
