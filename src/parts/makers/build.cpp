#include "parts/makers/build.h"
#include "geometry/path/path.h"
#include "parts/makers/sprocket.h"
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepLib.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_ToroidalSurface.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Ax2.hxx>
#include <gp_Ax3.hxx>
#include <gp_Trsf.hxx>

namespace vicinal {

Ring turnedProfile(const Baluster& b) {
    const double R = b.width / 2, h = b.height - (b.top == Baluster::Top::Flat ? 0 : b.point);
    const auto p = [&](double r, double z) { return Vec3(R * r, 0, h * z); };
    return {Line{p(1, 0), p(1, 0.10)},          Line{p(1, 0.10), p(0.62, 0.12)},
            Line{p(0.62, 0.12), p(0.62, 0.14)}, Bezier{{p(0.62, 0.14), p(1.12, 0.20), p(1.05, 0.42), p(0.50, 0.70)}},
            Line{p(0.50, 0.70), p(0.50, 0.74)}, Bezier{{p(0.50, 0.74), p(0.86, 0.745), p(0.86, 0.785), p(0.50, 0.79)}},
            Line{p(0.50, 0.79), p(0.50, 0.82)}, Line{p(0.50, 0.82), p(0.92, 0.86)},
            Line{p(0.92, 0.86), p(0.92, 1)}};
}

std::vector<Vec2> lampProfile(const BollardLamp& m) {
    const double D = m.diameter / 2, cap = std::min(0.06 * m.height, (m.height - m.footThickness - m.ring) / 3);
    const double ring = m.height - cap - m.ring;
    return {{m.foot / 2, 0},
            {m.foot / 2, m.footThickness},
            {0.86 * D, m.footThickness},
            {0.86 * D, ring - 0.4 * cap},
            {D, ring - 0.4 * cap},
            {D, ring},
            {0.72 * D, ring},
            {0.72 * D, ring + m.ring},
            {D, ring + m.ring},
            {D, ring + m.ring + 0.4 * cap},
            {0.6 * D, m.height}};
}

Ring stoneEdge(const SteppingStone& m) {
    // Seeded and the same on every machine: a few bits of a well-mixed number for each corner.
    std::vector<Vec3> points;
    const int n = 9;
    for (int i = 0; i < n; ++i) {
        std::uint64_t x =
            (std::uint64_t(m.number) + 1) * 0x9e3779b97f4a7c15ull + std::uint64_t(i) * 0xbf58476d1ce4e5b9ull;
        x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9ull;
        x = (x ^ (x >> 27)) * 0x94d049bb133111ebull;
        x ^= x >> 31;
        const double f = 1 + m.roughness * (double(x >> 11) * 0x1p-53 * 2 - 1), a = 2 * kPi * i / n;
        points.push_back(Vec3(m.length / 2 * f * std::cos(a), m.width / 2 * f * std::sin(a), 0));
    }
    std::unique_ptr<bool[]> smooth(new bool[n]);
    std::fill_n(smooth.get(), n, true);
    return throughPoints(points, std::span<const bool>(smooth.get(), n), true);
}

namespace build {

Ring PlaneRings::polygon(std::initializer_list<Vec2> corners) const {
    Ring out;
    const Vec2* p = corners.begin();
    for (size_t i = 0; i < corners.size(); ++i) {
        const Vec2 a = p[i], b = p[(i + 1) % corners.size()];
        out.push_back(Line{at(a.x(), a.y()), at(b.x(), b.y())});
    }
    return out;
}

Ring PlaneRings::circle(double x, double y, double radius) const { return {Arc{at(x, y), u, v, radius, 2 * kPi}}; }

Ring PlaneRings::slot(double length, double width) const {
    const double r = width / 2, a = length / 2 - r;
    if (a <= 0) return circle(0, 0, r);
    return {Line{at(-a, -r), at(a, -r)}, Arc{at(a, 0), -v, u, r, kPi}, Line{at(a, r), at(-a, r)},
            Arc{at(-a, 0), v, -u, r, kPi}};
}

Ring PlaneRings::rectangle(double width, double height, double r) const {
    const double x = width / 2, y = height / 2;
    if (r <= 0) return polygon({{-x, -y}, {x, -y}, {x, y}, {-x, y}});
    Ring out;
    const auto straight = [&](double ax, double ay, double bx, double by) {
        if (std::hypot(bx - ax, by - ay) > 1e-9) out.push_back(Line{at(ax, ay), at(bx, by)});
    };
    straight(-x + r, -y, x - r, -y);
    out.push_back(Arc{at(x - r, -y + r), -v, u, r, kPi / 2});
    straight(x, -y + r, x, y - r);
    out.push_back(Arc{at(x - r, y - r), u, v, r, kPi / 2});
    straight(x - r, y, -x + r, y);
    out.push_back(Arc{at(-x + r, y - r), v, -u, r, kPi / 2});
    straight(-x, y - r, -x, -y + r);
    out.push_back(Arc{at(-x + r, -y + r), -u, -v, r, kPi / 2});
    return out;
}

TopoDS_Shape slab(const Ring& ring, double from, double to) {
    Ring low = ring;
    for (auto& s : low) s = moved(s, Mat3::Identity(), Vec3(0, 0, from));
    const TopoDS_Face face = occ::faceOf(low);
    return from == to ? TopoDS_Shape(face) : occ::prism(face, Vec3(0, 0, to - from));
}

TopoDS_Shape cylinder(double diameter, double from, double to) {
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(0, 0, from), gp_Dir(0, 0, 1)), diameter / 2, to - from).Shape();
}

