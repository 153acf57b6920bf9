#pragma once
// Between rails and what they are made of: triangles and solids along a line. Not for others.
#include "parts/rails/bent.h"

namespace vicinal {

/// The section at one point of a line.
struct RailStop {
    Vec3 at;
    Mat3 axes; ///< columns: along, left, up
    Vec3 cut;  ///< unit normal of the plane that the section lies in; the section's own: along
};
/// A point of the section there.
inline Vec3 pointAt(const RailStop& s, const Vec2& across) {
    const Vec3 p = s.axes.col(1) * across.x() + s.axes.col(2) * across.y();
    return s.at + p - s.axes.col(0) * (p.dot(s.cut) / s.axes.col(0).dot(s.cut));
}

/// Triangles over the section at every stop, closed at both ends or all the way round.
Mesh sweptMesh(const std::vector<RailStop>&, bool closed, const Mesh& face);
/// A prism of a face between two places of each of its points.
Mesh prismMesh(const Mesh& face, const std::vector<Vec3>& from, const std::vector<Vec3>& to);
void append(Mesh&, const Mesh&);

struct SweepOrder {
    Path line;
    RailUps ups;
    RailFace face;
    RailEnds ends;
    RailStop first, last; ///< of the line
    Vec3 home = Vec3::Zero();
};
/// Null when OpenCASCADE cannot.
SolidPtr sweptSolid(const SweepOrder&);
/// The pieces of straight rails as solids side by side, round `home`.
SolidPtr piecesSolid(const std::vector<RailPiece>&, const RailFace&, const Vec3& home);

} // namespace vicinal
