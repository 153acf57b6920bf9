// Paths lifted over their own crossings: every two strands keep the thickness, far from crossings nothing moves.
#include "geometry/curves/edit.h"
#include "geometry/heights/lifted.h"
#include "suite.h"
#include "support.h"

namespace test_lifted {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Path lifted(const Result<LiftedPath>& r) {
    if (!r) qFatal("%s", r.problem().text.c_str());
    return pathOf(r->segments, r->closed);
}

LiftOrder order(double thickness, double ease, OnTop top = OnTop::Later, std::vector<long> switched = {}) {
    return {thickness, ease, top, std::move(switched)};
}

/// The least distance of two points that are at least `along` apart on the path (or on two paths), by dense samples.
double leastApart(const Path& path, double along, double reach, const Path* other = nullptr) {
    const auto dense = [&](const Path& p) {
        std::vector<std::pair<double, Vec3>> out;
        const int n = int(std::clamp(p.length() / (reach / 20), 200.0, 9'000.0));
        for (double s : evenly(p.length(), n)) out.push_back({s, p.at(s).point});
        return out;
    };
    const auto a = dense(path), b = other ? dense(*other) : a;
    double least = 1e300;
    for (size_t i = 0; i < a.size(); ++i)
        for (size_t j = other ? 0 : i + 1; j < b.size(); ++j) {
            if ((a[i].second - b[j].second).cwiseAbs().maxCoeff() > reach) continue;
            double d = std::abs(a[i].first - b[j].first);
            if (!other && path.closed()) d = std::min(d, path.length() - d);
            if (!other && d < along) continue;
            least = std::min(least, (a[i].second - b[j].second).norm());
        }
    return least;
}

/// A star of five points, drawn in two turns: it crosses itself in five places.
Path star() {
    std::vector<Vec3> p;
    for (int i = 0; i < 120; ++i) {
        const double u = 2 * kPi * i / 120, r = 1000 + 420 * std::cos(5 * u);
        p.push_back({r * std::cos(2 * u), r * std::sin(2 * u), 0});
    }
    return spline(p, true);
}

Path loopOnce() { // one crossing, at 90 degrees, at the origin
    return pathOf({Line{{-2000, 0, 0}, {1000, 0, 0}},
                   Arc{{1000, 1000, 0}, -Vec3::UnitY(), Vec3::UnitX(), 1000, 1.5 * kPi},
                   Line{{0, 1000, 0}, {0, -2000, 0}}});
}

} // namespace

class TestLifted : public QObject {
    Q_OBJECT
    int m_refused = 0;
private slots:
    void oneCrossingIsLiftedByTheThickness();
    void earlierLaterAndSwitched();
    void randomCurvesKeepTheThickness_data();
    void randomCurvesKeepTheThickness();
    void fewOfThemAreRefused();
    void inTurnItGoesOverAndUnder();
    void strandsAlongOneAnotherAreKeptApart();
    void overAndBeneathAnotherPath();
    void overItselfAndBeneathAnotherClosely();
    void whatPassesHighAboveStaysAbove();
    void overTheSeamOfAClosedPathAsElsewhere();
    void slantingCrossingsKeepTheTrueDistance();
    void aCoilOnItselfStacks();
    void tooLittleWayIsSaid();
};

void TestLifted::oneCrossingIsLiftedByTheThickness() {
    const Path path = loopOnce();
    const auto r = liftedOver(path, order(20, 150));
    const Path out = lifted(r);
    QCOMPARE(r->crossings.size(), size_t(1));
    NEAR(r->crossings[0].lift, 20, 0.1);
    NEAR(r->crossings[0].lower, 2000, 2);
    NEAR(r->crossings[0].upper, path.length() - 2000, 2);
    NEAR(leastApart(out, 500, 30), 20, 0.1);
    QVERIFY(leastApart(out, 500, 30) >= 20);
    // Flat over the crossing, then the quintic, then the source itself: the same segments.
    NEAR(out.bounds().max().z(), r->crossings[0].lift, 1e-9);
    for (double away : {200.0, 500.0, 900.0}) {
        const Vec3 p(0, away, 0);
        NEAR((out.at(out.closest(p)).point - p).norm(), 0, 1e-9);
    }
    QVERIFY(out.corners().empty());
    // Cubics with the true slope: few are enough.
    QVERIFY2(out.segments().size() < 40, qPrintable(QString::number(out.segments().size())));
    // No jump of curvature where the bump begins: the second difference of height stays continuous.
    std::vector<double> z;
    const double from = out.closest(Vec3(0, 300, 0));
    for (int i = 0; i <= 6000; ++i) z.push_back(out.at(from + i * 0.1).point.z());
    double jump = 0;
    for (size_t i = 40; i + 40 < z.size(); i += 20) {
        const auto second = [&](size_t k) { return (z[k + 20] - 2 * z[k] + z[k - 20]) / 4; };
        jump = std::max(jump, std::abs(second(i + 20) - second(i)));
    }
    QVERIFY2(jump < 1.5e-3, qPrintable(QString::number(jump))); // a bump without C2 jumps by 2 t / ease^2 or more
}

void TestLifted::earlierLaterAndSwitched() {
    const Path path = loopOnce();
    for (const auto& [top, switched, late] : {std::tuple(OnTop::Later, false, true),
                                              {OnTop::Earlier, false, false},
                                              {OnTop::Later, true, false},
                                              {OnTop::Earlier, true, true}}) {
        LiftOrder asked{20, 150, top, {}};
        if (switched) asked.switched = {1};
        const auto r = liftedOver(path, asked);
        QVERIFY(bool(r));
        QCOMPARE(r->crossings[0].upper > r->crossings[0].lower, late);
        NEAR(leastApart(lifted(r), 500, 30), 20, 0.1);
    }
}

void TestLifted::randomCurvesKeepTheThickness_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 24; ++seed) QTest::newRow(qPrintable(QString::number(seed))) << seed;
}

