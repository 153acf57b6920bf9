#pragma once
#include "base/job.h"
#include "geometry/curves/shapes.h"

namespace vicinal {

enum class CornerStyle {
    Round, ///< an arc about the corner
    Sharp, ///< the neighbours run on until they meet; beyond four times the distance it is cut off straight
};

/// What an offset leaves out.
struct OffsetPart {
    std::vector<Segment> segments;
    bool closed = false;
    double length = 0;
};
struct Offset {
    Curve curve;                      ///< the longest part, in the source's direction
    std::vector<OffsetPart> others;   ///< further separate parts ("islands"), longest first
    std::vector<OffsetPart> vanished; ///< pieces nearer to the source than the distance, that were cut away
};

/// The line at a constant distance beside a path: to the left for distance > 0, seen from `normal` (unit), else to the
/// right. Measured square to the path in the plane of `normal`; on a path that is not level in that plane the height
/// above it is kept. Lines and arcs level in it stay what they are, exactly; other curves become cubics within 5e-7 mm.
/// Loops nearer to the source than the distance are removed. Where the source turns sharper than the distance the rest
/// is joined at their crossing.
/// Problem ("distance"): zero, not a number, or so large that nothing is left (says the largest that works, to 1 %).
/// Stopped: a problem, too.
/// Source: Tiller, Hanson, "Offsets of two-dimensional profiles", IEEE CG&A 4(9), 1984, with a distance test.
Result<Offset> offsetOf(const Path&, double distance, CornerStyle, const Vec3& normal = Vec3::UnitZ(),
                        const Stop* = nullptr);

} // namespace vicinal
