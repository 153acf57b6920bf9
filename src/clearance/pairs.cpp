#include "clearance/pairs.h"
#include "geometry/mesh/self_crossing.h"
#include "parts/solid/fine.h"
#include <algorithm>
#include <cmath>
#include <thread>

namespace vicinal {
namespace {

/// As good as equal: in mm, and for turns in mm over a body of a metre.
constexpr double kAlike = 1e-6, kAlikeTurn = 1e-9;

} // namespace

RelativePose relativePose(const PosedBody& a, const PosedBody& b) {
    const Mat3 back = RelativePose{a.turn, a.at, a.size}.inverse().turn;
    return {back * b.turn, back * (b.at - a.at), b.size / a.size};
}

Box3 PosedBody::box() const {
    const Box3& own = body->mesh->box;
    const Vec3 middle = turn * own.center() + at, half = turn.cwiseAbs() * (own.sizes() / 2);
    return {middle - half, middle + half};
}

TriangleFacts factsOf(const Body& b) {
    TriangleFacts out;
    const Mesh& m = *b.mesh;
    const MeshEdges edges = edgesOf(m);
    out.closed = !edges.edges.empty() && std::all_of(edges.edges.begin(), edges.edges.end(),
                                                     [](const MeshEdge& e) { return e.triangles % 2 == 0; });
    bool curved = b.solid != nullptr;
    if (curved && !b.slow)
        if (const SolidPtr solid = solidOf(b)) curved = isCurved(*solid);
    if (!curved) return out;
    const auto normals = normalsOf(m);
    for (const MeshEdge& e : edges.edges) {
        if (e.triangles != 2) continue;
        // Two pieces of an arc that meet at an angle stand off it by w/2 tan(angle/4), w the piece's width.
        const auto one = edges.triangles[e.first], two = edges.triangles[e.first + 1];
        const double angle = std::atan2(normals[one].cross(normals[two]).norm(), normals[one].dot(normals[two]));
        if (!(angle > 1e-4 && angle < 35 * kDegree)) continue;
        const Vec3 from = m.points[e.a], way = (m.points[e.b] - from).normalized();
        double width = 0;
        for (const auto t : {one, two})
            for (const auto i : m.triangles[t]) width = std::max(width, (m.points[i] - from).cross(way).norm());
        out.error = std::max(out.error, width / 2 * std::tan(angle / 4));
    }
    // Triangles of a solid are as meshOf() makes them, no farther off than a 200th of its second largest size.
    Vec3 sizes = m.box.sizes();
    std::sort(sizes.data(), sizes.data() + 3);
    out.error = std::min({out.error, sizes[1] / 200, b.within > 0 ? b.within : kFar});
    return out;
}

const TriangleFacts& PairMemory::facts(const BodyPtr& b) {
    const auto found = m_facts.find(b.get());
    if (found != m_facts.end()) return found->second.second;
    return m_facts.emplace(b.get(), std::pair(b, factsOf(*b))).first->second.second;
}

bool PairMemory::sound(const BodyPtr& b) {
    const auto [at, fresh] = m_sound.try_emplace(b.get(), true);
    if (!fresh) return at->second;
    constexpr size_t kMost = 200'000; // it takes longer than one waits for: taken for sound
    at->second = facts(b).closed && (b->solid || b->mesh->triangles.size() > kMost || !runsThroughItself(treeOf(*b)));
    return at->second;
}

const std::vector<RoundFace>& PairMemory::rounds(const BodyPtr& b) {
    facts(b); // keeps it
    const auto [at, fresh] = m_rounds.try_emplace(b.get());
    if (fresh && !b->slow) at->second = roundFacesOf(*b);
    return at->second;
}

Fits fitsOf(std::span<const RoundFace> first, std::span<const RoundFace> second, const RelativePose& lie,
            double error) {
    constexpr double kOnOneAxis = 0.01; // mm
    Fits out;
    for (const RoundFace& a : first)
        for (const RoundFace& b : second) {
            if (a.hole == b.hole) continue;
            const Vec3 axis = (lie.turn * b.axis).normalized(), d = lie.turn * b.centre + lie.at - a.centre;
            if (a.axis.cross(axis).norm() > 1e-3) continue;
            const double along = d.dot(a.axis), off = (d - along * a.axis).norm(), half = b.half * lie.size;
            const double from = std::max(-a.half, along - half), to = std::min(a.half, along + half);
            const double other = b.radius * lie.size;
            // Leaning counts where they are in one another.
            if (!(to - from > tolerance::length) || off + a.axis.cross(axis).norm() * (to - from) / 2 > kOnOneAxis)
                continue;
            const double pin = a.hole ? other : a.radius, hole = a.hole ? a.radius : other;
            if (pin < 0.5 * hole) continue; // a bar that passes through: it may touch one side
            out.spared.push_back({a.centre + (from + to) / 2 * a.axis, a.axis, 1.1 * std::max(pin, hole) + error,
                                  (to - from) / 2 + tolerance::length});
            out.tight = std::max(out.tight, pin - hole);
        }
    return out;
}

size_t PairMemory::KeyHash::operator()(const Key& k) const {
    size_t h = std::hash<const void*>()(k.a) * 31 + std::hash<const void*>()(k.b);
    for (const long long v : k.lie) h = (h ^ size_t(v)) * 0x9E3779B97F4A7C15ull + (h >> 29);
    return h;
}

namespace {

/// How far a body may have moved in the axes of the first between two ways it lies: the farthest corner of its box.
double movedBy(const RelativePose& now, const RelativePose& then, const Box3& box) {
    const Mat3 turn = now.turn - then.turn;
    const Vec3 at = now.at - then.at;
    double most = 0;
    for (int k = 0; k < 8; ++k) most = std::max(most, (turn * box.corner(Box3::CornerType(k)) + at).squaredNorm());
    return std::sqrt(most);
}

/// What was answered last on this thread: of links alike the nearest triangles are mostly the same ones.
struct Recent {
    const Body *a = nullptr, *b = nullptr;
    Distance apart;
};

} // namespace

/// One call: which pairs are asked, which of them have no answer yet, and what was found.
class PairMemory::Measuring {
public:
    using Pairs = std::span<const std::pair<const PosedBody*, const PosedBody*>>;
    Measuring(PairMemory& memory, Pairs pairs, double within, Job* job, const Approximate* approximate)
        : m_memory(memory), m_pairs(pairs), m_within(within), m_job(job), m_stop(job ? &job->stop : nullptr),
          m_approximate(approximate), m_call(++memory.m_calls), m_asked(pairs.size()) {}
    std::vector<PairValue> make() {
        for (size_t i = 0; i < m_pairs.size(); ++i) ask(i);
        makeTrees();
        std::vector<size_t> first, rest; // of the open ones
        for (size_t i = 0; i < m_open.size(); ++i) (sure(m_open[i]) ? rest : first).push_back(i);
        work(first);
        if (!rest.empty() && !stopped(m_stop)) workByLikelihood(std::move(rest));
        return values();
    }

private:
    struct Open {
        size_t pair;
        RelativePose lie;
        Answer* answer;
        std::optional<Last> last; ///< as it was before this call
        size_t called;
        double low, high; ///< mm: bounds, where they are known
        bool done;
    };
    static constexpr size_t kKnown = ~size_t(0);
    static constexpr double kUnknown = std::numeric_limits<double>::infinity();
    static double valueOf(const Answer& found, const PosedBody& a) {
        return found.apart.crossing ? 0 - found.depth * a.size : found.apart.distance * a.size;
    }
    /// Its answer, or a place among the open ones.
    void ask(size_t i) {
        const auto& [a, b] = m_pairs[i];
        const RelativePose lie = relativePose(*a, *b);
        Key key{a->body.get(), b->body.get(), {}};
        const double reach = std::min(1.0, (a->body->mesh->box.sizes().norm() + 1) / 1000);
        for (int k = 0; k < 9; ++k) key.lie[size_t(k)] = std::llround(lie.turn.data()[k] / kAlikeTurn * reach);
        for (int k = 0; k < 3; ++k) key.lie[size_t(9 + k)] = std::llround(lie.at[k] * a->size / kAlike);
        key.lie[12] = std::llround(a->size * 1e12);
        auto [at, fresh] = m_memory.m_answers.try_emplace(key);
        Answer& answer = at->second;
        answer.used = m_memory.m_round + 1;
        if (answer.call == m_call) { // asked a moment ago
            m_asked[i] = {&answer, answer.open};
            return;
        }
        answer.call = m_call;
        // Farther than was looked for then: it has to be looked again.
        const bool known = !fresh && (answer.apart.found() || answer.within >= m_within);
        answer.open = known ? kKnown : m_open.size();
        m_asked[i] = {&answer, answer.open};
        if (known) return;
        Open o{i, lie, &answer, std::nullopt, 0, -kUnknown, kUnknown, false};
        o.called = (size_t(a->place) * 0x9E3779B97F4A7C15ull) ^ (size_t(b->place) * 0xC2B2AE3D27D4EB4Full) ^
                   (std::hash<const void*>()(a->body.get()) * 7) ^ std::hash<const void*>()(b->body.get());
        if (const auto last = m_memory.m_last.find(o.called);
            last != m_memory.m_last.end() && last->second.a == key.a && last->second.b == key.b) {
            o.last = last->second;
            if (m_approximate && o.last->size == a->size && o.last->apart.found() && o.last->apart.distance > 0) {
                const double moved = movedBy(lie, o.last->lie, b->body->mesh->box);
                o.low = (o.last->apart.distance - moved) * a->size;
                o.high = (o.last->apart.distance + moved) * a->size;
            }
        }
        m_open.push_back(o);
        m_memory.facts(a->body);
        m_memory.facts(b->body);
    }
    /// By one thread, so that no two wait for it.
    void makeTrees() {
        const Body* made = nullptr;
        for (const Open& o : m_open)
            for (const PosedBody* s : {m_pairs[o.pair].first, m_pairs[o.pair].second})
                if (s->body.get() != made) treeOf(*(made = s->body.get())).patches();
    }
    /// Neither a limit nor the worst of all may be where it is now, by what it was before.
    bool sure(const Open& o) const {
        return m_approximate && o.low > 0 &&
               (!m_approximate->least || o.low > *m_approximate->least + m_approximate->margin) &&
               (!m_approximate->most || o.high < *m_approximate->most - m_approximate->margin);
    }
    /// Measures some of the open ones.
    void work(const std::vector<size_t>& which) {
        m_memory.m_measured += which.size();
        inParallel(
            which.size(),
            [&](size_t n) {
                Open& o = m_open[which[n]];
                const auto& [a, b] = m_pairs[o.pair];
                static thread_local Recent recent;
                const bool alike = recent.a == a->body.get() && recent.b == b->body.get();
                const Distance* near = o.last && o.last->apart.found() ? &o.last->apart
                                       : alike                         ? &recent.apart
                                                                       : nullptr;
                o.answer->apart =
                    distanceBetween(treeOf(*a->body), treeOf(*b->body), o.lie, m_within / a->size, near, m_stop);
                o.answer->within = m_within;
                o.done = true;
                if (o.answer->apart.found()) recent = {a->body.get(), b->body.get(), o.answer->apart};
            },
            m_job);
        measureDepths(which);
        for (const size_t i : which) {
            Open& o = m_open[i];
            const auto& [a, b] = m_pairs[o.pair];
            if (stopped(m_stop)) { // half an answer is none: nobody may take it for known
                o.answer->apart = {};
                o.answer->within = -1;
                o.done = false;
            } else
                m_memory.m_last[o.called] = {a->body.get(), b->body.get(), a->size, o.lie, o.answer->apart};
        }
    }
    void measureDepths(const std::vector<size_t>& which) {
        // Bodies inside others do not cross; those that cross are asked how deep.
        std::vector<size_t> deep;
        for (const size_t i : which) {
            Open& o = m_open[i];
            if (!o.done) continue;
            const auto& [a, b] = m_pairs[o.pair];
            const bool near = o.answer->apart.crossing || a->box().intersects(b->box());
            o.answer->deep = !near || (m_memory.sound(a->body) && m_memory.sound(b->body));
            if (near && o.answer->deep) deep.push_back(i);
        }
        // Faces that are round are looked for in bodies that cross, by one thread.
        std::vector<Fits> fits(deep.size());
        for (size_t n = 0; n < deep.size(); ++n) {
            const Open& o = m_open[deep[n]];
            const auto& [a, b] = m_pairs[o.pair];
            if (!o.answer->apart.crossing || stopped(m_stop)) continue;
            fits[n] = fitsOf(m_memory.rounds(a->body), m_memory.rounds(b->body), o.lie,
                             m_memory.facts(a->body).error + m_memory.facts(b->body).error * o.lie.size);
        }
        inParallel(
            deep.size(), [&](size_t n) { measureDepth(m_open[deep[n]], fits[n]); }, m_job);
    }
    void measureDepth(Open& o, const Fits& fits) const {
        const auto& [a, b] = m_pairs[o.pair];
        const MeshTree &first = treeOf(*a->body), &second = treeOf(*b->body);
        Distance& found = o.answer->apart;
        const bool touching = found.found() && found.distance <= tolerance::length;
        if (!found.crossing && !(touching ? overlapping(first, second, o.lie) : contained(first, second, o.lie)))
            return;
        const double off = m_memory.m_facts.at(a->body.get()).second.error +
                           m_memory.m_facts.at(b->body.get()).second.error * o.lie.size;
        const Depth depth = depthOf(first, second, o.lie, fits.spared, off > 0 ? std::max(off, 0.005) : 0, m_stop);
        o.answer->depth = std::max(depth.by, fits.tight);
        o.answer->error = depth.error;
        o.answer->exact = fits.tight > 0 && fits.tight >= depth.by;
        found.crossing = true;
        found.distance = 0;
        if (depth.by > 0 || !found.found()) found.a = depth.at, found.b = depth.to;
    }
    /// The least (or the most) of all has to be exact: what may be beyond the best so far is measured, the likeliest
    /// first.
    void workByLikelihood(std::vector<size_t> rest) {
        const bool most = m_approximate->most && !m_approximate->least;
        double best = most ? -kUnknown : kUnknown;
        const auto better = [&](double v) { best = most ? std::max(best, v) : std::min(best, v); };
        for (size_t i = 0; i < m_pairs.size(); ++i) {
            const auto& [answer, at] = m_asked[i];
            if ((at == kKnown || m_open[at].done) && answer->apart.found()) better(valueOf(*answer, *m_pairs[i].first));
        }
        const auto likely = [&](size_t i) { return most ? -m_open[i].high : m_open[i].low; };
        std::sort(rest.begin(), rest.end(), [&](size_t x, size_t y) { return likely(x) < likely(y); });
        for (size_t next = 0; next < rest.size() && !stopped(m_stop);) {
            std::vector<size_t> batch;
            for (const size_t many = next == 0 ? 4 : 16; next < rest.size() && batch.size() < many; ++next) {
                if (most ? m_open[rest[next]].high <= best : m_open[rest[next]].low >= best) {
                    next = rest.size();
                    break;
                }
                batch.push_back(rest[next]);
            }
            work(batch);
            for (const size_t i : batch)
                if (m_open[i].done && m_open[i].answer->apart.found())
                    better(valueOf(*m_open[i].answer, *m_pairs[m_open[i].pair].first));
        }
    }
    std::vector<PairValue> values() {
        std::vector<PairValue> out(m_pairs.size());
        for (size_t i = 0; i < m_pairs.size(); ++i) {
            const PosedBody& a = *m_pairs[i].first;
            PairValue& v = out[i];
            const auto& [answer, at] = m_asked[i];
            const Distance* found = &answer->apart;
            if (at != kKnown && !m_open[at].done) {
                const Open& o = m_open[at];
                answer->within = -1; // nothing is known of it
                if (o.high == kUnknown || stopped(m_stop)) continue;
                found = &o.last->apart;
                v.about = (o.high - o.low) / 2;
            }
            if (!found->found()) continue;
            v.crossing = found->crossing;
            v.depthKnown = !v.crossing || answer->deep;
            v.exact = v.crossing && answer->exact;
            v.error = v.crossing ? answer->error * a.size : 0;
            v.clear = v.about > 0 ? found->distance * a.size : valueOf(*answer, a);
            v.a = a.turn * found->a + a.at;
            v.b = a.turn * found->b + a.at;
            if (v.clear - v.about >= m_within) v = {};
        }
        return out;
    }

