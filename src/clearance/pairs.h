#pragma once
// Distances between bodies that stand somewhere: which pairs can be near, and how near they are.
#include "base/id.h"
#include "base/job.h"
#include "clearance/depth.h"
#include "parts/body.h"
#include <optional>
#include <span>
#include <unordered_map>

namespace vicinal {

/// A body put somewhere: x -> turn x + at; `turn` a rotation times `size`, or one with a mirroring.
struct PosedBody {
    BodyPtr body;
    Mat3 turn = Mat3::Identity();
    Vec3 at = Vec3::Zero();
    double size = 1;
    int place = 0; ///< whose it is; what that means is the caller's
    Id part = 0;
    Box3 box() const; ///< a box round it, in the world
};

/// How b lies in the axes of a.
RelativePose relativePose(const PosedBody& a, const PosedBody& b);

/// What one has to know of a body's triangles.
struct TriangleFacts {
    bool closed = false; ///< every edge has a triangle on either side: there is an inside
    double error = 0;    ///< mm that triangles of a curved solid may be inside or outside of it; 0 for flat faces
};
TriangleFacts factsOf(const Body&);

/// Pins that are in holes of the other: round faces of both on one axis, within 0.01 mm. What is round them is spared
/// by depths, since their triangles cross where the pin fits.
struct Fits {
    std::vector<Spared> spared; ///< in the axes of the first
    double tight = 0;           ///< mm; how much thicker than its hole a pin is, the worst; 0: all go in
};
/// `error`: mm that their triangles may be off, in the axes of the first.
Fits fitsOf(std::span<const RoundFace> first, std::span<const RoundFace> second, const RelativePose&, double error);

/// How near two bodies are.
struct PairValue {
    double clear = std::numeric_limits<double>::infinity(); ///< mm; below zero: how deep they cross
    Vec3 a = Vec3::Zero(), b = Vec3::Zero();                ///< nearest points, in the world
    bool crossing = false;                                  ///< they run into one another
    double about = 0;       ///< mm that `clear` may be off: it was not worked out anew; else 0
    bool depthKnown = true; ///< else `clear` is 0 where they cross: a body is not closed
    double error = 0;       ///< mm that a depth may be more
    bool exact = false;     ///< by radii, whatever the triangles: at least so deep
    bool found() const { return clear < std::numeric_limits<double>::infinity(); }
};

/// What was measured once need not be measured again: pairs that lie alike (within a millionth of a mm) have one
/// answer. Shared by the checks of a document, and by those after the next edit. Not for several threads.
class PairMemory {
public:
    /// What has to be true of the answers where they are wanted quickly.
    struct Approximate {
        std::optional<double> least, most; ///< mm: values that may break one of these are exact
        double margin = 0;                 ///< mm: and those that come so near
    };
    /// The distances of these pairs as far as `within`; those farther apart are not found. In the order asked.
    /// Runs on all processors. Stopped: what was not reached is not found.
    /// `approximate`: a pair that was measured before and has moved a little is as far apart as then, give or take what
    /// it has moved; only what may break a limit, or be the worst of all, is measured anew. The rest says how far it
    /// may be off.
    std::vector<PairValue> measure(std::span<const std::pair<const PosedBody*, const PosedBody*>>, double within,
                                   Job* = nullptr, const Approximate* approximate = nullptr);
    const TriangleFacts& facts(const BodyPtr&);
    /// It is closed and does not run through itself: what is inside it is known.
    bool sound(const BodyPtr&);
    /// Forgets what was not asked in the last passes.
    void forgetUnused();
    size_t measured() const { return m_measured; } ///< pairs that were really worked out, since it was made

private:
    class Measuring;
    struct Key {
        const Body *a, *b;
        std::array<long long, 13> lie; ///< and the size of the first
        bool operator==(const Key&) const = default;
    };
    struct KeyHash {
        size_t operator()(const Key&) const;
    };
    struct Answer {
        Distance apart; ///< in the axes and the size of the first
        double within = 0, depth = 0, error = 0;
        bool deep = false; ///< the depth is known
        bool exact = false;
        long used = 0, call = 0;
        size_t open = 0; ///< of that call
    };
    std::unordered_map<Key, Answer, KeyHash> m_answers;
    std::unordered_map<const Body*, bool> m_sound;
    std::unordered_map<const Body*, std::vector<RoundFace>> m_rounds;
    const std::vector<RoundFace>& rounds(const BodyPtr&);
    std::unordered_map<const Body*, std::pair<BodyPtr, TriangleFacts>> m_facts; ///< keeps the bodies, too
    struct Last {
        const Body *a, *b;
        double size; ///< of the first
        RelativePose lie;
        Distance apart;
    };
    std::unordered_map<size_t, Last> m_last; ///< by what the pair is called
    long m_round = 0, m_calls = 0;
    size_t m_measured = 0;
};

/// Pairs (i of `a`, k of `b`; i < k where both are the same list) whose boxes are nearer than `within`, in order.
/// Problem when there are more than `most`.
Result<std::vector<std::pair<std::uint32_t, std::uint32_t>>>
pairsWithin(std::span<const Box3> a, std::span<const Box3> b, double within, size_t most = 3'000'000);

/// Runs `work` for 0 .. count-1 on all processors, a few at a time.
void inParallel(size_t count, const std::function<void(size_t)>& work, Job* = nullptr);

} // namespace vicinal
