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
    explicit Story(Id run, const QString& file = kRules) {
        if (!window->openDemo(file, "Saltmarrow Quay")) qFatal("the demo did not open");
        choose(run);
    }
    void choose(Id id) {
        store().selectItem(Selection::Kind::Run, id);
        settle();
    }
    const RunItem& item() { return *run()->item; }
    void open(const QString& section) {
        for (auto* s : window->findChildren<Section*>())
            if (s->objectName() == "section." + section) s->setOpen(true);
        settle();
    }
    /// Types into a field of text, as a user does.
    void write(const QString& key, const QString& text) {
        auto* edit = find<QLineEdit>("edit." + key);
        window->sheet().ensureWidgetVisible(edit, 0, 60);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        if (text.isEmpty()) QTest::keyClick(edit, Qt::Key_Backspace);
        QTest::keyClick(edit, Qt::Key_Return);
        settle();
    }
    void pick(const QString& name, int k) {
        auto* b = find<QAbstractButton>(name + "." + QString::number(k));
        window->sheet().ensureWidgetVisible(b, 0, 60);
        settle();
        QTest::mouseClick(b, Qt::LeftButton);
        settle();
    }
    void choosePlaces(std::set<int> places) {
        store().select({Selection::Kind::Run, store().currentRun()->item->id, std::move(places), -1, {}});
        settle();
    }
    /// An entry of the menu that a right click brings up.
    void fromMenu(QWidget* on, const QPointF& at, const QString& text) {
        bool found = false;
        QTimer::singleShot(0, window.get(), [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (!menu) return;
            for (QAction* a : menu->actions())
                if (a->text() == text) found = true, a->trigger();
            menu->close();
        });
        QContextMenuEvent e(QContextMenuEvent::Mouse, at.toPoint(), on->mapToGlobal(at.toPoint()));
        QApplication::sendEvent(on, &e);
        settle();
        if (!found) qFatal("no entry %s", qPrintable(text));
    }
};

} // namespace vicinal::test
