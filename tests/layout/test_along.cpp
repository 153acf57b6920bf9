// What changes along a run: facing, profiles, unevenness, sequences, exceptions, rows and echoes.
#include "geometry/mesh/ground.h"
#include "layout/along/bound_exceptions.h"
#include "layout/along/typed.h"
#include "layout/placement_input.h"
#include "layout/places.h"
#include "layout/rules.h"
#include "layout/spacing/rules.h"
#include "suite.h"

namespace test_along {

using namespace vicinal;
using namespace vicinal::test;

namespace {

PlacementInput order(const SpacingRule& rule) {
    PlacementInput o;
    o.partBox = Box3(Vec3(-30, -10, 0), Vec3(30, 10, 50));
    o.spacing->rule = rule;
    return o;
}

Places placed(const Path& p, const PlacementInput& o) {
    auto r = place(p, o);
    if (!r) qFatal("%s", r.problem().text.c_str());
    return *r;
}

Profile constant(double v) { return {{{0, v}}}; }

double between(const Vec3& a, const Vec3& b) { return std::atan2(a.cross(b).norm(), a.dot(b)); }

} // namespace

class TestAlong : public QObject {
    Q_OBJECT
private slots:
    void exceptionsFindTheirPlaceOverTheSeam();
    void crownsOutwardGivenAndAimed();
    void crownsNeverFlip();
    void turnsCycleAndGrow();
    void nosesRunThroughBothPins();
    void rollsAreExactAtTheirKeys();
    void profilesKeepToTheirKeys();
    void sizesAndOffsetsAreOfThePath();
    void gapsHeedTheSize();
    void unevennessIsTheSameEverywhere();
    void sequencesAndSpecialPlaces();
    void specialPartsKeepTheGap();
    void nudgesAndAimsAreThePaths();
    void exceptionsStayWithTheirPlace();
    void rowsTiersAndEchoes();
    void mirroredCopiesOfMirroredParts();
    void copiesAreLeftOutByNumber();
    void feetFindTheGround();
    void cornersGetTheirPart();
    void rowsKeepTheirOwnPitch();
    void profilesAndListsReadBack();
    void whatCannotBeIsRefused_data();
    void whatCannotBeIsRefused();
};

/// First, last, every third, corner and swapped parts of another length: the same gap beside each, worked out by hand.
void TestAlong::specialPartsKeepTheGap() {
    const auto sized = [](double length) { return Box3(Vec3(-length / 2, -5, 0), Vec3(length / 2, 5, 10)); };
    PlacementInput o;
    o.partBox = sized(20);
    o.others = {PartOnRun{{}, sized(120)}};
    o.facing.crown = Upright{};
    o.spacing->measure = Measure::ClearGap;
    o.spacing->rule = StepOff{50};
    const Path line = straight(1000);
    const auto gaps = [](const Places& p) {
        std::vector<double> out;
        for (const Gap& g : p.gaps) out.push_back(g.clear());
        return out;
    };
    const auto same = [&](const Path& path, size_t count, double gap) {
        const Places p = placed(path, o);
        QCOMPARE(p.count(), count);
        for (const double g : gaps(p)) NEAR(g, gap, 1e-9);
    };
    o.special.first = 1; // 0, then 120 and on by 70
    same(line, 14, 50);
    o.special = {};
    o.special.last = 1; // 70 i up to 840, and 840 + 10 + 50 + 60
    same(line, 14, 50);
    NEAR(placed(line, o).stations().back(), 960, 1e-9);
    o.special = {};
    o.special.nth = 1, o.special.every = 3;
    same(line, 10, 50);
    o.special = {};
    o.exceptions.resize(1);
    o.exceptions[0].place = 4, o.exceptions[0].part = 2; // the slot plus one; 260, then 380 and on
    same(line, 13, 50);
    o.exceptions[0] = {};
    o.exceptions[0].station = 300, o.exceptions[0].part = 2;
    same(line, 13, 50);
    o.exceptions[0] = {};
    o.exceptions[0].place = 4, o.exceptions[0].size = 3; // 60 long
    same(line, 14, 50);
    o.exceptions.clear();
    // A corner's part stands on a corner of a ring by symmetry: eight places, four of them on corners.
    const Path ring = pathOf({Line{{0, 0, 0}, {800, 0, 0}}, Line{{800, 0, 0}, {800, 800, 0}},
                              Line{{800, 800, 0}, {0, 800, 0}}, Line{{0, 800, 0}, {0, 0, 0}}},
                             true);
    o.special.corner = 1;
    o.spacing->rule = ShareOut{8};
    const Places all = placed(ring, o);
    for (size_t i = 0; i < 8; ++i) {
        QCOMPARE(int(all.laid->slot[i]), i % 2 == 0 ? 1 : 0);
        NEAR(all.stations()[i], 400 * double(i), 1e-6);
    }
    // In bays between corners the part of a corner belongs to both of them.
    o.spacing->bays = BayEdges::Corners;
    o.spacing->rule = ShareOut{5};
    const Places bays = placed(ring, o);
    QCOMPARE(bays.count(), size_t(16));
    std::vector<double> each = gaps(bays);
    const auto [least, most] = std::minmax_element(each.begin(), each.end());
    NEAR(*least, *most, 1e-6);
    // Plumb flat parts of any height on a slope: in plan, over its cosine.
    PlacementInput flat;
    flat.partBox = Box3(Vec3(-200, -15, 0), Vec3(200, 15, 20));
    flat.others = {PartOnRun{{}, Box3(Vec3(-200, -15, 0), Vec3(200, 15, 300))}};
    flat.pattern.order = {0, 1};
    flat.spacing->measure = Measure::ClearGap;
    flat.spacing->rule = StepOff{20};
    const Path slope = pathOf({Line{{0, 0, 0}, {5000, 0, 500}}});
    const Places steps = placed(slope, flat);
    for (size_t i = 1; i < steps.count(); ++i)
        NEAR(steps.stations()[i] - steps.stations()[i - 1], 20 + 400 / std::cos(std::atan(0.1)), 1e-9);
}

/// A nudge goes along, across and up of the path, whatever the part is turned; a nose points at its target from where
/// the part stands, also in a second row, and stays on its pins when it is rolled or looks back.
void TestAlong::nudgesAndAimsAreThePaths() {
    PlacementInput o = order(ShareOut{5});
    o.exceptions.resize(2);
    o.exceptions[0].place = 3;
    o.exceptions[0].move = Vec3(10, 4, 2);
    o.exceptions[1].place = 8; // of the second row
    o.exceptions[1].move = Vec3(-7, 0, 5);
    o.rows.rows = 2;
    o.rows.apart = 2000;
    const Path line = straight(10'000);
    for (int how = 0; how < 5; ++how) {
        PlacementInput now = o;
        if (how == 1) now.facing.backwards = true;
        if (how == 2) now.facing.turn = Vec3(0.3, 0, kPi / 2);
        if (how == 3) now.facing.nose = AtTarget{}, now.facing.target = Vec3(5000, 4000, 500);
        if (how == 4) now.facing.nose = AsDrawn{};
        now.changes.up = constant(300);
        const Places p = placed(line, now);
        QVERIFY(p.laid->staleExceptions.empty());
        NEAR((p.frame(2).seat - Vec3(5010, 4, 302)).norm(), 0, 1e-9);
        NEAR((p.frame(7).seat - Vec3(5003, 2004, 307)).norm(), 0, 1e-9); // a copy of the third, and its own besides
        NEAR((p.frame(6).seat - Vec3(2500, 2000, 300)).norm(), 0, 1e-9);
        if (how == 3)
            for (size_t i = 0; i < p.count(); ++i)
                NEAR(between(p.frame(i).axes.col(0), now.facing.target - p.frame(i).seat), 0, 1e-9);
        now.changes.size = constant(1.5); // and a size of its own on that of its row
        now.exceptions[1].size = 2;
        const Places sized = placed(line, now);
        for (size_t i = 0; i < sized.count(); ++i) NEAR(sized.laid->size[i], i == 7 ? 3 : 1.5, 1e-12);
    }
    PlacementInput pins = order(StepOff{300});
    pins.facing.nose = BetweenPins{};
    pins.pins = Pins{Vec3(-20, 0, 35), Vec3(70, 0, 35)};
    const Path bend = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 400, 4}});
    for (const bool back : {false, true})
        for (const double roll : {0.0, 0.7, kPi / 2}) {
            pins.facing.turn = Vec3(roll, 0, 0);
            pins.facing.backwards = back;
            const Places p = placed(bend, pins);
            for (size_t i = 0; i < p.count(); ++i)
                for (const Vec3& pin : *pins.pins) {
                    const Vec3 at = (p.pose(i) * pin.homogeneous()).head<3>();
                    NEAR(std::hypot(at.x(), at.y()), 400, 1e-9);
                    NEAR(at.z(), 0, 1e-9);
                }
        }
}

