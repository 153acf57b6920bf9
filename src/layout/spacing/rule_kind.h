#pragma once
// What is peculiar to each rule of spacing: one object a kind, in its file of kinds/. Whoever is outside of kinds/ asks
// here, and never looks into a rule.
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"

namespace vicinal {

namespace spacing {
struct Ruler;
}

/// The first row of a run as it stands, for a rule that takes over from it.
struct RowAsItStands {
    const SpacingRule& was;
    long count = 0;
    double value = 0;             ///< mm; what the rule measured, or the pitch, rounded down
    std::vector<double> stations; ///< mm from the start of the stretch, rising
};

/// Every rule that is handed in is of that kind.
class RuleKind {
public:
    // --- what it is
    /// Parts hold each other, at pins or couplings: they stand by their pins, have joints, and no gap along.
    virtual bool linked() const { return false; }
    /// They are vehicles: on bogies or pins of their own, along one stretch, which does not close.
    virtual bool vehicles() const { return false; }
    /// Its last place keeps its distance from the end; else what is left over there is room to slide into.
    virtual bool keepsEnd() const { return true; }
    /// rad that a joint may turn at most; pi where that is not limited, or there are none.
    virtual double turnsTo(const SpacingRule&) const { return kPi; }
    /// Where what a fixed number leaves over stays; nothing where nothing is left over, or it is no room to move.
    virtual std::optional<LeftOver> leftOver(const SpacingRule&) const { return std::nullopt; }
    /// Where places stand that are shared out; nothing for other rules.
    virtual std::optional<ShareEnds> ends(const SpacingRule&) const { return std::nullopt; }
    /// The count that is asked for; 0: as many as fit, or it has no count.
    virtual long count(const SpacingRule&) const { return 0; }
    /// Its numbers along the path; null where it has none.
    virtual Profile* keys(SpacingRule&) const { return nullptr; }
    /// False for values of Spacing that have no effect with it.
    virtual bool relevant(const Spacing&, const std::string& /*key*/) const { return true; }

    // --- what it gives
    virtual Result<Stations> solve(const SpacingRule&, const spacing::Ruler&, std::vector<double> reuse) const = 0;
    /// As vicinal::fits().
    virtual Result<std::vector<Fit>> fits(const SpacingRule&, const spacing::Ruler&) const;
    /// It leaves something over, which something else can make nothing of.
    virtual bool leavesOver(const SpacingRule&) const { return false; }
    /// As vicinal::excess(), of one that leaves something over; not a number where so many do not go on.
    virtual Result<double> excess(const SpacingRule&, const spacing::Ruler&, long /*count*/) const;

    // --- what becomes of it
    /// The rule that a row of the table of counts means; nothing where it means none.
    virtual std::optional<SpacingRule> ofFit(const SpacingRule&, long /*count*/) const { return std::nullopt; }
    /// With so many places: itself where it has a count, else shared out.
    virtual Spacing withCount(const Spacing&, long count) const;
    /// Takes numbers from what stands there.
    virtual void takeOver(SpacingRule&, const RowAsItStands&) const {}
    /// With a count from the last rule: none of its own.
    virtual void withoutCount(SpacingRule&) const {}
    /// Further on it would come out otherwise: its places move as one, as far from each other as they stand.
    virtual bool movesAsOne(const Spacing&) const { return false; }
    /// Rows with a pitch of their own are the same again further on, where pitches are lengths of path.
    virtual bool rowsMove(bool /*closed*/) const { return false; }
    /// As it goes on further along the path: as many as there are, what is left over ahead of it.
    virtual SpacingRule moving(const SpacingRule& rule, long /*count*/) const { return rule; }
    /// For another row, of another length, whose first row measured `value`; keys along are still those of the first.
    virtual SpacingRule onRow(const SpacingRule& rule, double /*value*/) const { return rule; }

protected:
    ~RuleKind() = default;
};

const RuleKind& kindOf(const SpacingRule&);
inline const RuleKind& kindOf(const Spacing& s) { return kindOf(s.rule); }
/// The same of any bay, too.
bool anyRule(const Spacing&, bool (RuleKind::*is)() const);

inline std::optional<ShareEnds> endsOf(const SpacingRule& rule) { return kindOf(rule).ends(rule); }

} // namespace vicinal
