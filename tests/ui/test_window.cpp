// One real story per part of the window, with mouse and keyboard.
#include "app/dialogs/ask.h"
#include "app/strip/strip_map.h"
#include "app/view/toolbox.h"
#include "app/yard/yard.h"
#include "layout/spacing/rules.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "suite.h"
#include "ui/window_fixture.h"
#include <QAction>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QFile>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QRegularExpression>
#include <QSet>
#include <QSettings>
#include <QSignalSpy>
#include <QTableView>
#include <QToolButton>
#include <cmath>

namespace test_window {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const QString kQuay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";
const QString kExamples = VICINAL_SOURCE "/examples/";

} // namespace

class TestWindow : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void drawAPathAndMakeARun();
    void drawingTakesBackClosesAndCancels();
    void rulesFieldsSentenceAndStripAgree();
    void wrongValuesStandAtTheirField();
    void stepsAndDragsAreLiveAndOneStepEach();
    void selectionIsOneEverywhere();
    void placesAreLeftOutAndComeBack();
    void handlesMovePointsAndInsets();
    void typedValuesWhileDragging();
    void stripSlidesAndChangesInsets();
    void fitsAreTakenByAClick();
    void pointsAreTypedInsertedAndDeleted();
    void seatAndPartAreEdited();
    void bringInAsksWhatItMust();
    void badFilesLeaveEverythingAsItWas();
    void saveOpenAndAskBeforeLosing();
    void deletingAPathGreysItsRun();
    void unitsChangeEveryField();
    void theStripIsNeverEmpty();
    void theYardFoldsAndTheStartOffersThreeWays();
    void manyPlacesAreWorkedOutBehind();
};

void TestWindow::initTestCase() {
    theme::apply(*qApp);
    QCoreApplication::setOrganizationName("VicinalTest");
}

void TestWindow::drawAPathAndMakeARun() {
    Driver d;
    d.click("tool.looks.1");
    d.click("tool.drawPath");
    QVERIFY(d.view().tools().drawing());
    const std::vector<Vec3> wanted{{-2000, 0, 0}, {0, 1000, 0}, {2000, 0, 0}};
    for (const Vec3& p : wanted) d.clickAt(&d.view(), d.ground(p.x(), p.y()));
    QTest::keyClick(&d.view(), Qt::Key_Return);
    QVERIFY(!d.view().tools().drawing());
    QCOMPARE(d.store().document().paths.size(), size_t(1));
    const auto* points = editablePoints(*d.store().document().paths[0]);
    QCOMPARE(points->points.size(), size_t(3));
    for (size_t i = 0; i < 3; ++i) NEAR((points->points[i].at - wanted[i]).norm(), 0, 1e-9); // the grid catches
    d.whenDialog("newRun", [&](QDialog* dialog) { Driver::clickIn(dialog, "newRun.ok"); });
    d.click("tool.newRun");
    QVERIFY(d.run());
    QVERIFY(d.run()->placed && d.run()->placed->count() > 5);
    QCOMPARE(d.store().history().size(), size_t(3)); // draw, run
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(d.store().document().runs.empty());
}

void TestWindow::drawingTakesBackClosesAndCancels() {
    Driver d;
    d.click("tool.looks.1");
    d.click("tool.drawPath");
    for (const auto& [x, y] : {std::pair{0, 0}, {1000, 0}, {3000, 3000}}) d.clickAt(&d.view(), d.ground(x, y));
    QTest::keyClick(&d.view(), Qt::Key_Backspace);
    QTest::keyClick(&d.view(), Qt::Key_C); // the next ones are corners
    d.clickAt(&d.view(), d.ground(1000, 1000));
    QTest::keyClicks(&d.view(), "0, 1 m, 0.25 m"); // typed, exactly
    QTest::keyClick(&d.view(), Qt::Key_Return);
    d.clickAt(&d.view(), d.ground(0, 0)); // on the first: closes
    QVERIFY(!d.view().tools().drawing());
    const auto* p = editablePoints(*d.store().document().paths[0]);
    QVERIFY(p->closed);
    QCOMPARE(p->points.size(), size_t(4));
    QVERIFY(p->points[0].smooth && !p->points[1].smooth &&
            !p->points[2].smooth); // a straight leg has corners at both ends
    NEAR((p->points[3].at - Vec3(0, 1000, 250)).norm(), 0, 1e-9);
    d.click("tool.drawPath");
    d.clickAt(&d.view(), d.ground(500, 500));
    QTest::keyClick(&d.view(), Qt::Key_Return);
    QVERIFY(d.window->message().contains("at least two points"));
    QTest::keyClick(&d.view(), Qt::Key_Escape);
    QVERIFY(!d.view().tools().drawing());
    QCOMPARE(d.store().document().paths.size(), size_t(1));
}

