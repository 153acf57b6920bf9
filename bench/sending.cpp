// What is sent out, at sizes that hurt: STEP beside OpenCASCADE's own writer, DXF, templates, drawings, lists.
#include "bare_step.h"
#include "exchange/delivery/make.h"
#include "exchange/drawing/drawing.h"
#include "exchange/sheet/writers.h"
#include "layout/spacing/rules.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "parts/makers/maker.h"
#include <benchmark/benchmark.h>
#include <filesystem>

using namespace vicinal;

namespace {

/// `count` of a maker shared out on a wavy path.
Document waves(const Maker& maker, long count, double step) {
    Document d;
    PathItem path;
    path.name = "Waves";
    PointsRecipe r;
    const double length = step * double(count);
    for (int i = 0; i <= 40; ++i) r.points.push_back({{length * i / 40, 0.04 * length * std::sin(i * 0.8), 0}});
    path.recipe = r;
    d = with(d, path);
    PartItem part;
    part.name = "Part";
    part.shape = maker;
    d = with(d, part);
    RunItem run;
    run.name = "Run";
    run.path = d.paths[0]->id;
    run.part = d.parts[0]->id;
    run.spacing->rule = ShareOut{count};
    return with(d, run);
}
Delivery delivery(SendOrder order, const char* format) {
    Delivery d;
    d.name = "x";
    d.order = std::move(order);
    d.format = format;
    return d;
}
size_t bytesOf(const std::vector<OutFile>& files) {
    size_t n = 0;
    for (const auto& f : files) n += f.bytes.size();
    return n;
}

void make(benchmark::State& state, const Document& d, const Delivery& x) {
    const auto e = evaluate(d);
    if (e->runs[0]->problem) return state.SkipWithError(e->runs[0]->problem->text.c_str());
    size_t bytes = 0;
    for (auto _ : state) {
        const auto ready = prepare(x, *e);
        if (!ready) return state.SkipWithError(ready.problem().text.c_str());
        const auto files = filesOf(*ready);
        if (!files) return state.SkipWithError(files.problem().text.c_str());
        bytes = bytesOf(*files);
    }
    state.counters["MB"] = double(bytes) / 1e6;
}

void stepOf10000Links(benchmark::State& state) {
    make(state, waves(RoundLink{}, 10'000, 200), delivery(SolidsOrder{}, "step"));
}
void stepByOpenCascadeAlone(benchmark::State& state) {
    const auto e = evaluate(waves(RoundLink{}, 10'000, 200));
    const Placed& p = *e->runs[0]->placed;
    std::vector<Mat4> poses;
    for (size_t i = 0; i < p.count(); ++i) poses.push_back(p.pose(i));
    const auto file = std::filesystem::temp_directory_path() / "vicinal-bare.step";
    for (auto _ : state) bareStep(solidOf(*p.part(0).body), poses, file.c_str());
    state.counters["MB"] = double(std::filesystem::file_size(file)) / 1e6;
    std::filesystem::remove(file);
}
void dxfOf100000(benchmark::State& state) { make(state, waves(Plank{}, 100'000, 200), delivery(SolidsOrder{}, "dxf")); }
void csvOfAMillion(benchmark::State& state) {
    make(state, waves(Plank{}, 1'000'000, 200), delivery(ScheduleOrder{}, "csv"));
}
void odsOf100000(benchmark::State& state) {
    make(state, waves(Plank{}, 100'000, 200), delivery(ScheduleOrder{}, "ods"));
}
/// 2,000 holes in 20 rows of 100 on about 60 A4 pages.
void templateOf2000Holes(benchmark::State& state) {
    PathItem path;
    path.name = "Edge";
    path.recipe = PointsRecipe{{{Vec3(0, 0, 0), false}, {Vec3(1700, 0, 0), false}}, false};
    Document d = with(Document(), path);
    PartItem part;
    part.name = "Hole";
    part.shape = Maker(RoundHole{8, 5});
    d = with(d, part);
    RunItem run;
    run.name = "Holes";
    run.path = 1;
    run.part = 2;
    run.spacing->rule = ShareOut{100};
    run.rows.rows = 20;
    run.rows.apart = 85;
    make(state, with(d, run), delivery(TemplateOrder{}, "pdf"));
}
void drawingOf500Balusters(benchmark::State& state) {
    Baluster turned;
    turned.section = Baluster::Section::Turned;
    DrawingOrder o;
    o.side = o.oblique = o.unrolled = true;
    o.schedule = false;
    make(state, waves(turned, 500, 120), delivery(o, "pdf"));
}

BENCHMARK(stepOf10000Links)->Unit(benchmark::kMillisecond);
BENCHMARK(stepByOpenCascadeAlone)->Unit(benchmark::kMillisecond);
BENCHMARK(dxfOf100000)->Unit(benchmark::kMillisecond);
BENCHMARK(templateOf2000Holes)->Unit(benchmark::kMillisecond);
BENCHMARK(drawingOf500Balusters)->Unit(benchmark::kMillisecond);
BENCHMARK(csvOfAMillion)->Unit(benchmark::kMillisecond);
BENCHMARK(odsOf100000)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
