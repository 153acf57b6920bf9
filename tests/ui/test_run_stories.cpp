// Stories of a run in the real window: bays, lanes and keys, places, sequence, rows, the schedule.
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/schedule/schedule.h"
#include "app/schedule/schedule_model.h"
#include "app/sheet/run/along/sequence_row.h"
#include "app/state/clock.h"
#include "app/strip/lanes/profile_lane.h"
#include "app/strip/marks.h"
#include "app/view/toolbox.h"
#include "layout/spacing/rules.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "suite.h"
#include "ui/story.h"
#include <QAction>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSlider>
#include <QTableView>
#include <QTemporaryDir>

namespace test_run_stories {

using namespace vicinal;
using namespace vicinal::test;

namespace {

enum : Id { Winch = 20 };
enum : Id { Posts = 40, Spindles = 41, Planks = 42, Lamps = 43, Arrows = 44, Bollards = 46, Holes = 47, Track = 48 };

} // namespace

class TestRunStories : public QObject {
    Q_OBJECT
private slots:
    void spindlesStandInBays();
    void everyRuleHasItsFields();
    void keysAreSetDraggedAndDeletedInTheirLane();
    void lanesAreOrderedAndHidden();
    void aStretchIsSetInTheStrip();
    void theStripHasAWindowOfItsOwn();
    void onePlaceIsSpecialAndKeepsIt();
    void aSequenceIsPutTogether();
    void rowsAndEchoesCount();
    void theScheduleSortsCopiesAndChanges();
    void framesAndRibbonAreDrawn();
    void targetsAndEchoesAreDraggedInTheView();
    void keysStandInTheView();
    void marksSayWhatIsSpecial();
    void aRunIsTurnedRound();
    void theIdlerGivesWay();
    void theChainMoves();
};

void TestRunStories::spindlesStandInBays() {
    Story d(Spindles);
    QCOMPARE(d.run()->placed->laid->bays.size(), size_t(7));
    QVERIFY(d.strip().laneNames().contains("bays"));
    d.open("bays");
    // One bay by a rule of its own, typed in the table of bays; wrong words stay beside it; Delete gives it back.
    auto* table = d.find<QTableView>("run.bayList");
    const auto* bays = table->model();
    QCOMPARE(bays->rowCount(), 7);
    QCOMPARE(bays->index(1, 4).data().toString(), QString("as the run"));
    const auto typeRule = [&](int row, const QString& text) {
        d.window->sheet().ensureWidgetVisible(table, 0, 60);
        table->setFocus();
        table->setCurrentIndex(bays->index(row, 4));
        QTest::keyClick(table, Qt::Key_F2);
        auto* edit = table->findChild<QLineEdit*>();
        if (!edit) qFatal("the rule of a bay cannot be typed");
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        d.settle();
    };
    const size_t own = d.run()->placed->laid->bays[1].count;
    typeRule(1, QString::number(own + 2));
    QCOMPARE(d.run()->placed->laid->bays[1].count, own + 2);
    QCOMPARE(bays->index(1, 4).data().toString(), QString("share out %1").arg(own + 2));
    QCOMPARE(d.run()->placed->laid->bays[2].count, own);
    typeRule(2, "step of 5");
    QVERIFY(d.find<QLabel>("error.bayRules")->isVisible());
    QCOMPARE(d.item().spacing->bayRules.size(), size_t(1));
    table->setFocus();
    table->setCurrentIndex(bays->index(1, 4));
    QTest::keyClick(table, Qt::Key_Delete);
    d.settle();
    QVERIFY(d.item().spacing->bayRules.empty());
    QCOMPARE(d.run()->placed->laid->bays[1].count, own);
    // A post moved along: its bays follow at once, and stay within the limit.
    d.store().change<RunItem>(Posts, "test", {}, [](RunItem& r) { r.spacing->rule = EvenOut{900}; });
    d.settle();
    QVERIFY(d.run()->placed->laid->bays.size() > 7);
    for (const Gap& g : d.run()->placed->gaps) QVERIFY(g.clear() <= 99 + 1e-6);
    d.pick("run.bays", 2); // at stations that are typed
    d.write("bayStations", "1 m, 2.5 m");
    QCOMPARE(d.item().spacing->bayStations, (std::vector<double>{1000, 2500}));
    QCOMPARE(d.run()->placed->laid->bays.size(), size_t(3));
    d.write("bayStations", "1 m, fish");
    QVERIFY(d.find<QLabel>("error.bayStations")->isVisible());
    QCOMPARE(d.item().spacing->bayStations.size(), size_t(2)); // the last good ones stay
    d.write("bayStations", "99 m");
    QVERIFY(d.run()->stale() && d.find<QLabel>("error.bayStations")->text().contains("long"));
    QVERIFY(d.run()->placed != nullptr);
    // Its own places as ends of its bays: refused in place.
    d.pick("run.bays", 3);
    d.store().change<RunItem>(Spindles, "test", {}, [](RunItem& r) { r.spacing->bayRun = Spindles; });
    d.settle();
    QVERIFY(d.run()->problem && d.run()->problem->text.find("its own places") != std::string::npos);
    d.store().change<RunItem>(Posts, "test", {},
                              [](RunItem& r) { r.spacing->bays = BayEdges::Run, r.spacing->bayRun = Spindles; });
    d.store().change<RunItem>(Spindles, "test", {}, [](RunItem& r) { r.spacing->bayRun = Posts; });
    d.settle();
    QVERIFY(d.run()->problem && d.run()->problem->text.find("circle") != std::string::npos); // by a detour
}

void TestRunStories::everyRuleHasItsFields() {
    Story d(Arrows);
    const size_t before = d.run()->placed->count();
    d.pick("run.rule", 1); // Share out: as many as stood there
    QCOMPARE(d.run()->placed->count(), before);
    QVERIFY(d.find<ValueField>("field.count")->isVisible() && !d.find<QLineEdit>("edit.pitches")->isVisible());
    const auto stations = d.run()->placed->stations();
    d.pick("run.rule", 5); // Listed: where they stood
    QCOMPARE(d.run()->placed->count(), before);
    for (size_t i = 0; i < before; ++i) NEAR(d.run()->placed->stations()[i], stations[i], 1e-5);
    d.write("at", "0, 500, 1 m");
    QCOMPARE(d.run()->placed->count(), size_t(3));
    d.write("at", "0, 500, 200");
    QVERIFY(d.run()->stale() && d.find<QLabel>("error.at")->text().contains("must rise"));
    d.pick("run.rule", 4); // Graded: its keys are still there
    QVERIFY(!d.run()->stale());
    d.write("pitches", "0: 300, 6 m: 900; smooth");
    QCOMPARE(std::get<Graded>(d.item().spacing->rule).pitch.keys.size(), size_t(2));
    QVERIFY(std::get<Graded>(d.item().spacing->rule).pitch.smooth);
    d.pick("run.rule", 3); // an arrow has no pins
    QVERIFY(d.run()->stale() && d.run()->problem->text.find("no pins") != std::string::npos);
    d.pick("run.rule", 0);
    d.pick("run.measure", 2);
    d.type("ofLength", "1.5");
    QVERIFY(!d.run()->stale());
    // The arrow is 180 long, and as large as it is there.
    const auto kept = [&](bool straight) {
        const auto& p = *d.run()->placed;
        for (size_t i = 0; i + 1 < p.count(); ++i) {
            const double from = p.stations()[i], to = p.stations()[i + 1];
            const double far = straight ? (p.path.at(to).point - p.path.at(from).point).norm() : to - from;
            if (std::abs(far - 1.5 * 90 * (p.laid->size[i] + p.laid->size[i + 1])) > 1e-6) return false;
        }
        return p.count() > 4;
    };
    QVERIFY(kept(false));
    d.pick("run.along", 1);
    QVERIFY(!d.run()->stale());
    QVERIFY(kept(true));
}

void TestRunStories::keysAreSetDraggedAndDeletedInTheirLane() {
    Story d(Lamps);
    Strip& strip = d.strip();
    QVERIFY(strip.laneOf("roll").isEmpty());
    d.fromMenu(&strip, {300, strip.laneOf("across").center().y()}, "Smooth between keys");
    QVERIFY(d.item().changes.across.smooth);
    strip.addLane("roll");
    d.settle();
    const QRectF lane = strip.laneOf("roll");
    QVERIFY(!lane.isEmpty());
    QPointF at(strip.map().x(4000), lane.center().y() - 8);
    QTest::mouseDClick(&strip, Qt::LeftButton, {}, at.toPoint());
    d.settle();
    QCOMPARE(d.item().changes.roll.keys.size(), size_t(1));
    NEAR(d.item().changes.roll.keys[0].at, 4000, 2 * strip.map().perPixel);
    at.setX(strip.map().x(9000));
    QTest::mouseDClick(&strip, Qt::LeftButton, {}, at.toPoint());
    d.settle();
    const auto keys = [&] { return d.item().changes.roll.keys; };
    QCOMPARE(keys().size(), size_t(2));
    // Dragged to the right, in one step; it does not pass the other key.
    const size_t steps = d.store().history().index();
    const ProfileLane shown(d.item().changes.roll, "roll", lane, strip.map().length, false, Unit::Millimetre, {});
    QPointF key;
    for (int y = int(lane.top()); y < lane.bottom(); ++y)
        if (shown.keyAt(strip.map(), {strip.map().x(keys()[0].at), double(y)}) == 0) {
            key = {strip.map().x(keys()[0].at), double(y) + 4};
            break;
        }
    d.drag(&strip, key, {strip.map().x(12000), key.y()});
    QCOMPARE(d.store().history().index(), steps + 1);
    QVERIFY(keys()[0].at > 8000 && keys()[0].at < keys()[1].at);
    QVERIFY(!d.run()->stale());
    // Twice clicked a place is larger, and its neighbours a little.
    d.fromMenu(&strip, {strip.map().x(d.run()->placed->stations()[4]), strip.placesY()}, "Emphasise here");
    NEAR(d.run()->placed->laid->size[4], 1.5, 1e-9);
    QVERIFY(d.run()->placed->laid->size[5] > 1 && d.run()->placed->laid->size[5] < 1.5);
    NEAR(d.run()->placed->laid->size[9], 1, 1e-9);
    d.write("roll", "");
    QVERIFY(d.item().changes.roll.empty());
}

void TestRunStories::lanesAreOrderedAndHidden() {
    {
        Story d(Arrows);
        QCOMPARE(d.strip().laneNames(),
                 (QStringList{"station", "places", "gap along", "nearest", "pitch", "roll", "size", "tightness"}));
        d.fromMenu(&d.strip(), {40, d.strip().laneOf("size").center().y()}, "Lane up");
        d.fromMenu(&d.strip(), {40, d.strip().laneOf("roll").center().y()}, "Hide this lane");
        QCOMPARE(d.strip().laneNames(),
                 (QStringList{"station", "places", "gap along", "nearest", "pitch", "size", "tightness"}));
        d.strip().addLane("roll");
        QCOMPARE(d.strip().laneNames(),
                 (QStringList{"station", "places", "gap along", "nearest", "pitch", "size", "roll", "tightness"}));
    }
    Story again(Arrows); // as it was left
    QCOMPARE(again.strip().laneNames()[5], QString("size"));
}

void TestRunStories::aStretchIsSetInTheStrip() {
    Story d(Posts);
    Strip& strip = d.strip();
    const auto& corners = d.run()->placed->path.corners();
    QCOMPARE(corners.size(), size_t(2));
    d.fromMenu(&strip, {strip.map().x(4500), strip.placesY()}, "From corner to corner");
    NEAR(*d.item().spacing->from, corners[0].station, 0);
    NEAR(*d.item().spacing->to, corners[1].station, 0);
    for (double s : d.run()->placed->stations()) QVERIFY(s >= 3600 - 1e-9 && s <= 6000 + 1e-9);
    // Its end is dragged in the ruler, and caught by the path's end; the insets' marks stand at the stretch.
    const double x = strip.map().x(6000);
    d.drag(&strip, {x, 30}, {strip.map().x(7500), 30});
    NEAR(*d.item().spacing->to, 7500, 2 * strip.map().perPixel);
    QVERIFY(d.view().tools().edit().handleAt("inset end").has_value());
    const auto shown = d.view().camera().project(d.run()->placed->path.at(*d.item().spacing->to).point);
    NEAR(d.view().tools().edit().handleAt("inset end")->x(), shown->x(), 1e-6);
    const QPointF inset(strip.map().x(3600), strip.placesY() + 24);
    d.drag(&strip, inset, {inset.x() + 40, inset.y()});
    NEAR(d.item().spacing->insetStart, 40 * strip.map().perPixel, 2 * strip.map().perPixel);
    d.fromMenu(&strip, {strip.map().x(4500), strip.placesY()}, "No stretch: the whole path");
    QVERIFY(!d.item().spacing->from && !d.item().spacing->to);
    // Round the seam of a closed path.
    d.choose(Holes);
    d.store().change<RunItem>(Holes, "test", {},
                              [](RunItem& r) { r.spacing->from = 1400, r.spacing->to = 300, r.echoes = {}; });
    d.settle();
    const double L = d.run()->placed->path.length();
    QVERIFY(!d.run()->stale());
    NEAR(d.run()->placed->stations().front(), 1400, 1e-9);
    NEAR(d.run()->placed->stations().back(), 300, 1e-9);
    QCOMPARE(d.run()->placed->gaps.size(), d.run()->placed->count() - 1);
    for (const Gap& g : d.run()->placed->gaps) NEAR(g.clear(), (L - 1100) / 23 - 14, 1e-6);
}

void TestRunStories::theStripHasAWindowOfItsOwn() {
    Story d(Arrows);
    const double before = d.strip().laneOf("roll").height();
    d.find<QAction>("action.detachStrip")->trigger();
    d.settle();
    auto* window = d.window->findChild<QDialog*>("stripWindow");
    QVERIFY(window && window->isVisible() && d.strip().window() == window);
    window->resize(1100, 900);
    QTRY_VERIFY(d.strip().laneOf("roll").height() > 1.5 * before); // lanes grow with it
    window->close();
    QTRY_VERIFY(d.strip().window() == d.window.get() && d.strip().isVisible());
    NEAR(d.strip().laneOf("roll").height(), before, 1e-9);
}

void TestRunStories::onePlaceIsSpecialAndKeepsIt() {
    Story d(Lamps);
    d.open("places");
    d.choosePlaces({7});
    d.type("place.move1", "120");
    d.type("place.size", "1.25");
    QCOMPARE(d.item().exceptions.size(), size_t(1));
    const Exception made = d.item().exceptions[0];
    QVERIFY(made.place == 8 && !made.station && made.move == Vec3(0, 120, 0) && made.size == 1.25);
    NEAR(d.run()->placed->laid->size[7], 1.25, 0);
    for (const char* wrong : {"0", "-3", "2000000"}) { // said, and the last good one stays
        d.type("place.size", wrong);
        QVERIFY(d.find<ValueField>("field.place.size")->problem().contains("factor from 0.000001"));
        QCOMPARE(d.item().exceptions[0].size, 1.25);
    }
    d.type("place.size", "1.25");
    QVERIFY(d.find<ValueField>("field.place.size")->problem().isEmpty());
    d.pick("place.bound", 1);
    const double station = d.run()->placed->stations()[7];
    NEAR(*d.item().exceptions[0].station, station, 0);
    // Another count: it is where it was on the path.
    d.type("count", "20");
    int special = -1;
    for (size_t i = 0; i < 20; ++i)
        if (d.run()->placed->laid->size[i] == 1.25) special = int(i);
    QVERIFY(special >= 0 &&
            std::abs(d.run()->placed->stations()[size_t(special)] - station) <= d.run()->placed->laid->pitch / 2);
    // By number, with fewer places, it is lost: listed, moved to another one, then taken back.
    d.choosePlaces({special});
    d.pick("place.bound", 0);
    d.type("count", "5");
    auto* lost = d.find<QLabel>("place.lost");
    QVERIFY(lost->isVisible() && lost->text().contains(QString("place %1").arg(special + 1)));
    QVERIFY(!d.find<QPushButton>("place.moveHere")->isEnabled());
    d.choosePlaces({2});
    d.find<QPushButton>("place.moveHere")->click();
    d.settle();
    NEAR(d.run()->placed->laid->size[2], 1.25, 0);
    QVERIFY(!lost->isVisible());
    d.find<QPushButton>("place.reset")->click();
    d.settle();
    QVERIFY(d.item().exceptions.empty());
    // Selecting by rule, and one edit for all of them.
    d.type("count", "12");
    d.choosePlaces({1});
    d.find<QAction>("select.third")->trigger();
    d.settle();
    QCOMPARE(d.store().selection().places, (std::set<int>{1, 4, 7, 10}));
    auto* part = d.find<QComboBox>("place.part");
    part->setCurrentIndex(part->findText("Bollard"));
    emit part->activated(part->currentIndex());
    d.settle();
    QCOMPARE(d.item().exceptions.size(), size_t(4));
    QCOMPARE(d.run()->placed->part(4).name, std::string("Bollard"));
    QVERIFY(d.run()->placed->part(5).name != "Bollard");
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(d.item().exceptions.empty());
}

void TestRunStories::aSequenceIsPutTogether() {
    Story d(Bollards);
    d.open("sequence");
    auto* row = d.find<SequenceRow>("sequence.row");
    d.window->sheet().ensureWidgetVisible(row, 0, 100);
    auto* parts = d.find<QMenu>("sequence.parts");
    const auto add = [&](const QString& name) {
        emit parts->aboutToShow();
        for (QAction* a : parts->actions())
            if (a->text() == name) a->trigger();
        d.settle();
    };
    add("Post 90");
    const auto text = [&] { return d.find<QLineEdit>("edit.sequence")->text(); };
    QCOMPARE(text(), QString("Bollard, Post 90"));
    d.clickAt(row, row->chipOf(1));
    QCOMPARE(row->current(), 1);
    d.click("sequence.more");
    QCOMPARE(text(), QString("Bollard, 2 x Post 90"));
    add("Lamp");
    d.drag(row, row->chipOf(2), row->chipOf(0));
    QCOMPARE(text(), QString("Lamp, Bollard, 2 x Post 90"));
    const Placed& p = *d.run()->placed;
    const char* names[] = {"Lamp", "Bollard", "Post 90", "Post 90", "Lamp"};
    for (size_t i = 0; i < 5; ++i) QCOMPARE(p.part(i).name, std::string(names[i]));
    QCOMPARE(p.part(p.laid->rowSize).name, std::string("Lamp")); // the second row has the same
    // Gaps are equal whatever stands beside whatever.
    d.pick("run.rule", 1);
    d.pick("run.measure", 1);
    const auto& gaps = d.run()->placed->gaps;
    for (const Gap& g : gaps) NEAR(g.clear(), gaps[0].clear(), 1e-6);
    d.write("sequence", "3 x Lamp, Nobody");
    QVERIFY(d.find<QLabel>("error.sequence")->text().contains("Nobody"));
    QCOMPARE(d.item().sequence.steps.size(), size_t(3));
    d.write("sequence", "");
    QVERIFY(d.item().sequence.steps.empty());
    QCOMPARE(d.run()->placed->part(1).name, std::string("Bollard"));
}

void TestRunStories::rowsAndEchoesCount() {
    Story d(Bollards);
    d.open("rows");
    const size_t one = d.run()->placed->laid->rowSize;
    QCOMPARE(d.run()->placed->count(), 2 * one);
    d.type("rows", "3");
    d.type("tiers", "2");
    QCOMPARE(d.run()->placed->count(), 6 * one);
    d.pick("run.echo", 1);
    QCOMPARE(d.run()->placed->count(), 12 * one);
    QVERIFY(d.find<QWidget>("run.again")->isVisible());
    // Behind the mirror another part, its mirrored copy as a rule; not where the echo is no mirror.
    auto* behind = d.find<QComboBox>("run.echoPart");
    QVERIFY(behind->isVisible());
    QCOMPARE(behind->currentText(), QString("none"));
    const int post = behind->findText("Post 90");
    QVERIFY(post > 0);
    behind->setCurrentIndex(post);
    emit behind->activated(post);
    d.settle();
    QCOMPARE(d.run()->placed->part(0).name, std::string("Bollard"));
    QCOMPARE(d.run()->placed->part(6 * one).name, std::string("Post 90"));
    d.pick("run.echo", 2);
    QVERIFY(!behind->isVisible());
    QCOMPARE(d.run()->placed->part(6 * one).name, std::string("Bollard"));
    d.pick("run.echo", 1);
    d.type("rows", "900000");
    QVERIFY(d.run()->stale());
    QVERIFY(d.errorAt("rows").contains("million"));
    QCOMPARE(d.run()->placed->count(), 12 * one); // the last good ones stay
    d.type("rows", "1");
    QVERIFY(!d.run()->stale());
}

void TestRunStories::theScheduleSortsCopiesAndChanges() {
    Story d(Lamps);
    d.find<QAction>("action.showSchedule")->trigger();
    d.settle();
    ScheduleDock& dock = d.window->schedule();
    QVERIFY(dock.isVisible());
    QTableView& table = dock.table();
    ScheduleModel& model = dock.model();
    QCOMPARE(model.rowCount(), 10);
    const auto cell = [&](int row, int column) { return model.index(row, column).data().toString(); };
    QCOMPARE(cell(3, ScheduleModel::Part), QString("Lamp, tall head")); // every third, from the first on
    table.sortByColumn(ScheduleModel::Station, Qt::DescendingOrder);
    QCOMPARE(cell(0, ScheduleModel::Place), QString("10"));
    table.selectRow(1);
    QCOMPARE(d.store().selection().places, std::set<int>{8});
    d.choosePlaces({0, 1});
    QCOMPARE(table.selectionModel()->selectedRows().size(), 2);
    table.setFocus();
    QTest::keyClick(&table, Qt::Key_C, Qt::ControlModifier);
    const QStringList lines = QGuiApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
    QCOMPARE(lines.size(), 3);
    QCOMPARE(lines[1].split('\t').size(), int(ScheduleModel::Columns));
    QCOMPARE(lines[1].section('\t', 0, 1), QString("2\tLamp")); // as they are sorted
    // What is typed is an exception of that place.
    const auto type = [&](int row, int column, const QString& text) {
        table.setCurrentIndex(model.index(row, column));
        table.edit(model.index(row, column));
        auto* edit = table.findChild<QLineEdit*>();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        d.settle();
    };
    type(0, ScheduleModel::Up, "0.2 m");
    QCOMPARE(d.item().exceptions.size(), size_t(1));
    QVERIFY(d.item().exceptions[0].place == 10 && d.item().exceptions[0].move == Vec3(0, 0, 200));
    type(2, ScheduleModel::Part, "Nobody");
    QVERIFY(d.find<QLabel>("schedule.error")->text().contains("no part named"));
    type(2, ScheduleModel::Part, "Bollard");
    QCOMPARE(d.run()->placed->part(7).name, std::string("Bollard"));
    type(4, ScheduleModel::There, "no");
    QVERIFY(d.run()->placed->leftOut(5));
    // A hundred thousand rows are only asked for where they are seen.
    d.choose(Planks);
    d.store().change<RunItem>(Planks, "test", {}, [](RunItem& r) {
        r.spacing->measure = Measure::CentreToCentre;
        r.spacing->rule = ShareOut{100'000};
    });
    d.settle();
    QCOMPARE(model.rowCount(), 100'000);
    table.sortByColumn(ScheduleModel::Y, Qt::AscendingOrder);
    for (int i = 1; i < model.rowCount(); i += 997)
        QVERIFY(model.data(model.index(i, ScheduleModel::Y), Qt::EditRole).toString().toDouble() >=
                model.data(model.index(i - 1, ScheduleModel::Y), Qt::EditRole).toString().toDouble());
}

void TestRunStories::framesAndRibbonAreDrawn() {
    Story d(Arrows);
    d.view().frameSelection();
    d.settle();
    const QImage before = d.view().grab().toImage();
    d.find<QAction>("action.frames")->trigger();
    d.settle();
    const QImage after = d.view().grab().toImage();
    int changed = 0;
    for (int y = 0; y < before.height(); y += 2)
        for (int x = 0; x < before.width(); x += 2) changed += before.pixel(x, y) != after.pixel(x, y);
    QVERIFY(changed > 500);
    d.find<QAction>("action.frames")->trigger();
}

void TestRunStories::targetsAndEchoesAreDraggedInTheView() {
    Story d(Lamps);
    d.view().setLook(Viewport::Look::Plan);
    d.settle();
    const auto target = [&] { return *d.view().tools().edit().handleAt("target"); };
    d.store().change<RunItem>(Lamps, "test", {}, [](RunItem& r) { r.facing.target = Vec3(3000, -1000, 0); });
    d.settle();
    const size_t steps = d.store().history().index();
    const QPointF from = target(), to = from + QPointF(60, 30);
    d.drag(&d.view(), from, to);
    QCOMPARE(d.store().history().index(), steps + 1);
    const double mm = d.view().camera().scale();
    NEAR(d.item().facing.target.x(), 3000 + 60 * mm, 3 * mm);
    NEAR(d.item().facing.target.y(), -1000 - 30 * mm, 3 * mm);
    // At a path: every nose at the nearest point of it.
    d.open("facing");
    auto* path = d.find<QComboBox>("run.targetPath");
    path->setCurrentIndex(path->findText("Kerb line"));
    emit path->activated(path->currentIndex());
    d.settle();
    QVERIFY(!d.view().tools().edit().handleAt("target"));
    QVERIFY(d.run()->aim && d.run()->aim->item->name == "Kerb line");
    d.choose(Track);
    QVERIFY(d.view().tools().edit().handleAt("echo").has_value());
    const Vec3 second = d.run()->placed->frame(d.run()->placed->laid->rowSize).seat;
    const QPointF echo = *d.view().tools().edit().handleAt("echo");
    d.drag(&d.view(), echo, echo + QPointF(0, -20));
    const Vec3 moved = d.run()->placed->frame(d.run()->placed->laid->rowSize).seat - second;
    NEAR(moved.y(), 2 * 20 * mm, 6 * mm); // a mirror moved by so much moves what it shows by twice that
}

void TestRunStories::keysStandInTheView() {
    Story d(Arrows);
    d.view().setLook(Viewport::Look::Plan);
    d.settle();
    const auto keys = [&] { return d.item().changes.roll.keys; };
    const size_t all = keys().size();
    const auto at = [&](const char* name) {
        const auto p = d.view().tools().edit().handleAt(name);
        if (!p) qFatal("no %s", name);
        return *p;
    };
    // Along the path by a drag, its value kept; the value by Shift; both in one step each.
    size_t steps = d.store().history().index();
    const Key was = keys()[0];
    const Path path = d.run()->placed->path;
    const QPointF from = at("roll key 1");
    const auto far = d.view().camera().project(path.at(was.at + 600).point);
    const auto near = d.view().camera().project(path.at(was.at).point);
    d.drag(&d.view(), from, from + QPointF(far->x() - near->x(), far->y() - near->y()));
    QCOMPARE(d.store().history().index(), steps + 1);
    NEAR(keys()[0].at, was.at + 600, 4 * d.view().camera().scale());
    QCOMPARE(keys()[0].value, was.value);
    const double station = keys()[0].at;
    const QPointF head = at("roll key 1");
    d.press(&d.view(), head, Qt::ShiftModifier);
    for (int i = 1; i <= 6; ++i) {
        const QPointF to = head - QPointF(0, 5 * i);
        QMouseEvent move(QEvent::MouseMove, to, d.view().mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                         Qt::ShiftModifier);
        QApplication::sendEvent(&d.view(), &move);
    }
    d.release(&d.view(), head - QPointF(0, 30), Qt::ShiftModifier);
    NEAR(keys()[0].value - was.value, 30 * kDegree, 2 * kDegree);
    NEAR(keys()[0].at, station, 1e-6);
    // Typed while it is held; a second one set and taken away by the menu.
    QTest::mousePress(&d.view(), Qt::LeftButton, {}, at("roll key 1").toPoint());
    QTest::keyClicks(&d.view(), "45");
    QTest::keyClick(&d.view(), Qt::Key_Return);
    QTest::mouseRelease(&d.view(), Qt::LeftButton, {}, at("roll key 1").toPoint());
    d.settle();
    NEAR(keys()[0].value, 45 * kDegree, 1e-9);
    d.fromMenu(&d.view(), at("roll key 1"), "Delete this key");
    QCOMPARE(keys().size(), all - 1);
}

void TestRunStories::marksSayWhatIsSpecial() {
    Story d(Posts);
    const auto marks = [&] { return marksOf(*d.run(), Unit::Millimetre); };
    const auto count = [&](StripMark::Kind kind) {
        const auto all = marks();
        return std::count_if(all.begin(), all.end(), [&](const StripMark& m) { return m.kind == kind; });
    };
    QCOMPARE(count(StripMark::Corner), 2);
    d.store().change<RunItem>(Posts, "test", {}, [](RunItem& r) {
        r.exceptions.resize(2);
        r.exceptions[0].place = 3;
        r.exceptions[0].move = Vec3(0, 0, 12);
        r.exceptions[1].place = 900;
        r.exceptions[1].out = true;
        r.leftOut = {5};
    });
    d.settle();
    QCOMPARE(count(StripMark::Special), 1);
    QCOMPARE(count(StripMark::LeftOut), 1);
    QCOMPARE(count(StripMark::Lost), 1);
    QVERIFY(d.strip().laneNames().contains("marks"));
    // A click on a mark selects its place.
    const QRectF lane = d.strip().laneOf({LaneKind::Marks});
    QTest::mouseClick(&d.strip(), Qt::LeftButton, {},
                      QPointF(d.strip().map().x(d.run()->placed->stations()[2]), lane.center().y()).toPoint());
    d.settle();
    QCOMPARE(d.store().selection().places, std::set<int>{2});
}

void TestRunStories::aRunIsTurnedRound() {
    Story d(Arrows);
    const auto frames = d.run()->placed->laid->frames;
    auto* turn = d.window->findChild<QAction*>("action.reverseRun");
    QVERIFY(turn && turn->isEnabled());
    const Id path = d.item().path;
    turn->trigger();
    d.settle();
    QVERIFY(!d.run()->stale() && d.item().path != path);
    const Path& source = *d.run()->path->sources[0]->path;
    NEAR((d.run()->placed->path.at(0).point - source.at(source.length()).point).norm(), 0, 1e-6);
    QVERIFY(d.run()->placed->frame(0).seat != frames[0].seat);
    turn->trigger();
    d.settle();
    QCOMPARE(d.item().path, path);
    for (size_t i = 0; i < frames.size(); ++i) NEAR((d.run()->placed->frame(i).seat - frames[i].seat).norm(), 0, 1e-6);
    // A direction taken from an edge of a part: the crown leans that way.
    d.choose(Posts);
    d.open("facing");
    d.pick("run.crown", 4);
    d.view().setLook(Viewport::Look::Free);
    d.view().frameSelection();
    d.settle();
    QTest::mouseClick(d.find<QAbstractButton>("direction.pick"), Qt::LeftButton);
    const auto placed = d.run()->placed;
    const Places& posts = *placed;
    const Vec3 middle = posts.frame(0).seat + posts.frame(0).axes.col(2) * 600;
    const auto pixel = d.view().camera().project(middle);
    QTest::mouseClick(&d.view(), Qt::LeftButton, {}, QPoint(int(pixel->x()), int(pixel->y())));
    d.settle();
    const Vec3 direction = d.item().facing.direction;
    NEAR(direction.norm(), 1, 1e-9);
    // One of the post's own edges.
    double best = 0;
    for (int k = 0; k < 3; ++k) best = std::max(best, std::abs(direction.dot(posts.frame(0).axes.col(k))));
    NEAR(best, 1, 1e-6);
    // A copy that stands alone is in hand at once, where the original stands, in one step.
    const auto original = d.run();
    const size_t steps = d.store().history().index();
    d.find<QAction>("action.standAlone")->trigger();
    d.settle();
    QCOMPARE(d.store().history().index(), steps + 1);
    QVERIFY(d.run()->item->id != original->item->id && d.run()->item->path != original->item->path);
    NEAR((d.run()->placed->pose(0) - original->placed->pose(0)).norm(), 0, 1e-9);
}

/// The winch drive: links chosen from the table, the idler gives; a count more, another wheel, kept and let go.
void TestRunStories::theIdlerGivesWay() {
    Story d(Winch, kDrives);
    d.open("gives");
    const auto gave = [&] { return *d.run()->path->gave; };
    QCOMPARE(gave().name, std::string("Idler"));
    NEAR(*d.run()->placed->laid->closing, 0, 1e-9);
    auto* said = d.find<QLabel>("run.gave");
    QVERIFY(said->isVisible() && said->text().contains("Idler") &&
            said->text().contains(QString::number(gave().count)));
    // Another count from the table: the wheel goes where that row said it would.
    d.open("spacing,gives");
    auto* fits = d.find<QTableView>("fits");
    QTRY_VERIFY(fits->isVisible() && fits->model()->rowCount() > 3);
    const auto* rows = fits->model();
    int other = -1;
    for (int r = 0; r < rows->rowCount() && other < 0; ++r)
        if (rows->index(r, 0).data().toLongLong() == gave().count + 2 &&
            rows->index(r, 3).data().toString() != "no way")
            other = r;
    QVERIFY(other >= 0);
    const QString told = rows->index(other, 3).data().toString();
    d.window->sheet().ensureWidgetVisible(fits, 0, 100);
    d.settle();
    const long before = gave().count;
    QTest::mouseClick(fits->viewport(), Qt::LeftButton, {}, fits->visualRect(rows->index(other, 0)).center());
    d.settle();
    QCOMPARE(gave().count, before + 2);
    QCOMPARE(lengthText(gave().after, Unit::Millimetre, false), told);
    // The wheel is dragged: what it gives follows; undone it is back.
    d.view().setLook(Viewport::Look::Front);
    d.view().frameSelection();
    d.settle();
    const double was = gave().after;
    const QPointF motor = *d.view().tools().edit().handleAt("wheel 2");
    d.drag(&d.view(), motor, motor + QPointF(14, 0));
    NEAR(*d.run()->placed->laid->closing, 0, 1e-9);
    QVERIFY(std::abs(gave().after - was) > 1e-3);
    d.find<QAction>("action.undo")->trigger();
    d.settle();
    NEAR(gave().after, was, 1e-9);
    // Bounds that no solution keeps: said at the field with what comes nearest; the last good picture stays.
    d.write("giveAtMost", "0.5");
    d.write("giveAtLeast", "-0.5");
    QVERIFY(d.run()->stale() && d.run()->placed);
    QVERIFY(d.find<QLabel>("error.giveAtLeast")->text().contains("nearest"));
    d.write("giveAtLeast", "");
    d.write("giveAtMost", "");
    QVERIFY(!d.run()->stale());
    // Kept: the document has the number now, nothing gives, and it still closes.
    const Vec3 to = *gave().to;
    QTest::mouseClick(d.find<QAbstractButton>("gives.keep"), Qt::LeftButton);
    d.settle();
    QVERIFY(!d.run()->path->gave && d.item().gives.what == Gives::Nothing);
    NEAR(*d.run()->placed->laid->closing, 0, 1e-8);
    const auto& shape = std::get<ShapeRecipe>(d.run()->path->item->recipe);
    NEAR((toSpace(shape, std::get<WheelShape>(shape.shape).wheels[2].centre) - to).norm(), 0, 1e-9);
    // What a wheel shows as: a drum instead of teeth, then all wheels alike.
    d.store().select({Selection::Kind::Path, d.item().path, {}, 1, {}});
    d.settle();
    const auto body = [&](const QString& name) {
        QWidget* found = nullptr;
        for (auto* w : d.window->findChildren<QWidget*>("sheet.path.recipe." + name))
            if (w->isVisibleTo(d.window.get())) found = w;
        if (!found) qFatal("no %s", qPrintable(name));
        return found;
    };
    auto* shows = static_cast<QComboBox*>(body("wheelBody"));
    QCOMPARE(shows->currentIndex(), int(WheelBody::Sprocket));
    shows->setCurrentIndex(int(WheelBody::Drum));
    emit shows->activated(int(WheelBody::Drum));
    d.settle();
    const auto path = [&] { return d.store().currentPath(); };
    QVERIFY(std::holds_alternative<RimWheel>(*path()->wheels[1].maker));
    d.window->sheet().ensureWidgetVisible(body("wheelBodyAll"), 0, 100);
    d.settle();
    QTest::mouseClick(body("wheelBodyAll"), Qt::LeftButton);
    d.settle();
    for (const auto& w : path()->wheels) QVERIFY(std::holds_alternative<RimWheel>(*w.maker));
}

/// The clock: play, pause, through by the slider, back to the start; the document never changes.
void TestRunStories::theChainMoves() {
    Story d(Winch, kDrives);
    auto* bar = d.find<QWidget>("motionBar");
    QVERIFY(bar->isVisible());
    const size_t steps = d.store().history().index();
    const auto first = [&] { return d.view().shown().run(Winch)->placed->frame(0).seat; };
    const Vec3 start = first();
    auto* play = d.find<QAbstractButton>("motion.play");
    QTest::mouseClick(play, Qt::LeftButton);
    QTRY_VERIFY((first() - start).norm() > 10);
    QVERIFY(play->text() == "Pause" && d.view().clock().playing());
    QTest::mouseClick(play, Qt::LeftButton);
    QVERIFY(!d.view().clock().playing());
    const double time = d.view().clock().time();
    QVERIFY(time > 0);
    // As far along as the time says, and nothing else: the run itself stands where it stood.
    const auto run = d.store().evaluation().run(Winch);
    const Path& path = *run->path->path;
    const double L = path.length(), s = std::fmod(run->placed->stations()[0] + 150 * time, L);
    NEAR((first() - path.at(s).point).norm(), 0, 30); // the seat is the link's middle: half a link on
    NEAR((run->placed->frame(0).seat - start).norm(), 0, 0);
    QCOMPARE(d.store().history().index(), steps);
    auto* slider = d.find<QSlider>("motion.slider");
    slider->setFocus();
    QTest::keyClick(slider, Qt::Key_PageUp);
    QVERIFY(d.view().clock().time() > time);
    QTest::mouseClick(d.find<QAbstractButton>("motion.start"), Qt::LeftButton);
    QCOMPARE(d.view().clock().time(), 0.0);
    NEAR((first() - start).norm(), 0, 0);
    // By its section: nothing moves, no bar; another speed, the bar is back.
    d.open("motion");
    for (Id id : {Id(Winch), Id(21), Id(24), Id(25)}) {
        d.choose(id);
        auto* moves = d.find<QCheckBox>("run.moves");
        d.window->sheet().ensureWidgetVisible(moves, 0, 60);
        d.settle();
        moves->click();
        d.settle();
        QVERIFY(!d.item().motion.moves);
    }
    QVERIFY(!bar->isVisible());
    d.choose(Winch);
    d.find<QCheckBox>("run.moves")->click();
    d.settle();
    d.type("speed", "60");
    QVERIFY(bar->isVisible());
    NEAR(d.item().motion.speed, 60, 0);
    d.type("speed", "0"); // stands; no complaint
    QVERIFY(!d.run()->problem && !bar->isVisible());
}

VICINAL_SUITE(TestRunStories)

} // namespace test_run_stories
#include "test_run_stories.moc"