void TestWindow::rulesFieldsSentenceAndStripAgree() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const auto sentence = [&] {
        return d.find<QLabel>("sheet.sentence")->text().remove(QRegularExpression("<[^>]*>"));
    };
    const auto status = [&] { return d.find<QLabel>("status")->text().remove(QRegularExpression("<[^>]*>")); };
    QVERIFY2(sentence().contains("evened to about 120 mm centre to centre with no gap along over 99 mm"),
             qPrintable(sentence()));
    d.type("about", "150");
    QVERIFY(sentence().contains("no gap along over 99 mm")); // the limit still rules: fewer would be wider
    QCOMPARE(d.run()->placed->count(), size_t(62));
    d.type("gapAtMost", "");
    QVERIFY(sentence().contains("about 150 mm"));
    QCOMPARE(d.run()->placed->count(), size_t(49));
    d.click("run.rule.1");
    QVERIFY(sentence().contains("49 places shared out evenly")); // going over keeps what is there
    d.type("count", "6*10");
    QCOMPARE(d.run()->placed->count(), size_t(60));
    QVERIFY2(status().startsWith("60 places"), qPrintable(status()));
    d.click("run.rule.0");
    d.type("pitch", "1/2 m");
    QVERIFY2(sentence().contains("stepped off at 500 mm centre to centre, what is left over at the end"),
             qPrintable(sentence()));
    const Places& p = *d.run()->placed;
    NEAR(p.laid->pitch, 500, 1e-9);
    d.click("run.leftOver.2");
    NEAR(d.run()->placed->stations()[0], 60 + d.run()->placed->laid->leftOver / 2, 1e-9);
    d.click("run.measure.1");
    NEAR(d.run()->placed->gaps[3].clear(), 500, 1e-6);
    QVERIFY(sentence().contains("500 mm clear"));
    // On a closed path nothing is said of ends and what is left over there.
    d.store().selectItem(Selection::Kind::Run, 17);
    for (int rule : {0, 1, 2}) {
        d.click(QString("run.rule.%1").arg(rule));
        QVERIFY2(!sentence().contains("left over at") && !sentence().contains("[") && !sentence().contains("{"),
                 qPrintable(sentence()));
    }
    d.store().selectItem(Selection::Kind::Run, 5);
    // A word of the sentence leads to its field. A box that told how long something takes may have had the keyboard.
    d.takeKeyboard();
    emit d.find<QLabel>("sheet.sentence")->linkActivated("insetStart");
    QTRY_VERIFY(d.find("edit.insetStart")->hasFocus());
}

void TestWindow::wrongValuesStandAtTheirField() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const auto before = d.run()->placed;
    d.type("about", "abc");
    QVERIFY(d.errorAt("about").contains("not a number"));
    QCOMPARE(d.run()->placed, before); // nothing was lost
    d.type("about", "120");
    QVERIFY(d.errorAt("about").isEmpty());
    d.click("run.rule.0");
    const auto good = d.run()->placed;
    d.type("pitch", "0");
    QVERIFY2(d.errorAt("pitch").contains("above zero"), qPrintable(d.errorAt("pitch")));
    QVERIFY(d.run()->stale());
    QCOMPARE(d.run()->placed, good); // the last good result stays
    d.type("pitch", "9 m");
    QVERIFY2(d.errorAt("pitch").contains("The longest that works is"), qPrintable(d.errorAt("pitch")));
    d.type("pitch", "120");
    QVERIFY(d.errorAt("pitch").isEmpty());
    d.click("run.rule.1");
    d.type("count", "10 000 000");
    QVERIFY(!d.errorAt("count").isEmpty());
    d.type("count", "10000000");
    QVERIFY2(d.errorAt("count").contains("the most is 1000000"), qPrintable(d.errorAt("count")));
    d.type("count", "0");
    QVERIFY(d.errorAt("count").contains("at least 1"));
    d.type("count", "1");
    QCOMPARE(d.run()->placed->count(), size_t(1));
    d.type("insetStart", "20 m");
    QVERIFY2(d.errorAt("insetStart").contains("leave nothing"), qPrintable(d.errorAt("insetStart")));
}

