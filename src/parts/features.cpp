// Holes, axes, faces and corners of a part: what a seat can be put on.
#include "parts/body.h"
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

/// A round face or strip: concave ones are holes.
struct Round {
    Vec3 point, axis;               ///< on the axis, at the middle of its length
    double radius, from, to, sweep; ///< along the axis from `point`; radians round it
    bool concave;
    double error = 0;
};

/// Directions are told apart no matter which way they run: the same line gives the same one.
Vec3 upwards(Vec3 v) {
    for (int i = 2; i >= 0; --i) {
        if (v[i] > 1e-9) return v;
        if (v[i] < -1e-9) return -v;
    }
    return v;
}

/// Strips on one axis with one radius that touch are one.
std::vector<Round> joined(std::vector<Round> in) {
    for (size_t i = 0; i < in.size(); ++i)
        for (size_t k = i + 1; k < in.size();) {
            Round &a = in[i], &b = in[k];
            const double tol = 1e-4 * a.radius + 1e-6;
            Vec3 d = b.point - a.point;
            const double along = d.dot(a.axis);
            d -= along * a.axis;
            const double from = along + b.from, to = along + b.to;
            if (a.concave != b.concave || std::abs(a.radius - b.radius) > tol || a.axis.cross(b.axis).norm() > 1e-4 ||
                d.norm() > tol || from > a.to + tol || to < a.from - tol) {
                ++k;
                continue;
            }
            // Side by side round the axis, or one after the other along it.
            const bool beside =
                std::min(to, a.to) - std::max(from, a.from) > 0.5 * std::min(b.to - b.from, a.to - a.from);
            a.sweep = beside ? std::min(2 * kPi, a.sweep + b.sweep) : std::max(a.sweep, b.sweep);
            a.from = std::min(a.from, from);
            a.to = std::max(a.to, to);
            a.error = std::max(a.error, b.error);
            in.erase(in.begin() + long(k));
            k = i + 1;
        }
    for (auto& r : in) {
        const double middle = (r.from + r.to) / 2;
        r.point += middle * r.axis;
        r.from -= middle, r.to -= middle;
    }
    return in;
}

Vec3 outward(const BRepAdaptor_Surface& s, double u, double v, bool reversed) {
    gp_Pnt p;
    gp_Vec du, dv;
    s.D1(u, v, p, du, dv);
    const Vec3 n = occ::vec(du.Crossed(dv).XYZ());
    return reversed ? Vec3(-n) : n;
}

std::vector<Round> roundsOf(const Solid& solid) {
    std::vector<Round> out;
    TopTools_IndexedMapOfShape faces;
    TopExp::MapShapes(solid.shape, TopAbs_FACE, faces);
    for (int i = 1; i <= faces.Extent(); ++i) {
        const TopoDS_Face& face = TopoDS::Face(faces(i));
        const BRepAdaptor_Surface s(face);
        if (s.GetType() != GeomAbs_Cylinder) continue;
        const gp_Cylinder c = s.Cylinder();
        double u0, u1, v0, v1;
        BRepTools::UVBounds(face, u0, u1, v0, v1);
        Round r;
        const Vec3 axis = occ::vec(c.Axis().Direction().XYZ()), origin = occ::vec(c.Location().XYZ());
        r.axis = upwards(axis);
        r.point = origin + axis * (v0 + v1) / 2;
        r.from = -std::abs(v1 - v0) / 2;
        r.to = -r.from;
        r.radius = c.Radius();
        r.sweep = std::abs(u1 - u0);
        const double u = (u0 + u1) / 2, v = (v0 + v1) / 2;
        const Vec3 at = occ::vec(s.Value(u, v).XYZ()), radial = at - origin - axis * (at - origin).dot(axis);
        r.concave = outward(s, u, v, face.Orientation() == TopAbs_REVERSED).dot(radial) < 0;
        out.push_back(r);
    }
    return joined(std::move(out));
}

