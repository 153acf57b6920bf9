// Straight rails between places: lengths, cuts and joints against closed forms, and against points of the pieces.
#include "geometry/curves/rails.h"
#include "suite.h"
#include "support.h"

namespace test_rails {

using namespace vicinal;
using namespace vicinal::test;

namespace {

constexpr double kRadius = 2000;

std::vector<Vec3> onCircle(int n, double rise = 0, double part = 1) {
    std::vector<Vec3> out;
    for (int i = 0; i < n; ++i) {
        const double a = 2 * kPi * part * i / n;
        out.push_back({kRadius * std::cos(a), kRadius * std::sin(a), rise * i});
    }
    return out;
}

RailSection flat(double width, double height) { // its line in the middle
    return {{{-width / 2, -height / 2}, {width / 2, -height / 2}, {width / 2, height / 2}, {-width / 2, height / 2}},
            0};
}

std::vector<RailPiece> rails(const std::vector<Vec3>& places, const RailSection& section, const RailOrder& order = {},
                             const std::vector<Vec3>& ups = {}) {
    auto r = straightRails(places, ups, section, order);
    if (!r) qFatal("%s", r.problem().text.c_str());
    return std::move(r).value();
}

std::vector<Vec3> anyPlaces(std::mt19937& random, int n) {
    std::uniform_real_distribution<double> step(300, 900), turn(-1.2, 1.2), slope(-0.6, 0.6);
    std::vector<Vec3> out{Vec3::Zero()};
    double heading = 0;
    for (int i = 1; i < n; ++i) {
        heading += turn(random);
        const double up = slope(random), d = step(random);
        out.push_back(out.back() +
                      d * Vec3(std::cos(heading) * std::cos(up), std::sin(heading) * std::cos(up), std::sin(up)));
    }
    return out;
}

/// The least distance between what two pieces are, by points of their ends' outlines and of their edges.
double leastBetween(const RailPiece& a, const RailPiece& b, const RailSection& s) {
    double least = 1e300;
    for (const Vec2& p : s.points)
        for (const Vec2& q : s.points) least = std::min(least, (pointOn(a, p, 1) - pointOn(b, q, 0)).norm());
    return least;
}

} // namespace

class TestRails : public QObject {
    Q_OBJECT
private slots:
    void roundACircleAllAreAlike();
    void upAScrewTheyAreTurnedAgainstEachOther();
    void inOnePlaneEdgesMeet_data();
    void inOnePlaneEdgesMeet();
    void cutsLieInThePlaneThatHalvesTheTurn();
    void lengthsOverAllAreThoseOfTheirPoints();
    void roundBarsAreHeldByTheirRadius();
    void gapsAreAsWideAsAsked();
    void buttedTheyTouchAndNoMore();
    void overlappingTheyLieOverOneAnother();
    void bankedTheyTakeTheMeanUp();
    void whatCannotBeIsSaid();
};

void TestRails::roundACircleAllAreAlike() {
    for (int n : {3, 7, 24}) {
        const double w = 80, h = 40, half = kPi / n;
        RailOrder order;
        order.closed = true;
        const auto all = rails(onCircle(n), flat(w, h), order);
        QCOMPARE(all.size(), size_t(n));
        double volume = 0;
        for (const auto& p : all) {
            NEAR(p.length, 2 * kRadius * std::sin(half), 1e-9);
            NEAR(p.longest, p.length + w * std::tan(half), 1e-9);
            for (const auto* cut : {&p.start, &p.end}) {
                NEAR(cut->plan, half, 1e-12); // to the left all the way round
                NEAR(cut->slope, 0, 1e-12);
            }
            NEAR(p.twist, 0, 1e-12);
            volume += w * h * p.length; // a prism between slanting ends, its line through the section's centre
        }
        // The same ring as the difference of two polygons.
        const auto polygon = [&](double inner) { return n * inner * inner * std::tan(half); };
        const double r = kRadius * std::cos(half);
        NEAR(volume, h * (polygon(r + w / 2) - polygon(r - w / 2)), 1e-9 * volume);
    }
}

void TestRails::upAScrewTheyAreTurnedAgainstEachOther() {
    const int n = 16;
    const double rise = 150, chord = 2 * kRadius * std::sin(kPi / n);
    const auto all = rails(onCircle(n, rise), flat(50, 50));
    const double slope = std::atan2(rise, chord), turn = 2 * kPi / n;
    for (size_t i = 0; i < all.size(); ++i) {
        const auto& p = all[i];
        NEAR(p.length, std::hypot(chord, rise), 1e-9);
        if (i + 1 == all.size()) continue;
        // In the axes of the piece the next one's direction is known; the cut is marked at half of both.
        const Vec3 next(std::cos(slope) * std::cos(slope) * std::cos(turn) + std::sin(slope) * std::sin(slope),
                        std::cos(slope) * std::sin(turn), std::sin(slope) * std::cos(slope) * (1 - std::cos(turn)));
        NEAR(p.end.plan, std::atan2(next.y(), 1 + next.x()), 1e-12);
        NEAR(p.end.slope, std::atan2(next.z(), 1 + next.x()), 1e-12);
        // Half of the turn the one leans out, half of it the other leans in.
        NEAR(p.twist, all[0].twist, 1e-12);
        NEAR(std::abs(p.twist), 2 * std::atan(std::sin(slope) * std::tan(turn / 2)), 1e-9);
    }
    const auto down = rails(onCircle(n, -rise), flat(50, 50));
    NEAR(down[0].twist, -all[0].twist, 1e-12);
    QVERIFY(all.back().twist == 0);
}

void TestRails::inOnePlaneEdgesMeet_data() {
    QTest::addColumn<bool>("upright");
    QTest::newRow("in plan") << false;
    QTest::newRow("in slope") << true;
}
void TestRails::inOnePlaneEdgesMeet() {
    QFETCH(bool, upright);
    std::mt19937 random(11);
    std::uniform_real_distribution<double> turn(-0.8, 0.8);
    const RailSection section{{{-30, -5}, {30, -5}, {20, 25}, {-30, 40}}, 0};
    for (int round = 0; round < 50; ++round) {
        std::vector<Vec3> places{Vec3::Zero()};
        double heading = 0;
        for (int i = 1; i < 8; ++i) {
            heading = upright ? turn(random) : heading + turn(random);
            const double c = 700 * std::cos(heading), s = 700 * std::sin(heading);
            places.push_back(places.back() + (upright ? Vec3(c, 0, s) : Vec3(c, s, 0)));
        }
        const auto all = rails(places, section);
        for (size_t i = 0; i + 1 < all.size(); ++i) {
            NEAR(all[i].twist, 0, 1e-12);
            for (const Vec2& p : section.points)
                NEAR((pointOn(all[i], p, 1) - pointOn(all[i + 1], p, 0)).norm(), 0, 1e-9);
            NEAR(upright ? all[i].end.slope : all[i].end.plan, upright ? all[i + 1].start.slope : all[i + 1].start.plan,
                 1e-12);
        }
    }
}

void TestRails::cutsLieInThePlaneThatHalvesTheTurn() {
    std::mt19937 random(3);
    for (int round = 0; round < 100; ++round) {
        const auto places = anyPlaces(random, 9);
        const auto section = flat(60, 30);
        const auto all = rails(places, section);
        for (size_t i = 0; i + 1 < all.size(); ++i) {
            const Vec3 a = (places[i + 1] - places[i]).normalized(), b = (places[i + 2] - places[i + 1]).normalized();
            // Every point of both cuts is as far from a point behind as from the same point ahead.
            const Vec3 back = places[i + 1] - 100 * a, ahead = places[i + 1] + 100 * b;
            for (const Vec2& p : section.points)
                for (const Vec3& x : {pointOn(all[i], p, 1), pointOn(all[i + 1], p, 0)})
                    NEAR((x - back).norm(), (x - ahead).norm(), 1e-9);
            // Twisted, a section turned back by it meets the other one.
            const double t = all[i].twist;
            for (const Vec2& p : section.points) {
                const Vec2 q(std::cos(t) * p.x() + std::sin(t) * p.y(), -std::sin(t) * p.x() + std::cos(t) * p.y());
                NEAR((pointOn(all[i], p, 1) - pointOn(all[i + 1], q, 0)).norm(), 0, 1e-8);
            }
        }
        NEAR(all[0].start.normal.dot(all[0].axes.col(0)), -1, 1e-12); // the free ends are square
        NEAR(all.back().end.normal.dot(all.back().axes.col(0)), 1, 1e-12);
    }
}

void TestRails::lengthsOverAllAreThoseOfTheirPoints() {
    std::mt19937 random(5);
    for (const RailJoint joint : {RailJoint::Mitred, RailJoint::Butted, RailJoint::Overlapping})
        for (int round = 0; round < 30; ++round) {
            const auto places = anyPlaces(random, 6);
            const auto section = flat(70, 25);
            RailOrder order;
            order.joint = joint;
            order.overlap = 40;
            for (const auto& p : rails(places, section, order)) {
                double from = 1e300, to = -1e300;
                for (const Vec2& q : section.points)
                    for (double share : {0.0, 1.0}) {
                        const double x = (pointOn(p, q, share) - p.from).dot(p.axes.col(0));
                        from = std::min(from, x), to = std::max(to, x);
                    }
                NEAR(p.longest, to - from, 1e-9);
                NEAR(p.length, (pointOn(p, {0, 0}, 1) - pointOn(p, {0, 0}, 0)).norm(), 1e-9);
                NEAR((p.axes.transpose() * p.axes - Mat3::Identity()).norm(), 0, 1e-12);
                NEAR(p.axes.determinant(), 1, 1e-12);
                NEAR(p.axes(2, 1), 0, 1e-12); // plumb: what is to the left is level
                QVERIFY(p.axes(2, 2) > 0);
            }
        }
}

void TestRails::roundBarsAreHeldByTheirRadius() {
    const RailSection bar{{{0, 0}}, 21};
    RailSection many{{}, 0};
    for (int i = 0; i < 3600; ++i)
        many.points.push_back({21 * std::cos(i * kPi / 1800), 21 * std::sin(i * kPi / 1800)});
    std::mt19937 random(8);
    for (const RailJoint joint : {RailJoint::Mitred, RailJoint::Butted}) {
        RailOrder order;
        order.joint = joint;
        const auto places = anyPlaces(random, 12);
        const auto a = rails(places, bar, order), b = rails(places, many, order);
        for (size_t i = 0; i < a.size(); ++i) {
            NEAR(a[i].longest, b[i].longest, 1e-4);
            NEAR(a[i].length, b[i].length, 1e-4);
        }
    }
}

void TestRails::gapsAreAsWideAsAsked() {
    std::mt19937 random(21);
    const auto section = flat(60, 20);
    for (int round = 0; round < 20; ++round) {
        auto places = anyPlaces(random, 6);
        for (auto& p : places) p.z() = 0;
        RailOrder order;
        order.gap = 6;
        const auto mitred = rails(places, section, order);
        order.joint = RailJoint::Butted;
        const auto butted = rails(places, section, order);
        for (size_t i = 0; i + 1 < mitred.size(); ++i) {
            // Between planes: along their normal, anywhere on them.
            for (const Vec2& p : section.points)
                NEAR((pointOn(mitred[i + 1], p, 0) - pointOn(mitred[i], p, 1)).dot(mitred[i].end.normal), 6, 1e-9);
            NEAR(leastBetween(butted[i], butted[i + 1], section), 6, 1e-9);
        }
    }
}

void TestRails::buttedTheyTouchAndNoMore() {
    RailOrder order;
    order.joint = RailJoint::Butted;
    order.closed = true;
    const int n = 12;
    const double w = 90;
    const auto section = flat(w, 30);
    const auto all = rails(onCircle(n), section, order);
    for (const auto& p : all) {
        NEAR(p.length, 2 * kRadius * std::sin(kPi / n) - w * std::tan(kPi / n), 1e-9);
        NEAR(p.longest, p.length, 1e-9);
        NEAR(p.start.plan, 0, 1e-12);
        NEAR(p.end.plan, 0, 1e-12);
    }
    NEAR(leastBetween(all[0], all[1], section), 0, 1e-9);
    NEAR(leastBetween(all[n - 1], all[0], section), 0, 1e-9);
}

void TestRails::overlappingTheyLieOverOneAnother() {
    RailOrder order;
    order.joint = RailJoint::Overlapping;
    order.overlap = 75;
    const auto section = flat(60, 20);
    const std::vector<Vec3> places{{0, 0, 0}, {1000, 0, 0}, {1000, 800, 0}, {0, 800, 0}};
    const auto all = rails(places, section, order);
    NEAR(all[0].length, 1075, 1e-9); // runs on where another piece goes on, not at its free end
    NEAR(all[1].length, 950, 1e-9);
    NEAR(all[2].length, 1075, 1e-9);
    NEAR(all[0].from.z(), 0, 0);
    NEAR(all[1].from.z(), 20, 1e-12); // on the first
    NEAR(all[2].from.z(), 0, 0);
    NEAR(pointOn(all[1], {0, 0}, 0).y(), -75, 1e-9);
    NEAR(pointOn(all[1], {0, 0}, 1).y(), 875, 1e-9);
}

void TestRails::bankedTheyTakeTheMeanUp() {
    const std::vector<Vec3> places{{0, 0, 0}, {1000, 0, 0}, {2000, 0, 0}};
    const auto leant = [](double a) { return Vec3(0, -std::sin(a), std::cos(a)); };
    const auto all = rails(places, flat(60, 20), {}, {leant(0), leant(0.2), leant(0.6)});
    for (auto [i, roll] : {std::pair(0, 0.1), std::pair(1, 0.4)})
        NEAR((all[size_t(i)].axes.col(2) - leant(roll)).norm(), 0, 1e-12);
    NEAR(all[0].twist, 0.3, 1e-12); // the next one is turned by so much more
    // Upright rails need a direction.
    const std::vector<Vec3> mast{{0, 0, 0}, {0, 0, 500}};
    QCOMPARE(straightRails(mast, {}, flat(60, 20), {}).problem().field, std::string("ups"));
    NEAR(rails(mast, flat(60, 20), {}, {Vec3(1, 0, 1), Vec3(1, 0, 0)})[0].axes(0, 2), 1, 1e-12);
}

void TestRails::whatCannotBeIsSaid() {
    const auto field = [](const std::vector<Vec3>& places, RailOrder order = {}, RailSection section = flat(60, 20),
                          const std::vector<Vec3>& ups = {}) {
        const auto r = straightRails(places, ups, section, order);
        return r ? std::string() : r.problem().field;
    };
    const std::vector<Vec3> corner{{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}};
    QCOMPARE(field(corner), std::string());
    QCOMPARE(field({{0, 0, 0}}), std::string("places"));
    QCOMPARE(field({{0, 0, 0}, {1, 0, 0}}, {RailJoint::Mitred, 0, 0, true}), std::string("places"));
    QCOMPARE(field({{0, 0, 0}, {0, 0, 0}}), std::string("places"));
    QCOMPARE(field({{0, 0, 0}, {std::nan(""), 0, 0}}), std::string("places"));
    QCOMPARE(field({{0, 0, 0}, {1e300, 0, 0}}), std::string("places"));
    QCOMPARE(field(corner, {RailJoint::Mitred, -1}), std::string("gap"));
    QCOMPARE(field(corner, {RailJoint::Mitred, std::nan("")}), std::string("gap"));
    QCOMPARE(field(corner, {RailJoint::Overlapping, 0, -1}), std::string("overlap"));
    QCOMPARE(field(corner, {}, {{}, 0}), std::string("section"));
    QCOMPARE(field(corner, {}, flat(60, 20), {Vec3::UnitZ()}), std::string("ups"));
    const std::vector<Vec3> back{{0, 0, 0}, {1000, 0, 0}, {0, 1, 0}};
    QCOMPARE(field(back), std::string("joint"));
    QCOMPARE(field(back, {RailJoint::Overlapping, 0, 10}), std::string());
    // Two mitres that meet within the width.
    QCOMPARE(field({{0, 0, 0}, {1000, 0, 0}, {1000, 50, 0}, {0, 50, 0}}), std::string("joint"));
}

VICINAL_SUITE(TestRails)

} // namespace test_rails
#include "test_rails.moc"
