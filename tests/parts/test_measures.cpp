// Volume, area, centre and box of exact bodies whose edges and faces are rational: closed formulas, and fine meshes by
// OpenCASCADE's mesher as another witness.
#include "parts/body.h"
#include "parts/makers/maker.h"
#include "parts/solid/outline.h"
#include "parts/solid/shape.h"
#include "suite.h"
#include "support.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_NurbsConvert.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepOffsetAPI_ThruSections.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeHalfSpace.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <BRep_Tool.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <gp_Pln.hxx>

namespace test_measures {

using namespace vicinal;
using namespace vicinal::test;

namespace {

#define CLOSE(actual, expected, relative) NEAR(actual, expected, std::abs(expected) * (relative) + 1e-12)

/// Volume and area of OpenCASCADE's triangles.
std::pair<double, double> meshed(const TopoDS_Shape& shape, double fine) {
    BRepMesh_IncrementalMesh(shape, fine, false, 0.05, false);
    double volume = 0, area = 0;
    for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
        TopLoc_Location where;
        const auto t = BRep_Tool::Triangulation(TopoDS::Face(f.Current()), where);
        for (int i = 1; i <= t->NbTriangles(); ++i) {
            int a, b, c;
            t->Triangle(i).Get(a, b, c);
            if (f.Current().Orientation() == TopAbs_REVERSED) std::swap(b, c);
            const auto p = [&](int k) { return occ::vec(t->Node(k).Transformed(where.Transformation()).XYZ()); };
            const Vec3 n = (p(b) - p(a)).cross(p(c) - p(a)) / 2;
            area += n.norm();
            volume += n.dot(p(a)) / 3;
        }
    }
    return {volume, area};
}

double ellipseLength(double a, double b) {
    double sum = 0; // the midpoint rule converges faster than any power on a period
    constexpr int n = 4000;
    for (int i = 0; i < n; ++i)
        sum += std::hypot(a * std::sin(2 * kPi * (i + 0.5) / n), b * std::cos(2 * kPi * (i + 0.5) / n));
    return sum * 2 * kPi / n;
}

TopoDS_Shape cutSlanting(const TopoDS_Shape& body) {
    const gp_Pln plane(gp_Pnt(0, 0, 60), gp_Dir(0.5, 0, 1));
    const auto half = BRepPrimAPI_MakeHalfSpace(BRepBuilderAPI_MakeFace(plane).Face(), gp_Pnt(0, 0, 500)).Solid();
    return BRepAlgoAPI_Cut(body, half).Shape();
}
TopoDS_Shape rational(const TopoDS_Shape& s) { return BRepBuilderAPI_NurbsConvert(s, true).Shape(); }

} // namespace

class TestMeasures : public QObject {
    Q_OBJECT
private slots:
    void trianglesKeepWithinWhatIsAsked();
    void extrudedEllipse();
    void closedForms_data();
    void closedForms();
    void rationalOutlines();
    void movedAndMirrored();
    void outlinesOfCoincidentTriangles();
};

void TestMeasures::extrudedEllipse() {
    for (const auto& [a, b, h] : {std::tuple{80.0, 30.0, 50.0}, {400.0, 3.0, 7.0}, {12.0, 12.0, 900.0}}) {
        const Vec3 c(10, 20, 0);
        const auto solid = extruded(std::vector<Ring>{{ellipseArc(c, {a, 0, 0}, {0, b, 0}, 0, 2 * kPi)}}, 0, h);
        QVERIFY(bool(solid));
        const SolidMeasures m = measuresOf(**solid);
        CLOSE(m.volume, kPi * a * b * h, 1e-10);
        CLOSE(m.area, 2 * kPi * a * b + ellipseLength(a, b) * h, 1e-9);
        NEAR((m.centre - Vec3(10, 20, h / 2)).norm(), 0, 1e-8);
        const Box3 box = boxOf(**solid);
        NEAR((box.min() - Vec3(10 - a, 20 - b, 0)).norm(), 0, 1e-9);
        NEAR((box.max() - Vec3(10 + a, 20 + b, h)).norm(), 0, 1e-9);
        // What the part says is what its solid says.
        const auto body = bodyOf(*solid);
        const Measures seated = measuresOf(**body, Seat{});
        CLOSE(seated.volume, kPi * a * b * h, 1e-10);
        NEAR(seated.length(), 2 * a, 1e-9);
        NEAR(seated.width(), 2 * b, 1e-9);
        // Turned by any angle the extents are the ellipse's own formula.
        Seat turned;
        turned.nose = Vec3(Vec3(0.6, 0.8, 0));
        NEAR(measuresOf(**body, turned).length(), 2 * std::hypot(0.6 * a, 0.8 * b), 1e-8);
    }
}

