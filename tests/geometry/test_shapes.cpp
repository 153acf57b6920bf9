// Curves of the trade against closed formulas: screw lines, hanging chains, fillets, arcs, and what is made of a path.
#include "geometry/curves/edit.h"
#include "geometry/curves/shapes.h"
#include "geometry/curves/snap.h"
#include "suite.h"
#include "support.h"

namespace test_shapes {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Path made(const Result<Curve>& c) {
    if (!c) qFatal("%s", c.problem().text.c_str());
    return pathOf(c->segments, c->closed);
}

/// Length by very many chords, extrapolated: knows nothing of the program's integrals.
double chordLength(const std::function<Vec3(double)>& p, int n) {
    const auto sum = [&](int m) {
        double s = 0;
        for (int i = 0; i < m; ++i) s += (p((i + 1.0) / m) - p(double(i) / m)).norm();
        return s;
    };
    return (4 * sum(2 * n) - sum(n)) / 3;
}

double worstAway(const Path& a, const Path& b) {
    double worst = 0;
    for (double s : evenly(a.length(), 200)) {
        const Vec3 p = a.at(s).point;
        worst = std::max(worst, (b.at(b.closest(p)).point - p).norm());
    }
    return worst;
}

} // namespace

class TestShapes : public QObject {
    Q_OBJECT
private slots:
    void helixLengthAndTorsion_data();
    void helixLengthAndTorsion();
    void simpleShapesHaveTheirLengths();
    void swagComesBack_data();
    void swagComesBack();
    void swagHangsAsAChain();
    void filletsAreTangent();
    void arcsThroughTangentAndByRadius();
    void wrongNumbersNameTheirField();
    void segmentsSplitMoveAndTurnRound();
    void stretchesAndStartsAreThePath();
    void stretchesCountAnySegmentBefore();
    void middlesAreOfLinesAndArcs();
    void joiningGivesTheSum();
    void mirroredTwiceIsTheSame();
    void projectedOntoAPlane();
    void simplifyingStaysWithin();
    void smoothingKeepsWhatIsStraight();
    void factsAreRight();
};

void TestShapes::helixLengthAndTorsion_data() {
    QTest::addColumn<double>("r0");
    QTest::addColumn<double>("r1");
    QTest::addColumn<double>("turns");
    QTest::addColumn<double>("height");
    QTest::newRow("cylinder") << 200. << 200. << 3.25 << 900.;
    QTest::newRow("cone") << 400. << 120. << 5. << 700.;
    QTest::newRow("to a point") << 300. << 0. << 2.5 << 500.;
    QTest::newRow("flat spiral") << 50. << 450. << 6. << 0.;
    QTest::newRow("downwards") << 80. << 90. << 1.5 << -300.;
}

void TestShapes::helixLengthAndTorsion() {
    QFETCH(double, r0);
    QFETCH(double, r1);
    QFETCH(double, turns);
    QFETCH(double, height);
    for (bool left : {false, true}) {
        const Path p = made(helix(r0, r1, turns, height, left));
        const double w = 2 * kPi * turns;
        NEAR(p.length(), helixLength(r0, r1, w, height), 1e-9 * p.length());
        const auto formula = [&](double u) -> Vec3 {
            const double r = r0 + u * (r1 - r0), a = u * w * (left ? -1 : 1);
            return {r * std::cos(a), r * std::sin(a), u * height};
        };
        NEAR(p.length(), chordLength(formula, 20000), 1e-7 * p.length());
        NEAR((startOf(p.segments().front()) - formula(0)).norm(), 0, 1e-9);
        NEAR((endOf(p.segments().back()) - formula(1)).norm(), 0, 1e-9);
        for (double u : {0., 0.3, 0.77, 1.}) { // stations of points of the formula
            const double s = u == 0 ? 0 : helixLength(r0, r0 + u * (r1 - r0), u * w, u * height);
            NEAR((p.at(s).point - formula(u)).norm(), 0, 1e-8);
        }
        if (r0 == r1) { // the least-twisting frame falls behind the normal by the torsion
            const double c = height / w, torsion = (left ? -1 : 1) * c / (r0 * r0 + c * c);
            const auto angle = [&](double s) {
                const Sample x = p.at(s, true);
                const Vec3 out = Vec3(x.point.x(), x.point.y(), 0).normalized();
                return std::atan2(x.tangent.dot(out.cross(x.carried)), out.dot(x.carried));
            };
            NEAR(std::remainder(angle(1000) - angle(0) + torsion * 1000, 2 * kPi), 0, 1e-6);
        }
    }
}

