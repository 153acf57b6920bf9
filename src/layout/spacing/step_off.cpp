#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {
namespace {

/// Share of the left over that goes to the start.
double shareOf(const StepOff& rule) {
    return rule.leftOver == LeftOver::AtEnd ? 0 : rule.leftOver == LeftOver::AtStart ? 1 : 0.5;
}

/// Steps off equal clear gaps where the part's length along the path varies.
Result<Stations> stepGaps(const StepOff& rule, const Ruler& ruler, std::vector<double> reuse) {
    const double wanted = rule.pitch, end = ruler.start + ruler.usable, slack = tolerance::arc * ruler.usable;
    const auto run = [&](double first, std::vector<double> memory) {
        return stepped(ruler, first, wanted, end + slack, size_t(kMostPlaces) + 1, std::move(memory));
    };
    Stations out;
    out.at = run(ruler.start, std::move(reuse));
    if (out.at.size() > size_t(kMostPlaces)) return tooMany(double(out.at.size()), "pitch");
    if (std::isnan(out.at.back()))
        return Problem{"A clear gap of " + mm(wanted) +
                           " gives no way forward: somewhere the part takes up less than that of the path. Use a "
                           "larger gap.",
                       "pitch"};
    if (ruler.closed) {
        // The gap of the last place must not reach beyond the first.
        const double behind = ruler.part.at(ruler.wrap(ruler.start)).behind;
        const auto ahead = [&](double s) { return ruler.part.at(ruler.wrap(s)).ahead; };
        while (out.at.size() > 1 && out.at.back() + ahead(out.at.back()) + wanted > end - behind + slack)
            out.at.pop_back();
        out.leftOver = std::max(0.0, end - behind - out.at.back() - ahead(out.at.back()) - wanted);
    } else if (const double share = shareOf(rule); share > 0) {
        // What is left over in front of the run is `share` of it all: one unknown, the first station. Shifted parts
        // take up another length of the path, so that every try is stepped off anew, with the same count.
        const size_t n = out.at.size();
        const auto miss = [&](double first, std::vector<double>& at) {
            at = stepped(ruler, first, wanted, std::numeric_limits<double>::infinity(), n, std::move(at));
            return (first - ruler.start) * (1 - share) - share * (end - at.back());
        };
        std::vector<double> low = out.at, high;
        const double close = tolerance::station + 1e-15 * end * std::sqrt(double(n));
        double a = ruler.start, b = end, fa = -share * (end - low.back()), fb = std::numeric_limits<double>::infinity();
        double x = a - fa, x1 = a, f1 = fa; // each place moves about as the first one does: slope 1
        for (int i = 0; i < 60 && fa < -close && b - a > tolerance::station / 10; ++i) {
            if (!(x > a && x < b) || i > 20) x = (a + b) / 2;
            std::vector<double> now;
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
        out.at = !high.empty() && fb < -fa && high.back() <= end + slack ? std::move(high) : std::move(low);
    }
    if (!ruler.closed) out.leftOver = std::max(0.0, ruler.usable - (out.at.back() - out.at.front()));
    const size_t n = out.at.size();
    out.pitch = n > 1 ? (out.at.back() - out.at.front()) / double(n - 1) : 0;
    return out;
}

} // namespace

Result<Stations> solve(const StepOff& rule, const Ruler& ruler, std::vector<double> reuse) {
    const bool gaps = ruler.gaps();
    const double wanted = rule.pitch;
    if (!gaps && !(wanted > tolerance::length))
        return Problem{"The pitch is " + mm(wanted) + "; it must be above zero.", "pitch"};
    const double pitch = gaps ? wanted + ruler.partLength() : wanted;
    if (!(pitch > tolerance::length))
        return Problem{"A clear gap of " + mm(wanted) + " puts the parts back to front: the part takes up " +
                           mm(ruler.partLength()) + " of the path. Use a gap above " + mm(-ruler.partLength()) + ".",
                       "pitch"};
    const double ratio = ruler.usable / pitch;
    if (ratio + 1 > double(kMostPlaces)) return tooMany(ratio + 1, "pitch");
    if (pitch > ruler.usable * (1 + tolerance::arc))
        return Problem{"The pitch (" + mm(pitch) + " c/c) is longer than the " + mm(ruler.usable) +
                           " that can be used. The longest that works is " +
                           mm(gaps ? ruler.usable - ruler.partLength() : ruler.usable) + ".",
                       "pitch"};
    if (ruler.equalGaps()) return stepGaps(rule, ruler, std::move(reuse));
    Stations out;
    out.at = std::move(reuse);
    const long n = long(std::floor(ratio + tolerance::arc));
    const long count = ruler.closed ? n : n + 1;
    out.pitch = pitch;
    out.leftOver = std::max(0.0, ruler.usable - double(n) * pitch);
    out.at.resize(count);
    for (long i = 0; i < count; ++i) out.at[i] = ruler.start + double(i) * pitch;
    if (!ruler.closed)
        for (double& s : out.at) s = std::min(s + shareOf(rule) * out.leftOver, ruler.start + ruler.usable);
    return out;
}

} // namespace vicinal::spacing
