#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {
namespace {

/// Pins from `first` on: `links` of them and one more, or as many as end before `end`. Stops where there is no way on.
std::vector<double> chain(const Ruler& ruler, double first, double end, long links) {
    std::vector<double> pins{first};
    for (long i = 0; i < links; ++i) {
        const double next = chordFrom(ruler.path, pins.back(), *ruler.lineup.pins(i));
        if (!(next <= end)) break;
        pins.push_back(next);
    }
    return pins;
}

} // namespace

Result<Stations> solve(const PinToPin& rule, const Ruler& ruler, std::vector<double> reuse) {
    for (size_t k = 0; k < ruler.lineup.parts().size(); ++k) { // every part of the pattern is a link
        const auto d = ruler.lineup.pins(long(k));
        if (!d)
            return Problem{"This part has no pins, so that there is nothing to meet. Set two pins in its seat, or take "
                           "another rule.",
                           "rule"};
        if (!(*d > tolerance::length))
            return Problem{"The pins of this part are at one point; a link needs two. Move one in its seat.", "rule"};
        if (ruler.usable / *d > double(kMostPlaces)) return tooMany(ruler.usable / *d, "rule");
    }
    if (rule.count < 0 || rule.count > kMostPlaces)
        return Problem{"The number of links is " + std::to_string(rule.count) +
                           "; use 0 for as many as fit, or a number.",
                       "links"};
    const double slack = tolerance::arc * ruler.usable, end = ruler.end();
    const bool counted = rule.count > 0;
    // A closed chain with a count may end short of its start or reach beyond it: how far, is what is asked for.
    const double reach = counted && ruler.closed ? end + ruler.usable : end + slack;
    auto pins = chain(ruler, ruler.start, reach, counted ? rule.count : kMostPlaces);
    long links = long(pins.size()) - 1;
    if (links < 1)
        return Problem{"Not one link fits: it is " + mm(*ruler.lineup.pins(0)) + " from pin to pin, and the path has " +
                           mm(ruler.usable) + ".",
                       "rule"};
    if (counted && links < rule.count)
        return Problem{std::to_string(rule.count) + " links do not fit; at most " + std::to_string(links) + " do.",
                       "links"};
    const double spare = spareOf(rule.leftOver);
    if (!ruler.closed && spare > 0 && end - pins.back() > slack) {
        // The first pin so that the left over lies as wanted. A chain moves about as its first pin does.
        const auto miss = [&](double first, std::vector<double>& at) {
            at = chain(ruler, first, std::numeric_limits<double>::infinity(), links);
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
    }
    Stations out;
    out.at = std::move(reuse);
    out.at.assign(pins.begin(), pins.end() - 1);
    out.pins.assign(pins.begin() + 1, pins.end());
    out.even = false;
    out.pitch = (pins.back() - pins.front()) / double(links);
    out.value = *ruler.lineup.pins(0);
    out.leftOver = ruler.closed ? 0 : std::max(0.0, ruler.usable - (pins.back() - pins.front()));
    if (ruler.closed) {
        const double missing = (pointOn(ruler.path, pins.back()) - pointOn(ruler.path, pins.front())).norm();
        out.closing = pins.back() <= end ? missing : -missing;
    }
    return out;
}

} // namespace vicinal::spacing
