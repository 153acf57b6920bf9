#pragma once
#include "app/sheet/run_section.h"

class QLabel;
class QPushButton;

namespace vicinal {

/// The selected places and what is left out.
class PlacesSection : public RunSection {
    Q_OBJECT
public:
    explicit PlacesSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
    QWidget* target(const QString& key) const override;

private:
    QLabel *m_leftOut, *m_placeFacts;
    QPushButton *m_toggle, *m_bringBack, *m_forget;
};

} // namespace vicinal