void TestWindow::stepsAndDragsAreLiveAndOneStepEach() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.click("run.rule.1");
    const size_t steps = d.store().history().size();
    auto* edit = d.find<QLineEdit>("edit.count");
    edit->setFocus();
    for (int i = 0; i < 3; ++i) QTest::keyClick(edit, Qt::Key_Up);
    QTest::keyClick(edit, Qt::Key_Up, Qt::ShiftModifier);
    QCOMPARE(std::get<ShareOut>(d.run()->item->spacing->rule).count, 62L + 13);
    QCOMPARE(d.store().history().size(), steps + 4); // each key is a step of its own
    const size_t now = d.store().history().size();
    QSignalSpy live(&d.store(), &Store::documentChanged);
    auto* unit = d.find("unit.insetStart");
    d.drag(unit, QPointF(5, 5), QPointF(65, 5));
    NEAR(d.run()->item->spacing->insetStart, 80, 1e-9); // 60 and 20 steps of 3 pixels
    QVERIFY(live.count() >= 4);
    QCOMPARE(d.store().history().size(), now + 1); // one drag, one step
    d.key(Qt::Key_Z, Qt::ControlModifier);
    NEAR(d.run()->item->spacing->insetStart, 60, 1e-9);
}

void TestWindow::selectionIsOneEverywhere() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.view().frameSelection();
    idle();
    const auto middle = [&](int i) {
        const Mat4& pose = d.run()->placed->pose(i);
        const auto p = *d.view().camera().project((pose * Vec3(0, 0, 500).homogeneous()).head<3>());
        return QPointF(p.x(), p.y());
    };
    // Pick in the view; balusters are a few pixels wide here, so this is exact or nothing.
    d.clickAt(&d.view(), middle(10));
    QCOMPARE(d.store().selection().places, std::set<int>{10});
    // In the strip, adding to it.
    const auto& map = d.strip().map();
    d.clickAt(&d.strip(), QPointF(map.x(d.run()->placed->stations()[12]), d.strip().placesY()), Qt::ControlModifier);
    QCOMPARE(d.store().selection().places, (std::set<int>{10, 12}));
    d.clickAt(&d.strip(), QPointF(map.x(d.run()->placed->stations()[20]), d.strip().placesY()), Qt::ShiftModifier);
    QCOMPARE(d.store().selection().places.size(), size_t(11));
    // A plank of the other run: the run changes with it, in the yard too.
    d.view().setLook(Viewport::Look::Plan);
    idle();
    const auto planks = d.store().evaluation().runs[1];
    const auto p = *d.view().camera().project((planks->placed->pose(40) * Vec3(0, 300, 20).homogeneous()).head<3>());
    d.clickAt(&d.view(), {p.x(), p.y()});
    QCOMPARE(d.store().selection().id, planks->item->id);
    QCOMPARE(d.store().selection().places, std::set<int>{40});
    QCOMPARE(d.window->yard().currentIndex(), d.window->yard().rowOf(planks->item->id));
    d.strip().setFocus();
    QTest::keyClick(&d.strip(), Qt::Key_Right);
    QCOMPARE(d.store().selection().places, std::set<int>{41});
}

void TestWindow::placesAreLeftOutAndComeBack() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const auto& map = d.strip().map();
    d.clickAt(&d.strip(), QPointF(map.x(d.run()->placed->stations()[7]), d.strip().placesY()));
    QTest::keyClick(&d.strip(), Qt::Key_Delete);
    QCOMPARE(d.run()->item->leftOut, std::vector<int>{8});
    QCOMPARE(d.run()->placed->present, 61);
    QCOMPARE(int(d.run()->verdict.mark), int(Mark::Wrong)); // the gap is over its limit now, and says so
    QVERIFY(d.find<QLabel>("status")->text().contains("1 left out"));
    QTest::keyClick(&d.strip(), Qt::Key_Delete);
    QVERIFY(d.run()->item->leftOut.empty());
    d.window->sheet().goTo("leftOut");
    d.click("places.toggle");
    QCOMPARE(d.run()->placed->present, 61);
    d.type("about", "400"); // far fewer places; the exception stays with its number
    d.type("gapAtMost", "");
    QCOMPARE(d.run()->item->leftOut, std::vector<int>{8});
    d.type("about", "2000");
    QCOMPARE(d.run()->placed->staleLeftOut, std::vector<int>{8});
    QVERIFY(d.find<QLabel>("places.leftOut")->text().contains("no longer there"));
    d.click("places.bringAllBack");
    QVERIFY(d.run()->item->leftOut.empty());
    // By the context menu, in the strip.
    const QPointF at(map.x(d.run()->placed->stations()[1]), d.strip().placesY());
    QTimer::singleShot(100, [] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu);
        QCOMPARE(menu->actions().front()->text(), QString("Leave out"));
        QTest::keyClick(menu, Qt::Key_Down);
        QTest::keyClick(menu, Qt::Key_Return);
    });
    QContextMenuEvent event(QContextMenuEvent::Mouse, at.toPoint(), d.strip().mapToGlobal(at.toPoint()));
    QApplication::sendEvent(&d.strip(), &event);
    QCOMPARE(d.run()->item->leftOut, std::vector<int>{2});
}

