#include "layout/spacing/rule_kind.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

const RuleKind& kindOf(const SpacingRule& rule) {
    return std::visit([](const auto& r) -> const RuleKind& { return kindOf(r); }, rule);
}

bool anyRule(const Spacing& s, bool (RuleKind::*is)() const) {
    return (kindOf(s).*is)() ||
           std::ranges::any_of(s.bayRules, [&](const BayRule& b) { return (kindOf(b.rule).*is)(); });
}

Result<std::vector<Fit>> RuleKind::fits(const SpacingRule&, const spacing::Ruler&) const {
    return Problem{"This rule has no count to choose.", "rule"};
}

Result<double> RuleKind::excess(const SpacingRule&, const spacing::Ruler&, long) const { return std::nan(""); }

Spacing RuleKind::withCount(const Spacing& was, long count) const {
    Spacing out = switched(was, SpacingRule(ShareOut{}).index());
    auto& share = std::get<ShareOut>(out.rule);
    if (const auto ends = endsOf(was.rule)) share.ends = *ends; // as evened out places stand
    share.count = count;
    return out;
}

} // namespace vicinal