void TestAlong::crownsOutwardGivenAndAimed() {
    // A ring that stands upright, as a wheel: outward is away from its hub, over the top and below alike.
    for (int sense : {1, -1}) {
        const Path ring = pathOf({Arc{{0, 0, 500}, Vec3::UnitX(), sense * Vec3::UnitZ(), 500, 2 * kPi}}, true);
        PlacementInput o = order(ShareOut{24});
        o.facing.crown = Outward{};
        const Places p = placed(ring, o);
        for (size_t i = 0; i < p.count(); ++i)
            NEAR(p.frame(i).axes.col(2).dot((p.frame(i).seat - Vec3(0, 0, 500)).normalized()), 1, 1e-12);
    }
    PlacementInput o = order(ShareOut{40});
    o.facing.crown = Given{};
    o.facing.direction = Vec3(1, 2, 5);
    const Path path = knot();
    for (const Places p = placed(path, o); size_t i : {0u, 7u, 23u}) {
        const Mat3 R = p.frame(i).axes;
        const Vec3 t = path.at(p.stations()[i]).tangent, d = o.facing.direction.normalized();
        NEAR(R.col(2).dot(t), 0, 1e-12);
        NEAR(R.col(2).dot(d), std::sqrt(1 - std::pow(t.dot(d), 2)), 1e-12); // no nearer direction is square to the path
        NEAR(R.determinant(), 1, 1e-12);
    }
    o.facing.nose = AtTarget{};
    o.facing.target = Vec3(300, -2000, 4000);
    o.facing.crown = Plumb{};
    const Places p = placed(path, o);
    for (size_t i = 0; i < p.count(); ++i) {
        NEAR(between(p.frame(i).axes.col(0), o.facing.target - p.frame(i).seat), 0, 1e-9);
        QVERIFY(p.frame(i).axes.col(2).z() > 0);
    }
}

/// Neighbours' crowns turn no more than the path between them does, on wild paths: verticals, hairpins, loops.
void TestAlong::crownsNeverFlip() {
    std::mt19937 random(77);
    std::uniform_real_distribution<double> u(-1, 1);
    for (int k = 0; k < 1000; ++k) {
        std::vector<Vec3> points{{0, 0, 0}};
        for (int i = 0; i < 5; ++i) {
            Vec3 step(400 * u(random), 400 * u(random), 400 * u(random));
            if (i == k % 5) step = Vec3(0, 0, k % 2 ? 400 : -400);                      // straight up or down
            if (i == 3 && k % 3 == 0) step = (points[2] - points[3]) + Vec3(30, 10, 0); // a hairpin
            points.push_back(points.back() + step);
        }
        const Path p = spline(points);
        PlacementInput o = order(ShareOut{150});
        o.facing.crown = Carried{};
        const Places all = placed(p, o);
        for (size_t i = 1; i < all.count(); ++i) {
            // The turning between, from many tangents.
            double turning = 0;
            const double a = all.stations()[i - 1], b = all.stations()[i];
            Vec3 t = p.at(a).tangent;
            for (int n = 1; n <= 16; ++n) {
                const Vec3 next = p.at(a + (b - a) * n / 16).tangent;
                turning += between(t, next);
                t = next;
            }
            const double crowns = between(all.frame(i - 1).axes.col(2), all.frame(i).axes.col(2));
            QVERIFY2(crowns <= turning * 1.02 + 1e-6,
                     qPrintable(QString("path %1, place %2: %3 > %4").arg(k).arg(i).arg(crowns).arg(turning)));
        }
    }
}

