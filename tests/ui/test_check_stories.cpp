// Checks in the real window: verdicts, going there, limits, excuses, comparing, the sheet.
#include "app/check_sheet/checks_dock.h"
#include "app/check_sheet/checks_model.h"
#include "app/state/checks.h"
#include "app/strip/lanes/check_lane.h"
#include "app/yard/yard_model.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include "ran.h"
#include "suite.h"
#include "ui/story.h"
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QTableView>
#include <QToolButton>

namespace test_check_stories {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const QString kChecksDemo = VICINAL_SOURCE "/examples/saltmarrow-checks.json";

struct Measured : Story {
    explicit Measured(Id run) : Story(run, kChecksDemo) { wait(); }
    /// Until every verdict is one of the document as it is.
    void wait() {
        const auto ready = [&] {
            if (store().evaluating() || store().checks().running()) return false;
            for (const auto& r : store().evaluation().runs)
                if (!store().checks().current(*r)) return false;
            return true;
        };
        if (!QTest::qWaitFor(ready, 60'000)) qFatal("the checks did not end");
        settle();
    }
    const CheckResult& result(CheckKind of, Id other = 0) {
        const auto all = store().checks().of(run()->item->id);
        for (const CheckResult& r : all->list)
            if (r.check.of == of && r.check.other == other) return r;
        qFatal("no such check");
    }
    Mark verdict() { return store().checks().verdictOf(*run()).mark; }
    void press(const QString& name) {
        auto* b = find<QAbstractButton>(name);
        window->sheet().ensureWidgetVisible(b, 0, 60);
        settle();
        QTest::mouseClick(b, Qt::LeftButton, {}, spot(b));
        settle();
    }
    void typeIn(const QString& field, const QString& text) {
        window->sheet().ensureWidgetVisible(find(field), 0, 60);
        settle();
        type(field.section("edit.", 1), text);
        wait();
    }
    QString textOf(const QString& name) { return find<QLabel>(name)->text(); }
};

} // namespace

class TestCheckStories : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { theme::apply(*qApp); }
    void lightsKeepClearOfTheDoor();
    void excusedByWhoSaysSo();
    void aCheckIsAddedAndTypedInto();
    void lanesNeverHideTheWorst();
    void aStateIsKeptAndCompared();
    void theSheetIsSentOut();
    void stoppedAndMeasuredAgain();
};

void TestCheckStories::lightsKeepClearOfTheDoor() {
    Measured d(42);
    const CheckResult& door = d.result(CheckKind::SiteBody, 52);
    QVERIFY(door.mark == Mark::Wrong && d.verdict() == Mark::Wrong);
    const int place = door.worst->place;
    // The yard says so, the section in one line and in rows.
    bool told = false;
    const auto* yard = d.window->yard().model();
    for (int i = 0; i < yard->rowCount(); ++i) {
        const QModelIndex row = yard->index(i, 0);
        if (row.data(YardModel::IdRole).toInt() == 42)
            told = told || row.data(YardModel::MarkRole).toInt() == int(Mark::Wrong);
    }
    QVERIFY(told);
    d.open("checks");
    QVERIFY(d.textOf("check.body.52.sign") == QString::fromUtf8("\u2715"));
    QVERIFY(d.textOf("check.body.52.value").contains("349.98"));
    // Go there: the light is selected, the camera looks at the gap from near by, from a side it is seen from.
    d.press("check.body.52.go");
    QVERIFY(d.store().selection().places == std::set<int>{place});
    const Camera& camera = d.view().camera();
    QVERIFY((camera.target - (door.worst->a + door.worst->b) / 2).norm() < 1);
    QVERIFY(camera.distance < 8000);
    QVERIFY(std::abs(camera.toEye().dot((door.worst->b - door.worst->a).normalized())) < 0.95);
    const auto a = camera.project(door.worst->a), b = camera.project(door.worst->b);
    QVERIFY(a && b && d.view().rect().contains(QPoint(int(a->x()), int(a->y()))) &&
            d.view().rect().contains(QPoint(int(b->x()), int(b->y()))));
    QVERIFY(d.store().checks().inHand() && d.store().checks().inHand()->other == 52);
    // Its limit is a field; less is kept.
    d.typeIn("edit.check.body.52.least", "0.3 m");
    QCOMPARE(*d.result(CheckKind::SiteBody, 52).check.least, 300.0);
    QVERIFY(d.result(CheckKind::SiteBody, 52).mark == Mark::Good);
    d.store().undo();
    d.wait();
    QVERIFY(d.result(CheckKind::SiteBody, 52).mark == Mark::Wrong);
    // Off: it stays listed and says nothing.
    d.press("check.body.52.on");
    d.wait();
    QVERIFY(!d.result(CheckKind::SiteBody, 52).check.on && d.verdict() == Mark::Good);
    QCOMPARE(d.textOf("check.body.52.value"), QString("off"));
    // G goes to the first run that has one wrong when none is in hand.
    d.store().undo();
    d.wait();
    d.store().select({});
    d.key(Qt::Key_G, {});
    QVERIFY(d.store().currentRun() && d.store().currentRun()->item->id == 42);
}

void TestCheckStories::excusedByWhoSaysSo() {
    Measured d(42);
    d.open("checks");
    d.press("check.body.52.title");
    d.whenDialog("excuse", [](QDialog* dialog) {
        dialog->findChild<QLineEdit*>("excuse.why")->setText("the door opens inwards from spring on");
        dialog->findChild<QLineEdit*>("excuse.by")->setText("M. Tollan");
        Driver::clickIn(dialog, "excuse.ok");
    });
    d.press("check.body.52.excuse");
    d.wait();
    const CheckResult& door = d.result(CheckKind::SiteBody, 52);
    QVERIFY(door.mark == Mark::Good && door.excused == 1 && d.verdict() == Mark::Good);
    QCOMPARE(door.check.excused.front().by, std::string("M. Tollan"));
    QVERIFY(!door.check.excused.front().on.empty());
    QVERIFY(d.find("check.body.52")->findChildren<QLabel*>().size() > 4); // and stays listed
    d.press("check.body.52.takeBack.0");
    d.wait();
    QVERIFY(d.verdict() == Mark::Wrong);
}

void TestCheckStories::aCheckIsAddedAndTypedInto() {
    Measured d(44);
    d.open("checks");
    auto* add = d.find<QPushButton>("checks.add");
    const auto choose = [&](const QString& name) {
        bool found = false;
        QTimer::singleShot(0, d.window.get(), [&] {
            for (QAction* a : add->menu()->findChildren<QAction*>())
                if (a->objectName() == name) found = true, a->trigger();
            add->menu()->close();
        });
        QTest::mouseClick(add, Qt::LeftButton);
        d.wait();
        return found;
    };
    d.window->sheet().ensureWidgetVisible(add, 0, 60);
    QVERIFY(choose("check.weightPerMetre"));
    QVERIFY(d.result(CheckKind::WeightPerMetre).value && *d.result(CheckKind::WeightPerMetre).value > 1);
    auto* edit = d.find<QLineEdit>("check.weightPerMetre.most");
    d.window->sheet().ensureWidgetVisible(edit, 0, 60);
    const auto write = [&](const QString& text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        d.wait();
    };
    write("1/2 kg/m");
    QVERIFY(d.result(CheckKind::WeightPerMetre).mark == Mark::Wrong && d.verdict() == Mark::Wrong);
    write("heavy");
    QVERIFY(!d.find<QLabel>("check.weightPerMetre.error")->text().isEmpty());
    QCOMPARE(*d.result(CheckKind::WeightPerMetre).check.most, 0.5); // as it was
    write("50");
    QVERIFY(d.result(CheckKind::WeightPerMetre).mark == Mark::Good);
    // Right after Enter a key takes it back, wherever the keyboard is then.
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Z, Qt::ControlModifier);
    d.wait();
    QCOMPARE(*d.result(CheckKind::WeightPerMetre).check.most, 0.5);
    d.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    d.wait();
    QCOMPARE(*d.result(CheckKind::WeightPerMetre).check.most, 50.0);
    d.press("check.weightPerMetre.drop");
    d.wait();
    for (const Check& c : d.item().checks) QVERIFY(c.of != CheckKind::WeightPerMetre);
    // Limits that contradict are told in place; nothing breaks.
    d.choose(43);
    d.wait();
    d.press("check.gap.title");
    d.typeIn("edit.check.gap.least", "300");
    QVERIFY(d.find<QLabel>("check.gap.error")->text().contains("contradict"));
    QVERIFY(d.result(CheckKind::ClearGap).cannot);
}