namespace {

TopoDS_Shape bar(const Vec3& from, const Vec3& to, double diameter) {
    const Vec3 d = to - from;
    return BRepPrimAPI_MakeCylinder(gp_Ax2(occ::point(from), occ::direction(d)), diameter / 2, d.norm()).Shape();
}

/// What a part of square section gets on top: a pyramid, or a gable that is pointed seen from its side.
TopoDS_Shape pointed(double width, double depth, double from, double to, bool gable) {
    const double x = width / 2, y = depth / 2;
    if (gable) {
        const auto face = occ::faceOf(
            {Line{{-x, -y, from}, {x, -y, from}}, Line{{x, -y, from}, {0, -y, to}}, Line{{0, -y, to}, {-x, -y, from}}});
        return occ::prism(face, Vec3(0, depth, 0));
    }
    const Vec3 c[4] = {{-x, -y, from}, {x, -y, from}, {x, y, from}, {-x, y, from}}, tip(0, 0, to);
    BRepBuilderAPI_Sewing sew;
    for (int i = 0; i < 4; ++i)
        sew.Add(occ::faceOf({Line{c[i], c[(i + 1) % 4]}, Line{c[(i + 1) % 4], tip}, Line{tip, c[i]}}));
    sew.Add(occ::faceOf({Line{c[0], c[1]}, Line{c[1], c[2]}, Line{c[2], c[3]}, Line{c[3], c[0]}}));
    sew.Perform();
    TopoDS_Solid solid =
        BRepBuilderAPI_MakeSolid(TopoDS::Shell(TopExp_Explorer(sew.SewedShape(), TopAbs_SHELL).Current()));
    BRepLib::OrientClosedSolid(solid);
    return solid;
}

} // namespace

Mesh tubeMesh(const std::vector<std::vector<Vec3>>& rows) {
    Mesh out;
    const auto n = std::uint32_t(rows.size()), k = std::uint32_t(rows[0].size());
    for (const auto& row : rows) out.points.insert(out.points.end(), row.begin(), row.end());
    for (std::uint32_t i = 0; i < n; ++i)
        for (std::uint32_t j = 0; j < k; ++j) {
            const std::uint32_t a = i * k + j, b = i * k + (j + 1) % k, c = (i + 1) % n * k + j,
                                d = (i + 1) % n * k + (j + 1) % k;
            out.triangles.push_back({a, b, d});
            out.triangles.push_back({a, d, c});
        }
    for (const Vec3& p : out.points) out.box.extend(p);
    return out;
}

Mesh turnedMesh(const Ring& line, const Vec3& axis, int steps) {
    std::vector<Vec3> profile{startOf(line.front())};
    for (const auto& s : line) {
        const auto path = Path::make({s}, false);
        const int n = std::holds_alternative<Line>(s) ? 1 : 12;
        for (int i = 1; i <= n; ++i) profile.push_back(path->at(path->length() * i / n).point);
    }
    Mesh out;
    std::vector<std::uint32_t> first; // of each point's circle, or its pole
    std::vector<char> pole;
    for (const Vec3& p : profile) {
        first.push_back(std::uint32_t(out.points.size()));
        pole.push_back((p - axis * p.dot(axis)).norm() < 1e-12);
        for (int i = 0; i < (pole.back() ? 1 : steps); ++i)
            out.points.push_back(Eigen::AngleAxisd(2 * kPi * i / steps, axis) * p);
    }
    for (size_t r = 0; r + 1 < profile.size(); ++r)
        for (std::uint32_t i = 0; i < std::uint32_t(steps); ++i) {
            const std::uint32_t k = (i + 1) % std::uint32_t(steps);
            const auto a = first[r] + (pole[r] ? 0 : i), b = first[r] + (pole[r] ? 0 : k),
                       c = first[r + 1] + (pole[r + 1] ? 0 : i), d = first[r + 1] + (pole[r + 1] ? 0 : k);
            if (!pole[r]) out.triangles.push_back({a, b, d});
            if (!pole[r + 1]) out.triangles.push_back({a, d, c});
        }
    if (volumeOf(out) < 0)
        for (auto& t : out.triangles) std::swap(t[1], t[2]);
    return out;
}

