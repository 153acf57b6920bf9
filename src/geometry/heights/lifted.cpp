#include "geometry/heights/lifted.h"
#include "base/say.h"
#include "geometry/curves/cubics.h"
#include "geometry/heights/lift_heights.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

namespace vicinal {
namespace {

using namespace lift;

constexpr size_t kMostSamples = 200'000;
constexpr size_t kMostPairs = 5'000'000; ///< of samples over one another
constexpr int kFine = 10;                ///< samples a thickness

struct Sampled {
    double s;
    Vec3 p;
};

/// Pairs of places on two strands that are too near, joined to one crossing.
struct Contact {
    std::vector<std::pair<int, int>> pairs; ///< samples: of the path (the strand that is earlier where they are
                                            ///< nearest), and of the path or the other
    bool other = false;
    bool near = false;            ///< somewhere they are too near; else one is far over the other
    double first = 0, second = 0; ///< stations where they are nearest in plan
    bool firstOnTop = false;      ///< of the path itself; of another one: this one passes over it
};

class Lifting {
public:
    Lifting(const Path& path, const LiftOrder& order, const Path* other, const Stop* stop)
        : m_path(path), m_order(order), m_t(order.thickness), m_L(path.length()), m_stop(stop) {
        m_own = sample(path);
        if (other) m_other = sample(*other);
    }

    Result<LiftedPath> run() {
        if (m_own.size() > kMostSamples || m_other.size() > kMostSamples)
            return Problem{"The path is more than " + say::count(kMostSamples / kFine) +
                               " times as long as the strands are apart. Lift a stretch of it, or a larger thickness.",
                           "thickness"};
        if (auto wrong = find()) return *wrong;
        arrange();
        // Less way than wished, where strands that cross close to one another leave no more.
        for (double ease = m_order.ease;; ease *= 0.75) {
            if (stopped(m_stop)) return stoppedHere();
            Lift up({}, ease, m_L, m_path.closed()), down = up;
            if (!settle(ease, up, down)) {
                if (ease * 0.75 < kSteepest * m_t) return tooTight();
                continue;
            }
            const auto steepest = std::max(up.steepest(), down.steepest());
            if (steepest.first > 1 + tolerance::rounding) return tooSteep(up, down, steepest, ease);
            return built(up, down, ease);
        }
    }

private:
    std::vector<Sampled> sample(const Path& p) const {
        std::vector<Sampled> out;
        const double L = p.length();
        const auto n = size_t(std::clamp(std::ceil(L / (m_t / kFine)), 8.0, double(kMostSamples) + 1));
        for (size_t i = 0; i < n + (p.closed() ? 0 : 1); ++i) out.push_back({L * double(i) / double(n), Vec3::Zero()});
        std::vector<double> s;
        for (const auto& x : out) s.push_back(std::min(x.s, L));
        std::vector<Sample> at(s.size());
        p.sample(s, false, at);
        for (size_t i = 0; i < out.size(); ++i) out[i].p = at[i].point;
        return out;
    }
    double apart(double a, double b) const { // along the path
        const double d = std::abs(a - b);
        return m_path.closed() ? std::min(d, m_L - d) : d;
    }

    static Problem stoppedHere() { return {"Lifting the path was stopped.", ""}; }

