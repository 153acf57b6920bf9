#include "clearance/verdict.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rule_kind.h"
#include <algorithm>
#include <cmath>
#include <limits>

namespace vicinal {

const char* wordOf(Mark m) {
    constexpr const char* kWords[] = {"good", "open", "doubtful", "wrong"};
    return kWords[int(m)];
}

const char* signOf(Mark m) {
    constexpr const char* kSigns[] = {"\u2713", "\u2026", "\u25b2", "\u2715"};
    return kSigns[int(m)];
}
namespace {

/// Lengths of verdicts: two decimals.
Words mm(double v) { return Words::length(std::round(v * 100) / 100, Words::Style::Decimals); }

Words inWords(const Stations::Uneven& u) {
    using Of = Stations::Uneven::Of;
    const Words range = mm(u.least) + " to " + mm(u.most);
    switch (u.of) {
    case Of::Gaps:
        return "The gaps along cannot be equal: they are " + range +
               ", since a part would have to stand where its length along the path jumps (a corner).";
    case Of::Chords:
        return "No equal chords were found for this count: they are " + range +
               ". Take another count, or measure along the path.";
    case Of::StraightGaps:
        return "No equal gaps, straight across, were found for this count: they are " + range +
               ". Take another count, or measure along the path.";
    case Of::Shares:
        return Words("No equal shares of the parts' length were found for this count: they are ") +
               text::number(u.least, 3) + " to " + text::number(u.most, 3) + ". Take another count, or measure by gap.";
    case Of::Last: break;
    }
    return "No pitches of this shape come out for this count: the last place stands at " + mm(u.most) +
           ", and would at " + mm(u.least) + ". Take another count.";
}

bool tighter(const Gap& a, const Gap& b) { return a.clear() < b.clear(); }

using At = std::pair<double, int>;
/// The least and the most pitch, with the place.
std::pair<At, At> pitches(const Places& p) {
    At least{std::numeric_limits<double>::infinity(), -1}, most{0, -1};
    eachPitch(p, [&](size_t i, double d) {
        if (d < least.first) least = {d, int(i)};
        if (d > most.first) most = {d, int(i)};
    });
    return {least, most};
}

/// What breaks the wish for a multiple: every bay's count, or the run's.
std::optional<Words> notMultiple(const Places& p, long multiple) {
    if (multiple <= 1) return std::nullopt;
    const auto broken = [&](size_t n, const std::string& where) {
        return Words(say::count(n) + " places" + where + " are no multiple of " + say::count(multiple) + ".");
    };
    for (size_t i = 0; i < p.laid->bays.size(); ++i)
        if (const size_t n = p.laid->bays[i].count; n % size_t(multiple) != 0)
            return broken(n, " in bay " + say::count(i + 1));
    if (p.laid->bays.empty() && p.laid->rowSize % size_t(multiple) != 0) return broken(p.laid->rowSize, "");
    return std::nullopt;
}

/// A bogie or a coupling that turns farther than it may.
std::optional<Verdict> swungTooFar(const Places& p, const Spacing& limits) {
    const RuleKind& kind = kindOf(limits);
    if (!kind.vehicles()) return std::nullopt;
    const double most = kind.turnsTo(limits.rule);
    const auto sharpest = [](const std::vector<double>& all) {
        return size_t(std::max_element(all.begin(), all.end()) - all.begin());
    };
    const auto said = [&](const std::string& what, double turn, size_t place) {
        return Verdict{Mark::Wrong,
                       what + say::count(place + 1) + " turns by " + say::number(turn / kDegree, 2) +
                           "\u00b0, over the limit of " + say::number(most / kDegree, 2) + "\u00b0.",
                       int(place)};
    };
    const auto &swings = p.laid->swings, &turns = p.laid->joints;
    if (const size_t k = sharpest(swings); k < swings.size() && swings[k] > most + tolerance::angle)
        return said("What is under vehicle ", swings[k], k);
    if (const size_t k = sharpest(turns); k < turns.size() && turns[k] > most + tolerance::angle)
        return said("The coupling before vehicle ", turns[k], k + 1);
    return std::nullopt;
}

/// What is joined has joints, no gap.
Words jointsOf(const Places& p) {
    const auto& turns = p.laid->joints;
    if (turns.empty()) return say::count(p.present) + " parts, joined.";
    const auto sharpest = size_t(std::max_element(turns.begin(), turns.end()) - turns.begin());
    return Words("Joints turn by up to ") + text::number(turns[sharpest] / kDegree, 2) + "\u00b0, at place " +
           std::to_string(sharpest + (p.laid->closed ? 1 : 2)) + ".";
}

} // namespace

int tightestGap(const Places& p) {
    return p.gaps.empty() ? -1 : int(std::min_element(p.gaps.begin(), p.gaps.end(), tighter) - p.gaps.begin());
}

int widestGap(const Places& p) {
    return p.gaps.empty() ? -1 : int(std::max_element(p.gaps.begin(), p.gaps.end(), tighter) - p.gaps.begin());
}

Verdict judgeGaps(const Places& p, const Spacing& spacing) {
    const SpacingLimits limits = limitsOf(spacing);
    const bool linked = isLinked(spacing);
    if (auto turned = swungTooFar(p, spacing)) return *turned;
    if (p.gaps.empty()) return {Mark::Good, "Nothing to measure: there are fewer than two places.", -1};
    const Gap& least = p.gaps[tightestGap(p)];
    const Gap& most = p.gaps[widestGap(p)];
    const auto at = [](const Gap& g) {
        return " between places " + std::to_string(g.from + 1) + " and " + std::to_string(g.to + 1);
    };
    const auto between = [&](const Gap& g) {
        return g.from == g.to ? " beside place " + std::to_string(g.from + 1) : at(g);
    };
    // Links hold each other, and a share of their length below one is meant to overlap.
    if (limits.overlaps(least.clear()))
        return {Mark::Wrong, "Parts overlap by " + mm(-least.clear()) + between(least) + ".", least.to, true};
    if (limits.gapOver(most.clear()))
        return {Mark::Wrong,
                "The gap along is " + mm(most.clear()) + between(most) + ", over the limit of " + mm(*limits.gapMost) +
                    ".",
                most.to};
    if (limits.gapUnder(least.clear()))
        return {Mark::Wrong,
                "The gap along is " + mm(least.clear()) + between(least) + ", under the limit of " +
                    mm(*limits.gapLeast) + ".",
                least.to};
    if (const auto& uneven = p.laid->uneven) return {Mark::Wrong, inWords(*uneven), most.to};
    const auto [narrow, wide] = pitches(p);
    if (limits.pitchOver(wide.first))
        return {Mark::Wrong,
                "The pitch is " + mm(wide.first) + " at place " + std::to_string(wide.second + 1) +
                    ", over the limit of " + mm(*limits.pitchMost) + ".",
                wide.second};
    if (limits.pitchUnder(narrow.first))
        return {Mark::Wrong,
                "The pitch is " + mm(narrow.first) + " at place " + std::to_string(narrow.second + 1) +
                    ", under the limit of " + mm(*limits.pitchLeast) + ".",
                narrow.second};
    if (linked && !p.laid->joints.empty() && p.laid->bays.empty()) { // vehicles have been told
        const double limit = kindOf(spacing).turnsTo(spacing.rule);
        const auto& turns = p.laid->joints;
        const auto sharpest = std::max_element(turns.begin(), turns.end()) - turns.begin();
        // Of an open chain the first link has no joint before it.
        const int place = int(sharpest) + (p.laid->closed ? 0 : 1);
        if (turns[size_t(sharpest)] > limit + tolerance::angle)
            return {Mark::Wrong,
                    Words("The joint before place ") + std::to_string(place + 1) + " turns by " +
                        text::number(turns[size_t(sharpest)] / kDegree, 2) + "\u00b0, over its limit of " +
                        text::number(limit / kDegree, 2) + "\u00b0.",
                    place};
    }
    if (const auto broken = notMultiple(p, spacing.multiple)) return {Mark::Wrong, *broken, -1};
    for (size_t i = 0; i < p.laid->bays.size(); ++i)
        if (const auto& why = p.laid->bays[i].problem)
            return {Mark::Doubtful, Words("Bay ") + std::to_string(i + 1) + " is empty: " + why->text, -1};
    if (p.laid->closing && std::abs(*p.laid->closing) > 1e-4)
        return {Mark::Doubtful,
                *p.laid->closing > 0
                    ? "The chain does not close: " + mm(*p.laid->closing) + " are missing between its ends."
                    : "The chain does not close: its ends overlap by " + mm(-*p.laid->closing) + ".",
                int(p.laid->rowSize) - 1};
    if (!p.laid->staleExceptions.empty())
        return {Mark::Doubtful,
                Words("Places with an exception that are no longer there: ") +
                    std::to_string(p.laid->staleExceptions.size()) + ".",
                -1};
    if (!p.staleLeftOut.empty())
        return {Mark::Doubtful,
                Words("Left-out places beyond the last place: ") + std::to_string(p.staleLeftOut.size()) +
                    ", the first is " + std::to_string(p.staleLeftOut.front()) + ".",
                -1};
    Words good = linked ? jointsOf(p) : "Gaps along are " + mm(least.clear()) + " to " + mm(most.clear()) + ".";
    if (const size_t n = p.laid->noRoom.size(); n > 0)
        good += n == 1 ? Words(" The last place of a staggered row has no room and is left out.")
                       : Words(" " + say::count(n) + " last places of staggered rows have no room and are left out.");
    return {Mark::Good, good, -1};
}

} // namespace vicinal