void TestWindow::handlesMovePointsAndInsets() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    idle();
    const size_t steps = d.store().history().size();
    const Vec3 before = editablePoints(*d.store().document().paths[0])->points[2].at;
    const QPointF from = *d.view().tools().edit().handleAt("point 3");
    d.drag(&d.view(), from, from + QPointF(40, -30));
    const Vec3 after = editablePoints(*d.store().document().paths[0])->points[2].at;
    const double scale = d.view().camera().scale();
    NEAR(after.x() - before.x(), 40 * scale, 1.5 * scale);
    NEAR(after.y() - before.y(), 30 * scale, 1.5 * scale);
    NEAR(after.z(), before.z(), 0); // in plan the height stays
    QCOMPARE(d.store().history().size(), steps + 1);
    QVERIFY(!d.run()->stale());
    d.store().undo();
    NEAR((editablePoints(*d.store().document().paths[0])->points[2].at - before).norm(), 0, 0);
    d.store().seal();
    // The inset follows the path under the pointer.
    const QPointF inset = *d.view().tools().edit().handleAt("inset start");
    const auto target = *d.view().camera().project(d.run()->placed->path.at(500).point);
    d.drag(&d.view(), inset, QPointF(target.x(), target.y() + 12));
    NEAR(d.run()->item->spacing->insetStart, 500, 3 * scale);
    NEAR(d.run()->placed->stations()[0], d.run()->item->spacing->insetStart, 1e-9);
    // Esc in the middle of a drag puts everything back.
    const double was = d.run()->item->spacing->insetEnd;
    const QPointF end = *d.view().tools().edit().handleAt("inset end");
    d.press(&d.view(), end);
    for (int i = 1; i < 8; ++i) QTest::mouseMove(&d.view(), (end + QPointF(-10 * i, 0)).toPoint());
    QVERIFY(d.run()->item->spacing->insetEnd != was);
    QTest::keyClick(&d.view(), Qt::Key_Escape);
    NEAR(d.run()->item->spacing->insetEnd, was, 0);
    d.release(&d.view(), end);
}

void TestWindow::typedValuesWhileDragging() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    idle();
    const QPointF inset = *d.view().tools().edit().handleAt("inset start");
    d.press(&d.view(), inset);
    QTest::mouseMove(&d.view(), (inset + QPointF(20, 0)).toPoint());
    QTest::mouseMove(&d.view(), (inset + QPointF(30, 0)).toPoint());
    QTest::keyClicks(&d.view(), "0.3 m");
    QTest::keyClick(&d.view(), Qt::Key_Return);
    d.release(&d.view(), inset + QPointF(30, 0));
    NEAR(d.run()->item->spacing->insetStart, 300, 1e-9);
    const QPointF point = *d.view().tools().edit().handleAt("point 2");
    d.press(&d.view(), point);
    QTest::keyClicks(&d.view(), "1500, 1/4 m, 130");
    QTest::keyClick(&d.view(), Qt::Key_Return);
    d.release(&d.view(), point);
    NEAR((editablePoints(*d.store().document().paths[0])->points[1].at - Vec3(1500, 250, 130)).norm(), 0, 1e-9);
}

void TestWindow::stripSlidesAndChangesInsets() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const auto& map = d.strip().map();
    const auto before = d.run()->placed;
    const size_t steps = d.store().history().size();
    const QPointF at(map.x(before->stations()[30]), d.strip().placesY());
    d.drag(&d.strip(), at, at + QPointF(5, 0));
    const double by = d.run()->placed->stations()[0] - before->stations()[0];
    NEAR(by, 5 * map.perPixel, map.perPixel);
    QVERIFY(by > 0);
    QCOMPARE(d.run()->placed->count(), before->count());
    NEAR(d.run()->placed->laid->pitch, before->laid->pitch, 1e-9);
    QCOMPARE(d.store().history().size(), steps + 1);
    const QPointF handle(map.x(map.length - d.run()->item->spacing->insetEnd), d.strip().placesY() + 27);
    const double inset = d.run()->item->spacing->insetEnd;
    d.drag(&d.strip(), handle, handle - QPointF(50, 0));
    NEAR(d.run()->item->spacing->insetEnd, inset + 50 * map.perPixel, 2 * map.perPixel);
}

