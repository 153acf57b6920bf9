#pragma once
#include "app/state/store.h"
#include <QWidget>
#include <array>

class QLabel;
class QVBoxLayout;
class QPushButton;
class QTimer;

namespace vicinal {

class PiecesEditor;
class SeatFields;
class ValueField;
class ValueRows;

/// A part: the values it is made by, its pieces, its size, its seat and what it measures. Shows the part it is told to.
class PartEditor : public QWidget {
    Q_OBJECT
public:
    PartEditor(Store& store, const QString& name, QWidget* parent = nullptr);
    void show(const std::shared_ptr<const PartResult>&);
    /// What the part measures, as the label shows it; worked out a moment after the last change.
    QString measures() const;

signals:
    void seatWanted(Id part); ///< the seat is to be edited in the view
    void pieceWanted(Id part);

protected:
    void showEvent(QShowEvent*) override;

private:
    void addSize(const QString& name, QVBoxLayout*);
    void addDensity(const QString& name, QVBoxLayout*);
    void resize(double factor, bool live);
    void refreshMeasures();

    Store& m_store;
    std::shared_ptr<const PartResult> m_part;
    QLabel *m_facts, *m_remarks, *m_error, *m_measures;
    ValueRows* m_rows;
    PiecesEditor* m_pieces;
    ValueField *m_factor, *m_density;
    std::array<ValueField*, 3> m_wanted; ///< length, width, height in seat axes
    SeatFields* m_seat;
    QTimer* m_later;
};

} // namespace vicinal
