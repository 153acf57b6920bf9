#pragma once
#include "app/sheet/run/run_section.h"
#include "layout/spacing/rules.h"

class QLabel;
class QTableView;

namespace vicinal {

class BaysModel;

/// Values of spacing that stand in the section of bays.
bool inBays(const std::string& key);

/// Which stretch of the path, its bays, limits of pitch and count.
class BaysSection : public RunSection {
    Q_OBJECT
public:
    explicit BaysSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
    QWidget* target(const QString& key) const override;

protected:
    bool eventFilter(QObject*, QEvent*) override;

private:
    static std::vector<ShownValue> values(Spacing);
    void buildTable();
    void setRule(int row, const QString& text);
    BaysModel* m_model;
    QTableView* m_table;
    QLabel* m_error;
};

} // namespace vicinal