void TestAlong::turnsCycleAndGrow() {
    const Path p = knot();
    PlacementInput o = order(ShareOut{40});
    o.facing.crown = Carried{};
    const Places plain = placed(p, o);
    o.facing.turnStep = Vec3(kPi / 2, 0, 0);
    o.facing.turnEvery = 2; // the links of a chain
    const Places links = placed(p, o);
    o.facing.turnEvery = 0;
    o.facing.turnStep = Vec3(0, 0, 0.1);
    const Places growing = placed(p, o);
    for (size_t i = 0; i < plain.count(); ++i) {
        const Mat3 &a = plain.frame(i).axes, &b = links.frame(i).axes, &c = growing.frame(i).axes;
        NEAR((b.col(2) - (i % 2 ? Vec3(-a.col(1)) : Vec3(a.col(2)))).norm(), 0, 1e-12);
        NEAR(between(a.col(0), c.col(0)), std::abs(std::remainder(0.1 * double(i), 2 * kPi)), 1e-9);
        NEAR((plain.frame(i).seat - links.frame(i).seat).norm(), 0, 0);
    }
    o.facing.turnStep.setZero();
    o.facing.backwards = true;
    const Places back = placed(p, o);
    NEAR((back.frame(5).axes.col(0) + plain.frame(5).axes.col(0)).norm(), 0, 0);
    NEAR((back.frame(5).axes.col(2) - plain.frame(5).axes.col(2)).norm(), 0, 0);
}

void TestAlong::nosesRunThroughBothPins() {
    for (bool chain : {true, false}) {
        const Path p = knot();
        PlacementInput o = order(chain ? SpacingRule(PinToPin{}) : SpacingRule(ShareOut{20}));
        o.pins = Pins{Vec3(-40, 5, 12), Vec3(35, -3, 20)}; // not along the nose at all
        o.facing.nose = BetweenPins{};
        o.facing.crown = Upright{};
        o.spacing->slide = 321;
        const Places all = placed(p, o);
        for (size_t i = 0; i < all.count(); ++i) {
            const Mat4 pose = all.pose(i);
            for (const Vec3& pin : *o.pins) {
                const Vec3 at = (pose * pin.homogeneous()).head<3>();
                NEAR((p.at(p.closest(at)).point - at).norm(), 0, 1e-6);
            }
            if (chain && i > 0)
                NEAR(((all.pose(i - 1) * (*o.pins)[1].homogeneous()) - (pose * (*o.pins)[0].homogeneous())).norm(), 0,
                     1e-8);
            NEAR((pose.topLeftCorner<3, 3>().determinant()), 1, 1e-12);
            QVERIFY(all.frame(i).axes.col(2).z() > 0.1); // upright
        }
    }
}

void TestAlong::rollsAreExactAtTheirKeys() {
    const Path p = knot();
    PlacementInput o = order(Listed{{0, 700, 1400, 2100, 2800}});
    o.facing.crown = Carried{};
    const Places plain = placed(p, o);
    for (bool smooth : {false, true}) {
        o.changes.roll = {{{0, 0}, {700, kPi / 2}, {1400, kPi}, {2100, -kPi / 2}, {2800, 2 * kPi}}, smooth};
        const Places rolled = placed(p, o);
        const double turns[] = {0, 90, 180, -90, 0};
        for (size_t i = 0; i < 5; ++i) {
            const Mat3 R = plain.frame(i).axes.transpose() * rolled.frame(i).axes;
            NEAR(R(2, 2), std::cos(turns[i] * kDegree), 1e-12);
            NEAR(R(2, 1), std::sin(turns[i] * kDegree), 1e-12);
            NEAR((rolled.frame(i).seat - plain.frame(i).seat).norm(), 0, 0); // roll never spoils position
        }
    }
}

void TestAlong::profilesKeepToTheirKeys() {
    std::mt19937 random(9);
    std::uniform_real_distribution<double> u(0, 1);
    for (int k = 0; k < 200; ++k) {
        Profile p;
        const bool closed = k % 2;
        for (int i = 0; i < 2 + k % 6; ++i) p.keys.push_back({i * 150 + 100 * u(random), 10 * u(random)});
        p.smooth = k % 3 != 0;
        const double L = 1200;
        const ProfileCurve c(p, L, closed, 0);
        for (const Key& key : p.keys) NEAR(c.at(key.at), key.value, 1e-9);
        double before = c.at(0);
        for (double s = 0; s <= L; s += 0.5) {
            const double v = c.at(s);
            QVERIFY(v >= c.least() - 1e-9 && v <= c.most() + 1e-9); // never beyond its keys
            QVERIFY(std::abs(v - before) < 0.5);                    // and without a jump
            before = v;
        }
        if (closed) NEAR(c.at(0), c.at(L), 1e-9);
        if (!closed) NEAR(c.at(0), p.keys.front().value, 1e-12);
        // Between two keys it only goes one way.
        for (size_t i = 1; i < p.keys.size(); ++i) {
            const double up = p.keys[i].value > p.keys[i - 1].value ? 1 : -1;
            for (int n = 1; n <= 20; ++n) {
                const double a = p.keys[i - 1].at, h = (p.keys[i].at - a) / 20;
                QVERIFY(up * (c.at(a + n * h) - c.at(a + (n - 1) * h)) >= -1e-9);
            }
        }
        Profile share = p; // the same, told as shares of the length
        for (Key& key : share.keys) key.at /= L;
        share.stretches = true;
        const ProfileCurve d(share, L, closed, 0), twice(share, 2 * L, closed, 0);
        NEAR(d.at(333), c.at(333), 1e-9);
        NEAR(twice.at(666), c.at(333), 1e-9);
    }
}

void TestAlong::sizesAndOffsetsAreOfThePath() {
    const Path p = knot();
    PlacementInput o = order(ShareOut{30});
    o.facing.turn = Vec3(0.2, 0.3, 0.4); // offsets are the path's own, whatever the parts are turned
    const Places plain = placed(p, o);
    o.changes.across = constant(70);
    o.changes.up = constant(-15);
    o.changes.size = {{{0, 1}, {p.length() / 2, 3}}};
    const Places moved = placed(p, o);
    Facing unturned;
    for (size_t i = 0; i < plain.count(); ++i) {
        Mat3 F;
        const double s = plain.stations()[i];
        faceAt(p, std::span(&s, 1), unturned, Mat3::Identity(),
               [&](size_t, const Vec3&, const Vec3&, const Mat3& R) { F = R; });
        const Vec3 by = moved.frame(i).seat - plain.frame(i).seat;
        NEAR((by - (70 * F.col(1) - 15 * F.col(2))).norm(), 0, 1e-9);
        NEAR(moved.laid->size[i], ProfileCurve(o.changes.size, p.length(), true, 1).at(s), 1e-12);
        // The seat point stays where it is, whatever the size.
        const Vec3 seat = seatPoint(o.seat, o.partBox);
        NEAR(((moved.pose(i) * seat.homogeneous()).head<3>() - moved.frame(i).seat).norm(), 0, 1e-9);
        NEAR((std::cbrt(moved.pose(i).topLeftCorner<3, 3>().determinant())), moved.laid->size[i], 1e-9);
    }
}

