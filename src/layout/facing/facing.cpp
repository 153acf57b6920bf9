#include "layout/facing/facing.h"
#include <cmath>

namespace vicinal {

namespace {

Mat3 turned(const Vec3& by, bool backwards) {
    using Eigen::AngleAxisd;
    Mat3 R = (AngleAxisd(by.z(), Vec3::UnitZ()) * AngleAxisd(by.y(), Vec3::UnitY()) * AngleAxisd(by.x(), Vec3::UnitX()))
                 .toRotationMatrix();
    if (backwards) R = Vec3(-1, -1, 1).asDiagonal() * R; // half round about the crown, exactly
    return R;
}

} // namespace

Mat3 extraTurn(const Facing& f) { return turned(f.turn, f.backwards); }

Mat3 extraTurn(const Facing& f, long i) {
    const double steps = double(f.turnEvery > 0 ? i % f.turnEvery : i);
    // Whole turns fall away before they cost digits.
    const auto whole = [](double a) { return std::remainder(a, 2 * kPi); };
    const Vec3 by = f.turn + Vec3(f.turnStep * steps).unaryExpr(whole);
    return turned(by, f.backwards);
}

Result<Facing> resolved(Facing f, const Path& path) {
    for (const Vec3* v : {&f.turn, &f.turnStep})
        if (!v->allFinite())
            return Problem{"The extra turn is not a number. Type an angle.", v == &f.turn ? "turn" : "turnStep"};
    if (f.turnEvery < 0)
        return Problem{"The places after which turning on starts again cannot be negative.", "turnEvery"};
    if (std::holds_alternative<AtTarget>(f.nose) && !inReach(f.target))
        return Problem{"The target is not a point that can be used.", "target"};
    if (std::holds_alternative<Given>(f.crown)) {
        const double n = f.direction.norm();
        if (!(n > tolerance::rounding) || !std::isfinite(n))
            return Problem{"This direction has no length: give it at least one number other than 0.", "direction"};
        f.direction /= n;
    }
    if (std::holds_alternative<OffSurface>(f.crown) && !std::holds_alternative<AsDrawn>(f.nose) && !f.standsOff)
        return Problem{"Choose the body that the crowns stand off.", "surface"};
    if (std::holds_alternative<Outward>(f.crown)) {
        // Twice the area the path goes round, as a vector: the sum of cross products along it (Newell).
        const Vec3 origin = path.spans().front().point(0);
        Vec3 area = Vec3::Zero(), before = Vec3::Zero();
        double reach = 0;
        for (const Span& s : path.spans())
            for (int k = 1; k <= 8; ++k) {
                const Vec3 p = s.point(k / 8.0) - origin;
                area += before.cross(p);
                reach = std::max(reach, p.norm());
                before = p;
            }
        if (!(area.norm() > tolerance::rounding * reach * reach))
            return Problem{"This path goes round nothing, so that it has no outside. Choose another crown.", "crown"};
        f.loopNormal = area.normalized();
    }
    return f;
}

bool counts(const Facing& f, const std::string& key) {
    const bool drawn = std::holds_alternative<AsDrawn>(f.nose);
    if (key == "crown" || key == "corner") return !drawn;
    if (key == "turnEvery") return !f.turnStep.isZero(0);
    const bool aims = std::holds_alternative<AtTarget>(f.nose);
    if (key == "target") return aims && f.targetPath == 0 && f.targetBody == 0;
    if (key == "targetPath") return aims && f.targetBody == 0;
    if (key == "targetBody") return aims;
    if (key == "surface") return !drawn && std::holds_alternative<OffSurface>(f.crown);
    if (key == "direction") return !drawn && std::holds_alternative<Given>(f.crown);
    return true;
}

Facing pathFacing(Facing f) {
    if (std::holds_alternative<AsDrawn>(f.nose)) f.crown = Plumb{};
    f.nose = AlongPath{};
    f.turn.setZero();
    f.turnStep.setZero();
    f.backwards = false;
    return f;
}

Vec3 aimOf(const Facing& f, const Vec3& point) {
    if (f.aimedBody) return f.aimedBody->nearest(point).at;
    return f.aimedPath ? f.aimedPath->at(f.aimedPath->closest(point)).point : f.target;
}

Mat3 aimed(const Vec3& d, const Mat3& R) {
    Vec3 up = R.col(2) - d * d.dot(R.col(2));
    if (!(up.norm() > tolerance::rounding))
        up = R.col(0) - d * d.dot(R.col(0)); // straight up or down: what was ahead is up now
    if (!(up.norm() > tolerance::rounding)) up = anyNormal(d);
    up.normalize();
    Mat3 out;
    out.col(0) = d;
    out.col(1) = up.cross(d);
    out.col(2) = up;
    return out;
}

Angles anglesOf(const Mat3& R) {
    const Vec3 nose = R.col(0);
    Angles a;
    a.slope = std::atan2(nose.z(), std::hypot(nose.x(), nose.y()));
    if (std::hypot(nose.x(), nose.y()) < tolerance::angle) {
        a.heading = std::atan2(-R(0, 1), R(1, 1));
        return a;
    }
    a.heading = std::atan2(nose.y(), nose.x());
    a.roll = std::atan2(R(2, 1), R(2, 2));
    return a;
}

namespace {

double wrapped(double a) { return std::remainder(a, 2 * kPi); }

} // namespace

Passages::Passages(const Path& path) : m_length(path.length()) {
    const auto& steep = path.steepStretches();
    if (steep.empty()) return;
    const bool overSeam = path.closed() && steep.size() > 1 && steep.front().start < 0;
    // From the carried crown to the upright one, about the tangent.
    const auto angle = [&](double station, double heading) {
        const Sample at = path.at(station < 0 ? station + m_length : std::min(station, m_length), true);
        const Vec3 up = at.tangent.cross(Vec3(-std::sin(heading), std::cos(heading), 0));
        return std::atan2(at.tangent.cross(at.carried).dot(up), at.carried.dot(up));
    };
    bool hangs = false;
    for (size_t k = 0; k + (overSeam ? 1 : 0) < steep.size(); ++k) {
        const SteepStretch& z = steep[k];
        const double little = std::min(tolerance::length, (z.end - z.start) / 4); // a corner at its end looks on
        Passage p{z.start, z.end, angle(z.start + little, z.from), angle(z.end - little, z.to), hangs, hangs};
        const bool opens = !path.closed() && z.start <= tolerance::length,
                   closes = !path.closed() && z.end >= m_length - tolerance::length;
        if (opens) p.from = p.to;
        if (closes) p.to = p.from;
        double turn = wrapped(p.to - p.from);
        if (std::abs(turn) > kPi / 2 + tolerance::alike) p.hangs = hangs = !hangs, turn = wrapped(turn + kPi);
        p.to = p.from + turn;
        m_all.push_back(p);
    }
    // Over the seam the first stretch comes last: what lies behind it is first in order, and stands upright.
    if (path.closed() && hangs) { // once round it comes back hanging
        for (Passage& p : m_all) {
            if (p.hung != p.hangs) p.to += p.to > p.from ? -kPi : kPi; // over, the shorter way
            p.hung = p.hangs = false;
        }
    } else if (overSeam && m_all.front().hangs) { // as said: the part of the path behind the first one stands
        for (Passage& p : m_all) p.hung = !p.hung, p.hangs = !p.hangs;
    }
    if (overSeam) {
        Passage last = m_all.front();
        last.start += m_length;
        last.end += m_length;
        m_all.push_back(last);
    }
    for (Passage& p : m_all)
        if (p.hung) p.from += kPi, p.to += kPi;
}

bool Passages::hangs(double station) const {
    bool out = m_all.empty() ? false : m_all.front().hung;
    for (const Passage& p : m_all) {
        if (p.end > station + tolerance::length) break;
        out = p.hangs;
    }
    return out;
}

Vec3 Passages::crown(double station, const Vec3& tangent, const Vec3& carried) const {
    for (const Passage& p : m_all) {
        if (station < p.start - tolerance::length || station > p.end + tolerance::length) continue;
        const double x = p.end > p.start ? std::clamp((station - p.start) / (p.end - p.start), 0.0, 1.0) : 0.5;
        const double a = p.from + (p.to - p.from) * x * x * (3 - 2 * x);
        return std::cos(a) * carried + std::sin(a) * tangent.cross(carried);
    }
    return carried;
}

double detail::steepHeading(const Path& path, double station) {
    for (const auto& z : path.steepStretches()) {
        if (station < z.start - tolerance::length || station > z.end + tolerance::length) continue;
        const double x = z.end > z.start ? std::clamp((station - z.start) / (z.end - z.start), 0.0, 1.0) : 0.5;
        return z.from + (z.to - z.from) * x * x * (3 - 2 * x);
    }
    const Vec3 t = path.at(station).tangent; // just past the end of a stretch: the tangent still has a heading
    return std::atan2(t.y(), t.x());
}

} // namespace vicinal
