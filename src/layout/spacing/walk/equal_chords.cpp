// Places whose chords are all equal, where stepping off from the first one does not lead to the last.
#include "layout/spacing/ruler.h"
#include <algorithm>
#include <cmath>
#include <limits>

namespace vicinal::spacing {
namespace {

/// A tridiagonal system by elimination with row exchanges; the answer stands in `right`. False when it has none.
/// Source: LAPACK, dgtsv.
bool solveTridiagonal(std::vector<double>& below, std::vector<double>& middle, std::vector<double>& above,
                      std::vector<double>& right) {
    const size_t n = middle.size();
    std::vector<double> second(n, 0); // above the one above, where rows were exchanged
    for (size_t i = 0; i + 1 < n; ++i) {
        if (std::abs(middle[i]) >= std::abs(below[i])) {
            if (middle[i] == 0) return false;
            const double k = below[i] / middle[i];
            middle[i + 1] -= k * above[i];
            right[i + 1] -= k * right[i];
        } else {
            const double k = middle[i] / below[i];
            middle[i] = below[i];
            const double was = middle[i + 1];
            middle[i + 1] = above[i] - k * was;
            above[i] = was;
            if (i + 2 < n) {
                second[i] = above[i + 1];
                above[i + 1] *= -k;
            }
            const double r = right[i];
            right[i] = right[i + 1];
            right[i + 1] = r - k * right[i];
        }
    }
    for (size_t i = n; i-- > 0;) {
        if (middle[i] == 0) return false;
        double v = right[i];
        if (i + 1 < n) v -= above[i] * right[i + 1];
        if (i + 2 < n) v -= second[i] * right[i + 2];
        right[i] = v / middle[i];
    }
    return true;
}

class EqualChords {
public:
    EqualChords(const Path& path, std::span<const ChordStep> steps) : m_path(path), m_steps(steps), m(steps.size()) {}

    struct Tried {
        std::vector<double> at;
        double spread = std::numeric_limits<double>::infinity();
    };

    /// Newton's method on the differences of neighbouring numbers, held back so that no place comes near the next one
    /// faster than half the way and the differences shrink.
    Tried from(std::vector<double> at, double close) {
        look(at);
        double merit = square();
        std::vector<double> next(at.size());
        for (int round = 0; round < 60 && spread() > close; ++round) {
            if (!direction()) break;
            double most = 1;
            for (size_t i = 0; i < m; ++i) { // places i and i + 1
                const double closer = (i > 0 ? m_go[i - 1] : 0) - (i + 1 < m ? m_go[i] : 0), gap = at[i + 1] - at[i];
                if (closer > 0.5 * gap) most = std::min(most, 0.5 * gap / closer);
            }
            bool better = false;
            for (double t = most; t > tolerance::alike && !better; t /= 2) {
                next = at;
                for (size_t i = 1; i < m; ++i) next[i] += t * m_go[i - 1];
                look(next);
                const double now = square();
                if (now < merit * (1 - 1e-4 * t)) better = true, merit = now, at = next;
            }
            if (!better) {
                look(at);
                break;
            }
        }
        return {std::move(at), spread()};
    }

private:
    /// Points, directions and what every step measures.
    void look(const std::vector<double>& at) {
        m_points.resize(m + 1);
        m_along.resize(m + 1);
        const double L = m_path.length();
        for (size_t i = 0; i <= m; ++i) {
            double s = at[i];
            if (m_path.closed()) {
                s = std::fmod(s, L);
                if (s < 0) s += L;
            }
            const Sample here = m_path.at(std::clamp(s, 0.0, L));
            m_points[i] = here.point;
            m_along[i] = here.tangent;
        }
        m_number.resize(m);
        for (size_t i = 0; i < m; ++i)
            m_number[i] = ((m_points[i + 1] - m_points[i]).norm() - m_steps[i].more) / m_steps[i].per;
    }
    double spread() const {
        const auto [least, most] = std::minmax_element(m_number.begin(), m_number.end());
        return *most - *least;
    }
    double square() const {
        double sum = 0;
        for (size_t i = 0; i + 1 < m; ++i) sum += (m_number[i + 1] - m_number[i]) * (m_number[i + 1] - m_number[i]);
        return sum;
    }
    bool direction() {
        std::vector<double> below(m - 1), middle(m - 1), above(m - 1);
        m_go.assign(m - 1, 0);
        const auto chord = [&](size_t i) { // from place i to i + 1
            const Vec3 d = m_points[i + 1] - m_points[i];
            const double n = d.norm();
            return n > 0 ? Vec3(d / n) : m_along[i];
        };
        for (size_t i = 1; i < m; ++i) { // number i less number i - 1, which meet at place i
            const Vec3 before = chord(i - 1), after = chord(i);
            const double p = m_steps[i - 1].per, q = m_steps[i].per;
            middle[i - 1] = -after.dot(m_along[i]) / q - before.dot(m_along[i]) / p;
            if (i > 1) below[i - 2] = before.dot(m_along[i - 1]) / p;
            if (i + 1 < m) above[i - 1] = after.dot(m_along[i + 1]) / q;
            m_go[i - 1] = -(m_number[i] - m_number[i - 1]);
        }
        return solveTridiagonal(below, middle, above, m_go) &&
               std::all_of(m_go.begin(), m_go.end(), [](double v) { return std::isfinite(v); });
    }

    const Path& m_path;
    std::span<const ChordStep> m_steps;
    size_t m;
    std::vector<Vec3> m_points, m_along;
    std::vector<double> m_number, m_go;
};

} // namespace

double evenChords(const Path& path, std::span<double> at, std::span<const ChordStep> steps) {
    const size_t m = steps.size();
    if (m < 2) return 0;
    EqualChords even(path, steps);
    // As the stretch is long, so that the same places are found at any scale.
    const double close = 3e-13 * (at.back() - at.front()) + 1e-15 * std::abs(at.back()), good = 1000 * close;
    auto best = even.from({at.begin(), at.end()}, close);
    // Where that ends in a dead end: from other places, the same on every machine, as long as the work is bearable.
    const double first = at.front(), last = at.back();
    const long starts = std::min<long>(40, long(400'000 / (m * 20)));
    for (long k = 1; k <= starts && best.spread > good; ++k) {
        std::vector<double> other(m + 1, first);
        double sum = 0;
        for (size_t i = 1; i <= m; ++i) other[i] = sum += 0.1 + chance(7, i, std::uint64_t(k));
        for (size_t i = 1; i <= m; ++i) other[i] = first + (last - first) * other[i] / sum;
        other[m] = last;
        auto now = even.from(std::move(other), close);
        if (now.spread < best.spread) best = std::move(now);
    }
    std::copy(best.at.begin(), best.at.end(), at.begin());
    return best.spread;
}

} // namespace vicinal::spacing
