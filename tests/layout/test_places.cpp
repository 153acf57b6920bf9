// Parts on the path: seat points, seats, exceptions, gaps.
#include "layout/places.h"
#include "layout/spacing/rules.h"
#include "layout/stub.h"
#include "suite.h"
#include "support.h"

namespace test_places {

using namespace vicinal;
using namespace vicinal::test;

class TestPlaces : public QObject {
    Q_OBJECT
private slots:
    void seatPointIsOnThePathFromAKilometreAway();
    void all27BoxPointsAndEverySeatAreRotations();
    void extraTurnIsAboutNoseSideCrown();
    void asDrawnKeepsThePartsOwnAxes();
    void leftOutPlacesOpenTheGap();
    void closedRunCountsTheGapAtTheSeam();
    void turnedPartsTakeUpTheirTurnedLength();
    void stubHasThreeNeighboursEachWay();
};

void TestPlaces::seatPointIsOnThePathFromAKilometreAway() {
    const Path path = knot();
    PlacementInput order;
    order.partBox = Box3(Vec3(1e6, -1e6, 5e5), Vec3(1e6 + 40, -1e6 + 25, 5e5 + 900));
    order.spacing->rule = ShareOut{2000};
    order.spacing->slide = 1234; // wraps
    for (CrownRule crown : {CrownRule(Plumb{}), CrownRule(Upright{}), CrownRule(Carried{})}) {
        order.facing.crown = crown;
        order.facing.turn = Vec3(0.3, -0.2, 1.1);
        order.seat.nose = Axis::MinusY;
        order.seat.crown = Axis::PlusX;
        const auto places = place(path, order);
        QVERIFY(bool(places));
        const Vec3 seat = seatPoint(order.seat, order.partBox);
        for (size_t i = 0; i < places->count(); ++i) {
            const Vec4 at = places->pose(i) * Vec4(seat.x(), seat.y(), seat.z(), 1);
            NEAR((at.head<3>() - path.at(places->stations()[i]).point).norm(), 0, 1e-9);
        }
    }
}

void TestPlaces::all27BoxPointsAndEverySeatAreRotations() {
    const Box3 box(Vec3(-3, 2, 10), Vec3(7, 8, 60));
    for (int x = -1; x <= 1; ++x)
        for (int y = -1; y <= 1; ++y)
            for (int z = -1; z <= 1; ++z) {
                const Vec3 p = seatPoint({BoxPoint{x, y, z}}, box);
                NEAR((p - Vec3(2 + 5 * x, 5 + 3 * y, 35 + 25 * z)).norm(), 0, 1e-12);
            }
    int good = 0;
    for (int n = 0; n < 6; ++n)
        for (int c = 0; c < 6; ++c) {
            const Seat seat{BoxPoint{}, Axis(n), Axis(c)};
            if (defectOf(seat)) {
                QCOMPARE(n / 2, c / 2);
                continue;
            }
            ++good;
            const Mat3 R = seatRotation(seat);
            NEAR(R.determinant(), 1, 0);
            NEAR((R * seat.nose.v - Vec3::UnitX()).norm(), 0, 0);
            NEAR((R * seat.crown.v - Vec3::UnitZ()).norm(), 0, 0);
        }
    QCOMPARE(good, 24);
}

void TestPlaces::extraTurnIsAboutNoseSideCrown() {
    const Path path = pathOf({Line{{0, 0, 0}, {100, 0, 0}}});
    PlacementInput order;
    order.partBox = Box3(Vec3(-1, -1, 0), Vec3(1, 1, 5));
    const auto nose = [&](const Vec3& turn) {
        order.facing.turn = turn;
        return Mat3(place(path, order)->pose(0).topLeftCorner<3, 3>());
    };
    NEAR((nose({0, 0, kPi / 2}).col(0) - Vec3::UnitY()).norm(), 0, 1e-12); // about the crown: nose goes left
    NEAR((nose({0, kPi / 2, 0}).col(0) + Vec3::UnitZ()).norm(), 0, 1e-12); // about the side: nose dips
    NEAR((nose({kPi / 2, 0, 0}).col(2) + Vec3::UnitY()).norm(), 0, 1e-12); // about the nose: crown goes right
}

void TestPlaces::asDrawnKeepsThePartsOwnAxes() {
    PlacementInput order;
    order.partBox = Box3(Vec3(-1, -1, 0), Vec3(1, 1, 5));
    order.seat.nose = Axis::PlusY;
    order.seat.crown = Axis::MinusX;
    order.facing.nose = NoseRule(AsDrawn{});
    const auto places = place(knot(), order);
    for (size_t i = 0; i < places->count(); ++i)
        NEAR((places->pose(i).topLeftCorner<3, 3>() - Mat3::Identity()).norm(), 0, 1e-12);
}

void TestPlaces::leftOutPlacesOpenTheGap() {
    const Path path = pathOf({Line{{0, 0, 0}, {1000, 0, 0}}});
    PlacementInput order;
    order.partBox = Box3(Vec3(-10, -10, 0), Vec3(10, 10, 900));
    order.spacing->rule = ShareOut{11};
    order.leftOut = {4, 5, 40};
    auto places = place(path, order);
    QCOMPARE(places->present, 9);
    QCOMPARE(places->gaps.size(), size_t(8));
    QCOMPARE(places->staleLeftOut, std::vector<int>{40}); // kept and listed, not dropped
    for (const auto& g : places->gaps) NEAR(g.clear(), g.from == 2 ? 280 : 80, 1e-9);
    const Places all = placesOf(places->laid, {}, path);
    QCOMPARE(all.gaps.size(), size_t(10));
    QCOMPARE(all.laid.get(), places->laid.get()); // the stages before are shared
}

void TestPlaces::closedRunCountsTheGapAtTheSeam() {
    const Path path = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 1000 / (2 * kPi), 2 * kPi}}, true);
    PlacementInput order;
    order.partBox = Box3(Vec3(-10, -10, 0), Vec3(10, 10, 900));
    order.spacing->rule = StepOff{300};
    order.spacing->slide = 500;
    const auto places = place(path, order);
    QCOMPARE(places->gaps.size(), size_t(3));
    NEAR(places->gaps[0].clear(), 280, 1e-9);
    NEAR(places->gaps[1].clear(), 280, 1e-9);
    NEAR(places->gaps[2].clear(), 380, 1e-9);
}

