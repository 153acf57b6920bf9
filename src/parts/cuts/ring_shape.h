#pragma once
// A closed flat curve ready to be asked: inside, distance, box. Not for others.
#include "geometry/path/span.h"
#include "parts/solid/solid.h"
#include <optional>

namespace vicinal {

struct FlatBox {
    double x0 = kFar, y0 = kFar, x1 = -kFar, y1 = -kFar;
    void add(const Vec2& p) {
        x0 = std::min(x0, p.x()), x1 = std::max(x1, p.x());
        y0 = std::min(y0, p.y()), y1 = std::max(y1, p.y());
    }
    bool meets(const FlatBox& o, double spare) const {
        return x0 <= o.x1 + spare && o.x0 <= x1 + spare && y0 <= o.y1 + spare && o.y0 <= y1 + spare;
    }
    Vec2 middle() const { return {(x0 + x1) / 2, (y0 + y1) / 2}; }
    double reach() const { return std::hypot(x1 - x0, y1 - y0) / 2; }
};

struct RingShape {
    std::vector<Span> spans;
    std::vector<FlatBox> boxes; ///< of the spans
    FlatBox box;
    Vec2 middle = Vec2::Zero(); ///< of a circle that holds it
    double reach = 0;           ///< its radius
    bool circle = false;        ///< it is that circle
    double area = 0;            ///< with its sign

    explicit RingShape(const Ring&);
    /// How often it goes round p, exactly for lines and arcs. Precondition: p is not on it.
    int winding(const Vec2& p) const;
    bool inside(const Vec2& p) const { return winding(p) != 0; }
};

/// True for a point inside a polygon.
bool within(const std::vector<Vec2>& ring, const Vec2& p);

/// The nearest points of two spans, which do not cross.
struct SpanGap {
    double distance = kFar;
    Vec2 from, to;
};
void nearer(const Span& a, const Span& b, SpanGap& best);
/// The same to a point (`to`).
void nearer(const Span& a, const Vec2& p, SpanGap& best);

} // namespace vicinal
