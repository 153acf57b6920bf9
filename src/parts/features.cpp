// Holes, axes, faces and corners of a part: what a seat can be put on.
#include "parts/body.h"
#include "parts/rounds.h"
#include "parts/solid/shape.h"
#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Eigen/Eigenvalues>
#include <GCPnts_AbscissaPoint.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <gp_Ax2.hxx>
#include <gp_Circ.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Torus.hxx>
#include <gp_Trsf.hxx>
#include <map>
#include <numeric>

namespace vicinal {
namespace {

std::vector<Hole> holesAmong(const std::vector<Round>& rounds) {
    std::vector<Hole> out;
    for (const auto& r : rounds)
        if (r.concave && r.sweep > kPi * 0.99) out.push_back({r.point, r.axis, r.radius, r.to - r.from, r.error});
    std::sort(out.begin(), out.end(), [](const Hole& a, const Hole& b) {
        if (std::abs(a.radius - b.radius) > tolerance::length) return a.radius < b.radius;
        for (int i = 0; i < 3; ++i)
            if (std::abs(a.centre[i] - b.centre[i]) > tolerance::length) return a.centre[i] < b.centre[i];
        return false;
    });
    return out;
}

void addAxes(const std::vector<Round>& rounds, std::vector<Spot>& out) {
    for (const auto& r : rounds) {
        const bool hole = r.concave && r.sweep > kPi * 0.99;
        if (!hole && r.sweep < kPi * 0.49) continue; // the round of an edge: its axis means nothing to anybody
        const auto kind = hole ? Spot::Kind::HoleAxis : Spot::Kind::ShaftAxis;
        for (const double at : {0.0, r.from, r.to})
            out.push_back({kind, r.point + at * r.axis, r.axis, 2 * r.radius, r.error});
    }
}

void addSpots(const Solid& solid, std::vector<Spot>& out) {
    TopTools_IndexedMapOfShape faces, edges, vertices;
    TopExp::MapShapes(solid.shape, TopAbs_FACE, faces);
    TopExp::MapShapes(solid.shape, TopAbs_EDGE, edges);
    TopExp::MapShapes(solid.shape, TopAbs_VERTEX, vertices);
    for (int i = 1; i <= vertices.Extent(); ++i)
        out.push_back({Spot::Kind::Corner, occ::vec(BRep_Tool::Pnt(TopoDS::Vertex(vertices(i))).XYZ())});
    for (int i = 1; i <= edges.Extent(); ++i) {
        const TopoDS_Edge& edge = TopoDS::Edge(edges(i));
        if (BRep_Tool::Degenerated(edge)) continue;
        const BRepAdaptor_Curve c(edge);
        const double length = GCPnts_AbscissaPoint::Length(c);
        if (c.GetType() == GeomAbs_Circle && c.LastParameter() - c.FirstParameter() > kPi * 0.99) {
            const gp_Circ k = c.Circle();
            out.push_back({Spot::Kind::ShaftAxis, occ::vec(k.Location().XYZ()),
                           upwards(occ::vec(k.Axis().Direction().XYZ())), 2 * k.Radius()});
            continue;
        }
        gp_Pnt p;
        gp_Vec d;
        c.D1((c.FirstParameter() + c.LastParameter()) / 2, p, d);
        const Vec3 along = occ::vec(d.XYZ());
        out.push_back({Spot::Kind::EdgeMiddle, occ::vec(p.XYZ()),
                       along.norm() > 0 ? upwards(along.normalized()) : Vec3(Vec3::Zero()), length});
    }
    for (int i = 1; i <= faces.Extent(); ++i) {
        const TopoDS_Face& face = TopoDS::Face(faces(i));
        const BRepAdaptor_Surface s(face);
        const SolidMeasures g = measuresOf(Solid{face});
        if (s.GetType() == GeomAbs_Plane) {
            const Vec3 n = outward(s, 0, 0, face.Orientation() == TopAbs_REVERSED).normalized();
            out.push_back({Spot::Kind::FaceCentre, g.centre, n, std::sqrt(g.area)});
        } else if (s.GetType() == GeomAbs_Torus) {
            const gp_Torus t = s.Torus();
            out.push_back({Spot::Kind::ShaftAxis, occ::vec(t.Location().XYZ()),
                           upwards(occ::vec(t.Axis().Direction().XYZ())), 2 * t.MajorRadius()});
        } else if (s.GetType() == GeomAbs_Sphere) {
            out.push_back(
                {Spot::Kind::ShaftAxis, occ::vec(s.Sphere().Location().XYZ()), Vec3::Zero(), 2 * s.Sphere().Radius()});
        } else if (s.GetType() == GeomAbs_Cone) {
            double u0, u1, v0, v1;
            BRepTools::UVBounds(face, u0, u1, v0, v1);
            const gp_Cone k = s.Cone();
            const Vec3 axis = occ::vec(k.Axis().Direction().XYZ());
            const double along = (v0 + v1) / 2 * std::cos(k.SemiAngle());
            out.push_back({Spot::Kind::ShaftAxis, occ::vec(k.Location().XYZ()) + along * axis, upwards(axis),
                           2 * std::abs(k.RefRadius() + (v0 + v1) / 2 * std::sin(k.SemiAngle()))});
        }
    }
    addAxes(roundsOf(solid), out);
}

/// The middle of a chain of feature edges, by its points.
void addMiddleOf(const Mesh& mesh, const std::vector<std::uint32_t>& c, std::vector<Spot>& out) {
    double length = 0;
    for (size_t i = 1; i < c.size(); ++i) length += (mesh.points[c[i]] - mesh.points[c[i - 1]]).norm();
    const Vec3 a = mesh.points[c.front()], b = mesh.points[c.back()];
    if ((b - a).norm() > length * (1 - tolerance::alike)) {
        out.push_back({Spot::Kind::EdgeMiddle, (a + b) / 2, upwards((b - a).normalized()), length});
    } else if (c.front() == c.back() && c.size() > 8) { // round: the middle of a circle it fits
        Vec3 n = Vec3::Zero();
        for (size_t i = 1; i + 1 < c.size(); ++i) n += (mesh.points[c[i]] - a).cross(mesh.points[c[i + 1]] - a);
        if (n.norm() == 0) return;
        n.normalize();
        const Vec3 u = anyNormal(n), v = n.cross(u);
        std::vector<Vec2> flat;
        for (size_t i = 1; i < c.size(); ++i)
            flat.push_back({(mesh.points[c[i]] - a).dot(u), (mesh.points[c[i]] - a).dot(v)});
        Vec2 m;
        double r, error;
        if (fitCircle(flat, m, r, error) && error < r / 50)
            out.push_back({Spot::Kind::ShaftAxis, a + m.x() * u + m.y() * v, upwards(n), 2 * r, error});
    } else { // bent: half-way along it
        double s = 0;
        for (size_t i = 1; i < c.size(); ++i) {
            const Vec3 p = mesh.points[c[i - 1]], d = mesh.points[c[i]] - p;
            if (s + d.norm() >= length / 2) {
                out.push_back(
                    {Spot::Kind::EdgeMiddle, p + d.normalized() * (length / 2 - s), upwards(d.normalized()), length});
                break;
            }
            s += d.norm();
        }
    }
}

/// The middles of what is flat.
void addFaces(const Mesh& mesh, const MeshEdges& all, const std::vector<Vec3>& normals, std::vector<Spot>& out) {
    for (const auto& patch : patches(mesh, all, normals, 1 * kDegree)) {
        Vec3 n = Vec3::Zero(), middle = Vec3::Zero();
        double area = 0;
        for (auto t : patch) {
            const double a = areaOf(mesh, t);
            const auto& c = mesh.triangles[t];
            middle += a * (mesh.points[c[0]] + mesh.points[c[1]] + mesh.points[c[2]]) / 3;
            n += a * normals[t];
            area += a;
        }
        if (area > 0 && n.norm() > 0.999 * area)
            out.push_back({Spot::Kind::FaceCentre, middle / area, n.normalized(), std::sqrt(area)});
    }
}

void addSpots(const Mesh& mesh, std::vector<Spot>& out) {
    const MeshEdges all = edgesOf(mesh);
    const auto normals = normalsOf(mesh);
    // Chains of feature edges between corners.
    std::map<std::uint32_t, std::vector<std::uint32_t>> beside;
    for (const auto& e : all.edges)
        if (e.triangles != 2 ||
            normals[all.triangles[e.first]].dot(normals[all.triangles[e.first + 1]]) < std::cos(40 * kDegree)) {
            beside[e.a].push_back(e.b);
            beside[e.b].push_back(e.a);
        }
    const auto corner = [&](std::uint32_t i) {
        const auto& n = beside[i];
        if (n.size() != 2) return true;
        const Vec3 a = (mesh.points[i] - mesh.points[n[0]]).normalized(),
                   b = (mesh.points[n[1]] - mesh.points[i]).normalized();
        return a.dot(b) < std::cos(40 * kDegree);
    };
    std::map<std::pair<std::uint32_t, std::uint32_t>, bool> walked;
    const auto chain = [&](std::uint32_t from, std::uint32_t to) {
        std::vector<std::uint32_t> c{from, to};
        walked[{from, to}] = walked[{to, from}] = true;
        while (!corner(c.back()) && c.back() != from) {
            const auto& n = beside[c.back()];
            const auto next = n[0] == c[c.size() - 2] ? n[1] : n[0];
            walked[{c.back(), next}] = walked[{next, c.back()}] = true;
            c.push_back(next);
        }
        addMiddleOf(mesh, c, out);
    };
    for (const auto& [i, n] : beside)
        if (corner(i)) {
            out.push_back({Spot::Kind::Corner, mesh.points[i]});
            for (auto k : n)
                if (!walked[{i, k}]) chain(i, k);
        }
    for (const auto& [i, n] : beside) // loops without a corner
        for (auto k : n)
            if (!walked[{i, k}]) chain(i, k);
    addFaces(mesh, all, normals, out);
    addAxes(roundsOf(mesh, all, normals), out);
}

} // namespace

static std::vector<Round> roundsOf(const Body& body) {
    if (const auto solid = solidOf(body)) return roundsOf(*solid);
    return roundsOf(*body.mesh, edgesOf(*body.mesh), normalsOf(*body.mesh));
}

std::vector<Hole> holesOf(const Body& body) { return holesAmong(roundsOf(body)); }

std::vector<RoundFace> roundFacesOf(const Body& body) {
    std::vector<RoundFace> out;
    for (const Round& r : roundsOf(body))
        if (r.sweep > kPi * 0.99)
            out.push_back({r.point + (r.from + r.to) / 2 * r.axis, r.axis, r.radius, (r.to - r.from) / 2, r.concave});
    return out;
}

std::vector<Spot> spotsOf(const Body& body, size_t most) {
    std::vector<Spot> all, out;
    if (const auto solid = solidOf(body))
        addSpots(*solid, all);
    else
        addSpots(*body.mesh, all);
    std::stable_sort(all.begin(), all.end(),
                     [](const Spot& a, const Spot& b) { return a.kind != b.kind ? a.kind < b.kind : a.size > b.size; });
    size_t count = 0;
    for (const auto& s : all) {
        if (out.empty() || out.back().kind != s.kind) count = 0;
        if (count++ < most) out.push_back(s);
    }
    out.push_back({Spot::Kind::VolumeCentre, centreOf(body)});
    const Box3& box = body.mesh->box;
    for (int x = -1; x <= 1; ++x)
        for (int y = -1; y <= 1; ++y)
            for (int z = -1; z <= 1; ++z)
                out.push_back({Spot::Kind::BoxPoint, seatPoint(Seat{BoxPoint{x, y, z}}, box)});
    return out;
}

} // namespace vicinal
