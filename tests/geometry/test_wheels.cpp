// Loops round wheels against the textbook and against a string pulled tight by numbers; offsets against distances.
#include "geometry/curves/edit.h"
#include "geometry/curves/offset.h"
#include "geometry/wheels/wheels.h"
#include "suite.h"
#include "support.h"
#include <numeric>

namespace test_wheels {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Length of the tight string that touches the wheels in order: wheels become polygons of very many corners, the string
/// starts far round each of them and lets go of every corner that does not hold it; then again from a little more than
/// what held, since a corner may have been let go of while its neighbours were still loose. Knows nothing of tangents.
double pulledTight(const std::vector<WheelCircle>& w) {
    constexpr double step = kPi / 1800; // a string over corners is a little shorter: by some step^2
    struct Node {
        Vec2 p;
        size_t wheel;
        int corner;
    };
    Vec2 middle = Vec2::Zero();
    for (const auto& x : w) middle += x.centre / double(w.size());
    std::vector<std::pair<int, int>> range(w.size(), {-1300, 1300});
    double length = 0;
    for (int round = 0; round < 6; ++round) {
        std::vector<Node> string;
        for (size_t i = 0; i < w.size(); ++i) {
            const Vec2 d = w[i].centre - middle;
            const double sign = w[i].inside ? 1 : -1, facing = std::atan2(d.y(), d.x()) + (w[i].inside ? 0 : kPi);
            for (int k = range[i].first; k <= range[i].second; ++k)
                string.push_back({w[i].centre + w[i].radius * Vec2(std::cos(facing + sign * k * step),
                                                                   std::sin(facing + sign * k * step)),
                                  i, k});
        }
        for (bool loose = true; loose;) { // one pass after the other: no corner goes much before its neighbours
            loose = false;
            std::vector<Node> kept;
            for (size_t i = 0; i < string.size(); ++i) {
                const Vec2 in = string[i].p - (kept.empty() ? string.back().p : kept.back().p),
                           out = string[(i + 1) % string.size()].p - string[i].p;
                const double turn = in.x() * out.y() - in.y() * out.x();
                if (w[string[i].wheel].inside ? turn > 0 : turn < 0)
                    kept.push_back(string[i]);
                else
                    loose = true;
            }
            string = std::move(kept);
        }
        length = 0;
        for (auto& r : range) r = {100000, -100000};
        for (size_t i = 0; i < string.size(); ++i) {
            length += (string[(i + 1) % string.size()].p - string[i].p).norm();
            auto& r = range[string[i].wheel];
            r = {std::min(r.first, string[i].corner - 60), std::max(r.second, string[i].corner + 60)};
        }
    }
    return length;
}

/// Perimeter of the hull of circles by Cauchy's formula: the integral of the support function.
double hullPerimeter(const std::vector<WheelCircle>& w) {
    const int n = 200000;
    double sum = 0;
    for (int i = 0; i < n; ++i) {
        const Vec2 u(std::cos(2 * kPi * i / n), std::sin(2 * kPi * i / n));
        double most = -1e300;
        for (const auto& x : w) most = std::max(most, x.centre.dot(u) + x.radius);
        sum += most * 2 * kPi / n;
    }
    return sum;
}

std::string field(const Result<WheelLoop>& r) { return r ? "fine" : r.problem().field; }

} // namespace

class TestWheels : public QObject {
    Q_OBJECT
private slots:
    void twoWheelsAsInTheTextbook();
    void threeToSixWheelsWithIdlers();
    void loopsAreTangentAndRoundTheirWheels();
    void openLoopsAndPins();
    void impossibleLoopsNameTheWheel();
    void hullOrderFindsTheWayRound();
    void offsetOfArcsAndLinesIsExact();
    void offsetKeepsItsDistance_data();
    void offsetKeepsItsDistance();
    void offsetOfASlopingPathKeepsItsHeight();
    void offsetLosesWhatIsTooNarrow();
    void offsetRefusals();
};

