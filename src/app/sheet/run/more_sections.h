#pragma once
#include "app/sheet/run/run_section.h"
#include "layout/along/changes.h"

class QPushButton;

namespace vicinal {

class SequenceRow;
class SweepGraph;

/// Which part stands where: the sequence and the parts of special places.
class SequenceSection : public RunSection {
    Q_OBJECT
public:
    explicit SequenceSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;

private:
    void buildRow();
    /// Changes the steps; the run's own part is the one step of a run that has none yet.
    void edit(const QString& step, const std::function<void(std::vector<SequenceStep>&, int current)>&);
    SequenceRow* m_row;
    QPushButton *m_add, *m_more, *m_less, *m_remove;
};

/// What changes along the run: profiles and unevenness.
class ChangesSection : public RunSection {
    Q_OBJECT
public:
    explicit ChangesSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
};

/// Rows, tiers and echoes of the whole run.
class RowsSection : public RunSection {
    Q_OBJECT
public:
    explicit RowsSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
};

/// How the run moves along its path, and what holds only in motion: a sweep with its graph.
class MotionSection : public RunSection {
    Q_OBJECT
public:
    explicit MotionSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;

signals:
    void timeWanted(double seconds); ///< to see the worst

private:
    void buildSweep();
    void sweepOver(bool path);
    void showSweep();
    QWidget* m_sweep;
    QPushButton *m_pitch, *m_path, *m_show;
    SweepGraph* m_graph;
    QLabel* m_says;
    std::weak_ptr<const RunResult> m_swept; ///< what the graph is of
};

} // namespace vicinal
