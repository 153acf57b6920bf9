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

/// Stations to the next corner ahead; as far as one looks where there is none.
double toCorner(const Path& path, double s, double look) {
    const double L = path.length();
    if (path.closed()) {
        s = std::fmod(s, L);
        if (s < 0) s += L;
    }
    for (const double lap : {0.0, path.closed() ? L : 0.0}) {
        const auto& all = path.corners();
        const auto it = std::upper_bound(all.begin(), all.end(), s - lap + tolerance::length,
                                         [](double v, const Corner& c) { return v < c.station; });
        if (it != all.end()) return std::min(look, it->station - (s - lap));
    }
    return look;
}

/// Where little is missing and the distance hardly grows, it would take for ever to go on by what is missing. How far
/// it cannot be made up: the distance D from a point bends by at most 1 / D and the path's own curvature, which is
/// taken as four times that of the next little stretch, up to the next corner.
double longStep(const Path& path, double s, double length, double missing, const Vec3& away) {
    const double look = toCorner(path, s, length / 16), near = std::min(1e-3 * length, look);
    const Vec3 ahead = beyond(path, s + near * 1e-3).tangent; // on a corner: behind it
    const double bend = 1 / (0.9 * length) + 4 * (beyond(path, s + near).tangent - ahead).norm() / near;
    const double slope = away.dot(ahead);
    return std::min(look, (std::sqrt(slope * slope + 2 * bend * missing) - slope) / bend);
}

} // namespace

Vec3 pointOn(const Path& path, double station) { return beyond(path, station).point; }

double chordFrom(const Path& path, double station, double length) {
    if (!(length > tolerance::length)) return std::nan("");
    const double L = path.length(), most = station + (path.closed() ? L : 2 * L + length);
    const Vec3 from = pointOn(path, station);
    double s = station + length, before = station;
    const double close = 1e-11 + 4e-16 * std::abs(s);
    for (int i = 0; i < 20'000 && s <= most; ++i) {
        const Sample here = beyond(path, s);
        const Vec3 d = here.point - from;
        const double missing = length - d.norm();
        if (std::abs(missing) <= close) return s;
        const double slope = d.dot(here.tangent) / d.norm();
        if (missing < 0 && !(slope > 0.5)) { // past it, by rounding or by a long step
            for (int k = 0; k < 80 && s - before > 1e-12; ++k) {
                const double middle = (before + s) / 2;
                ((pointOn(path, middle) - from).norm() < length ? before : s) = middle;
            }
            return s;
        }
        before = s;
        // Newton only where the distance grows well and little is missing: it may then overshoot by a hair, not a root.
        if (missing < 0.02 * length && slope > 0.5)
            s += missing / slope;
        else
            s += missing < 0.02 * length ? std::max(missing, longStep(path, s, length, missing, d.normalized()))
                                         : missing;
    }
    return std::nan("");
}

} // namespace vicinal

namespace vicinal::spacing {

Stepper::Stepper(const Ruler& ruler)
    : m_ruler(ruler), m_mode(ruler.straight() ? Mode::Chord
                             : ruler.gaps()   ? Mode::Gap
                                              : Mode::Share) {
    if (m_mode == Mode::Gap) m_walks.resize(ruler.lineup.parts().size());
}

GapWalk& Stepper::walk(size_t index) {
    auto& w = m_walks[index];
    if (!w) w.emplace(m_ruler.lineup.parts()[index]).start(m_began);
    return *w;
}

Occupied Stepper::level(long i, bool corner) const {
    return m_ruler.lineup.parts()[m_ruler.index(i, corner || found(i))].level();
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
    m_began = m_station = station;
    m_face.reset();
    m_corners.clear();
    for (auto& w : m_walks) w.reset();
    if (m_looks && m_ruler.onCorner(station)) m_corners.push_back(0);
    if (m_mode == Mode::Gap) m_front = walk(m_ruler.index(0, found(0))).front();
}

void Stepper::startBefore(double station, double face) {
    m_next = 0;
    m_began = m_station = station;
    m_face = face;
    m_corners.clear();
    for (auto& w : m_walks) w.reset();
    m_front = station + face;
}

Occupied Stepper::at(long i, double station) const {
    if (m_mode != Mode::Gap) return level(i);
    return m_ruler.lineup.parts()[m_ruler.index(i, found(i))].at(m_ruler.wrap(station));
}

double Stepper::chord(double length) const { return chordFrom(m_ruler.path, m_station, length); }

double Stepper::stepTo(double value, bool corner) {
    if (m_mode == Mode::Gap) return walk(m_ruler.index(m_next, corner)).reach(m_front + value);
    const Occupied next = level(m_next, corner);
    const double ahead = m_face ? *m_face : level(m_next - 1).ahead;
    double length = distance(value, ahead, next.behind);
    // From what bounds a bay a pitch counts from its own middle.
    if (m_face && m_ruler.spacing.measure == Measure::OfLength) length = value * next.total();
    return m_mode == Mode::Chord ? chord(length) : m_station + length;
}

double Stepper::step(double value) {
    if (m_mode == Mode::Gap && m_walks.size() == 1) { // one part everywhere
        GapWalk& only = walk(0);
        const double to = only.reach(m_front + value);
        if (!(to > m_station + tolerance::length)) return std::nan("");
        m_front = only.front();
        m_face.reset();
        ++m_next;
        return m_station = to;
    }
    double to = stepTo(value, false);
    if (m_looks && m_ruler.index(m_next) != m_ruler.index(m_next, true)) {
        const double other = stepTo(value, true);
        if (m_ruler.onCorner(other)) {
            to = other;
            m_corners.push_back(m_next);
        }
    }
    if (!(to > m_station + tolerance::length)) return std::nan("");
    m_station = to;
    if (m_mode == Mode::Gap) m_front = walk(m_ruler.index(m_next, found(m_next))).front();
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
    // Along the path also for chords: the straight distance to `last` does not tell on which side of it one stands.
    const double to = m_mode == Mode::Chord && length > tolerance::length ? chord(length) : m_station + length;
    return to - last;
}

namespace {

Walked walked(const Ruler& ruler, double first, double value, double end, size_t most, std::vector<double> memory) {
    Stepper walk(ruler);
    walk.lookForCorners();
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
        if (ruler.bounded) {
            const double beyond = walk.missFace(value, end, ruler.faceEnd);
            return std::isnan(beyond) ? -std::numeric_limits<double>::infinity() : -beyond; // no chord is so long here
        }
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
    out.corners = walk.corners();
    while (!out.corners.empty() && out.corners.back() >= long(out.at.size())) out.corners.pop_back();
    return out;
}

} // namespace

Walked stepped(const Ruler& ruler, double first, double value, double end, size_t most, std::vector<double> memory) {
    Walked out = walked(ruler, first, value, end, most, std::move(memory));
    if (!ruler.lineup.special().last || !ruler.finalBay || ruler.count >= 0 || out.stuck) return out;
    // The last place has a part of its own: as many as still go in with it.
    for (size_t n = std::min(most, out.at.size() + 1); n > 0; --n) {
        Ruler known = ruler;
        known.count = long(n);
        Walked now = walked(known, first, value, end, n, {});
        if (now.at.size() == n) return now;
    }
    return out;
}

} // namespace vicinal::spacing
