#pragma once
#include "app/render/part_picture.h"
#include "app/state/store.h"
#include <QListView>

namespace vicinal {

class YardModel;

/// The list on the left: runs as cards with their verdict, then heaps, paths and parts. Names are edited in place.
class Yard : public QListView {
    Q_OBJECT
public:
    explicit Yard(Store& store, QWidget* parent = nullptr);
    /// The row of an item, for tests; not valid when there is none or its list is folded.
    QModelIndex rowOf(Id id) const;
    /// Folds or unfolds the runs (0), paths (1), parts (2) or heaps (3); a folded list shows how many it holds.
    void fold(int list, bool);

signals:
    void newRunWanted();
    void newPathWanted();
    void newPartWanted();
    void seatWanted(Id part);
    void replaceWanted(Id part);
    void mirrorWanted(Id part);
    void removeWanted(Id id);
    void copyWanted(Id id);
    void releaseWanted(Id run, int path); ///< what becomes of its path: 0 kept, 1 hidden, 2 gone

protected:
    void resizeEvent(QResizeEvent*) override;
    void currentChanged(const QModelIndex&, const QModelIndex&) override;
    void mousePressEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;

private:
    void refresh();
    void drawPictures();
    Store& m_store;
    YardModel* m_model;
    PartPictures m_pictures;
    class QLineEdit* m_filter; ///< over the list
    class QTimer* m_later;
    bool m_following = false; ///< the selection, not leading it
};

} // namespace vicinal
