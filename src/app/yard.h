#pragma once
#include "app/store.h"
#include <QListWidget>

namespace vicinal {

/// The list on the left: runs as cards with their verdict, then paths and parts. Names are edited in place.
class Yard : public QListWidget {
    Q_OBJECT
public:
    explicit Yard(Store& store, QWidget* parent = nullptr);
    /// The row of an item, for tests; null when there is none.
    QListWidgetItem* rowOf(Id id) const;

signals:
    void newRunWanted();
    void newPathWanted();
    void newPartWanted(const QPoint& at);
    void removeWanted(Id id);
    void copyWanted(Id id);

protected:
    void mousePressEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;

private:
    void refresh();
    Store& m_store;
    bool m_filling = false;
};

} // namespace vicinal
