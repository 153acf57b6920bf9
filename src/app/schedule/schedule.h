#pragma once
#include "app/state/store.h"
#include <QDockWidget>

class QLabel;
class QTableView;

namespace vicinal {

class ScheduleModel;

/// The schedule as a dock: the places of the run in hand as a table. Selecting there selects here and the other way
/// round; Ctrl+C copies the rows for a spreadsheet.
class ScheduleDock : public QDockWidget {
    Q_OBJECT
public:
    explicit ScheduleDock(Store& store, QWidget* parent = nullptr);
    ScheduleModel& model() { return *m_model; }
    QTableView& table() { return *m_table; }

protected:
    bool eventFilter(QObject*, QEvent*) override;
    void showEvent(QShowEvent*) override;

private:
    void refresh();
    void follow();
    void lead();
    Store& m_store;
    ScheduleModel* m_model;
    QTableView* m_table;
    QLabel* m_error;
    bool m_following = false;
};

} // namespace vicinal
