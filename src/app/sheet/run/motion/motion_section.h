#pragma once
#include "app/sheet/run/run_section.h"

class QPushButton;

namespace vicinal {

class SweepGraph;

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
