#pragma once
#include "app/render/part_picture.h"
#include "app/state/store.h"
#include <QListWidget>
#include <array>

namespace vicinal {

/// The list on the left: runs as cards with their verdict, then paths and parts. Names are edited in place.
class Yard : public QListWidget {
    Q_OBJECT
public:
    explicit Yard(Store& store, QWidget* parent = nullptr);
    /// The row of an item, for tests; null when there is none.
    QListWidgetItem* rowOf(Id id) const;
    /// Folds or unfolds the runs (0), paths (1) or parts (2); a folded list shows how many it holds.
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

protected:
    void mousePressEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;

private:
    void refresh();
    void drawPictures();
    Store& m_store;
    PartPictures m_pictures;
    class QTimer* m_later;
    bool m_filling = false;
    std::array<bool, 3> m_folded{};
};

} // namespace vicinal