    /// Every pair that is nearer than the thickness in plan, joined where neighbours are pairs, too.
    std::optional<Problem> find() {
        const auto cellOf = [&](double v) { return std::int64_t(std::floor(v / m_t)); };
        const auto key = [](std::int64_t x, std::int64_t y) { return std::uint64_t(x) << 32 ^ std::uint32_t(y); };
        const auto look = [&](const std::vector<Sampled>& there, bool other) -> std::optional<Problem> {
            std::vector<std::pair<std::uint64_t, int>> cells;
            cells.reserve(there.size());
            for (int j = 0; j < int(there.size()); ++j)
                cells.push_back({key(cellOf(there[size_t(j)].p.x()), cellOf(there[size_t(j)].p.y())), j});
            std::sort(cells.begin(), cells.end());
            std::unordered_map<std::uint64_t, std::pair<size_t, size_t>> ranges;
            for (size_t k = 0; k < cells.size(); ++k) {
                auto& range = ranges[cells[k].first];
                if (range.second == 0) range.first = k;
                range.second = k + 1;
            }
            std::vector<std::pair<int, int>> pairs;
            std::vector<std::pair<size_t, size_t>> around; ///< ranges of cells
            std::int64_t lastX = 0, lastY = 0;
            for (int i = 0; i < int(m_own.size()); ++i) {
                if (i % 256 == 0 && stopped(m_stop)) return stoppedHere();
                if (pairs.size() > kMostPairs)
                    return Problem{"The strands lie over one another too often: more than " + say::count(kMostPairs) +
                                       " places of them do. Lift a stretch of the path, or use a larger thickness.",
                                   "thickness"};
                const Vec3& p = m_own[size_t(i)].p;
                const std::int64_t x = cellOf(p.x()), y = cellOf(p.y());
                if (i == 0 || x != lastX || y != lastY) { // the next samples mostly lie in the same cell
                    lastX = x, lastY = y;
                    around.clear();
                    for (std::int64_t dx = -1; dx <= 1; ++dx)
                        for (std::int64_t dy = -1; dy <= 1; ++dy)
                            if (const auto range = ranges.find(key(x + dx, y + dy)); range != ranges.end())
                                around.push_back(range->second);
                }
                for (const auto& [from, to] : around)
                    for (size_t k = from; k < to; ++k) {
                        const int j = cells[k].second;
                        if (!other && (j <= i || apart(m_own[size_t(i)].s, there[size_t(j)].s) < 2.5 * m_t)) continue;
                        if ((there[size_t(j)].p - p).head<2>().squaredNorm() < m_t * m_t) pairs.push_back({i, j});
                    }
            }
            std::sort(pairs.begin(), pairs.end());
            join(pairs, there, other);
            return std::nullopt;
        };
        if (auto wrong = look(m_own, false)) return wrong;
        if (!m_other.empty())
            if (auto wrong = look(m_other, true)) return wrong;
        // Where the path turns back sharper than the thickness its strands cannot be apart; behind that they are, as
        // soon as there was way to rise.
        for (Contact& c : m_contacts) {
            if (c.other) continue;
            const auto along = [&](const std::pair<int, int>& p) {
                return apart(m_own[size_t(p.first)].s, m_own[size_t(p.second)].s);
            };
            const auto closest = std::min_element(c.pairs.begin(), c.pairs.end(),
                                                  [&](const auto& a, const auto& b) { return along(a) < along(b); });
            if (along(*closest) > 2.5 * m_t + 3 * m_t / kFine) continue;
            m_hairpins.push_back((m_own[size_t(closest->first)].s + m_own[size_t(closest->second)].s) / 2);
            std::erase_if(c.pairs, [&](const auto& p) { return along(p) < 2.5 * m_t + 2 * m_order.ease; });
            double least = kFar;
            for (const auto& [i, j] : c.pairs) {
                const double d = (m_own[size_t(i)].p - m_own[size_t(j)].p).head<2>().squaredNorm();
                if (d < least) least = d, c.first = m_own[size_t(i)].s, c.second = m_own[size_t(j)].s;
            }
        }
        std::erase_if(m_contacts, [](const Contact& c) { return c.pairs.empty(); });
        for (Contact& c : m_contacts)
            for (const auto& [i, j] : c.pairs) c.near = c.near || tooNear(c, i, j, 0, 0);
        std::stable_sort(m_contacts.begin(), m_contacts.end(), [](const Contact& a, const Contact& b) {
            return a.near != b.near ? a.near : a.first < b.first; // far ones behind: they are no crossings
        });
        return std::nullopt;
    }
    bool tooNear(const Contact& c, int i, int j, double hi, double hj) const {
        const Vec3 by = there(c)[size_t(j)].p + Vec3(0, 0, hj) - m_own[size_t(i)].p - Vec3(0, 0, hi);
        return by.squaredNorm() < m_t * m_t * (1 - tolerance::rounding);
    }

