#pragma once
// The material that is left between holes.
#include "parts/solid/solid.h"

namespace vicinal {

/// The narrowest place beside a hole.
struct Web {
    static constexpr size_t kEdge = size_t(-1);
    size_t hole = 0, other = kEdge; ///< indices of holes; kEdge: the edge of the outline
    double width = 0;               ///< mm
    Vec2 from, to;                  ///< its ends, on the hole and on the other
};

/// The narrowest web of each hole, to another one or to the edge, narrowest first; nothing for a hole without any.
/// Exact between lines and arcs; other curves within 1e-6 mm. Rings in the x-y plane that do not cross.
std::vector<Web> websOf(std::span<const Ring> holes, std::span<const Ring> edge);

/// What cutting did to a body.
struct CutReport {
    std::vector<Web> webs{};              ///< in the plane of the plate; of places
    Mat3 axes = Mat3::Identity();         ///< from that plane to the body's axes
    double top = 0;                       ///< along its normal: where the plate's upper face is
    std::vector<size_t> missed, overEdge; ///< places
    std::vector<std::pair<size_t, size_t>> together;
    size_t tools = 0;             ///< how many cut
    double before = 0, after = 0; ///< mm^3
    bool flat = false;            ///< the plane way; webs are measured
    Vec3 at(const Vec2& p) const { return axes * Vec3(p.x(), p.y(), top); }
};

} // namespace vicinal
