#pragma once
#include "app/state/store.h"
#include "model/recipes/recipe.h"
#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;

namespace vicinal {

class ValueField;

/// What the wheel in hand shows as: a sprocket, a plain or grooved wheel, a drum, a part of the document; its sizes,
/// how far it is turned, and how the chain sits on every wheel.
class WheelBodyEditor : public QWidget {
    Q_OBJECT
public:
    WheelBodyEditor(Store&, const QString& name, QWidget* parent = nullptr);
    void show(const PathResult&);

private:
    /// Changes the wheel in hand, the first one when none is.
    void change(const QString& name, const QString& merge, const std::function<void(Wheel&)>&);
    size_t inHand(const WheelShape&) const;
    Store& m_store;
    QLabel *m_title, *m_seats;
    QComboBox *m_body, *m_part;
    QWidget *m_sizes, *m_partRow, *m_phaseRow;
    ValueField *m_width, *m_bore, *m_hub, *m_phase;
    QPushButton* m_all;
};

} // namespace vicinal
