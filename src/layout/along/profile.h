#pragma once
// A value that changes along a run: keys at stations, straight or smooth between them.
#include "base/result.h"
#include <optional>
#include <span>
#include <vector>

namespace vicinal {

struct Key {
    double at = 0;    ///< mm along the path, or 0..1 of its length where the profile stretches with it
    double value = 0; ///< mm, radians or a factor, as what it is a profile of
    bool operator==(const Key&) const = default;
};

/// Before the first key and after the last the value stays. On a closed path it goes on from the last key to the first.
struct Profile {
    std::vector<Key> keys{}; ///< in order; none: the value is what its owner says
    bool smooth = false;     ///< monotone cubic between keys (never beyond them), else straight
    bool stretches = false;  ///< keys keep their share of the path's length, not their station
    bool operator==(const Profile&) const = default;
    bool empty() const { return keys.empty(); }
};

/// Keys that are no numbers, out of order, at one station, or (share of length) outside 0..1. `field`: of the problem.
std::optional<Problem> defectOf(const Profile&, const char* field);

/// A profile laid along a path of a length: what is asked for at every station.
/// Smooth: monotone cubic interpolation after Fritsch and Carlson, "Monotone Piecewise Cubic Interpolation", SIAM J.
/// Numer. Anal. 17(2), 1980; the slopes of the three-point harmonic mean.
class ProfileCurve {
public:
    ProfileCurve() = default;
    /// `otherwise`: the value when the profile has no key. Precondition: the profile has no defect.
    ProfileCurve(const Profile&, double length, bool closed, double otherwise);
    bool constant() const { return m_pieces.empty(); }
    double at(double station) const; ///< any order; on a closed path the station wraps
    /// Stations, rising, between which it is one cubic: where it bends.
    std::vector<double> breaks() const;
    double least() const { return m_least; }
    double most() const { return m_most; }

    /// One stretch: value = c0 + c1 x + c2 x^2 + c3 x^3 with x = s - s0.
    struct Piece {
        double s0, s1, c[4];
        double at(double s) const {
            const double x = s - s0;
            return c[0] + x * (c[1] + x * (c[2] + x * c[3]));
        }
    };
    const std::vector<Piece>& pieces() const { return m_pieces; } ///< cover 0..length; none when constant

private:
    double m_value = 0, m_length = 0, m_least = 0, m_most = 0;
    bool m_closed = false;
    std::vector<Piece> m_pieces;
};

} // namespace vicinal