void TestWindow::fitsAreTakenByAClick() {
    Driver d;
    QVERIFY(d.open(kQuay));
    idle();
    auto* fits = d.find<QTableView>("fits");
    const auto cellText = [&](int row, int column) { return fits->model()->index(row, column).data().toString(); };
    QTRY_COMPARE(fits->model()->rowCount(), 11);
    QCOMPARE(cellText(0, 0), QString("62")); // the nearest to what is wanted first
    QCOMPARE(cellText(0, 3), QString("in use"));
    int row = 1;
    while (cellText(row, 0) != "63") ++row;
    const QString pitch = cellText(row, 1);
    d.window->sheet().ensureWidgetVisible(fits, 0, 200);
    idle();
    const QRect cell = fits->visualRect(fits->model()->index(row, 0));
    QTest::mouseClick(fits->viewport(), Qt::LeftButton, {}, cell.center());
    idle();
    QCOMPARE(d.run()->placed->count(), size_t(63));
    QCOMPARE(QString::number(d.run()->placed->laid->pitch, 'f', 2), pitch);
    QTRY_COMPARE(cellText(0, 0), QString("63"));
    // The arrow keys show one row after the other; Esc goes back to what was there, Enter takes what is shown.
    fits->setFocus();
    const size_t steps = d.store().history().index();
    QTest::keyClick(fits, Qt::Key_Down);
    QTest::keyClick(fits, Qt::Key_Down);
    idle();
    const QString shown = cellText(2, 0);
    QVERIFY(shown != "63");
    QCOMPARE(QString::number(d.run()->placed->count()), shown);
    QTest::keyClick(fits, Qt::Key_Escape);
    QCOMPARE(d.run()->placed->count(), size_t(63));
    QCOMPARE(d.store().history().index(), steps);
    QTest::keyClick(fits, Qt::Key_Down);
    const QString taken = cellText(1, 0);
    QTest::keyClick(fits, Qt::Key_Return);
    QCOMPARE(QString::number(d.run()->placed->count()), taken);
    QCOMPARE(d.store().history().index(), steps + 1);
    QTRY_COMPARE(cellText(0, 0), taken);
}

void TestWindow::pointsAreTypedInsertedAndDeleted() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 1);
    d.settle();
    auto* table = d.find<QTableView>("sheet.path.points");
    QCOMPARE(table->model()->rowCount(), 7);
    table->selectRow(3);
    QCOMPARE(d.store().selection().point, 3);
    const auto type = [&](int row, int column, const QString& text) { // as the editor hands it over
        table->setCurrentIndex(table->model()->index(row, column));
        table->edit(table->currentIndex());
        auto* edit = table->findChild<QLineEdit*>();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        d.settle();
    };
    type(3, 2, "0.4 m");
    const auto points = [&] { return editablePoints(*d.store().document().path(1))->points; };
    NEAR(points()[3].at.z(), 400, 1e-9);
    type(3, 0, "fish");
    QVERIFY(d.find<QLabel>("sheet.path.error")->text().contains("Point 4, x"));
    NEAR(points()[3].at.x(), 3720, 1e-9);
    table->selectRow(3);
    d.click("sheet.path.insert");
    QCOMPARE(points().size(), size_t(8));
    QCOMPARE(d.store().selection().point, 4);
    d.click("sheet.path.remove");
    QCOMPARE(points().size(), size_t(7));
    d.click("sheet.path.closed");
    QVERIFY(d.store().currentPath()->path->closed());
    QCOMPARE(d.store().evaluation().runs[0]->problem.has_value(), false); // the run follows
}

void TestWindow::seatAndPartAreEdited() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Part, 3);
    d.settle();
    d.type("sheet.part.width", "3/4 in");
    const auto run = [&] { return d.store().evaluation().runs[0]; };
    NEAR(run()->placed->gaps[0].clear(), run()->placed->laid->pitch - 19.05,
         0.2);                    // 20 mm became 19.05, on a slight slope
    d.click("sheet.part.boxz.2"); // hang it by its top
    NEAR((run()->placed->pose(5) * Vec3(0, 0, 1000).homogeneous()).head<3>().z(),
         run()->placed->path.at(run()->placed->stations()[5]).point.z(), 1e-9);
    d.click("sheet.part.seat.2");
    d.type("sheet.part.atz", "500");
    NEAR((run()->placed->pose(5) * Vec3(0, 0, 500).homogeneous()).head<3>().z(),
         run()->placed->path.at(run()->placed->stations()[5]).point.z(), 1e-9);
    d.type("sheet.part.height", "-4");
    QVERIFY2(d.errorAt("sheet.part.height").contains("eight"), qPrintable(d.errorAt("sheet.part.height")));
    QVERIFY(run()->stale() && run()->placed);
}

