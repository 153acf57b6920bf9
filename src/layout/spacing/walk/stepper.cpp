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

/// The next corner ahead; endless where there is none.
double nextCorner(const Path& path, double s) {
    const double far = toCorner(path, s, std::numeric_limits<double>::infinity());
    return s + far;
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
            for (int k = 0; k < 80 && s - before > tolerance::fine; ++k) {
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

Occupied Stepper::at(long i, double station, bool corner) const {
    return m_ruler.taken(m_ruler.index(i, corner || found(i)), station);
}

/// What of the next step's length is taken up where it begins.
double Stepper::aheadHere() const {
    if (m_face) return *m_face;
    return m_ruler.spacing.measure == Measure::CentreToCentre ? 0 : at(m_next - 1, m_station).ahead;
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

/// The station that is so far away, along the path or straight.
double Stepper::farOff(double length) const {
    return m_mode == Mode::Chord ? chordFrom(m_ruler.path, m_station, length) : m_station + length;
}

double Stepper::stepTo(double value, bool corner) {
    if (m_mode == Mode::Gap) return walk(m_ruler.index(m_next, corner)).reach(m_front + value);
    if (m_ruler.spacing.measure == Measure::CentreToCentre) return farOff(value);
    // From what bounds a bay a pitch counts from its own middle.
    const bool whole = m_face && m_ruler.spacing.measure == Measure::OfLength;
    const double ahead = aheadHere();
    const auto length = [&](double to) {
        const Occupied next = at(m_next, to, corner);
        return whole ? value * next.total() : distance(value, ahead, next.behind);
    };
    double before = std::nan(""), reached = before;
    const auto with = [&](double to) {
        const double now = length(to);
        if (now != before) before = now, reached = farOff(now); // most parts take up the same everywhere
        return reached;
    };
    return whereItLeads(m_ruler, m_station, with, [&](double to) {
        const bool chord = m_mode == Mode::Chord;
        return length(to) -
               (chord ? (pointOn(m_ruler.path, to) - pointOn(m_ruler.path, m_station)).norm() : to - m_station);
    });
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
    if (m_ruler.spacing.measure == Measure::CentreToCentre) return beyond(value, last);
    return beyond(distance(value, aheadHere(), at(n, last).behind), last);
}

double Stepper::missFace(double value, double last, double face) const {
    if (m_mode == Mode::Gap) return m_front + value - (last - face);
    const bool whole = !m_face && m_ruler.spacing.measure == Measure::OfLength; // as in front of the first place
    return beyond(whole ? value * at(m_next - 1, m_station).total() : distance(value, aheadHere(), face), last);
}

/// Along the path also for chords: the straight distance to `last` does not tell on which side of it one stands.
double Stepper::beyond(double length, double last) const {
    return (length > tolerance::length ? farOff(length) : m_station + length) - last;
}

double firstKept(const Ruler& ruler, double from, const std::function<double(double)>& missing) {
    const Path& path = ruler.path;
    const double most = from + 2 * path.length() + (path.closed() ? 0 : ruler.usable);
    double before = from, x = from;
    for (int round = 0; round < 20'000 && x <= most; ++round) {
        const double lacks = missing(x);
        if (std::isnan(lacks)) return lacks;
        if (x > from && lacks <= 1e-11 + 4e-16 * std::abs(x)) {
            if (lacks >= -tolerance::rounding) return x;
            while (x - before > 1e-11 + 4e-16 * std::abs(x)) {
                const double middle = (before + x) / 2;
                if (middle == before || middle == x) break;
                (missing(middle) > 0 ? before : x) = middle;
            }
            if (ruler.onCorner(x) == ruler.onCorner(before)) return x;
            // What is so near to a corner faces as on it: well inside of that, or outside.
            return ruler.onCorner(x) ? x + tolerance::length / 2 : x + tolerance::length;
        }
        const double next = x + std::max(lacks / 2, tolerance::station);
        const double corner = nextCorner(path, x);
        if (corner < next && missing(corner) <= tolerance::rounding) return corner;
        before = x;
        x = next;
    }
    return std::nan("");
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
        // Just behind a corner at the end it stands otherwise than on it: that is no rounding.
        if (to > end + slack || (to > end && ruler.onCorner(end) && !ruler.onCorner(to))) {
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
        known.atEnd.reset();
        Walked now = walked(known, first, value, end, n, {});
        if (now.at.size() == n && ruler.atEnd && end - now.at.back() <= tolerance::length) {
            known.atEnd = ruler.atEnd; // it does stand there: the one before is the last
            now = walked(known, first, value, end, n, {});
        }
        if (now.at.size() == n) return now;
    }
    return out;
}

} // namespace vicinal::spacing