TopoDS_Shape turned(const Ring& line, const Vec3& axis) {
    Ring closed = line;
    closed.push_back(Line{endOf(line.back()), startOf(line.front())});
    return occ::revolved(occ::faceOf(closed), axis);
}

Mesh roundLinkMesh(const RoundLink& m) {
    const double r = m.bar / 2, R = (m.insideWidth + m.bar) / 2, a = (m.insideLength - m.insideWidth) / 2;
    std::vector<std::vector<Vec3>> rows;
    const int bow = 12, round = 20;
    for (const int end : {1, -1})
        for (int i = 0; i <= bow; ++i) {
            if (a < 1e-9 && i == bow) continue; // a ring: the next bow starts there
            const double t = (end > 0 ? -kPi / 2 : kPi / 2) + kPi * i / bow;
            const Vec3 out(std::cos(t), std::sin(t), 0), middle = Vec3(end * a, 0, 0) + R * out;
            rows.emplace_back();
            for (int k = 0; k < round; ++k) {
                const double u = 2 * kPi * k / round;
                rows.back().push_back(middle + r * (std::cos(u) * out + std::sin(u) * Vec3::UnitZ()));
            }
        }
    Mesh out = tubeMesh(rows);
    if (volumeOf(out) < 0)
        for (auto& t : out.triangles) std::swap(t[1], t[2]);
    if (m.studded) { // its ends lie inside the bars
        const double s = m.stud / 2;
        const Mesh stud = turnedMesh({Line{Vec3(0, -R, 0), Vec3(s, -R, 0)}, Line{Vec3(s, -R, 0), Vec3(s, R, 0)},
                                      Line{Vec3(s, R, 0), Vec3(0, R, 0)}},
                                     Vec3::UnitY(), 16);
        const auto first = std::uint32_t(out.points.size());
        out.points.insert(out.points.end(), stud.points.begin(), stud.points.end());
        for (const auto& t : stud.triangles) out.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
    }
    const double x = m.insideLength / 2 + m.bar, y = m.insideWidth / 2 + m.bar;
    out.box = Box3(Vec3(-x, -y, -std::max(r, m.studded ? m.stud / 2 : 0)),
                   Vec3(x, y, std::max(r, m.studded ? m.stud / 2 : 0)));
    return out;
}

TopoDS_Shape roundLink(const RoundLink& m) {
    const double r = m.bar / 2, R = (m.insideWidth + m.bar) / 2, a = (m.insideLength - m.insideWidth) / 2;
    TopoDS_Shape oval;
    if (a < 1e-9) {
        oval = BRepPrimAPI_MakeTorus(R, r).Shape();
    } else { // two half tori and two cylinders, sewn: exact, and far quicker than sweeping or fusing
        BRepBuilderAPI_Sewing sew(1e-7);
        for (const double s : {1.0, -1.0}) {
            const gp_Ax3 end(gp_Pnt(s * a, 0, 0), gp_Dir(0, 0, 1), gp_Dir(s, 0, 0));
            Handle(Geom_ToroidalSurface) torus = new Geom_ToroidalSurface(end, R, r);
            sew.Add(BRepBuilderAPI_MakeFace(torus, -kPi / 2, kPi / 2, 0, 2 * kPi, 1e-7));
            const gp_Ax3 straight(gp_Pnt(-a, s * R, 0), gp_Dir(1, 0, 0), gp_Dir(0, s, 0));
            Handle(Geom_CylindricalSurface) tube = new Geom_CylindricalSurface(straight, r);
            sew.Add(BRepBuilderAPI_MakeFace(tube, 0, 2 * kPi, 0, 2 * a, 1e-7));
        }
        sew.Perform();
        TopExp_Explorer shell(sew.SewedShape(), TopAbs_SHELL);
        if (!shell.More()) throw Standard_Failure("the faces of the link do not meet");
        TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(TopoDS::Shell(shell.Current()));
        BRepLib::OrientClosedSolid(solid);
        oval = solid;
    }
    if (!m.studded) return oval;
    return occ::fused({oval, bar(Vec3(0, -R, 0), Vec3(0, R, 0), m.stud)});
}

