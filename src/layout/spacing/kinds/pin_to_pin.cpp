#include "base/numeric/root.h"
#include "base/say.h"
#include "layout/spacing/chain_links.h"
#include "layout/spacing/rule_kind.h"
#include "layout/spacing/rules.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace vicinal::spacing {

std::vector<double> chain(const Ruler& ruler, double first, double end, long links, double play) {
    std::vector<double> pins{first};
    for (long i = 0; i < links; ++i) {
        const double size = ruler.part(i).sizeAt(ruler.wrap(pins.back()));
        const double next = chordFrom(ruler.path, pins.back(), *ruler.pins(i) * size + play);
        if (!(next <= end)) break;
        pins.push_back(next);
    }
    return pins;
}

long countsBy(const Ruler& ruler) {
    const bool links = std::holds_alternative<PinToPin>(ruler.spacing.rule);
    return std::lcm(ruler.spacing.multiple, links && ruler.closed ? ruler.lineup.period() : 1L);
}

std::optional<Problem> notWhole(const Ruler& ruler, long count, const char* field) {
    const long by = ruler.closed ? ruler.lineup.period() : 1;
    if (count % by == 0) return std::nullopt;
    return Problem{say::count(count) + " links cannot close: they alternate, so that the count must be a multiple of " +
                       say::count(by) + ". Use " + (count > by ? say::count(count / by * by) + " or " : std::string()) +
                       say::count((count / by + 1) * by) + ".",
                   field};
}

double closingOf(const Ruler& ruler, double first, double last) {
    const double missing = (pointOn(ruler.path, last) - pointOn(ruler.path, first)).norm();
    return last <= ruler.end() ? missing : -missing;
}

double playFor(const Ruler& whole, long links) {
    Ruler ruler = whole;
    ruler.count = links;
    constexpr double kEndless = std::numeric_limits<double>::infinity();
    double shortest = kEndless;
    for (size_t k = 0; k < ruler.lineup.slotCount(); ++k)
        if (const auto d = ruler.lineup.stands(k) ? ruler.lineup.pins(k) : std::nullopt)
            shortest = std::min(shortest, *d);
    const auto miss = [&](double play) {
        const auto pins = chain(ruler, ruler.start, kEndless, links, play);
        return long(pins.size()) == links + 1 ? pins.back() - ruler.end() : std::nan("");
    };
    // All links share: the end moves about as fast as all of them grow together. Where links cut a hairpin it jumps.
    const double close = 1e-10 + 1e-15 * ruler.end();
    RootWanted want{0, -0.5 * shortest, 0.5 * shortest, shortest / 1000, close, 80};
    const RootFound found = nearestRoot(miss, want);
    return found.exact || (found.any && std::abs(found.value) <= 100 * close) ? found.at : std::nan("");
}

std::vector<double> jointTurns(const Path& path, const std::vector<double>& from, const std::vector<double>& to,
                               bool closed) {
    const size_t n = from.size();
    std::vector<double> out;
    if (n < 2) return out;
    out.reserve(n);
    const auto line = [&](size_t i) { return Vec3(pointOn(path, to[i]) - pointOn(path, from[i])); };
    const auto between = [](const Vec3& a, const Vec3& b) { return std::atan2(a.cross(b).norm(), a.dot(b)); };
    const Vec3 first = line(0);
    Vec3 before = first;
    if (closed) out.push_back(between(line(n - 1), first));
    for (size_t i = 1; i < n; ++i) {
        const Vec3 now = line(i);
        out.push_back(between(before, now));
        before = now;
    }
    return out;
}

namespace {

/// What keeps these parts from being links at all.
std::optional<Problem> defectOf(const PinToPin& rule, const Ruler& ruler) {
    for (size_t k = 0; k < ruler.lineup.slotCount(); ++k) { // every part of the run is a link
        if (!ruler.lineup.stands(k)) continue;
        const auto d = ruler.lineup.pins(k);
        if (!d)
            return Problem{"This part has no pins, so that there is nothing to meet. Set two pins in its seat, or take "
                           "another rule.",
                           "rule"};
        if (!(*d > tolerance::length))
            return Problem{"The pins of this part are at one point; a link needs two. Move one in its seat.", "rule"};
        if (ruler.usable / *d > double(kMostPlaces)) return tooMany(ruler.usable / *d, "rule");
    }
    if (rule.count < 0 || rule.count > kMostPlaces)
        return Problem{"The number of links is " + say::count(rule.count) + "; use 0 for as many as fit, or a number.",
                       "links"};
    if (rule.count > 0)
        if (auto broken = notWhole(ruler, rule.count, "links")) return *broken;
    if (!(rule.play >= 0)) return Problem{"Play in a joint is a length from 0 on.", "play"};
    if (!(rule.turn > 0))
        return Problem{"A joint that cannot turn keeps the chain straight. Use an angle above 0.", "jointTurn"};
    return std::nullopt;
}

/// The first pin of an open chain of as many links as stand now so that the left over lies as wanted. A chain moves
/// about as its first pin does.
std::vector<double> spared(const Ruler& ruler, std::vector<double> pins, double spare, double slack) {
    const long links = long(pins.size()) - 1;
    const double end = ruler.end();
    const auto miss = [&](double first, std::vector<double>& at) {
        at = chain(ruler, first, std::numeric_limits<double>::infinity(), links, 0);
        return (first - ruler.start) * (1 - spare) - spare * (end - at.back());
    };
    double a = ruler.start, b = end;
    double x = ruler.start + spare * (end - pins.back()), before = a, fBefore = -spare * (end - pins.back());
    for (int i = 0; i < 80 && b - a > tolerance::station; ++i) {
        if (!(x > a && x < b) || i > 30) x = (a + b) / 2;
        std::vector<double> now;
        const double f = miss(x, now);
        (f > 0 ? b : a) = x;
        if (f <= tolerance::station && now.back() <= end + slack) pins = now;
        if (std::abs(f) <= tolerance::station) break;
        const double slope = (f - fBefore) / (x - before);
        before = x, fBefore = f;
        x -= f / (slope > 0.2 && slope < 5 ? slope : 1);
    }
    return pins;
}

/// The count that needs the least play: `most` go in whole.
long leastPlay(const Ruler& ruler, long most) {
    const long by = countsBy(ruler);
    long best = std::max(by, most / by * by);
    double least = std::numeric_limits<double>::infinity();
    for (long k = std::max(1L, most / by); k <= most / by + 1; ++k)
        if (const double play = playFor(ruler, k * by); std::abs(play) < least) least = std::abs(play), best = k * by;
    return best;
}

} // namespace

