#pragma once
#include "app/state/store.h"
#include "parts/makers/maker.h"
#include <QDialog>
#include <QWidget>
#include <optional>
#include <variant>

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace vicinal {

/// What was chosen: a part of the document, or a new one made here.
struct NewMaker {
    QString name;
    Maker maker;
};
using PartChoice = std::variant<Id, NewMaker>;

/// Parts of the document and everything that can be made, with pictures, to choose one from.
class PartChooser : public QWidget {
    Q_OBJECT
public:
    /// `offered`: parts of the document in the list.
    PartChooser(const Store&, const std::vector<Id>& offered, QWidget* parent = nullptr);
    std::optional<PartChoice> choice() const;
    void choose(Id part);

signals:
    void changed();
    void taken(); ///< double-clicked
    void fileWanted();

private:
    void fill(const Store&, const std::vector<Id>& offered);
    void filter();
    QListWidget *m_groups, *m_grid;
    QLineEdit* m_search;
    QLabel* m_tip;
};

/// The chooser alone with a heading: for a new part, a piece, a replacement.
class PartDialog : public QDialog {
    Q_OBJECT
public:
    PartDialog(const Store&, const QString& title, const QString& verb, const std::vector<Id>& offered,
               QWidget* parent = nullptr);
    std::optional<PartChoice> choice() const { return m_chooser->choice(); }
    /// Asks besides whether the seat of the old part is kept.
    void askSeat();
    bool keepSeat() const;
    bool fileWanted() const { return m_file; }

private:
    PartChooser* m_chooser;
    QCheckBox* m_keep;
    bool m_file = false;
};

} // namespace vicinal
