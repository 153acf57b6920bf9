#pragma once
#include "app/store.h"
#include <QWidget>
#include <array>

class QComboBox;
class QLabel;

namespace vicinal {

class Segmented;
class ValueField;

/// A part's dimensions and its seat. Shows the part it is told to.
class PartEditor : public QWidget {
    Q_OBJECT
public:
    PartEditor(Store& store, const QString& name, QWidget* parent = nullptr);
    void show(const std::shared_ptr<const PartResult>&);

private:
    void setDimension(int index, double mm, bool live);
    void setSeatPoint(const Vec3&, bool live);
    QPair<QString, QString> dimension(int index) const; ///< label, tip
    int dimensions() const;
    double dimensionValue(int index) const;

    Store& m_store;
    std::shared_ptr<const PartResult> m_part;
    QLabel* m_facts;
    std::array<ValueField*, 3> m_size;
    std::array<QWidget*, 3> m_sizeRow;
    std::array<QLabel*, 3> m_sizeLabel;
    Segmented* m_seatKind;
    QWidget *m_boxRows, *m_typedRow;
    std::array<Segmented*, 3> m_box;
    std::array<ValueField*, 3> m_at;
    QComboBox *m_nose, *m_crown;
    QLabel* m_seatError;
};

} // namespace vicinal