void TestWheels::twoWheelsAsInTheTextbook() {
    for (const auto& [r1, r2, d] : {std::tuple(100., 100., 500.), {150., 60., 400.}, {30., 200., 1000.}}) {
        const Vec2 c(37, -20), e = d * Vec2(std::cos(0.4), std::sin(0.4));
        const std::vector<WheelCircle> open{{c, r1, true}, {c + e, r2, true}};
        const auto a = loopRound(open, true, false);
        QVERIFY(bool(a));
        NEAR(a->length, twoWheelLength(r1, r2, d, false), 1e-9);
        NEAR(a->contacts[0].wrap + a->contacts[1].wrap, 2 * kPi, 1e-12);
        NEAR(a->contacts[0].wrap, kPi + 2 * std::asin((r1 - r2) / d), 1e-12);
        NEAR(a->contacts[0].tangentAfter, std::sqrt(d * d - (r1 - r2) * (r1 - r2)), 1e-9);
        const std::vector<WheelCircle> crossed{{c, r1, true}, {c + e, r2, false}};
        const auto b = loopRound(crossed, true, true);
        QVERIFY(bool(b));
        NEAR(b->length, twoWheelLength(r1, r2, d, true), 1e-9);
        QCOMPARE(field(loopRound(crossed, true, false)), std::string("wheel 2")); // unless crossing is allowed
    }
    NEAR(pitchRadius(38, 25.4), 25.4 / 2 / std::sin(kPi / 38), 1e-12);
}

void TestWheels::threeToSixWheelsWithIdlers() {
    std::mt19937 random(17);
    std::uniform_real_distribution<double> shift(-40, 40), radius(20, 90);
    int solved = 0, idlers = 0;
    for (int round = 0; round < rounds(60); ++round) {
        const int n = 3 + round % 4;
        std::vector<WheelCircle> w;
        for (int i = 0; i < n; ++i) {
            const double a = 2 * kPi * i / n;
            w.push_back(
                {500 * Vec2(std::cos(a), std::sin(a)) + Vec2(shift(random), shift(random)), radius(random), true});
        }
        if (round % 2) { // an idler that presses the first straight inwards from outside
            const Vec2 m = (w[0].centre + w[1].centre) / 2;
            w.insert(w.begin() + 1, {m + 20 * m.normalized(), 30 + shift(random) / 4, false});
        }
        const auto loop = loopRound(w, true, false);
        if (!loop) continue;
        ++solved;
        idlers += round % 2;
        NEAR(loop->length, pulledTight(w), 3e-3);
        if (round % 2 == 0) NEAR(loop->length, hullPerimeter(w), 1e-5);
    }
    QVERIFY2(solved > rounds(40) && idlers > rounds(10), qPrintable(QString("%1 %2").arg(solved).arg(idlers)));
}

void TestWheels::loopsAreTangentAndRoundTheirWheels() {
    const std::vector<WheelCircle> w{
        {{0, 0}, 153, true}, {{700, 20}, 69, true}, {{420, 160}, 61, false}, {{300, 420}, 40, true}};
    const auto loop = loopRound(w, true, false);
    QVERIFY2(bool(loop), loop ? "" : loop.problem().text.c_str());
    const Path p = pathOf(loop->curve.segments, true);
    NEAR(p.length(), loop->length, 1e-8);
    QVERIFY(p.corners().empty());
    for (double s : evenly(p.length(), 2000)) // never inside a wheel
        for (const auto& x : w) QVERIFY((p.at(s).point.head<2>() - x.centre).norm() > x.radius - 1e-7);
    for (size_t i = 0; i < w.size(); ++i) { // and on it between its stations
        const auto& c = loop->contacts[i];
        const double s = (c.arrives + c.leaves) / 2;
        NEAR((p.at(s).point.head<2>() - w[i].centre).norm(), w[i].radius, 1e-8);
    }
}

void TestWheels::openLoopsAndPins() {
    const std::vector<WheelCircle> w{{{0, 0}, 0, true}, {{300, 0}, 50, true}, {{300, 400}, 0, true}};
    const auto loop = loopRound(w, false, false);
    QVERIFY(bool(loop));
    const Path p = pathOf(loop->curve.segments);
    NEAR((p.at(0).point).norm(), 0, 1e-9);
    NEAR((p.at(p.length()).point - Vec3(300, 400, 0)).norm(), 0, 1e-9);
    // tangent lengths from a point, and the turn left over for the wheel
    const double t1 = std::sqrt(300. * 300 - 2500), t2 = std::sqrt(400. * 400 - 2500);
    const double wrap = kPi / 2 + std::asin(50 / 300.) + std::asin(50 / 400.);
    NEAR(p.length(), t1 + t2 + 50 * (wrap), 1e-8);
}

