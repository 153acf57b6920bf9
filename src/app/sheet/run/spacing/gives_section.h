#pragma once
#include "app/sheet/run/run_section.h"

class QPushButton;

namespace vicinal {

struct SolvedValue;

/// What gives way so that the count comes out exactly: a number of the path, or a wheel of its loop; where it stood and
/// where it went.
class GivesSection : public RunSection {
    Q_OBJECT
public:
    explicit GivesSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
    QWidget* target(const QString& key) const override;

private:
    void refreshChoices(const RunResult&);
    QComboBox *m_value, *m_wheel;
    QLabel *m_gave, *m_error;
    QPushButton* m_keep;
};

/// "Idler +3.12 mm", "Radius 800 to 806.4 mm": what gave way, in few words.
QString gaveText(const SolvedValue&, Unit);

} // namespace vicinal