void TestShapes::simpleShapesHaveTheirLengths() {
    NEAR(made(circle(250)).length(), 2 * kPi * 250, 1e-9);
    NEAR(made(rectangle(600, 400, 50)).length(), 2 * (500 + 300) + 2 * kPi * 50, 1e-9);
    NEAR(made(rectangle(600, 400, 0)).length(), 2000, 1e-9);
    QCOMPARE(made(rectangle(600, 400, 0)).corners().size(), size_t(4));
    QVERIFY(made(rectangle(600, 400, 50)).corners().empty());
    NEAR(made(rectangle(400, 400, 200)).length(), 2 * kPi * 200, 1e-9); // all corner
    NEAR(made(slot(500, 120)).length(), 2 * 380 + kPi * 120, 1e-9);
    QVERIFY(made(slot(500, 120)).corners().empty());
    NEAR(made(polygon(7, 100)).length(), 7 * 200 * std::sin(kPi / 7), 1e-9);
    NEAR(made(ellipse(300, 100)).length(),
         chordLength(
             [](double u) -> Vec3 {
                 return {300 * std::cos(2 * kPi * u), 100 * std::sin(2 * kPi * u), 0};
             },
             20000),
         1e-6);
}

void TestShapes::swagComesBack_data() {
    QTest::addColumn<Vec3>("b");
    QTest::addColumn<double>("amount");
    for (const Vec3& b : {Vec3(4000, 0, 0), Vec3(2500, 1200, 900), Vec3(300, -100, -2200), Vec3(1000, 1, 1e-4)})
        for (double f : {1e-6, 1e-3, 0.05, 0.4, 3.0, 40.})
            QTest::addRow("%g %g %g, %g", b.x(), b.y(), b.z(), f) << b << f * b.norm();
}

void TestShapes::swagComesBack() {
    QFETCH(Vec3, b);
    QFETCH(double, amount);
    const Vec3 a(100, 200, 3000);
    const auto bySlack = swag(a, a + b, SwagBy::Slack, amount);
    const Path p = made(bySlack);
    NEAR((p.at(0).point - a).norm(), 0, 1e-7);
    NEAR((p.at(p.length()).point - a - b).norm(), 0, 1e-7);
    NEAR(p.length() - b.norm(), amount, 1e-9 * p.length());
    // Its sag, measured on the curve, asked for: the same curve again.
    double sag = 0, lo = 0, hi = p.length();
    const auto depth = [&](double s) {
        const Vec3 q = p.at(s).point;
        const double f = Vec2((q - a).head<2>()).norm() / Vec2(b.head<2>()).norm();
        return a.z() + f * b.z() - q.z();
    };
    for (int i = 0; i < 200; ++i) {
        const double u = lo + (hi - lo) * 0.382, v = lo + (hi - lo) * 0.618;
        (depth(u) > depth(v) ? hi : lo) = depth(u) > depth(v) ? v : u;
    }
    sag = depth((lo + hi) / 2);
    if (sag < 1e-7 * b.norm()) return;
    const Path again = made(swag(a, a + b, SwagBy::Sag, sag));
    NEAR(again.length(), p.length(), 1e-8 * p.length() + 1e-9 * p.length() * b.norm() / sag);
}