void TestAlong::gapsHeedTheSize() {
    const Path p = straight(3000);
    PlacementInput o = order(ShareOut{20});
    o.spacing->measure = Measure::ClearGap;
    o.changes.size = {{{0, 1}, {1500, 2}, {3000, 0.5}}};
    const Places all = placed(p, o);
    QCOMPARE(all.gaps.size(), size_t(19));
    for (const Gap& g : all.gaps) NEAR(g.clear(), all.laid->value, 1e-6);
}

void TestAlong::unevennessIsTheSameEverywhere() {
    // Figures of the stated generator, worked out in another language from the paper.
    NEAR(chance(1, 0, 1), 0.44604033499708307, 0);
    NEAR(chance(1, 1, 1), 0.15849396256126314, 0);
    NEAR(chance(42, 1000, 6), 0.287747189750686, 0);
    const Path p = straight(10'000);
    PlacementInput o = order(ShareOut{2000});
    o.uneven = {3, 5, 2, 0.1, 0.05, 7};
    const Places a = placed(p, o), b = placed(p, o);
    o.uneven.seed = 8;
    const Places c = placed(p, o);
    double sum = 0, most = 0, same = 0;
    for (size_t i = 0; i < a.count(); ++i) {
        const Vec3 by = a.frame(i).seat - p.at(a.stations()[i]).point;
        QVERIFY(std::abs(by.x()) <= 3 && std::abs(by.y()) <= 5 && std::abs(by.z()) <= 2);
        QVERIFY(std::abs(a.laid->size[i] - 1) <= 0.05);
        QVERIFY(std::abs(anglesOf(a.frame(i).axes).heading) <= 0.1 + 1e-12);
        QVERIFY(a.frame(i).seat == b.frame(i).seat);
        same += a.frame(i).seat == c.frame(i).seat;
        sum += by.y();
        most = std::max(most, std::abs(by.y()));
    }
    QCOMPARE(same, 0.0);
    QVERIFY(std::abs(sum / 2000) < 0.3 && most > 4.9); // even over the whole bound
}

void TestAlong::sequencesAndSpecialPlaces() {
    const Path p = pathOf({Line{{0, 0, 0}, {1000, 0, 0}}, Line{{1000, 0, 0}, {1000, 1000, 0}}});
    PlacementInput o = order(ShareOut{21});
    PartOnRun other;
    other.box = Box3(Vec3(-5, -5, 0), Vec3(5, 5, 10));
    o.others = {other, other, other};
    o.pattern.order = {0, 1, 1};
    o.special.first = 2;
    o.special.corner = 3;
    o.special.nth = 2;
    o.special.every = 9;
    const Places all = placed(p, o);
    for (size_t i = 0; i < 21; ++i) {
        const int expected = i == 10 ? 3 : i % 9 == 0 ? 2 : i % 3 == 0 ? 0 : 1;
        QCOMPARE(int(all.laid->slot[i]), expected);
    }
    // By weight, every part about as often as it weighs; none that weighs nothing.
    o.special = {};
    o.spacing->rule = ShareOut{6000};
    o.pattern.weights = {3, 1, 0, 2};
    const Places random = placed(p, o);
    int counts[4] = {};
    for (size_t i = 0; i < random.count(); ++i) ++counts[random.laid->slot[i]];
    QCOMPARE(counts[2], 0);
    NEAR(counts[0], 3000, 150);
    NEAR(counts[1], 1000, 100);
    NEAR(counts[3], 2000, 130);
}

void TestAlong::exceptionsStayWithTheirPlace() {
    const Path p = straight(1000);
    PlacementInput o = order(ShareOut{11});
    o.others = {PartOnRun{{}, Box3(Vec3(-5, -5, 0), Vec3(5, 5, 10)), {}, {}}};
    Exception out, swapped, nudged;
    out.place = 3;
    out.out = true;
    swapped.station = 430; // between places 5 (400) and 6 (500): the nearer one
    swapped.part = 2;
    nudged.place = 11;
    nudged.move = Vec3(1, 2, 3);
    nudged.turn = Vec3(0, 0, kPi / 2);
    nudged.size = 2;
    o.exceptions = {out, swapped, nudged};
    const Places all = placed(p, o);
    QVERIFY(all.leftOut(2) && all.present == 10);
    QCOMPARE(int(all.laid->slot[4]), 1);
    QCOMPARE(int(all.laid->slot[5]), 0);
    NEAR((all.frame(10).seat - Vec3(1001, 2, 3)).norm(), 0, 1e-12);
    NEAR(all.frame(10).axes(1, 0), 1, 1e-12);
    NEAR(all.laid->size[10], 2, 0);
    // Fewer places: by number the last one is lost and listed, by station the nearest one is found.
    o.spacing->rule = ShareOut{6};
    const Places fewer = placed(p, o);
    QCOMPARE(fewer.laid->staleExceptions, std::vector<int>{2});
    QCOMPARE(int(fewer.laid->slot[2]), 1);
    QVERIFY(fewer.leftOut(2));
    o.spacing->rule = ShareOut{11};
    QVERIFY(placed(p, o).laid->staleExceptions.empty()); // it comes back
    o.exceptions[1].station = 5000;
    QCOMPARE(placed(p, o).laid->staleExceptions, std::vector<int>{1});
    // Numbers that no part can stand by are said, with the place, whatever file they came from.
    const double nan = std::nan("");
    const auto said = [&](size_t which, const std::function<void(Exception&)>& how) {
        PlacementInput wrong = o;
        how(wrong.exceptions[which]);
        const auto laid = solvePlacement(p, wrong);
        return laid ? std::string() : laid.problem().text + "|" + laid.problem().field;
    };
    for (const double size : {0.0, -3.0, 1e300, 9e-7, 1.1e6, nan})
        QCOMPARE(said(2, [&](Exception& e) { e.size = size; }),
                 std::string("Place 11: a size is a factor from 0.000001 to 1000000. Type one, or drop the "
                             "exception.|exceptions"));
    for (const double size : {1e-6, 1e6}) QCOMPARE(said(2, [&](Exception& e) { e.size = size; }), std::string());
    for (const double v : {1e300, -2e9, nan}) {
        const std::string rest = "what is special there is not a number, or beyond 1000 km. Type another value, or "
                                 "drop the exception.|exceptions";
        QCOMPARE(said(2, [&](Exception& e) { e.move.y() = v; }), "Place 11: " + rest);
        QCOMPARE(said(0, [&](Exception& e) { e.turn.z() = v; }), "Place 3: " + rest);
        QVERIFY(said(1, [&](Exception& e) { e.station = v; }).ends_with(rest));
    }
}

void TestAlong::rowsTiersAndEchoes() {
    const Path p = straight(1000);
    PlacementInput o = order(ShareOut{5});
    o.leftOut = {2};
    o.rows = {3, 2, 150, 400, true};
    const Places all = placed(p, o);
    QCOMPARE(all.count(), size_t(30));
    QCOMPARE(all.count(), 6 * all.laid->rowSize);
    QCOMPARE(all.laid->noRoom, (std::vector<size_t>{9, 19, 29}));
    for (const size_t i : all.laid->noRoom) QVERIFY(all.leftOut(i));
    QCOMPARE(all.gaps.size(), size_t(3 + 5 * 4 - 3)); // one place is left out of the first row, the last of every other
    for (size_t row = 0; row < 6; ++row) {
        const double k = double(row % 3), t = double(row / 3);
        const bool shift = (row % 3 + row / 3) % 2;
        for (size_t i = 0; i + 1 < 5; ++i)
            NEAR((all.frame(row * 5 + i).seat - Vec3(250 * double(i) + (shift ? 125 : 0), 150 * k, 400 * t)).norm(), 0,
                 1e-9);
    }
    // Half-way whatever the rule, from the last one half a step on while there is path: keys, gaps on a slope, a ring.
    const Path ring = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 300, 2 * kPi}}, true);
    for (const auto& [rule, path] : {std::pair<SpacingRule, Path>{Graded{Profile{{{0, 100}, {1000, 300}}}}, p},
                                     {StepOff{190}, p},
                                     {ShareOut{7}, ring},
                                     {Listed{{30, 90, 400}}, ring}}) {
        PlacementInput rows = order(rule);
        rows.rows = {2, 1, 40, 100, true};
        const Places two = placed(path, rows);
        const size_t n = two.laid->rowSize;
        const auto& s = two.stations();
        const double L = path.length();
        for (size_t i = 0; i < n; ++i) {
            const bool last = i + 1 == n && !path.closed();
            const double step = last ? s[i] - s[i - 1] : std::fmod(s[(i + 1) % n] - s[i] + L, L);
            if (last && s[i] + step / 2 > L) {
                QVERIFY(two.leftOut(n + i));
                QCOMPARE(two.laid->noRoom, std::vector<size_t>{n + i});
            } else {
                QVERIFY(!two.leftOut(n + i));
                NEAR(s[n + i], std::fmod(s[i] + step / 2, L), 1e-9);
            }
        }
    }
    o = order(ShareOut{4});
    o.echoes.one.kind = EchoKind::Mirrored;
    o.echoes.one.at = Vec3(0, 500, 0);
    o.echoes.one.along = Vec3(0, 3, 0);
    o.echoes.two.kind = EchoKind::Round;
    o.echoes.two.along = Vec3::UnitZ();
    o.echoes.two.count = 3;
    o.echoes.two.angle = 2 * kPi / 3;
    const Places echoed = placed(p, o);
    QCOMPARE(echoed.count(), size_t(4 * 2 * 3));
    for (size_t i = 0; i < 4; ++i) {
        NEAR((echoed.frame(4 + i).seat - (echoed.frame(i).seat + Vec3(0, 1000, 0))).norm(), 0, 1e-9);
        for (size_t k = 1; k < 3; ++k) {
            const Mat3 R = Eigen::AngleAxisd(2 * kPi / 3 * double(k), Vec3::UnitZ()).toRotationMatrix();
            for (size_t m : {i, 4 + i}) {
                NEAR((echoed.frame(8 * k + m).seat - R * echoed.frame(m).seat).norm(), 0, 1e-9);
                NEAR((echoed.frame(8 * k + m).axes - R * echoed.frame(m).axes).norm(), 0, 1e-12);
            }
        }
    }
    for (size_t i = 0; i < echoed.count(); ++i) NEAR(echoed.frame(i).axes.determinant(), 1, 1e-12);
}

