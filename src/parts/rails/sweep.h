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

/// The way a return leads at a stop with these axes.
Vec3 towards(RailReturn, const Mat3& axes);

/// Triangles over the rows of a section's points, one row after the other.
class Loft {
public:
    /// The face must outlive it.
    explicit Loft(const Mesh& face);
    const Mesh& face() const { return m_face; }
    /// `points`: whole rows, each of the face's points in their order. Closed by the face at both ends, or all the way
    /// round.
    void add(Mesh& to, std::span<const Vec3> points, bool closed) const;

private:
    const Mesh& m_face;
    std::vector<std::array<std::uint32_t, 2>> m_border; ///< its open edges, as its triangles go round
};

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