/// Circle through points in a plane in the least-squares sense, then made better geometrically.
/// Source: Kasa, "A circle fitting procedure and its error analysis", 1976; Gauss-Newton on the distances.
bool fitCircle(const std::vector<Vec2>& p, Vec2& centre, double& radius, double& error) {
    if (p.size() < 5) return false;
    Vec2 mean = Vec2::Zero();
    for (const auto& q : p) mean += q;
    mean /= double(p.size());
    Eigen::Matrix3d A = Eigen::Matrix3d::Zero();
    Vec3 b = Vec3::Zero();
    for (const auto& q : p) {
        const Vec2 d = q - mean;
        const Vec3 row(d.x(), d.y(), 1);
        A += row * row.transpose();
        b += row * d.squaredNorm();
    }
    Vec3 x = A.ldlt().solve(b);
    Vec2 c(x.x() / 2, x.y() / 2);
    double r = std::sqrt(std::max(0.0, x.z() + c.squaredNorm()));
    for (int step = 0; step < 6; ++step) {
        Eigen::Matrix3d N = Eigen::Matrix3d::Zero();
        Vec3 g = Vec3::Zero();
        for (const auto& q : p) {
            const Vec2 d = (q - mean) - c;
            const double n = d.norm();
            if (n < 1e-12) return false;
            const Vec3 row(-d.x() / n, -d.y() / n, -1);
            N += row * row.transpose();
            g += row * (n - r);
        }
        const Vec3 dx = N.ldlt().solve(-g);
        if (!dx.allFinite()) return false;
        c += dx.head<2>();
        r += dx.z();
        if (dx.norm() < 1e-13 * r) break;
    }
    error = 0;
    for (const auto& q : p) error = std::max(error, std::abs((q - mean - c).norm() - r));
    centre = mean + c;
    radius = r;
    return std::isfinite(r) && r > 0;
}

/// Triangles that hang together over edges bent less than `bend`.
std::vector<std::vector<std::uint32_t>> patches(const Mesh& mesh, const MeshEdges& all,
                                                const std::vector<Vec3>& normals, double bend) {
    const double least = std::cos(bend);
    std::vector<std::uint32_t> parent(mesh.triangles.size());
    std::iota(parent.begin(), parent.end(), 0u);
    const auto root = [&](std::uint32_t t) {
        while (parent[t] != t) t = parent[t] = parent[parent[t]];
        return t;
    };
    for (const auto& e : all.edges) {
        if (e.triangles != 2) continue;
        const auto a = all.triangles[e.first], b = all.triangles[e.first + 1];
        if (normals[a].dot(normals[b]) > least) parent[root(a)] = root(b);
    }
    std::map<std::uint32_t, size_t> number;
    std::vector<std::vector<std::uint32_t>> out;
    for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t) {
        const auto [it, fresh] = number.try_emplace(root(t), out.size());
        if (fresh) out.emplace_back();
        out[it->second].push_back(t);
    }
    return out;
}

double areaOf(const Mesh& m, std::uint32_t t) {
    const auto& c = m.triangles[t];
    return (m.points[c[1]] - m.points[c[0]]).cross(m.points[c[2]] - m.points[c[0]]).norm() / 2;
}

