// What was to be equal and is not.
#include "layout/spacing/ruler.h"
#include "layout/spacing/rules.h"
#include <algorithm>
#include <limits>

namespace vicinal::spacing {

Stations::Uneven unevenOf(const Ruler& ruler, const Stations& st) {
    using Of = Stations::Uneven::Of;
    if (ruler.gaps() && !ruler.straight()) {
        const Range r = rangeOf(ruler, st);
        return {r.gapLeast, r.gapMost};
    }
    const bool shares = ruler.spacing.measure == Measure::OfLength, plain = !shares && !ruler.gaps();
    Stations::Uneven out{std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity(),
                         shares  ? Of::Shares
                         : plain ? Of::Chords
                                 : Of::StraightGaps};
    const auto taken = [&](size_t i) { return plain ? Occupied() : ruler.taken(ruler.index(long(i)), st.at[i]); };
    const auto step = [&](size_t i, size_t next, double to) {
        const double d =
            ruler.straight() ? (pointOn(ruler.path, to) - pointOn(ruler.path, st.at[i])).norm() : to - st.at[i];
        const double length = plain ? 0 : taken(i).ahead + taken(next).behind;
        const double number = shares ? d / length : d - length;
        out.least = std::min(out.least, number);
        out.most = std::max(out.most, number);
    };
    for (size_t i = 1; i < st.at.size(); ++i) step(i - 1, i, st.at[i]);
    if (ruler.closed && !st.at.empty()) step(st.at.size() - 1, 0, ruler.end());
    if (out.least > out.most) out.least = out.most = 0; // a single place has no neighbour
    return out;
}

void tellUneven(const Ruler& ruler, Stations& st) {
    const auto how = unevenOf(ruler, st);
    const double length = how.of == Stations::Uneven::Of::Shares ? ruler.meanLength() : 1;
    if ((how.most - how.least) * length > 10 * tolerance::length) st.uneven = how;
}

} // namespace vicinal::spacing
