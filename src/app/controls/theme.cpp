#include "app/controls/theme.h"
#include "clearance/verdict.h"
#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPalette>
#include <QPixmap>
#include <QProxyStyle>
#include <QStyleFactory>
#include <QSvgRenderer>
#include <QTranslator>

/// Resources of a static library must be asked for, outside any namespace.
static void initResources() { Q_INIT_RESOURCE(assets); }

namespace {

/// Fusion, with the underlines of menu letters only where they are asked for with Alt.
class Style : public QProxyStyle {
public:
    Style() : QProxyStyle(QStyleFactory::create("Fusion")) {}
    int styleHint(StyleHint hint, const QStyleOption* o, const QWidget* w, QStyleHintReturn* r) const override {
        if (hint == SH_UnderlineShortcut || hint == SH_DialogButtonBox_ButtonsHaveIcons) return 0;
        return QProxyStyle::styleHint(hint, o, w, r);
    }
};

/// The plurals of the English texts: "%n run(s)" becomes "1 run" or "2 runs". Other languages bring their own
/// translator.
class EnglishPlurals : public QTranslator {
public:
    using QTranslator::QTranslator;
    bool isEmpty() const override { return false; }
    QString translate(const char*, const char* text, const char*, int n) const override {
        return n < 0 ? QString() : QString::fromUtf8(text).replace("(s)", n == 1 ? "" : "s");
    }
};

} // namespace

