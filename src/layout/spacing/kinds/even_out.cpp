#include "layout/spacing/rule_kind.h"
#include "layout/spacing/ruler.h"
#include "layout/spacing/rules.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal::spacing {
namespace {

/// What one count gives.
struct Tried {
    Stations stations;
    Range range;
    bool uneven = false;
    double value = 0; ///< c/c or mean clear gap: what is to be near the wanted one
};

/// The count whose solved pitch or gap is nearest the wanted one among those that keep the limits; of two as near, the
/// smaller.
class EvenCount {
public:
    EvenCount(const EvenOut& rule, const Ruler& ruler)
        : m_about(ruler.wanted(rule.about)), m_ends(rule.ends), m_ruler(ruler), m_limits(limitsOf(ruler.spacing)),
          m_by(ruler.spacing.multiple) {}

    Result<long> find() {
        const char* field = m_ruler.field("about");
        const double pitch = m_ruler.pitchFor(m_about);
        if (!(pitch > tolerance::length))
            return Problem{"About " + mm(m_about) + " gives no spacing to even out; it must be above " +
                               mm(gaps() ? -m_ruler.meanLength() : 0) + ".",
                           field};
        const double ratio = m_ruler.usable / pitch;
        if (ratio + 1 > double(kMostPlaces)) return tooMany(ratio + 1, field);
        if (ratio < 0.5 - tolerance::arc)
            return Problem{"About " + mm(pitch) + " c/c is more than twice the " + mm(m_ruler.usable) +
                               " that can be used. The longest that works is " + mm(m_ruler.usable) + " c/c.",
                           field};
        long n = std::max(least(), down(countFor(m_about, pitch)));
        if (n + m_by <= kMostPlaces && !(missOf(n) <= missOf(n + m_by))) n += m_by;
        // Where the count was only guessed, or gaps cannot be equal, another one may be nearer.
        if (m_by > 1 || m_ruler.stepwise() || m_ends != ShareEnds::AtEnds || m_ruler.bounded) {
            while (n - m_by >= least() && missOf(n - m_by) <= missOf(n)) n -= m_by;
            // No farther than a bad guess can be off: where gaps jump, ever more places come ever nearer to nothing
            // real.
            const long most = std::min(kMostPlaces, 2 * n + 16 * m_by);
            while (n + m_by <= most && missOf(n + m_by) < missOf(n)) n += m_by;
        }
        if (keeps(n)) return n;
        // The gaps shrink as the count grows - all but quite: near the end of what the limits allow, one by one.
        const bool tooWide = over(m_limits, tried(n).range);
        const long far = edge(n, tooWide);
        std::optional<long> best;
        constexpr long around = 6;
        for (const long middle : {far, n})
            for (long k = middle - around * m_by; k <= middle + around * m_by; k += m_by)
                if (k >= least() && k <= kMostPlaces && keeps(k) && (!best || missOf(k) < missOf(*best))) best = k;
        if (best) return *best;
        return refuse(far);
    }

    /// The stations of a count that find() gave.
    Stations take(long n, std::vector<double> reuse) {
        return m_ruler.stepwise() ? std::move(m_tried[n].stations) : share(m_ruler, m_ends, n, std::move(reuse));
    }

private:
    bool gaps() const { return m_ruler.gaps(); }
    long least() const {
        const long one = m_ruler.lead(m_ends) > 0 || m_ruler.closed ? 1 : 2;
        return (one + m_by - 1) / m_by * m_by;
    }
    long down(long n) const { return n / m_by * m_by; }

    /// Most places that go in at a pitch or, stepped off, at a gap.
    long countFor(double value, double pitch) const {
        const double lead = m_ruler.lead(m_ends);
        if (m_ruler.stepwise() && lead == 0) {
            const auto walked =
                stepped(m_ruler, m_ruler.start, value, m_ruler.end() * (1 + tolerance::arc), size_t(kMostPlaces));
            if (!walked.stuck) return std::max(1L, long(walked.at.size()));
        }
        const double room = m_ruler.usable - (gaps() && lead > 0 ? m_ruler.faceStart + m_ruler.faceEnd + value : 0);
        const long below = std::max(1L, long(std::floor(room / pitch + tolerance::arc)));
        if (m_ruler.closed) return below;
        return std::max(1L, below + 1 - long(gaps() && lead > 0 ? 1 : 2 * lead));
    }

    const Tried& tried(long n) {
        const auto it = m_tried.find(n);
        if (it != m_tried.end()) return it->second;
        Stations st = share(m_ruler, m_ends, n);
        Tried t{{}, rangeOf(m_ruler, st), false, st.value};
        t.uneven = st.uneven.has_value();
        if (t.uneven && gaps()) t.value = (t.range.gapLeast + t.range.gapMost) / 2;
        if (m_ruler.stepwise()) t.stations = std::move(st); // dear enough to be kept
        return m_tried[n] = std::move(t);
    }
    double missOf(long n) {
        const double miss = std::abs(tried(n).value - m_about);
        return std::round(miss / tolerance::station) * tolerance::station; // a tie is one whatever the last digits say
    }
    bool keeps(long n) {
        const Range& g = tried(n).range;
        return !over(m_limits, g) && !under(m_limits, g);
    }

