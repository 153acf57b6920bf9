#pragma once
#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>

class QApplication;

namespace vicinal {
enum class Mark;
}

/// Every colour, font and size of the interface, in one place; a dark theme later gives the same names other values.
namespace vicinal::theme {

QColor paper();          ///< window ground
QColor field();          ///< ground of fields and cards
QColor ink();            ///< text
QColor muted();          ///< secondary text
QColor line();           ///< hairlines and borders
QColor accent();         ///< selection and action (teal)
QColor accentTint();     ///< ground of what is selected
QColor markColour(Mark); ///< of a verdict
QColor brick();          ///< wrong
QColor ochre();          ///< doubtful
QColor moss();           ///< good
QColor mossTint();
QColor statusBar();
QColor skyTop();
QColor skyBottom();
QColor gridLine();
QColor steel(); ///< parts that are not selected
/// Colour of a run by its index; the list repeats.
inline constexpr int kRunColours = 8;
QColor run(int index);

QFont font(double size, QFont::Weight weight = QFont::Normal);
QIcon icon(const QString& name, const QColor& colour = ink());

/// Fonts, palette and style sheet for the whole application.
void apply(QApplication&);

} // namespace vicinal::theme