/// With its mirrored copy as the part of the copies, every point of a part is the mirror image of its original's:
/// whatever turns, sizes, moves and swaps it. Parts that have no mirrored copy keep their make.
void TestAlong::mirroredCopiesOfMirroredParts() {
    std::mt19937 random(20261130);
    const auto in = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
    const auto vec = [&](double r) { return Vec3(in(-r, r), in(-r, r), in(-r, r)); };
    const Vec3 over(1, -1, 1);
    for (int round = 0; round < 60; ++round) {
        PlacementInput o = order(ShareOut{5 + round % 4});
        o.seat.point = vec(40);
        o.seat.nose = Direction(vec(1).normalized());
        o.seat.crown = Direction(o.seat.nose.v.cross(vec(1)).normalized());
        PartOnRun image;
        image.seat.point = Vec3(over.cwiseProduct(std::get<Vec3>(o.seat.point)));
        image.seat.nose = Direction(over.cwiseProduct(o.seat.nose.v));
        image.seat.crown = Direction(over.cwiseProduct(o.seat.crown.v));
        image.box = Box3(Vec3(-30, -10, 0), Vec3(30, 10, 50));
        PartOnRun other = image;
        o.others = {other, image};
        o.facing.crown = round % 3 ? CrownRule(Plumb{}) : CrownRule(Carried{});
        o.facing.turn = vec(2);
        o.changes.size = {{{0, 1}, {1500, in(0.5, 2)}}};
        o.rows = {1 + round % 2, 1, 5, 100};
        Exception swapped;
        swapped.place = 2;
        swapped.part = 2; // slot 1
        swapped.move = vec(30);
        swapped.turn = vec(1);
        if (round % 2) o.exceptions = {swapped};
        Echo& e = o.echoes.one;
        e.kind = EchoKind::Mirrored;
        e.at = vec(800);
        e.along = vec(1);
        e.part = 3; // slot 2
        if (round % 5 == 0) {
            o.echoes.two.kind = EchoKind::Round;
            o.echoes.two.along = vec(1);
            o.echoes.two.count = 2;
        }
        const Path path = pathOf(splineThrough(randomPoints(unsigned(round), 6)));
        const Places all = placed(path, o);
        const size_t half = all.count() / (round % 5 == 0 ? 4 : 2);
        const Vec3 d = e.along.normalized();
        for (size_t i = 0; i < half; ++i) {
            const bool own = all.laid->slot[i] == 0;
            QCOMPARE(int(all.laid->slot[half + i]), own ? 2 : int(all.laid->slot[i]));
            for (int k = 0; k < 4; ++k) {
                const Vec3 p = vec(60);
                const Vec3 there = (all.pose(i) * p.homogeneous()).head<3>();
                const Vec3 copy = (all.pose(half + i) * over.cwiseProduct(p).homogeneous()).head<3>();
                if (own) NEAR((copy - (there - 2 * d * d.dot(there - e.at))).norm(), 0, 1e-9);
            }
        }
        if (round % 5 == 0)
            for (size_t i = 0; i < 2 * half; ++i) QCOMPARE(int(all.laid->slot[2 * half + i]), int(all.laid->slot[i]));
        o.echoes.one.part = 0;
        const Places plain = placed(path, o);
        for (size_t i = 0; i < all.count(); ++i) {
            NEAR((plain.frame(i).seat - all.frame(i).seat).norm(), 0, 1e-12);
            QCOMPARE(int(plain.laid->slot[i]), int(plain.laid->slot[i % half]));
        }
    }
}

