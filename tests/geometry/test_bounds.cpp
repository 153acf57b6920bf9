// Boxes of curves: against closed formulas, and against points laid so densely along them that what lies between two is
// known to be less than the tolerance.
#include "suite.h"
#include "support.h"

namespace test_bounds {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// The box of points of the curve, each coordinate's best one polished by a golden section.
Box3 sampledBounds(const Path& p) {
    Box3 box;
    for (const auto& span : p.spans())
        for (int k = 0; k < 3; ++k)
            for (double sign : {-1.0, 1.0}) {
                constexpr int n = 400;
                int best = 0;
                const auto value = [&](double t) { return sign * span.point(t)[k]; };
                for (int i = 1; i <= n; ++i)
                    if (value(double(i) / n) > value(double(best) / n)) best = i;
                double a = std::max(0, best - 1) / double(n), b = std::min(n, best + 1) / double(n);
                for (int i = 0; i < 100; ++i) {
                    const double u = a + (b - a) * 0.382, v = b - (b - a) * 0.382;
                    (value(u) < value(v) ? a : b) = value(u) < value(v) ? u : v;
                }
                box.extend(span.point((a + b) / 2));
                box.extend(span.point(double(best) / n));
            }
    return box;
}

Nurbs randomNurbs(std::mt19937& random) {
    std::uniform_real_distribution<double> at(-800, 800), weight(0.1, 8), step(0, 1);
    Nurbs c;
    c.degree = 1 + int(random() % 5);
    const int n = c.degree + 1 + int(random() % 6);
    for (int i = 0; i < n; ++i)
        c.points.push_back({at(random), at(random), at(random)}), c.weights.push_back(weight(random));
    c.knots.assign(c.degree + 1, 0.0);
    double k = 0;
    for (int i = c.degree + 1; i < n; ++i) c.knots.push_back(k += 0.1 + step(random));
    c.knots.insert(c.knots.end(), c.degree + 1, k + 1);
    return c;
}

} // namespace

class TestBounds : public QObject {
    Q_OBJECT
private slots:
    void circlesAndEllipses();
    void everyKind();
    void beyondReachIsRefused();
};

void TestBounds::circlesAndEllipses() {
    std::mt19937 random(2);
    std::uniform_real_distribution<double> at(-500, 500), size(0.5, 400);
    for (int i = 0; i < 200; ++i) {
        const Mat3 R = Quat::UnitRandom().toRotationMatrix();
        const Vec3 c(at(random), at(random), at(random));
        const double a = size(random), b = size(random);
        // Half the extent of centre + cos t A + sin t B along an axis is hypot(A_k, B_k).
        const Vec3 A = a * R.col(0), B = b * R.col(1);
        const Box3 ellipse = pathOf({ellipseArc(c, A, B, 0, 2 * kPi)}, true).bounds();
        const Box3 circle = pathOf({Arc{c, R.col(0), R.col(1), a, 2 * kPi}}, true).bounds();
        for (int k = 0; k < 3; ++k) {
            NEAR(ellipse.max()[k], c[k] + std::hypot(A[k], B[k]), 1e-9);
            NEAR(ellipse.min()[k], c[k] - std::hypot(A[k], B[k]), 1e-9);
            NEAR(circle.max()[k], c[k] + a * std::hypot(R(k, 0), R(k, 1)), 1e-9);
            NEAR(circle.min()[k], c[k] - a * std::hypot(R(k, 0), R(k, 1)), 1e-9);
        }
    }
}

void TestBounds::everyKind() {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> at(-800, 800), size(1, 500), turns(-12, 12), unit(-1, 1);
    for (int i = 0; i < 60; ++i) {
        const Mat3 R = Quat::UnitRandom().toRotationMatrix();
        const Vec3 c(at(random), at(random), at(random));
        const auto point = [&] { return Vec3(at(random), at(random), at(random)); };
        const double s = 300 * unit(random);
        for (const Segment& segment : std::initializer_list<Segment>{
                 Line{c, point()}, Arc{c, R.col(0), R.col(1), size(random), turns(random) / 2},
                 Bezier{{c, point(), point(), point()}}, randomNurbs(random),
                 Helix{c, R.col(0), R.col(1), size(random), size(random), turns(random), 100 * turns(random)},
                 Catenary{c, R.col(0), R.col(1), size(random), s, s + size(random)}}) {
            const Path p = pathOf({segment});
            const Box3 box = p.bounds(), sampled = sampledBounds(p);
            QVERIFY(p.hull().contains(Box3(box.min() + Vec3::Constant(1e-9), box.max() - Vec3::Constant(1e-9))));
            for (int k = 0; k < 3; ++k) {
                NEAR(box.max()[k], sampled.max()[k], 1e-7);
                NEAR(box.min()[k], sampled.min()[k], 1e-7);
            }
        }
    }
}

void TestBounds::beyondReachIsRefused() {
    // One coordinate of one point is enough, whichever it is.
    const double far = 1.01 * kLargest;
    for (int k = 0; k < 3; ++k) {
        const Vec3 p = Vec3::Unit(k) * far, o(0, 0, 0), q(1, 2, 3);
        const Nurbs curve{2, {0, 0, 0, 1, 1, 1}, {o, q, p}, {1, 1, 1}};
        for (const Segment& s : std::initializer_list<Segment>{
                 Line{o, p}, Line{p, o}, Bezier{{o, p, q, q}}, Bezier{{o, q, q, p}}, Bezier{{p, q, q, o}}, curve,
                 Arc{p, Vec3::UnitX(), Vec3::UnitY(), 5, 1}, Arc{o, Vec3::UnitX(), Vec3::UnitY(), far, 1},
                 Helix{p, Vec3::UnitX(), Vec3::UnitY(), 5, 5, 1, 1},
                 Helix{o, Vec3::UnitX(), Vec3::UnitY(), 5, 5, 1, -far},
                 Helix{o, Vec3::UnitX(), Vec3::UnitY(), 5, far, 1, 1},
                 Catenary{p, Vec3::UnitX(), Vec3::UnitZ(), 50, -5, 5}}) {
            QVERIFY2(!defectOf(s).empty(), qPrintable(QString("axis %1, kind %2").arg(k).arg(s.index())));
            QVERIFY(!Path::make({s}, false));
        }
        const Vec3 near = Vec3::Unit(k) * (0.99 * kLargest);
        QVERIFY(defectOf(Segment(Line{o, near})).empty() && defectOf(Segment(Bezier{{o, near, q, q}})).empty());
    }
    // A very flat arc has its centre far out, and is none the worse.
    const Segment flat = arcThrough({0, 0, 0}, {500, 1e-3, 0}, {1000, 0, 0});
    QVERIFY(defectOf(flat).empty());
    Nurbs uneven{2, {0, 0, 0, 1, 1, 1}, {{0, 0, 0}, {1, 1, 0}, {2, 0, 0}}, {1, 1e-10, 1}};
    QVERIFY(!defectOf(Segment(uneven)).empty());
}

VICINAL_SUITE(TestBounds)

} // namespace test_bounds
#include "test_bounds.moc"
