#pragma once
#include <QButtonGroup>
#include <QStringList>
#include <QWidget>

class QDialog;
class QDialogButtonBox;
class QLabel;
class QListWidget;
class QToolButton;
class QVBoxLayout;

namespace vicinal {

/// A row of buttons of which one is down.
class Segmented : public QWidget {
    Q_OBJECT
public:
    /// Object names are "<name>.0", "<name>.1"...; tips one a button.
    /// `room`: pixels they may take; more go into further rows. 0: one row.
    Segmented(const QString& name, const QStringList& labels, const QStringList& tips, int room = 0);
    void setCurrent(int index); ///< does not emit
    /// Says also when what is chosen is clicked again: for what is done, not set.
    void setRepeats(bool yes) { m_repeats = yes; }
    int current() const { return m_group->checkedId(); }
    QAbstractButton* button(int index) const { return m_group->button(index); }

signals:
    void picked(int index);

private:
    QButtonGroup* m_group;
    int m_shown = -1;
    bool m_repeats = false;
};

/// A foldable part of a sheet; folded it says its content in one line.
class Section : public QWidget {
    Q_OBJECT
public:
    Section(const QString& name, const QString& title, QWidget* parent = nullptr);
    QVBoxLayout* body() const { return m_layout; }
    void setSummary(const QString&);
    void setOpen(bool);
    bool isOpen() const;

signals:
    void opened();

protected:
    void resizeEvent(QResizeEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

private:
    void elide();
    QToolButton* m_head;
    QLabel* m_summary;
    QWidget* m_body;
    QVBoxLayout* m_layout;
    QString m_text;
};

/// Gives every row of a list the same, comfortable height, pixels.
void setRowHeight(QListWidget*, int height = 24);

/// The buttons of a dialog: `ok` (called `name`), which accepts it, and a way out.
QDialogButtonBox* dialogButtons(QDialog*, const QString& ok, const QString& name);

/// A label before a field, in one row; `stretch` widths of label and field.
QWidget* labelled(const QString& label, QWidget* field);
QWidget* labelled(const QString& label, QWidget* first, QWidget* second);

} // namespace vicinal
