#include "layout/spacing/ruler.h"

namespace vicinal::spacing {

Result<Stations> solve(const Listed& rule, const Ruler& ruler, std::vector<double> reuse) {
    if (rule.at.empty()) return Problem{"No station is listed. Type one, or several with commas between.", "at"};
    if (rule.at.size() > size_t(kMostPlaces)) return tooMany(double(rule.at.size()), "at");
    Stations out;
    out.at = std::move(reuse);
    out.at.clear();
    double before = -1, sum = 0;
    for (size_t i = 0; i < rule.at.size(); ++i) {
        sum = rule.steps ? sum + rule.at[i] : rule.at[i];
        const std::string which = "Number " + std::to_string(i + 1);
        if (i > 0 && !(sum > before + tolerance::length))
            return Problem{which + " of the list (" + mm(rule.at[i]) + ") leads to " + mm(sum) + ", not beyond " +
                               mm(before) + " before it. Stations must rise.",
                           "at"};
        if (sum < -tolerance::length || sum > ruler.usable + tolerance::length)
            return Problem{which + " of the list is at " + mm(sum) + ", beyond the " + mm(ruler.usable) +
                               " that can be used. Shorten the list or lengthen the path.",
                           "at"};
        before = sum;
        out.at.push_back(ruler.start + std::clamp(sum, 0.0, ruler.usable));
    }
    if (ruler.closed && out.at.size() > 1 && out.at.back() > ruler.start + ruler.usable - tolerance::length)
        return Problem{"The last station is the first one again, once round. Take it out of the list.", "at"};
    out.even = false;
    if (out.at.size() > 1) out.pitch = (out.at.back() - out.at.front()) / double(out.at.size() - 1);
    out.leftOver = ruler.closed ? 0 : ruler.usable - (out.at.back() - ruler.start);
    return out;
}

} // namespace vicinal::spacing