    void join(const std::vector<std::pair<int, int>>& pairs, const std::vector<Sampled>& there, bool other) {
        const auto n = int(m_own.size()), m = int(there.size());
        std::vector<int> number(pairs.size(), -1);
        std::vector<std::uint32_t> row(m_own.size() + 1, 0); // where the pairs of each sample begin
        for (const auto& pair : pairs) ++row[size_t(pair.first) + 1];
        for (size_t i = 1; i < row.size(); ++i) row[i] += row[i - 1];
        const auto find = [&](int a, int b) -> long {
            if (a < 0 || a >= n) return -1;
            const auto from = pairs.begin() + row[size_t(a)], to = pairs.begin() + row[size_t(a) + 1];
            const auto it = std::lower_bound(from, to, std::pair(a, b));
            return it != to && *it == std::pair(a, b) ? long(it - pairs.begin()) : -1;
        };
        // A contact over the seam of a closed path: there the earlier sample lies on the other strand.
        std::vector<std::pair<long, bool>> todo;
        for (size_t start = 0; start < pairs.size(); ++start) {
            if (number[start] >= 0) continue;
            const int mine = int(m_contacts.size());
            Contact c;
            c.other = other;
            double least = kFar;
            todo.assign(1, {long(start), false});
            number[start] = mine;
            while (!todo.empty()) {
                const auto [at, turned] = todo.back();
                todo.pop_back();
                auto [i, j] = pairs[size_t(at)];
                if (turned) std::swap(i, j);
                c.pairs.push_back({i, j});
                const double d = (m_own[size_t(i)].p - there[size_t(j)].p).head<2>().squaredNorm();
                if (d < least) least = d, c.first = m_own[size_t(i)].s, c.second = there[size_t(j)].s;
                for (int di = -1; di <= 1; ++di)
                    for (int dj = -1; dj <= 1; ++dj) {
                        int a = i + di, b = j + dj;
                        if (m_path.closed()) a = (a + n) % n, b = other ? b : (b + m) % m;
                        const bool turn = !other && a > b;
                        const long k = turn ? find(b, a) : find(a, b);
                        if (k < 0 || number[size_t(k)] >= 0) continue;
                        number[size_t(k)] = mine;
                        todo.push_back({k, turn});
                    }
            }
            if (!other && c.first > c.second) {
                std::swap(c.first, c.second);
                for (auto& [i, j] : c.pairs) std::swap(i, j);
            }
            m_contacts.push_back(std::move(c));
        }
    }

    /// Which strand lies on top.
    void arrange() {
        struct Pass {
            double s;
            size_t contact;
        };
        std::vector<Pass> passes;
        for (size_t k = 0; k < m_contacts.size(); ++k) {
            Contact& c = m_contacts[k];
            if (!c.near) { // far over one another: what is on top stays so
                const auto [i, j] = c.pairs.front();
                c.firstOnTop = m_own[size_t(i)].p.z() > there(c)[size_t(j)].p.z();
                continue;
            }
            passes.push_back({m_contacts[k].first, k});
            if (!m_contacts[k].other) passes.push_back({m_contacts[k].second, k});
        }
        std::sort(passes.begin(), passes.end(), [](const Pass& a, const Pass& b) { return a.s < b.s; });
        std::vector<bool> seen(m_contacts.size(), false);
        for (size_t n = 0; n < passes.size(); ++n) {
            Contact& c = m_contacts[passes[n].contact];
            if (seen[passes[n].contact]) continue;
            seen[passes[n].contact] = true;
            c.firstOnTop =
                c.other || m_order.top == OnTop::Earlier || (m_order.top == OnTop::Alternating && n % 2 == 0);
            if (c.other && m_order.top == OnTop::Alternating) c.firstOnTop = n % 2 == 0;
        }
        for (size_t k = 0; k < m_contacts.size() && m_contacts[k].near; ++k)
            if (std::find(m_order.switched.begin(), m_order.switched.end(), long(k) + 1) != m_order.switched.end())
                m_contacts[k].firstOnTop = !m_contacts[k].firstOnTop;
    }

    const std::vector<Sampled>& there(const Contact& c) const { return c.other ? m_other : m_own; }

    /// Raises wishes until they and the heights that come of them agree. False when they chase each other upwards.
    bool settle(double ease, Lift& up, Lift& down) {
        m_up.assign(m_own.size(), 0);
        m_down.assign(m_own.size(), 0);
        std::vector<std::map<long, Wish>> known(m_contacts.size());
        for (int round = 0; round < 80; ++round) {
            std::vector<Wish> ups, downs;
            bool grew = false;
            double most = 0;
            for (size_t k = 0; k < m_contacts.size(); ++k) {
                Contact& c = m_contacts[k];
                if (!c.near) { // until what is lifted comes near it
                    bool touched = false;
                    for (const auto& [i, j] : c.pairs)
                        touched = touched || tooNear(c, i, j, height(i), c.other ? 0 : height(j));
                    if (!touched && known[k].empty()) continue;
                }
                wishesOf(c, known[k], grew);
                const double reach = 1.5 * m_t / kFine;
                for (const auto& [piece, wish] : known[k]) {
                    most = std::max(most, wish.level);
                    (c.other && !c.firstOnTop ? downs : ups)
                        .push_back({wish.from - reach, wish.to + reach, wish.level});
                }
            }
            if (!grew && round > 0) return true;
            if (most > 100 * m_t) return false;
            up = Lift(ups, ease, m_L, m_path.closed());
            down = Lift(downs, ease, m_L, m_path.closed());
            for (size_t i = 0; i < m_own.size(); ++i) {
                m_up[i] = up.at(m_own[i].s);
                m_down[i] = down.at(m_own[i].s);
            }
        }
        return false;
    }
    double height(int i) const { return m_up[size_t(i)] - m_down[size_t(i)]; }

