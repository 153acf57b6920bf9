// From place to place by clear gap, along the table of what a part takes up.
#include "base/numeric/solve.h"
#include "layout/spacing/walk/occupancy_table.h"
#include <cmath>
#include <limits>

namespace vicinal {
namespace {

/// Where the back edge comes to F within a piece over which it only rises; it is below F at lo (where it stands at
/// backLo) and not at hi. Newton, kept inside by bisection.
double onlyOne(const OccupancyTable::Piece& p, double F, double lo, double hi, double backLo) {
    const double quick = p.s1 - p.s0 > 1e-3 ? 1e-7 : 0; // from here one more step is exact to rounding
    double a = lo, b = hi, s = std::clamp(F + lo - backLo, a, b);
    for (int i = 0; i < 60; ++i) {
        const double x = p.x(s);
        double value = p.behind[OccupancyTable::kTerms - 1], slope = 0;
        for (int k = OccupancyTable::kTerms - 2; k >= 0; --k) {
            slope = slope * x + value;
            value = value * x + p.behind[k];
        }
        const double f = s - value - F;
        slope = std::max(1 - slope * p.perHalf, 0.01);
        (f < 0 ? a : b) = s;
        if (std::abs(f) < 1e-11 || b - a < tolerance::fine) break;
        s -= f / slope;
        if (!(s > a && s < b))
            s = (a + b) / 2;
        else if (std::abs(f) < quick)
            break;
    }
    return s;
}

/// The first station at which the back edge comes to F in a piece where it also goes backwards; NaN when it never does.
double firstOf(const OccupancyTable::Piece& p, double F, double lo, double hi) {
    constexpr int n = 32;
    for (int i = 0; i < n; ++i) {
        const double a = lo + (hi - lo) * i / n, b = lo + (hi - lo) * (i + 1) / n;
        if (p.back(b) < F) continue;
        return halved(a, b, 60, [&](double s) { return p.back(s) < F; }).second;
    }
    return std::numeric_limits<double>::quiet_NaN();
}

} // namespace

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
    if (const auto* corner = m_table->cornerNear(s)) {
        if (std::abs(s - corner->first) <= tolerance::length) return m_occupied = corner->second;
        // In the little room that is left behind it: as where the next piece begins.
        if (s > corner->first && m_table->pieces[m_piece].s1 < s && m_piece + 1 < m_table->pieces.size()) ++m_piece;
    }
    return m_occupied = m_table->pieces[m_piece].at(s);
}

bool GapWalk::stand(size_t k, double F) {
    const auto& [station, occupied] = m_table->corners[k];
    if (!(station + m_lap > m_station + tolerance::length && station - occupied.behind >= F - tolerance::rounding))
        return false;
    m_station = station + m_lap;
    m_occupied = occupied;
    return true;
}

bool GapWalk::beyondJump(double F) {
    const auto& pieces = m_table->pieces;
    const double at = pieces[m_piece].s0 + tolerance::length;
    size_t k = m_piece;
    while (pieces[k].s1 < at && pieces[k].corner < 0 && k + 1 < pieces.size()) ++k;
    if (pieces[k].s1 < at || m_part.onPins()) return false;
    const Occupied there = pieces[k].at(at);
    if (at - there.behind < F) return false;
    m_piece = k;
    m_station = at + m_lap;
    m_occupied = there;
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
        const OccupancyTable::Piece& p = pieces[m_piece];
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
            // Over a jump, where that is is known to the table's own rounding: well beyond it.
            if (at == p.s0 && p.s0 > m_station - m_lap && backLo > F + tolerance::length && beyondJump(F))
                return m_station;
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
