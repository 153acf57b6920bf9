#include "layout/spacing/walk/occupancy.h"
#include "layout/spacing/spacing.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <mutex>

namespace vicinal {
namespace {

constexpr int kTerms = 8;
/// A table larger than this is no gain; what is left is taken as it is (only wild curves come near it).
constexpr size_t kMostPieces = 400'000;
/// A part within tolerance::length of a corner faces as on it; the table keeps clear of that.
constexpr double kCornerReach = 1.5 * tolerance::length;

/// Chebyshev nodes of a piece and the matrix from values at them to powers of x in -1..1.
struct Fitting {
    std::array<double, kTerms> x;                           // rising
    std::array<std::array<double, kTerms>, kTerms> toPower; // power <- node
    Fitting() {
        for (int k = 0; k < kTerms; ++k) x[k] = -std::cos((2 * k + 1) * kPi / (2 * kTerms));
        std::array<std::array<double, kTerms>, kTerms> cheb{}; // Chebyshev polynomial -> powers
        cheb[0][0] = 1;
        cheb[1][1] = 1;
        for (int n = 2; n < kTerms; ++n)
            for (int p = 0; p < kTerms; ++p) cheb[n][p] = (p > 0 ? 2 * cheb[n - 1][p - 1] : 0) - cheb[n - 2][p];
        for (int p = 0; p < kTerms; ++p)
            for (int k = 0; k < kTerms; ++k) {
                double sum = 0;
                for (int n = 0; n < kTerms; ++n)
                    sum += cheb[n][p] * (n == 0 ? 1.0 : 2.0) / kTerms * std::cos(n * std::acos(x[k]));
                toPower[p][k] = sum;
            }
    }
};

const Fitting& fitting() {
    static const Fitting f;
    return f;
}

double horner(const double* c, double x) {
    double v = c[kTerms - 1];
    for (int i = kTerms - 2; i >= 0; --i) v = v * x + c[i];
    return v;
}

} // namespace

class OccupancyTable {
public:
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
    /// The corner at a station, if there is one.
    const Occupied* cornerAt(double s) const {
        const auto it = std::lower_bound(corners.begin(), corners.end(), s - kCornerReach,
                                         [](const auto& c, double v) { return c.first < v; });
        return it != corners.end() && it->first <= s + kCornerReach ? &it->second : nullptr;
    }
};

namespace {

using Piece = OccupancyTable::Piece;

class TableMaker {
public:
    TableMaker(const Occupancy& part, const Box3& box) : m_part(part), m_path(part.path()) {
        // no finer than the path's own stations
        m_allowed = tolerance::station + 1e-13 * box.sizes().maxCoeff() + 4e-15 * m_path.length();
    }

    OccupancyTable make() {
        std::vector<double> stations;
        for (const auto& c : m_path.corners()) stations.push_back(c.station);
        const auto there = m_part.at(stations);
        for (size_t i = 0; i < stations.size(); ++i) m_out.corners.emplace_back(stations[i], there[i]);
        if (m_path.closed() && !stations.empty() && stations.front() == 0)
            m_out.corners.emplace_back(m_path.length(), there.front());
        std::vector<double> breaks{0, m_path.length()};
        for (const auto& s : m_path.spans()) breaks.push_back(s.start);
        for (const auto& z : m_path.steepStretches())
            for (double s : {z.start, z.end})
                if (s > 0 && s < m_path.length()) breaks.push_back(s);
        for (double s : m_part.breaks()) breaks.push_back(s);
        std::sort(breaks.begin(), breaks.end());
        breaks.erase(std::unique(breaks.begin(), breaks.end()), breaks.end());
        size_t c = 0; // corners are always between spans
        for (size_t i = 1; i < breaks.size(); ++i) {
            double from = breaks[i - 1], to = breaks[i];
            while (c < m_out.corners.size() && m_out.corners[c].first < from - tolerance::length) ++c;
            const auto isCorner = [&](size_t k, double s) {
                return k < m_out.corners.size() && std::abs(m_out.corners[k].first - s) <= tolerance::length;
            };
            if (isCorner(c, from)) {
                from += kCornerReach;
                ++c;
            }
            const bool ends = isCorner(c, to);
            if (ends) to -= kCornerReach;
            if (to > from) m_todo.push_back({from, to, ends ? int(c) : -1});
        }
        while (!m_todo.empty()) cutAll();
        std::sort(m_out.pieces.begin(), m_out.pieces.end(), [](const auto& a, const auto& b) { return a.s0 < b.s0; });
        for (auto& piece : m_out.pieces) finish(piece);
        m_out.mean /= m_path.length();
        return std::move(m_out);
    }

private:
    struct Stretch {
        double from, to;
        int corner; ///< just behind its end
        double at(double x) const { return std::clamp((from + to + x * (to - from)) / 2, from, to); }
        bool tiny() const { return to - from < 1e-7; } ///< across a jump: half and half
    };

