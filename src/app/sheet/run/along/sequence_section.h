#pragma once
#include "app/sheet/run/run_section.h"
#include "layout/along/changes.h"

class QPushButton;

namespace vicinal {

class SequenceRow;

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

} // namespace vicinal