void TestWindow::bringInAsksWhatItMust() {
    Driver d;
    // CSV: the unit is asked for and never assumed.
    ask::answerFile(kExamples + "ramp-edge-levels.csv");
    d.whenDialog("bringIn", [&](QDialog* dialog) {
        auto* ok = dialog->findChild<QPushButton*>("bringIn.ok");
        QVERIFY(!ok->isEnabled());
        QVERIFY(dialog->findChild<QLabel*>("bringIn.error")->text().contains("Choose the unit"));
        dialog->findChild<QComboBox*>("bringIn.unit")->setCurrentIndex(3);
        QVERIFY(ok->isEnabled());
        Driver::clickIn(dialog, "bringIn.ok");
    });
    d.click("tool.bringIn");
    QCOMPARE(d.store().document().paths.size(), size_t(1));
    NEAR(d.store().currentPath()->path->length(), 7365, 5);
    // DXF: the header says millimetres; ends are joined.
    ask::answerFile(kExamples + "quay-paths.dxf");
    d.whenDialog("bringIn", [&](QDialog* dialog) { Driver::clickIn(dialog, "bringIn.ok"); });
    d.click("tool.bringIn");
    QCOMPARE(d.store().document().paths.size(), size_t(4));
    std::map<std::string, const PathItem*> byName;
    for (const auto& p : d.store().document().paths) byName[p->name] = p.get();
    QVERIFY(byName.count("QUAY-EDGE") && byName.count("DRAIN") && byName.count("KERB"));
    NEAR(build(byName["DRAIN"]->recipe)->path.length(), 2 * kPi * 600, 1e-6);
    NEAR(build(byName["QUAY-EDGE"]->recipe)->path.length(), 4000 + kPi / 2 * 1000 + 2000 + 3000 + kPi / 2 * 1500, 1e-3);
    // A mesh becomes a part.
    ask::answerFile(kExamples + "mooring-post.obj");
    d.whenDialog("partIn", [&](QDialog* dialog) {
        auto* ok = dialog->findChild<QPushButton*>("partIn.ok");
        QVERIFY(!ok->isEnabled());
        QVERIFY(dialog->findChild<QLabel*>("partIn.error")->text().contains("Choose the unit"));
        dialog->findChild<QComboBox*>("partIn.unit")->setCurrentIndex(3);
        QVERIFY(dialog->findChild<QLabel*>("partIn.size")->text().contains("860"));
        Driver::clickIn(dialog, "partIn.ok");
    });
    d.click("tool.bringIn");
    QCOMPARE(d.store().document().parts.size(), size_t(1));
    NEAR(d.store().evaluation().parts.begin()->second->mesh->box.sizes().z(), 860, 0.01);
}

void TestWindow::badFilesLeaveEverythingAsItWas() {
    Driver d;
    QTemporaryDir dir;
    QVERIFY(d.open(kQuay));
    const auto before = d.store().document().runs;
    const std::pair<std::string, const char*> files[] = {
        {writeText(dir, "words.csv", "fish,chips\nmore,fish\n"), "not a number"},
        {writeText(dir, "one.csv", "1,2\n"), "at least two"},
        {writeText(dir, "no.dxf", "nothing"), "not a text DXF"},
        {writeText(dir, "flat.obj", "v 0 0 0\nv 1 0 0\np 1 2\n"), "triangles"}};
    for (const auto& [file, says] : files) {
        ask::answerFile(QString::fromStdString(file));
        d.click("tool.bringIn");
        QVERIFY2(d.window->message().contains(says), qPrintable(d.window->message()));
    }
    QVERIFY(!d.window->openFile(QString::fromStdString(writeText(dir, "cut.vicinal", "PK\x03\x04 cut"))));
    QVERIFY(d.window->message().contains("cut off"));
    QVERIFY(!d.window->openFile("/no/such/file.vicinal"));
    QVERIFY(d.window->message().contains("There is no file"));
    QCOMPARE(d.store().document().runs, before);
    d.click("message.close");
    QVERIFY(d.window->message().isEmpty());
}

void TestWindow::saveOpenAndAskBeforeLosing() {
    Driver d;
    QTemporaryDir dir;
    const QString file = dir.filePath("quay.vicinal");
    QVERIFY(d.window->openDemo(kQuay, "Saltmarrow Quay"));
    d.type("about", "130");
    QVERIFY(!d.store().saved());
    ask::answerUnsaved(ask::Unsaved::Cancel);
    QVERIFY(!d.window->close()); // keep working
    ask::answerFile(file);
    d.key(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(d.store().saved());
    QVERIFY(d.find<QLabel>("fileLabel")->text().contains("quay.vicinal \u2014 saved"));
    d.type("about", "140");
    ask::answerUnsaved(ask::Unsaved::Discard);
    ask::answerFile(file);
    d.key(Qt::Key_O, Qt::ControlModifier);
    NEAR(std::get<EvenOut>(d.run()->item->spacing->rule).about, 130, 0);
    d.type("about", "150");
    ask::answerUnsaved(ask::Unsaved::Save); // saves to the known file without another question
    d.key(Qt::Key_N, Qt::ControlModifier);
    QVERIFY(d.store().document().runs.empty());
    NEAR(std::get<EvenOut>(openDocument(file.toStdString(), readBody)->runs[0]->spacing->rule).about, 150, 0);
    // A folder that cannot be written: a message, and the work stays unsaved, not lost.
    d.click("tool.drawPath");
    QTest::keyClick(&d.view(), Qt::Key_Escape);
    d.window->openFile(file);
    d.type("about", "160");
    ask::answerFile("/nowhere/at/all.vicinal");
    d.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(d.window->message().contains("Choose another folder"));
    QVERIFY(!d.store().saved());
    NEAR(std::get<EvenOut>(d.run()->item->spacing->rule).about, 160, 0);
}

void TestWindow::deletingAPathGreysItsRun() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 1);
    d.window->yard().setFocus();
    QTest::keyClick(&d.window->yard(), Qt::Key_Delete);
    QVERIFY(!d.store().document().path(1));
    QVERIFY(d.window->message().contains("Ramp balustrade"));
    d.store().selectItem(Selection::Kind::Run, 5);
    QVERIFY(d.run()->stale() && d.run()->placed);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!d.run()->stale());
}

