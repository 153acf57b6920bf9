// What attack found in the window: steps taken back that nobody wanted undone, words cut, panels lost, work lost; and
// what a monkey does to it.
#include "app/controls/controls.h"
#include "app/dialogs/ask.h"
#include "app/seat/seat_view.h"
#include "app/state/journal_keeper.h"
#include "layout/spacing/rules.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/file/journal.h"
#include "model/file/kept_copy.h"
#include "suite.h"
#include "ui/window_fixture.h"
#include <QAbstractButton>
#include <QAction>
#include <QComboBox>
#include <QDrag>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QSettings>
#include <QSplitter>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTranslator>

namespace test_robustness {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const QString kQuay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";

/// Visible controls whose words do not fit, by name.
QStringList cutWords(QWidget& root) {
    QStringList out;
    for (auto* w : root.findChildren<QWidget*>()) {
        if (!w->isVisible() || w->visibleRegion().isEmpty()) continue;
        QString text;
        int need = 0;
        if (auto* b = qobject_cast<QAbstractButton*>(w)) {
            text = b->text().remove('&');
            need = b->fontMetrics().horizontalAdvance(text) + (b->icon().isNull() ? 0 : b->iconSize().width() + 2);
        } else if (auto* l = qobject_cast<QLabel*>(w)) {
            if (l->wordWrap() || l->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored || l->text().contains('<'))
                continue; // folds, or is cut on purpose with its whole text elsewhere
            text = l->text();
            need = l->fontMetrics().horizontalAdvance(text);
        }
        if (!text.isEmpty() && need > w->width())
            out += QString("%1 \"%2\" needs %3 has %4").arg(w->objectName(), text).arg(need).arg(w->width());
    }
    return out;
}

QAction* action(Driver& d, const QString& name) {
    auto* a = d.window->findChild<QAction*>(name);
    if (!a) a = d.window->findChild<QAction*>("action." + name);
    if (!a) qFatal("no action %s", qPrintable(name));
    return a;
}

} // namespace

class TestRobustness : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { QSettings().clear(); }
    void escTakesBackOnlyWhatTheDragDid();
    void wordsFit_data();
    void wordsFit();
    void theSeatViewLeavesTheViewAsItWas();
    void panelsComeBack();
    void aSmallPathGetsAnOffsetOneCanSee();
    void tenThousandCurvesAreOneEdit();
    void slowWorkIsShownStoppedAndTakenUpAgain();
    void messagesSpeakTheDocumentsUnit();
    void nothingThatIsNoNumberEntersTheDocument();
    void whatIsChosenIsNoStep();
    void savingAsksBeforeItWritesOverAnothersWork();
    void workSurvivesAKill();
    void aFileThatWasBeingWrittenIsOffered();
    void aMonkeyDoesNotBringItDown();
};

void TestRobustness::escTakesBackOnlyWhatTheDragDid() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const auto path = d.run()->path;
    d.store().change<RunItem>(d.run()->item->id, "earlier", {}, [](RunItem& r) { r.spacing->insetStart = 75; });
    const size_t step = d.store().history().index();
    d.view().frameSelection();
    idle();
    // The triangle of the inset at the start: found by the very projection the view uses.
    const auto at = d.view().camera().project(path->path->at(75).point);
    QVERIFY(at);
    bool pressed = false;
    for (int dy = 0; dy < 30 && !pressed; dy += 2) {
        const QPoint p(int(at->x()), int(at->y()) + dy);
        QTest::mousePress(&d.view(), Qt::LeftButton, {}, p);
        QTest::keyClicks(&d.view(), "12");
        QTest::keyClick(&d.view(), Qt::Key_Escape);
        pressed = d.store().history().index() == step;
        QTest::mouseRelease(&d.view(), Qt::LeftButton, {}, p);
        QCOMPARE(d.store().history().index(), step);
        NEAR(d.run()->item->spacing->insetStart, 75, 1e-9);
        if (dy > 20) break;
    }
}

void TestRobustness::wordsFit_data() {
    QTest::addColumn<int>("width");
    for (int w : {1000, 1280, 1590}) QTest::newRow(qPrintable(QString::number(w))) << w;
}

