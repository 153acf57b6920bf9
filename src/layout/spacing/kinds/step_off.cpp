#include "layout/spacing/rule_kind.h"
#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {

/// Where a station is tried: what lies within rounding of where parts cease to face as on a corner goes well inside of
/// that, or well outside.
static double clearOfRounding(const Ruler& ruler, double station) {
    const double s = ruler.wrap(station), near = tolerance::length / 2;
    const auto& corners = ruler.path.corners();
    auto c = std::lower_bound(corners.begin(), corners.end(), s - 4 * near,
                              [](const Corner& one, double at) { return one.station < at; });
    for (; c != corners.end() && c->station < s + 4 * near; ++c) {
        const double off = s - c->station, by = std::abs(off);
        if (by <= near || by >= 4 * near) continue;
        return station - off + std::copysign(by <= 2 * near ? near : 4 * near, off);
    }
    return station;
}

Stations placed(const Ruler& ruler, Walked walked, double value, double spare) {
    const double end = ruler.end();
    Stations out;
    out.leftOver = std::max(0.0, walked.left);
    out.at = std::move(walked.at);
    if (!ruler.closed && spare > 0 && walked.left > 0 && !out.at.empty()) {
        // What is left over in front of the run is `spare` of it all: one unknown, the first station. Shifted parts
        // take up another length of the path, so that every try is stepped off anew, with the same count.
        const size_t n = out.at.size();
        Ruler known = ruler;
        known.count = long(n);
        if (spare < 1) known.atEnd.reset(); // it stands there only where all is left over in front
        const auto miss = [&](double wish, Walked& now) {
            const double first = clearOfRounding(ruler, wish);
            now = stepped(known, first, value, end, n, std::move(now.at));
            const double left = now.at.size() < n ? -std::numeric_limits<double>::infinity() : now.left;
            return (first - ruler.start) * (1 - spare) - spare * left;
        };
        Walked low, high;
        low.at = out.at;
        low.corners = walked.corners;
        const double close = tolerance::station + 1e-15 * end * std::sqrt(double(n));
        double a = ruler.start, b = end, fa = -spare * walked.left, fb = std::numeric_limits<double>::infinity();
        double x = a - fa, x1 = a, f1 = fa; // each place moves about as the first one does: slope 1
        for (int i = 0; i < 60 && fa < -close && b - a > tolerance::station / 10; ++i) {
            if (!(x > a && x < b) || i > 20) x = (a + b) / 2;
            Walked now;
            const double f = miss(x, now);
            if (f <= close / 2)
                a = x, fa = f, low = std::move(now);
            else
                b = x, fb = f, high = std::move(now);
            const double slope = (f - f1) / (x - x1);
            x1 = x, f1 = f;
            x -= f / (slope > 0.2 && slope < 5 ? slope : 1);
        }
        // Where the stations jump the two ends cannot get just their shares: the nearest that stays on the path.
        const bool upper = high.at.size() == n && fb < -fa;
        out.at = upper ? std::move(high.at) : std::move(low.at);
        walked.corners = upper ? high.corners : low.corners;
        if (!ruler.bounded) out.leftOver = std::max(0.0, ruler.usable - (out.at.back() - out.at.front()));
    }
    const size_t n = out.at.size();
    Ruler known = ruler.with(out.at);
    known.corners = walked.corners;
    out.slotOf = slotsOf(known, n);
    out.even = false;
    out.value = value;
    out.pitch = n > 1 ? (out.at.back() - out.at.front()) / double(n - 1) : 0;
    return out;
}