void TestCheckStories::lanesNeverHideTheWorst() {
    Measured d(41);
    const CheckResult& opening = d.result(CheckKind::Opening);
    QVERIFY(opening.value && opening.mark == Mark::Good && *opening.value < 99);
    QVERIFY(!d.strip().laneOf({LaneKind::Check, "opening"}).isEmpty());
    // One column a pixel, each as bad as the worst place in it, at any zoom.
    StripMap map = d.strip().map();
    for (const double perPixel : {map.perPixel, map.perPixel * 40, map.perPixel / 50}) {
        map.perPixel = perPixel;
        const CheckLane lane(opening, *d.run(), map, QRectF(0, 0, 900, 30));
        for (size_t i = 0; i < opening.places.size(); ++i) {
            const auto [from, to] = lane.stretch(opening.places[i]);
            const double x = map.x((from + to) / 2) - map.left;
            if (x < 0 || x >= double(lane.columns().size())) continue;
            const CheckColumn& c = lane.columns()[size_t(x)];
            QVERIFY(c.worst >= 0 && c.most >= opening.places[i].value - 1e-9);
            QVERIFY(opening.places[size_t(c.worst)].value >= opening.places[i].value - 1e-9); // of an upper limit
        }
    }
    // A click selects what is there, a double-click goes there.
    const QRectF lane = d.strip().laneOf({LaneKind::Check, "opening"});
    const CheckLane drawn(opening, *d.run(), d.strip().map(), lane);
    const auto [from, to] = drawn.stretch(*opening.worst);
    const QPointF at(d.strip().map().x((from + to) / 2), lane.center().y());
    d.clickAt(&d.strip(), at);
    QVERIFY(d.store().selection().places.count(opening.worst->place));
    QVERIFY(d.store().checks().inHand() && d.store().checks().inHand()->of == CheckKind::Opening);
    const Vec3 before = d.view().camera().target;
    QTest::mouseDClick(&d.strip(), Qt::LeftButton, {}, at.toPoint());
    d.settle();
    QVERIFY((d.view().camera().target - before).norm() > 1);
    // Hidden by hand it is offered, and comes back where it was.
    const QStringList all = d.strip().laneNames();
    d.fromMenu(&d.strip(), {40, lane.center().y()}, "Hide this lane");
    QVERIFY(d.strip().laneOf({LaneKind::Check, "opening"}).isEmpty());
    QCOMPARE(d.strip().laneNames().size(), all.size() - 1);
    d.fromMenu(&d.strip(), {40, d.strip().placesY()}, QObject::tr(wordsOf(CheckKind::Opening).lane));
    QCOMPARE(d.strip().laneNames(), all);
}

