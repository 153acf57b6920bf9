// Parts: a maker's dimension changed with 5,000 places in a real window, a large mesh and a large STEP file brought in.
// Needs a display (scripts/bench.sh starts one).
#include "app/controls/theme.h"
#include "app/dialogs/part_chooser.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "exchange/in/bring_in.h"
#include "exchange/step_writer.h"
#include "layout/spacing/rules.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/file/document_file.h"
#include "parts/makers/maker.h"
#include <QApplication>
#include <QOpenGLWidget>
#include <benchmark/benchmark.h>
#include <chrono>
#include <cstring>
#include <filesystem>

using namespace vicinal;

namespace {

double milliseconds(std::chrono::steady_clock::time_point from) {
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - from).count();
}

/// 5,000 places of a maker on a wavy path 600 m long.
Document places(const Maker& maker) {
    Document d;
    PathItem path;
    PointsRecipe r;
    for (int i = 0; i < 40; ++i) r.points.push_back({{i * 15000.0, 9000 * std::sin(i * 0.8), 0}});
    path.recipe = r;
    d = with(d, path);
    PartItem part;
    part.shape = maker;
    part.seat.point = Vec3(0, 0, 0);
    d = with(d, part);
    RunItem run;
    run.path = d.paths[0]->id;
    run.part = d.parts[0]->id;
    run.spacing->rule = ShareOut{5000};
    return with(d, run);
}

struct Grow : IgnoreValues { // the first length of a maker
    double by;
    mutable bool done = false;
    explicit Grow(double b) : by(b) {}
    void length(const char*, const char*, const char*, double& v) const {
        if (!done) v += by, done = true;
    }
};

MainWindow& window() {
    static MainWindow* w = [] {
        auto* x = new MainWindow;
        x->show();
        QApplication::processEvents();
        return x;
    }();
    return *w;
}

/// Engine: the document worked out. Upload: what the picture costs more than the same picture once more.
void changeADimension(benchmark::State& state) {
    const MakerEntry& entry = makerEntries()[size_t(state.range(0))];
    state.SetLabel(entry.name);
    Store& store = window().store();
    auto* canvas = window().findChild<QOpenGLWidget*>("view.canvas");
    store.take({{}, evaluate(Document{}), {}}, {});
    store.edit(places(entry.maker), "bench");
    window().view().frameAll();
    QApplication::processEvents();
    canvas->grabFramebuffer();
    const Id part = store.document().parts[0]->id;
    double engine = 0, upload = 0, rounds = 0;
    for (auto _ : state) {
        const auto start = std::chrono::steady_clock::now();
        store.change<PartItem>(part, "dimension", "bench",
                               [](PartItem& p) { describe(Grow(0.01), std::get<Maker>(p.shape)); });
        engine += milliseconds(start);
        const auto draw = std::chrono::steady_clock::now();
        canvas->grabFramebuffer();
        const double first = milliseconds(draw);
        const auto again = std::chrono::steady_clock::now();
        canvas->grabFramebuffer();
        upload += first - milliseconds(again);
        rounds += 1;
    }
    const auto run = store.evaluation().runs[0];
    if (run->stale()) state.SkipWithError(run->problem->text.c_str());
    state.counters["engine_ms"] = engine / rounds;
    state.counters["upload_ms"] = upload / rounds;
    state.counters["triangles"] = double(run->placed->parts[0].mesh->triangles.size());
}

