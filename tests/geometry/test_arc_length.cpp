// Arc length and its inverse against closed forms and against OpenCASCADE.
#include "geometry/path/path.h"
#include "suite.h"
#include "support.h"
#include <GCPnts_AbscissaPoint.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <cmath>

namespace test_arc_length {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Nurbs randomNurbs(unsigned seed, int degree, int n, bool rational) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> jump(0.2, 2), weight(0.3, 3);
    Nurbs c;
    c.degree = degree;
    c.points = randomPoints(seed, n);
    for (int i = 0; i < n; ++i) c.weights.push_back(rational ? weight(random) : 1.0);
    c.knots.assign(degree + 1, 0);
    for (int i = degree + 1; i < n; ++i) c.knots.push_back(c.knots.back() + jump(random));
    c.knots.insert(c.knots.end(), degree + 1, c.knots.back() + 1);
    return c;
}

Handle(Geom_BSplineCurve) occt(const Nurbs& c) {
    TColgp_Array1OfPnt poles(1, int(c.points.size()));
    TColStd_Array1OfReal weights(1, int(c.points.size()));
    for (size_t i = 0; i < c.points.size(); ++i) {
        poles(int(i) + 1) = gp_Pnt(c.points[i].x(), c.points[i].y(), c.points[i].z());
        weights(int(i) + 1) = c.weights[i];
    }
    std::vector<double> knots;
    std::vector<int> times;
    for (double k : c.knots) {
        if (knots.empty() || k > knots.back()) knots.push_back(k), times.push_back(0);
        ++times.back();
    }
    TColStd_Array1OfReal k(1, int(knots.size()));
    TColStd_Array1OfInteger m(1, int(knots.size()));
    for (size_t i = 0; i < knots.size(); ++i) k(int(i) + 1) = knots[i], m(int(i) + 1) = times[i];
    return new Geom_BSplineCurve(poles, weights, k, m, c.degree);
}

} // namespace

class TestArcLength : public QObject {
    Q_OBJECT
private slots:
    void degreesUpToTheMost();
    void circleAndEllipseMatchEllipticIntegral();
    void parabolaMatchesClosedForm();
    void nurbsCircleStationsAreAngles();
    void randomNurbsMatchesOpenCascade_data();
    void randomNurbsMatchesOpenCascade();
    void cuspAndDoubledControlPoints();
    void fineTableAgreesWithNewton();
    void cuttingChangesNoStation_data();
    void cuttingChangesNoStation();
    void closestPointIsStationary();
    void badSegmentsAreNamed();
};

void TestArcLength::circleAndEllipseMatchEllipticIntegral() {
    const Path circle = pathOf({Arc{{5, 6, 7}, Vec3::UnitX(), Vec3::UnitY(), 750, 2 * kPi}}, true);
    NEAR(circle.length(), 2 * kPi * 750, 1e-9);
    for (const auto& [a, b] : {std::pair{300.0, 299.0}, {900.0, 120.0}, {5000.0, 10.0}}) {
        const Path ellipse = pathOf(
            {ellipseArc(Vec3(1, 2, 3), someRotation() * Vec3(a, 0, 0), someRotation() * Vec3(0, b, 0), 0, 2 * kPi)},
            true);
        const double exact = 4 * a * std::comp_ellint_2(std::sqrt(1 - b * b / (a * a)));
        NEAR(ellipse.length(), exact, exact * 1e-12);
    }
}

void TestArcLength::parabolaMatchesClosedForm() {
    // y = x^2 / (4 f) from 0 to X: length = (h + ...) with closed antiderivative, as a cubic Bezier of degree two.
    const double X = 800, f = 90;
    const Vec3 a(0, 0, 0), m(X / 2, 0, 0), b(X, X * X / (4 * f), 0);
    const Path path = pathOf({Bezier{{a, (a + 2 * m) / 3, (2 * m + b) / 3, b}}});
    const auto length = [&](double x) {
        const double u = x / (2 * f);
        return f * (u * std::sqrt(1 + u * u) + std::asinh(u));
    };
    NEAR(path.length(), length(X), 1e-9);
    for (double x : {1.0, 33.0, 250.0, 799.0}) NEAR(path.at(length(x)).point.x(), x, 1e-9);
}

