// Area, volume and centre of exact bodies. OpenCASCADE's own integrals are wrong by percents where an edge is rational
// (an ellipse, most imported curves) or take minutes, so they are worked out here: every face is a region of its
// surface's parameters, and Green's theorem turns the integral over it into one along its edges,
//   int int F du dv = closed int G dv,  G(u, v) = int_{u0}^{u} F du,
// each by Gauss-Legendre with error control, cut where surface or curve have knots.
#include "base/numeric/solve.h"
#include "parts/solid/fine.h"
#include "parts/solid/shape.h"
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <Geom2dAdaptor_Curve.hxx>
#include <Geom2d_Curve.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <array>
#include <cmath>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>
#include <vector>

namespace vicinal {
namespace {

/// Sums over a surface: area, area times point, volume (three times), volume times point (four times).
using Sums = Eigen::Matrix<double, 8, 1>;

class FaceIntegral {
public:
    FaceIntegral(const TopoDS_Face& face, const Vec3& origin)
        : m_face(TopoDS::Face(face.Oriented(TopAbs_FORWARD))), m_surface(m_face, false), m_origin(origin),
          m_flat(m_surface.GetType() == GeomAbs_Plane) {
        double u0, u1, v0, v1;
        BRepTools::UVBounds(m_face, u0, u1, v0, v1);
        m_cuts = {u0};
        m_height = v1 - v0;
        if (m_flat) return;
        TColStd_Array1OfReal knots(1, m_surface.NbUIntervals(GeomAbs_CN) + 1);
        m_surface.UIntervals(knots, GeomAbs_CN);
        for (double k : knots)
            if (k > u0 + tolerance::fine && k < u1 - tolerance::fine) m_cuts.push_back(k);
        m_cuts.push_back(u1);
        // Angles in quarter turns, long spline patches in halves: the rule below is then good to the last digits.
        std::vector<double> fine;
        for (size_t i = 0; i + 1 < m_cuts.size(); ++i) {
            const double a = m_cuts[i], b = m_cuts[i + 1];
            const int n =
                m_surface.IsUPeriodic() ? std::max(1, int(std::ceil((b - a) / (kPi / 2) - tolerance::rounding))) : 2;
            for (int k = 0; k < std::min(n, 64); ++k) fine.push_back(a + (b - a) * k / std::min(n, 64));
        }
        m_cuts = fine;
    }

    /// `scale`: size of the sums of which the error is to be a ten-billionth.
    Sums over(const Sums& scale) {
        m_allowed = scale * 1e-11;
        Sums out = Sums::Zero();
        for (TopExp_Explorer e(m_face, TopAbs_EDGE); e.More(); e.Next()) out += along(TopoDS::Edge(e.Current()));
        return out;
    }

private:
    Sums along(const TopoDS_Edge& edge) {
        double first, last;
        const Handle(Geom2d_Curve) curve = BRep_Tool::CurveOnSurface(edge, m_face, first, last);
        if (curve.IsNull() || !(last > first)) return Sums::Zero();
        const Geom2dAdaptor_Curve c(curve, first, last);
        TColStd_Array1OfReal knots(1, c.NbIntervals(GeomAbs_CN) + 1);
        c.Intervals(knots, GeomAbs_CN);
        Sums out = Sums::Zero();
        for (int i = knots.Lower(); i < knots.Upper(); ++i) {
            const double a = knots(i), b = knots(i + 1);
            if (b > a) out += refine(*curve, a, b, quick(*curve, a, b), m_flat && c.GetType() == GeomAbs_Line ? 0 : 14);
        }
        return edge.Orientation() == TopAbs_REVERSED ? Sums(-out) : out;
    }

    Sums refine(const Geom2d_Curve& c, double a, double b, const Sums& whole, int depth) {
        if (depth == 0) return whole;
        const double m = (a + b) / 2;
        const Sums l = quick(c, a, m), r = quick(c, m, b);
        // A rule of twenty orders errs on the halves by far less than they differ from the whole.
        if (((l + r - whole).cwiseAbs().array() <= 1e3 * m_allowed.array()).all()) return l + r;
        return refine(c, a, m, l, depth - 1) + refine(c, m, b, r, depth - 1);
    }

    Sums quick(const Geom2d_Curve& c, double a, double b) const {
        const auto& g = GaussRule<10>::get();
        Sums out = Sums::Zero();
        for (int i = 0; i < 10; ++i) {
            gp_Pnt2d p;
            gp_Vec2d d;
            c.D1((a + b + (b - a) * g.x[i]) / 2, p, d);
            if (d.Y() != 0) out += (g.w[i] * (b - a) / 2 * d.Y()) * inner(p.X(), p.Y());
        }
        return out;
    }

