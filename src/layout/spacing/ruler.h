#pragma once
// Shared by the rules of spacing: the usable stretch of the path and the parts that are set along it. Not for others.
#include "base/say.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"
#include "layout/spacing/walk/lineup.h"
#include <cmath>
#include <functional>
#include <limits>

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

    long firstPlace = 0;                             ///< number in the run, from 0, of the place that is number 0 here
    long count = -1;                                 ///< how many places there are, where that is known
    bool finalBay = true;                            ///< the last place is the run's
    std::optional<std::uint16_t> atStart{}, atEnd{}; ///< slots of places that stand at the ends already: of other bays
    std::vector<long> corners{};                     ///< places, from 0 here, that have the corner's part; rising

    /// Which part place i has, from 0 here. `corner`: as if it stood on one.
    std::uint16_t slot(long i, bool corner = false) const;
    size_t index(long i, bool corner = false) const { return lineup.indexAt(slot(i, corner), firstPlace + i); }
    const Occupancy& part(long i) const { return lineup.parts()[index(i)]; }
    std::optional<double> pins(long i) const { return lineup.pins(slot(i)); }
    bool onCorner(double station) const; ///< unwrapped
    /// A single part, and no place is special.
    bool plain() const { return lineup.single() && lineup.special().none(); }

    double end() const { return start + usable; }
    /// The same with these places; one that does not stand at the end after all has no part of the place there.
    Ruler with(std::span<const double> places) const {
        Ruler out = *this;
        out.count = long(places.size());
        if (!places.empty() && end() - places.back() > tolerance::length) out.atEnd.reset();
        return out;
    }
    /// A station on the path; once round but for rounding is the seam itself.
    double wrap(double s) const;
    bool gaps() const { return spacing.measure == Measure::ClearGap; }
    bool straight() const { return spacing.along == Along::Straight; }
    /// Places have to be found one after the other: no one pitch along the path goes with the rule's number.
    bool stepwise() const;
    /// Length of path a place takes up: the same everywhere, or at the run's start.
    double partLength() const;
    /// The mean over path and pattern, where it varies.
    double meanLength() const { return lineup.mean(); }
    /// What a place takes up, by its index into the lineup's parts, as the rule measures it.
    Occupied taken(size_t part, double station) const {
        const Occupancy& o = lineup.parts()[part];
        return straight() ? o.straightAt(wrap(station)) : o.at(wrap(station));
    }
    /// The rule's number as it is measured: its own, or the share of the part's length.
    double wanted(double own) const { return spacing.measure == Measure::OfLength ? spacing.ofLength : own; }
    /// The pitch that belongs to a measured number, about; exact when not stepwise. And the other way round.
    double pitchFor(double value) const;
    double numberFor(double pitch) const;
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
    /// How far beyond `last` one more step would lead, mm along the path: 0 when place `n` would stand just there
    /// (`place`), or when what takes up `face` before `last` would. Not a number where there is no such step.
    double missPlace(double value, double last, long n) const;
    double missFace(double value, double last, double face) const;
    /// Where a step leads to a corner with the part that stands on corners, that part is taken; else the one that would
    /// stand there anyway. For rules that step off; the others know beforehand which places stand on corners.
    void lookForCorners() { m_looks = m_ruler.lineup.special().corner.has_value(); }
    const std::vector<long>& corners() const { return m_corners; }

private:
    bool m_looks = false;
    enum class Mode { Share, Gap, Chord };
    double distance(double value, double ahead, double behind) const;
    Occupied at(long i, double station, bool corner = false) const;
    double aheadHere() const;
    double farOff(double length) const;
    double beyond(double length, double last) const;
    GapWalk& walk(size_t index);
    double stepTo(double value, bool corner);

    bool found(long i) const { return !m_corners.empty() && m_corners.back() == i; }

    const Ruler& m_ruler;
    Mode m_mode;
    std::vector<std::optional<GapWalk>> m_walks; ///< by index into the lineup's parts, as they are needed
    double m_began = 0;
    long m_next = 0;             ///< place that the next step sets
    std::vector<long> m_corners; ///< places that came to stand on a corner, with its part
    double m_station = 0, m_front = 0;
    std::optional<double> m_face; ///< of what stands there, when it is no place of this run
};

