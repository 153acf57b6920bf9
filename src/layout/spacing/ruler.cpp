#include "layout/spacing/ruler.h"
#include "base/say.h"
#include "base/text.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {
namespace {

/// Every value is looked at, also those of rules that are not in use: they are kept and come back.
struct NumberCheck : EachValue<NumberCheck> {
    std::optional<Problem>& wrong;
    explicit NumberCheck(std::optional<Problem>& p) : wrong(p) {}
    template<class T> void value(const ValueAbout& about, const T& v) const {
        if (about.kind == ValueKind::Angle) return; // how far joints may turn: whose it is says more
        numbersIn(v, [&](double x, int) {
            if (!wrong) wrong = problemOf(about, x);
        });
    }
    void value(const ValueAbout& about, const Profile& p) const {
        if (auto defect = defectOf(p, about.key); defect && !wrong) wrong = defect;
    }
    void value(const ValueAbout&, const std::vector<Wheel>&) const {} // no rule has wheels
    static std::optional<Problem> problemOf(const ValueAbout& about, double v) {
        const bool length = about.kind == ValueKind::Length || about.kind == ValueKind::Stations;
        if (about.kind == ValueKind::Limit ? std::isfinite(v) : inReach(v)) return std::nullopt;
        if (about.kind == ValueKind::Limit)
            return Problem{"This limit is not a number. Type a length or leave it empty.", about.key};
        if (length)
            return Problem{"This value is " + mm(v) + ". Use a length up to " + say::bound(kLargest) + ".", about.key};
        return Problem{"This is not a number that can be used.", about.key};
    }
};

std::optional<Problem> notANumber(const Spacing& s) {
    std::optional<Problem> wrong;
    describe(NumberCheck(wrong), s);
    for (const auto& rule : s.kept) std::visit([&](const auto& r) { describe(NumberCheck(wrong), r); }, rule);
    for (const BayRule& own : s.bayRules) {
        std::visit([&](const auto& r) { describe(NumberCheck(wrong), r); }, own.rule);
        if (own.bay < 1 && !wrong) wrong = Problem{"Bays are numbered from 1.", "bayRules"};
    }
    return wrong;
}

} // namespace

double Ruler::wrap(double s) const {
    const double L = path.length();
    if (!path.closed()) return std::clamp(s, 0.0, L);
    s = std::fmod(s, L);
    if (s < 0) s += L;
    return L - s <= 10 * tolerance::station + 1e-14 * L ? 0 : s;
}

std::uint16_t Ruler::slot(long i, bool corner) const {
    if (i == 0 && atStart) return *atStart;
    if (atEnd && i + 1 == count) return *atEnd;
    if (!corner && !corners.empty()) corner = std::binary_search(corners.begin(), corners.end(), i);
    const long last = count - (atEnd ? 2 : 1);
    return std::uint16_t(lineup.slotAt(i, firstPlace + i, finalBay && i == last, corner));
}

bool Ruler::onCorner(double station) const {
    const auto& all = path.corners();
    const double s = wrap(station);
    const auto it = std::lower_bound(all.begin(), all.end(), s - tolerance::length,
                                     [](const Corner& c, double v) { return c.station < v; });
    return it != all.end() && it->station <= s + tolerance::length;
}

std::vector<std::uint16_t> slotsOf(const Ruler& ruler, size_t count) {
    std::vector<std::uint16_t> out;
    if (ruler.lineup.special().none()) return out;
    out.reserve(count);
    for (size_t i = 0; i < count; ++i) out.push_back(ruler.slot(long(i)));
    return out;
}

Problem tooMany(double wanted, const char* field) {
    return {Words("That makes ") + text::number(wanted, 0) + " places; the most is " +
                text::number(double(kMostPlaces), 0) + ". Raise the spacing or split the run.",
            field};
}

bool Ruler::stepwise() const {
    if (straight()) return true;
    return spacing.measure != Measure::CentreToCentre && !(lineup.constant() && plain());
}

double Ruler::partLength() const {
    if (straight() || !lineup.single()) return meanLength();
    const Occupancy& part = lineup.only();
    return part.constant() ? part.at(0).total() : part.at(wrap(start)).total();
}

double Ruler::pitchFor(double value) const {
    switch (spacing.measure) {
    case Measure::ClearGap: return value + (stepwise() ? meanLength() : partLength());
    case Measure::OfLength: return value * meanLength();
    case Measure::CentreToCentre: break;
    }
    return value;
}

double Ruler::numberFor(double pitch) const {
    switch (spacing.measure) {
    case Measure::ClearGap: return pitch - (stepwise() ? meanLength() : partLength());
    case Measure::OfLength: return pitch / meanLength();
    case Measure::CentreToCentre: break;
    }
    return pitch;
}

double Ruler::lead(ShareEnds ends) const {
    if (closed) return 0;
    if (ends == ShareEnds::HalfPitchIn) return 0.5;
    return ends == ShareEnds::PitchIn || bounded ? 1 : 0;
}