static Result<Stations> solve(const PinToPin& rule, const Ruler& whole, std::vector<double> reuse) {
    if (auto defect = defectOf(rule, whole)) return *defect;
    Ruler ruler = whole;
    ruler.atEnd.reset(); // no link stands there: the last one's front pin does
    if (rule.count > 0) ruler.count = rule.count;
    const double slack = tolerance::arc * ruler.usable, end = ruler.end();
    const bool counted = rule.count > 0;
    // A closed chain with a count may end short of its start or reach beyond it: how far, is what is asked for.
    const double reach = counted && ruler.closed ? end + ruler.usable : end + slack;
    auto pins = chain(ruler, ruler.start, reach, counted ? rule.count : kMostPlaces, 0);
    long links = long(pins.size()) - 1;
    if (links < 1)
        return Problem{"Not one link fits: it is " + mm(*ruler.pins(0)) + " from pin to pin, and the path has " +
                           mm(ruler.usable) + ".",
                       "rule"};
    if (!counted && ruler.lineup.special().last) // as many as still go in with the last one's own part
        for (long n = links + 1; n > 0; --n) {
            ruler.count = n;
            if (auto now = chain(ruler, ruler.start, reach, n, 0); long(now.size()) == n + 1) {
                pins = std::move(now);
                links = n;
                break;
            }
        }
    ruler.count = counted ? rule.count : links;
    double play = 0;
    if (rule.play > 0) { // the count that comes nearest, unless one is wanted
        const long wanted = counted ? rule.count : leastPlay(ruler, links);
        const double needed = playFor(ruler, wanted);
        if (std::abs(needed) <= rule.play * (1 + tolerance::rounding)) {
            play = needed;
            links = ruler.count = wanted;
            pins = chain(ruler, ruler.start, std::numeric_limits<double>::infinity(), links, play);
            pins.back() = end;
        } else if (counted && ruler.closed) {
            // stays open: the closing error says by how much
        } else if (counted && std::isnan(needed)) {
            return Problem{say::count(rule.count) + " links do not go on along this path.", "links"};
        }
    }
    if (counted && links < rule.count)
        return Problem{say::count(rule.count) + " links do not fit; at most " + say::count(links) + " do.", "links"};
    if (const long by = countsBy(ruler); !counted && play == 0 && by > 1 && links >= by) { // whole patterns
        links = links / by * by;
        pins.resize(size_t(links) + 1);
        if (links != ruler.count && ruler.lineup.special().last) {
            ruler.count = links;
            pins = chain(ruler, ruler.start, reach, links, 0);
        }
    }
    ruler.count = links;
    const double spare = spareOf(rule.leftOver);
    if (!ruler.closed && play == 0 && spare > 0 && end - pins.back() > slack)
        pins = spared(ruler, std::move(pins), spare, slack);
    Stations out;
    out.at = std::move(reuse);
    out.at.assign(pins.begin(), pins.end() - 1);
    out.pins.assign(pins.begin() + 1, pins.end());
    out.slotOf = slotsOf(ruler, size_t(links));
    out.joints = jointTurns(ruler.path, out.at, out.pins, ruler.closed);
    out.even = false;
    out.play = play;
    out.pitch = (pins.back() - pins.front()) / double(links);
    out.value = *ruler.pins(0);
    out.leftOver = ruler.closed ? 0 : std::max(0.0, ruler.usable - (pins.back() - pins.front()));
    if (ruler.closed) out.closing = closingOf(ruler, pins.front(), pins.back());
    return out;
}

