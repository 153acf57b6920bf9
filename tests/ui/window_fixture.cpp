#include "ui/window_fixture.h"
#include "app/controls/controls.h"
#include "model/document/run_item.h"
#include "ui/story.h"

namespace vicinal::test {

namespace {

/// Of one without a name, the first one in it.
QString nameOf(const QWidget* w) {
    if (!w->objectName().isEmpty()) return w->objectName();
    for (const auto* c : w->findChildren<QWidget*>())
        if (!c->objectName().isEmpty() && c->isVisible()) return "round " + c->objectName();
    return "?";
}

} // namespace

QStringList widerThanSheet(MainWindow& window) {
    QStringList out;
    const QWidget* all = window.sheet().widget();
    const int room = window.sheet().viewport()->width();
    if (all->width() <= room) return out;
    for (const auto* w : all->findChildren<QWidget*>())
        if (w->isVisible() && w->minimumSizeHint().width() > room - 24)
            out += QString("%1 %2: %3 of %4 wide")
                       .arg(w->metaObject()->className(), nameOf(w))
                       .arg(w->minimumSizeHint().width())
                       .arg(room);
    if (out.isEmpty()) out += QString("all of it: %1 of %2 wide").arg(all->width()).arg(room);
    return out;
}

void idle() {
    for (int round = 0; round < 4; ++round) {
        (void)QCursor::pos(); // asks the display server: what it had to say before is here when it answers
        QCoreApplication::sendPostedEvents();
        QCoreApplication::processEvents();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
}

Driver::Driver(QSize size) {
    window->store().setPatience(5000); // what an edit gives is there when it returns, on a busy machine too
    window->resize(size);
    window->show();
    if (!QTest::qWaitForWindowExposed(window.get())) qFatal("the window did not appear");
    takeKeyboard();
    settle();
}

Driver::~Driver() {
    if (!store().saved()) ask::answerUnsaved(ask::Unsaved::Discard);
    window->close();
}

void Driver::takeKeyboard() {
    const auto active = [this] {
        const bool has =
            QGuiApplication::focusWindow() == window->windowHandle() && QApplication::activeWindow() == window.get();
        if (!has) window->activateWindow();
        return has;
    };
    if (!QTest::qWaitFor(active, 20'000)) qFatal("the window did not become active");
}

bool Driver::open(const QString& file) {
    const bool done = window->openFile(file);
    opened();
    return done;
}

void Driver::opened() {
    window->activateWindow(); // whatever Qt believes: it is told late that the keyboard is gone
    settle();
    takeKeyboard();
}

void Driver::key(Qt::Key key, Qt::KeyboardModifiers keys) {
    takeKeyboard();
    QTest::keyClick(window.get(), key, keys);
    settle();
}

void Driver::click(const QString& name) {
    auto* w = find(name);
    if (!w->isVisible()) qFatal("%s is not to be seen", qPrintable(name));
    QTest::mouseClick(w, Qt::LeftButton, {}, spot(w));
    settle();
}

QPoint Driver::spot(QWidget* w) {
    return w->inherits("QPushButton") || !w->inherits("QAbstractButton") ? w->rect().center()
                                                                         : QPoint(12, w->height() / 2);
}

void Driver::type(const QString& field, const QString& text) {
    auto* edit = find<QLineEdit>("edit." + field);
    edit->setFocus();
    edit->selectAll();
    if (text.isEmpty()) QTest::keyClick(edit, Qt::Key_Backspace);
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
    settle();
}

void Driver::whenDialog(const QString& name, std::function<void(QDialog*)> act) {
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

void Driver::clickIn(QDialog* dialog, const QString& name) {
    auto* b = dialog->findChild<QAbstractButton*>(name);
    if (!b) qFatal("no button %s", qPrintable(name));
    QTest::mouseClick(b, Qt::LeftButton, {}, spot(b));
}

QPointF Driver::ground(double x, double y) {
    const auto p = *view().camera().project(Vec3(x, y, 0));
    return {p.x(), p.y()};
}

Story::Story(Id run, const QString& file) {
    if (!window->openDemo(file, "Saltmarrow Quay")) qFatal("the demo did not open");
    opened();
    choose(run);
}

void Story::choose(Id id) {
    store().selectItem(Selection::Kind::Run, id);
    settle();
}

void Story::open(const QString& section) {
    for (auto* s : window->findChildren<Section*>())
        if (s->objectName() == "section." + section) s->setOpen(true);
    settle();
}

/// Opens the sections that a field lies in, as one who wants to type into it does.
static void unfold(const QWidget* field) {
    for (QWidget* w = field->parentWidget(); w; w = w->parentWidget())
        if (auto* section = qobject_cast<Section*>(w); section && !section->isOpen()) section->setOpen(true);
}

void Story::write(const QString& key, const QString& text) {
    auto* edit = find<QLineEdit>("edit." + key);
    unfold(edit);
    window->sheet().ensureWidgetVisible(edit, 0, 60);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, text);
    if (text.isEmpty()) QTest::keyClick(edit, Qt::Key_Backspace);
    QTest::keyClick(edit, Qt::Key_Return);
    settle();
}

void Story::pick(const QString& name, int k) {
    auto* b = find<QAbstractButton>(name + "." + QString::number(k));
    unfold(b);
    window->sheet().ensureWidgetVisible(b, 0, 60);
    settle();
    QTest::mouseClick(b, Qt::LeftButton);
    settle();
}

void Story::choosePlaces(std::set<int> places) {
    store().select({Selection::Kind::Run, store().currentRun()->item->id, std::move(places), -1, {}});
    settle();
}

void Story::fromMenu(QWidget* on, const QPointF& at, const QString& text) {
    bool found = false;
    QTimer::singleShot(0, window.get(), [&] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        if (!menu) return;
        QList<QAction*> all = menu->actions();
        for (int i = 0; i < all.size(); ++i)
            if (all[i]->menu()) all += all[i]->menu()->actions();
        for (QAction* a : all)
            if (a->text() == text) found = true, a->trigger();
        menu->close();
    });
    QContextMenuEvent e(QContextMenuEvent::Mouse, at.toPoint(), on->mapToGlobal(at.toPoint()));
    QApplication::sendEvent(on, &e);
    settle();
    if (!found) qFatal("no entry %s", qPrintable(text));
}

} // namespace vicinal::test