Result<Ruler> rulerOf(const Path& path, const Spacing& rule, const Lineup& lineup) {
    Ruler ruler{path, rule, lineup, 0, path.length(), path.closed()};
    if (auto p = notANumber(rule)) return *p;
    if (rule.multiple < 1 || rule.multiple > kMostPlaces)
        return Problem{"Counts in multiples of " + say::count(rule.multiple) + " cannot be: use 1 for any count.",
                       "multiple"};
    if (rule.measure == Measure::OfLength && !(rule.ofLength > 0))
        return Problem{"The share of the part's length must be above zero: at 1 the parts touch.", "ofLength"};
    if (rule.gapAtLeast && rule.gapAtMost && *rule.gapAtLeast > *rule.gapAtMost)
        return Problem{"The least gap along (" + mm(*rule.gapAtLeast) + ") is above the most (" + mm(*rule.gapAtMost) +
                           "). Swap them.",
                       "gapAtLeast"};
    if (rule.pitchAtLeast && rule.pitchAtMost && *rule.pitchAtLeast > *rule.pitchAtMost)
        return Problem{"The least pitch (" + mm(*rule.pitchAtLeast) + ") is above the most (" + mm(*rule.pitchAtMost) +
                           "). Swap them.",
                       "pitchAtLeast"};
    const double L = path.length();
    if (rule.from || rule.to) {
        const double from = rule.from.value_or(0), to = rule.to.value_or(L);
        for (const auto& [v, key] : {std::pair{from, "from"}, {to, "to"}})
            if (v < 0 || v > L + tolerance::length)
                return Problem{"This station (" + mm(v) + ") is not on the path, which is " + mm(L) + " long.", key};
        ruler.closed = false;
        ruler.start = from;
        ruler.usable = to - from;
        if (path.closed() && ruler.usable <= 0) ruler.usable += L; // over the seam
        if (ruler.usable < tolerance::length)
            return Problem{"The stretch ends at " + mm(to) + ", not behind its start at " + mm(from) + ". Swap them.",
                           rule.to ? "to" : "from"};
    } else if (ruler.closed) {
        ruler.start = ruler.wrap(rule.slide);
        return ruler;
    }
    if (rule.insetStart < 0 || rule.insetEnd < 0)
        return Problem{
            "An inset cannot be negative: parts would stand beyond the path's end. Lengthen the path instead.",
            rule.insetStart < 0 ? "insetStart" : "insetEnd"};
    const double whole = ruler.usable;
    ruler.start += rule.insetStart;
    ruler.usable -= rule.insetStart + rule.insetEnd;
    if (ruler.usable < tolerance::length)
        return Problem{"The insets (" + mm(rule.insetStart) + " and " + mm(rule.insetEnd) + ") leave nothing of the " +
                           (rule.from || rule.to ? "stretch's " : "path's ") + mm(whole) +
                           ". Together they must be shorter than that.",
                       rule.insetStart >= whole || rule.insetStart >= rule.insetEnd ? "insetStart" : "insetEnd"};
    return ruler;
}

Range rangeOf(const Ruler& ruler, const Stations& st) {
    constexpr double kEndless = std::numeric_limits<double>::infinity();
    const size_t n = st.at.size();
    if (n == 0 || (n < 2 && !ruler.closed && !ruler.bounded))
        return {kEndless, -kEndless, kEndless, -kEndless}; // nothing is between
    if (!ruler.bounded && !ruler.stepwise() && ruler.lineup.constant() && ruler.plain() && st.even) {
        const double g = st.pitch - ruler.partLength(), extra = ruler.closed ? st.leftOver : 0;
        return {g, g + extra, st.pitch, st.pitch + extra};
    }
    Range r{kEndless, -kEndless, kEndless, -kEndless};
    const size_t m = ruler.closed ? n : n - 1;
    std::vector<double> wrapped = st.at;
    for (double& s : wrapped) s = ruler.wrap(s);
    std::vector<Occupied> occupied;
    if (ruler.plain()) {
        occupied = ruler.lineup.only().at(wrapped);
    } else {
        std::vector<size_t> index;
        for (size_t i = 0; i < n; ++i)
            index.push_back(st.slotOf.empty() ? ruler.index(long(i))
                                              : ruler.lineup.indexAt(st.slotOf[i], ruler.firstPlace + long(i)));
        occupied.resize(n);
        std::vector<size_t> used = index;
        std::sort(used.begin(), used.end());
        used.erase(std::unique(used.begin(), used.end()), used.end());
        for (const size_t k : used) {
            std::vector<double> mine;
            for (size_t i = 0; i < n; ++i)
                if (index[i] == k) mine.push_back(wrapped[i]);
            const auto each = ruler.lineup.parts()[k].at(mine);
            for (size_t i = 0, next = 0; i < n; ++i)
                if (index[i] == k) occupied[i] = each[next++];
        }
    }
    for (size_t i = 0; i < m; ++i) {
        const size_t next = (i + 1) % n;
        const double step = st.at[next] + (next == 0 ? ruler.path.length() : 0) - st.at[i];
        const double g = step - occupied[i].ahead - occupied[next].behind;
        r.gapLeast = std::min(r.gapLeast, g);
        r.gapMost = std::max(r.gapMost, g);
        r.pitchLeast = std::min(r.pitchLeast, step);
        r.pitchMost = std::max(r.pitchMost, step);
    }
    if (ruler.bounded) // and up to what stands at the ends
        for (const double g : {st.at.front() - occupied.front().behind - ruler.start - ruler.faceStart,
                               ruler.end() - ruler.faceEnd - st.at.back() - occupied.back().ahead}) {
            r.gapLeast = std::min(r.gapLeast, g);
            r.gapMost = std::max(r.gapMost, g);
        }
    return r;
}

bool over(const SpacingLimits& l, const Range& r) { return l.gapOver(r.gapMost) || l.pitchOver(r.pitchMost); }
bool under(const SpacingLimits& l, const Range& r) { return l.gapUnder(r.gapLeast) || l.pitchUnder(r.pitchLeast); }

double spareOf(LeftOver where) {
    if (where == LeftOver::Both) return 0.5;
    return where == LeftOver::AtEnd ? 0 : 1;
}

} // namespace vicinal::spacing
