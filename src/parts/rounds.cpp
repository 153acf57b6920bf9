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

Vec3 upwards(Vec3 v) {
    for (int i = 2; i >= 0; --i) {
        if (v[i] > tolerance::rounding) return v;
        if (v[i] < -tolerance::rounding) return -v;
    }
    return v;
}

/// Strips on one axis with one radius that touch are one.
std::vector<Round> joined(std::vector<Round> in) {
    for (size_t i = 0; i < in.size(); ++i)
        for (size_t k = i + 1; k < in.size();) {
            Round &a = in[i], &b = in[k];
            const double tol = 1e-4 * a.radius + tolerance::length;
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
            if (n < tolerance::fine) return false;
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
        if (std::abs(r.axis[i]) > 1 - tolerance::rounding) r.axis = Vec3::Unit(i);
    const Vec3 u = anyNormal(r.axis), v = r.axis.cross(u);
    std::vector<std::uint32_t> used;
    for (auto t : patch) used.insert(used.end(), mesh.triangles[t].begin(), mesh.triangles[t].end());
    std::sort(used.begin(), used.end());
    used.erase(std::unique(used.begin(), used.end()), used.end());
    std::vector<Vec2> flat;
    const Vec3 origin = mesh.points[used[0]];
    double from = kFar, to = -kFar;
    for (auto i : used) {
        const Vec3 d = mesh.points[i] - origin;
        flat.push_back({d.dot(u), d.dot(v)});
        from = std::min(from, d.dot(r.axis));
        to = std::max(to, d.dot(r.axis));
    }
    Vec2 c;
    if (!fitCircle(flat, c, r.radius, r.error) || r.error > r.radius / 50 || to - from < tolerance::rounding)
        return std::nullopt;
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

} // namespace vicinal
