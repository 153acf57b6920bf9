#pragma once
// The real window on a display, driven by clicks, drags and keys.
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/dialogs/ask.h"
#include "app/sheet/run_sheet.h"
#include "app/strip/strip.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/tools/edit_tool.h"
#include "app/window/main_window.h"
#include "app/yard/yard.h"
#include "model/document/part_item.h"
#include "model/documents.h"
#include <QApplication>
#include <QDialog>
#include <QPushButton>
#include <QTest>
#include <QTimer>
#include <memory>

namespace vicinal::test {

/// Everything that was asked for is done: events, layouts, timers that are due, and what the display server had to say.
void idle();
/// What of the run sheet is wider than its panel, so that its right side is out of reach; empty when nothing is.
QStringList widerThanSheet(MainWindow&);

struct Driver {
    std::unique_ptr<MainWindow> window = std::make_unique<MainWindow>();

    /// Small by default: the software renderer's time goes by the pixels. Suites that drag far take more.
    explicit Driver(QSize size = {1080, 680});
    ~Driver();

    /// Not only Qt's own idea of it: the display server must have said so, or what it still has to say of the window
    /// before this one, or of a box that told how long something takes, takes the keyboard away in the middle of a
    /// test.
    void takeKeyboard();
    bool open(const QString& file);
    /// After a document was opened: the keyboard is the window's. A box that told how long it takes may have had it,
    /// and no window manager gives it back here.
    void opened();
    /// A shortcut of the window.
    void key(Qt::Key key, Qt::KeyboardModifiers keys);

    Store& store() { return window->store(); }
    Viewport& view() { return window->view(); }
    Strip& strip() { return window->strip(); }
    std::shared_ptr<const RunResult> run() { return store().currentRun(); }

    template<class T = QWidget> T* find(const QString& name) {
        T* w = window->findChild<T*>(name);
        if (!w) qFatal("no widget %s", qPrintable(name));
        return w;
    }
    void click(const QString& name);
    /// Where a button is pressed: ticks and dots only take clicks on their sign and label.
    static QPoint spot(QWidget* w);
    void settle() { idle(); }
    /// Types into a value field as a user does and presses Enter.
    void type(const QString& field, const QString& text);
    QString errorAt(const QString& field) { return find<ValueField>("field." + field)->problem(); }
    void drag(QWidget* w, const QPointF& from, const QPointF& to, Qt::KeyboardModifiers keys = {}) {
        press(w, from, keys);
        for (int i = 1; i <= 8; ++i) QTest::mouseMove(w, (from + (to - from) * i / 8).toPoint());
        release(w, to, keys);
    }
    void press(QWidget* w, const QPointF& at, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseMove(w, at.toPoint());
        settle();
        QTest::mousePress(w, Qt::LeftButton, keys, at.toPoint());
    }
    void release(QWidget* w, const QPointF& at, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseRelease(w, Qt::LeftButton, keys, at.toPoint());
        settle();
    }
    /// Does something with the next dialog when it has come up.
    void whenDialog(const QString& name, std::function<void(QDialog*)> act);
    static void clickIn(QDialog* dialog, const QString& name);
    /// Pixel of the ground point (x, y, 0).
    QPointF ground(double x, double y);
    void clickAt(QWidget* w, const QPointF& at, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseMove(w, at.toPoint());
        settle();
        QTest::mouseClick(w, Qt::LeftButton, keys, at.toPoint());
        settle();
    }
};

} // namespace vicinal::test