void TestWheels::impossibleLoopsNameTheWheel() {
    const WheelCircle a{{0, 0}, 100, true}, b{{500, 0}, 80, true};
    QCOMPARE(field(loopRound(std::vector{a}, true, false)), std::string("wheels"));
    const auto with = [&](WheelCircle c) { return field(loopRound(std::vector{a, b, c}, true, false)); };
    QCOMPARE(with({{0, 150}, 60, true}), std::string("wheel 3"));  // overlaps the first
    QCOMPARE(with({{10, 0}, 20, true}), std::string("wheel 3"));   // inside the first
    QCOMPARE(with({{0, 0}, 400, true}), std::string("wheel 1"));   // swallows the first
    QCOMPARE(with({{250, 20}, 10, true}), std::string("wheel 3")); // within the loop, never touched
    QCOMPARE(with({{NAN, 0}, 10, true}), std::string("wheel 3"));
    QCOMPARE(with({{250, 300}, -5, true}), std::string("wheel 3"));
    QCOMPARE(with({{250, 300}, INFINITY, true}), std::string("wheel 3"));
    QCOMPARE(with({{250, 300}, 40, true}), std::string("fine"));
    const auto across = loopRound(
        std::vector<WheelCircle>{
            {{0, 0}, 50, true}, {{1000, 0}, 50, true}, {{500, 700}, 50, true}, {{480, -40}, 30, true}},
        true, false);
    QVERIFY(!across);
    QVERIFY(across.problem().text.find("wheel 4") != std::string::npos);
}

void TestWheels::hullOrderFindsTheWayRound() {
    std::mt19937 random(4);
    std::vector<WheelCircle> w;
    for (int i = 0; i < 12; ++i) w.push_back({700 * Vec2(std::cos(i * kPi / 6), std::sin(i * kPi / 6)), 30. + i, true});
    std::shuffle(w.begin(), w.end(), random);
    const auto order = hullOrder(w);
    std::vector<WheelCircle> sorted;
    for (size_t i : order) sorted.push_back(w[i]);
    QCOMPARE(sorted.size(), w.size());
    const auto loop = loopRound(sorted, true, false);
    QVERIFY(bool(loop));
    double straight = 0;
    for (const auto& c : loop->contacts) straight += c.tangentAfter;
    QVERIFY(straight > 3000 && straight < 2 * kPi * 750);
}

void TestWheels::offsetOfArcsAndLinesIsExact() {
    const Path rect = pathOf(rectangle(600, 400, 80)->segments, true);
    for (double d : {50., -50., -300., 79.}) { // left is inwards: it runs counter-clockwise
        const auto o = offsetOf(rect, d, CornerStyle::Round);
        QVERIFY2(bool(o), o ? "" : o.problem().text.c_str());
        QVERIFY(o->curve.closed && o->others.empty());
        const Path p = pathOf(o->curve.segments, true);
        NEAR(p.length(), rect.length() - 2 * kPi * d, 1e-7);
        int arcs = 0;
        for (const auto& s : o->curve.segments)
            if (const auto* a = std::get_if<Arc>(&s)) {
                ++arcs;
                NEAR(a->radius, 80 - d, 1e-12);
            }
        QCOMPARE(arcs, 4);
        for (const auto& s : o->curve.segments) QVERIFY(!std::holds_alternative<Bezier>(s));
    }
    // Beyond the corner radius the arcs are gone and sharp corners remain.
    const auto inner = offsetOf(rect, 120, CornerStyle::Round);
    QVERIFY(bool(inner));
    NEAR(pathOf(inner->curve.segments, true).length(), 2 * (360 + 160), 1e-4);
    QCOMPARE(inner->vanished.size(), size_t(4)); // the four corners' loops, to be shown
    for (const auto& v : inner->vanished) QVERIFY(v.length > 40 * kPi / 2 && v.length < 200);
    // Sharp outside, the corner of a plain rectangle stays a corner; round, it becomes an arc.
    const Path plain = pathOf(rectangle(600, 400, 0)->segments, true);
    const auto length = [&](double d, CornerStyle style) {
        const auto o = offsetOf(plain, d, style);
        if (!o) qFatal("%s", o.problem().text.c_str());
        return pathOf(o->curve.segments, true).length();
    };
    NEAR(length(-30, CornerStyle::Sharp), 2000 + 8 * 30, 1e-7);
    NEAR(length(-30, CornerStyle::Round), 2000 + 2 * kPi * 30, 1e-7);
    NEAR(length(30, CornerStyle::Sharp), 2000 - 8 * 30, 1e-5);
}

void TestWheels::offsetKeepsItsDistance_data() {
    QTest::addColumn<int>("seed");
    QTest::addColumn<double>("distance");
    for (int seed = 1; seed <= 6; ++seed)
        for (double d : {30., -30., 140., -200.}) QTest::addRow("%d, %g", seed, d) << seed << d;
}