static Result<Stations> solve(const StepOff& rule, const Ruler& ruler, std::vector<double> reuse) {
    const bool gaps = ruler.gaps();
    const double wanted = ruler.wanted(rule.pitch);
    const char* field = ruler.field("pitch");
    if (!gaps && !(wanted > tolerance::length))
        return Problem{"The pitch is " + mm(wanted) + "; it must be above zero.", field};
    const double pitch = ruler.stepwise() && gaps ? wanted + ruler.partLength() : ruler.pitchFor(wanted);
    if (!(pitch > tolerance::length))
        return Problem{"A gap along of " + mm(wanted) + " puts the parts back to front: the part takes up " +
                           mm(ruler.partLength()) + " of the path. Use a gap above " + mm(-ruler.partLength()) + ".",
                       field};
    const double ratio = ruler.usable / pitch;
    if (ratio + 1 > double(kMostPlaces)) return tooMany(ratio + 1, field);
    if (!ruler.bounded && pitch > ruler.usable * (1 + tolerance::arc))
        return Problem{"The pitch (" + mm(pitch) + " c/c) is longer than the " + mm(ruler.usable) +
                           " that can be used. The longest that works is " +
                           mm(gaps ? ruler.usable - ruler.partLength() : ruler.usable) + ".",
                       field};
    if (ruler.stepwise()) {
        Walked walked = stepped(ruler, ruler.start, wanted, ruler.end(), size_t(kMostPlaces) + 1, std::move(reuse));
        if (walked.at.size() > size_t(kMostPlaces)) return tooMany(double(walked.at.size()), field);
        if (walked.stuck)
            return Problem{"A gap along of " + mm(wanted) +
                               " gives no way forward: somewhere the part takes up less than that of the path. Use a "
                               "larger gap.",
                           field};
        return placed(ruler, std::move(walked), wanted, spareOf(rule.leftOver));
    }
    Stations out;
    out.at = std::move(reuse);
    out.value = wanted;
    out.pitch = pitch;
    double first = ruler.start, room = ruler.usable; // from the first place to the end of the last one's pitch
    if (ruler.bounded) {                             // one distance from what stands at either end
        const Occupied o = gaps ? ruler.lineup.only().at(0) : Occupied();
        first += (gaps ? ruler.faceStart + wanted + o.behind : pitch);
        room -= gaps ? ruler.faceStart + ruler.faceEnd + wanted : pitch;
    }
    const long n = long(std::floor(room / pitch + tolerance::arc));
    const long count = std::max(0L, ruler.closed || ruler.bounded ? n : n + 1);
    out.leftOver = std::max(0.0, room - double(std::max(0L, n)) * pitch);
    out.at.resize(size_t(count));
    for (long i = 0; i < count; ++i) out.at[size_t(i)] = first + double(i) * pitch;
    if (!ruler.closed)
        for (double& s : out.at) s = std::min(s + spareOf(rule.leftOver) * out.leftOver, ruler.end());
    return out;
}

namespace {

class StepOffKind final : public RuleKind {
    static const StepOff& of(const SpacingRule& r) { return std::get<StepOff>(r); }

public:
    bool keepsEnd() const override { return false; }
    std::optional<LeftOver> leftOver(const SpacingRule& r) const override { return of(r).leftOver; }
    Result<Stations> solve(const SpacingRule& r, const Ruler& ruler, std::vector<double> reuse) const override {
        return spacing::solve(of(r), ruler, std::move(reuse));
    }
    /// The row in use is the stepped one with its left over; the others say which pitch would leave nothing.
    Result<std::vector<Fit>> fits(const SpacingRule& r, const Ruler& ruler) const override {
        auto now = spacing::solve(of(r), ruler, {});
        if (!now) return now.problem();
        CountTable table{long(now->at.size()), ruler.wanted(of(r).pitch)};
        table.inUse = std::move(now).value();
        return rowsOf(ruler, table);
    }
    bool leavesOver(const SpacingRule&) const override { return true; }
    Result<double> excess(const SpacingRule& r, const Ruler& ruler, long count) const override {
        const double wanted = ruler.wanted(of(r).pitch);
        const long steps = ruler.closed ? count : count - 1;
        if (!ruler.stepwise()) return ruler.pitchFor(wanted) * double(steps) - ruler.usable;
        Ruler known = ruler;
        known.count = count;
        Stepper walk(known);
        walk.lookForCorners();
        walk.startAt(ruler.start);
        double at = ruler.start;
        for (long i = 0; i < steps; ++i) {
            const double to = walk.step(wanted);
            if (!(to > at)) return std::nan("");
            at = to;
        }
        return at - ruler.end();
    }
    std::optional<SpacingRule> ofFit(const SpacingRule&, long count) const override { return ShareOut{count}; }
    Spacing withCount(const Spacing& was, long count) const override {
        Spacing out = RuleKind::withCount(was, count);
        std::get<ShareOut>(out.rule).ends = ShareEnds::AtEnds;
        return out;
    }
    void takeOver(SpacingRule& r, const RowAsItStands& row) const override { std::get<StepOff>(r).pitch = row.value; }
    bool movesAsOne(const Spacing& s) const override {
        return s.measure != Measure::CentreToCentre || s.along != Along::Path;
    }
    bool rowsMove(bool closed) const override { return closed; }
    SpacingRule moving(const SpacingRule& r, long) const override {
        StepOff out = of(r);
        out.leftOver = LeftOver::AtEnd;
        return out;
    }
};

} // namespace

} // namespace vicinal::spacing

namespace vicinal {

void describe(const ValueVisitor& v, StepOff& r) {
    v.length("pitch", "Pitch", "Distance from one place to the next", r.pitch);
    v.choice("leftOver", "Left over to", "Where what a fixed pitch leaves over stays", r.leftOver, kLeftOverWords);
}

const RuleKind& kindOf(const StepOff&) {
    static const spacing::StepOffKind kind;
    return kind;
}

} // namespace vicinal