void TestLifted::randomCurvesKeepTheThickness() {
    QFETCH(unsigned, seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> at(-1500, 1500), up(-40, 40);
    std::vector<Vec3> p;
    for (int i = 0; i < 9; ++i) p.push_back({at(random), at(random), up(random)});
    const Path path = spline(p, seed % 2 == 0);
    const double t = 12 + seed % 5;
    LiftOrder asked{t, 120, OnTop(seed % 3), {}};
    if (seed % 4 == 0) asked.switched = {1, 3};
    const auto r = liftedOver(path, asked);
    if (!r) { // then it says which crossing, and that is no way out for many
        QVERIFY2(r.problem().text.find("rossing") != std::string::npos, r.problem().text.c_str());
        ++m_refused;
        return;
    }
    const Path out = lifted(r);
    // Hairpins come near themselves: only strands that are apart along the path count.
    const double before = leastApart(path, 4 * t, 2 * t), after = leastApart(out, 4 * t, 2 * t);
    QVERIFY(!r->crossings.empty() || !r->hairpins.empty() || before >= t);
    QVERIFY2(after >= t * (1 - 1e-6) || !r->hairpins.empty(), qPrintable(QString("%1 of %2").arg(after).arg(t)));
    // In plan it is the same; far from crossings in space, too.
    bool along = false;
    for (const auto& c : r->crossings) along = along || c.along;
    for (double s : evenly(path.length(), 150)) {
        const Vec3 q = path.at(s).point;
        bool far = !along;
        for (const auto& c : r->crossings)
            for (double u : {c.upper, c.lower}) far = far && (path.at(u).point - q).norm() > 700;
        if (far) NEAR((out.at(out.closest(q)).point - q).norm(), 0, 1e-6);
    }
    for (double s : evenly(out.length(), 150)) {
        const Vec3 q = out.at(s).point;
        double away = 1e300;
        for (double u : evenly(path.length(), 4000)) away = std::min(away, (path.at(u).point - q).head<2>().norm());
        QVERIFY(away < 3);
    }
}

void TestLifted::fewOfThemAreRefused() { QVERIFY2(m_refused <= 4, qPrintable(QString::number(m_refused))); }

void TestLifted::inTurnItGoesOverAndUnder() {
    const Path path = star();
    const auto r = liftedOver(path, order(10, 60, OnTop::Alternating, {}));
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    QVERIFY(r->crossings.size() >= 5);
    std::vector<std::pair<double, bool>> passes;
    for (const auto& c : r->crossings) passes.push_back({c.upper, true}), passes.push_back({c.lower, false});
    std::sort(passes.begin(), passes.end());
    for (size_t i = 0; i + 1 < passes.size(); ++i) QVERIFY(passes[i].second != passes[i + 1].second);
    QVERIFY(leastApart(lifted(r), 60, 20) >= 10 * (1 - 1e-6));
}

void TestLifted::strandsAlongOneAnotherAreKeptApart() {
    // Back beside itself, 8 mm away over a metre: with a thickness of 20 they lie one over the other.
    const Path path =
        pathOf({Line{{0, 0, 0}, {1500, 0, 0}}, Arc{{1500, 250, 0}, -Vec3::UnitY(), Vec3::UnitX(), 250, kPi},
                Line{{1500, 500, 0}, {1200, 500, 0}},
                Bezier{{Vec3(1200, 500, 0), Vec3(900, 500, 0), Vec3(1000, 8, 0), Vec3(700, 8, 0)}},
                Line{{700, 8, 0}, {-300, 8, 0}}});
    const auto r = liftedOver(path, order(20, 100));
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    QCOMPARE(r->crossings.size(), size_t(1));
    QVERIFY(r->crossings[0].along);
    const Path out = lifted(r);
    QVERIFY(leastApart(out, 200, 40) >= 20 * (1 - 1e-6));
    NEAR(out.bounds().max().z(), std::sqrt(20.0 * 20 - 8 * 8), 0.1); // plumb over it but 8 mm beside
}

void TestLifted::overAndBeneathAnotherPath() {
    const Path path = pathOf({Line{{-2000, 0, 0}, {2000, 0, 0}}}),
               other = pathOf({Line{{300, -900, 5}, {300, 900, 5}}});
    const auto over = liftedOver(path, order(20, 200), &other);
    QVERIFY(over && over->crossings.size() == 1 && over->crossings[0].other && !over->crossings[0].beneath);
    NEAR(over->crossings[0].lift, 25, 0.1);
    QVERIFY(leastApart(lifted(over), 0, 40, &other) >= 20 * (1 - 1e-6));
    const auto beneath = liftedOver(path, order(20, 200, OnTop::Later, {1}), &other);
    QVERIFY(beneath && beneath->crossings[0].beneath);
    NEAR(beneath->crossings[0].lift, -15, 0.1);
    QVERIFY(leastApart(lifted(beneath), 0, 40, &other) >= 20 * (1 - 1e-6));
    const Path high = pathOf({Line{{300, -900, 500}, {300, 900, 500}}}); // far above: nothing to do
    QVERIFY(liftedOver(path, order(20, 200), &high)->crossings.empty());
}

void TestLifted::overItselfAndBeneathAnotherClosely() {
    // One bump's way down is the next one's: what the other takes away is to be added.
    const Path path = loopOnce(), other = pathOf({Line{{-500, 150, 0}, {500, 150, 0}}});
    const auto plain = liftedOver(path, order(20, 400), &other);
    QVERIFY(plain && plain->crossings.size() == 2);
    const long its = plain->crossings[0].other ? 1 : 2;
    const auto r = liftedOver(path, order(20, 400, OnTop::Later, {its}), &other);
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    QVERIFY(r->crossings[size_t(its) - 1].beneath && !r->crossings[size_t(2 - its)].beneath);
    const Path out = lifted(r);
    QVERIFY(leastApart(out, 500, 40) >= 20 * (1 - 1e-6));
    QVERIFY(leastApart(out, 0, 40, &other) >= 20 * (1 - 1e-6));
    QVERIFY(out.at(out.closest({0, 150, -20})).point.z() < -19.9);
}

void TestLifted::whatPassesHighAboveStaysAbove() {
    // Three strands through one point in plan, the last one 30 higher: the second is lifted by 20, the third gives way.
    const Path path =
        pathOf({Line{{-2000, 0, 0}, {1000, 0, 0}}, Arc{{1000, 1000, 0}, -Vec3::UnitY(), Vec3::UnitX(), 1000, 1.5 * kPi},
                Line{{0, 1000, 0}, {0, -2000, 0}}, Line{{0, -2000, 0}, {-1500, -1500, 30}},
                Line{{-1500, -1500, 30}, {1500, 1500, 30}}});
    const auto r = liftedOver(path, order(20, 300));
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    const Path out = lifted(r);
    QVERIFY(leastApart(out, 300, 60) >= 20 * (1 - 1e-6));
    const double last = out.at(out.length() - std::sqrt(2.0) * 1500).point.z();
    QVERIFY2(last > 39.9 && last < 42, qPrintable(QString::number(last)));
}

void TestLifted::overTheSeamOfAClosedPathAsElsewhere() {
    const Path whole = star();
    const auto first = liftedOver(whole, order(40, 300));
    QVERIFY(bool(first));
    for (const StrandCrossing& x : first->crossings)
        for (double off : {-160.0, -20.0, 0.0, 20.0, 160.0}) { // the seam within the bump, and on its slopes
            const auto moved = startMovedTo(whole, std::fmod(x.upper + off + whole.length(), whole.length()));
            QVERIFY(bool(moved));
            for (OnTop top : {OnTop::Later, OnTop::Earlier}) {
                const auto r = liftedOver(pathOf(*moved, true), order(40, 300, top));
                QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
                const Path out = lifted(r);
                QVERIFY(out.closed() && out.corners().empty());
                NEAR((out.at(0).point - out.at(out.length()).point).norm(), 0, 1e-6);
                QVERIFY(r->least >= 40 * (1 - 1e-6));
            }
        }
}

void TestLifted::slantingCrossingsKeepTheTrueDistance() {
    // A strand that climbs steeply over another: heights alone would leave them nearer than the thickness.
    const Path path = pathOf({Line{{-1000, 0, 0}, {1000, 0, 0}}}),
               other = pathOf({Line{{-200, -200, -230}, {200, 200, 200}}}); // goes through it, rising
    for (const std::vector<long>& switched : {std::vector<long>{}, {1}}) {
        const auto r = liftedOver(path, order(30, 300, OnTop::Later, switched), &other);
        QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
        QVERIFY(leastApart(lifted(r), 0, 60, &other) >= 30 * (1 - 1e-6));
    }
}

void TestLifted::aCoilOnItselfStacks() {
    // Three turns of one circle: each lies on the one before.
    std::vector<Segment> all;
    for (int k = 0; k < 3; ++k) all.push_back(Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 500, 2 * kPi});
    const auto r = liftedOver(pathOf(all), order(20, 150));
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    const Path out = lifted(r);
    QVERIFY(out.bounds().max().z() > 39.9 && out.bounds().max().z() < 61);
    QVERIFY(leastApart(out, 800, 40) >= 20 * (1 - 1e-6));
}

void TestLifted::tooLittleWayIsSaid() {
    const Path path = loopOnce();
    const auto steep = liftedOver(path, order(20, 10));
    QVERIFY(!steep && steep.problem().field == "ease");
    QVERIFY2(steep.problem().text.find("at least 37.6") != std::string::npos, steep.problem().text.c_str());
    QCOMPARE(liftedOver(path, order(0, 10)).problem().field, std::string("thickness"));
    QCOMPARE(liftedOver(path, order(std::nan(""), 10)).problem().field, std::string("thickness"));
    QCOMPARE(liftedOver(path, order(10, -1)).problem().field, std::string("ease"));
    QVERIFY(!liftedOver(pathOf({Line{{0, 0, 0}, {1e7, 0, 0}}}), order(0.01, 1)));
    // A spring upright: 200 turns over one another everywhere.
    const auto often =
        liftedOver(pathOf({Helix{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 50, 50, 400 * kPi, 4000}}), order(10, 100));
    QVERIFY(!often && often.problem().text.find("too often") != std::string::npos);
}

VICINAL_SUITE(TestLifted)

} // namespace test_lifted
#include "test_lifted.moc"
