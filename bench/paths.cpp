// Making paths: a loop round wheels, an offset of many segments.
#include "geometry/offset.h"
#include "geometry/wheels.h"
#include <benchmark/benchmark.h>
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

} // namespace

BENCHMARK_MAIN();