/// A bumpy closed surface of n triangles in a binary STL.
std::string bigStl(size_t n) {
    const size_t rows = size_t(std::sqrt(double(n) / 2)), cols = n / 2 / rows;
    const auto at = [&](size_t i, size_t k) {
        const double u = 2 * kPi * double(i % cols) / double(cols), v = 2 * kPi * double(k % rows) / double(rows),
                     r = 120 + 4 * std::sin(9 * u) * std::cos(7 * v);
        return Vec3((400 + r * std::cos(v)) * std::cos(u), (400 + r * std::cos(v)) * std::sin(u), r * std::sin(v));
    };
    std::string out(84, '\0');
    std::uint32_t count = 0;
    const auto put = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
        float f[12] = {};
        int i = 3;
        for (const Vec3& p : {a, b, c})
            for (int k = 0; k < 3; ++k) f[i++] = float(p[k]);
        out.append(reinterpret_cast<const char*>(f), 48);
        out.append(2, '\0');
        ++count;
    };
    for (size_t k = 0; k < rows; ++k)
        for (size_t i = 0; i < cols; ++i) {
            put(at(i, k), at(i + 1, k), at(i + 1, k + 1));
            put(at(i, k), at(i + 1, k + 1), at(i, k + 1));
        }
    std::memcpy(out.data() + 80, &count, 4);
    return out;
}

/// Read, joined, checked, seated on a path and drawn for the first time.
void millionTriangles(benchmark::State& state) {
    const std::string file = (std::filesystem::temp_directory_path() / "vicinal-bench.stl").string();
    if (writeAtomically(file, bigStl(1'000'000))) return state.SkipWithError("cannot write");
    double read = 0, shown = 0, rounds = 0;
    for (auto _ : state) {
        const auto start = std::chrono::steady_clock::now();
        const auto part = readPartFile(file);
        if (!part) return state.SkipWithError(part.problem().text.c_str());
        PartItem item;
        item.shape = *shapeOf(*part, 1);
        read += milliseconds(start);
        state.counters["triangles"] = double(part->brought.body->mesh->triangles.size());
        state.counters["watertight"] = part->brought.body->report.watertight();
        const auto draw = std::chrono::steady_clock::now();
        Document d = places(PlainBox{});
        item.id = d.parts[0]->id;
        d = with(d, std::move(item));
        RunItem run = *d.runs[0];
        run.spacing->rule = ShareOut{12};
        window().store().take({{}, evaluate(Document{}), {}}, {});
        window().store().edit(with(d, run), "bench");
        window().view().frameAll();
        window().findChild<QOpenGLWidget*>("view.canvas")->grabFramebuffer();
        shown += milliseconds(draw);
        rounds += 1;
    }
    state.counters["read_ms"] = read / rounds;
    state.counters["shown_ms"] = shown / rounds;
    std::filesystem::remove(file);
}

/// For the first time: every part that can be made is made and drawn.
void chooserOpens(benchmark::State& state) {
    for (auto _ : state) PartChooser chooser(window().store(), {});
}

/// Read, meshed and joined.
void stepOfFiveMegabytes(benchmark::State& state) {
    const std::string file = (std::filesystem::temp_directory_path() / "vicinal-bench.step").string();
    std::vector<test::NamedSolid> bodies; // some of what is found in such a file: plates with holes
    for (int i = 0; i < 30; ++i) {
        bodies.push_back(test::sieve(6));
        bodies.back().name += std::to_string(i);
    }
    if (!test::writeBodies(file, bodies)) return state.SkipWithError("cannot write");
    state.counters["MB"] = double(std::filesystem::file_size(file)) * 1e-6;
    for (auto _ : state) {
        Progress progress = 0;
        const auto part = readPartFile(file, nullptr, &progress);
        if (!part) return state.SkipWithError(part.problem().text.c_str());
    }
    std::filesystem::remove(file);
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    QCoreApplication::setOrganizationName("VicinalBench");
    theme::apply(app);
    for (size_t i = 0; i < makerEntries().size(); ++i)
        benchmark::RegisterBenchmark("changeADimension", changeADimension)
            ->Arg(long(i))
            ->Iterations(8)
            ->Unit(benchmark::kMillisecond);
    benchmark::RegisterBenchmark("chooserOpens", chooserOpens)->Iterations(1)->Unit(benchmark::kMillisecond);
    benchmark::RegisterBenchmark("millionTriangles", millionTriangles)->Iterations(2)->Unit(benchmark::kMillisecond);
    benchmark::RegisterBenchmark("stepOfFiveMegabytes", stepOfFiveMegabytes)
        ->Iterations(1)
        ->Unit(benchmark::kMillisecond);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
