#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal::spacing {
namespace {

/// What one count gives.
struct Tried {
    Stations stations;
    GapRange range;
    bool uneven = false;
    double value = 0; ///< c/c or mean clear gap: what is to be near the wanted one
};

/// The count whose solved pitch or gap is nearest the wanted one among those that keep the limits; of two as near, the
/// smaller.
class EvenCount {
public:
    EvenCount(const EvenOut& rule, const Ruler& ruler) : m_about(rule.about), m_ruler(ruler), m_limits(ruler.spacing) {}

    Result<long> find() {
        if (auto p = check()) return *p;
        const double pitch = gaps() ? m_about + m_ruler.meanLength() : m_about;
        if (!(pitch > tolerance::length))
            return Problem{"About " + mm(m_about) + " gives no spacing to even out; it must be above " +
                               mm(gaps() ? -m_ruler.meanLength() : 0) + ".",
                           "about"};
        const double ratio = m_ruler.usable / pitch;
        if (ratio + 1 > double(kMostPlaces)) return tooMany(ratio + 1, "about");
        if (ratio < 0.5 - tolerance::arc)
            return Problem{"About " + mm(pitch) + " c/c is more than twice the " + mm(m_ruler.usable) +
                               " that can be used. The longest that works is " + mm(m_ruler.usable) + " c/c.",
                           "about"};
        long n = std::max(least(), countFor(m_about, pitch));
        if (n < kMostPlaces && !(missOf(n) <= missOf(n + 1))) ++n;
        // Where gaps cannot be equal, another one may be nearer.
        if (m_tried[n].uneven || m_tried[n + 1].uneven) {
            while (n > least() && missOf(n - 1) < missOf(n)) --n;
            while (n < kMostPlaces && missOf(n + 1) < missOf(n)) ++n;
        }
        if (keeps(n)) return n;
        // The gaps shrink as the count grows - all but quite: near the end of what the limits allow, one by one.
        const bool tooWide = over(m_limits, tried(n).range);
        const long far = edge(n, tooWide);
        std::optional<long> best;
        constexpr long around = 6;
        for (long k = std::max(least(), far - around); k <= std::min(kMostPlaces, far + around); ++k)
            if (keeps(k) && (!best || missOf(k) < missOf(*best))) best = k;
        for (long k = std::max(least(), n - around); k <= std::min(kMostPlaces, n + around); ++k)
            if (keeps(k) && (!best || missOf(k) < missOf(*best))) best = k;
        if (best) return *best;
        return refuse(far);
    }

    /// The stations of a count that find() gave.
    Stations take(long n, std::vector<double> reuse) {
        Stations st = m_ruler.equalGaps() ? std::move(m_tried[n].stations)
                                          : share(m_ruler, ShareEnds::AtEnds, n, std::move(reuse));
        return st;
    }

private:
    bool gaps() const { return m_ruler.gaps(); }
    long least() const { return m_ruler.closed ? 1 : 2; }

    std::optional<Problem> check() const {
        if (m_limits.gapAtLeast && m_limits.gapAtMost && *m_limits.gapAtLeast > *m_limits.gapAtMost)
            return Problem{"The least clear gap (" + mm(*m_limits.gapAtLeast) + ") is above the most (" +
                               mm(*m_limits.gapAtMost) + "). Swap them.",
                           "gapAtLeast"};
        return std::nullopt;
    }

    /// Most places that go in at a pitch or, stepped off, at a gap.
    long countFor(double value, double pitch) const {
        if (m_ruler.equalGaps()) {
            const double end = m_ruler.start + m_ruler.usable;
            const auto at = stepped(m_ruler, m_ruler.start, value, end * (1 + tolerance::arc), size_t(kMostPlaces));
            if (!std::isnan(at.back())) return m_ruler.closed ? std::max(1L, long(at.size()) - 1) : long(at.size());
        }
        const long below = std::max(1L, long(std::floor(m_ruler.usable / pitch + tolerance::arc)));
        return m_ruler.closed ? below : below + 1;
    }

    const Tried& tried(long n) {
        const auto it = m_tried.find(n);
        if (it != m_tried.end()) return it->second;
        Stations st = share(m_ruler, ShareEnds::AtEnds, n);
        const GapRange range = gapsOf(m_ruler, st);
        Tried t{{}, range, false, gaps() ? (range.least + range.most) / 2 : st.pitch};
        t.uneven = st.uneven.has_value();
        if (m_ruler.equalGaps()) t.stations = std::move(st); // dear enough to be kept
        return m_tried[n] = std::move(t);
    }
    double missOf(long n) {
        const double miss = std::abs(tried(n).value - m_about);
        return std::round(miss / tolerance::station) * tolerance::station; // a tie is one whatever the last digits say
    }
    bool keeps(long n) {
        const GapRange& g = tried(n).range;
        return !over(m_limits, g) && !under(m_limits, g);
    }

    /// By doubling and halving: the first count from n on that is not over (when `wide`) or, downwards, not under.
    long edge(long n, bool wide) {
        const auto bad = [&](long k) {
            return wide ? over(m_limits, tried(k).range) : under(m_limits, tried(k).range);
        };
        long in = n, out = n;
        for (long stride = 1; bad(out); stride *= 2) {
            in = out;
            out = std::clamp(wide ? out + stride : out - stride, least(), kMostPlaces);
            if (out == in) return out;
        }
        while (std::abs(out - in) > 1) (bad((in + out) / 2) ? in : out) = (in + out) / 2;
        return out;
    }

    Problem refuse(long n) {
        const GapRange g = tried(n).range;
        const bool wide = over(m_limits, g);
        const long other = wide ? n + 1 : std::max(least(), n - 1);
        const GapRange h = tried(other).range;
        return {"No count keeps the clear gap within its limits: " + std::to_string(n) + " places give " +
                    mm(wide ? g.most : g.least) + ", " + std::to_string(other) + " give " +
                    mm(wide ? h.most : h.least) + ". Widen a limit or change an inset.",
                wide ? "gapAtMost" : "gapAtLeast"};
    }

    double m_about;
    const Ruler& m_ruler;
    const Spacing& m_limits;
    std::map<long, Tried> m_tried;
};

} // namespace

Result<long> countOf(const EvenOut& rule, const Ruler& ruler) { return EvenCount(rule, ruler).find(); }

Result<Stations> solve(const EvenOut& rule, const Ruler& ruler, std::vector<double> reuse) {
    EvenCount even(rule, ruler);
    const auto count = even.find();
    if (!count) return count.problem();
    return even.take(*count, std::move(reuse));
}

} // namespace vicinal::spacing