TopoDS_Shape rollerLink(const RollerLink& m) {
    const PlaneRings p = side();
    const double x = m.pitch / 2;
    const bool outer = m.kind == RollerLink::Kind::Outer;
    const double from = m.innerWidth / 2 + (outer ? m.plate : 0);
    const std::vector<Ring> holes{p.circle(x, 0, m.pin / 2), p.circle(-x, 0, m.pin / 2)};
    std::vector<TopoDS_Shape> all;
    for (const double s : {1.0, -1.0}) {
        auto at = [&](Ring ring, double y) {
            for (auto& c : ring) c = moved(c, Mat3::Identity(), Vec3(0, y, 0));
            return ring;
        };
        const double y = s * from;
        const std::vector<Ring> cut{at(holes[0], y), at(holes[1], y)};
        all.push_back(occ::prism(occ::faceOf(at(p.slot(m.pitch + m.plateHeight, m.plateHeight), y), cut),
                                 Vec3(0, s * m.plate, 0)));
        if (outer) {
            const double end = from + 1.25 * m.plate;
            all.push_back(bar(Vec3(s * x, -end, 0), Vec3(s * x, end, 0), m.pin));
        } else {
            const Ring o = at(p.circle(s * x, 0, m.roller / 2), -from), i = at(p.circle(s * x, 0, m.pin / 2), -from);
            all.push_back(occ::prism(occ::faceOf(o, std::vector<Ring>{i}), Vec3(0, 2 * from, 0)));
        }
    }
    return occ::compound(all);
}

std::vector<TopoDS_Shape> treadPieces(const TreadPlate& m) {
    const double re = m.eye / 2, t = m.plate / 2, c = 0.05 * m.eye, x = m.pitch / 2, end = x - re - c;
    const double meet = std::sqrt(std::max(0.0, re * re - t * t)); // from the eye's middle back to where the plate ends
    const auto tab = [&](double s, double from, double to) {       // s: +1 the front eye, -1 the rear one
        const auto p = [&](double a, double z) { return Vec3(s * a, from, z); };
        Ring ring{Line{p(end, t), p(end, -t)}, Line{p(end, -t), p(x - meet, -t)},
                  arcThrough(p(x - meet, -t), p(x + re, 0), p(x - meet, t)), Line{p(x - meet, t), p(end, t)}};
        const Ring hole{Arc{p(x, 0), Vec3::UnitX(), Vec3::UnitZ(), m.eyeHole / 2, 2 * kPi}};
        return occ::prism(occ::faceOf(ring, std::vector<Ring>{hole}), Vec3(0, to - from, 0));
    };
    const double w = m.width, k = w / 6, g = c / 2;
    std::vector<TopoDS_Shape> all{occ::box(Box3(Vec3(-end, -w / 2, -t), Vec3(end, w / 2, t))), tab(1, -k + g, k - g),
                                  tab(-1, -w / 2, -k - g), tab(-1, k + g, w / 2)};
    if (m.grouser > 0)
        all.push_back(occ::box(
            Box3(Vec3(-m.grouserThickness / 2, -w / 2, t), Vec3(m.grouserThickness / 2, w / 2, t + m.grouser))));
    return all;
}

TopoDS_Shape treadPlate(const TreadPlate& m) { return occ::fused(treadPieces(m)); }

TopoDS_Shape baluster(const Baluster& m) {
    const double body = m.height - (m.top == Baluster::Top::Flat ? 0 : m.point);
    if (m.section == Baluster::Section::Square) {
        const double x = m.width / 2, y = m.depth / 2;
        if (m.top == Baluster::Top::Picket) // one prism: pointed seen from its side
            return occ::prism(occ::faceOf({Line{{-x, -y, 0}, {x, -y, 0}}, Line{{x, -y, 0}, {x, -y, body}},
                                           Line{{x, -y, body}, {0, -y, m.height}},
                                           Line{{0, -y, m.height}, {-x, -y, body}}, Line{{-x, -y, body}, {-x, -y, 0}}}),
                              Vec3(0, m.depth, 0));
        const TopoDS_Shape bar = occ::box(Box3(Vec3(-x, -y, 0), Vec3(x, y, body)));
        if (m.top == Baluster::Top::Flat) return bar;
        return occ::fused({bar, pointed(m.width, m.depth, body, m.height, false)});
    }
    return turned(turnedLine(m), Vec3::UnitZ());
}