void TestShapes::swagHangsAsAChain() {
    // In balance the pull along is the same everywhere and the upward pull is the weight below: slope grows evenly.
    const Path p = made(swag({0, 0, 0}, {3000, 0, 800}, SwagBy::Slack, 700));
    const auto slope = [&](double s) { return p.at(s).tangent.z() / p.at(s).tangent.x(); };
    const double rate = (slope(p.length()) - slope(0)) / p.length();
    for (double s : evenly(p.length(), 40)) NEAR(slope(s), slope(0) + rate * s, 1e-9);
}

void TestShapes::filletsAreTangent() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> step(200, 900), turn(-2, 2);
    for (int round = 0; round < 20; ++round) {
        std::vector<PolyPoint> p{{Vec3::Zero(), 0}};
        double heading = 0;
        for (int i = 0; i < 8; ++i) {
            heading += turn(random);
            p.push_back(
                {p.back().at + step(random) * Vec3(std::cos(heading), std::sin(heading), 0.2 * turn(random)), 20});
        }
        const Path path = made(filleted(p, false));
        QVERIFY(path.corners().empty()); // tangent at every joint
        double expected = 0;
        for (size_t i = 1; i < p.size(); ++i) expected += (p[i].at - p[i - 1].at).norm();
        for (size_t i = 1; i + 1 < p.size(); ++i) {
            const Vec3 u = (p[i].at - p[i - 1].at).normalized(), v = (p[i + 1].at - p[i].at).normalized();
            const double a = std::acos(u.dot(v));
            expected += 20 * a - 2 * 20 * std::tan(a / 2);
        }
        NEAR(path.length(), expected, 1e-7);
        NEAR(factsOf(path).sharpest, 20, 1e-6);
    }
    const std::vector<PolyPoint> tight{{{0, 0, 0}, 0}, {{100, 0, 0}, 80}, {{100, 100, 0}, 80}, {{300, 100, 0}, 0}};
    const auto r = filleted(tight, false);
    QVERIFY(!r && r.problem().text.find("largest that works is 20 mm") != std::string::npos);
}

void TestShapes::arcsThroughTangentAndByRadius() {
    const auto on = [](const Segment& s, const Vec3& p) {
        const Path path = pathOf({s});
        return (path.at(path.closest(p)).point - p).norm();
    };
    const Vec3 a(10, 20, 30), b(200, 150, -40), c(350, -90, 70);
    const Segment through = arcThrough(a, b, c);
    NEAR((startOf(through) - a).norm() + (endOf(through) - c).norm(), 0, 1e-9);
    NEAR(on(through, b), 0, 1e-6);
    const Vec3 t = Vec3(1, 2, 0.5).normalized();
    const Segment tangent = arcTangent(a, t, b);
    NEAR((endOf(tangent) - b).norm(), 0, 1e-9);
    NEAR((pathOf({tangent}).at(0).tangent - t).norm(), 0, 1e-9);
    QVERIFY(std::holds_alternative<Line>(arcTangent(a, t, a + 50 * t)));
    for (double r : {150., -150., 400., -400.}) {
        const auto s = arcByRadius({0, 0, 0}, {200, 0, 0}, r, Vec3::UnitZ());
        const Path p = pathOf({*s});
        NEAR(p.length(), 2 * std::abs(r) * std::asin(100 / std::abs(r)), 1e-9);
        NEAR((p.at(p.length()).point - Vec3(200, 0, 0)).norm(), 0, 1e-9);
        QVERIFY((p.at(p.length() / 2).point.y() > 0) == (r > 0)); // to the left
    }
    QVERIFY(!arcByRadius({0, 0, 0}, {200, 0, 0}, 99, Vec3::UnitZ()));
}