void TestMeasures::closedForms_data() {
    QTest::addColumn<int>("kind");
    for (const char* name : {"sphere", "cut cylinder", "torus", "cone"})
        for (int asNurbs : {0, 1})
            QTest::newRow(qPrintable(QString("%1%2").arg(name).arg(asNurbs ? " as rational faces" : "")))
                << int(QString(name) == "sphere"         ? 0
                       : QString(name) == "cut cylinder" ? 1
                       : QString(name) == "torus"        ? 2
                                                         : 3) *
                           2 +
                       asNurbs;
}

void TestMeasures::closedForms() {
    QFETCH(int, kind);
    TopoDS_Shape shape;
    double volume = 0, area = 0;
    Vec3 centre(0, 0, 0);
    switch (kind / 2) {
    case 0:
        shape = BRepPrimAPI_MakeSphere(40).Shape();
        volume = 4.0 / 3 * kPi * 64000, area = 4 * kPi * 1600;
        break;
    case 1: // the mean height is that in the middle; the centre leans towards the high side: x = -r^2 tan / 4 h
        shape = cutSlanting(BRepPrimAPI_MakeCylinder(20, 100).Shape());
        volume = kPi * 400 * 60, area = kPi * 400 * (1 + std::sqrt(1.25)) + 2 * kPi * 20 * 60;
        centre = {-400 * 0.5 / (4 * 60), 0, 30 + 400 * 0.25 / (8 * 60)};
        break;
    case 2:
        shape = BRepPrimAPI_MakeTorus(50, 12).Shape();
        volume = 2 * kPi * kPi * 50 * 144, area = 4 * kPi * kPi * 50 * 12;
        break;
    case 3:
        shape = BRepPrimAPI_MakeCone(30, 10, 40).Shape();
        volume = kPi * 40 / 3 * (900 + 300 + 100), area = kPi * (900 + 100 + 40 * std::hypot(20, 40));
        centre = {0, 0, 40.0 / 4 * (900 + 2 * 300 + 3 * 100) / (900 + 300 + 100)};
        break;
    }
    if (kind % 2) shape = rational(shape);
    const SolidMeasures m = measuresOf(Solid{shape});
    CLOSE(m.volume, volume, 1e-9);
    CLOSE(m.area, area, 1e-8);
    NEAR((m.centre - centre).norm(), 0, 1e-6);
}

void TestMeasures::rationalOutlines() {
    // Closed rational splines of random weights: the area by Gauss along our own curve, the mesh as second witness.
    std::mt19937 random(3);
    std::uniform_real_distribution<double> radius(60, 140), weight(0.3, 4);
    for (int k = 0; k < 6; ++k) {
        Nurbs c;
        c.degree = 3;
        const int n = 9;
        for (int i = 0; i < n; ++i) {
            const double a = 2 * kPi * i / n, r = radius(random);
            c.points.push_back({r * std::cos(a), r * std::sin(a), 0});
            c.weights.push_back(weight(random));
        }
        c.points.push_back(c.points.front());
        c.weights.push_back(c.weights.front());
        c.knots = {0, 0, 0, 0, 1, 2, 3, 4, 5, 6, 7, 7, 7, 7};
        const auto solid = extruded(std::vector<Ring>{{c}}, 0, 25);
        QVERIFY2(bool(solid), solid ? "" : solid.problem().text.c_str());
        const Path path = pathOf({c}, true);
        double area = 0;
        for (const auto& span : path.spans()) {
            constexpr int steps = 4000;
            for (int i = 0; i < steps; ++i) {
                const Jet j = span.jet((i + 0.5) / steps);
                area += (j.p.x() * j.d1.y() - j.p.y() * j.d1.x()) / 2 / steps;
            }
        }
        const SolidMeasures m = measuresOf(**solid);
        CLOSE(m.volume, area * 25, 1e-6);
        CLOSE(m.area, 2 * area + path.length() * 25, 1e-6);
        const auto [volume, surface] = meshed((*solid)->shape, 0.01);
        CLOSE(m.volume, volume, 2e-3);
        CLOSE(m.area, surface, 2e-3);
        const Box3 box = boxOf(**solid), flat = path.bounds();
        NEAR((box.max().head<2>() - flat.max().head<2>()).norm() + (box.min() - flat.min()).norm(), 0, 1e-8);
    }
    // A skin of rational faces between an ellipse and a circle, which no formula knows.
    BRepOffsetAPI_ThruSections skin(true, false);
    skin.AddWire(occ::wireOf({ellipseArc({0, 0, 0}, {60, 0, 0}, {0, 25, 0}, 0, 2 * kPi)}));
    skin.AddWire(occ::wireOf({ellipseArc({15, 5, 80}, {20, 0, 0}, {0, 40, 0}, 0, 2 * kPi)}));
    skin.AddWire(occ::wireOf({ellipseArc({-15, 5, 140}, {45, 10, 0}, {-4, 40, 0}, 0, 2 * kPi)}));
    const SolidMeasures m = measuresOf(Solid{skin.Shape()});
    const auto [volume, surface] = meshed(skin.Shape(), 0.02);

    CLOSE(m.volume, volume, 2e-3);
    CLOSE(m.area, surface, 2e-3);
}

