#pragma once
#include "app/dialogs/part_chooser.h"
#include "app/state/store.h"
#include "model/recipes/recipe.h"
#include <QDialog>

class QComboBox;
class QLabel;
class QPushButton;
class QRadioButton;

namespace vicinal {

class ValueField;

/// Path and part for a new run.
class NewRunDialog : public QDialog {
    Q_OBJECT
public:
    explicit NewRunDialog(const Store& store, QWidget* parent = nullptr);
    Id path() const;
    std::optional<PartChoice> part() const;
    bool fileWanted() const { return m_file; } ///< the part is to come from a file

private:
    QComboBox* m_path;
    PartChooser* m_part;
    bool m_file = false;
};

/// Moves, turns and sizes a whole path about a point, with numbers; shows why when it cannot.
class MoveDialog : public QDialog {
    Q_OBJECT
public:
    MoveDialog(const PathItem&, const Vec3& about, Unit, QWidget* parent = nullptr);
    const PathRecipe& recipe() const { return m_recipe; }

protected:
    void keyPressEvent(QKeyEvent*) override; ///< Enter in a field takes its value and does not close the dialog

private:
    void tryIt();
    PathRecipe m_before, m_recipe;
    ValueField *m_by[3], *m_about[3], *m_turn, *m_size;
    QLabel* m_error;
    QPushButton* m_ok;
};

} // namespace vicinal
