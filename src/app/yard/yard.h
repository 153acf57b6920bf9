#pragma once
#include "app/render/part_picture.h"
#include "app/state/store.h"
#include <QListView>

namespace vicinal {

class YardModel;

/// The list on the left: folders, runs as cards with their verdict, then heaps, site bodies, paths and parts. Names are
/// edited in place, rows dragged into order; with Ctrl and Shift several are selected at once.
class Yard : public QListView {
    Q_OBJECT
public:
    explicit Yard(Store& store, QWidget* parent = nullptr);
    /// The row of an item, for tests; not valid when there is none or its list is folded.
    QModelIndex rowOf(Id id) const;
    /// Folds or unfolds the runs (0), paths (1), parts (2), heaps (3) or site bodies (4); a folded list shows how many
    /// it holds.
    void fold(int list, bool);

signals:
    void newRunWanted();
    void newPathWanted();
    void newPartWanted();
    void newBodyWanted();
    void seatWanted(Id part);
    void replaceWanted(Id part);
    void mirrorWanted(Id part);
    void removeWanted(const std::set<Id>&);
    void copyWanted(const std::set<Id>&);
    void releaseWanted(Id run, int path); ///< what becomes of its path: 0 kept, 1 hidden, 2 gone

protected:
    void resizeEvent(QResizeEvent*) override;
    void selectionChanged(const QItemSelection&, const QItemSelection&) override;
    void mousePressEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;

private:
    void refresh();
    void drawPictures();
    void lead(); ///< the store's selection follows the rows
    std::set<Id> selectedItems() const;
    void fillMenu(class QMenu&, const QModelIndex& at, const std::set<Id>&);
    void folderMenu(QMenu&, const std::set<Id>&);
    Store& m_store;
    YardModel* m_model;
    PartPictures m_pictures;
    class QLineEdit* m_filter; ///< over the list
    class QTimer* m_later;
    bool m_following = false; ///< the selection, not leading it
};

} // namespace vicinal
