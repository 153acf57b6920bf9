#include "geometry/wheels/hull.h"
#include <algorithm>
#include <numeric>

namespace vicinal {

std::vector<size_t> convexHull(std::span<const Vec2> points) {
    std::vector<size_t> order(points.size()), hull;
    std::iota(order.begin(), order.end(), size_t(0));
    if (points.size() < 2) return order;
    std::sort(order.begin(), order.end(), [&](size_t a, size_t b) {
        return points[a].x() != points[b].x() ? points[a].x() < points[b].x() : points[a].y() < points[b].y();
    });
    for (int pass = 0; pass < 2; ++pass) { // below from left to right, above and back
        const size_t base = hull.size();
        for (size_t k : order) {
            while (hull.size() >= base + 2) {
                const Vec2 u = points[hull.back()] - points[hull[hull.size() - 2]], v = points[k] - points[hull.back()];
                if (u.x() * v.y() - u.y() * v.x() > 0) break;
                hull.pop_back();
            }
            hull.push_back(k);
        }
        hull.pop_back(); // begins the other half
        std::reverse(order.begin(), order.end());
    }
    return hull;
}

} // namespace vicinal
