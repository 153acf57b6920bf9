#pragma once
#include "app/seat/seat_stage.h"
#include "app/state/latest.h"

namespace vicinal {

/// The marks of the part in hand and its likely seats; looked for on another thread, since a large mesh takes a while.
class SeatMarks {
public:
    /// changed: called when they are there.
    SeatMarks(QObject* owner, std::function<void()> changed)
        : m_changed(std::move(changed)), m_finding(Lane::Small, owner) {}
    /// Looks for those of a body, unless they are known or being looked for; those of another one go at once.
    void lookAt(const BodyPtr&);
    bool ready(const BodyPtr& of) const { return m_of && m_of == of; }
    const std::vector<Spot>& spots() const { return m_spots; }
    const std::vector<Proposal>& proposals() const { return m_proposals; }
    /// The seats that are likely for a part sitting so; none before its marks are there.
    void propose(const PartResult&);
    /// Which of the spots are seen from there, worked out where that is quick.
    void sight(const SeatStage&, const Camera&);
    bool hidden(size_t spot) const { return spot < m_visible.size() && !m_visible[spot]; }

private:
    std::function<void()> m_changed;
    BodyPtr m_of, m_looking; ///< whose marks they are; whose are looked for
    struct Looked {
        std::vector<Spot> spots;
        std::vector<Hole> holes;
    };
    Latest<Looked> m_finding;
    std::vector<Spot> m_spots;
    std::vector<Hole> m_holes;
    std::vector<Proposal> m_proposals;
    std::vector<char> m_visible;
};

/// What would be taken, in words; `direction`: it is one that is asked for.
QString wordsOf(const SeatPick&, Unit, bool direction);
/// A likely seat of a body in words, and what it does.
std::pair<QString, QString> wordsOf(const Proposal&, const Body&, Unit);

} // namespace vicinal