/// The first station beyond `from` where nothing is missing, by steps of half of what is: `missing` (mm) of a length
/// that what stands at a station asks for. Where that jumps, on the corner or just beyond it. Not a number where there
/// is none.
double firstKept(const Ruler&, double from, const std::function<double(double)>& missing);
/// The same where it is known where a step would lead if what stands at a station stood there: most often one leads to
/// the other at once.
template<class With, class Missing>
double whereItLeads(const Ruler& ruler, double from, With&& with, Missing&& missing) {
    double x = with(from);
    for (int round = 0; round < 16 && !std::isnan(x); ++round) {
        const double to = with(x);
        if (std::abs(to - x) < tolerance::station / 4) {
            if (ruler.onCorner(to) && missing(to) > tolerance::rounding)
                break; // what stands just on it takes another length
            return to;
        }
        x = to;
    }
    return firstKept(ruler, from, missing);
}

/// What stepping off gives.
struct Walked {
    std::vector<double> at;
    double left = 0;    ///< beyond the last place up to the end, or to what stands there, mm; below 0 by rounding
    bool stuck = false; ///< somewhere there is no way forward
    std::vector<long> corners{}; ///< places that stand on a corner, with its part
};
/// The slots of so many places, where any is special; else empty.
std::vector<std::uint16_t> slotsOf(const Ruler&, size_t count);

/// Steps off `value` from place 0 at `first` (bounded: from what stands at `first`) until `end`; at most `most` places.
Walked stepped(const Ruler&, double first, double value, double end, size_t most, std::vector<double> memory = {});
/// The same, with `spare` of what is left over in front of the run (0..1); sets leftOver.
Stations placed(const Ruler&, Walked, double value, double spare);
/// What one step measures straight across, of the rule's number: chord = per * number + more.
struct ChordStep {
    double per = 1, more = 0; ///< per > 0; mm
};
/// Moves the stations between the first and the last (rising, unwrapped) until every chord gives the same number, from
/// where they stand on; they keep their order. Gives how far the numbers still are from each other: the most less the
/// least. Such stations are there for every count on a path whose ends are two points; they are looked for, not proven.
double evenChords(const Path&, std::span<double> at, std::span<const ChordStep> steps);

/// Count places shared equally: equal pitch, or whatever is measured.
Stations share(const Ruler&, ShareEnds, long count, std::vector<double> reuse = {});
/// Gaps and pitches of a result. On closed paths what a fixed pitch leaves over widens the last one.
Range rangeOf(const Ruler&, const Stations&);
double spareOf(LeftOver);
/// What was to be equal, as it came out.
Stations::Uneven unevenOf(const Ruler&, const Stations&);
/// Says so where it is not, after all.
void tellUneven(const Ruler&, Stations&);

/// Beyond what a run's limits let through.
bool over(const SpacingLimits&, const Range&);
bool under(const SpacingLimits&, const Range&);

/// Eleven counts (fewer at the ends of what is possible), each solved, the one nearest to what is wanted first.
struct CountTable {
    long best = 0;                                                ///< in use
    double wanted = std::numeric_limits<double>::quiet_NaN();     ///< what the rule measures: aimed at; else the count
    ShareEnds ends = ShareEnds::AtEnds;                           ///< of counts that are shared out
    long least = 1;                                               ///< count
    std::optional<Stations> inUse{};                              ///< where it is not shared out
    std::function<std::optional<Stations>(long count)> counted{}; ///< others that are not, either
};
std::vector<Fit> rowsOf(const Ruler&, const CountTable&);

} // namespace vicinal::spacing