void TestArcLength::nurbsCircleStationsAreAngles() {
    const double r = 1234.5;
    const Path path = pathOf({ellipseArc(Vec3::Zero(), Vec3(r, 0, 0), Vec3(0, r, 0), 0, 2 * kPi)}, true);
    const double L = path.length();
    NEAR(L, 2 * kPi * r, 1e-9 * L);
    const auto s = evenly(L, 5001);
    std::vector<Sample> out(s.size());
    path.sample(s, false, out);
    for (size_t i = 0; i + 1 < s.size(); ++i) {
        const double angle = s[i] / r;
        NEAR((out[i].point - r * Vec3(std::cos(angle), std::sin(angle), 0)).norm(), 0, 1e-9 * L);
        NEAR((out[i].point - r * Vec3(std::cos(angle), std::sin(angle), 0)).norm(), 0, 2e-9); // far better than asked
    }
}

void TestArcLength::randomNurbsMatchesOpenCascade_data() {
    QTest::addColumn<int>("degree");
    QTest::addColumn<bool>("rational");
    for (int degree : {2, 3, 4, 5, 7})
        for (bool rational : {false, true})
            QTest::addRow("degree %d %s", degree, rational ? "rational" : "polynomial") << degree << rational;
}

void TestArcLength::randomNurbsMatchesOpenCascade() {
    QFETCH(int, degree);
    QFETCH(bool, rational);
    const Nurbs c = randomNurbs(7 * degree + rational, degree, 14, rational);
    const Path path = pathOf({c});
    const auto curve = occt(c);
    GeomAdaptor_Curve adaptor(curve);
    const double exact = GCPnts_AbscissaPoint::Length(adaptor, 1e-12);
    NEAR(path.length(), exact, 1e-9 * exact);
    for (double f : {0.013, 0.2, 0.5, 0.777, 0.99}) {
        GCPnts_AbscissaPoint at(1e-10, adaptor, f * exact, adaptor.FirstParameter());
        const gp_Pnt p = adaptor.Value(at.Parameter());
        NEAR((path.at(f * exact).point - Vec3(p.X(), p.Y(), p.Z())).norm(), 0, 1e-9 * exact);
    }
}

void TestArcLength::cuspAndDoubledControlPoints() {
    // (t^2, t^3) from -1 to 1 has a cusp at 0; length of one half is ((4 + 9)^1.5 - 8) / 27, stations likewise.
    const double S = 100;
    const auto p = [&](double t) { return Vec3(S * t * t, S * t * t * t, 0); };
    const auto d = [&](double t) { return Vec3(2 * S * t, 3 * S * t * t, 0); };
    const Path cusp = pathOf({Bezier{{p(-1), p(-1) + d(-1) * 2 / 3, p(1) - d(1) * 2 / 3, p(1)}}});
    const auto half = [&](double t) { return S * (std::pow(4 + 9 * t * t, 1.5) - 8) / 27; };
    NEAR(cusp.length(), 2 * half(1), 1e-8);
    for (double t : {0.001, 0.05, 0.3, 0.9}) {
        NEAR((cusp.at(half(1) + half(t)).point - p(t)).norm(), 0, 1e-7);
        NEAR((cusp.at(half(1) - half(t)).point - p(-t)).norm(), 0, 1e-7);
    }
    // Doubled control points at both ends: speed vanishes there, the curve is the straight line x = 3 t^2 - 2 t^3.
    const Vec3 a(10, 20, 30), b(410, 320, 30);
    const Path doubled = pathOf({Bezier{{a, a, b, b}}});
    NEAR(doubled.length(), 500, 1e-9);
    for (double s : {0.0, 1e-7, 1e-3, 250.0, 499.9999, 500.0}) {
        NEAR((doubled.at(s).point - (a + (b - a) * (s / 500))).norm(), 0, 1e-8);
        NEAR((doubled.at(s).tangent - (b - a) / 500).norm(), 0, 1e-6); // 1e-7 mm from a standstill few digits are left
    }
}