    /// One round: a piece over every stretch, all asked for in one sweep along the path; what does not fit is halved.
    void cutAll() {
        const auto& f = fitting();
        constexpr std::array<double, 4> checks{-0.999, -0.41, 0.27, 0.999};
        constexpr size_t each = kTerms + checks.size();
        std::array<std::pair<double, int>, each> order; // nodes and checks rising: the sweep wants that
        for (int k = 0; k < kTerms; ++k) order[size_t(k)] = {f.x[size_t(k)], k};
        for (int k = 0; k < int(checks.size()); ++k)
            order[size_t(kTerms) + size_t(k)] = {checks[size_t(k)], kTerms + k};
        std::sort(order.begin(), order.end());
        std::vector<double> stations;
        stations.reserve(m_todo.size() * each);
        for (const Stretch& t : m_todo)
            for (const auto& o : order) stations.push_back(t.at(t.tiny() ? 0 : o.first));
        const auto values = m_part.at(std::span<const double>(stations));
        std::vector<Stretch> next;
        for (size_t n = 0; n < m_todo.size(); ++n) {
            const Stretch& t = m_todo[n];
            std::array<Occupied, each> is;
            for (size_t i = 0; i < each; ++i) is[size_t(order[i].second)] = values[n * each + i];
            Piece p;
            p.s0 = t.from;
            p.s1 = t.to;
            p.perHalf = t.to > t.from ? 2 / (t.to - t.from) : 0;
            for (size_t q = 0; q < kTerms; ++q)
                for (size_t k = 0; k < kTerms; ++k) {
                    p.ahead[q] += f.toPower[q][k] * is[k].ahead;
                    p.behind[q] += f.toPower[q][k] * is[k].behind;
                }
            double miss = 0;
            for (size_t k = 0; k < checks.size(); ++k) {
                const Occupied fitted = p.at(t.at(checks[k]));
                miss = std::max({miss, std::abs(fitted.ahead - is[kTerms + k].ahead),
                                 std::abs(fitted.behind - is[kTerms + k].behind)});
            }
            if (!(miss <= m_allowed) && !t.tiny() && m_out.pieces.size() + next.size() < kMostPieces) {
                const double middle = (t.from + t.to) / 2;
                next.push_back({t.from, middle, -1});
                next.push_back({middle, t.to, t.corner});
            } else {
                p.corner = t.corner;
                m_out.pieces.push_back(p);
            }
        }
        m_todo = std::move(next);
    }

    void finish(Piece& p) {
        const double h = p.s1 - p.s0;
        double before = p.back(p.s0);
        p.backAt0 = p.backMost = before;
        constexpr int n = 8;
        for (int i = 0; i <= n; ++i) {
            const double s = p.s0 + h * i / n, back = p.back(s), total = p.at(s).total();
            if (back < before) p.rising = false;
            before = back;
            p.backMost = std::max(p.backMost, back);
            m_out.leastBehind = std::min(m_out.leastBehind, p.at(s).behind);
            m_out.mean += total * h / (n + 1);
        }
        p.backAt1 = before;
        if (!p.rising) p.backMost = std::max(p.backMost, p.s1 - p.at(p.s1).behind) + h; // never skipped unseen
    }

