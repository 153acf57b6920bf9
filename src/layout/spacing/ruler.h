#pragma once
// Shared by the rules of spacing: the usable stretch of the path and the part that is set along it. Not for others.
#include "base/say.h"
#include "layout/spacing/spacing.h"

namespace vicinal::spacing {

struct GapRange {
    double least = 0, most = 0;
};

/// What a rule measures along.
struct Ruler {
    const Path& path;
    const Spacing& spacing;
    const Occupancy& part;
    double start = 0, usable = 0; ///< mm
    bool closed = false;

    /// A station on the path; once round but for rounding is the seam itself.
    double wrap(double s) const;
    /// Length of path a part takes up: the same everywhere, or at the run's start.
    double partLength() const { return part.constant() ? part.at(0).total() : part.at(wrap(start)).total(); }
    /// The mean over the path, where it varies.
    double meanLength() const { return part.mean(); }
    bool gaps() const { return spacing.measure == Measure::ClearGap; }
    /// Equal gaps are not an equal pitch.
    bool equalGaps() const { return gaps() && !part.constant(); }
};
/// Problems of what all rules share: values that are no numbers, insets that leave nothing.
Result<Ruler> rulerOf(const Path&, const Spacing&, const Occupancy&);

/// Lengths of messages here: three decimals, fewer where they are zero.
inline Words mm(double v) { return Words::length(v, Words::Style::Decimals); }
Problem tooMany(double wanted, const char* field);

/// Steps off `gap` from `first` until `end`; at most `most` places. Its last is not a number when there is no way
/// forward somewhere.
std::vector<double> stepped(const Ruler&, double first, double gap, double end, size_t most,
                            std::vector<double> memory = {});
/// Count places shared equally: equal pitch, or equal gaps where the part's length along the path varies.
/// `uneven` is set, not measured.
Stations share(const Ruler&, ShareEnds, long count, std::vector<double> reuse = {});
/// The clear gaps of a result. On closed paths what a fixed pitch leaves over widens the last one.
GapRange gapsOf(const Ruler&, const Stations&);

bool over(const Spacing&, const GapRange&);
bool under(const Spacing&, const GapRange&);

/// One rule, solved. `reuse`: as solveSpacing().
Result<Stations> solve(const StepOff&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const ShareOut&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const EvenOut&, const Ruler&, std::vector<double> reuse);
/// The count a rule would share out.
Result<long> countOf(const ShareOut&);
Result<long> countOf(const EvenOut&, const Ruler&);

} // namespace vicinal::spacing