void TestShapes::wrongNumbersNameTheirField() {
    const auto field = [](const Result<Curve>& r) { return r ? std::string("fine") : r.problem().field; };
    for (double v : {-1., 0., double(NAN), double(INFINITY), 1e12}) {
        QCOMPARE(field(circle(v)), std::string("radius"));
        QCOMPARE(field(ellipse(v, 5)), std::string("radiusX"));
        QCOMPARE(field(ellipse(5, v)), std::string("radiusY"));
        QCOMPARE(field(rectangle(v, 5, 0)), std::string("width"));
        QCOMPARE(field(rectangle(5, v, 0)), std::string("height"));
        QCOMPARE(field(slot(v, 5)), std::string("length"));
        QCOMPARE(field(polygon(5, v)), std::string("radius"));
        QCOMPARE(field(helix(10, 10, v, 50, false)), std::string("turns"));
        QCOMPARE(field(swag({0, 0, 0}, {100, 0, 0}, SwagBy::Sag, v)), std::string("sag"));
        QCOMPARE(field(swag({0, 0, 0}, {100, 0, 0}, SwagBy::Slack, v)), std::string("slack"));
    }
    QCOMPARE(field(rectangle(100, 60, 31)), std::string("radius"));
    QVERIFY(rectangle(100, 60, 31).problem().text.find("30 mm") != std::string::npos);
    QCOMPARE(field(helix(0, 0, 2, 50, false)), std::string("radius"));
    QCOMPARE(field(helix(50, 50, 2, 0, false)), std::string("height"));
    QCOMPARE(field(helix(NAN, 50, 2, 10, false)), std::string("radius"));
    QCOMPARE(field(polygon(2, 50)), std::string("sides"));
    QCOMPARE(field(swag({0, 0, 0}, {0, 0, 100}, SwagBy::Sag, 10)), std::string("end"));
    QCOMPARE(field(slot(50, 60)), std::string("length"));
}

void TestShapes::segmentsSplitMoveAndTurnRound() {
    const Segment screw = Helix{{5, 6, 7}, Vec3::UnitY(), Vec3::UnitZ(), 80, 30, 9, -200};
    const Segment hang = swag({0, 0, 50}, {400, 100, 0}, SwagBy::Slack, 90)->segments[0];
    for (const Segment& s : {screw, hang}) {
        const Path whole = pathOf({s});
        const auto [l, r] = split(s, 0.37);
        NEAR((endOf(l) - startOf(r)).norm(), 0, 1e-9);
        const Path cut = pathOf({l, r});
        NEAR(cut.length(), whole.length(), 1e-8);
        const Path back = pathOf({reversed(s)});
        const Mat3 mirror = Vec3(1, -1, 1).asDiagonal();
        const Mat3 R = someRotation() * mirror;
        const Path image = pathOf({moved(s, R, Vec3(1, 2, 3), 2.5)});
        NEAR(image.length(), 2.5 * whole.length(), 1e-7);
        for (double x : evenly(whole.length(), 21)) {
            const Vec3 p = whole.at(x).point;
            NEAR((cut.at(x).point - p).norm(), 0, 1e-7);
            NEAR((back.at(whole.length() - x).point - p).norm(), 0, 1e-7);
            NEAR((image.at(2.5 * x).point - (2.5 * (R * p) + Vec3(1, 2, 3))).norm(), 0, 1e-6);
        }
        NEAR(worstAway(pathOf(cubicsNear(s, 1e-6)), whole), 0, 1.5e-6);
    }
}

void TestShapes::stretchesAndStartsAreThePath() {
    std::vector<Segment> mixed = splineThrough(randomPoints(4, 6));
    const Vec3 end = endOf(mixed.back());
    mixed.push_back(arcThrough(end, end + Vec3(100, 80, 10), end + Vec3(250, 20, 0)));
    mixed.push_back(Line{endOf(mixed.back()), endOf(mixed.back()) + Vec3(300, 0, 50)});
    const Vec3 c = endOf(mixed.back());
    mixed.push_back(ellipseArc(c + Vec3(0, 200, 0), Vec3(0, -200, 0), Vec3(300, 0, 0), 0, 2.2));
    const Path p = pathOf(mixed);
    for (const auto& [a, b] :
         {std::pair(0., 900.), {123.4, p.length() - 5}, {p.length() - 700, p.length()}, {1000., 1000.01}}) {
        const Path part = pathOf(*stretchOf(p, a, b));
        NEAR(part.length(), b - a, 1e-7);
        for (double s : evenly(part.length(), 17)) NEAR((part.at(s).point - p.at(a + s).point).norm(), 0, 1e-7);
    }
    QVERIFY(!stretchOf(p, 500, 400));
    QVERIFY(!stretchOf(p, NAN, 400));
    QVERIFY(!startMovedTo(p, 100));
    const Path loop = knot();
    const double L = loop.length();
    const Path over = pathOf(*stretchOf(loop, L - 300, 500)); // over the seam
    NEAR(over.length(), 800, 1e-7);
    NEAR((over.at(400).point - loop.at(100).point).norm(), 0, 1e-7);
    for (double from : {0., 1234.5, L - 0.001, -50.}) {
        const Path again = pathOf(*startMovedTo(loop, from), true);
        NEAR(again.length(), L, 1e-7);
        for (double s : evenly(L, 13))
            NEAR((again.at(s).point - loop.at(std::fmod(s + from + L, L)).point).norm(), 0, 1e-6);
    }
    const Path back = pathOf(backwards(p));
    for (double s : evenly(p.length(), 17)) NEAR((back.at(s).point - p.at(p.length() - s).point).norm(), 0, 1e-7);
}