    const Occupancy& m_part;
    const Path& m_path;
    double m_allowed;
    std::vector<Stretch> m_todo;
    OccupancyTable m_out;
};

/// Where the back edge comes to F within a piece over which it only rises; it is below F at lo (where it stands at
/// backLo) and not at hi. Newton, kept inside by bisection.
double onlyOne(const Piece& p, double F, double lo, double hi, double backLo) {
    const double quick = p.s1 - p.s0 > 1e-3 ? 1e-7 : 0; // from here one more step is exact to rounding
    double a = lo, b = hi, s = std::clamp(F + lo - backLo, a, b);
    for (int i = 0; i < 60; ++i) {
        const double x = p.x(s);
        double value = p.behind[kTerms - 1], slope = 0;
        for (int k = kTerms - 2; k >= 0; --k) {
            slope = slope * x + value;
            value = value * x + p.behind[k];
        }
        const double f = s - value - F;
        slope = std::max(1 - slope * p.perHalf, 0.01);
        (f < 0 ? a : b) = s;
        if (std::abs(f) < 1e-11 || b - a < 1e-12) break;
        s -= f / slope;
        if (!(s > a && s < b))
            s = (a + b) / 2;
        else if (std::abs(f) < quick)
            break;
    }
    return s;
}

/// The first station at which the back edge comes to F in a piece where it also goes backwards; NaN when it never does.
double firstOf(const Piece& p, double F, double lo, double hi) {
    constexpr int n = 32;
    for (int i = 0; i < n; ++i) {
        double a = lo + (hi - lo) * i / n, b = lo + (hi - lo) * (i + 1) / n;
        if (p.back(b) < F) continue;
        for (int k = 0; k < 60; ++k) (p.back((a + b) / 2) < F ? a : b) = (a + b) / 2;
        return b;
    }
    return std::numeric_limits<double>::quiet_NaN();
}

} // namespace

namespace {
Occupied scaled(const Occupied& o, double k) { return {o.ahead * k, o.behind * k}; }
} // namespace

struct Occupancy::Lazy {
    std::once_flag once;
    OccupancyTable table;
};

Occupancy::Occupancy(Path path, Facing facing, const Mat3& partRotation, const Box3& box,
                     std::optional<ProfileCurve> size, std::optional<OnPins> pins, Changing changing)
    : m_path(std::move(path)), m_facing(std::move(facing)), m_partRotation(partRotation), m_box(box),
      m_size(std::move(size)), m_pins(std::move(pins)), m_changing(std::move(changing)), m_turn(extraTurn(m_facing)),
      m_lazy(std::make_shared<Lazy>()) {
    assert(!box.isEmpty());
    if (auto whole = resolved(m_facing, m_path)) m_facing = *whole; // a problem is told by who lays the places
    const bool plumb = std::holds_alternative<Plumb>(m_facing.crown);
    if (std::holds_alternative<AsDrawn>(m_facing.nose) || std::holds_alternative<AtTarget>(m_facing.nose))
        m_kind = Kind::Reach;
    else if (std::holds_alternative<BetweenPins>(m_facing.nose) && m_pins)
        m_kind = Kind::TwoPoints;
    else if (plumb)
        m_kind = Kind::Plan;
    // A roll about the nose does not change what a part takes up along it.
    const bool looksAlong = std::abs(m_turn(2, 0)) < tolerance::angle && std::abs(m_turn(1, 0)) < tolerance::angle;
    const bool steep = m_kind == Kind::Plan && !m_path.steepStretches().empty();
    if (m_kind != Kind::Reach && looksAlong && !steep) m_changing.roll.reset();
    if (m_changing.roll && m_changing.roll->constant() && m_changing.roll->at(0) == 0) m_changing.roll.reset();
    const bool level = m_path.steepest() <= tolerance::angle;
    m_constant = m_kind == Kind::Square || (m_kind == Kind::Plan && level);
    const double factor = m_size ? m_size->at(0) : 1;
    if ((m_size && !m_size->constant()) || m_changing.roll) m_constant = false;
    if (m_constant) m_fixed = scaled(of(Vec3::UnitX(), extraTurn(m_facing)), factor);
}

const OccupancyTable& Occupancy::table() const {
    std::call_once(m_lazy->once, [&] { m_lazy->table = TableMaker(*this, m_box).make(); });
    return m_lazy->table;
}

Occupied Occupancy::straightAt(double station) const {
    if (!onPins()) return at(station);
    const double size = sizeAt(station);
    return between(*m_pins, size, size * m_pins->apart);
}

std::vector<double> Occupancy::breaks() const {
    std::vector<double> out;
    for (const auto* curve : {&m_size, &m_changing.roll, &m_changing.across, &m_changing.up})
        if (*curve) {
            const auto more = (*curve)->breaks();
            out.insert(out.end(), more.begin(), more.end());
        }
    return out;
}

double Occupancy::mean() const { return m_constant ? m_fixed.total() : table().mean; }

Occupied Occupancy::apart(const Vec3& direction, const Mat3& R) const {
    Occupied best;
    double least = std::numeric_limits<double>::infinity();
    for (int a = 0; a < 3; ++a) {
        const double c = direction.dot(R.col(a)), lo = m_box.min()[a], hi = m_box.max()[a];
        if (std::abs(c) * least <= (hi - lo) || std::abs(c) < tolerance::angle) continue;
        least = (hi - lo) / std::abs(c);
        best = c > 0 ? Occupied{hi / c, -lo / c} : Occupied{lo / c, -hi / c};
    }
    return best;
}

Occupied Occupancy::of(const Vec3& tangent, const Mat3& R) const {
    if (m_kind == Kind::Reach) {
        Occupied out;
        for (int a = 0; a < 3; ++a) {
            const double c = tangent.dot(R.col(a)), lo = c * m_box.min()[a], hi = c * m_box.max()[a];
            out.ahead += std::max(lo, hi);
            out.behind -= std::min(lo, hi);
        }
        return out;
    }
    if (m_kind == Kind::Plan) {
        const double flat = std::hypot(tangent.x(), tangent.y());
        if (flat > tolerance::steep) return scaled(apart(Vec3(tangent.x() / flat, tangent.y() / flat, 0), R), 1 / flat);
    }
    return apart(tangent, R);
}

Occupancy::OnPins Occupancy::pinsOf(const std::array<Vec3, 2>& pins, const Box3& box) {
    OnPins out;
    const Vec3 d = pins[1] - pins[0];
    out.apart = d.norm();
    if (!(out.apart > tolerance::length)) return out;
    const Vec3 along = d / out.apart;
    double least = 0, most = 0; // of the box, measured from the back pin
    for (int a = 0; a < 3; ++a) {
        const double lo = along[a] * (box.min()[a] - pins[0][a]), hi = along[a] * (box.max()[a] - pins[0][a]);
        least += std::min(lo, hi);
        most += std::max(lo, hi);
    }
    out.back = -least;
    out.front = most - out.apart;
    return out;
}

Occupied Occupancy::between(const OnPins& p, double size, double length) {
    return {length + size * p.front, size * p.back};
}

Occupied Occupancy::onPath(double station) const {
    const double k = sizeAt(station), apart = k * m_pins->apart, to = chordFrom(m_path, station, apart);
    return between(*m_pins, k, std::isnan(to) ? apart : to - station); // that there is none, who lays the places says
}

Occupied Occupancy::at(double station) const {
    if (m_constant) return m_fixed;
    return at(std::span<const double>(&station, 1)).front();
}

std::vector<Occupied> Occupancy::at(std::span<const double> stations) const {
    std::vector<Occupied> out(stations.size(), m_fixed);
    if (m_constant) return out;
    if (m_kind == Kind::TwoPoints) {
        std::transform(stations.begin(), stations.end(), out.begin(), [&](double s) { return onPath(s); });
        return out;
    }
    const bool aims = std::holds_alternative<AtTarget>(m_facing.nose);
    const auto wrap = size_t(std::is_sorted_until(stations.begin(), stations.end()) - stations.begin());
    const auto sweeps = [&](const Facing& facing, auto&& use) {
        for (const auto& [from, count] : {std::pair{size_t(0), wrap}, {wrap, stations.size() - wrap}})
            faceAt(
                m_path, stations.subspan(from, count), facing, m_partRotation,
                [&, first = from](size_t i, const Vec3& p, const Vec3& t, const Mat3& R) { use(first + i, p, t, R); });
    };
    const auto sized = [&] {
        if (m_size)
            for (size_t i = 0; i < out.size(); ++i) out[i] = scaled(out[i], m_size->at(stations[i]));
        return std::move(out);
    };
    if (!aims && !m_changing.roll) { // the extra turn is all there is
        sweeps(m_facing, [&](size_t i, const Vec3&, const Vec3& t, const Mat3& R) { out[i] = of(t, R); });
        return sized();
    }
    Facing base = m_facing; // before it is aimed, rolled and turned
    if (aims) base = pathFacing(m_facing);
    base.turn.setZero();
    base.backwards = false;
    sweeps(base, [&](size_t i, const Vec3& p, const Vec3& t, const Mat3& F) {
        const double s = stations[i];
        Mat3 R = F;
        if (aims) {
            Vec3 move = m_changing.move;
            if (m_changing.across) move.y() += m_changing.across->at(s);
            if (m_changing.up) move.z() += m_changing.up->at(s);
            const Vec3 seat = p + F * move, d = aimOf(m_facing, seat) - seat;
            if (d.norm() > tolerance::length) R = aimed(d.normalized(), F);
        }
        if (m_changing.roll) R *= Eigen::AngleAxisd(m_changing.roll->at(s), Vec3::UnitX()).toRotationMatrix();
        out[i] = of(t, R * m_turn);
    });
    return sized();
}

GapWalk::GapWalk(const Occupancy& part)
    : m_part(part), m_table(part.constant() || part.m_seldom ? nullptr : &part.table()), m_length(part.path().length()),
      m_closed(part.path().closed()) {}

bool GapWalk::ask(double edge) {
    const auto there = [&](double s) {
        double at = s - lapOf(s);
        return m_part.at(std::clamp(at, 0.0, m_length));
    };
    double s = std::max(m_station, edge);
    for (int i = 0; i < 30; ++i) {
        const Occupied o = there(s);
        const double to = std::max(m_station, edge + o.behind);
        if (std::abs(to - s) < tolerance::station) {
            m_station = to;
            m_occupied = o;
            return true;
        }
        s = to;
    }
    return false; // its length jumps there
}

void GapWalk::tabulate() {
    m_table = &m_part.table();
    start(m_station);
}

double GapWalk::lapOf(double station) const {
    if (!m_closed || (station >= 0 && station < m_length)) return 0;
    return std::floor(station / m_length) * m_length;
}

Occupied GapWalk::start(double station) {
    m_station = station;
    if (!m_table) return m_occupied = m_part.at(std::clamp(station - lapOf(station), 0.0, m_length));
    m_lap = lapOf(station);
    const double s = std::clamp(station - m_lap, 0.0, m_length);
    m_piece = m_table->find(s);
    if (m_part.onPins()) return m_occupied = m_part.at(s);
    const Occupied* corner = m_table->cornerAt(s);
    return m_occupied = corner ? *corner : m_table->pieces[m_piece].at(s);
}

bool GapWalk::stand(size_t k, double F) {
    const auto& [station, occupied] = m_table->corners[k];
    if (!(station + m_lap > m_station + tolerance::length && station - occupied.behind >= F - 1e-9)) return false;
    m_station = station + m_lap;
    m_occupied = occupied;
    return true;
}

double GapWalk::reach(double edge) {
    if (!m_table && !m_part.constant()) {
        if (ask(edge)) return m_station;
        tabulate();
    }
    if (!m_table) {
        m_station = std::max(m_station, edge + m_occupied.behind);
        return m_station;
    }
    const auto& pieces = m_table->pieces;
    if (m_closed) { // whole laps that are passed in any case (a part longer than the loop)
        const double laps = std::floor((edge + m_table->leastBehind - m_station) / m_length) - 1;
        if (laps > 0) m_lap += laps * m_length;
    }
    while (true) {
        const Piece& p = pieces[m_piece];
        const double F = edge - m_lap, lo = std::max(m_station - m_lap, p.s0), hi = p.s1;
        if (lo <= hi && p.backMost >= F) {
            const double backLo = lo > p.s0 ? back() - m_lap : p.backAt0; // there it stands already
            double at = std::numeric_limits<double>::quiet_NaN();
            if (backLo >= F)
                at = lo;
            else if (!p.rising)
                at = firstOf(p, F, lo, hi);
            else if (p.backAt1 >= F)
                at = onlyOne(p, F, lo, hi, backLo);
            if (!std::isnan(at)) {
                m_station = at + m_lap;
                m_occupied = m_part.onPins() ? m_part.at(at) : p.at(at);
                return m_station;
            }
        }
        if (p.corner >= 0 && stand(size_t(p.corner), F)) return m_station;
        if (m_piece + 1 < pieces.size()) {
            ++m_piece;
        } else if (m_closed) {
            m_piece = 0;
            m_lap += m_length;
        } else { // beyond the end
            m_occupied = p.at(hi);
            m_station = std::max(m_station, edge + m_occupied.behind);
            return m_station;
        }
    }
}

} // namespace vicinal
