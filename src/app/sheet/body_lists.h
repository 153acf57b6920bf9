#pragma once
#include "app/state/store.h"
#include <QWidget>

class QLabel;
class QTableWidget;

namespace vicinal {

/// What a body was made of or lost: the cut list of rails, the webs that a cut leaves.
class BodyLists : public QWidget {
    Q_OBJECT
public:
    explicit BodyLists(Store&, QWidget* parent = nullptr);
    void show(const BodyResult&);

private:
    void showBars(const BodyResult&);
    void showCut(const BodyResult&);
    void fill(const QStringList& heads, const std::vector<QStringList>& rows);

    Store& m_store;
    QLabel* m_head;
    QTableWidget* m_table;
};

} // namespace vicinal
