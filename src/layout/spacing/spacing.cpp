#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

bool countsOn(const std::string& key, bool closed) {
    if (key == "slide") return closed;
    return !closed || (key != "leftOver" && key != "ends" && key != "insetStart" && key != "insetEnd");
}

Spacing switched(Spacing s, size_t rule) {
    if (rule == s.rule.index()) return s;
    SpacingRule next = alternative<SpacingRule>(rule);
    const auto was = std::find_if(s.kept.begin(), s.kept.end(), [&](const auto& r) { return r.index() == rule; });
    if (was != s.kept.end()) {
        next = *was;
        s.kept.erase(was);
    }
    std::erase_if(s.kept, [&](const auto& r) { return r.index() == s.rule.index(); });
    s.kept.push_back(s.rule);
    s.rule = next;
    return s;
}

Result<Stations> solveSpacing(const Path& path, const Spacing& rule, const Occupancy& part, std::vector<double> reuse) {
    const auto ruler = spacing::rulerOf(path, rule, part);
    if (!ruler) return ruler.problem();
    auto solved = std::visit([&](const auto& r) { return spacing::solve(r, *ruler, std::move(reuse)); }, rule.rule);
    if (!solved) return solved;
    Stations& out = solved.value();
    if (out.uneven) {
        const auto g = spacing::gapsOf(*ruler, out);
        out.uneven = {g.least, g.most};
    }
    if (ruler->closed || out.at.back() > path.length()) // rounding may leave the last a hair beyond the end
        for (double& s : out.at) s = ruler->wrap(s);
    return solved;
}

Spacing slid(const Path& path, const Spacing& rule, const Stations& now, double by) {
    Spacing out = rule;
    if (path.closed()) {
        out.slide = std::fmod(rule.slide + by, path.length());
        if (out.slide < 0) out.slide += path.length();
        return out;
    }
    // A fixed pitch with its left over at the end may slide into the left over without another inset.
    const auto* stepped = std::get_if<StepOff>(&rule.rule);
    const bool spare = stepped && stepped->leftOver == LeftOver::AtEnd;
    const double room = rule.insetEnd + (spare ? now.leftOver : 0);
    by = std::clamp(by, -rule.insetStart, room);
    out.insetStart = rule.insetStart + by;
    out.insetEnd = rule.insetEnd - (spare ? std::max(0.0, by - now.leftOver) : by);
    return out;
}

} // namespace vicinal
