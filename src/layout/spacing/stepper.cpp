#include "layout/spacing/ruler.h"
#include "layout/spacing/rules.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// A station that may lie beyond the path's end: round again on a closed path, straight on from an open end.
Sample beyond(const Path& path, double s) {
    const double L = path.length();
    if (path.closed()) {
        s = std::fmod(s, L);
        return path.at(s < 0 ? s + L : s);
    }
    if (s <= L) return path.at(std::max(s, 0.0));
    Sample end = path.at(L);
    end.point += (s - L) * end.tangent;
    return end;
}

} // namespace

Vec3 pointOn(const Path& path, double station) { return beyond(path, station).point; }

double chordFrom(const Path& path, double station, double length) {
    if (!(length > tolerance::length)) return std::nan("");
    const double L = path.length(), most = station + (path.closed() ? L : 2 * L + length);
    const Vec3 from = pointOn(path, station);
    double s = station + length;
    const double close = 1e-11 + 4e-16 * std::abs(s);
    for (int i = 0; i < 2000 && s <= most; ++i) {
        const Sample here = beyond(path, s);
        const Vec3 d = here.point - from;
        const double missing = length - d.norm();
        if (std::abs(missing) <= close) return s;
        // Newton only where the distance grows well and little is missing: it may then overshoot by a hair, not a root.
        const double slope = d.dot(here.tangent) / d.norm();
        if (missing < 0 && !(slope > 0.5)) return s; // past it by rounding
        s += missing < 0.02 * length && slope > 0.5 ? missing / slope : missing;
    }
    return std::nan("");
}

} // namespace vicinal

namespace vicinal::spacing {

Stepper::Stepper(const Ruler& ruler)
    : m_ruler(ruler), m_mode(ruler.straight() ? Mode::Chord
                             : ruler.gaps()   ? Mode::Gap
                                              : Mode::Share) {
    for (const Occupancy& part : ruler.lineup.parts()) {
        m_level.push_back(part.level());
        if (m_mode == Mode::Gap) m_walks.emplace_back(part);
    }
}

/// What a step is, in the measure of its mode.
double Stepper::distance(double value, double ahead, double behind) const {
    switch (m_ruler.spacing.measure) {
    case Measure::ClearGap: return value + ahead + behind;
    case Measure::OfLength: return value * (ahead + behind);
    case Measure::CentreToCentre: break;
    }
    return value;
}

void Stepper::startAt(double station) {
    m_next = 1;
    m_station = station;
    m_face.reset();
    for (size_t k = 0; k < m_walks.size(); ++k) {
        const Occupied o = m_walks[k].start(station);
        if (k == m_ruler.lineup.slot(0)) m_front = station + o.ahead;
    }
}

void Stepper::startBefore(double station, double face) {
    m_next = 0;
    m_station = station;
    m_face = face;
    for (auto& walk : m_walks) walk.start(station);
    m_front = station + face;
}

Occupied Stepper::at(long i, double station) const {
    return m_mode == Mode::Gap ? m_ruler.lineup.part(i).at(m_ruler.wrap(station)) : level(i);
}

double Stepper::chord(double length) const { return chordFrom(m_ruler.path, m_station, length); }

double Stepper::step(double value) {
    if (m_mode == Mode::Gap) {
        GapWalk& walk = m_walks[m_ruler.lineup.slot(m_next)];
        const double edge = m_front + value, to = walk.reach(edge);
        if (!(to > m_station + tolerance::length)) return std::nan("");
        m_front = walk.front();
        m_station = to;
    } else {
        const double ahead = m_face ? *m_face : level(m_next - 1).ahead;
        double length = distance(value, ahead, level(m_next).behind);
        // From what bounds a bay a pitch counts from its own middle.
        if (m_face && m_ruler.spacing.measure == Measure::OfLength) length = value * (level(m_next).total());
        const double to = m_mode == Mode::Chord ? chord(length) : m_station + length;
        if (!(to > m_station + tolerance::length)) return std::nan("");
        m_station = to;
    }
    m_face.reset();
    ++m_next;
    return m_station;
}

double Stepper::missPlace(double value, double last, long n) const {
    if (m_mode == Mode::Gap) return m_front + value - (last - at(n, last).behind);
    return missFace(value, last, level(n).behind);
}

double Stepper::missFace(double value, double last, double face) const {
    if (m_mode == Mode::Gap) return m_front + value - (last - face);
    const double ahead = m_face ? *m_face : level(m_next - 1).ahead;
    const double length = distance(value, ahead, face);
    if (m_mode == Mode::Share) return m_station + length - last;
    return length - (pointOn(m_ruler.path, last) - pointOn(m_ruler.path, m_station)).norm();
}

Walked stepped(const Ruler& ruler, double first, double value, double end, size_t most, std::vector<double> memory) {
    Stepper walk(ruler);
    Walked out;
    out.at = std::move(memory);
    out.at.clear();
    if (ruler.bounded) {
        walk.startBefore(first, ruler.faceStart);
    } else {
        walk.startAt(first);
        out.at.push_back(first);
    }
    const double slack = tolerance::arc * ruler.usable;
    const bool endless = std::isinf(end);
    // What one more step from the last place would leave up to what stands behind the run.
    const auto spare = [&] {
        if (endless || (ruler.closed && ruler.straight())) return 0.0; // a chord across a loop tells nothing
        if (ruler.bounded) return -walk.missFace(value, end, ruler.faceEnd);
        return ruler.closed ? -walk.missPlace(value, end, 0) : end - out.at.back();
    };
    double before = first;
    bool passed = false;
    out.left = spare();
    while (out.at.size() < most) {
        const double to = walk.step(value);
        if (!(to > before + tolerance::length)) {
            out.stuck = std::isnan(to) && !(ruler.straight() && ruler.closed);
            break;
        }
        if (to > end + slack) {
            passed = true;
            break;
        }
        out.at.push_back(before = to);
        const double left = spare();
        if ((ruler.bounded || ruler.closed) && left < -slack) {
            out.at.pop_back();
            break;
        }
        out.left = left;
    }
    if (passed && ruler.closed && ruler.straight() && out.at.size() > 1) { // the last one is where the next lap begins
        out.left = end - out.at.back();
        out.at.pop_back();
    }
    return out;
}

} // namespace vicinal::spacing
