#pragma once
#include "app/sheet/run_section.h"

namespace vicinal {

/// Which part stands where: the sequence and the parts of special places.
class SequenceSection : public RunSection {
    Q_OBJECT
public:
    explicit SequenceSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
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

} // namespace vicinal
