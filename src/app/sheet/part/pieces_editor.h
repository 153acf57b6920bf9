#pragma once
#include "app/state/store.h"
#include "model/recipes/part_shape.h"
#include <QWidget>

class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace vicinal {

class ValueRows;

/// The pieces of a part: a list, and the place and values of the selected one. A part of one shape only shows the
/// button that adds a second piece.
class PiecesEditor : public QWidget {
    Q_OBJECT
public:
    PiecesEditor(Store& store, const QString& name, QWidget* parent = nullptr);
    void show(const std::shared_ptr<const PartResult>&);

signals:
    void pieceWanted();

private:
    void change(const QString& step, const QString& merge, const std::function<void(Piece&)>&);
    const Piece* current() const;
    void refreshPiece();

    Store& m_store;
    std::shared_ptr<const PartResult> m_part;
    Id m_shown = 0;
    QListWidget* m_list;
    QPushButton* m_remove;
    QComboBox* m_uses;
    QWidget* m_usesRow;
    ValueRows *m_place, *m_values;
    QLabel* m_error;
    bool m_filling = false;
};

} // namespace vicinal