void TestCheckStories::aStateIsKeptAndCompared() {
    Measured d(43);
    d.key(Qt::Key_K, Qt::ControlModifier);
    QVERIFY(d.window->checks().isVisible());
    auto& model = d.window->checks().model();
    auto& table = d.window->checks().table();
    QVERIFY(table.isColumnHidden(ChecksModel::Was));
    d.click("checks.keep");
    QVERIFY(!table.isColumnHidden(ChecksModel::Was));
    QVERIFY(d.textOf("checks.difference").contains("nothing has changed"));
    const QString gapBefore = [&] {
        for (int row = 0; row < model.rowCount(); ++row)
            if (model.row(row).run == 43 && model.result(row) && model.result(row)->check.of == CheckKind::ClearGap)
                return model.index(row, ChecksModel::Value).data().toString();
        return QString();
    }();
    QVERIFY(!gapBefore.isEmpty());
    d.store().change<RunItem>(43, "Other pitch", {},
                              [](RunItem& r) { std::get<EvenOut>(r.spacing->rule).about = 700; });
    d.wait();
    QVERIFY2(d.textOf("checks.difference").contains("1 run"), qPrintable(d.textOf("checks.difference")));
    for (int row = 0; row < model.rowCount(); ++row)
        if (model.row(row).run == 43 && model.result(row) && model.result(row)->check.of == CheckKind::ClearGap) {
            QCOMPARE(model.index(row, ChecksModel::Was).data().toString(), gapBefore);
            QVERIFY(model.index(row, ChecksModel::Value).data().toString() != gapBefore);
        }
    // The picture of the row that is chosen, and Enter goes there.
    int lights = -1;
    for (int row = 0; row < model.rowCount(); ++row)
        if (model.row(row).run == 42 && model.result(row) && model.result(row)->mark == Mark::Wrong) lights = row;
    QVERIFY(lights >= 0);
    table.setCurrentIndex(model.index(lights, ChecksModel::Name));
    const auto inked = [&] {
        const QImage picture = d.find("checks.picture")->grab().toImage();
        int n = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) n += picture.pixelColor(x, y).lightness() < 170;
        return n;
    };
    QTRY_VERIFY(inked() > 400);
    QTest::keyClick(&table, Qt::Key_Return);
    d.settle();
    QCOMPARE(d.store().selection().id, 42);
    d.click("checks.forget");
    QVERIFY(table.isColumnHidden(ChecksModel::Was) && !d.store().checks().kept());
}

