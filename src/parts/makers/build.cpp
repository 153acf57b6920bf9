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

namespace build {

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

/// What a part of square section gets on top: a pyramid.
TopoDS_Shape pointed(double width, double depth, double from, double to) {
    const double x = width / 2, y = depth / 2;
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

TopoDS_Shape turned(const Ring& line, const Vec3& axis) {
    Ring closed = line;
    closed.push_back(Line{endOf(line.back()), startOf(line.front())});
    return occ::revolved(occ::faceOf(closed), axis);
}

TopoDS_Shape roundLink(const RoundLink& m) {
    const double r = m.bar / 2, R = (m.insideWidth + m.bar) / 2, a = (m.insideLength - m.insideWidth) / 2;
    TopoDS_Shape oval;
    if (a < tolerance::rounding) {
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
        return occ::fused({bar, pointed(m.width, m.depth, body, m.height)});
    }
    return turned(turnedLine(m), Vec3::UnitZ());
}

TopoDS_Shape post(const Post& m) {
    const double x = m.width / 2, y = m.depth / 2, o = m.capOver, top = m.height + m.capThickness;
    std::vector<TopoDS_Shape> all{occ::box(Box3(Vec3(-x, -y, 0), Vec3(x, y, m.height)))};
    all.push_back(occ::box(Box3(Vec3(-x - o, -y - o, m.height), Vec3(x + o, y + o, top))));
    if (m.capRise > 0) all.push_back(pointed(m.width + 2 * o, m.depth + 2 * o, top, top + m.capRise));
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
        if ((p - last).norm() > tolerance::rounding) ring.push_back(Line{last, p});
        last = p;
    };
    to(y, foot), to(y, top);
    if (m.seatDepth > 0)
        for (const double k : {1.0, -1.0}) to(k * c + s, top), to(k * c + s, 0), to(k * c - s, 0), to(k * c - s, top);
    to(-y, top), to(-y, foot);
    return occ::prism(occ::faceOf(ring), Vec3(m.width, 0, 0));
}

TopoDS_Shape steppingStone(const SteppingStone& m) { return slab(stoneEdge(m), -m.thickness, 0); }

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