/// Rows along their own offset paths: concentric rings, the sides of a rectangle, and what every row has to keep.
void TestAlong::rowsKeepTheirOwnPitch() {
    const Path ring = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 1000, 2 * kPi}}, true);
    PlacementInput o = order(StepOff{100});
    o.rows.rows = 4;
    o.rows.apart = -150; // outwards
    o.rows.keep = RowsKeep::Pitch;
    const Places rings = placed(ring, o);
    QCOMPARE(rings.laid->ownRows.size(), size_t(4));
    size_t next = 0;
    for (size_t k = 0; k < 4; ++k) {
        const auto& row = rings.laid->ownRows[k];
        const double r = 1000 + 150. * double(k);
        NEAR(row.length, 2 * kPi * r, 1e-6);
        QCOMPARE(row.first, next);
        QCOMPARE(row.count, size_t(std::floor(2 * kPi * r / 100)));
        for (size_t i = row.first; i < row.first + row.count; ++i) {
            NEAR(rings.frame(i).seat.norm(), r, 1e-6);
            if (i > row.first) NEAR(between(rings.frame(i).seat, rings.frame(i - 1).seat) * r, 100, 1e-6);
        }
        NEAR(rings.frame(row.first).seat.y(), 0, 1e-5); // as the first row, beside its first place
        next += row.count;
    }
    QCOMPARE(rings.count(), next);
    QCOMPARE(rings.gaps.size(), next); // every ring is closed
    for (const Gap& g : rings.gaps) QVERIFY(g.clear() > 39 && g.clear() < 141);
    // Exceptions go by number through all rows; those beyond the last are listed.
    o.exceptions.resize(3);
    o.exceptions[0].place = int(rings.laid->ownRows[2].first) + 5;
    o.exceptions[0].move = Vec3(0, 0, 7);
    o.exceptions[1].place = 6 * int(next) + 1;
    o.exceptions[2].place = int(next);
    o.exceptions[2].out = true;
    o.rows.tiers = 2;
    o.rows.high = 60;
    o.echoes.one = {EchoKind::InLine, Vec3::Zero(), Vec3::UnitX(), 3, 9000};
    const Places all = placed(ring, o);
    QCOMPARE(all.count(), 6 * next);
    QCOMPARE(all.laid->staleExceptions, std::vector<int>{1});
    for (size_t b = 0; b < 6; ++b) {
        const Vec3 off(9000. * double(b / 2), 0, b % 2 ? 60 : 0);
        for (size_t i = 0; i < next; ++i) {
            const Vec3 moved(0, 0, i + 1 == size_t(o.exceptions[0].place) ? 7 : 0);
            NEAR((all.frame(b * next + i).seat - rings.frame(i).seat - off - moved).norm(), 0, 1e-9);
            QCOMPARE(all.leftOut(b * next + i), i + 1 == next);
            QCOMPARE(all.laid->original(b * next + i), i);
        }
    }
    // Staggered on an open path: every other row half a pitch on; shared out, each row has the pitch nearest to it.
    o = order(ShareOut{11});
    o.rows = {3, 1, 80, 100, true, RowsKeep::Pitch};
    const Places lines = placed(straight(1000), o);
    QCOMPARE(lines.count(), size_t(11 + 10 + 11));
    NEAR((lines.frame(11).seat - Vec3(50, 80, 0)).norm(), 0, 1e-9);
    NEAR((lines.frame(21).seat - Vec3(0, 160, 0)).norm(), 0, 1e-9);
    // Turned, sized and mixed: what a row has is what a run on the offset path would have.
    o = order(EvenOut{90});
    o.others.push_back({{}, Box3(Vec3(-20, -10, 0), Vec3(20, 10, 30))});
    o.pattern.order = {0, 1};
    o.spacing->measure = Measure::ClearGap;
    o.changes.size = Profile{{{0, 1}, {1, 2}}, false, true};
    o.facing.turn = Vec3(0, 0, 0.3);
    const Path bend =
        pathOf({Line{{0, 0, 0}, {2000, 0, 0}}, Arc{{2000, 800, 0}, -Vec3::UnitY(), Vec3::UnitX(), 800, kPi / 2},
                Line{{2800, 800, 0}, {2800, 3000, 0}}});
    PlacementInput alone = o;
    o.rows = {2, 1, 300, 100, false, RowsKeep::Pitch};
    const Places two = placed(bend, o);
    const auto beside =
        Path::make({Line{{0, 300, 0}, {2000, 300, 0}}, Arc{{2000, 800, 0}, -Vec3::UnitY(), Vec3::UnitX(), 500, kPi / 2},
                    Line{{2500, 800, 0}, {2500, 3000, 0}}},
                   false);
    const Places own = placed(*beside, alone);
    const size_t first = two.laid->ownRows[1].first;
    QCOMPARE(two.laid->ownRows[1].count, own.count());
    for (size_t i = 0; i < own.count(); ++i) {
        NEAR((two.pose(first + i) - own.pose(i)).norm(), 0, 1e-6);
        QCOMPARE(two.laid->slot[first + i], own.laid->slot[i]);
        NEAR(two.occupied(first + i).ahead, own.occupied(i).ahead, 1e-6);
    }
    // A single place by pitches that grow stands in their middle: half of the integral of ds / p.
    const Places middle = placed(straight(1000), order(Graded{Profile{{{0, 100}, {1000, 300}}}, 1}));
    QCOMPARE(middle.count(), size_t(1));
    NEAR(middle.frame(0).seat.x(), 500 * (std::sqrt(3) - 1), 1e-6);
    // The stretch of a row is that of the first one, beside it.
    o = order(StepOff{100});
    o.spacing->from = 400;
    o.spacing->to = 1510;
    o.rows = {2, 1, -1000, 100, false, RowsKeep::Pitch};
    const Path half = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 1000, kPi}});
    const Places stretch = placed(half, o);
    const auto& outer = stretch.laid->ownRows[1];
    QCOMPARE(outer.count, size_t(23)); // on 2220 of it
    const auto turn = [&](size_t i) { return std::atan2(stretch.frame(i).seat.y(), stretch.frame(i).seat.x()); };
    NEAR(turn(outer.first), 0.4, 1e-6);
    NEAR(turn(outer.first + outer.count - 1), 1.5, 1e-6);
    // Where there is no such line it is said.
    const auto refused = [](const Path& p, const PlacementInput& wrong) {
        const auto r = place(p, wrong);
        return r ? std::string() : r.problem().field;
    };
    o.rows.apart = 1100;
    QCOMPARE(refused(ring, o), std::string("rowsApart"));
    o.rows.apart = 300;
    o.facing.crown = Carried{};
    QCOMPARE(refused(bend, o), std::string("rowsKeep"));
}

