#pragma once
#include "app/sheet/run/run_section.h"
#include "app/state/latest.h"
#include "geometry/curves/edit.h"

class QLabel;
class QTableView;
class QTimer;

namespace vicinal {

class FitsModel;

/// The rule of spacing with its values, what all rules share, and the table of counts that fit.
class SpacingSection : public RunSection {
    Q_OBJECT
public:
    explicit SpacingSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;

private:
    void switchTo(int rule);
    void showTrain(const RunResult&);
    void buildFits();
    void refreshFits();
    void showFits(const Result<std::vector<Fit>>&);
    void takeFit(int row);
    /// The keyboard goes over the rows: each is shown at once and taken by Enter; Esc, or leaving, goes back.
    bool eventFilter(QObject*, QEvent*) override;
    void tryFit(int row);
    void leaveFits();

    std::shared_ptr<const RunResult> m_fitsOf; ///< whose fits are shown, or being solved behind
    Latest<Result<std::vector<Fit>>> m_fitsWork{Lane::Small, this};
    QTableView* m_fits;
    FitsModel* m_fitsModel;
    QLabel *m_error, *m_train;
    std::weak_ptr<const PathResult> m_factsOf; ///< what m_facts are of, or will be
    std::optional<PathFacts> m_facts;
    Id m_trainOf = 0; ///< run that m_train tells of
    Latest<PathFacts> m_factsWork{Lane::Small, this};
    std::optional<size_t> m_before; ///< the history's index when the keyboard began to go over the fits
    QTimer* m_fitsTimer;
};

} // namespace vicinal
