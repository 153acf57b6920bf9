#pragma once
// A run of the examples in the real window, and what a user does to it.
#include "app/controls/controls.h"
#include "ui/window_fixture.h"
#include <QAction>
#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>

namespace vicinal::test {

inline const QString kRules = VICINAL_SOURCE "/examples/saltmarrow-rules.json";
inline const QString kDrives = VICINAL_SOURCE "/examples/saltmarrow-drives.json";

struct Story : Driver {
    explicit Story(Id run, const QString& file = kRules);
    void choose(Id id);
    const RunItem& item() { return *run()->item; }
    void open(const QString& section);
    /// Types into a field of text, as a user does.
    void write(const QString& key, const QString& text);
    void pick(const QString& name, int k);
    void choosePlaces(std::set<int> places);
    /// An entry of the menu that a right click brings up.
    void fromMenu(QWidget* on, const QPointF& at, const QString& text);
};

} // namespace vicinal::test