void TestAlong::profilesAndListsReadBack() {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> u(0, 1);
    for (int k = 0; k < 200; ++k) {
        Profile p;
        for (int i = 0; i < k % 5; ++i) p.keys.push_back({i + u(random), u(random) * 3 - 1});
        p.smooth = k % 2 && !p.empty();
        p.stretches = k % 3 == 0 && !p.empty();
        if (p.stretches)
            for (Key& key : p.keys) key.at /= 10;
        for (ProfileKind of : {ProfileKind::Angle, ProfileKind::Factor}) {
            const auto back = parseProfile(profileText(p, Unit::Metre, of), Unit::Metre, of);
            QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
            QCOMPARE(back->keys.size(), p.keys.size());
            QVERIFY(back->smooth == p.smooth && back->stretches == p.stretches);
            for (size_t i = 0; i < p.keys.size(); ++i) {
                NEAR(back->keys[i].value, p.keys[i].value, 1e-9);
                NEAR(back->keys[i].at, p.keys[i].at, p.stretches ? 1e-15 : 1e-2); // metres with six decimals
            }
        }
    }
    const auto typed = parseProfile("0: 100, 5 m: 1/4 m; smooth", Unit::Millimetre, ProfileKind::Length);
    QVERIFY(typed && typed->smooth && typed->keys == (std::vector<Key>{{0, 100}, {5000, 250}}));
    const auto share = parseProfile("0 %: 0, 50 %: 90; share", Unit::Millimetre, ProfileKind::Angle);
    QVERIFY(share && share->stretches && share->keys[1].at == 0.5);
    NEAR(share->keys[1].value, kPi / 2, 1e-15);
    QVERIFY(parseProfile("none", Unit::Inch, ProfileKind::Length)->empty());
    const auto listed = parseStations("1, 2.5 m, 3/4 in", Unit::Millimetre);
    QVERIFY(listed && listed->size() == 3 && (*listed)[1] == 2500);
    NEAR((*listed)[2], 19.05, 1e-12);
    for (const char* bad : {"fish", "0: 1: 2", "1:", "0: 1; loud", "0:1,0:2", "0:1, 5:2; share"})
        QVERIFY2(!parseProfile(bad, Unit::Millimetre, ProfileKind::Length), bad);
}

void TestAlong::whatCannotBeIsRefused_data() {
    QTest::addColumn<int>("what");
    QTest::addColumn<QString>("field");
    QTest::addColumn<QString>("says");
    int n = 0;
    for (const auto& [field, says] : {std::pair{"size", "factor from"},
                                      {"roll", "not a number"},
                                      {"unevenUp", "from 0 on"},
                                      {"rows", "one row"},
                                      {"rows", "million"},
                                      {"echoCount", "million"},
                                      {"echoAlong", "has a length"},
                                      {"sequence", "Raise a count"},
                                      {"direction", "no length"},
                                      {"crown", "goes round nothing"},
                                      {"nose", "no pins"},
                                      {"turnStep", "Type an angle"},
                                      {"target", "nowhere to point"},
                                      {"rowsApart", "inside of the bend"},
                                      {"sequence", "from 0 on"}})
        QTest::newRow(says) << n++ << QString(field) << QString(says);
}

