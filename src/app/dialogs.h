#pragma once
#include "app/store.h"
#include <QDialog>

class QComboBox;
class QRadioButton;

namespace vicinal {

/// Path and part for a new run.
class NewRunDialog : public QDialog {
    Q_OBJECT
public:
    explicit NewRunDialog(const Store& store, QWidget* parent = nullptr);
    Id path() const;
    /// 0: a new baluster, -1: a new plank, else a part of the document.
    Id part() const;

private:
    QComboBox *m_path, *m_part;
};

/// What to send out and as what.
class SendOutDialog : public QDialog {
    Q_OBJECT
public:
    explicit SendOutDialog(const Store& store, QWidget* parent = nullptr);
    QString extension() const; ///< "csv", "json", "dxf", "glb"
    bool onlyCurrent() const;

private:
    QList<QRadioButton*> m_kinds;
    QRadioButton* m_current;
};

} // namespace vicinal