void TestWindow::unitsChangeEveryField() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.click("tool.units.2");
    QCOMPARE(d.find<QLineEdit>("edit.gapAtMost")->text(), QString("3.8976"));
    d.type("insetStart", "2 1/2");
    NEAR(d.run()->item->spacing->insetStart, 63.5, 1e-9);
    d.click("tool.units.1");
    QCOMPARE(d.find<QLineEdit>("edit.insetStart")->text(), QString("0.0635"));
}

void TestWindow::theStripIsNeverEmpty() {
    Driver d;
    auto& strip = d.strip();
    const auto shows = [&](const char* path) {
        for (const auto& [id, p] : d.store().evaluation().paths)
            if (p->item->name == path) return std::abs(strip.map().length - p->path->length()) < 1e-9;
        return false;
    };
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 2); // a path shows the run on it
    QVERIFY(shows("Boardwalk line"));
    auto* choice = d.find<QComboBox>("strip.run");
    QVERIFY(!choice->isVisible());                   // only one
    d.store().selectItem(Selection::Kind::Part, 19); // a part the run that uses it
    QVERIFY(shows("Quay edge"));
    d.store().select({}); // nothing: the last run
    QVERIFY(shows("Quay edge"));
    // Several runs on one path: one is chosen.
    RunItem second = *d.store().document().run(5);
    second.id = 0;
    second.name = "Second";
    d.store().edit(with(d.store().document(), second), "second");
    d.store().selectItem(Selection::Kind::Path, 1);
    QTRY_VERIFY(choice->isVisible());
    QCOMPARE(choice->count(), 2);
    choice->setCurrentIndex(1);
    emit choice->activated(1);
    d.clickAt(&strip,
              QPointF(strip.map().x(d.store().evaluation().runs.back()->placed->stations()[3]), strip.placesY()));
    QCOMPARE(d.run()->item->name, std::string("Second")); // a click there selects that run's place
    QCOMPARE(d.store().selection().places, std::set<int>{3});
    // While a path is drawn it is the one in the strip.
    d.find<QAction>("action.drawPath")->trigger();
    d.clickAt(&d.view(), d.ground(0, 0));
    QTest::mouseMove(&d.view(), d.ground(2200, 700).toPoint());
    QTRY_VERIFY(d.view().tools().drawnPath() && d.view().tools().drawnPath()->length() > 2000); // up to the pointer
    QTRY_VERIFY(std::abs(strip.map().length - d.view().tools().drawnPath()->length()) < 1e-9);
    QTest::keyClicks(&d.view(), "1500, 0");
    QTRY_VERIFY(std::abs(strip.map().length - 1500) < 40); // what is typed stands there before Enter
    QVERIFY(d.view().tools().drawnPath().has_value());
    QTest::keyClick(&d.view(), Qt::Key_Escape);
    QTest::keyClick(&d.view(), Qt::Key_Escape);
    QVERIFY(!d.view().tools().drawing());
    QTRY_VERIFY(shows("Ramp edge"));
    const int whole = strip.height();
    d.click("strip.fold");
    QTRY_VERIFY(strip.height() < 40);
    d.click("strip.fold");
    QTRY_COMPARE(strip.height(), whole);
}