    /// A crossing is one stretch; where strands run along one another several, so that each may be as high as it must.
    double pieceOf(const Contact& c) const {
        return std::max(2 * m_t, c.other ? 4 * m_t : std::min(apart(c.first, c.second) / 8, 40 * m_t));
    }

    /// How high (or low, beneath another path) the strand that moves has to be, stretch by stretch.
    void wishesOf(const Contact& c, std::map<long, Wish>& known, bool& grew) const {
        const bool down = c.other && !c.firstOnTop, first = c.other || c.firstOnTop;
        const double each = pieceOf(c);
        // What lies between samples is a little nearer than they are.
        const double slack = 1.5 * m_t / (kFine * kFine * 4);
        for (const auto& [i, j] : c.pairs) {
            const Vec3 &a = m_own[size_t(i)].p, &b = there(c)[size_t(j)].p;
            const double v = std::sqrt(std::max(0.0, m_t * m_t - (a - b).head<2>().squaredNorm())) + slack;
            const double hb = c.other ? 0 : height(j);
            const double s = first ? m_own[size_t(i)].s : m_own[size_t(j)].s;
            // Above itself: with what the other direction takes away.
            const double level = down    ? a.z() + m_up[size_t(i)] - (b.z() - v)
                                 : first ? b.z() + hb + v - a.z() + m_down[size_t(i)]
                                         : a.z() + height(i) + v - b.z() + m_down[size_t(j)];
            if (!(level > 0)) continue;
            Wish& now = known.try_emplace(long(std::floor(s / each)), Wish{s, s, 0}).first->second;
            if (s < now.from || s > now.to || level > now.level + 1e-7) grew = true;
            now = {std::min(now.from, s), std::max(now.to, s), std::max(now.level, level)};
        }
    }

    Problem tooTight() const {
        size_t worst = 0;
        double high = -1;
        for (size_t k = 0; k < m_contacts.size() && m_contacts[k].near; ++k)
            for (const auto& [i, j] : m_contacts[k].pairs)
                if (std::abs(height(i)) > high) high = std::abs(height(i)), worst = k;
        return {
            Words("The strands cannot lie over one another as they are asked to: round crossing ") +
                std::to_string(worst + 1) + " each would have to be over the other within less than " +
                say::mm(kSteepest * m_t) +
                ", the least it takes. Switch one of the crossings there, use a smaller thickness, or move the path.",
            "thickness"};
    }

    /// A rise steeper than 45 degrees is none that anything follows.
    Problem tooSteep(const Lift& up, const Lift& down, const std::pair<double, double>& at, double ease) const {
        size_t nearest = 0;
        double away = kFar, rise = 0;
        for (size_t k = 0; k < m_contacts.size() && m_contacts[k].near; ++k)
            for (double s : {m_contacts[k].first, m_contacts[k].second})
                if (const double d = apart(s, at.second); d < away) away = d, nearest = k;
        for (double s : {at.second - ease, at.second, at.second + ease})
            rise = std::max(rise, std::abs(up.at(s) - down.at(s)));
        const bool wished = ease >= m_order.ease * (1 - tolerance::rounding);
        return {Words("Crossing ") + std::to_string(nearest + 1) + " is lifted by " + say::mm(rise) +
                    ", which takes at least " + say::mm(ease * at.first) + " of way; it is eased over " +
                    say::mm(ease) + ". " +
                    (wished ? "Ease it over more." : "Use a smaller thickness, or switch a crossing near it."),
                wished ? "ease" : "thickness"};
    }