void TestMeasures::movedAndMirrored() {
    const auto solid =
        std::make_shared<const Solid>(Solid{rational(cutSlanting(BRepPrimAPI_MakeCylinder(20, 100).Shape()))});
    const SolidMeasures m = measuresOf(*solid);
    Mat3 R = someRotation();
    R.col(1) = -R.col(1);
    const Vec3 t(4000, -300, 20);
    const SolidMeasures n = measuresOf(*moved(solid, R, t, 2));
    CLOSE(n.volume, 8 * m.volume, 1e-9);
    CLOSE(n.area, 4 * m.area, 1e-9);
    NEAR((n.centre - (2 * (R * m.centre) + t)).norm(), 0, 1e-6);
}

void TestMeasures::outlinesOfCoincidentTriangles() {
    // A sheet that is there twenty thousand times, its corners in every order.
    Mesh mesh;
    mesh.points = {{0, 0, 0}, {100, 0, 0}, {0, 60, 0}, {100, 60, 0}};
    for (std::uint32_t i = 0; i < 20'000; ++i) {
        mesh.triangles.push_back({i % 3, (i + 1) % 3, (i + 2) % 3});
        mesh.triangles.push_back({1, 3, 2});
    }
    for (const auto& q : mesh.points) mesh.box.extend(q);
    const auto outline = outlineOf(*bodyOf(std::make_shared<const Mesh>(mesh)), Seat{});
    CLOSE(outline.area, 6000, 1e-4);
    // The outline of an extruded ellipse, whose edges are rational, knows its area.
    const auto solid = extruded(std::vector<Ring>{{ellipseArc({0, 0, 0}, {80, 0, 0}, {0, 30, 0}, 0, 2 * kPi)}}, 0, 50);
    CLOSE(outlineOf(**bodyOf(*solid), Seat{}).area, kPi * 80 * 30, 1e-6);
}

void TestMeasures::trianglesKeepWithinWhatIsAsked() {
    // A link's surface is everywhere half its bar from its middle line: two straights and two half circles.
    const RoundLink link{10, 40, 16};
    const BodyPtr body = bodyOf(make(Maker(link))).value();
    const double R = (link.insideWidth + link.bar) / 2, straight = (link.insideLength + link.bar) / 2 - R;
    const auto off = [&](const Mesh& mesh) {
        double worst = 0;
        for (const auto& t : mesh.triangles)
            for (int k = 0; k < 36; ++k) {
                const double u = (k % 6) / 5.0, v = (k / 6) / 5.0;
                if (u + v > 1 + 1e-9) continue;
                const Vec3 p = mesh.points[t[0]] + u * (mesh.points[t[1]] - mesh.points[t[0]]) +
                               v * (mesh.points[t[2]] - mesh.points[t[0]]);
                const double past = std::max(0.0, std::abs(p.x()) - straight);
                // It lies in whichever plane it is thinnest across.
                const Vec3 size = mesh.box.sizes();
                const double side = size.y() > size.z() ? p.y() : p.z(), up = size.y() > size.z() ? p.z() : p.y();
                const double flat = std::abs(std::hypot(past, side) - R);
                worst = std::max(worst, std::abs(std::hypot(flat, up - mesh.box.center()[size.y() > size.z() ? 2 : 1]) -
                                                 link.bar / 2));
            }
        return worst;
    };
    size_t before = 0;
    for (const double asked : {0.5, 0.1, 0.02, 0.005}) {
        double within = asked;
        const auto mesh = fineMesh(*body, within);
        QCOMPARE(within, asked);
        QVERIFY2(off(*mesh) <= 1.02 * asked, qPrintable(QString("%1 for %2").arg(off(*mesh)).arg(asked)));
        QVERIFY(mesh->triangles.size() >= before && isClosed(*mesh));
        before = mesh->triangles.size();
        double again = asked;
        QVERIFY(fineMesh(*body, again) == mesh); // the same object
    }
    double within = 1;
    const BodyPtr box = bodyOf(make(Maker(PlainBox{}))).value();
    QVERIFY(fineMesh(*box, within) == box->mesh && within == 0); // flat faces are triangles exactly
}

VICINAL_SUITE(TestMeasures)

} // namespace test_measures
#include "test_measures.moc"
