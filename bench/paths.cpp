// Making paths: a loop round wheels, an offset of many segments.
#include "drives.h"
#include "exchange/in/bring_in.h"
#include "geometry/curves/offset.h"
#include "geometry/wheels/wheels.h"
#include "layout/placement_input.h"
#include "layout/spacing/rules.h"
#include "layout/vehicles/envelope.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/evaluate.h"
#include "model/evaluate/giving.h"
#include "model/evaluate/motion/moving.h"
#include "parts/makers/maker.h"
#include <benchmark/benchmark.h>
#include <filesystem>
#include <fstream>
#include <random>

using namespace vicinal;

namespace {

void loopOfTwelveWheels(benchmark::State& state) {
    std::vector<WheelCircle> wheels;
    for (int i = 0; i < 12; ++i)
        wheels.push_back({900 * Vec2(std::cos(i * kPi / 6), std::sin(i * kPi / 6)), 40. + 3 * i, true});
    for (auto _ : state) benchmark::DoNotOptimize(loopRound(wheels, true, false)->length);
}
BENCHMARK(loopOfTwelveWheels)->Unit(benchmark::kMicrosecond);

/// A closed outline of lines and arcs, waved so that it folds back on itself here and there when offset.
void offsetOfSegments(benchmark::State& state) {
    const long n = state.range(0);
    std::vector<PolyPoint> p;
    std::mt19937 random(2);
    std::uniform_real_distribution<double> shake(-20, 20);
    for (long i = 0; i < n / 2; ++i) {
        const double a = 4 * kPi * double(i) / double(n), r = 20.0 * double(n) + 600 * std::sin(a * 40) + shake(random);
        p.push_back({{r * std::cos(a), r * std::sin(a), 0}, 25});
    }
    const Path path = *Path::make(filleted(p, true)->segments, true);
    state.counters["segments"] = double(path.segments().size());
    for (auto _ : state) benchmark::DoNotOptimize(offsetOf(path, 60, CornerStyle::Round)->curve.segments.size());
}
BENCHMARK(offsetOfSegments)->Arg(1000)->Arg(10000)->Unit(benchmark::kMillisecond);

/// A point of the first path dragged: five others follow it, 5,000 places stand on them.
void dragWithFiveFollowers(benchmark::State& state) {
    Document d;
    PathItem source;
    PointsRecipe r;
    for (int i = 0; i < 12; ++i) r.points.push_back({{i * 1500.0, 900 * std::sin(i * 0.8), 40.0 * i}});
    source.recipe = r;
    d = with(d, source);
    const Id id = d.paths[0]->id;
    std::vector<Id> others;
    const auto follow = [&](Id of, Change change) {
        d = with(d, PathItem{0, "", DerivedRecipe{of, change}});
        others.push_back(d.paths.back()->id);
    };
    follow(id, OffsetOf{300, CornerStyle::Round});
    follow(id, OffsetOf{-300, CornerStyle::Round});
    follow(id, StretchOf{1000, 9000});
    follow(id, MirroredAt{Vec3::Zero(), 0});
    follow(others[0], Resampled{false, 700, 0, true});
    d = with(d, PartItem{0, "", Baluster{}, {}});
    for (Id p : others) {
        RunItem run;
        run.path = p;
        run.part = d.parts[0]->id;
        run.spacing->rule = ShareOut{1000};
        d = with(d, run);
    }
    auto e = evaluate(d);
    double y = 0;
    for (auto _ : state) {
        PathItem moved = *d.path(id);
        std::get<PointsRecipe>(moved.recipe).points[5].at.y() = y += 1;
        d = with(d, moved);
        e = evaluate(d, e);
        for (const auto& run : e->runs)
            if (run->problem) state.SkipWithError(run->problem->text.c_str());
    }
}
BENCHMARK(dragWithFiveFollowers)->Unit(benchmark::kMillisecond);

/// 100,000 lines that all start in one point, and as many in a row from behind.
void joinEnds(benchmark::State& state) {
    std::vector<Strand> star, row;
    for (int i = 0; i < 100'000; ++i) {
        star.push_back({{Line{{0, 0, 0}, {std::cos(i * 0.1) * (i + 1), std::sin(i * 0.1) * (i + 1), 0}}}, false, ""});
        row.push_back({{Line{{1e5 - i, 0, 5}, {1e5 - i + 1.0, 0, 5}}}, false, ""});
    }
    for (auto _ : state) benchmark::DoNotOptimize(chainByEnds(star, 0.01).size() + chainByEnds(row, 0.01).size());
}
BENCHMARK(joinEnds)->Unit(benchmark::kMillisecond);

/// One place of 100,000 left out and brought back: only the stages after the frames run.
void leaveOneOut(benchmark::State& state) {
    PathItem line;
    line.recipe = PointsRecipe{{{{0, 0, 0}}, {{4e6, 9e5, 2e5}}, {{9e6, 0, 0}}, {{2e7, 4e6, 3e5}}}};
    Document d = with(Document{}, line);
    d = with(d, PartItem{0, "", Baluster{}, {}});
    RunItem run;
    run.path = 1;
    run.part = 2;
    run.spacing->rule = ShareOut{100'000};
    d = with(d, run);
    auto e = evaluate(d);
    for (auto _ : state) {
        RunItem next = *d.runs[0];
        if (next.leftOut.empty())
            next.leftOut = {50'000};
        else
            next.leftOut.clear();
        d = with(d, next);
        e = evaluate(d, e);
        if (e->runs[0]->problem) state.SkipWithError("a problem");
        benchmark::DoNotOptimize(e->runs[0]->verdict.place);
    }
}
BENCHMARK(leaveOneOut)->Unit(benchmark::kMillisecond);

/// A drawing of 50,000 lines, arcs and polylines on 20 layers, read and joined into paths.
void bringInDxf(benchmark::State& state) {
    const auto file = std::filesystem::temp_directory_path() / "vicinal-bench.dxf";
    {
        std::ofstream out(file);
        out << "0\nSECTION\n2\nENTITIES\n";
        for (int i = 0; i < 50000; ++i) {
            const double x = (i % 250) * 100, y = (i / 250) * 100;
            if (i % 3 == 2)
                out << "0\nARC\n8\nL" << i % 20 << "\n10\n" << x << "\n20\n" << y << "\n30\n0\n40\n20\n50\n0\n51\n90\n";
            else
                out << "0\nLINE\n8\nL" << i % 20 << "\n10\n"
                    << x << "\n20\n"
                    << y << "\n30\n0\n11\n"
                    << x + 60 << "\n21\n"
                    << y + 30 << "\n31\n0\n";
        }
        out << "0\nENDSEC\n0\nEOF\n";
    }
    for (auto _ : state) {
        auto curves = readDxf(file);
        const auto paths = pathsOf(curves.value(), 1, 0.1);
        state.counters["paths"] = double(paths->size());
    }
    std::filesystem::remove(file);
}
BENCHMARK(bringInDxf)->Unit(benchmark::kMillisecond);

void wheelGivesWay(benchmark::State& state) {
    const Document d = drive(false);
    auto before = evaluate(d);
    const auto run = before->run(3);
    if (run->problem) return state.SkipWithError(run->problem->text.c_str());
    long n = run->path->gave->count;
    for (auto _ : state) {
        n = n == run->path->gave->count ? n + 1 : run->path->gave->count;
        benchmark::DoNotOptimize(solvedValueFor(*run, n)->after);
    }
    state.counters["links"] = double(run->placed->count());
    state.counters["paths built"] = run->path->gave->tries;
}
BENCHMARK(wheelGivesWay)->Unit(benchmark::kMillisecond);

void frameOfMotion(benchmark::State& state) {
    const bool trains = state.range(0) > 0;
    const auto e = evaluate(trains ? withTrain(drive(true), state.range(0)) : drive(true));
    const auto run = e->run(3);
    if (run->problem) return state.SkipWithError(run->problem->text.c_str());
    double t = 0;
    for (auto _ : state) benchmark::DoNotOptimize(atTime(e, t += 0.04)->run(3)->placed->count());
    state.counters["links"] = double(run->placed->count());
    state.counters["wheels"] = double(run->path->wheels.size());
    if (!trains) return;
    if (e->run(7)->problem) return state.SkipWithError(e->run(7)->problem->text.c_str());
    state.counters["vehicles"] = double(e->run(7)->placed->count());
    state.counters["bogies"] = double(e->run(7)->placed->bodies() - e->run(7)->placed->count());
}
BENCHMARK(frameOfMotion)->Arg(0)->Arg(20)->Unit(benchmark::kMillisecond);

/// 500 links through one pitch in 100 steps.
void sweepOnePitch(benchmark::State& state) {
    const auto e = evaluate(drive(true));
    for (auto _ : state) benchmark::DoNotOptimize(sweep(*e->run(3), 100).size());
}
BENCHMARK(sweepOnePitch)->Unit(benchmark::kMillisecond);

/// The room that the train's vehicles take, over the whole path.
void throwOfATrain(benchmark::State& state) {
    const Document d = withTrain(drive(true), 20);
    const auto e = evaluate(d);
    const auto run = e->run(7);
    if (run->problem) return state.SkipWithError(run->problem->text.c_str());
    const PlacementInput order = orderOf(*run);
    const Path& path = *run->path->path;
    const std::vector<size_t> own{0};
    for (auto _ : state)
        benchmark::DoNotOptimize(
            sweptEnvelope(path, vehiclesOf(path, order, order.facing), own, run->placed->laid->usedSlots).widest);
}
BENCHMARK(throwOfATrain)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
