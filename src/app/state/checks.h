#pragma once
#include "app/state/store.h"
#include "model/verdicts/checked.h"
#include <QElapsedTimer>
#include <deque>

namespace vicinal {

/// The checks of the open document, worked out behind every edit, the newest winning; and a state that was kept to
/// compare with.
class Checks : public QObject {
    Q_OBJECT
public:
    explicit Checks(Store&);
    ~Checks() override;

    /// Of a run, as far as they are worked out; null before the first time. They may lag behind the document.
    std::shared_ptr<const RunChecks> of(Id run) const;
    /// True when they are those of the run as it is now.
    bool current(const RunResult&) const;
    /// Of the rule and the checks together.
    Verdict verdictOf(const RunResult&) const;
    bool running() const { return m_job != nullptr; }
    double progress() const;
    bool stopped() const { return m_stopped; } ///< by hand, and nothing was measured since
    /// Ends what is worked out; the next edit, or again(), takes it up.
    void stop();
    void again();
    /// Curved faces in four times as many pieces, until it is switched off.
    bool fine() const { return m_fine; }
    void setFine(bool);

    /// The check that is looked at: its dimension, tints and ball are drawn. Of the current run; none: the worst one.
    std::optional<Check> inHand() const { return m_inHand; }
    void takeInHand(std::optional<Check>);
    /// The one that is drawn: that in hand, else the worst that has a place; null when there is none.
    const CheckResult* shown(const RunChecks&) const;

    /// Selects the places of a check, takes it in hand and asks the view to go there; `place`: another than the worst.
    void go(Id run, const Check&, std::optional<CheckedPlace> place = std::nullopt);

    struct Kept {
        QString when;
        std::shared_ptr<const Evaluation> evaluation;
        std::map<Id, std::shared_ptr<const RunChecks>> runs;
        bool ghost = true; ///< drawn beside the present state
    };
    /// Keeps the present state to compare with, in place of the one before.
    void keep();
    void forget();
    void showGhost(bool);
    const Kept* kept() const { return m_kept ? &*m_kept : nullptr; }

signals:
    void changed();      ///< verdicts
    void shownChanged(); ///< what is in hand, or kept
    void goWanted(const CheckResult&, const CheckedPlace&);
    void workChanged();

private:
    void start();
    void take(const std::shared_ptr<const RunChecks>&, int generation);

    Store& m_store;
    std::shared_ptr<CheckMemory> m_memory = std::make_shared<CheckMemory>();
    std::map<Id, std::shared_ptr<const RunChecks>> m_runs;
    std::shared_ptr<const Checked> m_before;
    std::shared_ptr<Job> m_job;
    QElapsedTimer m_since;
    bool m_again = false, m_fine = false, m_stopped = false, m_tells = false;
    bool m_exact = false; ///< the next pass is not quick: it fills in what the one before left as it was
    int m_generation = 0;
    std::optional<Check> m_inHand;
    std::optional<Kept> m_kept;
};

} // namespace vicinal
