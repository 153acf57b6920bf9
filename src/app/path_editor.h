#pragma once
#include "app/store.h"
#include <QWidget>

class QCheckBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace vicinal {

class Segmented;

/// A path's facts and points: typed, inserted, deleted, corner or smooth, closed. Shows Store::currentPath().
class PathEditor : public QWidget {
    Q_OBJECT
public:
    /// `name` keeps object names of several editors apart.
    PathEditor(Store& store, const QString& name, QWidget* parent = nullptr);
    void refresh();

private:
    void cellTyped(int row, int column);
    void insertAfter();
    void removePoint();
    void selectRow();

    Store& m_store;
    QLabel* m_facts;
    QLabel* m_error;
    QTableWidget* m_table;
    QPushButton *m_insert, *m_remove;
    QCheckBox* m_closed;
    Segmented* m_knotting;
    QWidget* m_points;
    bool m_filling = false;
};

} // namespace vicinal