    PairMemory& m_memory;
    Pairs m_pairs;
    double m_within;
    Job* m_job;
    const Stop* m_stop;
    const Approximate* m_approximate;
    long m_call;
    std::vector<Open> m_open;
    std::vector<std::pair<Answer*, size_t>> m_asked; ///< of each pair, and which of the open ones it is
};

/// Idea: pairs that lie alike (kAlike, kAlikeTurn) have one answer, whichever places they are of and whenever it was
/// asked; what is left to measure begins from the pair of triangles that was nearest in the last one alike, which is a
/// bound at once. Invariant: an answer holds for its `within` and for what was farther then. After an edit a pair is as
/// far apart as it was, give or take what the corners of its boxes moved: with `approximate` only those are measured
/// that may break a limit or be the worst, the likeliest first, until no other can be. Answers that eight rounds did
/// not ask for go.
std::vector<PairValue> PairMemory::measure(std::span<const std::pair<const PosedBody*, const PosedBody*>> pairs,
                                           double within, Job* job, const Approximate* approximate) {
    return Measuring(*this, pairs, within, job, approximate).make();
}

void PairMemory::forgetUnused() {
    ++m_round;
    std::erase_if(m_answers, [&](const auto& one) { return one.second.used + 8 < m_round; });
    std::erase_if(m_facts, [](const auto& one) { return one.second.first.use_count() == 1; });
    std::erase_if(m_last,
                  [&](const auto& one) { return !m_facts.count(one.second.a) || !m_facts.count(one.second.b); });
    std::erase_if(m_sound, [&](const auto& one) { return !m_facts.count(one.first); });
    std::erase_if(m_rounds, [&](const auto& one) { return !m_facts.count(one.first); });
    // Answers of bodies that are gone must not be found by others that stand where those stood in memory.
    std::erase_if(m_answers,
                  [&](const auto& one) { return !m_facts.count(one.first.a) || !m_facts.count(one.first.b); });
    if (m_last.size() > 4 * m_answers.size() + 100'000) m_last.clear();
}

} // namespace vicinal
