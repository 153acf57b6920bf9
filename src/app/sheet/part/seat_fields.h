#pragma once
#include "app/state/store.h"
#include <QWidget>
#include <array>

class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace vicinal {

class Segmented;
class ValueField;

/// The seat of a part as fields: seat point, nose, crown, pins, what these stand on, where it is coupled.
class SeatFields : public QWidget {
    Q_OBJECT
public:
    /// Fields are called "<name>.seat", "<name>.nose" and so on.
    SeatFields(Store& store, const QString& name, QWidget* parent = nullptr);
    void show(const std::shared_ptr<const PartResult>&);

signals:
    void viewWanted(); ///< the seat is to be edited in the view

private:
    void change(const QString& step, const QString& merge, const std::function<void(Seat&)>&);
    void addStand(const QString& name);
    void addPoint(const QString& name);
    void addDirections(const QString& name);
    void addPins(const QString& name);
    void showStand(const PartResult&, const std::optional<Pins>&);

    Store& m_store;
    QVBoxLayout* m_rows;
    std::shared_ptr<const PartResult> m_part;
    Segmented* m_kind;
    QWidget *m_boxRows, *m_typedRow, *m_pinsRow;
    std::array<Segmented*, 3> m_box;
    std::array<ValueField*, 3> m_at;
    QComboBox *m_nose, *m_crown;
    QLabel *m_pins, *m_error;
    QPushButton* m_ownPins;
    QWidget *m_underRow, *m_hooksRow;
    std::array<QComboBox*, 2> m_under; ///< of the back and the front pin
    std::array<ValueField*, 2> m_hooks;
    QPushButton* m_ownHooks;
};

/// A direction in words: "+x", or its three numbers.
QString directionText(const Direction&);

} // namespace vicinal
