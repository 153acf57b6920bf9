#include "app/actions/command.h"
#include <QAction>
#include <QMenuBar>
#include <algorithm>

namespace vicinal {

void Commands::add(QMenuBar* bar, const Menu& menu) { add(bar->addMenu(menu.title), menu); }

void Commands::add(QMenu* menu, const Menu& entries) {
    if (entries.fill) connect(menu, &QMenu::aboutToShow, this, [menu, fill = entries.fill] { fill(*menu); });
    for (const MenuRow& row : entries.rows) {
        if (const auto* inner = std::get_if<Menu>(&row.of())) {
            add(menu->addMenu(inner->title), *inner);
        } else if (const auto* command = std::get_if<Command>(&row.of())) {
            auto* action = menu->addAction(command->text);
            action->setObjectName(QString("action.") + command->id);
            action->setShortcut(command->keys);
            action->setStatusTip(command->tip);
            action->setCheckable(bool(command->checked));
            connect(action, &QAction::triggered, this, [this, run = command->run] {
                run();
                refresh(); // a tick stands for what is, not for how often it was clicked
            });
            m_all.emplace_back(*command, action);
        } else {
            menu->addSeparator();
        }
    }
}

QAction* Commands::action(const QString& id) const {
    const auto at = std::ranges::find_if(m_all, [&](const auto& c) { return id == c.first.id; });
    Q_ASSERT(at != m_all.end());
    return at->second;
}

void Commands::refresh() {
    for (const auto& [command, action] : m_all) {
        const bool enabled = !command.enabled || command.enabled();
        const QString keys =
            command.keys.isEmpty() ? QString() : " (" + command.keys.toString(QKeySequence::NativeText) + ")";
        action->setEnabled(enabled);
        if (command.checked) action->setChecked(command.checked());
        if (command.says) action->setText(command.says());
        const QString tip = command.says ? action->text().remove('&') : command.tip;
        action->setToolTip(enabled || command.whyNot.isEmpty() ? tip + keys : command.whyNot);
    }
}

} // namespace vicinal
