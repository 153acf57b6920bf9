// Stories of drives and vehicles in the real window: a strand that hangs, a train on bogies, what moves sent out.
#include "app/sheet/run/motion/sweep_graph.h"
#include "app/state/clock.h"
#include "app/view/pick.h"
#include "app/view/toolbox.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include "suite.h"
#include "ui/story.h"
#include <QComboBox>
#include <QDir>
#include <QImage>
#include <QLabel>
#include <QProcess>
#include <QTemporaryDir>

namespace test_drive_stories {

using namespace vicinal;
using namespace vicinal::test;

namespace {

enum : Id { SlipLine = 4, HoistLoop = 5, Bogie = 16, Cradle = 17, Train = 24, Hoist = 25 };

} // namespace

class TestDriveStories : public QObject {
    Q_OBJECT
private slots:
    void aStrandHangs();
    void aTrainOnBogies();
    void theMotionGoesOut();
};

/// The hoist's upper strand: it hangs as deep as its links ask for; let go of, it is pulled by hand, typed, tightened.
void TestDriveStories::aStrandHangs() {
    Story d(Hoist, kDrives);
    QVERIFY(!d.run()->problem);
    QCOMPARE(d.run()->placed->count(), size_t(138));
    NEAR(*d.run()->placed->laid->closing, 0, 1e-9);
    const auto hangs = [&] { return *d.store().currentPath()->loop->hangs; };
    const double solved = hangs().sag;
    QVERIFY(solved > 10);
    d.open("gives");
    QVERIFY(d.find<QLabel>("run.gave")->text().contains("Sag"));
    // The count decides: two links more hang deeper.
    d.type("giveCount", "140");
    QVERIFY(!d.run()->problem && hangs().sag > solved + 10);
    d.find<QAction>("action.undo")->trigger();
    d.settle();
    NEAR(hangs().sag, solved, 1e-9);
    // Nothing gives: the strand is the user's own, by hand in the view...
    d.pick("run.gives", 0);
    d.store().selectItem(Selection::Kind::Path, HoistLoop);
    d.view().setLook(Viewport::Look::Front);
    d.view().frameSelection();
    d.settle();
    const auto spot = [&] { return *d.view().tools().edit().handleAt("sag"); };
    const double before = hangs().sag, mm = d.view().camera().scale();
    d.drag(&d.view(), spot(), spot() + QPointF(0, 20));
    NEAR(hangs().sag, before + 20 * mm, 3 * mm);
    d.drag(&d.view(), spot(), spot() + QPointF(0, -4000)); // not up through the straight
    QVERIFY(hangs().sag > 0 && hangs().sag < before);
    // ...or typed, by sag and by slack; what hits the lower strand says how deep it can hang.
    d.type("sheet.path.recipe.hang", "45");
    NEAR(hangs().sag, 45, 1e-8);
    QVERIFY(d.find<QLabel>("sheet.path.recipe.hanging")->text().contains("45"));
    d.type("sheet.path.recipe.hang", "900");
    QVERIFY(d.errorAt("sheet.path.recipe.hang").contains("works"));
    QVERIFY(d.store().currentPath()->path.has_value());
    d.find<QAction>("action.undo")->trigger();
    d.settle();
    auto* choice = d.find<QComboBox>("sheet.path.recipe.hangs");
    QCOMPARE(choice->currentIndex(), 2);
    QVERIFY(choice->itemText(2).contains("Hand wheel"));
    choice->setCurrentIndex(0);
    emit choice->activated(0);
    d.settle();
    QVERIFY(!d.store().currentPath()->loop->hangs && !d.view().tools().edit().handleAt("sag"));
}

/// Two vehicles on the slipway: put together from a plain run, pushed along by their handle, shown with their throw.
void TestDriveStories::aTrainOnBogies() {
    Story d(Train, kDrives);
    QVERIFY(!d.run()->problem);
    QCOMPARE(d.run()->placed->count(), size_t(2));
    QCOMPARE(d.run()->placed->bodies(), size_t(6));
    QVERIFY(!d.strip().laneOf({LaneKind::SweptEnvelope}).isEmpty());
    QVERIFY(d.strip().laneNames().contains("swept width"));
    d.open("spacing");
    QVERIFY(d.find<QLabel>("spacing.train")->text().contains("inside"));
    // Pushed along by the handle of the first vehicle.
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    d.settle();
    const double was = d.run()->placed->stations()[0];
    const QPointF from = *d.view().tools().edit().handleAt("inset start");
    d.drag(&d.view(), from, from + QPointF(30, 0));
    QVERIFY(d.run()->placed->stations()[0] > was + 10);
    // A place is picked by its bogie, too.
    const Placed& placed = *d.run()->placed;
    const Vec3 wheel = (placed.pose(2) * Vec4(230, 450, 95, 1)).head<3>();
    const auto at = *d.view().camera().project(wheel);
    const auto pick = pickPlace(d.view(), {at.x(), at.y()});
    QVERIFY(pick && pick->run == Train && pick->place == int(placed.placeOf(2)) && pick->body == 2);
    // One more vehicle from the fits table's count; a coupling that is too short says what is needed.
    d.type("vehicles", "3");
    QCOMPARE(d.run()->placed->count(), size_t(3));
    d.type("vehicles", "30");
    QVERIFY(d.errorAt("vehicles").contains("at most"));
    QVERIFY(d.run()->stale() && d.run()->placed->count() == 3);
    d.type("vehicles", "2");
    d.type("coupling", "-5");
    QVERIFY(!d.errorAt("coupling").isEmpty());
    d.type("coupling", "400");
    QVERIFY(!d.run()->problem);
    // The bogies turn as far as they may; a tighter limit is said with the place.
    QVERIFY(d.run()->verdict.mark == Mark::Good);
    d.type("swing", "1"); // the car ahead is in the bend already
    QVERIFY(d.run()->verdict.mark == Mark::Wrong && d.run()->verdict.place == 1);
    QVERIFY(d.find<QLabel>("spacing.train")->property("role") == "error");
    d.type("swing", "20");
    // In motion: the sweep finds where they turn most and sets the clock there.
    d.store().change<RunItem>(Train, "test", {}, [](RunItem& r) { r.spacing->insetStart = 900; });
    d.open("motion");
    auto* sweep = d.find<QPushButton>("motion.sweepPath");
    d.window->sheet().ensureWidgetVisible(sweep, 0, 60);
    d.settle();
    QTest::mouseClick(sweep, Qt::LeftButton);
    auto* graph = static_cast<SweepGraph*>(d.find("motion.graph"));
    QTRY_VERIFY(graph->isVisible());
    const SweepStep worst = *graph->worst();
    QVERIFY(worst.swing > 1 * kDegree && worst.way > 500);
    d.click("motion.showWorst");
    NEAR(wayAt(*d.run(), d.view().clock().time()), worst.way, 1e-6);
    double most = 0;
    for (double s : d.view().shown().run(Train)->placed->laid->swings) most = std::max(most, s);
    NEAR(most, worst.swing, 1e-9);
    // A pace is a lane of keys; stops are typed.
    d.write("stops", "2000, 5000");
    QCOMPARE(d.item().motion.stops, (std::vector<double>{2000, 5000}));
    d.write("pace", "0: 0.5, 6000: 1.5");
    QVERIFY(!d.strip().laneOf("pace").isEmpty() && d.strip().laneNames().contains("pace"));
    NEAR(d.item().motion.pace.keys.back().value, 1.5, 0);
    QVERIFY(onceAlong(*d.run()) > 2 * 2 * d.item().motion.dwell);
    // What the pins stand on is chosen at the part: on the path itself there are no bogies any more.
    d.store().selectItem(Selection::Kind::Part, Cradle);
    d.settle();
    QComboBox* under[2];
    for (int k = 0; k < 2; ++k) {
        under[k] = d.find<QComboBox>(k ? "sheet.part.underFront" : "sheet.part.underBack");
        QCOMPARE(under[k]->currentText(), QString("Bogie"));
        QVERIFY(under[k]->findText("Boat cradle") < 0); // never on itself
        under[k]->setCurrentIndex(under[k]->findText("the path"));
        emit under[k]->activated(under[k]->currentIndex());
        d.settle();
    }
    QCOMPARE(d.store().evaluation().run(Train)->placed->bodies(), size_t(2 + 2));
    d.type("sheet.part.hookFront", "700");
    QVERIFY(d.store().document().part(Cradle)->seat.hooks.has_value());
    d.click("sheet.part.ownHooks");
    QVERIFY(!d.store().document().part(Cradle)->seat.hooks);
}

/// Pictures of what moves: a folder of PNG, a moving WebP that another reader opens; cancelled, nothing is left.
void TestDriveStories::theMotionGoesOut() {
    Story d(Train, kDrives);
    QTemporaryDir dir;
    const auto send = [&](const QString& kind, const QString& file, const QString& seconds, const QString& each) {
        ask::answerFile(file);
        d.whenDialog("motionOut", [=](QDialog* dialog) {
            Driver::clickIn(dialog, "motionOut." + kind);
            for (const auto& [field, text] : {std::pair{"seconds", seconds}, {"perSecond", each}}) {
                auto* edit = dialog->findChild<QLineEdit*>(QString("edit.motionOut.") + field);
                edit->setFocus();
                edit->selectAll();
                QTest::keyClicks(edit, text);
                QTest::keyClick(edit, Qt::Key_Return);
            }
            Driver::clickIn(dialog, "motionOut.ok");
        });
        d.find<QAction>("action.sendMotion")->trigger();
        d.settle();
    };
    const QString film = dir.filePath("train.webp");
    send("webp", film, "1", "8");
    QVERIFY(QFile::exists(film));
    QProcess python;
    python.start("/usr/bin/python3",
                 {"-c",
                  "import sys; from PIL import Image; f = Image.open(sys.argv[1]); print(f.n_frames, f.size[0], "
                  "f.size[1], f.info['loop']); a = f.convert('RGB').tobytes(); f.seek(8); "
                  "b = f.convert('RGB').tobytes(); print(sum(x != y for x, y in zip(a, b)))",
                  film});
    QVERIFY(python.waitForFinished(60'000));
    const auto said = QString(python.readAllStandardOutput()).split(QRegularExpression("\\s+"));
    QVERIFY2(said.size() > 4, python.readAllStandardError());
    QCOMPARE(said[0].toInt(), 9);
    QCOMPARE(said[1].toInt(), int(d.view().width() * d.view().devicePixelRatio()));
    QCOMPARE(said[3].toInt(), 0);           // on and on
    QVERIFY(said[4].toInt() > 500);         // it moved
    QCOMPARE(d.view().clock().time(), 0.0); // and stands as before
    const QString folder = dir.filePath("frames");
    send("png", folder, "0.5", "6");
    const auto pictures = QDir(folder).entryList({"*.png"}, QDir::Files, QDir::Name);
    QCOMPARE(pictures.size(), 4);
    const QImage first(QDir(folder).filePath(pictures.front())), last(QDir(folder).filePath(pictures.back()));
    QVERIFY(first.width() == said[1].toInt() && first != last);
    send("png", folder, "0.5", "6"); // it holds files: nothing of them is written over
    QCOMPARE(QDir(folder).entryList(QDir::Files).size(), 4);
    // Given up half-way, nothing is left.
    const QString half = dir.filePath("half");
    d.whenDialog("pictures", [](QDialog* box) { QTest::mouseClick(box->findChild<QPushButton*>(), Qt::LeftButton); });
    send("png", half, "100", "10");
    QVERIFY(!QDir(half).exists());
    QCOMPARE(d.view().clock().time(), 0.0);
    send("glb", dir.filePath("train"), "2", "10");
    QVERIFY(QFile(dir.filePath("train.glb")).size() > 1000);
    send("csv", dir.filePath("train.csv"), "2", "10");
    QVERIFY(QFile(dir.filePath("train.csv")).size() > 1000);
    const QString gone = dir.filePath("no such folder/x.webp");
    send("webp", gone, "0.5", "4");
    QVERIFY(!QFile::exists(gone));
}

VICINAL_SUITE(TestDriveStories)

} // namespace test_drive_stories
#include "test_drive_stories.moc"
