#include "layout/spacing/walk/occupancy.h"
#include "layout/spacing/spacing.h"
#include "layout/spacing/walk/occupancy_table.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <mutex>

namespace vicinal {

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
    std::call_once(m_lazy->once, [&] { m_lazy->table = tableOf(*this, m_box); });
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

} // namespace vicinal