    /// No count beyond keeps what a limit asks at most, if this one does not: at half of that pitch, or of the gap and
    /// half of the shortest part, everything is nearer than asked; less than nothing no count gives.
    long farthest() const {
        double shortest = m_ruler.meanLength(), pitch = std::numeric_limits<double>::infinity();
        for (const Occupancy& part : m_ruler.lineup.parts()) shortest = std::min(shortest, part.mean());
        if (m_limits.pitchMost) pitch = *m_limits.pitchMost;
        if (m_limits.gapMost) pitch = std::min(pitch, *m_limits.gapMost + shortest / 2);
        const double least = pitch > 0 ? pitch : std::max(shortest / 1000, tolerance::length);
        return long(std::min(double(kMostPlaces), 16 + 2 * m_ruler.usable / least));
    }

    /// By doubling and halving: the first count from n on that is not over (when `wide`) or, downwards, not under.
    long edge(long n, bool wide) {
        const auto bad = [&](long k) {
            return wide ? over(m_limits, tried(k).range) : under(m_limits, tried(k).range);
        };
        const long most = std::max(n, wide ? down(farthest()) : n);
        long in = n, out = n;
        for (long stride = m_by; bad(out); stride *= 2) {
            in = out;
            out = std::clamp(wide ? out + stride : out - stride, least(), most);
            if (out == in) return out;
        }
        while (std::abs(out - in) > m_by) {
            const long middle = down((in + out) / 2);
            (bad(middle) ? in : out) = middle;
        }
        return out;
    }

    Problem refuse(long n) {
        const bool wide = over(m_limits, tried(n).range);
        const long other = wide ? n + m_by : std::max(least(), n - m_by);
        const Range g = tried(n).range, h = tried(other).range;
        const bool gap = (wide ? m_limits.gapOver(g.gapMost) : m_limits.gapUnder(g.gapLeast)) ||
                         (!m_limits.pitchMost && !m_limits.pitchLeast);
        const auto said = [&](const Range& r) {
            const double most = gap ? r.gapMost : r.pitchMost, fewest = gap ? r.gapLeast : r.pitchLeast;
            return mm(wide ? most : fewest);
        };
        return {Words("No count keeps the ") + (gap ? "gap along" : "pitch") +
                    " within its limits: " + std::to_string(n) + " places give " + said(g) + ", " +
                    std::to_string(other) + " give " + said(h) + ". Widen a limit or change an inset.",
                std::string(gap ? "gap" : "pitch") + (wide ? "AtMost" : "AtLeast")};
    }

    double m_about;
    ShareEnds m_ends;
    const Ruler& m_ruler;
    const SpacingLimits m_limits;
    long m_by; ///< counts are multiples of it
    std::map<long, Tried> m_tried;
};

} // namespace

static Result<long> countOf(const EvenOut& rule, const Ruler& ruler) { return EvenCount(rule, ruler).find(); }

static Result<Stations> solve(const EvenOut& rule, const Ruler& ruler, std::vector<double> reuse) {
    EvenCount even(rule, ruler);
    const auto count = even.find();
    if (!count) return count.problem();
    return even.take(*count, std::move(reuse));
}

namespace {

/// The count in use, or what comes nearest when the limits let no count through.
Result<long> countInUse(const EvenOut& even, const Ruler& ruler) {
    auto count = countOf(even, ruler);
    if (count) return count;
    const std::string& field = count.problem().field;
    if (!field.ends_with("AtMost") && !field.ends_with("AtLeast")) return count;
    Spacing free = ruler.spacing;
    free.gapAtLeast.reset();
    free.gapAtMost.reset();
    free.pitchAtLeast.reset();
    free.pitchAtMost.reset();
    Ruler unlimited{ruler.path, free, ruler.lineup, ruler.start, ruler.usable, ruler.closed};
    return countOf(even, unlimited);
}

class EvenOutKind final : public RuleKind {
    static const EvenOut& of(const SpacingRule& r) { return std::get<EvenOut>(r); }

public:
    std::optional<ShareEnds> ends(const SpacingRule& r) const override { return of(r).ends; }
    Result<Stations> solve(const SpacingRule& r, const Ruler& ruler, std::vector<double> reuse) const override {
        return spacing::solve(of(r), ruler, std::move(reuse));
    }
    Result<std::vector<Fit>> fits(const SpacingRule& r, const Ruler& ruler) const override {
        const auto count = countInUse(of(r), ruler);
        if (!count) return count.problem();
        CountTable table{*count, ruler.wanted(of(r).about)};
        table.ends = of(r).ends;
        table.least = ruler.lead(of(r).ends) == 0 && !ruler.closed ? 2 : 1;
        return rowsOf(ruler, table);
    }
    std::optional<SpacingRule> ofFit(const SpacingRule& r, long count) const override {
        return ShareOut{count, of(r).ends};
    }
    void takeOver(SpacingRule& r, const RowAsItStands& row) const override {
        auto& even = std::get<EvenOut>(r);
        const auto* step = std::get_if<StepOff>(&row.was);
        even.about = step ? step->pitch : row.value;
        if (const auto ends = endsOf(row.was)) even.ends = *ends;
    }
    bool rowsMove(bool) const override { return true; }
    /// By gap along it has another count where bends or parts are others.
    SpacingRule moving(const SpacingRule& r, long count) const override { return ShareOut{count, of(r).ends}; }
};

} // namespace

} // namespace vicinal::spacing

namespace vicinal {

void describe(const ValueVisitor& v, EvenOut& r) {
    v.length("about", "About", "The pitch wanted; the nearest one that comes out even is taken", r.about);
    v.choice("ends", "First and last", "Where the first and last place stand", r.ends, kEndsWords);
}

const RuleKind& kindOf(const EvenOut&) {
    static const spacing::EvenOutKind kind;
    return kind;
}

} // namespace vicinal
