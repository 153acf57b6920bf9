#pragma once
#include "app/state/store.h"
#include <QDockWidget>

class QCheckBox;
class QLabel;
class QPushButton;
class QTableView;

namespace vicinal {

class ChecksModel;
struct RunChecks;
class SheetPicture;

/// The check sheet as a dock: run by run, every check with its limits, value, worst place and a small picture of it;
/// and what they were in a state that was kept. Double-click or Enter goes there.
class ChecksDock : public QDockWidget {
    Q_OBJECT
public:
    explicit ChecksDock(Store& store, QWidget* parent = nullptr);
    ChecksModel& model() { return *m_model; }
    QTableView& table() { return *m_table; }

signals:
    void sheetWanted(); ///< as a file

protected:
    bool eventFilter(QObject*, QEvent*) override;
    void showEvent(QShowEvent*) override;

private:
    void refresh();
    void go(int row);
    void showPicture();
    Store& m_store;
    ChecksModel* m_model;
    QTableView* m_table;
    SheetPicture* m_picture;
    std::shared_ptr<Job> m_drawing;
    std::weak_ptr<const RunChecks> m_pictured; ///< what the picture is of
    size_t m_picturedCheck = 0;
    QLabel* m_difference;
    QCheckBox* m_ghost;
    QPushButton *m_keep, *m_forget, *m_fine;
};

} // namespace vicinal
