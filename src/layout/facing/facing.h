#pragma once
#include "geometry/mesh/ground.h"
#include "geometry/path/path.h"
#include "layout/facing/rules.h"
#include "layout/seat.h"
#include <optional>
#include <vector>

namespace vicinal {

Mat3 extraTurn(const Facing&); ///< of all places alike
/// Of place i, from 0: with what is turned on from place to place.
Mat3 extraTurn(const Facing&, long i);
/// The facing with what the path itself says (the plane of Outward) worked out. Problem: no such plane, a direction
/// without a length.
Result<Facing> resolved(Facing, const Path&);
/// The path's own frame, that offsets, rows, tiers and nudges go by: the nose along it, the crown by its rule (plumb
/// where the part keeps the direction it was drawn in), without any turn.
Facing pathFacing(Facing);
/// What a nose at `point` is aimed at.
Vec3 aimOf(const Facing&, const Vec3& point);
/// A rotation whose nose points along `d` (unit) and whose crown is as near to R's as it goes.
Mat3 aimed(const Vec3& d, const Mat3& R);

/// Turns seat axes to world axes at each station (columns nose, side, crown; the extra turn included).
/// stations: rising, within 0 .. path.length(). partRotation: seatRotation of the part, used by AsDrawn.
/// Hands (index, point on the path, tangent, rotation) to `use`.
/// Near-vertical tangents have no heading: Plumb then blends between the headings before and after, Upright passes them
/// as Carried does (see Passages).
template<class Use>
void faceAt(const Path&, std::span<const double> stations, const Facing&, const Mat3& partRotation, Use&& use);

/// How upright crowns pass where a path goes straight up or down: carried along it, as Carried does, so that nothing
/// turns over within a step. What is left to the nearer of the two ways square to the path behind it, up or down, is
/// turned evenly on the way; where that is down, parts hang from there to the next such place. On a closed path that
/// would come back hanging, nothing hangs, and crowns turn over on the way.
class Passages {
public:
    explicit Passages(const Path&);
    struct Passage {
        double start, end; ///< stations of the stretch; of one over a seam, once before 0 and once beyond the end
        double from, to;   ///< radians from the carried crown, about the tangent
        bool hung, hangs;  ///< before it, behind it
    };
    bool empty() const { return m_all.empty(); }
    const std::vector<Passage>& all() const { return m_all; }
    /// Parts hang at a station that is not within a stretch.
    bool hangs(double station) const;
    /// The crown within a stretch, from the carried one there.
    Vec3 crown(double station, const Vec3& tangent, const Vec3& carried) const;

private:
    std::vector<Passage> m_all;
    double m_length;
};

/// Angles of a rotation from seat to world axes, radians: heading of the nose in plan, its slope, roll about it.
/// At a vertical nose the heading is that of the side less 90 degrees and the roll 0.
struct Angles {
    double heading = 0, slope = 0, roll = 0;
};
Angles anglesOf(const Mat3& R);

namespace detail {
double steepHeading(const Path&, double station);
inline Vec3 facingOnCorner(const Corner& c, CornerRule rule) {
    const Vec3 sum = c.before + c.after;
    if (rule == CornerRule::LegBefore) return c.before;
    return rule == CornerRule::LegAfter || sum.norm() < tolerance::alike ? c.after : Vec3(sum.normalized());
}
/// Points and tangents alone.
template<class Use> void tangentsAt(const Path& path, std::span<const double> stations, CornerRule rule, Use&& use) {
    const auto& corners = path.corners();
    size_t corner = 0;
    path.visit(stations, false, [&](size_t i, const Sample& sample) {
        const double s = stations[i];
        while (corner < corners.size() && corners[corner].station < s - tolerance::length) ++corner;
        const bool on = corner < corners.size() && corners[corner].station <= s + tolerance::length;
        use(i, sample.point, on ? facingOnCorner(corners[corner], rule) : sample.tangent);
    });
}
} // namespace detail

namespace detail {
/// One loop a crown rule: it is chosen once a run.
template<class C, class Use>
void faceAlong(const Path& path, std::span<const double> stations, const Facing& facing, Use&& use) {
    const Mat3 turn = extraTurn(facing);
    const bool turned = !facing.turn.isZero(0) || facing.backwards;
    const auto& corners = path.corners();
    size_t corner = 0;
    std::optional<Passages> passages;
    if constexpr (std::is_same_v<C, Upright>)
        if (!path.steepStretches().empty()) passages.emplace(path);
    path.visit(
        stations, std::is_same_v<C, Carried> || passages.has_value(),
        [&](size_t i, const Sample& sample) __attribute__((always_inline)) {
            Vec3 t = sample.tangent, crown = sample.carried;
            const double s = stations[i];
            while (corner < corners.size() && corners[corner].station < s - tolerance::length) ++corner;
            if (corner < corners.size() && corners[corner].station <= s + tolerance::length) {
                t = facingOnCorner(corners[corner], facing.corner);
                crown = carry(sample.point, sample.tangent, crown, sample.point, t);
            }
            Mat3 R;
            if constexpr (std::is_same_v<C, Outward> || std::is_same_v<C, Given> || std::is_same_v<C, OffSurface>) {
                Vec3 up;
                if constexpr (std::is_same_v<C, Outward>)
                    up = t.cross(facing.loopNormal);
                else if constexpr (std::is_same_v<C, OffSurface>)
                    up = facing.standsOff->nearest(sample.point).normal;
                else
                    up = facing.direction;
                up -= t * t.dot(up);
                const double n = up.norm();
                up = n > tolerance::rounding ? Vec3(up / n) : anyNormal(t);
                R.col(0) = t;
                R.col(1) = up.cross(t);
                R.col(2) = up;
            } else if constexpr (std::is_same_v<C, Carried>) {
                R.col(0) = t;
                R.col(1) = crown.cross(t);
                R.col(2) = crown;
            } else {
                const double flat2 = t.x() * t.x() + t.y() * t.y();
                const bool steep = flat2 <= tolerance::steep * tolerance::steep;
                double cx, cy; // heading as cosine and sine
                if (!steep) {
                    const double f = 1 / std::sqrt(flat2);
                    cx = t.x() * f;
                    cy = t.y() * f;
                } else {
                    const double h = steepHeading(path, s);
                    cx = std::cos(h);
                    cy = std::sin(h);
                }
                if constexpr (std::is_same_v<C, Plumb>) {
                    R.col(0) = Vec3(cx, cy, 0);
                    R.col(1) = Vec3(-cy, cx, 0);
                    R.col(2) = Vec3::UnitZ();
                } else {
                    Vec3 up = t.cross(Vec3(-cy, cx, 0));
                    if (passages) {
                        if (steep)
                            up = passages->crown(s, t, crown);
                        else if (passages->hangs(s))
                            up = -up;
                    }
                    R.col(0) = t;
                    R.col(1) = up.cross(t);
                    R.col(2) = up;
                }
            }
            use(i, sample.point, t, turned ? Mat3(R * turn) : R);
        });
}
} // namespace detail

template<class Use> void faceAt(const Path& path, std::span<const double> stations, const Facing& facing,
                                const Mat3& partRotation, Use&& use) {
    if (std::holds_alternative<AsDrawn>(facing.nose)) {
        const Mat3 drawn = partRotation.transpose() * extraTurn(facing);
        detail::tangentsAt(path, stations, facing.corner,
                           [&](size_t i, const Vec3& point, const Vec3& t) { use(i, point, t, drawn); });
        return;
    }
    if (std::holds_alternative<AtTarget>(facing.nose)) {
        const Mat3 turn = extraTurn(facing);
        Facing along = facing;
        along.nose = AlongPath{};
        along.turn.setZero();
        along.backwards = false;
        const auto aim = [&](size_t i, const Vec3& point, const Vec3& t, const Mat3& R) {
            const Vec3 d = aimOf(facing, point) - point;
            use(i, point, t, d.norm() > tolerance::length ? Mat3(aimed(d.normalized(), R) * turn) : Mat3(R * turn));
        };
        std::visit(
            [&](const auto& crown) { detail::faceAlong<std::decay_t<decltype(crown)>>(path, stations, along, aim); },
            facing.crown);
        return;
    }
    std::visit(
        [&](const auto& crown) { detail::faceAlong<std::decay_t<decltype(crown)>>(path, stations, facing, use); },
        facing.crown);
}

} // namespace vicinal