    Result<LiftedPath> built(const Lift& up, const Lift& down, double ease) {
        LiftedPath out;
        out.closed = m_path.closed();
        out.hairpins = m_hairpins;
        if (ease < m_order.ease) out.shortest = ease;
        emit(up, down, out.segments);
        out.least = kFar;
        for (const Contact& c : m_contacts) {
            for (const auto& [i, j] : c.pairs)
                out.least = std::min(out.least, (m_own[size_t(i)].p + Vec3(0, 0, height(i)) - there(c)[size_t(j)].p -
                                                 Vec3(0, 0, c.other ? 0 : height(j)))
                                                    .norm());
            if (!c.near) continue;
            StrandCrossing x;
            const bool first = c.other || c.firstOnTop;
            x.other = c.other;
            x.beneath = c.other && !c.firstOnTop;
            x.upper = first && !x.beneath ? c.first : c.second;
            x.lower = first && !x.beneath ? c.second : c.first;
            const double moved = first ? c.first : c.second;
            x.lift = up.at(moved) - down.at(moved);
            x.at = m_path.at(moved).point + Vec3(0, 0, x.lift);
            double from = kFar, to = -kFar;
            for (const auto& [i, j] : c.pairs)
                from = std::min(from, m_own[size_t(i)].s), to = std::max(to, m_own[size_t(i)].s);
            x.along = to - from > 8 * m_t && to - from < m_L / 2;
            out.crossings.push_back(x);
        }
        if (out.crossings.empty()) out.least = 0;
        return out;
    }

    /// The source where it is not lifted, or lifted alike; cubics with its own ends and slopes where it rises.
    void emit(const Lift& up, const Lift& down, std::vector<Segment>& out) const {
        std::vector<double> cuts;
        up.cuts(cuts);
        down.cuts(cuts);
        std::sort(cuts.begin(), cuts.end());
        cuts.erase(std::unique(cuts.begin(), cuts.end(), [](double a, double b) { return b - a < tolerance::length; }),
                   cuts.end());
        const auto rise = [&](double s, double* slope = nullptr) {
            double fall = 0;
            const double h = up.at(s, slope) - down.at(s, &fall);
            if (slope) *slope -= fall;
            return h;
        };
        for (const Span& span : m_path.spans()) {
            std::vector<double> t{0};
            auto it = std::upper_bound(cuts.begin(), cuts.end(), span.start + tolerance::length);
            for (; it != cuts.end() && *it < span.start + span.length - tolerance::length; ++it)
                t.push_back(m_path.locate(*it).t);
            t.push_back(1);
            for (size_t i = 0; i + 1 < t.size(); ++i) {
                if (t[i + 1] - t[i] < tolerance::fine) continue;
                const double a = stationOn(span, t[i]), b = stationOn(span, t[i + 1]);
                double s0 = 0, s1 = 0, s2 = 0;
                const double h = rise((a + b) / 2, &s1);
                const bool level = rise(a + tolerance::rounding, &s0) == h && rise(b - tolerance::rounding, &s2) == h &&
                                   s0 == 0 && s1 == 0 && s2 == 0;
                if (level && h == 0)
                    out.push_back(segmentOf(span, t[i], t[i + 1]));
                else if (level)
                    out.push_back(moved(segmentOf(span, t[i], t[i + 1]), Mat3::Identity(), Vec3(0, 0, h)));
                else
                    addCubics(
                        t[i], t[i + 1], 1e-3 * std::min(1.0, m_t),
                        [&](double u) -> std::pair<Vec3, Vec3> {
                            const Jet jet = span.jet(u);
                            double slope = 0;
                            const double raised = rise(stationOn(span, u), &slope);
                            return {jet.p + Vec3(0, 0, raised), jet.d1 + Vec3(0, 0, slope * span.speed(u))};
                        },
                        out);
            }
        }
    }
    const Path& m_path;
    const LiftOrder& m_order;
    double m_t, m_L;
    const Stop* m_stop;
    std::vector<Sampled> m_own, m_other;
    std::vector<double> m_up, m_down; ///< heights of the samples
    std::vector<Contact> m_contacts;
    std::vector<double> m_hairpins;
};

} // namespace

Result<LiftedPath> liftedOver(const Path& path, const LiftOrder& order, const Path* other, const Stop* stop) {
    if (!(order.thickness > 1e-3 && inReach(order.thickness)))
        return Problem{"The thickness is " + say::mm(order.thickness) + "; use more than 0.001 mm.", "thickness"};
    if (!(order.ease > 1e-3 && inReach(order.ease)))
        return Problem{"The lift is eased over " + say::mm(order.ease) + "; use more than 0.001 mm.", "ease"};
    return Lifting(path, order, other, stop).run();
}

} // namespace vicinal