    /// G(u, v).
    Sums inner(double u, double v) const {
        Sums out = Sums::Zero();
        if (m_flat) return piece<2>(m_cuts.front(), u, v);
        for (size_t i = 0; i < m_cuts.size(); ++i) {
            const double a = m_cuts[i];
            if (a >= u) break;
            const bool last = i + 1 == m_cuts.size() || m_cuts[i + 1] >= u;
            out += adaptive(a, last ? u : m_cuts[i + 1], v, 8);
            if (last) break;
        }
        if (u < m_cuts.front()) out += adaptive(m_cuts.front(), u, v, 8);
        return out;
    }

    /// A thin ellipse turns sharply at its ends: there the pieces get smaller.
    Sums adaptive(double a, double b, double v, int depth) const {
        const Sums fine = piece<14>(a, b, v);
        if (depth == 0) return fine;
        const Sums miss = (fine - piece<9>(a, b, v)).cwiseAbs();
        if ((miss.array() * m_height <= 10 * m_allowed.array()).all()) return fine;
        return adaptive(a, (a + b) / 2, v, depth - 1) + adaptive((a + b) / 2, b, v, depth - 1);
    }

    template<int n> Sums piece(double a, double b, double v) const {
        const auto& g = GaussRule<n>::get();
        Sums out = Sums::Zero();
        for (int i = 0; i < n; ++i) {
            gp_Pnt p;
            gp_Vec du, dv;
            m_surface.D1((a + b + (b - a) * g.x[i]) / 2, v, p, du, dv);
            const Vec3 r = occ::vec(p.XYZ()) - m_origin, N = occ::vec(du.XYZ()).cross(occ::vec(dv.XYZ()));
            const double area = N.norm(), flux = r.dot(N);
            Sums f;
            f << area, area * r, flux, flux * r;
            out += (g.w[i] * (b - a) / 2) * f;
        }
        return out;
    }

    TopoDS_Face m_face;
    BRepAdaptor_Surface m_surface;
    Vec3 m_origin;
    bool m_flat;
    std::vector<double> m_cuts; ///< along u
    double m_height = 0;        ///< of the region, along v
    Sums m_allowed;
};

} // namespace

SolidMeasures measuresOf(const Solid& solid) {
    SolidMeasures out;
    Bnd_Box bounds; // only for the size and a middle: needs not be tight
    BRepBndLib::Add(solid.shape, bounds, false);
    if (bounds.IsVoid()) return out;
    const Box3 box(occ::vec(bounds.CornerMin().XYZ()), occ::vec(bounds.CornerMax().XYZ()));
    const double d = std::max(box.diagonal().norm(), tolerance::rounding);
    Sums scale;
    scale << d * d, d * d * d, d * d * d, d * d * d, d * d * d, Vec3::Constant(d * d * d * d);
    const auto over = [&](const TopoDS_Shape& face, Sums& sums) {
        const bool reversed = face.Orientation() == TopAbs_REVERSED;
        Sums s = FaceIntegral(TopoDS::Face(face), box.center()).over(scale);
        if (s[0] < 0) s = -s; // a face whose wire runs the other way round in its parameters
        if (reversed) s.tail<4>() = -s.tail<4>();
        sums += s;
    };
    try {
        Sums all = Sums::Zero();
        for (TopExp_Explorer k(solid.shape, TopAbs_SOLID); k.More(); k.Next()) {
            Sums one = Sums::Zero();
            for (TopExp_Explorer f(k.Current(), TopAbs_FACE); f.More(); f.Next()) over(f.Current(), one);
            if (one[4] < 0) one.tail<4>() = -one.tail<4>();
            all += one;
        }
        for (TopExp_Explorer f(solid.shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next()) {
            Sums sheet = Sums::Zero();
            over(f.Current(), sheet);
            all.head<4>() += sheet.head<4>();
        }
        out.area = all[0];
        out.volume = all[4] / 3;
        out.centre = box.center();
        if (out.volume > 0)
            out.centre += Vec3(all.tail<3>()) / (4 * out.volume);
        else if (out.area > 0)
            out.centre += Vec3(all.segment<3>(1)) / out.area;
    } catch (const Standard_Failure&) { // a face without curves on it: nothing better is known
    }
    return out;
}

double volumeOf(const Solid& s) { return measuresOf(s).volume; }
double areaOf(const Solid& s) { return measuresOf(s).area; }
Vec3 centreOf(const Solid& s) { return measuresOf(s).centre; }

bool isCurved(const Solid& solid) {
    for (TopExp_Explorer f(solid.shape, TopAbs_FACE); f.More(); f.Next())
        if (BRepAdaptor_Surface(TopoDS::Face(f.Current())).GetType() != GeomAbs_Plane) return true;
    return false;
}

} // namespace vicinal