void TestAlong::whatCannotBeIsRefused() {
    QFETCH(int, what);
    QFETCH(QString, field);
    QFETCH(QString, says);
    PlacementInput o = order(ShareOut{100});
    const double nan = std::nan("");
    switch (what) {
    case 0: o.changes.size = constant(0); break;
    case 1: o.changes.roll = constant(nan); break;
    case 2: o.uneven.up = -1; break;
    case 3: o.rows.rows = 0; break;
    case 4: o.rows.rows = 20'000; break;
    case 5: o.echoes.one.kind = EchoKind::InLine, o.echoes.one.count = 1'000'000; break;
    case 6: o.echoes.one.kind = EchoKind::Mirrored, o.echoes.one.along.setZero(); break;
    case 7: o.pattern.weights = {0, 0}; break;
    case 8: o.facing.crown = Given{}, o.facing.direction.setZero(); break;
    case 9: o.facing.crown = Outward{}; break;
    case 10: o.facing.nose = BetweenPins{}; break;
    case 11: o.facing.turnStep = Vec3(0, nan, 0); break;
    case 12: o.facing.nose = AtTarget{}, o.facing.target = Vec3(5000, 0, 0); break;
    case 14: o.pattern.weights = {-1, 2}; break;
    case 13: o.rows.rows = 2, o.rows.apart = 1100; break; // beyond the centre, 1000 to the left
    }
    const Path bend = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 1000, 3}});
    if (what == 13) { // and just short of it they stand
        o.rows.apart = 999;
        QVERIFY(bool(place(bend, o)));
        o.rows.apart = 1100;
    }
    const auto r = place(what == 13 ? bend : straight(5000), o);
    QVERIFY(!r);
    QCOMPARE(QString::fromStdString(r.problem().field), field);
    QVERIFY2(QString::fromStdString(r.problem().text).contains(says), r.problem().text.c_str());
}

void TestAlong::exceptionsFindTheirPlaceOverTheSeam() {
    // A closed path of 1,000 mm, a place every 200 from 190 on: the last one stands 10 before the seam.
    const std::vector<double> at{190, 390, 590, 790, 990};
    const auto placeAt = [&](double station, bool closed) {
        Exception e;
        e.station = station;
        return placeOf(e, {at, 200, 1000, closed, 0});
    };
    QCOMPARE(placeAt(5, true), std::optional<size_t>(4)); // 15 away, over the seam
    QCOMPARE(placeAt(5, false), std::nullopt);            // an open one has none so near
    QCOMPARE(placeAt(995, true), std::optional<size_t>(4));
    QCOMPARE(placeAt(91, true), std::optional<size_t>(0)); // 99 from the first, 101 from the last
    QCOMPARE(placeAt(89, true), std::optional<size_t>(4)); // and the other way round
}

/// A place of a row, a tier or an echo is left out by its number: one of the run itself with its copies, a copy alone.
void TestAlong::copiesAreLeftOutByNumber() {
    const Path p = straight(1000);
    for (int kind = 0; kind < 3; ++kind)
        for (int out = 1; out <= 10; ++out) {
            PlacementInput o = order(ShareOut{5});
            if (kind == 0) o.rows.rows = 2, o.rows.apart = 200;
            if (kind == 1) o.rows.tiers = 2, o.rows.high = 200;
            if (kind == 2) o.echoes.one = {EchoKind::InLine, Vec3::Zero(), Vec3::UnitY(), 2, 300};
            o.exceptions.resize(1);
            o.exceptions[0].place = out, o.exceptions[0].out = true;
            const Places all = placed(p, o);
            QCOMPARE(all.count(), size_t(10));
            for (int i = 0; i < 10; ++i) QCOMPARE(all.leftOut(size_t(i)), (out <= 5 ? i % 5 : i) + 1 == out);
            QCOMPARE(all.present, out <= 5 ? 8 : 9);
        }
}

/// Each place stands as deep in its own ground as was asked, or all of a row on one level of it; what was added is
/// told.
void TestAlong::feetFindTheGround() {
    auto mesh = std::make_shared<Mesh>(); // rises by a tenth along x
    mesh->points = {{-500, -500, 50}, {2500, -500, 350}, {2500, 500, 350}, {-500, 500, 50}};
    mesh->triangles = {{0, 1, 2}, {0, 2, 3}};
    for (const Vec3& v : mesh->points) mesh->box.extend(v);
    const auto height = [](double x) { return 100 + 0.1 * x; };
    PlacementInput o = order(ShareOut{5});
    o.spacing->insetStart = 100;
    o.ground = std::make_shared<const Ground>(mesh, std::make_shared<const LazyTree>(), Mat3::Identity(), Vec3::Zero());
    o.feet.ground = 1;
    const Places bare = [&] {
        PlacementInput without = o;
        without.ground = nullptr;
        return placed(straight(2000), without);
    }();
    for (const double sunk : {0.0, 12.0, -7.0})
        for (int by = 0; by < 4; ++by) {
            o.feet.sunk = sunk;
            o.feet.by = by ? FeetBy::Level : FeetBy::Each;
            if (by) o.feet.level = BayLevel(by - 1);
            const Places all = placed(straight(2000), o);
            QVERIFY(all.laid->dropped && all.laid->dropped->by.size() == all.count());
            const double first = bare.frame(0).seat.x(), last = bare.frame(4).seat.x();
            for (size_t i = 0; i < all.count(); ++i) {
                const Vec3 was = bare.frame(i).seat, now = all.frame(i).seat;
                const double levels[] = {height(was.x()), height(last), height((first + last) / 2), height(first)};
                NEAR(now.x(), was.x(), 1e-9);
                NEAR(now.z(), levels[by] - sunk, 1e-9);
                NEAR(all.laid->dropped->by[i], now.z() - was.z(), 1e-9);
            }
        }
}

/// Stepped off by pitch or by gap, the place that comes to stand on a corner has the corner's part, and no other has.
void TestAlong::cornersGetTheirPart() {
    const Path bend = pathOf({Line{{0, 0, 0}, {1000, 0, 0}}, Line{{1000, 0, 0}, {1000, 800, 0}}});
    for (const bool gap : {false, true}) {
        PlacementInput o = order(StepOff{100});
        o.others.push_back({{}, Box3(Vec3(-50, -10, 0), Vec3(50, 10, 50)), {}, {}});
        o.special.corner = 1;
        if (gap) { // 60 long ones, 40 between; a longer one at the corner comes as much nearer
            o.spacing->measure = Measure::ClearGap;
            o.spacing->rule = StepOff{40};
            o.spacing->insetStart = 80; // 80, 180 .. 880, and 120 on
        }
        const Places all = placed(bend, o);
        size_t corners = 0;
        for (size_t i = 0; i < all.count(); ++i) {
            const bool on = std::abs(all.stations()[i] - 1000) < 1e-6;
            corners += on;
            QCOMPARE(all.laid->slot[i], std::uint16_t(on));
        }
        QCOMPARE(corners, size_t(1));
    }
}

VICINAL_SUITE(TestAlong)

} // namespace test_along
#include "test_along.moc"
