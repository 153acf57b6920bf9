#include "parts/rails/section.h"
#include "base/say.h"
#include "geometry/path/path.h"
#include <cmath>

namespace vicinal {
namespace {

Ring circle(double radius) { return {Arc{Vec3::Zero(), Vec3::UnitX(), Vec3::UnitY(), radius, 2 * kPi}}; }

Ring polygon(std::initializer_list<Vec2> corners) {
    Ring out;
    for (const Vec2& c : corners) {
        const Vec3 p(c.x(), c.y(), 0);
        if (!out.empty()) std::get<Line>(out.back()).b = p;
        out.push_back(Line{p, p});
    }
    std::get<Line>(out.back()).b = std::get<Line>(out.front()).a;
    return out;
}

Ring rectangle(double w, double d) {
    return polygon({{-w / 2, -d / 2}, {w / 2, -d / 2}, {w / 2, d / 2}, {-w / 2, d / 2}});
}

constexpr double kLeast = 1e-3, kMost = 1e6;

std::optional<Problem> range(const char* what, double v, double least, double most, const char* field) {
    if (v >= least && v <= most) return std::nullopt;
    return Problem{Words("The section's ") + what + " is " + say::mm(v) + "; use " + say::mm(least) + " to " +
                       say::bound(most) + ".",
                   field};
}

Result<std::vector<Ring>> ringsOf(const RailProfile& p, const Ring* own) {
    if (p.form == RailForm::Outline) {
        if (!own) return Problem{"The outline of the section is missing. Choose a closed flat path.", "outline"};
        return std::vector<Ring>{*own};
    }
    if (auto wrong = range("width", p.width, kLeast, kMost, "width")) return *wrong;
    const bool deep = p.form == RailForm::Flat || p.form == RailForm::Angle;
    const double w = p.width, d = deep ? p.depth : w;
    if (deep)
        if (auto wrong = range("depth", d, kLeast, kMost, "depth")) return *wrong;
    const double most = std::min(w, d) * (p.form == RailForm::Angle ? 1 : 0.5);
    if (p.form == RailForm::Angle) {
        if (!(p.wall >= kLeast && p.wall < most))
            return Problem{"The angle's legs are " + say::mm(p.wall) + " thick; use more than 0, less than " +
                               say::mm(most) + ".",
                           "wall"};
        const double l = -w / 2, b = -d / 2; // its heel at the right foot
        return std::vector<Ring>{polygon(
            {{l, b}, {l + w, b}, {l + w, b + p.wall}, {l + p.wall, b + p.wall}, {l + p.wall, b + d}, {l, b + d}})};
    }
    if (p.wall != 0 && !(p.wall >= kLeast && p.wall < most))
        return Problem{"The wall is " + say::mm(p.wall) + "; use 0 (solid), or less than " + say::mm(most) + ".",
                       "wall"};
    std::vector<Ring> out;
    const auto ring = [&](double in) {
        out.push_back(p.form == RailForm::Round ? circle(w / 2 - in) : rectangle(w - 2 * in, d - 2 * in));
    };
    ring(0);
    if (p.wall > 0) ring(p.wall);
    return out;
}

} // namespace

double reachOf(const RailSection& s, const Vec2& along) {
    double out = -kFar;
    for (const Vec2& p : s.points) out = std::max(out, p.dot(along));
    return out + s.radius * along.norm();
}

Result<RailFace> railFace(const RailProfile& p, const Ring* own) {
    if (!std::isfinite(p.turn)) return Problem{"The section's turn is not a number.", "turn"};
    auto rings = ringsOf(p, own);
    if (!rings) return rings.problem();
    RailFace out;
    out.rings = std::move(rings).value();
    const Mat3 R = Eigen::AngleAxisd(p.turn, Vec3::UnitZ()).toRotationMatrix();
    for (Ring& ring : out.rings)
        for (Segment& s : ring) s = moved(s, R, Vec3::Zero());
    const auto mesh = [](std::span<const Ring> all) -> Result<std::shared_ptr<const Mesh>> {
        const auto flat = extruded(all, 0, 0);
        if (!flat) return Problem{flat.problem().text, "outline"};
        auto made = meshOf(**flat);
        if (!made) return Problem{made.problem().text, "outline"};
        return std::make_shared<const Mesh>(std::move(made).value());
    };
    const auto face = mesh(out.rings);
    if (!face) return face.problem();
    out.mesh = *face;
    if (out.rings.size() == 1)
        out.full = out.mesh;
    else if (const auto full = mesh(std::span(out.rings).first(1)))
        out.full = *full;
    else
        return full.problem();
    if (p.form == RailForm::Round) {
        out.hull = {{Vec2::Zero()}, p.width / 2};
    } else {
        out.hull.points.clear();
        for (const Vec3& q : out.full->points) out.hull.points.push_back(q.head<2>());
    }
    return out;
}

} // namespace vicinal