Ring turnedLine(const Baluster& m) {
    const double top = m.height - (m.top == Baluster::Top::Flat ? 0 : m.point);
    Ring line = m.section == Baluster::Section::Turned ? turnedProfile(m)
                                                       : Ring{Line{Vec3(m.width / 2, 0, 0), Vec3(m.width / 2, 0, top)}};
    line.insert(line.begin(), Line{Vec3::Zero(), startOf(line.front())});
    line.push_back(Line{endOf(line.back()), Vec3(0, 0, m.height)});
    return line;
}

TopoDS_Shape post(const Post& m) {
    const double x = m.width / 2, y = m.depth / 2, o = m.capOver, top = m.height + m.capThickness;
    std::vector<TopoDS_Shape> all{occ::box(Box3(Vec3(-x, -y, 0), Vec3(x, y, m.height)))};
    all.push_back(occ::box(Box3(Vec3(-x - o, -y - o, m.height), Vec3(x + o, y + o, top))));
    if (m.capRise > 0) all.push_back(pointed(m.width + 2 * o, m.depth + 2 * o, top, top + m.capRise, false));
    return occ::fused(all);
}

TopoDS_Shape sleeper(const Sleeper& m) {
    const double y = m.length / 2, top = m.seatDepth, foot = top - m.height, c = (m.gauge + m.railHead) / 2,
                 s = m.seatWidth / 2;
    Ring ring;
    const auto x = -m.width / 2;
    Vec3 last(x, -y, foot);
    const auto to = [&](double py, double pz) {
        const Vec3 p(x, py, pz);
        if ((p - last).norm() > 1e-9) ring.push_back(Line{last, p});
        last = p;
    };
    to(y, foot), to(y, top);
    if (m.seatDepth > 0)
        for (const double k : {1.0, -1.0}) to(k * c + s, top), to(k * c + s, 0), to(k * c - s, 0), to(k * c - s, top);
    to(-y, top), to(-y, foot);
    return occ::prism(occ::faceOf(ring), Vec3(m.width, 0, 0));
}

Ring turnedLine(const BollardLamp& m) {
    const auto corners = lampProfile(m);
    Ring line{Line{Vec3::Zero(), Vec3(corners[0].x(), 0, 0)}};
    for (const auto& c : corners)
        if (const Vec3 p(c.x(), 0, c.y()); (p - endOf(line.back())).norm() > 1e-9)
            line.push_back(Line{endOf(line.back()), p});
    line.push_back(Line{endOf(line.back()), Vec3(0, 0, m.height)});
    return line;
}

TopoDS_Shape steppingStone(const SteppingStone& m) { return slab(stoneEdge(m), -m.thickness, 0); }

Ring turnedLine(const Stitch& m) {
    const double r = m.thread / 2, a = m.length / 2 - r, k = r * std::sqrt(0.5);
    Ring line{arcThrough(Vec3(-a - r, 0, 0), Vec3(-a - k, k, 0), Vec3(-a, r, 0))};
    if (a > 1e-9) line.push_back(Line{Vec3(-a, r, 0), Vec3(a, r, 0)});
    line.push_back(arcThrough(Vec3(a, r, 0), Vec3(a + k, k, 0), Vec3(a + r, 0, 0)));
    return line;
}

TopoDS_Shape notch(const Notch& m) {
    const double x = m.width / 2, y = m.length / 2, d = m.depth;
    if (!m.pointed) return occ::box(Box3(Vec3(-x, -y, -d), Vec3(x, y, 0)));
    return occ::prism(
        occ::faceOf({Line{{-x, -y, 0}, {0, -y, -d}}, Line{{0, -y, -d}, {x, -y, 0}}, Line{{x, -y, 0}, {-x, -y, 0}}}),
        Vec3(0, m.length, 0));
}

TopoDS_Shape upright(const std::vector<Vec2>& corners, double width) {
    Ring ring;
    const auto at = [&](size_t i) {
        const Vec2& c = corners[i % corners.size()];
        return Vec3(c.x(), -width / 2, c.y());
    };
    for (size_t i = 0; i < corners.size(); ++i) ring.push_back(Line{at(i), at(i + 1)});
    return occ::prism(occ::faceOf(ring), Vec3(0, width, 0));
}

