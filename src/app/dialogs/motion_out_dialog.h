#pragma once
#include "base/quantity.h"
#include <QDialog>

class QLabel;
class QPushButton;
class QRadioButton;

namespace vicinal {

class ValueField;

/// What of the motion is sent out, for how long and how fine.
class MotionOutDialog : public QDialog {
    Q_OBJECT
public:
    enum class Kind { Model, Poses, Pictures, Film };
    /// `period`: s, until the run in hand has gone once along.
    MotionOutDialog(double period, QWidget* parent);
    Kind kind() const;
    double seconds() const;
    double perSecond() const;
    long frames() const; ///< the first and the last one with it
    /// "glb", "csv", "webp"; empty for a folder of pictures.
    QString extension() const;

private:
    void refresh();
    std::vector<QRadioButton*> m_kinds;
    ValueField *m_seconds, *m_perSecond;
    QLabel* m_says;
    QPushButton* m_ok;
};

} // namespace vicinal
