#pragma once
// What a part takes up along a path, tabulated. Between the stations where it jumps it is a polynomial a piece, cut
// until it agrees to 1e-10 mm.
#include "layout/spacing/walk/occupancy.h"
#include <algorithm>
#include <vector>

namespace vicinal {

/// A part within tolerance::length of a corner faces as on it; the table keeps clear of that.
inline constexpr double kCornerReach = 1.5 * tolerance::length;

class OccupancyTable {
public:
    static constexpr int kTerms = 8;
    static double horner(const double* c, double x) {
        double v = c[kTerms - 1];
        for (int i = kTerms - 2; i >= 0; --i) v = v * x + c[i];
        return v;
    }
    /// A stretch over which the occupancy is smooth.
    struct Piece {
        double s0 = 0, s1 = 0;
        double ahead[kTerms] = {}, behind[kTerms] = {};
        int corner = -1;                 ///< the one just behind its end
        bool rising = true;              ///< the back edge only goes forward over it
        double backMost = 0;             ///< farthest that the back edge comes
        double backAt0 = 0, backAt1 = 0; ///< where it stands at either end
        double perHalf = 0;              ///< 2 / (s1 - s0)
        double x(double s) const { return std::clamp((2 * s - s0 - s1) * (0.5 * perHalf), -1.0, 1.0); }
        Occupied at(double s) const {
            const double u = x(s);
            return {horner(ahead, u), horner(behind, u)};
        }
        double back(double s) const { return s - horner(behind, x(s)); }
    };
    /// In order. Next to a corner they leave a little room: a part so near to it faces as on it.
    std::vector<Piece> pieces;
    std::vector<std::pair<double, Occupied>> corners; ///< stations of corners and what a part takes up just there
    double mean = 0, leastBehind = 0;

    size_t find(double s) const {
        const auto it =
            std::upper_bound(pieces.begin(), pieces.end(), s, [](double v, const Piece& p) { return v < p.s0; });
        return it == pieces.begin() ? 0 : size_t(it - pieces.begin()) - 1;
    }
    /// The corner so near to a station that the table leaves room for it, if there is one.
    const std::pair<double, Occupied>* cornerNear(double s) const {
        const auto it = std::lower_bound(corners.begin(), corners.end(), s - kCornerReach,
                                         [](const auto& c, double v) { return c.first < v; });
        return it != corners.end() && it->first <= s + kCornerReach ? &*it : nullptr;
    }
};

/// `box`: of the part, as it is seated.
OccupancyTable tableOf(const Occupancy&, const Box3& box);

} // namespace vicinal
