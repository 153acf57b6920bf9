// Which of many boxes come near one another, and work shared out to all processors.
#include "base/say.h"
#include "clearance/pairs.h"
#include <algorithm>
#include <atomic>
#include <cmath>
#include <exception>
#include <thread>

namespace vicinal {

Result<std::vector<std::pair<std::uint32_t, std::uint32_t>>>
pairsWithin(std::span<const Box3> a, std::span<const Box3> b, double within, size_t most) {
    std::vector<std::pair<std::uint32_t, std::uint32_t>> out;
    if (a.empty() || b.empty()) return out;
    const bool same = a.data() == b.data();
    // A grid of cells about twice as large as the boxes.
    Vec3 cell = Vec3::Constant(tolerance::length);
    Box3 all;
    for (const auto& boxes : {a, b}) {
        Vec3 mean = Vec3::Zero();
        for (const Box3& x : boxes) {
            mean += x.sizes() / double(boxes.size());
            all.extend(x);
        }
        if (boxes.size() > 1 || same) cell = cell.cwiseMax(2 * mean);
    }
    cell = cell.array() + within;
    cell = cell.cwiseMax(all.sizes() / 1'000'000);
    struct Cell {
        long long key;
        std::uint32_t of;
        bool operator<(const Cell& o) const { return key != o.key ? key < o.key : of < o.of; }
    };
    constexpr long long kSpan = 1 << 20;
    std::vector<Cell> cells;
    std::vector<std::uint32_t> large; ///< that would fill too many cells: against all
    const auto range = [&](const Box3& x, double more, Eigen::Matrix<long long, 3, 1>& low,
                           Eigen::Matrix<long long, 3, 1>& high) {
        for (int k = 0; k < 3; ++k) {
            low[k] = std::clamp((long long)(std::floor((x.min()[k] - more - all.min()[k]) / cell[k])), 0LL, kSpan - 1);
            high[k] = std::clamp((long long)(std::floor((x.max()[k] + more - all.min()[k]) / cell[k])), 0LL, kSpan - 1);
        }
    };
    Eigen::Matrix<long long, 3, 1> low, high;
    constexpr long long kMostCells = 4096;
    for (std::uint32_t k = 0; k < b.size(); ++k) {
        range(b[k], 0, low, high);
        if ((high - low + Eigen::Matrix<long long, 3, 1>::Ones()).prod() > kMostCells) {
            large.push_back(k);
            continue;
        }
        for (long long x = low[0]; x <= high[0]; ++x)
            for (long long y = low[1]; y <= high[1]; ++y)
                for (long long z = low[2]; z <= high[2]; ++z) cells.push_back({(x * kSpan + y) * kSpan + z, k});
    }
    std::sort(cells.begin(), cells.end());
    std::vector<std::uint32_t> met;
    const double reach = within * within;
    for (std::uint32_t i = 0; i < a.size(); ++i) {
        met = large;
        range(a[i], within, low, high);
        if ((high - low + Eigen::Matrix<long long, 3, 1>::Ones()).prod() > kMostCells) {
            met.resize(b.size());
            for (std::uint32_t k = 0; k < b.size(); ++k) met[k] = k;
        } else
            for (long long x = low[0]; x <= high[0]; ++x)
                for (long long y = low[1]; y <= high[1]; ++y) {
                    const long long row = (x * kSpan + y) * kSpan;
                    for (auto c = std::lower_bound(cells.begin(), cells.end(), Cell{row + low[2], 0});
                         c != cells.end() && c->key <= row + high[2]; ++c)
                        met.push_back(c->of);
                }
        std::sort(met.begin(), met.end());
        met.erase(std::unique(met.begin(), met.end()), met.end());
        for (const std::uint32_t k : met) {
            if (same && k <= i) continue;
            if (a[i].squaredExteriorDistance(b[k]) > reach) continue;
            out.emplace_back(i, k);
        }
        if (out.size() > most)
            return Problem{"More than " + say::count(most) +
                               " pairs of bodies are within reach of one another: measuring them would take hours. Ask "
                               "for a smaller clearance, leave places out, or give the run a simpler part.",
                           "least"};
    }
    return out;
}

void inParallel(size_t count, const std::function<void(size_t)>& work, Job* job) {
    const size_t threads = std::min<size_t>(std::max(1u, std::thread::hardware_concurrency()), (count + 7) / 8);
    std::atomic<size_t> next = 0;
    std::exception_ptr thrown;
    std::atomic<bool> failed = false;
    const auto run = [&](bool tells) {
        try {
            for (size_t i; !failed && (i = next++) < count;) {
                if (job && stopped(&job->stop)) return;
                work(i);
                if (tells && job && (i & 31) == 0) job->within = double(i) / double(count);
            }
        } catch (...) {
            if (!failed.exchange(true)) thrown = std::current_exception();
        }
    };
    std::vector<std::thread> others;
    for (size_t t = 1; t < threads; ++t) others.emplace_back(run, false);
    run(true);
    for (auto& t : others) t.join();
    if (thrown) std::rethrow_exception(thrown);
}

} // namespace vicinal