void TestWindow::theYardFoldsAndTheStartOffersThreeWays() {
    QTemporaryDir dir;
    const QString file = dir.filePath("kept.vicinal");
    {
        Driver d;
        auto* start = d.find<QWidget>("start");
        QVERIFY(start->isVisible());
        QVERIFY(d.find<QAbstractButton>("start.demo")->isVisible());
        d.click("start.demo");
        QTRY_VERIFY(!start->isVisible() && d.store().document().runs.size() == 5);
        QVERIFY(d.store().filePath().isEmpty()); // saving asks for a name
        auto& yard = d.window->yard();
        const auto foldRuns = [&] {
            d.clickAt(yard.viewport(), yard.visualRect(yard.model()->index(0, 0)).center() - QPoint(40, 0));
        };
        const int all = yard.model()->rowCount();
        foldRuns();
        QVERIFY(!yard.rowOf(5).isValid() && yard.rowOf(2).isValid());
        QCOMPARE(yard.model()->rowCount(), all - 5);
        foldRuns();
        QVERIFY(yard.rowOf(5).isValid());
        ask::answerFile(file);
        d.find<QAction>("action.saveAs")->trigger();
        QTRY_COMPARE(d.store().filePath(), file);
    } // closing keeps its picture
    QStringList late{file};
    for (const char* name : {"a name that is far longer than a picture is wide", "b", "c", "d"}) {
        late << QFileInfo(file).path() + "/" + name + ".vicinal";
        QVERIFY(QFile::copy(file, late.back()));
    }
    QSettings().setValue("recent", late);
    Driver d;
    auto* recent = d.find<QAbstractButton>("start.recent.0");
    QVERIFY(recent->isVisible() && recent->toolTip() == file);
    const QImage picture = recent->icon().pixmap(150, 94).toImage();
    QSet<QRgb> colours; // not a plain patch
    for (int x = 0; x < picture.width(); x += 3)
        for (int y = 0; y < picture.height(); y += 3) colours.insert(picture.pixel(x, y));
    QVERIFY(colours.size() > 10);
    // Nothing of it is cut off, however little room there is.
    auto* start = d.find<QWidget>("start");
    const auto shown = [&] {
        int out = 0;
        for (auto* b : start->findChildren<QToolButton*>()) out += b->isVisible();
        return out;
    };
    QVERIFY(shown() >= 2);
    const QSize full = d.window->size();
    for (const QSize& size : {QSize(960, 680), QSize(960, 600), full, QSize(1500, 900)}) {
        d.window->resize(size);
        idle();
        QTRY_VERIFY2(start->parentWidget()->rect().contains(start->geometry()),
                     qPrintable(QString::number(size.width())));
        for (auto* b : start->findChildren<QToolButton*>())
            QVERIFY(!b->isVisible() ||
                    (start->rect().contains(b->geometry()) && b->height() >= b->sizeHint().height()));
    }
    QTRY_COMPARE(shown(), 4); // all there is room for in the list
    d.window->resize(full);
    idle();
    d.click("start.recent.0");
    QTRY_COMPARE(d.store().filePath(), file);
    d.find<QAction>("action.new")->trigger();
    QTRY_VERIFY(d.find<QWidget>("start")->isVisible());
    d.click("start.draw");
    QVERIFY(d.view().tools().drawing() && !d.find<QWidget>("start")->isVisible());
    QTest::keyClick(&d.view(), Qt::Key_Escape);
}

void TestWindow::manyPlacesAreWorkedOutBehind() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.store().change<PartItem>(3, "thin", {}, [](PartItem& p) { p.shape = Baluster{0.002, 20, 1000}; });
    const auto count = [&](long n) {
        d.store().change<RunItem>(5, "count", {}, [&](RunItem& r) {
            r.spacing->rule = ShareOut{n};
            r.spacing->gapAtMost.reset();
        });
    };
    count(200'000);
    d.store().setPatience(0); // from here on behind
    QCOMPARE(d.run()->placed->count(), size_t(200'000));
    QSignalSpy rounds(&d.store(), &Store::documentChanged);
    for (long n = 150'001; n <= 150'009; ++n) count(n);
    QVERIFY(d.store().evaluating());
    QCOMPARE(d.run()->placed->count(), size_t(200'000)); // the last good picture meanwhile
    QTRY_VERIFY_WITH_TIMEOUT(!d.store().evaluating(), 20'000);
    QCOMPARE(d.run()->placed->count(), size_t(150'009)); // the newest won
    QVERIFY(rounds.count() <= 3);                        // and those between were never worked out
    count(150'020);
    QTRY_COMPARE_WITH_TIMEOUT(d.run()->placed->count(), size_t(150'020), 20'000);
    count(50); // one more behind
    QTRY_COMPARE_WITH_TIMEOUT(d.run()->placed->count(), size_t(50), 20'000);
    d.store().setPatience(5000); // quick again
    count(51);
    QTRY_COMPARE_WITH_TIMEOUT(d.run()->placed->count(), size_t(51), 20'000);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QTRY_COMPARE(d.run()->placed->count(), size_t(50));
}

VICINAL_SUITE(TestWindow)

} // namespace test_window
#include "test_window.moc"
