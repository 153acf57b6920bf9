#pragma once
#include "base/job.h"
#include "geometry/path/span.h"
#include <span>

namespace vicinal {

/// A point where two spans meet, seen along z.
struct Crossing {
    size_t a, b;   ///< indices of the spans, a <= b
    double ta, tb; ///< their parameters
    Vec3 at;       ///< on span a
};

/// All points where spans cross each other or themselves in plan (x, y); ends that follow each other (a + 1 == b, and
/// last to first when `closed`) do not count. Found on chords no farther than `sag` from the curve, then solved by
/// Newton to 1e-10 mm: two that lie closer together than `sag` may both be missed. Stopped: those found so far.
std::vector<Crossing> crossingsInPlan(std::span<const Span> spans, bool closed, double sag, const Stop* = nullptr);

/// Looks up the nearest of many spans quickly: a tree of boxes.
class NearestSpan {
public:
    NearestSpan(std::span<const Span> spans, double sag);
    /// Distance in plan from p to the nearest point, or `limit` when none is nearer; any smaller than `enough` will do.
    double distance(const Vec3& p, double limit, double enough = 0) const;

private:
    struct Chord {
        double x0, y0, x1, y1, t0, t1;
        int span;
    };
    struct Node {
        double x0, y0, x1, y1;
        int first, count; ///< chords when count > 0, else children first and first + 1
    };
    void build(int node, int first, int count);
    std::vector<Chord> m_chords;
    std::vector<Node> m_nodes;
    std::vector<Span> m_spans;
    double m_sag;
};

} // namespace vicinal
