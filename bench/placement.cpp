// Placement along a 200-span spline, and OpenCASCADE's uniform abscissa on the same curve in the same run.
#include "layout/placement_input.h"
#include "layout/places.h"
#include "layout/spacing/rules.h"
#include <GCPnts_UniformAbscissa.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <array>
#include <benchmark/benchmark.h>
#include <memory>
#include <random>

using namespace vicinal;

namespace {

std::vector<Vec3> controlPoints() {
    std::mt19937 random(1);
    std::uniform_real_distribution<double> step(-60, 60);
    std::vector<Vec3> out;
    for (int i = 0; i < 201; ++i)
        out.push_back({i * 100.0, 300 * std::sin(i * 0.21) + step(random), 60 * std::sin(i * 0.13) + step(random)});
    return out;
}

std::vector<Segment> segments(const std::vector<Vec3>& p) {
    std::unique_ptr<bool[]> smooth(new bool[p.size()]);
    std::fill_n(smooth.get(), p.size(), true);
    return throughPoints(p, std::span<const bool>(smooth.get(), p.size()), false);
}

PlacementInput order(long count) {
    PlacementInput o;
    o.partBox = Box3(Vec3(-10, -10, 0), Vec3(10, 10, 900));
    o.spacing->rule = ShareOut{count};
    o.facing.crown = CrownRule(Carried{});
    return o;
}

/// The same C2 curve for OpenCASCADE: the Bezier pieces with full multiplicity, one knot step each.
Handle(Geom_BSplineCurve) occtCurve(const std::vector<Segment>& s) {
    TColgp_Array1OfPnt poles(1, int(3 * s.size() + 1));
    TColStd_Array1OfReal knots(1, int(s.size() + 1));
    TColStd_Array1OfInteger times(1, int(s.size() + 1));
    for (size_t i = 0; i < s.size(); ++i) {
        const auto& b = std::get<Bezier>(s[i]).p;
        for (int k = 0; k < 4; ++k) poles(int(3 * i) + k + 1) = gp_Pnt(b[k].x(), b[k].y(), b[k].z());
        knots(int(i) + 1) = double(i);
        times(int(i) + 1) = i == 0 ? 4 : 3;
    }
    knots(int(s.size()) + 1) = double(s.size());
    times(int(s.size()) + 1) = 4;
    return new Geom_BSplineCurve(poles, knots, times, 3);
}

/// Worst distance along the path between a station asked for and the one reached, by integrating each hundredth again.
double worstError(const Path& path, const std::vector<double>& stations, const auto& pointOf) {
    double worst = 0;
    const auto& spans = path.spans();
    for (size_t i = 0; i < stations.size(); i += std::max<size_t>(1, stations.size() / 500)) {
        const Vec3 p = pointOf(i);
        // Station of the point found, by Newton on the nearest span with the reference integral.
        const double s = stations[i];
        size_t k = 0;
        while (k + 1 < spans.size() && spans[k + 1].start <= s) ++k;
        double t = std::clamp((s - spans[k].start) / spans[k].length, 0.0, 1.0);
        for (int j = 0; j < 60; ++j) {
            const Jet jet = spans[k].jet(t);
            const double dt = (p - jet.p).dot(jet.d1) / jet.d1.squaredNorm();
            t += dt;
            if (std::abs(dt) < 1e-16) break;
        }
        const double reached =
            t < 0 ? spans[k].start - lengthBetween(spans[k], t, 0) : spans[k].start + lengthBetween(spans[k], 0, t);
        worst = std::max(worst, std::abs(reached - s));
    }
    return worst;
}

void placeCarried(benchmark::State& state) {
    const long n = state.range(0);
    const auto seg = segments(controlPoints());
    const Path path = *Path::make(seg, false);
    const PlacementInput o = order(n);
    auto laid = std::make_shared<Placement>(
        *solvePlacement(path, o)); // first touch of fresh memory is the kernel's time, not ours
    Places places = placesOf(laid, {}, path);
    for (auto _ : state) {
        *laid = std::move(solvePlacement(path, o, std::move(*laid))).value();
        places = placesOf(laid, {}, path, std::move(places));
        benchmark::DoNotOptimize(places.gaps.data());
    }
    const Vec3 seat = seatPoint(o.seat, o.partBox);
    const double error = worstError(path, places.stations(), [&](size_t i) {
        return Vec3((places.pose(i) * Vec4(seat.x(), seat.y(), seat.z(), 1)).head<3>());
    });
    state.counters["ns_per_place"] = benchmark::Counter(
        double(n) * 1e-9, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
    state.counters["worst_mm"] = error;
}
BENCHMARK(placeCarried)->Arg(1'000)->Arg(10'000)->Arg(100'000)->Arg(1'000'000)->Unit(benchmark::kMicrosecond);

/// Path, table and all places new each time, as while a point is dragged.
void dragAPoint(benchmark::State& state) {
    auto points = controlPoints();
    const PlacementInput o = order(state.range(0));
    auto laid = std::make_shared<Placement>();
    Places places;
    double z = 0;
    for (auto _ : state) {
        points[90].z() = z += 0.5;
        const Path path = *Path::make(segments(points), false);
        *laid = std::move(solvePlacement(path, o, std::move(*laid))).value();
        places = placesOf(laid, {}, path, std::move(places));
        benchmark::DoNotOptimize(places.gaps.data());
    }
}
BENCHMARK(dragAPoint)->Arg(10'000)->Unit(benchmark::kMillisecond);

/// Equal clear gaps of plumb parts where the slope changes: 0 stepped off, 1 shared out, 2 evened out; 3 the fits.
void clearGaps(benchmark::State& state) {
    const Path path = *Path::make({Line{{0, 0, 0}, {1e6, 0, 0}}, Line{{1e6, 0, 0}, {1.1e7, 0, 2e6}}}, false);
    const double pitch = path.length() / 1e5;
    const Box3 box(Vec3(-pitch / 4, -pitch / 20, 0), Vec3(pitch / 4, pitch / 20, 1000));
    Spacing s;
    const SpacingRule rules[] = {StepOff{pitch / 2, LeftOver::Both}, ShareOut{100'000}, EvenOut{pitch / 2},
                                 EvenOut{pitch / 2}};
    s.rule = rules[state.range(0)];
    s.measure = Measure::ClearGap;
    for (auto _ : state) {
        const Occupancy part(path, {}, Mat3::Identity(), box); // its table anew each time
        if (state.range(0) == 3)
            benchmark::DoNotOptimize(fits(path, s, part)->size());
        else
            benchmark::DoNotOptimize(solveSpacing(path, s, part)->at.data());
    }
}
BENCHMARK(clearGaps)->DenseRange(0, 3)->Unit(benchmark::kMillisecond);

/// 10,000 plumb balusters shared out by equal clear gaps over 200 spans that rise and fall: path given, table anew.
void plumbGapsIn3d(benchmark::State& state) {
    auto points = controlPoints();
    for (size_t i = 0; i < points.size(); ++i) points[i].z() *= 3; // slopes to 60 degrees
    const Path path = *Path::make(segments(points), false);
    const Box3 box(Vec3(-0.5, -0.5, 0), Vec3(0.5, 0.5, 900));
    Spacing s;
    s.rule = ShareOut{10'000};
    s.measure = Measure::ClearGap;
    for (auto _ : state) {
        const Occupancy part(path, {}, Mat3::Identity(), box);
        const auto r = solveSpacing(path, s, part);
        if (!r || r->at.size() != 10'000) state.SkipWithError("not solved");
        benchmark::DoNotOptimize(r->at.data());
    }
}
BENCHMARK(plumbGapsIn3d)->Unit(benchmark::kMillisecond);

/// Everything at once: three parts in a pattern by equal gaps, special places, a turn that goes on, profiles of roll,
/// size and offset, unevenness, two hundred exceptions. From the order to frames and gaps.
void everythingOn(benchmark::State& state) {
    const Path path = *Path::make(segments(controlPoints()), false);
    PlacementInput o = order(state.range(0));
    o.spacing->measure = Measure::ClearGap;
    o.partBox = Box3(Vec3(-0.6, -10, 0), Vec3(0.6, 10, 900));
    PartOnRun other;
    other.box = Box3(Vec3(-0.3, -6, 0), Vec3(0.3, 6, 300));
    o.others = {other, other, other};
    o.pattern.order = {0, 1, 1, 2};
    o.special.first = o.special.last = 3;
    o.special.nth = 3;
    o.special.every = 50;
    o.facing.turnStep = Vec3(kPi / 2, 0, 0);
    o.facing.turnEvery = 2;
    const double L = path.length();
    o.changes.roll = {{{0, 0}, {L / 3, 1}, {L, -1}}, true};
    o.changes.size = {{{0, 0.7}, {L / 2, 1}, {L, 0.8}}, true};
    o.changes.across = {{{0, 0}, {L, 50}}};
    o.changes.up = {{{0, 10}}};
    o.uneven = {0.5, 0.5, 0.2, 0.02, 0.02, 3};
    for (int k = 0; k < 200; ++k) {
        Exception e;
        e.place = 1 + k * int(state.range(0)) / 200;
        e.move = Vec3(1, 2, 3);
        o.exceptions.push_back(e);
    }
    for (auto _ : state) {
        const auto r = place(path, o);
        if (!r || r->count() != size_t(state.range(0))) state.SkipWithError(r ? "count" : r.problem().text.c_str());
        benchmark::DoNotOptimize(r->gaps.data());
    }
}
BENCHMARK(everythingOn)->Arg(1'000)->Arg(10'000)->Unit(benchmark::kMillisecond);

/// A chain along the path: every pin from the one before, and the frames through both pins.
void pinToPin(benchmark::State& state) {
    const Path path = *Path::make(segments(controlPoints()), false);
    PlacementInput o = order(1);
    o.spacing->rule = PinToPin{};
    const double d = path.length() / double(state.range(0)) * 0.999;
    o.pins = Pins{Vec3(-d / 2, 0, 0), Vec3(d / 2, 0, 0)};
    o.partBox = Box3(Vec3(-d / 2, -5, -5), Vec3(d / 2, 5, 5));
    o.facing.nose = BetweenPins{};
    size_t links = 0;
    for (auto _ : state) {
        const auto r = place(path, o);
        if (!r) state.SkipWithError(r.problem().text.c_str());
        benchmark::DoNotOptimize(links = r->count());
    }
    state.counters["links"] = double(links);
}
BENCHMARK(pinToPin)->Arg(1'000)->Arg(10'000)->Unit(benchmark::kMillisecond);

void openCascadeUniformAbscissa(benchmark::State& state) {
    const long n = state.range(0);
    const auto seg = segments(controlPoints());
    const Path path = *Path::make(seg, false);
    GeomAdaptor_Curve curve(occtCurve(seg));
    std::vector<double> parameters(n);
    for (auto _ : state) {
        GCPnts_UniformAbscissa abscissa(curve, int(n), 1e-7);
        if (!abscissa.IsDone()) state.SkipWithError("OpenCASCADE gave up");
        for (long i = 0; i < n; ++i) parameters[i] = abscissa.Parameter(int(i) + 1);
        benchmark::DoNotOptimize(parameters.data());
    }
    std::vector<double> stations(n);
    for (long i = 0; i < n; ++i) stations[i] = path.length() * double(i) / double(n - 1);
    const double error = worstError(path, stations, [&](size_t i) {
        const gp_Pnt p = curve.Value(parameters[i]);
        return Vec3(p.X(), p.Y(), p.Z());
    });
    state.counters["ns_per_place"] = benchmark::Counter(
        double(n) * 1e-9, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
    state.counters["worst_mm"] = error;
}
BENCHMARK(openCascadeUniformAbscissa)->Arg(1'000)->Arg(10'000)->Unit(benchmark::kMillisecond)->MinTime(0.1);

} // namespace

BENCHMARK_MAIN();
