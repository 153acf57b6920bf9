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
#include "model/documents.h"
#include <QApplication>
#include <QDialog>
#include <QPushButton>
#include <QTest>
#include <QTimer>
#include <memory>

namespace vicinal::test {

/// Everything that was asked for is done: events, layouts, timers that are due, and what the display server had to say.
inline void idle() {
    for (int round = 0; round < 4; ++round) {
        QCoreApplication::sendPostedEvents();
        QCoreApplication::processEvents();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
}

struct Driver {
    std::unique_ptr<MainWindow> window = std::make_unique<MainWindow>();

    Driver() {
        window->store().setPatience(5000); // what an edit gives is there when it returns, on a busy machine too
        window->show();
        if (!QTest::qWaitForWindowExposed(window.get())) qFatal("the window did not appear");
        takeKeyboard();
        settle();
    }
    ~Driver() {
        if (!store().saved()) ask::answerUnsaved(ask::Unsaved::Discard);
        window->close();
    }

    /// Not only Qt's own idea of it: the display server must have said so, or what it still has to say of the window
    /// before this one, or of a box that told how long something takes, takes the keyboard away in the middle of a
    /// test.
    void takeKeyboard() {
        const auto active = [this] {
            const bool has = QGuiApplication::focusWindow() == window->windowHandle() &&
                             QApplication::activeWindow() == window.get();
            if (!has) window->activateWindow();
            return has;
        };
        if (!QTest::qWaitFor(active, 20'000)) qFatal("the window did not become active");
    }
    /// A shortcut of the window.
    void key(Qt::Key key, Qt::KeyboardModifiers keys) {
        takeKeyboard();
        QTest::keyClick(window.get(), key, keys);
        settle();
    }

    Store& store() { return window->store(); }
    Viewport& view() { return window->view(); }
    Strip& strip() { return window->strip(); }
    std::shared_ptr<const RunResult> run() { return store().currentRun(); }

    template<class T = QWidget> T* find(const QString& name) {
        T* w = window->findChild<T*>(name);
        if (!w) qFatal("no widget %s", qPrintable(name));
        return w;
    }
    void click(const QString& name) {
        auto* w = find(name);
        if (!w->isVisible()) qFatal("%s is not to be seen", qPrintable(name));
        QTest::mouseClick(w, Qt::LeftButton, {}, spot(w));
        settle();
    }
    /// Where a button is pressed: ticks and dots only take clicks on their sign and label.
    static QPoint spot(QWidget* w) {
        return w->inherits("QPushButton") || !w->inherits("QAbstractButton") ? w->rect().center()
                                                                             : QPoint(12, w->height() / 2);
    }
    void settle() { idle(); }
    /// Types into a value field as a user does and presses Enter.
    void type(const QString& field, const QString& text) {
        auto* edit = find<QLineEdit>("edit." + field);
        edit->setFocus();
        edit->selectAll();
        if (text.isEmpty()) QTest::keyClick(edit, Qt::Key_Backspace);
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        settle();
    }
    QString errorAt(const QString& field) { return find<ValueField>("field." + field)->problem(); }
    void drag(QWidget* w, const QPointF& from, const QPointF& to, Qt::KeyboardModifiers keys = {}) {
        press(w, from, keys);
        for (int i = 1; i <= 8; ++i) QTest::mouseMove(w, (from + (to - from) * i / 8).toPoint());
        release(w, to, keys);
    }
    void press(QWidget* w, const QPointF& at, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseMove(w, at.toPoint());
        QTest::mousePress(w, Qt::LeftButton, keys, at.toPoint());
    }
    void release(QWidget* w, const QPointF& at, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseRelease(w, Qt::LeftButton, keys, at.toPoint());
        settle();
    }
    /// Does something with the next dialog when it has come up.
    void whenDialog(const QString& name, std::function<void(QDialog*)> act) {
        auto* timer = new QTimer(window.get());
        timer->setInterval(20);
        QObject::connect(timer, &QTimer::timeout, window.get(), [=] {
            auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
            if (!dialog || dialog->objectName() != name) return;
            timer->stop();
            timer->deleteLater();
            act(dialog);
        });
        timer->start();
    }
    static void clickIn(QDialog* dialog, const QString& name) {
        auto* b = dialog->findChild<QAbstractButton*>(name);
        if (!b) qFatal("no button %s", qPrintable(name));
        QTest::mouseClick(b, Qt::LeftButton, {}, spot(b));
    }
    /// Pixel of the ground point (x, y, 0).
    QPointF ground(double x, double y) {
        const auto p = *view().camera().project(Vec3(x, y, 0));
        return {p.x(), p.y()};
    }
    void clickAt(QWidget* w, const QPointF& at, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseMove(w, at.toPoint());
        QTest::mouseClick(w, Qt::LeftButton, keys, at.toPoint());
        settle();
    }
};

} // namespace vicinal::test