void TestShapes::joiningGivesTheSum() {
    const Path whole = spline(randomPoints(9, 9));
    const double L = whole.length();
    std::vector<Path> members;
    for (const auto& [a, b] : {std::pair(0., 700.), {700., 1500.}, {1500., L}})
        members.push_back(pathOf(*stretchOf(whole, a, b)));
    for (unsigned mask = 0; mask < 8; ++mask) { // whichever of them runs backwards
        auto m = members;
        for (size_t i = 0; i < 3; ++i)
            if (mask >> i & 1) m[i] = pathOf(backwards(m[i]));
        const auto j = joined(m, 0.01);
        QVERIFY(bool(j));
        const Path p = pathOf(j->segments, j->closed);
        NEAR(p.length(), L, 1e-7);
        QCOMPARE(j->joints.size(), size_t(2));
        for (const auto& x : j->joints) QVERIFY(x.gap < 1e-7 && !x.bridged);
        NEAR((p.at(900).point - whole.at(900).point).norm(), 0, 1e-6);
    }
    const Path a = pathOf({Line{{0, 0, 0}, {100, 0, 0}}}), b = pathOf({Line{{100.5, 0, 0}, {100, 80, 0}}});
    const std::vector<Path> gap{a, b};
    const auto refused = joined(gap, 0.1);
    QVERIFY(!refused && refused.problem().text.find("0.5 mm") != std::string::npos);
    const auto bridged = joined(gap, 1);
    QVERIFY(bridged && bridged->joints[0].bridged);
    NEAR(pathOf(bridged->segments).length(), 100 + 0.5 + std::hypot(0.5, 80), 1e-9);
    const std::vector<Path> ring{pathOf({arcThrough({1, 0, 0}, {0, 1, 0}, {-1, 0, 0})}),
                                 pathOf({arcThrough({1, 0, 0}, {0, -1, 0}, {-1, 0, 0})})};
    const auto closed = joined(ring, 0.01);
    QVERIFY(closed && closed->closed);
    NEAR(pathOf(closed->segments, true).length(), 2 * kPi, 1e-9);
    const std::vector<Path> withLoop{a, knot()}, loopAlone{knot()};
    const auto loop = joined(withLoop, 1e9);
    QVERIFY(!loop && loop.problem().text.find("Member 2 is closed") == 0);
    const auto same = joined(loopAlone, 0.01); // one closed member stays what it is
    QVERIFY(same && same->closed && same->joints.empty());
    NEAR(pathOf(same->segments, true).length(), knot().length(), 1e-9);
    const std::vector<Path> alone{a};
    QVERIFY(!joined(alone, 1e9)->closed); // whatever the gap: one open member is no ring
}

