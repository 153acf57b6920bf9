#include "model/evaluate/bodies/rail_range.h"
#include "base/say.h"
#include "model/document/run_item.h"
#include <algorithm>

namespace vicinal {

RailRange::RailRange(const RailAlong& rail, const BodyResult& of)
    : m_rail(rail), m_path(*of.path->path), m_run(of.run.get()) {
    if (m_run) m_places = m_run->placed.get();
}

Mat3 RailRange::facingAt(double s) const {
    Facing f;
    f.crown = Plumb{};
    double roll = 0;
    if (m_rail.banked) {
        f.crown = Upright{};
        if (m_run) {
            if (!m_facing) {
                Facing own = m_run->item->facing;
                own.nose = AlongPath{};
                own.turn.setZero();
                own.backwards = false;
                const auto made = resolved(own, m_path);
                m_facing = made ? *made : f;
                m_roll = ProfileCurve(m_run->item->changes.roll, m_path.length(), m_path.closed(), 0);
                if (m_run->asked[1]) m_facing->standsOff = m_run->asked[1]->exact;
                if (std::holds_alternative<OffSurface>(m_facing->crown) && !m_facing->standsOff) m_facing = f;
            }
            f = *m_facing;
            roll = m_roll.at(s);
        }
    }
    Mat3 out = Mat3::Identity();
    const double one[] = {m_path.closed() ? s : std::clamp(s, 0.0, m_path.length())};
    faceAt(m_path, one, f, Mat3::Identity(), [&](size_t, const Vec3&, const Vec3&, const Mat3& R) { out = R; });
    if (roll != 0) out = out * Eigen::AngleAxisd(roll, Vec3::UnitX()).toRotationMatrix();
    return out;
}

std::optional<Problem> RailRange::findRange() {
    const double L = m_path.length();
    if (m_places) {
        const Placement& laid = *m_places->laid;
        const size_t row = laid.ownRows.empty() ? laid.rowSize : laid.ownRows.front().count;
        for (size_t i = 0; i < std::min(row, laid.count()); ++i)
            if (!m_places->leftOut(i)) m_nodes.push_back(i);
    }
    m_from = 0, m_to = L;
    switch (m_rail.reach) {
    case RailReach::Whole:
        m_closed = m_path.closed() && m_rail.startInset == 0 && m_rail.endInset == 0;
        m_from = m_rail.startInset;
        m_to = L - m_rail.endInset;
        if (!(inReach(m_from) && inReach(m_to) && m_from < m_to - tolerance::length))
            return Problem{"Nothing is left of the path, which is " + say::mm(L) + " long. Set the rail in by less.",
                           m_rail.endInset > m_rail.startInset ? "endInset" : "startInset"};
        if (m_rail.startInset < 0 && m_path.closed())
            return Problem{"The path goes round: a rail cannot run past its start. Use 0 or more.", "startInset"};
        if (m_rail.endInset < 0 && m_path.closed())
            return Problem{"The path goes round: a rail cannot run past its end. Use 0 or more.", "endInset"};
        break;
    case RailReach::Stations:
        m_from = m_rail.from, m_to = m_rail.to;
        if (!(m_from >= 0 && m_from <= L))
            return Problem{"The path is " + say::mm(L) + " long: use a station from 0 to that.", "from"};
        if (!(m_to >= 0 && m_to <= L) || (m_to <= m_from && !m_path.closed()))
            return Problem{"The path is " + say::mm(L) + " long: use a station behind the first, up to that.", "to"};
        std::erase_if(m_nodes, [&](size_t i) {
            const double s = m_places->stations()[i];
            return m_to > m_from ? s < m_from - tolerance::length || s > m_to + tolerance::length
                                 : s < m_from - tolerance::length && s > m_to + tolerance::length;
        });
        break;
    case RailReach::Places: {
        if (!m_places) return Problem{"Places are those of a run. Choose one, or let it run between stations.", "run"};
        const auto n =
            long(m_places->laid->ownRows.empty() ? m_places->laid->rowSize : m_places->laid->ownRows.front().count);
        const long last = m_rail.lastPlace == 0 ? n : m_rail.lastPlace;
        if (m_rail.firstPlace < 1 || m_rail.firstPlace >= std::max(n, 2L))
            return Problem{"The run has places 1 to " + say::count(n) + ": use one before the last.", "firstPlace"};
        if (last <= m_rail.firstPlace || last > n)
            return Problem{"The run has places 1 to " + say::count(n) + ": use one behind the first, or 0.",
                           "lastPlace"};
        m_from = m_places->stations()[size_t(m_rail.firstPlace) - 1];
        m_to = m_places->stations()[size_t(last) - 1];
        std::erase_if(m_nodes, [&](size_t i) { return long(i) + 1 < m_rail.firstPlace || long(i) + 1 > last; });
        break;
    }
    }
    return std::nullopt;
}

} // namespace vicinal
