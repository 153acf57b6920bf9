#include "model/recipes/body_shape.h"
#include "base/say.h"
#include "geometry/curves/edit.h"
#include "geometry/curves/offset.h"
#include <algorithm>
#include <cmath>
#include <tuple>

namespace vicinal {
namespace {

Problem range(const char* what, double v, double least, double most, const char* field) {
    return {say::value(std::string(what)) + " is " + say::mm(v) + "; use " + say::mm(least) + " to " +
                say::bound(most) + ".",
            field};
}
bool within(double v, double least, double most) { return std::isfinite(v) && v >= least && v <= most; }
constexpr double kMost = 1e7, kLeast = 1e-3;

std::shared_ptr<const Mesh> shared(Mesh mesh) {
    for (const auto& t : mesh.triangles)
        for (auto i : t) mesh.box.extend(mesh.points[i]);
    return std::make_shared<const Mesh>(std::move(mesh));
}

Result<BuiltBody> build(const PlateOf& p, const ShapeSource& source) {
    if (!source.path) return Problem{"The path that outlines it is missing. Choose another one.", "path"};
    if (!within(p.thickness, kLeast, kMost)) return range("The thickness", p.thickness, kLeast, kMost, "thickness");
    auto flat = flatRing(*source.path);
    if (!flat) return flat.problem();
    const auto solid = extruded(std::vector<Ring>{std::move(flat.value().ring)}, p.under ? -p.thickness : 0,
                                p.under ? 0 : p.thickness);
    if (!solid) return solid.problem();
    const auto body = bodyOf(*solid);
    if (!body) return body.problem();
    const Mat3 back = flat->toPlane.transpose();
    return BuiltBody{moved(*body, back, Vec3::Zero()), back * flat->middle};
}

/// A wall on a level path: its outline in plan by offsets, exactly.
Result<BuiltBody> levelWall(const WallAlong& w, const Path& path, double left, double right) {
    const auto side = [&](double distance) -> Result<Curve> {
        if (distance == 0) return Curve{path.segments(), path.closed()};
        auto o = offsetOf(path, distance, CornerStyle::Sharp);
        if (!o) return o.problem();
        return std::move(o.value().curve);
    };
    auto a = side(left), b = side(-right);
    for (auto* s : {&a, &b})
        if (!*s)
            return Problem{"The path bends too sharply for a wall so thick. Make it thinner, or stand it on the other "
                           "side.",
                           "thickness"};
    std::vector<Ring> rings;
    const auto turned = [](std::vector<Segment> all) {
        std::reverse(all.begin(), all.end());
        for (auto& s : all) s = reversed(s);
        return all;
    };
    if (path.closed()) {
        if (!a->closed || !b->closed)
            return Problem{"The path bends too sharply for a wall so thick. Make it thinner.", "thickness"};
        rings = {a->segments, b->segments};
    } else {
        Ring ring = b->segments;
        const auto back = turned(a->segments);
        ring.push_back(Line{endOf(ring.back()), startOf(back.front())});
        ring.insert(ring.end(), back.begin(), back.end());
        ring.push_back(Line{endOf(ring.back()), startOf(ring.front())});
        rings = {ring};
    }
    const Vec3 home = path.bounds().center();
    for (auto& ring : rings)
        for (auto& s : ring) s = moved(s, Mat3::Identity(), -home);
    const auto solid = extruded(rings, -w.below, w.height);
    if (!solid) return Problem{solid.problem().text, "thickness"};
    const auto body = bodyOf(*solid);
    if (!body) return body.problem();
    return BuiltBody{*body, home};
}

/// A wall on a path that rises: sections square to it in plan, mitred at corners.
Result<BuiltBody> risingWall(const WallAlong& w, const Path& path, double left, double right) {
    struct Stop {
        Vec3 at;
        Vec2 side; ///< to the left, for an offset of 1
    };
    std::vector<Stop> stops;
    bool sharp = false;
    Vec2 last = Vec2::Zero();
    const auto heading = [](const Vec3& t) { return Vec2(t.head<2>()); };
    std::vector<double> stations;
    const auto line = path.polyline(std::max(path.length() * 2e-5, 0.05));
    double s = 0;
    for (size_t i = 0; i < line.size(); ++i) { // chords say nearly where; the path says exactly
        if (i > 0) s += (line[i] - line[i - 1]).norm();
        stations.push_back(path.closest(line[i]));
        if (i + 1 == line.size() && !path.closed()) stations.back() = path.length();
    }
    for (size_t i = 0; i < stations.size(); ++i) {
        if (path.closed() && i + 1 == stations.size()) break;
        const auto& corners = path.corners();
        const auto on = std::find_if(corners.begin(), corners.end(), [&](const Corner& c) {
            return std::abs(c.station - stations[i]) <= tolerance::length * 10;
        });
        Vec2 before, after;
        if (on != corners.end()) {
            before = heading(on->before), after = heading(on->after);
        } else {
            before = after = heading(path.at(stations[i]).tangent);
        }
        if (before.norm() < tolerance::length || after.norm() < tolerance::length)
            return Problem{"The path goes straight up or down, where a wall has no direction. Lay it flatter.", "path"};
        before.normalize(), after.normalize();
        if (on == corners.end() && !stops.empty() && before.dot(last) < -0.2)
            return Problem{"The path turns back straight up or down, where a wall has no direction. Lay it flatter.",
                           "path"};
        last = after;
        const Vec2 middle = (before + after).norm() > tolerance::alike ? Vec2((before + after).normalized()) : after;
        const double mitre = std::max(0.25, middle.dot(before));
        const Vec2 side = Vec2(-middle.y(), middle.x()) / mitre;
        const Vec3 at = path.at(stations[i]).point;
        if (!stops.empty()) {
            const Vec2 along = (at - stops.back().at).head<2>();
            for (double off : {left, -right})
                sharp = sharp || (along + off * (side - stops.back().side)).dot(along) < 0;
        }
        stops.push_back({at, side});
    }
    if (stops.size() < 2) return Problem{"The path is too short for a wall.", "path"};
    const Vec3 home = path.bounds().center();
    Mesh mesh;
    for (const Stop& stop : stops)
        for (const auto& [off, up] :
             {std::pair{left, -w.below}, {-right, -w.below}, {-right, w.height}, {left, w.height}})
            mesh.points.push_back(stop.at - home + Vec3(off * stop.side.x(), off * stop.side.y(), up));
    const auto quad = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint32_t d) {
        mesh.triangles.push_back({a, b, c});
        mesh.triangles.push_back({a, c, d});
    };
    const auto n = std::uint32_t(stops.size());
    for (std::uint32_t i = 0; i + (path.closed() ? 0 : 1) < n; ++i)
        for (std::uint32_t k = 0; k < 4; ++k) {
            const std::uint32_t j = (i + 1) % n, l = (k + 1) % 4;
            quad(4 * i + k, 4 * i + l, 4 * j + l, 4 * j + k);
        }
    if (!path.closed()) {
        quad(0, 3, 2, 1);
        quad(4 * n - 4, 4 * n - 3, 4 * n - 2, 4 * n - 1);
    }
    BuiltBody out{bodyOf(shared(std::move(mesh))), home};
    if (volumeOf(*out.body->mesh) < 0) { // of a path that goes round the other way
        Mesh turned = *out.body->mesh;
        for (auto& t : turned.triangles) std::swap(t[1], t[2]);
        out.body = bodyOf(std::make_shared<const Mesh>(std::move(turned)));
    }
    if (sharp) out.remarks.push_back("The path bends sharper than the wall is thick: its side runs into itself there.");
    return out;
}

Result<BuiltBody> build(const WallAlong& w, const ShapeSource& source) {
    if (!source.path) return Problem{"The path it is raised along is missing. Choose another one.", "path"};
    if (!within(w.thickness, kLeast, kMost)) return range("The thickness", w.thickness, kLeast, kMost, "thickness");
    if (!within(w.height, 0, kMost)) return range("The height", w.height, 0, kMost, "height");
    if (!within(w.below, 0, kMost)) return range("The depth below", w.below, 0, kMost, "below");
    if (!(w.height + w.below >= kLeast))
        return Problem{"The wall has no height. Give it one above or below the path.", "height"};
    double left = w.side == WallSide::Left ? w.thickness : 0;
    if (w.side == WallSide::Middle) left = w.thickness / 2;
    const double right = w.thickness - left;
    return source.path->steepest() < tolerance::fine ? levelWall(w, *source.path, left, right)
                                                     : risingWall(w, *source.path, left, right);
}

Result<BuiltBody> build(const Levels& l, const ShapeSource&) {
    if (!l.data) return Problem{"The levels of this ground are missing. Bring them in again.", "levels"};
    auto made = terrainOf(*l.data, l.longest, l.thickness);
    if (!made) return made.problem();
    return BuiltBody{bodyOf(std::make_shared<const Mesh>(std::move(made.value().mesh))), Vec3::Zero(),
                     std::move(made.value().remarks)};
}

Result<BuiltBody> build(const MadeGround& g, const ShapeSource&) {
    if (!within(g.length, kLeast, kMost)) return range("The length", g.length, kLeast, kMost, "length");
    if (!within(g.width, kLeast, kMost)) return range("The width", g.width, kLeast, kMost, "width");
    if (!within(g.rise, -kMost, kMost)) return range("The rise", g.rise, -kMost, kMost, "rise");
    const double x = g.length / 2, y = g.width / 2;
    Mesh mesh;
    const auto strip = [&](double x0, double z0, double x1, double z1) { // across the whole width
        const auto n = std::uint32_t(mesh.points.size());
        for (const Vec3& p : {Vec3(x0, -y, z0), Vec3(x1, -y, z1), Vec3(x1, y, z1), Vec3(x0, y, z0)})
            mesh.points.push_back(p);
        mesh.triangles.push_back({n, n + 1, n + 2});
        mesh.triangles.push_back({n, n + 2, n + 3});
    };
    if (g.form == GroundForm::Slope) {
        strip(-x, 0, x, g.rise);
    } else if (g.form == GroundForm::Terraces) {
        if (g.steps < 2 || g.steps > 1000) return Problem{"Use 2 to 1000 terraces.", "steps"};
        if (!(g.bank >= 0)) return range("The bank", g.bank, 0, g.length, "bank");
        const double level = (g.length - double(g.steps - 1) * g.bank) / double(g.steps);
        if (!(level >= kLeast))
            return Problem{"The banks leave no level ground. Use less than " + say::mm(g.length / double(g.steps - 1)) +
                               ".",
                           "bank"};
        double at = -x;
        for (long i = 0; i < g.steps; ++i) {
            const double z = g.rise * double(i) / double(g.steps - 1);
            if (i > 0) {
                strip(at, z - g.rise / double(g.steps - 1), at + g.bank, z);
                at += g.bank;
            }
            strip(at, z, at + level, z);
            at += level;
        }
        auto clean = cleaned(std::move(mesh));
        if (!clean) return Problem{clean.problem().text, "rise"};
        mesh = std::move(clean).value();
    } else {
        if (!within(g.radius, kLeast, std::min(x, y)))
            return Problem{"The mound's radius is " + say::mm(g.radius) + "; use up to half the ground's width, " +
                               say::mm(std::min(x, y)) + ".",
                           "radius"};
        LevelData levels;
        constexpr int kRings = 24;
        levels.points.push_back({0, 0, g.rise});
        for (int i = 1; i <= kRings; ++i)
            for (int k = 0; k < 2 * kRings; ++k) { // a hill as a cosine: level at its top and its foot
                const double r = double(i) / kRings, a = kPi * (k + 0.5 * (i % 2)) / kRings;
                levels.points.push_back({g.radius * r * std::cos(a), g.radius * r * std::sin(a),
                                         i == kRings ? 0.0 : g.rise * (1 + std::cos(kPi * r)) / 2});
            }
        for (const Vec2& c : {Vec2(-x, -y), Vec2(x, -y), Vec2(x, y), Vec2(-x, y)})
            levels.points.push_back({c.x(), c.y(), 0});
        auto made = terrainOf(levels);
        if (!made) return made.problem();
        mesh = std::move(made.value().mesh);
    }
    return BuiltBody{bodyOf(shared(std::move(mesh)))};
}

Result<BuiltBody> build(const PartUse&, const ShapeSource& source) {
    if (!source.body) return Problem{"The part it is taken from was deleted. Choose another one.", "part"};
    return BuiltBody{source.body};
}

Result<BuiltBody> build(const RailAlong&, const ShapeSource&) {
    return Problem{"A rail is made where its run is known.", "run"};
}

Result<BuiltBody> build(const CutBy&, const ShapeSource&) {
    return Problem{"A body is cut where the run that cuts it is known.", "run"};
}

template<class S> Result<BuiltBody> build(const S& shape, const ShapeSource&) { // what parts are made of, too
    auto body = vicinal::build(PartShape(shape));
    if (!body) return body.problem();
    return BuiltBody{*body};
}

} // namespace

