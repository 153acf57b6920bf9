#pragma once
#include "app/sheet/run/run_section.h"

namespace vicinal {

/// Rows, tiers and echoes of the whole run.
class RowsSection : public RunSection {
    Q_OBJECT
public:
    explicit RowsSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
};

} // namespace vicinal