std::optional<Round> roundOf(const Mesh& mesh, const std::vector<Vec3>& normals,
                             const std::vector<std::uint32_t>& patch) {
    if (patch.size() < 8) return std::nullopt;
    Mat3 spread = Mat3::Zero();
    double area = 0;
    for (auto t : patch) {
        const double a = areaOf(mesh, t);
        spread += a * normals[t] * normals[t].transpose();
        area += a;
    }
    const Eigen::SelfAdjointEigenSolver<Mat3> eigen(spread / area);
    // Square to one direction (to a degree: scanned walls are not quite straight), spread round it.
    if (eigen.eigenvalues()[0] > 3e-4 || eigen.eigenvalues()[1] < 0.05) return std::nullopt;
    Round r;
    r.axis = upwards(eigen.eigenvectors().col(0));
    for (int i = 0; i < 3; ++i)
        if (std::abs(r.axis[i]) > 1 - 1e-9) r.axis = Vec3::Unit(i);
    const Vec3 u = anyNormal(r.axis), v = r.axis.cross(u);
    std::vector<std::uint32_t> used;
    for (auto t : patch) used.insert(used.end(), mesh.triangles[t].begin(), mesh.triangles[t].end());
    std::sort(used.begin(), used.end());
    used.erase(std::unique(used.begin(), used.end()), used.end());
    std::vector<Vec2> flat;
    const Vec3 origin = mesh.points[used[0]];
    double from = 1e300, to = -1e300;
    for (auto i : used) {
        const Vec3 d = mesh.points[i] - origin;
        flat.push_back({d.dot(u), d.dot(v)});
        from = std::min(from, d.dot(r.axis));
        to = std::max(to, d.dot(r.axis));
    }
    Vec2 c;
    if (!fitCircle(flat, c, r.radius, r.error) || r.error > r.radius / 50 || to - from < 1e-9) return std::nullopt;
    std::vector<double> turns;
    for (const auto& q : flat) turns.push_back(std::atan2(q.y() - c.y(), q.x() - c.x()));
    std::sort(turns.begin(), turns.end());
    double gap = turns.front() + 2 * kPi - turns.back();
    for (size_t i = 1; i < turns.size(); ++i) gap = std::max(gap, turns[i] - turns[i - 1]);
    r.sweep = 2 * kPi - gap;
    if (gap < kPi / 4) r.sweep = 2 * kPi; // one facet
    const Vec3 centre = origin + c.x() * u + c.y() * v;
    double inwards = 0;
    for (auto t : patch) {
        const auto& k = mesh.triangles[t];
        const Vec3 m = (mesh.points[k[0]] + mesh.points[k[1]] + mesh.points[k[2]]) / 3 - centre;
        inwards += areaOf(mesh, t) * normals[t].dot(m - r.axis * m.dot(r.axis));
    }
    r.concave = inwards < 0;
    r.point = centre + r.axis * (from + to) / 2;
    r.from = (from - to) / 2;
    r.to = -r.from;
    return r;
}

std::vector<Round> roundsOf(const Mesh& mesh, const MeshEdges& edges, const std::vector<Vec3>& normals) {
    std::vector<Round> out;
    for (const auto& patch : patches(mesh, edges, normals, 40 * kDegree))
        if (auto r = roundOf(mesh, normals, patch)) out.push_back(*r);
    return joined(std::move(out));
}

std::vector<Hole> holesAmong(const std::vector<Round>& rounds) {
    std::vector<Hole> out;
    for (const auto& r : rounds)
        if (r.concave && r.sweep > kPi * 0.99) out.push_back({r.point, r.axis, r.radius, r.to - r.from, r.error});
    std::sort(out.begin(), out.end(), [](const Hole& a, const Hole& b) {
        if (std::abs(a.radius - b.radius) > 1e-6) return a.radius < b.radius;
        for (int i = 0; i < 3; ++i)
            if (std::abs(a.centre[i] - b.centre[i]) > 1e-6) return a.centre[i] < b.centre[i];
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
        double length = 0;
        for (size_t i = 1; i < c.size(); ++i) length += (mesh.points[c[i]] - mesh.points[c[i - 1]]).norm();
        const Vec3 a = mesh.points[c.front()], b = mesh.points[c.back()];
        if ((b - a).norm() > length * (1 - 1e-6)) {
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
                    out.push_back({Spot::Kind::EdgeMiddle, p + d.normalized() * (length / 2 - s),
                                   upwards(d.normalized()), length});
                    break;
                }
                s += d.norm();
            }
        }
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
