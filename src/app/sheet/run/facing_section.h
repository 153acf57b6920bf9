#pragma once
#include "app/sheet/run/run_section.h"

namespace vicinal {

/// The rules of nose and crown, and the extra turn.
class FacingSection : public RunSection {
    Q_OBJECT
public:
    explicit FacingSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;

signals:
    void directionWanted();

private:
    QWidget* m_pick;
};

} // namespace vicinal
