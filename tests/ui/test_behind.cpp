// What is worked out behind the window, without a window: lanes, the newest of a kind, the store and its checks.
#include "app/state/checks.h"
#include "app/state/clock.h"
#include "app/state/latest.h"
#include "app/state/store.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/motion/moving.h"
#include "model/recipes/recipe.h"
#include "suite.h"
#include "support.h"
#include <QSemaphore>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <atomic>

namespace test_behind {

using namespace vicinal;
using namespace vicinal::test;

namespace {

void open(Store& store, const char* example) {
    auto read = Store::read(std::string(VICINAL_SOURCE "/examples/saltmarrow-") + example + ".json");
    if (!read) qFatal("%s", read.problem().text.c_str());
    store.take(std::move(read).value(), {});
}

/// The document with the motor of its winch loop somewhere else.
Document motorAt(Document d, Id path, double x) {
    PathItem item = *d.path(path);
    std::get<WheelShape>(std::get<ShapeRecipe>(item.recipe).shape).wheels.back().centre.x() = x;
    return with(std::move(d), std::move(item));
}

} // namespace

class TestBehind : public QObject {
    Q_OBJECT
private slots:
    void theNewestWins();
    void whatGivesUpIsToldAsNothing();
    void whoIsGoneIsNotTold();
    void smallWorkHoldsNothingUp();
    void aDragEndsWithTheNewestState();
    void aSlowClockShowsTheNewestTime();
    void checksComeWithoutAWindow();
};

void TestBehind::theNewestWins() {
    Latest<int> work(Lane::Small, this);
    QSemaphore first;
    std::atomic<int> begun = 0;
    std::vector<int> taken;
    for (int k = 0; k < 20; ++k)
        work.run(
            [&, k](Job& job) {
                ++begun;
                if (k == 0) {
                    first.acquire();                                       // until all others were asked for
                    while (!stopped(&job.stop)) std::this_thread::yield(); // and then it was told to stop
                }
                return k;
            },
            [&](std::optional<int> v) { taken.push_back(v.value_or(-1)); });
    first.release();
    QTRY_VERIFY_WITH_TIMEOUT(!work.running(), 20000);
    QCOMPARE(taken, std::vector<int>{19}); // nothing of what came before
    QCOMPARE(begun.load(), 2);             // and of those that waited none began but the last
    work.run([](Job&) { return 7; }, [&](std::optional<int> v) { taken.push_back(*v); });
    work.stop();
    QTRY_VERIFY_WITH_TIMEOUT(!work.running(), 20000);
    QCOMPARE(taken.size(), size_t(1));
}

void TestBehind::whatGivesUpIsToldAsNothing() {
    Latest<int> work(Lane::Small, this);
    std::vector<std::optional<int>> taken;
    const auto take = [&](std::optional<int> v) { taken.push_back(v); };
    work.run([](Job&) -> int { throw std::bad_alloc(); }, take);
    QTRY_COMPARE_WITH_TIMEOUT(taken.size(), size_t(1), 20000);
    QVERIFY(!taken[0]);
    work.run([](Job&) { return 3; }, take); // the next one is as good as ever
    QTRY_COMPARE_WITH_TIMEOUT(taken.size(), size_t(2), 20000);
    QCOMPARE(*taken[1], 3);
}

void TestBehind::whoIsGoneIsNotTold() {
    QSemaphore gate, over;
    bool told = false;
    {
        QObject owner;
        Latest<int> work(Lane::Small, &owner);
        work.run(
            [&](Job&) {
                gate.acquire();
                over.release();
                return 1;
            },
            [&](std::optional<int>) { told = true; });
    }
    gate.release();
    QVERIFY(over.tryAcquire(1, 20000));
    poolOf(Lane::Small).waitForDone();
    QCoreApplication::processEvents();
    QVERIFY(!told);
}

void TestBehind::smallWorkHoldsNothingUp() {
    Store store;
    open(store, "drives");
    QTRY_VERIFY_WITH_TIMEOUT(!store.evaluating(), 60000);
    QSemaphore gate;
    Latest<int> small(Lane::Small, this);
    bool taken = false;
    small.run(
        [&](Job&) {
            gate.acquire(); // as long as somebody waits
            return 1;
        },
        [&](std::optional<int>) { taken = true; });
    store.setPatience(0); // all of it behind
    const Id path = store.document().run("Winch drive")->path;
    store.edit(motorAt(store.document(), path, 760), "Motor");
    QTRY_VERIFY_WITH_TIMEOUT(!store.evaluating(), 60000);
    QCOMPARE(std::get<WheelShape>(std::get<ShapeRecipe>(store.evaluation().paths.at(path)->item->recipe).shape)
                 .wheels.back()
                 .centre.x(),
             760.0);
    QTRY_VERIFY_WITH_TIMEOUT(!store.checks().running(), 120000);
    QVERIFY(!taken); // still at work
    gate.release();
    QTRY_VERIFY_WITH_TIMEOUT(taken, 20000);
}

void TestBehind::aDragEndsWithTheNewestState() {
    // A chain for which a wheel gives way: each state is a search. A drag asks for more of them than there is time for.
    Store store;
    open(store, "drives");
    QTRY_VERIFY_WITH_TIMEOUT(!store.evaluating(), 60000);
    store.setPatience(0);
    const auto run = store.document().run("Winch drive");
    QVERIFY(run && run->gives.what != Gives::Nothing);
    QSignalSpy told(&store, &Store::documentChanged);
    constexpr int kSteps = 60;
    for (int k = 1; k <= kSteps; ++k)
        store.edit(motorAt(store.document(), run->path, 740 + k), "Motor", "drag"); // never waits
    QCOMPARE(store.history().index(), size_t(1));
    QTRY_VERIFY_WITH_TIMEOUT(!store.evaluating(), 120000);
    QVERIFY2(told.count() < kSteps / 2, qPrintable(QString::number(told.count()))); // what was passed over was left
    const auto fresh = evaluate(store.document());
    const RunResult &now = *store.evaluation().run(run->id), &then = *fresh->run(run->id);
    QVERIFY(now.placed && !now.problem && !then.problem);
    QCOMPARE(now.placed->bodies(), then.placed->bodies());
    for (size_t i = 0; i < now.placed->bodies(); ++i) QVERIFY(now.placed->pose(i) == then.placed->pose(i));
    // Its fits can be stopped, and are not worked out for nothing.
    Stop stop = true;
    const auto fits = fitsOf(now, &stop);
    QVERIFY(!fits && fits.problem().text == "This was stopped.");
    QVERIFY(fitsOf(now));
}

/// Where a moment takes too long for the window it is worked out behind: the newest time wins, and what is shown is of
/// it; for a picture it is waited for.
void TestBehind::aSlowClockShowsTheNewestTime() {
    Store store;
    open(store, "drives");
    QTRY_VERIFY_WITH_TIMEOUT(!store.evaluating(), 60000);
    Clock clock(store);
    QVERIFY(clock.wanted());
    clock.setPatience(0); // every moment is too long
    clock.setTime(0.1);   // the first one tells
    const auto poses = [](const Evaluation& e) {
        std::vector<Mat4> out;
        for (const auto& r : e.runs)
            for (size_t i = 0; r->placed && i < r->placed->bodies(); ++i) out.push_back(r->placed->pose(i));
        return out;
    };
    QSignalSpy moved(&clock, &Clock::moved);
    for (int k = 1; k <= 40; ++k) clock.setTime(0.1 + 0.05 * k);
    QCOMPARE(moved.count(), 0); // none was waited for
    QCOMPARE(clock.time(), 0.1 + 0.05 * 40);
    const auto wanted = poses(*atTime(store.sharedEvaluation(), clock.time(), nullptr));
    QTRY_VERIFY_WITH_TIMEOUT(poses(clock.shown()) == wanted, 60000);
    QVERIFY2(moved.count() < 40, qPrintable(QString::number(moved.count())));
    clock.setTime(0.7, true); // and what was asked for before does not come after it
    const auto now = poses(*atTime(store.sharedEvaluation(), 0.7, nullptr));
    QVERIFY(poses(clock.shown()) == now);
    poolOf(Lane::Small).waitForDone();
    QCoreApplication::processEvents();
    QVERIFY(poses(clock.shown()) == now);
    clock.setTime(0); // as the document stands: at once
    QVERIFY(poses(clock.shown()) == poses(store.evaluation()));
}

void TestBehind::checksComeWithoutAWindow() {
    Store store;
    open(store, "checks");
    QTRY_VERIFY_WITH_TIMEOUT(!store.evaluating(), 60000);
    QSignalSpy told(&store.checks(), &Checks::changed);
    store.checks().again();
    QTRY_VERIFY_WITH_TIMEOUT(!store.checks().running() && told.count() > 0, 120000);
    for (const auto& run : store.evaluation().runs) {
        QVERIFY2(store.checks().current(*run), run->item->name.c_str());
        QVERIFY(store.checks().verdictOf(*run).mark != Mark::Open);
    }
    QVERIFY(store.checks().verdictOf(*store.evaluation().run(store.document().run("Quay lights")->id)).mark ==
            Mark::Wrong);
}

VICINAL_SUITE(TestBehind)

} // namespace test_behind
#include "test_behind.moc"
