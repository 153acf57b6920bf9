#pragma once
// Shared by the rules of spacing: the usable stretch of the path and the parts that are set along it. Not for others.
#include "base/say.h"
#include "layout/spacing/lineup.h"
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"

namespace vicinal::spacing {

/// What stands between neighbours: the clear gap along the path and the pitch along it, mm.
struct Range {
    double gapLeast = 0, gapMost = 0, pitchLeast = 0, pitchMost = 0;
};

/// What a rule measures along: the whole usable path, or one bay of it.
struct Ruler {
    const Path& path;
    const Spacing& spacing;
    const Lineup& lineup;
    double start = 0, usable = 0;      ///< mm
    bool closed = false;               ///< all the way round: the last place's neighbour is the first
    bool bounded = false;              ///< something stands at its ends: the first and last place keep their distance
    double faceStart = 0, faceEnd = 0; ///< how much of the path that takes up from the ends

    double end() const { return start + usable; }
    /// A station on the path; once round but for rounding is the seam itself.
    double wrap(double s) const;
    bool gaps() const { return spacing.measure == Measure::ClearGap; }
    bool straight() const { return spacing.along == Along::Straight; }
    /// Places have to be found one after the other: no one pitch along the path goes with the rule's number.
    bool stepwise() const;
    /// Length of path a place takes up: the same everywhere, or at the run's start.
    double partLength() const;
    /// The mean over path and pattern, where it varies.
    double meanLength() const { return straight() ? lineup.level() : lineup.mean(); }
    /// The rule's number as it is measured: its own, or the share of the part's length.
    double wanted(double own) const { return spacing.measure == Measure::OfLength ? spacing.ofLength : own; }
    /// The pitch that belongs to a measured number, about; exact when not stepwise.
    double pitchFor(double value) const;
    const char* field(const char* own) const { return spacing.measure == Measure::OfLength ? "ofLength" : own; }
    /// What is kept free at either end, in measured distances: 0, 1/2, 1.
    double lead(ShareEnds) const;
};
/// Problems of what all rules share: values that are no numbers, insets or a stretch that leave nothing.
Result<Ruler> rulerOf(const Path&, const Spacing&, const Lineup&);

/// Lengths of messages here: three decimals, fewer where they are zero.
inline Words mm(double v) { return Words::length(v, Words::Style::Decimals); }
Problem tooMany(double wanted, const char* field);

/// Goes from place to place by what the rule measures: pitch as share of length, clear gap, or chord. Stations are
/// unwrapped: on a closed path they go on beyond the length; beyond an open end the path goes on straight.
class Stepper {
public:
    explicit Stepper(const Ruler&);
    void startAt(double station);                  ///< place 0 stands there
    void startBefore(double station, double face); ///< something else does; place 0 is the next one
    /// The next place. Not a number when there is no way forward.
    double step(double value);
    /// How far beyond `last` one more step would lead, mm: 0 when place `n` would stand just there (`place`), or when
    /// what takes up `face` before `last` would.
    double missPlace(double value, double last, long n) const;
    double missFace(double value, double last, double face) const;

private:
    enum class Mode { Share, Gap, Chord };
    double distance(double value, double ahead, double behind) const;
    const Occupied& level(long i) const { return m_level[m_ruler.lineup.slot(i)]; }
    Occupied at(long i, double station) const;
    double chord(double length) const;

    const Ruler& m_ruler;
    Mode m_mode;
    std::vector<Occupied> m_level;
    std::vector<GapWalk> m_walks;
    long m_next = 0; ///< place that the next step sets
    double m_station = 0, m_front = 0;
    std::optional<double> m_face; ///< of what stands there, when it is no place of this run
};

/// What stepping off gives.
struct Walked {
    std::vector<double> at;
    double left = 0;    ///< beyond the last place up to the end, or to what stands there, mm; below 0 by rounding
    bool stuck = false; ///< somewhere there is no way forward
};
/// Steps off `value` from place 0 at `first` (bounded: from what stands at `first`) until `end`; at most `most` places.
Walked stepped(const Ruler&, double first, double value, double end, size_t most, std::vector<double> memory = {});
/// The same, with `spare` of what is left over in front of the run (0..1); sets leftOver.
Stations placed(const Ruler&, Walked, double value, double spare);
/// Count places shared equally: equal pitch, or whatever is measured. `uneven` is set, not measured.
Stations share(const Ruler&, ShareEnds, long count, std::vector<double> reuse = {});
/// Gaps and pitches of a result. On closed paths what a fixed pitch leaves over widens the last one.
Range rangeOf(const Ruler&, const Stations&);
double spareOf(LeftOver);

bool over(const Spacing&, const Range&);
bool under(const Spacing&, const Range&);

/// One rule, solved. `reuse`: as solveSpacing().
Result<Stations> solve(const StepOff&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const ShareOut&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const EvenOut&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const PinToPin&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const Graded&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const Listed&, const Ruler&, std::vector<double> reuse);
Result<Stations> solve(const Coupled&, const Ruler&, std::vector<double> reuse);
/// The count a rule would share out.
Result<long> countOf(const ShareOut&);
Result<long> countOf(const EvenOut&, const Ruler&);

} // namespace vicinal::spacing