void TestRobustness::wordsFit() {
    QFETCH(int, width);
    Driver d;
    QVERIFY(d.open(kQuay));
    d.window->resize(width, 800);
    idle();
    QStringList cut = cutWords(*d.window);
    const auto wide = [&](const QString& with) {
        for (const QString& w : widerThanSheet(*d.window)) cut += w + " with " + with;
    };
    for (const char* section : {"path", "part", "spacing", "facing", "places"}) { // every section, one after the other
        auto* fold = d.find<QAbstractButton>(QString("fold.") + section);
        d.window->sheet().ensureWidgetVisible(fold);
        idle();
        fold->click();
        idle();
        cut += cutWords(*d.window);
        wide(section);
        fold->click();
    }
    for (const auto& r : d.store().document().runs) { // every run, with all its sections open
        d.store().selectItem(Selection::Kind::Run, r->id);
        idle();
        for (auto* section : d.window->sheet().findChildren<Section*>())
            if (section->isVisible() && !section->isOpen()) section->setOpen(true);
        idle();
        wide(QString::fromStdString(r->name));
    }
    for (auto* section : d.window->sheet().findChildren<Section*>()) section->setOpen(false);
    for (const auto& p : d.store().document().paths) { // every kind of path
        d.store().selectItem(Selection::Kind::Path, p->id);
        idle();
        cut += cutWords(*d.window);
    }
    for (const auto& p : d.store().document().parts) {
        d.store().selectItem(Selection::Kind::Part, p->id);
        idle();
        cut += cutWords(*d.window);
    }
    cut.removeDuplicates();
    QVERIFY2(cut.isEmpty(), qPrintable(cut.join('\n')));
}

void TestRobustness::theSeatViewLeavesTheViewAsItWas() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.view().frameSelection();
    idle();
    const double distance = d.view().camera().distance, scale = d.view().camera().scale();
    const Vec3 target = d.view().camera().target;
    for (int i = 0; i < 4; ++i) {
        d.window->seatView().open();
        idle();
        d.window->seatView().leave();
        idle();
        NEAR(d.view().camera().distance, distance, 1e-9);
        NEAR(d.view().camera().scale(), scale, 1e-9);
        NEAR((d.view().camera().target - target).norm(), 0, 1e-9);
    }
}

void TestRobustness::panelsComeBack() {
    Driver d;
    QVERIFY(d.open(kQuay));
    auto* split = d.find<QSplitter>("middle");
    split->setSizes({0, 900, 330}); // dragged shut
    emit split->splitterMoved(0, 1);
    auto* yard = action(d, "showYard");
    QVERIFY(!yard->isChecked());
    yard->trigger();
    idle();
    QVERIFY(split->sizes()[0] > 100 && d.window->yard().isVisible());
    auto* strip = action(d, "showStrip");
    strip->trigger();
    QVERIFY(!d.strip().isVisible());
    d.window->seatView().open();
    d.window->seatView().leave();
    QVERIFY(!d.strip().isVisible()); // as the user wants it
    action(d, "showSheet")->trigger();
    QVERIFY(!d.window->sheet().isVisible());
    action(d, "resetWindow")->trigger();
    idle();
    QVERIFY(d.strip().isVisible() && d.window->sheet().isVisible() && d.window->yard().isVisible());
    NEAR(split->sizes()[2], 330, 3);
    // Remembered: another window opens as this one was closed.
    action(d, "showStrip")->trigger();
    d.window->close();
    MainWindow again;
    again.restoreWindow();
    again.show();
    QVERIFY(QTest::qWaitForWindowExposed(&again));
    QVERIFY(!again.strip().isVisible());
    QSettings().clear();
}

void TestRobustness::aSmallPathGetsAnOffsetOneCanSee() {
    for (double size : {0.5, 4.0, 80.0, 60000.0}) {
        Driver d;
        Document doc;
        ShapeRecipe r{CircleShape{size}};
        doc = with(doc, PathItem{0, "ring", r});
        d.store().edit(doc, "ring");
        d.store().selectItem(Selection::Kind::Path, 1);
        d.view().frameAll();
        idle();
        action(d, "derive.offset")->trigger();
        const auto made = d.store().document().paths.back();
        const double distance = std::get<OffsetOf>(std::get<DerivedRecipe>(made->recipe).change).distance;
        QVERIFY2(distance > size / 10 && distance < size, qPrintable(QString("%1 of %2").arg(distance).arg(size)));
    }
}

