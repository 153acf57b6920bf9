// Distances between true bodies: neighbours, heaps, large site bodies.
#include "clearance/opening.h"
#include "layout/places.h"
#include "model/verdicts/checked.h"
#include "parts/makers/maker.h"
#include <benchmark/benchmark.h>
#include <random>

namespace vicinal {
namespace {

/// An oval link of round bar: around x across x 2 triangles.
Mesh link(int around, int across) {
    const double R = 20, r = 5;
    Mesh m;
    for (int i = 0; i < around; ++i) {
        const double a = 2 * kPi * i / around;
        const Vec3 c(R * std::cos(a) + (std::cos(a) > 0 ? 12 : -12), R * std::sin(a) * 0.9, 0),
            out(std::cos(a), std::sin(a), 0);
        for (int k = 0; k < across; ++k) {
            const double b = 2 * kPi * k / across;
            m.points.push_back(c + r * (std::cos(b) * out + std::sin(b) * Vec3::UnitZ()));
        }
    }
    const auto at = [&](int i, int k) { return std::uint32_t((i % around) * across + k % across); };
    for (int i = 0; i < around; ++i)
        for (int k = 0; k < across; ++k) {
            m.triangles.push_back({at(i, k), at(i + 1, k), at(i + 1, k + 1)});
            m.triangles.push_back({at(i, k), at(i + 1, k + 1), at(i, k + 1)});
        }
    for (const Vec3& p : m.points) m.box.extend(p);
    return m;
}
const BodyPtr& link2000() {
    static const BodyPtr body = bodyOf(std::make_shared<const Mesh>(link(50, 20)));
    return body;
}

/// 200 spans, wandering in space.
Path wandering(double moved) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> off(-0.4, 0.4);
    std::vector<Vec3> points;
    for (int i = 0; i <= 200; ++i)
        points.push_back({2350.0 * i, 2000 * std::sin(i * 0.7) + 900 * off(random), 700 * off(random)});
    points[100].y() += moved;
    const auto smooth = std::make_unique<bool[]>(points.size());
    std::fill_n(smooth.get(), points.size(), true);
    return Path::make(throughPoints(points, {smooth.get(), points.size()}, false), false).value();
}

std::vector<PosedBody> chain(const Path& path, size_t n) {
    std::vector<double> stations;
    for (size_t i = 0; i < n; ++i) stations.push_back(double(i) * std::min(50.0, path.length() / double(n)));
    std::vector<Sample> samples(n);
    path.sample(stations, true, samples);
    std::vector<PosedBody> out(n);
    for (size_t i = 0; i < n; ++i) {
        const Sample& s = samples[i];
        Mat3 R;
        R.col(0) = s.tangent;
        R.col(2) = i % 2 ? s.carried : Vec3(s.carried.cross(s.tangent));
        R.col(1) = R.col(2).cross(R.col(0));
        out[i].body = link2000();
        out[i].turn = R;
        out[i].at = s.point;
        out[i].place = int(i);
    }
    return out;
}

std::vector<std::pair<const PosedBody*, const PosedBody*>> neighbours(const std::vector<PosedBody>& all) {
    std::vector<std::pair<const PosedBody*, const PosedBody*>> out;
    for (size_t i = 0; i + 1 < all.size(); ++i) out.emplace_back(&all[i], &all[i + 1]);
    return out;
}

void linksFromNothing(benchmark::State& state) { // 10,000 links of 2,000 triangles: 2 s on two cores
    const auto all = chain(wandering(0), 10'000);
    treeOf(*link2000());
    for (auto _ : state) {
        PairMemory memory;
        benchmark::DoNotOptimize(memory.measure(neighbours(all), 1e300));
    }
}
BENCHMARK(linksFromNothing)->Unit(benchmark::kMillisecond)->UseRealTime();

void linksAfterAPointMoved(benchmark::State& state) { // 50 ms
    const auto before = chain(wandering(0), 10'000);
    std::vector<std::vector<PosedBody>> after;
    for (int i = 0; i < 8; ++i) after.push_back(chain(wandering(1 + i), 10'000));
    PairMemory memory;
    memory.measure(neighbours(before), 1e300);
    size_t round = 0, exact = 0;
    const PairMemory::Approximate approximate{0.0, {}, 0};
    for (auto _ : state) {
        exact = 0;
        for (const auto& v : memory.measure(neighbours(after[round++ % 8]), 1e300, nullptr, &approximate))
            exact += v.about == 0;
    }
    state.counters["exact"] = double(exact);
}
BENCHMARK(linksAfterAPointMoved)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(8);

void straightRun(benchmark::State& state) { // 10,000 equal places: 20 ms
    std::vector<PosedBody> all(10'000);
    for (size_t i = 0; i < all.size(); ++i) {
        all[i].body = link2000();
        all[i].at = Vec3(100.0 * double(i), 0, 0);
        all[i].place = int(i);
    }
    treeOf(*link2000());
    for (auto _ : state) {
        PairMemory memory;
        benchmark::DoNotOptimize(memory.measure(neighbours(all), 1e300));
    }
}
BENCHMARK(straightRun)->Unit(benchmark::kMillisecond)->UseRealTime();

void heap(benchmark::State& state) { // every pair of 2,000 links: 3 s
    std::mt19937 random(9);
    std::uniform_real_distribution<double> at(0, 620);
    std::vector<PosedBody> all(2000);
    std::vector<Box3> boxes;
    // As links lie: near each other and through each other's holes, not into each other.
    const auto into = [&](size_t i) {
        return std::any_of(all.begin(), all.begin() + long(i), [&](const PosedBody& other) {
            const Mat3 back = other.turn.transpose();
            return all[i].box().intersects(other.box()) &&
                   cross(treeOf(*link2000()), treeOf(*link2000()),
                         {back * all[i].turn, back * (all[i].at - other.at), 1});
        });
    };
    for (size_t i = 0; i < all.size(); ++i) {
        all[i].body = link2000();
        all[i].place = int(i);
        do {
            const Eigen::Vector4d q(at(random) - 310, at(random) - 310, at(random) - 310, at(random) - 310);
            all[i].turn = Eigen::Quaterniond(q.normalized()).toRotationMatrix();
            all[i].at = Vec3(at(random), at(random), at(random));
        } while (into(i));
        boxes.push_back(all[i].box());
    }
    treeOf(*link2000());
    size_t n = 0;
    for (auto _ : state) {
        const auto pairs = pairsWithin(boxes, boxes, 5);
        std::vector<std::pair<const PosedBody*, const PosedBody*>> asked;
        for (const auto& [i, k] : *pairs) asked.emplace_back(&all[i], &all[k]);
        n = asked.size();
        PairMemory memory;
        benchmark::DoNotOptimize(memory.measure(asked, 5));
    }
    state.counters["pairs"] = double(n);
}
BENCHMARK(heap)->Unit(benchmark::kMillisecond)->UseRealTime();

void againstHalfAMillion(benchmark::State& state) { // 1,000 places within 50 mm of a body of 500,000 triangles: 1 s
    Mesh ground;
    constexpr int n = 500;
    for (int i = 0; i <= n; ++i)
        for (int k = 0; k <= n; ++k)
            ground.points.push_back({i * 100.0, k * 100.0, 400 * std::sin(i / 40.0) * std::cos(k / 30.0) - 120});
    for (std::uint32_t i = 0; i < n; ++i)
        for (std::uint32_t k = 0; k < n; ++k) {
            const std::uint32_t a = i * (n + 1) + k, b = a + n + 1;
            ground.triangles.push_back({a, b, b + 1});
            ground.triangles.push_back({a, b + 1, a + 1});
        }
    for (const Vec3& p : ground.points) ground.box.extend(p);
    const auto mesh = std::make_shared<const Mesh>(std::move(ground));
    std::vector<PosedBody> all(1000);
    std::vector<Box3> boxes;
    for (size_t i = 0; i < all.size(); ++i) {
        const double x = 200 + 49.0 * double(i), y = 25'000 + 9000 * std::sin(double(i) / 90);
        all[i].body = link2000();
        all[i].at = Vec3(x, y, 400 * std::sin(x / 4000) * std::cos(y / 3000) - 100 + 15.0 * double(i % 5));
        all[i].place = int(i);
        boxes.push_back(all[i].box());
    }
    size_t found = 0;
    for (auto _ : state) {
        PosedBody site;
        site.body = bodyOf(mesh); // its tree too
        const std::vector<Box3> other{site.box()};
        const auto pairs = pairsWithin(boxes, other, 50);
        std::vector<std::pair<const PosedBody*, const PosedBody*>> asked;
        for (const auto& [i, k] : *pairs) asked.emplace_back(&all[i], &site);
        PairMemory memory;
        found = 0;
        for (const auto& v : memory.measure(asked, 50)) found += v.found();
    }
    state.counters["near"] = double(found);
}
BENCHMARK(againstHalfAMillion)->Unit(benchmark::kMillisecond)->UseRealTime();

void ballBetweenTurnedBars(benchmark::State& state) {
    Baluster b;
    b.section = Baluster::Section::Turned;
    const BodyPtr body = bodyOf(make(Maker(b))).value();
    PosedBody one, two;
    one.body = two.body = body;
    two.at = Vec3(119, 1, 8);
    two.turn = Eigen::AngleAxisd(0.05, Vec3::UnitZ()).toRotationMatrix();
    OpeningOrder o;
    o.a = &one;
    o.b = &two;
    o.footB = two.at;
    o.to = 900;
    o.thickness = 20;
    treeOf(*body);
    for (auto _ : state) benchmark::DoNotOptimize(widestOpening(o));
}
BENCHMARK(ballBetweenTurnedBars)->Unit(benchmark::kMillisecond);

} // namespace
} // namespace vicinal

BENCHMARK_MAIN();