bool operator==(const RailAlong& a, const RailAlong& b) {
    const auto values = [](const RailAlong& r) {
        const RailProfile& s = r.section;
        const RailEnds& e = r.ends;
        return std::tuple(r.run, r.path, r.style, s.form, s.width, s.depth, s.wall, s.turn, r.outline, r.height,
                          r.across, r.count, r.apart, r.way, r.banked, r.reach, r.startInset, r.endInset, r.from, r.to,
                          r.firstPlace, r.lastPlace, r.joint, r.gap, r.overlap, e.start, e.end, e.cap, e.to, e.radius,
                          e.leg);
    };
    return values(a) == values(b);
}

std::vector<Id> sourcesOf(const BodyShape& shape) {
    std::vector<Id> out;
    eachSource(shape, [&](Id id) {
        if (id != 0 && std::find(out.begin(), out.end(), id) == out.end()) out.push_back(id);
    });
    return out;
}

std::string kindOf(const BodyShape& shape) {
    return std::visit(
        []<class S>(const S& s) -> std::string {
            if constexpr (OfBodiesAlone<S>)
                return S::kKind;
            else
                return kindOf(PartShape(s));
        },
        shape);
}

Result<BuiltBody> buildBody(const BodyShape& shape, const ShapeSource& source) {
    return std::visit([&](const auto& s) { return build(s, source); }, shape);
}

} // namespace vicinal