void TestWheels::offsetKeepsItsDistance() {
    QFETCH(int, seed);
    QFETCH(double, distance);
    std::mt19937 random{unsigned(seed)};
    std::uniform_real_distribution<double> r(500, 1000);
    std::vector<Vec3> points;
    for (int i = 0; i < 9; ++i) {
        const double a = 2 * kPi * i / 9, x = r(random);
        points.push_back({x * std::cos(a), x * std::sin(a), 0});
    }
    const Path source = spline(points, true);
    const auto o = offsetOf(source, distance, CornerStyle::Round);
    QVERIFY2(bool(o), o ? "" : o.problem().text.c_str());
    QVERIFY(o->curve.closed);
    const Path p = pathOf(o->curve.segments, true);
    for (double s : evenly(p.length(), 400)) {
        const Vec3 q = p.at(s).point;
        NEAR((source.at(source.closest(q)).point - q).norm(), std::abs(distance), 1e-6);
    }
    QCOMPARE(factsOf(p).crossings, 0);
    if (factsOf(source).sharpest > std::abs(distance)) NEAR(p.length(), source.length() - 2 * kPi * distance, 1e-4);
}

void TestWheels::offsetOfASlopingPathKeepsItsHeight() {
    const Path ramp =
        spline({{0, 0, 0}, {1450, 330, 120}, {2750, 520, 230}, {3720, 40, 320}, {4420, -900, 420}, {6560, -1200, 600}});
    const auto o = offsetOf(ramp, 150, CornerStyle::Round);
    QVERIFY(bool(o));
    const Path p = pathOf(o->curve.segments);
    QVERIFY(!p.closed());
    for (double s : {0., 500., 2000., 4500.}) {
        const Sample x = ramp.at(s);
        const Vec3 expected = x.point + 150 * Vec3(-x.tangent.y(), x.tangent.x(), 0).normalized();
        NEAR((p.at(p.closest(expected)).point - expected).norm(), 0, 2e-6);
    }
    // In a plane that stands up: the same as in plan, turned.
    const Mat3 R = someRotation();
    std::vector<Segment> up;
    const Curve flat = *rectangle(600, 400, 80); // held, not a temporary
    for (const auto& s : flat.segments) up.push_back(moved(s, R, Vec3(1, 2, 3)));
    const auto turned = offsetOf(pathOf(up, true), 50, CornerStyle::Round, R.col(2));
    QVERIFY(bool(turned));
    NEAR(pathOf(turned->curve.segments, true).length(), 2 * (440 + 240) + 2 * kPi * 80 - 2 * kPi * 50, 1e-6);
}

void TestWheels::offsetLosesWhatIsTooNarrow() {
    // A dumb-bell: two wide ends and a neck 100 wide. At 60 inwards the neck is gone and two islands are left.
    const std::vector<PolyPoint> bell{{{0, 0, 0}, 0},      {{500, 0, 0}, 0},   {{500, 200, 0}, 0},  {{1000, 200, 0}, 0},
                                      {{1000, 0, 0}, 0},   {{1600, 0, 0}, 0},  {{1600, 500, 0}, 0}, {{1000, 500, 0}, 0},
                                      {{1000, 300, 0}, 0}, {{500, 300, 0}, 0}, {{500, 500, 0}, 0},  {{0, 500, 0}, 0}};
    const Path p = pathOf(filleted(bell, true)->segments, true);
    const auto o = offsetOf(p, 60, CornerStyle::Round);
    QVERIFY(bool(o));
    QCOMPARE(o->others.size(), size_t(1));
    QVERIFY(pathOf(o->curve.segments, true).length() > o->others[0].length);
    const auto narrow = offsetOf(p, 40, CornerStyle::Round);
    QVERIFY(narrow && narrow->others.empty());
    // A figure of eight and a path that doubles back do not break it.
    QVERIFY(
        bool(offsetOf(spline({{0, 0, 0}, {1000, 400, 0}, {1000, 0, 0}, {0, 400, 0}}, true), 40, CornerStyle::Round)));
}

void TestWheels::offsetRefusals() {
    const Path c = pathOf(circle(100)->segments, true);
    QVERIFY(bool(offsetOf(c, 99, CornerStyle::Round)));
    const auto gone = offsetOf(c, 120, CornerStyle::Round);
    QVERIFY(!gone && gone.problem().field == "distance");
    QVERIFY2(gone.problem().text.find("about 99.") != std::string::npos ||
                 gone.problem().text.find("about 100") != std::string::npos,
             gone.problem().text.c_str());
    for (double d : {0., double(NAN), double(INFINITY), 1e12}) QVERIFY(!offsetOf(c, d, CornerStyle::Round));
}

VICINAL_SUITE(TestWheels)

} // namespace test_wheels
#include "test_wheels.moc"