void TestShapes::mirroredTwiceIsTheSame() {
    const Vec3 n = Vec3(1, 2, -0.5).normalized(), at(30, -20, 10);
    for (const Path& p : {knot(), made(helix(200, 90, 3, 400, false))}) {
        const Path once = pathOf(mirrored(p, at, n), p.closed()), twice = pathOf(mirrored(once, at, n), p.closed());
        for (double s : evenly(p.length(), 15)) {
            const Vec3 a = p.at(s).point, b = once.at(s).point;
            NEAR(n.dot((a + b) / 2 - at), 0, 1e-6); // half-way lies on the plane
            NEAR((b - a).cross(n).norm(), 0, 1e-6);
            NEAR((twice.at(s).point - a).norm(), 0, 1e-6);
        }
    }
}

void TestShapes::projectedOntoAPlane() {
    const Vec3 n = Vec3(0.3, -0.2, 1).normalized(), at(0, 0, 120);
    std::vector<Segment> s = splineThrough(randomPoints(2, 5));
    s.push_back(arcThrough(endOf(s.back()), endOf(s.back()) + Vec3(90, 70, 60), endOf(s.back()) + Vec3(200, 0, 0)));
    for (const Path& p :
         {pathOf(s), made(helix(200, 90, 3, 400, false)), made(swag({0, 0, 0}, {900, 0, 100}, SwagBy::Sag, 200))}) {
        const Path flat = pathOf(*projectedTo(p, at, n));
        for (double x : evenly(p.length(), 40)) {
            const Vec3 q = p.at(x).point, foot = q - n * n.dot(q - at);
            NEAR((flat.at(flat.closest(foot)).point - foot).norm(), 0, 2e-6);
        }
        for (double x : evenly(flat.length(), 20)) NEAR(n.dot(flat.at(x).point - at), 0, 1e-7);
    }
    QVERIFY(!projectedTo(pathOf({Line{{0, 0, 0}, {0, 0, 50}}}), Vec3::Zero(), Vec3::UnitZ()));
    // A circle seen at 60 degrees is an ellipse with half the width.
    const Path tilted =
        pathOf(*projectedTo(made(circle(100)), Vec3::Zero(), Vec3(0, std::sin(kPi / 3), std::cos(kPi / 3))), true);
    NEAR(tilted.length(), made(ellipse(100, 50)).length(), 1e-8);
}

void TestShapes::simplifyingStaysWithin() {
    std::mt19937 random(8);
    std::normal_distribution<double> shake(0, 0.4);
    std::vector<Vec3> hand;
    for (int i = 0; i < 2000; ++i) hand.push_back({i * 1.0, 120 * std::sin(i * 0.006) + shake(random), 0});
    const auto few = simplified(hand, 3);
    QVERIFY(few.size() < 40 && few.size() > 5);
    QCOMPARE(few.front(), hand.front());
    QCOMPARE(few.back(), hand.back());
    size_t k = 1;
    for (const auto& p : hand) {
        while (few[k].x() < p.x() && k + 1 < few.size()) ++k;
        const Vec3 d = (few[k] - few[k - 1]).normalized();
        QVERIFY(((p - few[k - 1]) - d * d.dot(p - few[k - 1])).norm() <= 3.001);
    }
}

void TestShapes::smoothingKeepsWhatIsStraight() {
    const Path line = pathOf({Line{{0, 0, 0}, {1000, 500, 200}}});
    for (const auto& p : smoothedPoints(line, 60, 80, true)) NEAR((line.at(line.closest(p)).point - p).norm(), 0, 1e-6);
    const Path wavy = spline(randomPoints(3, 12));
    const auto bend = [](const std::vector<Vec3>& p) {
        double sum = 0;
        for (size_t i = 2; i < p.size(); ++i) sum += (p[i] - 2 * p[i - 1] + p[i - 2]).squaredNorm();
        return sum;
    };
    const auto before = evenPoints(wavy, 200), after = smoothedPoints(wavy, 200, 150, true);
    QVERIFY(bend(after) < bend(before) * 0.5);
    QCOMPARE(after.front(), before.front());
    QCOMPARE(after.back(), before.back());
    const auto round = smoothedPoints(made(circle(300)), 100, 60, true); // a circle shrinks evenly: it stays a circle
    for (const auto& p : round) NEAR(p.norm(), round[0].norm(), 1e-9);
}

