#pragma once
#include "app/sheet/run/run_section.h"

class QLabel;

namespace vicinal {

/// Feet on the ground: the body they stand on, how, and by how much places are raised or dropped.
class GroundSection : public RunSection {
    Q_OBJECT
public:
    explicit GroundSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;

private:
    QLabel* m_says;
};

} // namespace vicinal
