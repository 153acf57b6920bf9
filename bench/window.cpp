// What the window does within a frame: strip and schedule with a hundred thousand places.
#include "app/controls/theme.h"
#include "app/schedule/schedule.h"
#include "app/schedule/schedule_model.h"
#include "app/state/clock.h"
#include "app/strip/strip.h"
#include "app/view/viewport.h"
#include "drives.h"
#include "layout/spacing/rules.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "parts/makers/maker.h"
#include <QApplication>
#include <QTableView>
#include <benchmark/benchmark.h>

using namespace vicinal;

namespace {

/// A document with one run of so many balusters on a curve.
Document balusters(long count) {
    PathItem path;
    PointsRecipe points;
    for (int i = 0; i < 40; ++i) points.points.push_back({Vec3(i * 1000.0, 400.0 * (i % 3), 50.0 * (i % 5))});
    path.recipe = points;
    PartItem part;
    part.shape = Maker(Baluster{});
    Document d = with(with(Document(), path), part);
    RunItem run;
    run.path = 1;
    run.part = 2;
    run.spacing->rule = ShareOut{count};
    run.changes.roll = {{{0, 0}, {20'000, 1}}, true};
    run.leftOut = {7, 5000};
    return with(std::move(d), run);
}

struct Shown {
    Store store;
    explicit Shown(long count) {
        store.setPatience(60'000);
        store.edit(balusters(count), "bench");
        store.selectItem(Selection::Kind::Run, 3);
    }
};

void stripRepaint(benchmark::State& state) {
    Shown shown(state.range(0));
    Strip strip(shown.store);
    strip.resize(1280, 300);
    strip.ensurePolished();
    for (auto _ : state) benchmark::DoNotOptimize(strip.grab());
}
BENCHMARK(stripRepaint)->Arg(1'000)->Arg(100'000)->Unit(benchmark::kMillisecond);

void scheduleOpens(benchmark::State& state) {
    Shown shown(state.range(0));
    for (auto _ : state) {
        ScheduleDock dock(shown.store);
        dock.setFloating(true);
        dock.resize(1280, 300);
        dock.show();
        benchmark::DoNotOptimize(dock.grab());
    }
}
BENCHMARK(scheduleOpens)->Arg(1'000)->Arg(100'000)->Unit(benchmark::kMillisecond);

/// Scrolling by a page: what is in sight is worked out anew.
void scheduleScrolls(benchmark::State& state) {
    Shown shown(state.range(0));
    ScheduleDock dock(shown.store);
    dock.setFloating(true);
    dock.resize(1280, 300);
    dock.show();
    int row = 0;
    for (auto _ : state) {
        dock.table().scrollTo(dock.model().index(row = (row + 13) % dock.model().rowCount(), 0));
        benchmark::DoNotOptimize(dock.table().viewport()->grab());
    }
}
BENCHMARK(scheduleScrolls)->Arg(100'000)->Unit(benchmark::kMillisecond);

void scheduleSorts(benchmark::State& state) {
    Shown shown(state.range(0));
    ScheduleDock dock(shown.store);
    dock.show();
    for (auto _ : state) dock.model().sort(ScheduleModel::Heading, Qt::DescendingOrder);
}
BENCHMARK(scheduleSorts)->Arg(100'000)->Unit(benchmark::kMillisecond);

/// A frame of motion as the window shows it: worked out, drawn, and what is painted over it; needs a display.
void motionShown(benchmark::State& state) {
    if (QGuiApplication::platformName() == "offscreen")
        return state.SkipWithError("no display: run it by scripts/on_display.sh");
    Store store;
    store.setPatience(60'000);
    store.edit(withTrain(drive(true), 20), "bench");
    store.selectItem(Selection::Kind::Run, 3);
    Viewport view(store);
    view.resize(900, 560);
    view.show();
    while (!view.settled()) QCoreApplication::processEvents();
    double t = 0;
    for (auto _ : state) {
        view.clock().setTime(t += 0.04);
        benchmark::DoNotOptimize(view.grab());
    }
}
BENCHMARK(motionShown)->Unit(benchmark::kMillisecond);

} // namespace

int main(int argc, char** argv) {
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    theme::apply(app);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
}
