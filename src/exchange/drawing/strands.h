#pragma once
#include "geometry/path/segment.h"
#include <set>

namespace vicinal {

/// Pieces that touch end to end, joined: straight ones become one line, those on a circle one arc.
class Strands {
public:
    /// In the plane, mm; the same piece twice is one.
    void add(const Vec2& a, const Vec2& b);
    /// Ends within about a thousandth are one point; where more than two pieces meet, strands end.
    std::vector<std::vector<Segment>> joined() const;

private:
    using Spot = std::pair<long long, long long>;
    static Spot spot(const Vec2& p) { return {std::llround(p.x() * 1e3), std::llround(p.y() * 1e3)}; }

    std::vector<std::pair<Vec2, Vec2>> m_pieces;
    std::set<std::pair<Spot, Spot>> m_known;
};

} // namespace vicinal
