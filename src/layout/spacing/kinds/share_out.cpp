#include "base/say.h"
#include "layout/spacing/rule_kind.h"
#include "layout/spacing/ruler.h"

namespace vicinal::spacing {

static Result<long> countOf(const ShareOut& rule) {
    if (rule.count < 1)
        return Problem{"The count is " + say::count(rule.count) + "; at least 1 place is needed.", "count"};
    if (rule.count > kMostPlaces) return tooMany(double(rule.count), "count");
    return rule.count;
}

static Result<Stations> solve(const ShareOut& rule, const Ruler& ruler, std::vector<double> reuse) {
    const auto count = countOf(rule);
    if (!count) return count.problem();
    return share(ruler, rule.ends, *count, std::move(reuse));
}

namespace {

class ShareOutKind final : public RuleKind {
    static const ShareOut& of(const SpacingRule& r) { return std::get<ShareOut>(r); }

public:
    std::optional<ShareEnds> ends(const SpacingRule& r) const override { return of(r).ends; }
    long count(const SpacingRule& r) const override { return of(r).count; }
    Result<Stations> solve(const SpacingRule& r, const Ruler& ruler, std::vector<double> reuse) const override {
        return spacing::solve(of(r), ruler, std::move(reuse));
    }
    Result<std::vector<Fit>> fits(const SpacingRule& r, const Ruler& ruler) const override {
        const auto count = countOf(of(r));
        if (!count) return count.problem();
        CountTable table{*count};
        table.ends = of(r).ends;
        return rowsOf(ruler, table);
    }
    std::optional<SpacingRule> ofFit(const SpacingRule& r, long count) const override {
        return ShareOut{count, of(r).ends};
    }
    void takeOver(SpacingRule& r, const RowAsItStands& row) const override {
        auto& share = std::get<ShareOut>(r);
        share.count = row.count;
        if (const auto ends = endsOf(row.was)) share.ends = *ends;
    }
    bool rowsMove(bool) const override { return true; }
    /// Another row shares out as many as come near the first one's pitch.
    SpacingRule onRow(const SpacingRule& r, double value) const override { return EvenOut{value, of(r).ends}; }
};

} // namespace

} // namespace vicinal::spacing

namespace vicinal {

void describe(const ValueVisitor& v, ShareOut& r) {
    v.count("count", "Places", "How many places", r.count);
    v.choice("ends", "First and last", "Where the first and last place stand", r.ends, kEndsWords);
}

const RuleKind& kindOf(const ShareOut&) {
    static const spacing::ShareOutKind kind;
    return kind;
}

} // namespace vicinal
