#pragma once
#include "base/quantity.h"
#include "exchange/in/levels.h"
#include "model/recipes/body_shape.h"
#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace vicinal {

/// Ground from a file of levels: asks its unit where the file does not say it, and whether it is moved near the
/// origin; says how large it is and how high.
class GroundInDialog : public QDialog {
    Q_OBJECT
public:
    GroundInDialog(LevelFile, const QString& file, Unit shownIn, QWidget* parent = nullptr);
    /// After accept().
    const Levels& levels() const { return m_levels; }
    void accept() override;

private:
    void refresh();
    Vec3 origin() const; ///< what becomes the origin, in the file's units
    LevelFile m_file;
    QString m_name;
    Unit m_shownIn;
    Box3 m_box; ///< in the file's units
    Levels m_levels;
    QComboBox* m_unit;
    QCheckBox* m_near;
    QLabel *m_size, *m_error;
    QPushButton* m_ok;
};

} // namespace vicinal
