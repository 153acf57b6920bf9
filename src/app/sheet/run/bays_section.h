#pragma once
#include "app/sheet/run/run_section.h"

class QLabel;

namespace vicinal {

/// Values of spacing that stand in the section of bays.
bool inBays(const std::string& key);

/// Which stretch of the path, its bays, limits of pitch and count.
class BaysSection : public RunSection {
    Q_OBJECT
public:
    explicit BaysSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;

private:
    static std::vector<ShownValue> values(const Spacing&);
    QLabel* m_list;
};

} // namespace vicinal
