#pragma once
#include "geometry/path/path.h"
#include "layout/seat.h"

namespace vicinal {

enum class NoseRule {
    Along,   ///< the nose follows the path
    AsDrawn, ///< the part keeps the direction it was drawn in
};
enum class CrownRule {
    Plumb,   ///< the crown stays vertical, whatever the slope: the nose is the tangent's heading in plan
    Upright, ///< square to the path, as near vertical as it goes
    Carried, ///< least twist from the path's start; on a closed path spread so that the seam matches
};
enum class CornerRule { Bisector, LegBefore, LegAfter }; ///< which way a part faces that stands exactly on a corner

/// How each part is turned.
struct Facing {
    NoseRule nose = NoseRule::Along;
    CrownRule crown = CrownRule::Plumb;
    CornerRule corner = CornerRule::Bisector;
    /// Extra turn after that, radians, about nose (x), side (y) and crown (z): Rz(crown) Ry(side) Rx(nose),
    /// right-handed.
    Vec3 turn = Vec3::Zero();

    bool operator==(const Facing&) const = default;
};

Mat3 extraTurn(const Facing&);

/// Turns seat axes to world axes at each station (columns nose, side, crown; the extra turn included).
/// stations: rising, within 0 .. path.length(). partRotation: seatRotation of the part, used by AsDrawn.
/// Hands (index, point on the path, tangent, rotation) to `use`.
/// Near-vertical tangents have no heading: Plumb and Upright then blend between the headings before and after.
template<class Use>
void faceAt(const Path&, std::span<const double> stations, const Facing&, const Mat3& partRotation, Use&& use);

/// Angles of a rotation from seat to world axes, radians: heading of the nose in plan, its slope, roll about it.
/// At a vertical nose the heading is that of the side less 90 degrees and the roll 0.
struct Angles {
    double heading = 0, slope = 0, roll = 0;
};
Angles anglesOf(const Mat3& R);

namespace detail {
double steepHeading(const Path&, double station);
} // namespace detail

template<class Use> void faceAt(const Path& path, std::span<const double> stations, const Facing& facing,
                                const Mat3& partRotation, Use&& use) {
    const Mat3 turn = extraTurn(facing);
    const bool turned = !facing.turn.isZero(0);
    const bool asDrawn = facing.nose == NoseRule::AsDrawn;
    const CrownRule rule = facing.crown;
    const Mat3 drawn = partRotation.transpose() * turn;
    const auto& corners = path.corners();
    size_t corner = 0;
    path.visit(
        stations,
        !asDrawn && rule == CrownRule::Carried, [&](size_t i, const Sample& sample) __attribute__((always_inline)) {
            Vec3 t = sample.tangent, crown = sample.carried;
            const double s = stations[i];
            while (corner < corners.size() && corners[corner].station < s - tolerance::length) ++corner;
            if (corner < corners.size() && corners[corner].station <= s + tolerance::length) {
                const Corner& c = corners[corner];
                const Vec3 sum = c.before + c.after;
                t = facing.corner == CornerRule::LegBefore                       ? c.before
                    : facing.corner == CornerRule::LegAfter || sum.norm() < 1e-6 ? c.after
                                                                                 : Vec3(sum.normalized());
                crown = carry(sample.point, sample.tangent, crown, sample.point, t);
            }
            Mat3 R;
            if (asDrawn) {
                use(i, sample.point, t, drawn);
                return;
            }
            if (rule == CrownRule::Carried) {
                R.col(0) = t;
                R.col(1) = crown.cross(t);
                R.col(2) = crown;
            } else {
                const double flat2 = t.x() * t.x() + t.y() * t.y();
                double cx, cy; // heading as cosine and sine
                if (flat2 > tolerance::steep * tolerance::steep) {
                    const double f = 1 / std::sqrt(flat2);
                    cx = t.x() * f;
                    cy = t.y() * f;
                } else {
                    const double h = detail::steepHeading(path, s);
                    cx = std::cos(h);
                    cy = std::sin(h);
                }
                if (rule == CrownRule::Plumb) {
                    R.col(0) = Vec3(cx, cy, 0);
                    R.col(1) = Vec3(-cy, cx, 0);
                    R.col(2) = Vec3::UnitZ();
                } else {
                    Vec3 up = t.cross(Vec3(-cy, cx, 0));
                    if (flat2 <= tolerance::steep * tolerance::steep)
                        up.normalize(); // blended side is not quite square
                    R.col(0) = t;
                    R.col(1) = up.cross(t);
                    R.col(2) = up;
                }
            }
            use(i, sample.point, t, turned ? Mat3(R * turn) : R);
        });
}

} // namespace vicinal
