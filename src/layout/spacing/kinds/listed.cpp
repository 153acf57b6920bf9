#include "base/say.h"
#include "layout/spacing/rule_kind.h"
#include "layout/spacing/ruler.h"

namespace vicinal::spacing {

static Result<Stations> solve(const Listed& rule, const Ruler& ruler, std::vector<double> reuse) {
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
            return Problem{say::value(which) + " of the list (" + mm(rule.at[i]) + ") leads to " + mm(sum) +
                               ", not beyond " + mm(before) + " before it. Stations must rise.",
                           "at"};
        if (sum < -tolerance::length || sum > ruler.usable + tolerance::length)
            return Problem{say::value(which) + " of the list is at " + mm(sum) + ", beyond the " + mm(ruler.usable) +
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

namespace {

class ListedKind final : public RuleKind {
public:
    bool relevant(const Spacing&, const std::string& key) const override {
        return key != "measure" && key != "along" && key != "ofLength" && key != "multiple";
    }
    Result<Stations> solve(const SpacingRule& r, const Ruler& ruler, std::vector<double> reuse) const override {
        return spacing::solve(std::get<Listed>(r), ruler, std::move(reuse));
    }
    void takeOver(SpacingRule& r, const RowAsItStands& row) const override { // where they stand now, as they are
        auto& listed = std::get<Listed>(r);
        listed.steps = false;
        listed.at.clear();
        for (const double s : row.stations) listed.at.push_back(std::round(s * 1e6) / 1e6);
    }
    bool movesAsOne(const Spacing&) const override { return true; }
};

} // namespace

} // namespace vicinal::spacing

namespace vicinal {

void describe(const ValueVisitor& v, Listed& r) {
    v.stations("at", "Stations", "Stations from the start, in order, with commas between", r.at);
    v.flag("steps", "As steps", "The numbers are distances from one place to the next", r.steps);
}

const RuleKind& kindOf(const Listed&) {
    static const spacing::ListedKind kind;
    return kind;
}

} // namespace vicinal
