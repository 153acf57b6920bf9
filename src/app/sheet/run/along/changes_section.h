#pragma once
#include "app/sheet/run/run_section.h"

namespace vicinal {

/// What changes along the run: profiles and unevenness.
class ChangesSection : public RunSection {
    Q_OBJECT
public:
    explicit ChangesSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
};

} // namespace vicinal