void TestShapes::factsAreRight() {
    auto f = factsOf(made(ellipse(300, 100)));
    NEAR(f.sharpest, 100. * 100 / 300, 1e-6); // b^2 / a at the ends
    QVERIFY(f.planar && f.crossings == 0);
    NEAR(std::abs(f.normal.z()), 1, 1e-9);
    f = factsOf(made(helix(200, 200, 2, 300, false)));
    const double c = 300 / (4 * kPi);
    NEAR(f.sharpest, (200. * 200 + c * c) / 200, 1e-6);
    QVERIFY(!f.planar);
    const Path eight = spline({{0, 0, 0}, {500, 300, 0}, {1000, 0, 0}, {500, -300, 0}}, true);
    QCOMPARE(factsOf(eight).crossings, 0);
    const Path crossed = spline({{0, 0, 0}, {1000, 400, 0}, {1000, 0, 0}, {0, 400, 0}}, true);
    QCOMPARE(factsOf(crossed).crossings, 1);
    // The same tilted in space; lifted where it passes itself it crosses nothing.
    std::vector<Segment> tilted;
    for (const auto& s : crossed.segments()) tilted.push_back(moved(s, someRotation(), Vec3(5, 6, 7)));
    QCOMPARE(factsOf(pathOf(tilted, true)).crossings, 1);
    QCOMPARE(factsOf(spline({{0, 0, 0}, {1000, 400, 90}, {1000, 0, 0}, {0, 400, 30}}, true)).crossings, 0);
    QVERIFY(std::isinf(factsOf(pathOf({Line{{0, 0, 0}, {1, 2, 3}}})).sharpest));
    // The sharpest place of curves without symmetry, inside a piece, against a fine walk along them.
    for (unsigned seed = 0; seed < 20; ++seed) {
        const Path p = spline(randomPoints(seed, 6));
        const auto facts = factsOf(p);
        const auto stations = evenly(p.length(), 20'001);
        const auto bends = curvatures(p, stations);
        size_t most = 0;
        for (size_t i = 0; i < bends.size(); ++i)
            if (bends[i].norm() > bends[most].norm()) most = i;
        QVERIFY(facts.sharpest * bends[most].norm() <= 1 + 1e-9); // the walk may step over the top, never above it
        NEAR(facts.sharpest * bends[most].norm(), 1, 1e-3);
        NEAR(facts.sharpestAt, stations[most], p.length() * 1e-4);
        QVERIFY(p.bounds().contains(facts.middle));
    }
    const Path arch = spline({{0, 0, 0}, {500, 200, 0}, {900, -100, 0}});
    QVERIFY(factsOf(arch).planar && arch.bounds().contains(factsOf(arch).middle));
    const std::vector<double> at{10, 100};
    for (const auto& k : curvatures(made(circle(250)), at)) NEAR(k.norm(), 1.0 / 250, 1e-12);
}

/// Whatever kind the second segment is, a stretch that begins in it is that part of the path.
void TestShapes::stretchesCountAnySegmentBefore() {
    const Vec3 x = Vec3::UnitX(), y = Vec3::UnitY();
    const auto nurbs = [](int degree, std::vector<Vec3> points, std::vector<double> knots) {
        Nurbs n;
        n.degree = degree;
        n.points = std::move(points);
        n.knots = std::move(knots);
        n.weights.assign(n.points.size(), 1);
        return n;
    };
    const std::vector<Segment> kinds{
        Line{{0, 0, 0}, {300, 40, 10}},
        Arc{{0, 200, 0}, -y, x, 200, 2.5},
        Bezier{{Vec3(0, 0, 0), {100, 50, 0}, {200, 150, 30}, {300, 0, 0}}},
        nurbs(1, {{0, 0, 0}, {100, 0, 0}, {200, 90, 0}, {250, 100, 50}}, {0, 0, 1, 2, 3, 3}),
        nurbs(2, {{0, 0, 0}, {100, 0, 0}, {200, 90, 0}, {250, 100, 50}}, {0, 0, 0, 1, 2, 2, 2}),
        nurbs(3, {{0, 0, 0}, {100, 0, 0}, {200, 90, 0}, {250, 100, 50}}, {0, 0, 0, 0, 1, 1, 1, 1}),
        nurbs(4, {{0, 0, 0}, {100, 0, 0}, {200, 90, 0}, {250, 100, 50}, {300, 300, 0}}, {0, 0, 0, 0, 0, 1, 1, 1, 1, 1}),
    };
    for (size_t a = 0; a < kinds.size(); ++a)
        for (size_t b = 0; b < kinds.size(); ++b) {
            const Vec3 by = endOf(kinds[a]) - startOf(kinds[b]);
            const Path path = pathOf({kinds[a], moved(kinds[b], Mat3::Identity(), by)});
            const double first = pathOf({kinds[a]}).length(), L = path.length();
            for (const auto& [from, to] : {std::pair{0.3 * first, first + 0.4 * (L - first)},
                                           {first + 0.2 * (L - first), first + 0.9 * (L - first)}}) {
                const auto cut = stretchOf(path, from, to);
                QVERIFY2(bool(cut), cut ? "" : cut.problem().text.c_str());
                const Path piece = pathOf(*cut);
                NEAR(piece.length(), to - from, 1e-6);
                for (double f : {0.0, 0.3, 0.7, 1.0})
                    NEAR((piece.at(f * piece.length()).point - path.at(from + f * (to - from)).point).norm(), 0, 1e-6);
            }
        }
}

/// The middle of a line and of an arc catches; the middle of a spline's piece is no spot that anyone knows.
void TestShapes::middlesAreOfLinesAndArcs() {
    const Path line = pathOf({Line{{0, 0, 0}, {300, 0, 0}}}),
               arc = pathOf({Arc{{0, 1000, 0}, -Vec3::UnitY(), Vec3::UnitX(), 200, 2}}),
               curve = pathOf({Bezier{{Vec3(0, 2000, 0), {100, 2050, 0}, {200, 2050, 0}, {300, 2000, 0}}}});
    for (const auto& [path, kind] :
         {std::pair{&line, SnapKind::Middle}, {&arc, SnapKind::Middle}, {&curve, SnapKind::OnPath}}) {
        const Vec3 middle = path->at(path->length() / 2).point;
        SnapQuery q;
        q.normal = Vec3::UnitZ();
        q.pointer = middle + Vec3(0.5, 0.2, 0);
        q.away = [&](const Vec3& p) { return (p - q.pointer).norm(); };
        const auto found = snapTo(q, std::span(path, 1), {});
        QVERIFY(found && found->kind == kind);
        if (kind == SnapKind::Middle) NEAR((found->at - middle).norm(), 0, 1e-9);
    }
    // Away from all of them: along an axis from where one drew last, on the grid there; else the grid alone.
    SnapQuery q;
    q.normal = Vec3::UnitZ();
    q.from = Vec3(10, 5000, 0);
    q.pointer = Vec3(163, 5001, 0);
    q.away = [&](const Vec3& p) { return (p - q.pointer).norm(); };
    auto found = snapTo(q, std::span(&line, 1), {});
    QVERIFY(found && found->kind == SnapKind::Axis);
    NEAR((found->at - Vec3(163, 5000, 0)).norm(), 0, 1e-9);
    q.gridStep = 50;
    q.reach = 20;
    found = snapTo(q, std::span(&line, 1), {});
    QVERIFY(found && found->kind == SnapKind::Axis);
    NEAR((found->at - Vec3(150, 5000, 0)).norm(), 0, 1e-9);
    q.from.reset();
    found = snapTo(q, std::span(&line, 1), {});
    QVERIFY(found && found->kind == SnapKind::Grid);
    NEAR((found->at - Vec3(150, 5000, 0)).norm(), 0, 1e-9);
}

VICINAL_SUITE(TestShapes)

} // namespace test_shapes
#include "test_shapes.moc"
