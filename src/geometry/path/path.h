#pragma once
#include "base/result.h"
#include "geometry/path/span.h"
#include <limits>
#include <memory>
#include <optional>
#include <span>

namespace vicinal {

/// Where the direction of a path jumps.
struct Corner {
    double station;     ///< mm
    Vec3 before, after; ///< unit tangents
};

/// A stretch where the tangent is so near to vertical that it has no heading of its own; the heading is carried over
/// from `from` at station `start` to `to` at station `end` (radians, |to - from| <= pi).
struct SteepStretch {
    double start, end, from, to;
};

/// What a path is like at one station.
struct Sample {
    Vec3 point;
    Vec3 tangent; ///< unit; just after the station at a corner
    Vec3 carried =
        Vec3::Zero(); ///< unit, square to tangent: crown of the least-twisting frame; only where it was asked for
};

/// A path: smooth spans that meet, with arc length and frames. A value: copies share the tables, nothing can change.
/// Stations are in mm from the start, 0 .. length(). On a closed path they wrap.
class Path {
public:
    /// Builds a path from segments, each of which starts where the one before ends.
    /// Problem when there is no segment, one is defective, the ends are more than `gapTolerance` mm apart (says where),
    /// or the whole length is below tolerance::length. Segments shorter than tolerance::length are left out.
    static Result<Path> make(const std::vector<Segment>& segments, bool closed, double gapTolerance = 1e-4);

    double length() const;
    bool closed() const;
    const std::vector<Span>& spans() const;
    /// The segments it was made of; Span::segment counts through them.
    const std::vector<Segment>& segments() const;
    /// Corners in order; on a closed path the seam too (station 0) when it is one.
    const std::vector<Corner>& corners() const;
    const std::vector<SteepStretch>& steepStretches() const;
    /// The largest |z| component of any tangent; 0 means the path is level. Radians-free sine.
    double steepest() const;
    Box3 bounds() const; ///< exact
    /// A box that holds the path, larger than bounds() where it is curved; known from the start.
    const Box3& hull() const;

    /// One station, any order: about a microsecond.
    Sample at(double station, bool carried = false) const;
    /// Many stations in rising order, each within 0 .. length(); `out` has the same size. One sweep, no search: about
    /// 40 ns each. Points agree with the exact ones within tolerance::station; the answer for a station does not depend
    /// on the others beyond that.
    void sample(std::span<const double> stations, bool carried, std::span<Sample> out) const;
    /// The same, handing each sample to `use(index, sample)`; for loops too hot to store samples.
    template<class Use> void visit(std::span<const double> stations, bool carried, Use&& use) const;

    /// Span and its parameter at a station, within 0 .. length().
    struct Locus {
        size_t span;
        double t;
    };
    Locus locate(double station) const;

    /// Station of the point of the path nearest to `p` (one of them, when several are).
    double closest(const Vec3& p) const;
    /// Points close enough to draw the path: no chord leaves it by more than `sag` mm. Ends included.
    std::vector<Vec3> polyline(double sag) const;
    /// The angle (rad) by which the least-twisting frame misses itself after once round; 0 on open paths.
    double closingTwist() const;

    struct Body; // see path_body.h
private:
    std::shared_ptr<const Body> m_body;
};

/// Straight and circular pieces and spline pieces through points. `smooth[i]` false makes point i a corner.
enum class Knotting {
    Centripetal, ///< parameter steps as the square root of the distance: no overshoot at uneven points
    ChordLength, ///< parameter steps as the distance
};
/// C2 cubic spline through the points (natural at its ends and at corners, periodic when closed without a corner);
/// between two corners a straight line. Neighbouring points closer than tolerance::length count as one.
/// Source: de Boor, "A Practical Guide to Splines", 1978, ch. IV; knots after Lee, "Choosing nodes in parametric curve
/// interpolation", CAD 21(6), 1989. Empty when fewer than two different points are left.
std::vector<Segment> throughPoints(std::span<const Vec3> points, std::span<const bool> smooth, bool closed,
                                   Knotting knotting = Knotting::Centripetal);

} // namespace vicinal

#include "geometry/path/path_body.h"