TopoDS_Shape bracket(const Bracket& m) {
    const double t = m.thickness, y = m.width / 2;
    Ring ring = side().polygon({{0, 0}, {m.foot, 0}, {m.foot, t}, {t, t}, {t, m.leg}, {0, m.leg}});
    for (auto& s : ring) s = moved(s, Mat3::Identity(), Vec3(0, -y, 0));
    const TopoDS_Shape body = occ::prism(occ::faceOf(ring), Vec3(0, m.width, 0));
    if (m.hole <= 0) return body;
    const double a = (m.foot + t) / 2, b = (m.leg + t) / 2;
    return occ::cut(body,
                    {bar(Vec3(a, 0, -t), Vec3(a, 0, 2 * t), m.hole), bar(Vec3(-t, 0, b), Vec3(2 * t, 0, b), m.hole)});
}

TopoDS_Shape tube(const Tube& m) {
    const PlaneRings p = front();
    const double x = -m.length / 2;
    Ring o = p.circle(0, 0, m.diameter / 2), i = p.circle(0, 0, m.diameter / 2 - m.wall);
    for (Ring* r : {&o, &i})
        for (auto& s : *r) s = moved(s, Mat3::Identity(), Vec3(x, 0, 0));
    return occ::prism(occ::faceOf(o, std::vector<Ring>{i}), Vec3(m.length, 0, 0));
}

TopoDS_Shape sprocket(const Sprocket& m) {
    auto level = [](Ring ring, double z) {
        for (auto& s : ring) s = moved(s, Mat3::Identity(), Vec3(0, 0, z));
        return ring;
    };
    const PlaneRings p = plan();
    const auto teeth = toothedRing(m.teeth, m.pitch, m.roller);
    const double half = m.width / 2;
    std::vector<Ring> bore;
    if (m.bore > 0) bore.push_back(level(p.circle(0, 0, m.bore / 2), -half));
    std::vector<TopoDS_Shape> all{occ::prism(occ::faceOf(level(*teeth, -half), bore), Vec3(0, 0, m.width))};
    if (m.hub > 0 && m.hubWidth > m.width) // what stands out on both sides
        for (const double from : {-m.hubWidth / 2, half}) {
            std::vector<Ring> hole;
            if (m.bore > 0) hole.push_back(level(p.circle(0, 0, m.bore / 2), from));
            all.push_back(occ::prism(occ::faceOf(level(p.circle(0, 0, m.hub / 2), from), hole),
                                     Vec3(0, 0, m.hubWidth / 2 - half)));
        }
    return all.size() == 1 ? all[0] : occ::fused(all);
}

TopoDS_Shape rimWheel(const RimWheel& m) {
    // Turned from its section, counter-clockwise in x (radius) and z.
    const double r = m.diameter / 2, b = m.bore / 2, w = m.width / 2;
    const double h = m.hub > 0 ? m.hub / 2 : 0, hw = m.hub > 0 ? m.hubWidth / 2 : w;
    std::vector<Vec2> section{{b, -hw}};
    if (h > 0 && hw > w) section.insert(section.end(), {{h, -hw}, {h, -w}});
    const double flange = std::min(m.lip, w / 2); // its thickness
    switch (m.rim) {
    case RimWheel::Rim::Plain: section.insert(section.end(), {{r, -w}, {r, w}}); break;
    case RimWheel::Rim::Grooved: { // a V with a flat bottom a fifth of the width
        section.insert(section.end(), {{r + m.lip, -w}, {r, -w / 5}, {r, w / 5}, {r + m.lip, w}});
        break;
    }
    case RimWheel::Rim::Flanged:
        section.insert(section.end(), {{r + m.lip, -w},
                                       {r + m.lip, -w + flange},
                                       {r, -w + flange},
                                       {r, w - flange},
                                       {r + m.lip, w - flange},
                                       {r + m.lip, w}});
        break;
    }
    if (h > 0 && hw > w) section.insert(section.end(), {{h, w}, {h, hw}});
    section.push_back({b, hw});
    Ring ring;
    for (size_t i = 0; i < section.size(); ++i) {
        const Vec2 a = section[i], c = section[(i + 1) % section.size()];
        if ((a - c).norm() > 0) ring.push_back(Line{Vec3(a.x(), 0, a.y()), Vec3(c.x(), 0, c.y())});
    }
    return occ::revolved(occ::faceOf(ring), Vec3::UnitZ());
}

} // namespace build
} // namespace vicinal