namespace {

/// Counts of links, each with what is missing and the play that would make up for it.
Result<std::vector<Fit>> linkFits(const PinToPin& rule, const Ruler& ruler) {
    const auto now = solve(rule, ruler, {});
    if (!now) return now.problem();
    const long used = long(now->at.size()), by = countsBy(ruler);
    constexpr double kEndless = std::numeric_limits<double>::infinity();
    constexpr long kAround = 6;
    std::vector<Fit> out;
    const long last = (used / by + kAround) * by;
    // One chain tells all counts, unless each has a last link of its own or lies elsewhere.
    const bool each = ruler.lineup.special().last || (!ruler.closed && rule.leftOver != LeftOver::AtEnd);
    auto pins = chain(ruler, ruler.start, kEndless, last, 0);
    for (long n = std::max(by, (used / by - kAround) * by); n <= last; n += by) {
        Ruler counted = ruler;
        counted.count = n;
        if (each) pins = chain(counted, ruler.start, kEndless, n, 0);
        if (n >= long(pins.size())) break;
        const auto missing = [&] {
            return ruler.closed ? closingOf(ruler, pins[0], pins[size_t(n)]) : ruler.end() - pins[size_t(n)];
        };
        if (each && !ruler.closed && missing() > tolerance::length) // as it would lie
            if (const auto laid = solve(PinToPin{n, rule.leftOver, 0, rule.turn}, ruler, {})) {
                pins = laid->at;
                pins.push_back(laid->pins.back());
            }
        Fit fit;
        fit.count = n;
        fit.inUse = n == used;
        fit.pitch = fit.inUse ? now->pitch : (pins[size_t(n)] - pins[0]) / double(n);
        fit.value = *ruler.pins(0);
        fit.closing = ruler.closed ? missing() : ruler.usable - (pins[size_t(n)] - pins[0]);
        if (!ruler.closed) fit.leftOver = fit.inUse ? now->leftOver : std::max(0.0, *fit.closing);
        if (const double play = playFor(ruler, n); !std::isnan(play)) fit.play = play;
        fit.over = !ruler.closed && *fit.closing < -tolerance::length; // they do not fit
        out.push_back(fit);
    }
    std::stable_sort(out.begin(), out.end(), [](const Fit& a, const Fit& b) {
        return a.inUse != b.inUse ? a.inUse : std::abs(*a.closing) < std::abs(*b.closing);
    });
    if (out.size() > 11) out.resize(11);
    return out;
}

class PinToPinKind final : public RuleKind {
    static const PinToPin& of(const SpacingRule& r) { return std::get<PinToPin>(r); }
    static PinToPin counted(PinToPin links, long count) {
        links.count = count;
        return links;
    }

public:
    bool linked() const override { return true; }
    double turnsTo(const SpacingRule& r) const override { return of(r).turn; }
    std::optional<LeftOver> leftOver(const SpacingRule& r) const override { return of(r).leftOver; }
    long count(const SpacingRule& r) const override { return of(r).count; }
    bool relevant(const Spacing& s, const std::string& key) const override {
        if (key == "leftOver") return !(of(s.rule).play > 0); // nothing is left over
        return key != "measure" && key != "along" && key != "ofLength";
    }
    Result<Stations> solve(const SpacingRule& r, const Ruler& ruler, std::vector<double> reuse) const override {
        return spacing::solve(of(r), ruler, std::move(reuse));
    }
    Result<std::vector<Fit>> fits(const SpacingRule& r, const Ruler& ruler) const override {
        return linkFits(of(r), ruler);
    }
    bool leavesOver(const SpacingRule&) const override { return true; }
    Result<double> excess(const SpacingRule&, const Ruler& ruler, long count) const override {
        if (auto broken = notWhole(ruler, count, "links")) return *broken;
        const auto pins = chain(ruler, ruler.start, std::numeric_limits<double>::infinity(), count, 0);
        return long(pins.size()) == count + 1 ? pins.back() - ruler.end() : std::nan("");
    }
    Spacing withCount(const Spacing& was, long count) const override { // they stay links
        Spacing out = was;
        out.rule = counted(of(was.rule), count);
        return out;
    }
    void withoutCount(SpacingRule& r) const override { std::get<PinToPin>(r).count = 0; }
    SpacingRule moving(const SpacingRule& r, long count) const override {
        PinToPin out = counted(of(r), count);
        out.leftOver = LeftOver::AtEnd;
        return out;
    }
    SpacingRule onRow(const SpacingRule& r, double) const override { return counted(of(r), 0); }
};

} // namespace

} // namespace vicinal::spacing

namespace vicinal {

void describe(const ValueVisitor& v, PinToPin& r) {
    v.count("links", "Links", "How many links; 0: as many as fit", r.count);
    v.choice("leftOver", "Left over to", "Where what whole links leave over stays", r.leftOver, kLeftOverWords);
    v.length("play", "Play a joint", "What each joint may give, either way, so that the chain closes; 0: none", r.play);
    v.angle("jointTurn", "Joint turns to", "How far a link can turn from the one before; 180: it may fold", r.turn);
}

const RuleKind& kindOf(const PinToPin&) {
    static const spacing::PinToPinKind kind;
    return kind;
}

} // namespace vicinal
