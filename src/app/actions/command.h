#pragma once
// What menus can do, as rows: a command has one row, and menus, keys, the tool row and what is enabled come from it.
#include <QKeySequence>
#include <QObject>
#include <QString>
#include <functional>
#include <variant>
#include <vector>

class QAction;
class QMenu;
class QMenuBar;

namespace vicinal {

/// One thing that can be done.
struct Command {
    const char* id = "";    ///< its action is called "action.<id>"
    QString text, tip;      ///< what it is called; what it does
    QKeySequence keys = {}; ///< none: by the menu alone
    std::function<void()> run = {};
    std::function<bool()> enabled = {}; ///< none: always
    std::function<bool()> checked = {}; ///< none: it has no tick
    std::function<QString()> says = {}; ///< what it is called now; none: always `text`
    QString whyNot = {};                ///< what its tip says while it is not enabled; none: the tip stays
};

struct MenuLine {}; ///< between two groups

struct MenuRow;
struct Menu {
    QString title;
    std::vector<MenuRow> rows;
    std::function<void(QMenu&)> fill = {}; ///< makes its entries whenever it is opened, instead of rows
};
struct MenuRow : std::variant<Command, MenuLine, Menu> {
    using std::variant<Command, MenuLine, Menu>::variant;
    const std::variant<Command, MenuLine, Menu>& of() const { return *this; }
};

/// All commands of a window with their actions.
class Commands : public QObject {
public:
    explicit Commands(QObject* parent) : QObject(parent) {}
    void add(QMenuBar*, const Menu&);
    /// That of a command; it must be there.
    QAction* action(const QString& id) const;
    /// Text, tick, tip and whether it is enabled, of all.
    void refresh();

private:
    void add(QMenu*, const Menu&);
    std::vector<std::pair<Command, QAction*>> m_all;
};

} // namespace vicinal