void TestPlaces::turnedPartsTakeUpTheirTurnedLength() {
    const Path path = pathOf({Line{{0, 0, 0}, {1000, 0, 0}}});
    PlacementInput order;
    order.partBox = Box3(Vec3(0, -60, 0), Vec3(20, 60, 900)); // 20 along, 120 across; seat at the middle below
    order.spacing->rule = ShareOut{6};
    NEAR(place(path, order)->gaps[0].clear(), 180, 1e-9);
    order.facing.turn.z() = kPi / 2;
    NEAR(place(path, order)->gaps[0].clear(), 80, 1e-9);
}

/// What the seat view shows: the part at the origin along +x, three ahead on a straight, three behind on a bend, all by
/// their seat points, whatever the pitch and the part's own axes.
void TestPlaces::stubHasThreeNeighboursEachWay() {
    for (const double pitch : {0.02, 7.0, 120.0, 54'321.0})
        for (const double wide : {0.3, 2400.0}) {
            PlacementInput order;
            order.seat = {Vec3(5, 7, -3), Axis::MinusY, Axis::PlusX};
            order.partBox = Box3(Vec3(0, 0, -wide / 2), Vec3(10, 20, wide / 2));
            const auto stub = stubOf(order, pitch);
            QVERIFY2(bool(stub), stub ? "" : stub.problem().text.c_str());
            QCOMPARE(stub->places.count(), size_t(7));
            const Vec3 at = std::get<Vec3>(order.seat.point);
            for (int i = 0; i < 7; ++i) {
                const Mat4 pose = stub->places.pose(size_t(i));
                const Vec3 p = (pose * at.homogeneous()).head<3>();
                NEAR((p - stub->path.at(stub->places.stations()[size_t(i)]).point).norm(), 0, 1e-9 * (1 + pitch));
                if (i < Stub::kMiddle) continue;
                NEAR((p - Vec3((i - Stub::kMiddle) * pitch, 0, 0)).norm(), 0, 1e-9 * (1 + pitch));
                NEAR((pose.topLeftCorner<3, 3>() * -Vec3::UnitY() - Vec3::UnitX()).norm(), 0, 1e-9);
            }
            // On the bend the nose turns, and the inside stays open.
            const auto& s = stub->places.stations();
            const Vec3 first = stub->path.at(s[0]).tangent, second = stub->path.at(s[1]).tangent;
            QVERIFY(first.cross(second).z() > 1e-6);
            QVERIFY(pitch / std::acos(first.dot(second)) > wide / 2);
        }
    PlacementInput wrong;
    wrong.partBox = Box3(Vec3(0, 0, 0), Vec3(1, 1, 1));
    QVERIFY(!stubOf(wrong, 0));
    QVERIFY(!stubOf(wrong, std::nan("")));
    wrong.seat.crown = wrong.seat.nose;
    QCOMPARE(stubOf(wrong, 10).problem().field, std::string("crown"));
}

VICINAL_SUITE(TestPlaces)

} // namespace test_places
#include "test_places.moc"