namespace vicinal::theme {

QColor paper() { return QColor("#fbfaf7"); }
QColor field() { return QColor("#ffffff"); }
QColor ink() { return QColor("#1c2529"); }
QColor muted() { return QColor("#66716f"); }
QColor line() { return QColor("#d8d5cb"); }
QColor accent() { return QColor("#0f766e"); }
QColor accentTint() { return QColor("#dcecea"); }
QColor markColour(Mark m) {
    switch (m) {
    case Mark::Good: return moss();
    case Mark::Open: return muted();
    case Mark::Doubtful: return ochre();
    case Mark::Wrong: break;
    }
    return brick();
}
QColor brick() { return QColor("#b03a2a"); }
QColor ochre() { return QColor("#a66a0a"); }
QColor moss() { return QColor("#44762e"); }
QColor mossTint() { return QColor("#a9c4a0"); }
QColor statusBar() { return QColor("#ece9df"); }
QColor skyTop() { return QColor("#dde6ea"); }
QColor skyBottom() { return QColor("#f1efe8"); }
QColor gridLine() { return QColor("#b9c2c2"); }
QColor steel() { return QColor("#7d929e"); }

QColor run(int index) {
    static const char* colours[] = {"#0f766e", "#8a6a3a", "#5468ab", "#a8478a",
                                    "#5f8a33", "#c06a3d", "#3a86a8", "#7a5fa0"};
    static_assert(std::size(colours) == kRunColours);
    return QColor(colours[((index % kRunColours) + kRunColours) % kRunColours]);
}

QFont font(double size, QFont::Weight weight) {
    QFont f("Vicinal Sans");
    f.setPixelSize(int(size + 0.5));
    f.setWeight(weight);
    return f;
}

QIcon icon(const QString& name, const QColor& colour) {
    QFile file(":/icons/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly)) return {};
    QIcon out;
    for (const bool enabled : {true, false}) {
        file.seek(0);
        QByteArray svg = file.readAll();
        svg.replace("currentColor", (enabled ? colour : line().darker(115)).name().toLatin1());
        QSvgRenderer renderer(svg);
        for (int size : {16, 32, 64}) {
            QPixmap pixmap(size, size);
            pixmap.fill(Qt::transparent);
            QPainter painter(&pixmap);
            renderer.render(&painter);
            out.addPixmap(pixmap, enabled ? QIcon::Normal : QIcon::Disabled);
        }
    }
    return out;
}

void apply(QApplication& app) {
    initResources();
    for (const char* style : {"Regular", "Medium", "SemiBold", "Bold"})
        QFontDatabase::addApplicationFont(QString(":/fonts/VicinalSans-%1.otf").arg(style));
    app.setStyle(new Style);
    QCoreApplication::installTranslator(new EnglishPlurals(&app));
    app.setFont(font(13));
    QPalette p;
    p.setColor(QPalette::Window, paper());
    p.setColor(QPalette::Base, field());
    p.setColor(QPalette::AlternateBase, paper());
    p.setColor(QPalette::Text, ink());
    p.setColor(QPalette::WindowText, ink());
    p.setColor(QPalette::ButtonText, ink());
    p.setColor(QPalette::Button, field());
    p.setColor(QPalette::Highlight, accent());
    p.setColor(QPalette::HighlightedText, Qt::white);
    p.setColor(QPalette::Link, accent());
    p.setColor(QPalette::PlaceholderText, muted());
    p.setColor(QPalette::ToolTipBase, field());
    p.setColor(QPalette::ToolTipText, ink());
    for (auto role : {QPalette::Text, QPalette::WindowText, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, QColor("#a3a8a4"));
    app.setPalette(p);

    QString sheet = R"(
QMenuBar { background: @paper; border-bottom: 1px solid @line; padding: 1px 6px; }
QMenuBar::item { padding: 4px 9px; background: transparent; border-radius: 4px; }
QMenuBar::item:selected { background: @tint; }
QMenu { background: @field; border: 1px solid @line; padding: 4px; }
QMenu::item { padding: 5px 26px 5px 14px; border-radius: 4px; }
QMenu::item:selected { background: @tint; color: @ink; }
QMenu::item:disabled { color: #a3a8a4; }
QMenu::separator { height: 1px; background: @line; margin: 4px 8px; }
QToolTip { background: @field; color: @ink; border: 1px solid @line; padding: 5px; }
QPushButton, QToolButton { background: @field; border: 1px solid @line; border-radius: 5px; padding: 4px 10px; min-height: 18px; }
QPushButton:hover, QToolButton:hover { border-color: @accent; }
QPushButton:pressed, QToolButton:pressed { background: @tint; }
QPushButton:focus, QToolButton:focus { border-color: @accent; }
QPushButton:disabled, QToolButton:disabled { color: #a3a8a4; }
QPushButton:checked, QToolButton:checked { background: @tint; border-color: @accent; color: @accent; font-weight: 600; }
QPushButton[kind="primary"] { background: @accent; border-color: @accent; color: white; }
QPushButton[kind="primary"]:hover { background: #0b5f58; }
QPushButton[kind="primary"]:disabled { background: #c5d6d3; border-color: #c5d6d3; color: #f4f7f6; }
QPushButton[kind="flat"], QToolButton[kind="flat"] { border: none; background: transparent; padding: 2px 4px; }
QPushButton[kind="flat"]:hover, QToolButton[kind="flat"]:hover { background: @tint; }
QLineEdit, QComboBox, QPlainTextEdit { background: @field; border: 1px solid @line; border-radius: 5px; padding: 3px 8px; min-height: 20px;
    selection-background-color: @accent; }
QLineEdit:focus, QComboBox:focus { border-color: @accent; }
QLineEdit[wrong="true"] { border-color: @brick; background: #fbefec; }
QComboBox::drop-down { border: none; width: 22px; }
QComboBox::down-arrow { image: url(:/icons/chevron-down.svg); width: 14px; height: 14px; }
QComboBox QAbstractItemView { background: @field; border: 1px solid @line; selection-background-color: @tint; selection-color: @ink; outline: none; }
QScrollArea, QScrollArea > QWidget > QWidget { background: @paper; border: none; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle { background: #cfccc2; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::handle:hover { background: #b5b2a8; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QTableView, QTreeView, QListView { background: @field; border: 1px solid @line; border-radius: 5px; gridline-color: @line;
    selection-background-color: @tint; selection-color: @ink; outline: none; }
QHeaderView::section { background: @paper; border: none; border-bottom: 1px solid @line; padding: 3px 6px; color: @muted; }
QCheckBox { spacing: 7px; }
QLabel[role="muted"] { color: @muted; }
QLabel[role="heading"] { color: @muted; font-weight: 600; font-size: 11px; letter-spacing: 1px; }
QLabel[role="error"] { color: @brick; font-size: 12px; }
QLabel[role="title"] { font-weight: 700; font-size: 15px; }
QFrame[role="rule"] { background: @line; border: none; max-height: 1px; min-height: 1px; }
QDialog { background: @paper; }
)";
    const std::pair<const char*, QColor> names[] = {{"@paper", paper()},     {"@field", field()},   {"@line", line()},
                                                    {"@tint", accentTint()}, {"@accent", accent()}, {"@ink", ink()},
                                                    {"@brick", brick()},     {"@muted", muted()}};
    for (const auto& [name, colour] : names) sheet.replace(name, colour.name());
    app.setStyleSheet(sheet);
}

} // namespace vicinal::theme