void TestRobustness::tenThousandCurvesAreOneEdit() {
    Driver d;
    std::vector<PathItem> items;
    for (int i = 0; i < 10'000; ++i)
        items.push_back({0, "KERB", BroughtCurve{{Line{{double(i), 0, 0}, {double(i), 500, 0}}}, false, "kerbs.dxf"}});
    QElapsedTimer clock;
    clock.start();
    d.store().edit(with(d.store().document(), std::move(items)), "Bring in kerbs.dxf");
    d.settle();
    qInfo("10,000 curves in the window after %lld ms", static_cast<long long>(clock.elapsed()));
    QCOMPARE(d.store().evaluation().paths.size(), size_t(10'000));
    QCOMPARE(d.store().history().size(), size_t(2));
    clock.restart();
    d.store().undo();
    d.settle();
    qInfo("and gone after %lld ms", static_cast<long long>(clock.elapsed()));
    QVERIFY(d.store().document().paths.empty());
}

void TestRobustness::slowWorkIsShownStoppedAndTakenUpAgain() {
    Driver d;
    d.store().setPatience(12); // as in the program
    Document slow;
    PathItem saw;
    saw.name = "Saw";
    PointsRecipe points; // its offset is cut by thousands of corners
    for (int i = 0; i < 19'000; ++i) points.points.push_back({{i * 1.0, i % 2 * 400.0, 0}, false});
    saw.recipe = points;
    slow = with(slow, saw);
    d.store().edit(slow, "Saw");
    QTRY_VERIFY_WITH_TIMEOUT(!d.store().evaluating(), 60'000);
    QVERIFY(d.store().evaluation().paths.at(1)->path);
    PathItem beside;
    beside.name = "Beside";
    beside.recipe = DerivedRecipe{1, OffsetOf{150, CornerStyle::Round}};
    slow = with(slow, beside);
    d.store().edit(slow, "Offset");
    auto* button = d.find<QAbstractButton>("status.work");
    QTRY_VERIFY_WITH_TIMEOUT(button->isVisible(), 10'000);
    QVERIFY(d.store().evaluating());
    QVERIFY(d.find<QWidget>("status.progress")->isVisible());
    if (qEnvironmentVariableIsSet("SHOT")) d.window->grab().save(qEnvironmentVariable("SHOT"));
    QTest::mouseClick(button, Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(!d.store().evaluating(), 1'000);
    const auto stopped = d.store().evaluation().paths.at(2);
    QVERIFY(stopped->cancelled && stopped->problem && !stopped->path);
    // What is left is measured at once, which is work as well.
    QTRY_VERIFY(!d.find<QWidget>("status.progress")->isVisible());
    QVERIFY(button->isVisible()); // offers to take it up again
    // An edit of something else does so as well; here the button.
    QTest::mouseClick(button, Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(d.store().evaluating(), 5'000);
    QTRY_VERIFY_WITH_TIMEOUT(!d.store().evaluating(), 100'000);
    QVERIFY(!d.store().evaluation().paths.at(2)->cancelled);
    QTRY_VERIFY(!button->isVisible());
}

void TestRobustness::messagesSpeakTheDocumentsUnit() {
    Driver d;
    QVERIFY(d.open(kQuay));
    Document doc = d.store().document();
    doc.unit = Unit::Inch;
    d.store().edit(doc, "inches");
    d.store().change<RunItem>(d.run()->item->id, "too long", {}, [](RunItem& r) { r.spacing->rule = StepOff{254000}; });
    QVERIFY(d.run()->problem);
    const QString said = d.store().say(d.run()->problem->text);
    QVERIFY2(said.contains("10000 in") && !said.contains("mm"), qPrintable(said));
    QCOMPARE(QString::fromStdString(d.run()->problem->text).contains("254000 mm"), true); // the command line's words
    QVERIFY2(d.find<QLabel>("error.pitch")->text().contains("10000 in"),
             qPrintable(d.find<QLabel>("error.pitch")->text()));
    // In another language: the message's key is looked up, its lengths go where that wants them.
    struct Backwards : QTranslator {
        bool isEmpty() const override { return false; }
        QString translate(const char* context, const char* source, const char*, int) const override {
            return qstrcmp(context, "Message") == 0 && QByteArray(source).contains("%1") ? "Zu lang: %2 / %1"
                                                                                         : QString();
        }
    } other;
    const QString english = d.find<QLabel>("error.pitch")->text();
    QCoreApplication::installTranslator(&other);
    d.type("pitch", "20000");
    const QString told = d.find<QLabel>("error.pitch")->text();
    QCoreApplication::removeTranslator(&other);
    QVERIFY2(told.startsWith("Zu lang: ") && told.endsWith(" / 20000 in"), qPrintable(told));
    d.type("pitch", "10000");
    QCOMPARE(d.find<QLabel>("error.pitch")->text(), english);
    QVERIFY2(!d.store().say(d.run()->verdict.text).contains("mm"), "the verdict too");
}

void TestRobustness::nothingThatIsNoNumberEntersTheDocument() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const size_t steps = d.store().history().size();
    const Id run = d.run()->item->id, part = d.run()->item->part;
    for (double bad : {std::nan(""), 1e300, -std::numeric_limits<double>::infinity()}) {
        d.store().change<RunItem>(run, "bad", {}, [&](RunItem& r) { r.spacing->rule = EvenOut{bad}; });
        QVERIFY2(d.window->message().contains("About"), qPrintable(d.window->message()));
        d.store().change<PartItem>(part, "bad", {}, [&](PartItem& p) { p.seat.point = Vec3(0, bad, 0); });
        QVERIFY2(d.window->message().contains("seat point"), qPrintable(d.window->message()));
        QCOMPARE(d.store().history().size(), steps);
    }
}

void TestRobustness::whatIsChosenIsNoStep() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const size_t steps = d.store().history().size();
    int clicked = 0;
    for (const auto& run : std::vector(d.store().document().runs)) {
        d.store().selectItem(Selection::Kind::Run, run->id);
        idle();
        for (auto* options : d.window->sheet().findChildren<Segmented*>())
            for (auto* b : options->findChildren<QPushButton*>())
                if (b->isChecked() && b->isEnabled()) {
                    b->click();
                    ++clicked;
                    QVERIFY2(d.store().history().size() == steps, qPrintable(b->objectName()));
                    break; // some of them are made anew by that
                }
    }
    QVERIFY(clicked > 30);
}

void TestRobustness::savingAsksBeforeItWritesOverAnothersWork() {
    QTemporaryDir dir;
    Driver d;
    QVERIFY(d.open(kQuay));
    const QString file = dir.filePath("mine.vicinal");
    ask::answerFile(file);
    action(d, "saveAs")->trigger();
    QVERIFY(d.store().saved());
    d.store().change<RunItem>(d.run()->item->id, "inset", {}, [](RunItem& r) { r.spacing->insetStart = 77; });
    QVERIFY(!writeAtomically(file.toStdString(), "somebody else was here"));
    ask::answerSaveAnyway(false);
    action(d, "save")->trigger();
    QVERIFY2(d.window->message().contains("changed by someone else"), qPrintable(d.window->message()));
    QCOMPARE(*readFile(file.toStdString()), std::string("somebody else was here"));
    QVERIFY(!d.store().saved());
    ask::answerSaveAnyway(true);
    action(d, "save")->trigger();
    QVERIFY(d.store().saved());
    NEAR(openDocument(file.toStdString(), readBody)->runs[0]->spacing->insetStart, 77, 0);
    action(d, "save")->trigger(); // its own writing is no change
    QVERIFY(d.store().saved());
}

void TestRobustness::workSurvivesAKill() {
    namespace fs = std::filesystem;
    fs::remove_all(journalPlace());
    Document edited;
    {
        Driver d;
        QVERIFY(d.open(kQuay));
        d.store().change<RunItem>(d.run()->item->id, "inset", {}, [](RunItem& r) { r.spacing->insetStart = 123.456; });
        idle();
        // On its own, within a second.
        const auto entry = [] {
            for (const auto& e : fs::recursive_directory_iterator(journalPlace()))
                if (e.path().filename() == "document.json") return true;
            return false;
        };
        QTRY_VERIFY_WITH_TIMEOUT(fs::exists(journalPlace()) && entry(), 3000);
        d.store().journal().flush();
        edited = d.store().document();
        QVERIFY(leftJournals(journalPlace()).empty());                 // this program lives: it is nobody's left-over
        for (const auto& e : fs::directory_iterator(journalPlace())) { // what a kill would leave
            fs::copy(e.path(), journalPlace() / "killed", fs::copy_options::recursive);
            break;
        }
    }
    QCOMPARE(leftJournals(journalPlace()).size(), size_t(1));
    Driver d;
    ask::answerRecover(ask::Recover::Later);
    d.window->offerJournals();
    QVERIFY(d.store().document().runs.empty());
    ask::answerRecover(ask::Recover::Open);
    d.window->offerJournals();
    QVERIFY(!d.store().saved());
    QCOMPARE(QString::fromStdString(toJson(d.store().document())), QString::fromStdString(toJson(edited)));
    QCOMPARE(d.store().filePath(), kQuay);
    QVERIFY(leftJournals(journalPlace()).empty());
    // Saved work needs none.
    QTemporaryDir dir;
    ask::answerFile(dir.filePath("a.vicinal"));
    action(d, "saveAs")->trigger();
    QVERIFY(d.store().saved());
    size_t kept = 0;
    for (const auto& e : fs::recursive_directory_iterator(journalPlace()))
        kept += e.path().filename() == "document.json";
    QCOMPARE(kept, size_t(0));
}

void TestRobustness::aFileThatWasBeingWrittenIsOffered() {
    QTemporaryDir dir;
    const QString file = dir.filePath("plan.vicinal");
    const auto before = openDocument(kQuay.toStdString(), readBody);
    { // written in place by a program that died meanwhile
        const auto kept = KeptCopy::of(file.toStdString(), *packed(*before), copiesPlace());
        QVERIFY(bool(kept));
        QVERIFY(leftCopies(copiesPlace()).empty()); // it still writes
    }
    QCOMPARE(leftCopies(copiesPlace()).size(), size_t(1));
    Driver d;
    ask::answerRecover(ask::Recover::Later);
    d.window->offerJournals();
    QVERIFY(d.store().document().runs.empty());
    QCOMPARE(leftCopies(copiesPlace()).size(), size_t(1));
    ask::answerRecover(ask::Recover::Open);
    d.window->offerJournals();
    QVERIFY(!d.store().saved());
    QCOMPARE(d.store().filePath(), file);
    QCOMPARE(QString::fromStdString(toJson(d.store().document())), QString::fromStdString(toJson(*before)));
    QVERIFY(leftCopies(copiesPlace()).empty());
}

void TestRobustness::aMonkeyDoesNotBringItDown() {
    Driver d;
    QVERIFY(d.open(kQuay));
    std::mt19937 random(20261126);
    const auto roll = [&](int n) { return int(random() % unsigned(n)); };
    const std::array<int, 14> keys{Qt::Key_Tab,  Qt::Key_Return, Qt::Key_Escape, Qt::Key_Delete, Qt::Key_Up,
                                   Qt::Key_Down, Qt::Key_1,      Qt::Key_2,      Qt::Key_5,      Qt::Key_0,
                                   Qt::Key_S,    Qt::Key_P,      Qt::Key_7,      Qt::Key_K};
    const QTimer* closer = [&] { // a dialog that opens is closed, as a monkey would not
        auto* t = new QTimer(d.window.get());
        t->setInterval(20);
        QObject::connect(t, &QTimer::timeout, [] {
            if (auto* w = QApplication::activeModalWidget()) w->close();
            if (auto* p = QApplication::activePopupWidget()) p->close();
            QDrag::cancel(); // of something out of the yard
        });
        t->start();
        return t;
    }();
    Q_UNUSED(closer);
    for (int i = 0; i < 400; ++i) {
        std::vector<QWidget*> shown;
        for (auto* w : d.window->findChildren<QWidget*>())
            if (w->isVisible() && w->isEnabled() && w->width() > 4 && w->height() > 4 && !w->inherits("QMenuBar") &&
                w->objectName() != "tool.sendOut" && !w->objectName().startsWith("tool.bringIn"))
                shown.push_back(w);
        QWidget* w = shown[size_t(roll(int(shown.size())))];
        const QPoint a(roll(w->width()), roll(w->height())), b(roll(w->width()), roll(w->height()));
        switch (roll(5)) {
        case 0: QTest::mouseClick(w, Qt::LeftButton, {}, a); break;
        case 1:
            QTest::mousePress(w, Qt::LeftButton, {}, a);
            QTest::mouseMove(w, (a + b) / 2);
            QTest::mouseMove(w, b);
            QTest::mouseRelease(w, Qt::LeftButton, {}, b);
            break;
        case 2: QTest::mouseDClick(w, Qt::LeftButton, {}, a); break;
        default: QTest::keyClick(w, Qt::Key(keys[size_t(roll(int(keys.size())))])); break;
        }
        if (roll(9) == 0) d.store().undo();
        QCoreApplication::processEvents();
    }
    QVERIFY(d.window->isVisible());
    QVERIFY(bool(packed(d.store().document()))); // and what is left can be saved and opened
    const auto back = fromJson(
        toJson(d.store().document()),
        [&](const std::string& name) -> std::optional<std::string> {
            for (const auto& [n, bytes] : assetsOf(d.store().document()))
                if (n == name) return *bytes;
            return std::nullopt;
        },
        readBody);
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
}

VICINAL_SUITE(TestRobustness)

} // namespace test_robustness
#include "test_robustness.moc"