void TestArcLength::fineTableAgreesWithNewton() {
    const Path path = spline(randomPoints(3, 60));
    const auto s = evenly(path.length(), 60'000); // enough for the fine table
    std::vector<Sample> fine(s.size());
    path.sample(s, true, fine);
    double worst = 0, twist = 0;
    for (size_t i = 0; i < s.size(); i += 37) {
        const Sample one = path.at(s[i], true);
        worst = std::max(worst, (one.point - fine[i].point).norm());
        twist = std::max(twist, (one.carried - fine[i].carried).norm());
    }
    NEAR(worst, 0, 1e-9);
    NEAR(twist, 0, 1e-7);
    // The distance between neighbours, integrated independently, is the step.
    const double step = s[1] - s[0];
    for (size_t i = 1; i < s.size(); i += 997) QVERIFY((fine[i].point - fine[i - 1].point).norm() <= step + 1e-9);
}

void TestArcLength::cuttingChangesNoStation_data() {
    QTest::addColumn<int>("kind");
    QTest::newRow("line") << 0;
    QTest::newRow("arc") << 1;
    QTest::newRow("bezier") << 2;
    QTest::newRow("nurbs") << 3;
}

void TestArcLength::cuttingChangesNoStation() {
    QFETCH(int, kind);
    const Segment whole =
        kind == 0   ? Segment(Line{{0, 0, 0}, {900, 300, 50}})
        : kind == 1 ? arcThrough({0, 0, 0}, {500, 400, 100}, {100, 900, 200})
        : kind == 2 ? Segment(Bezier{{Vec3(0, 0, 0), Vec3(900, 50, 300), Vec3(-300, 500, 0), Vec3(700, 700, 100)}})
                    : Segment(randomNurbs(5, 3, 9, true));
    std::vector<Segment> pieces{whole};
    std::mt19937 random(11);
    for (int i = 0; i < 12; ++i) {
        const size_t k = random() % pieces.size();
        const auto [a, b] = split(pieces[k], 0.15 + 0.7 * double(random() % 1000) / 1000);
        pieces[k] = a;
        pieces.insert(pieces.begin() + long(k) + 1, b);
    }
    const Path one = pathOf({whole}), many = pathOf(pieces);
    QVERIFY(many.corners().empty());
    NEAR(many.length(), one.length(), 1e-9);
    for (double s : evenly(one.length(), 301)) {
        const Sample a = one.at(s, true), b = many.at(std::min(s, many.length()), true);
        NEAR((a.point - b.point).norm(), 0, 2e-9);
        NEAR((a.carried - b.carried).norm(), 0, 1e-7);
    }
}

void TestArcLength::closestPointIsStationary() {
    const Path path = spline(randomPoints(9, 12));
    std::mt19937 random(2);
    for (int i = 0; i < 50; ++i) {
        const double s = path.length() * (0.02 + 0.96 * double(random() % 1000) / 1000);
        const Sample at = path.at(s);
        const Vec3 off = at.point + 5 * anyNormal(at.tangent);
        const Vec3 nearest = path.at(path.closest(off)).point;
        NEAR((nearest - off).norm(), std::min(5.0, (nearest - off).norm()), 1e-6); // never farther than the known foot
        QVERIFY((nearest - off).norm() <= 5 + 1e-6);
    }
}

void TestArcLength::badSegmentsAreNamed() {
    const auto text = [](const std::vector<Segment>& s, bool closed = false) {
        const auto p = Path::make(s, closed);
        return p ? QString() : QString::fromStdString(p.problem().text);
    };
    const double nan = std::nan("");
    QVERIFY(text({}).contains("no line or curve"));
    QVERIFY(text({Line{{0, 0, 0}, {0, 0, 0}}}).contains("no length"));
    QVERIFY(text({Line{{0, 0, 0}, {nan, 0, 0}}}).contains("not a number"));
    QVERIFY(text({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 0, 1}}).contains("no radius"));
    QVERIFY(text({Line{{0, 0, 0}, {9, 0, 0}}, Line{{9, 2, 0}, {9, 5, 0}}}).contains("gap of 2 mm before piece 2"));
    QVERIFY(text({Line{{0, 0, 0}, {9, 0, 0}}}, true).contains("marked closed"));
    Nurbs c = randomNurbs(1, 3, 6, false);
    c.knots[5] = -1;
    QVERIFY(text({c}).contains("not in order"));
}

/// A spline of the highest degree that is taken is measured; one more is refused, and says so.
void TestArcLength::degreesUpToTheMost() {
    for (const int degree : {1, 25, 26, 0}) {
        Nurbs c = randomNurbs(7, std::max(1, degree), std::max(1, degree) + 1, false);
        c.degree = degree;
        const auto path = Path::make({c}, false);
        QCOMPARE(bool(path), degree >= 1 && degree <= 25);
        if (!path)
            QVERIFY2(path.problem().text.find("degree " + std::to_string(degree) + ", not 1 to 25") !=
                         std::string::npos,
                     path.problem().text.c_str());
    }
}

VICINAL_SUITE(TestArcLength)

} // namespace test_arc_length
#include "test_arc_length.moc"
