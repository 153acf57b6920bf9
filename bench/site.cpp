// Ground, what lies and stands on it, and strands over one another.
#include "geometry/curves/rails.h"
#include "geometry/heights/laid.h"
#include "geometry/heights/lifted.h"
#include "geometry/terrain/terrain.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/evaluate.h"
#include "parts/cuts/flat_cut.h"
#include "parts/cuts/prism.h"
#include "parts/cuts/solid_cut.h"
#include "parts/cuts/webs.h"
#include "parts/makers/maker.h"
#include "parts/rails/bent.h"
#include <benchmark/benchmark.h>
#include <random>

namespace vicinal {
namespace {

double height(double x, double y) { return 900 * std::sin(x / 9000) * std::cos(y / 7000) + 90 * std::sin(x / 700); }

LevelData grid(int n) { // n x n cells of 100 mm, two triangles each
    LevelData out;
    for (int i = 0; i <= n; ++i)
        for (int k = 0; k <= n; ++k) out.points.push_back({i * 100.0, k * 100.0, height(i * 100.0, k * 100.0)});
    for (std::uint32_t i = 0; i < std::uint32_t(n); ++i)
        for (std::uint32_t k = 0; k < std::uint32_t(n); ++k) {
            const std::uint32_t a = i * std::uint32_t(n + 1) + k, b = a + std::uint32_t(n + 1);
            out.faces.push_back({a, b, b + 1});
            out.faces.push_back({a, b + 1, a + 1});
        }
    return out;
}

const Ground& halfMillion() {
    static const Ground ground = [] {
        auto t = terrainOf(grid(500));
        return Ground(std::make_shared<const Mesh>(std::move(t.value().mesh)), std::make_shared<const LazyTree>(),
                      Mat3::Identity(), Vec3::Zero());
    }();
    return ground;
}

/// A path of n points to and fro over the ground.
Path wandering(int n, double size) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> off(-0.3, 0.3);
    std::vector<Segment> all;
    Vec3 before = Vec3::Zero();
    const int rows = std::max(1, int(std::sqrt(n / 3.0)));
    for (int i = 0; i < n; ++i) {
        const int row = i * rows / n, at = i - row * n / rows, each = n / rows;
        const double x = 0.05 + 0.9 * (row % 2 ? each - 1 - at : at) / each,
                     y = 0.05 + 0.9 * (row + off(random)) / rows;
        const Vec3 p(x * size, y * size, 0);
        if (i > 0) all.push_back(Line{before, p});
        before = p;
    }
    return Path::make(all, false).value();
}

void treeOfHalfAMillion(benchmark::State& state) {
    const auto mesh = std::make_shared<const Mesh>(halfMillion().tree().mesh());
    for (auto _ : state) benchmark::DoNotOptimize(MeshTree(mesh));
}
BENCHMARK(treeOfHalfAMillion)->Unit(benchmark::kMillisecond);

void laidOnHalfAMillion(benchmark::State& state) {
    const Path path = wandering(1000, 50'000);
    halfMillion().tree();
    size_t pieces = 0;
    for (auto _ : state) pieces = laidOn(path, halfMillion(), {})->segments.size();
    state.counters["pieces"] = double(pieces);
}
BENCHMARK(laidOnHalfAMillion)->Unit(benchmark::kMillisecond);

void laidSmooth(benchmark::State& state) {
    const Path path = wandering(1000, 50'000);
    halfMillion().tree();
    for (auto _ : state)
        benchmark::DoNotOptimize(laidOn(path, halfMillion(), {-Vec3::UnitZ(), false, 10})->segments.size());
}
BENCHMARK(laidSmooth)->Unit(benchmark::kMillisecond);

void groundOf200000(benchmark::State& state) {
    std::mt19937 random(1);
    std::uniform_real_distribution<double> at(0, 60'000);
    LevelData levels;
    for (int i = 0; i < 200'000; ++i) {
        const double x = at(random), y = at(random);
        levels.points.push_back({x, y, height(x, y)});
    }
    for (auto _ : state) benchmark::DoNotOptimize(terrainOf(levels)->mesh.triangles.size());
}
BENCHMARK(groundOf200000)->Unit(benchmark::kMillisecond);

/// A point of a path of 1000 is dragged; 2000 feet stand along it on half a million triangles.
void draggedWith2000Feet(benchmark::State& state) {
    Document d;
    BodyItem ground;
    ground.shape = levelsOf(grid(500), "grid");
    d = with(d, ground);
    PointsRecipe points;
    const Path path = wandering(1000, 50'000);
    for (const auto& s : path.segments()) points.points.push_back({startOf(s), false});
    d = with(d, PathItem{0, "", points});
    d = with(d, PartItem{0, "", Baluster{}, {}});
    RunItem run;
    run.path = 2;
    run.part = 3;
    run.spacing->rule = ShareOut{2000, ShareEnds::AtEnds};
    run.feet.ground = 1;
    d = with(d, run);
    auto e = evaluate(d);
    double by = 0;
    for (auto _ : state) {
        PathItem p = *d.path(2);
        std::get<PointsRecipe>(p.recipe).points[500].at.y() += (by = by > 0 ? -10 : 10);
        e = evaluate(with(d, p), e);
    }
    state.counters["places"] = double(e->runs[0]->placed->count());
}
BENCHMARK(draggedWith2000Feet)->Unit(benchmark::kMillisecond);

void lifted40Crossings(benchmark::State& state) {
    std::vector<Segment> all; // a flower with 40 crossings
    const int lobes = 41;
    Vec3 before;
    const int n = 2000;
    for (int i = 0; i <= n; ++i) {
        const double a = 2 * kPi * i / n;
        const double r = 2600 + 500 * std::cos(a * lobes);
        const Vec3 p(r * std::cos(2 * a), r * std::sin(2 * a), 0);
        if (i > 0) all.push_back(Line{before, p});
        before = p;
    }
    const Path path = Path::make(all, false, 1).value();
    size_t crossings = 0;
    for (auto _ : state) {
        const auto lifted = liftedOver(path, {20, 100, OnTop::Later, {}});
        if (!lifted) {
            state.SkipWithError(lifted.problem().text.c_str());
            break;
        }
        crossings = lifted->crossings.size();
    }
    state.counters["crossings"] = double(crossings);
}
BENCHMARK(lifted40Crossings)->Unit(benchmark::kMillisecond);

void straightRailsOnAThousandPosts(benchmark::State& state) {
    std::vector<Vec3> places;
    for (int i = 0; i < 1000; ++i) places.push_back({1200.0 * i, 900 * std::sin(i / 9.0), 300 * std::cos(i / 14.0)});
    const RailSection section{{{-30, -5}, {30, -5}, {30, 5}, {-30, 5}}, 0};
    for (auto _ : state) benchmark::DoNotOptimize(straightRails(places, {}, section, {}));
}
BENCHMARK(straightRailsOnAThousandPosts)->Unit(benchmark::kMillisecond);

/// A handrail tube bent along a spline of 200 pieces, to its triangles.
void bentRailOn200Spans(benchmark::State& state) {
    std::vector<Vec3> points;
    const auto smooth = std::make_unique<bool[]>(201);
    for (int i = 0; i <= 200; ++i) {
        points.push_back({600.0 * i, 900 * std::sin(i / 3.0), 200 * std::cos(i / 7.0)});
        smooth[size_t(i)] = true;
    }
    const Path line = Path::make(throughPoints(points, std::span<const bool>(smooth.get(), 201), false), false).value();
    for (auto _ : state) {
        const auto face = railFace({RailForm::Round, 42, 42, 3, 0});
        benchmark::DoNotOptimize(bentRail(line, {}, *face, {}));
    }
}
BENCHMARK(bentRailOn200Spans)->Unit(benchmark::kMillisecond);

Ring roundHole(double x, double y, double r) { return {Arc{{x, y, 0}, Vec3::UnitX(), Vec3::UnitY(), r, 2 * kPi}}; }
std::vector<Ring> plate(double w, double h) {
    const Vec3 a(0, 0, 0), b(w, 0, 0), c(w, h, 0), d(0, h, 0);
    return {{Line{a, b}, Line{b, c}, Line{c, d}, Line{d, a}}};
}
std::vector<Ring> holes5000() {
    std::vector<Ring> out;
    for (int i = 0; i < 100; ++i)
        for (int k = 0; k < 50; ++k) out.push_back(roundHole(30 + 40.0 * i + (k % 2) * 9, 30 + 40.0 * k, 12));
    return out;
}

/// As outlines, and with the triangles of what is left.
void flatCutOf5000(benchmark::State& state) {
    const auto outline = plate(4100, 2050);
    const auto holes = holes5000();
    for (auto _ : state) {
        auto cut = cutFlat(outline, holes);
        if (state.range(0) == 0)
            benchmark::DoNotOptimize(cut);
        else
            benchmark::DoNotOptimize(bodyOf(Prism{std::move(cut.value().rings), Mat3::Identity(), -10, 0}));
    }
}
BENCHMARK(flatCutOf5000)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

/// Holes that all run into their neighbours: nothing is a hole as it is.
void flatCutOf2000Touching(benchmark::State& state) {
    const auto outline = plate(4100, 2050);
    std::vector<Ring> holes;
    for (int i = 0; i < 50; ++i)
        for (int k = 0; k < 40; ++k) holes.push_back(roundHole(60 + 80.0 * i, 30 + 50.0 * k, 26));
    for (auto _ : state) benchmark::DoNotOptimize(cutFlat(outline, holes));
}
BENCHMARK(flatCutOf2000Touching)->Unit(benchmark::kMillisecond);

void websOf5000(benchmark::State& state) {
    const auto outline = plate(4100, 2050);
    const auto holes = holes5000();
    for (auto _ : state) benchmark::DoNotOptimize(websOf(holes, outline));
}
BENCHMARK(websOf5000)->Unit(benchmark::kMillisecond);

/// Holes that lean, by a true boolean.
void slantedCutOf300(benchmark::State& state) {
    const auto rings = plate(3000, 1000);
    const auto body = bodyOf(extruded(rings, 0, 20).value()).value();
    const auto hole = std::make_shared<const std::vector<Ring>>(1, roundHole(0, 0, 12));
    const Mat3 slanted = Eigen::AngleAxisd(25 * kDegree, Vec3::UnitY()).toRotationMatrix();
    std::vector<Tool> tools;
    for (int i = 0; i < 30; ++i)
        for (int k = 0; k < 10; ++k)
            tools.push_back({ToolPrism{hole, slanted, {60 + 97.0 * i, 60 + 97.0 * k, 20}, 1, -90, 90}});
    for (auto _ : state) {
        std::vector<size_t> missed;
        benchmark::DoNotOptimize(cutSolid(*body, tools, false, missed));
    }
}
BENCHMARK(slantedCutOf300)->Unit(benchmark::kMillisecond);

} // namespace
} // namespace vicinal

BENCHMARK_MAIN();