void TestCheckStories::theSheetIsSentOut() {
    Measured d(42);
    const QTemporaryDir dir;
    for (const QString name : {"checks.pdf", "checks.html"}) {
        ask::answerFile(dir.filePath(name));
        d.find<QAction>("action.sendChecks")->trigger();
        d.settle();
        QVERIFY2(d.window->message().contains("Written"), qPrintable(d.window->message()));
    }
    const QString text = ran("pdftotext", {"-layout", dir.filePath("checks.pdf"), "-"});
    for (const char* word : {"Check sheet", "Quay lights", "Hut's door swing", "349.98", "wrong", "Ramp balusters",
                             "Widest opening", "Checked by"})
        QVERIFY2(text.contains(word), word);
    std::ifstream html(dir.filePath("checks.html").toStdString());
    const std::string page((std::istreambuf_iterator<char>(html)), {});
    QVERIFY(page.find("<svg") != std::string::npos && page.find("Hut&#39;s") == std::string::npos &&
            page.find("Hut's door swing") != std::string::npos);
    ask::answerFile("/no/such/folder/checks.pdf");
    d.find<QAction>("action.sendChecks")->trigger();
    d.settle();
    QVERIFY(d.window->message().contains("/no/such/folder"));
}

void TestCheckStories::stoppedAndMeasuredAgain() {
    Measured d(41);
    // Edits one after the other: the newest wins, and what is shown in the end is of that one.
    for (int i = 0; i < 12; ++i)
        d.store().change<RunItem>(41, "Gap", "drag",
                                  [&](RunItem& r) { std::get<EvenOut>(r.spacing->rule).about = 60 + i; });
    d.store().seal();
    d.wait();
    const auto fresh = [&] {
        CheckMemory memory;
        return check(d.store().sharedEvaluation(), memory);
    }();
    QVERIFY(std::abs(*fresh->run(41)->list[1].value - *d.store().checks().of(41)->list[1].value) < 1e-6);
    d.store().change<RunItem>(41, "Gap", {}, [&](RunItem& r) { std::get<EvenOut>(r.spacing->rule).about = 50; });
    d.store().checks().stop();
    QVERIFY(QTest::qWaitFor([&] { return !d.store().checks().running(); }, 30'000));
    d.store().checks().again();
    d.wait();
    QVERIFY(d.store().checks().current(*d.run()));
}

VICINAL_SUITE(TestCheckStories)

} // namespace test_check_stories
#include "test_check_stories.moc"
