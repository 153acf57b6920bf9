// Camera and strip as plain values.
#include "app/strip/strip_map.h"
#include "app/view/camera.h"
#include "layout/places.h"
#include "support.h"

using namespace vicinal;
using namespace vicinal::test;

class TestMaps : public QObject {
    Q_OBJECT
private slots:
    void raysGoBackThroughTheirPixel();
    void zoomKeepsWhatIsUnderThePointer();
    void framingShowsEverything();
    void matrixAgreesWithProject();
    void stripGoesThereAndBack();
    void columnsNeverHideTheWorst();
};

static Camera someCamera(bool parallel) {
    Camera c;
    c.width = 731;
    c.height = 512;
    c.yaw = 0.8;
    c.pitch = 0.5;
    c.target = Vec3(1000, -300, 200);
    c.distance = 7000;
    c.parallel = parallel;
    return c;
}

void TestMaps::raysGoBackThroughTheirPixel() {
    for (bool parallel : {false, true}) {
        const Camera c = someCamera(parallel);
        for (double x : {3.0, 365.5, 700.0})
            for (double y : {9.0, 256.0, 500.0}) {
                const auto [start, direction] = c.ray(x, y);
                const auto p = *c.project(start + 5000 * direction);
                NEAR(p.x(), x, 1e-6);
                NEAR(p.y(), y, 1e-6);
                if (const auto g = c.onPlane(x, y, Vec3::Zero(), Vec3::UnitZ())) NEAR(g->z(), 0, 1e-6);
            }
    }
}

void TestMaps::zoomKeepsWhatIsUnderThePointer() {
    for (bool parallel : {false, true}) {
        Camera c = someCamera(parallel);
        c.pitch = kPi / 2; // the ground through the target is square to the view: then the point stays exactly
        const Vec3 p = *c.onPlane(600, 100, c.target, Vec3::UnitZ());
        c.zoom(0.5, 600, 100);
        const auto after = *c.project(p);
        NEAR(after.x(), 600, 1e-6);
        NEAR(after.y(), 100, 1e-6);
    }
}

void TestMaps::framingShowsEverything() {
    for (bool parallel : {false, true}) {
        Camera c = someCamera(parallel);
        const auto points = randomPoints(4, 30);
        c.frame(points);
        double most = 0;
        for (const auto& v : points) {
            const auto p = *c.project(v);
            QVERIFY(p.x() > 0 && p.x() < c.width && p.y() > 0 && p.y() < c.height);
            most = std::max({most, std::abs(p.x() / c.width - 0.5), std::abs(p.y() / c.height - 0.5)});
        }
        QVERIFY(most > 0.38); // and fills the view
    }
}

void TestMaps::matrixAgreesWithProject() {
    for (bool parallel : {false, true}) {
        const Camera c = someCamera(parallel);
        const Vec3 origin(100, 200, 300);
        const Mat4 m = c.matrix(origin, Box3(Vec3(-500, -500, -500), Vec3(2500, 2500, 1500)));
        for (const auto& v : {Vec3(0, 0, 0), Vec3(2000, 1000, 900), Vec3(1000, -300, 200)}) {
            const Vec4 clip = m * Vec3(v - origin).homogeneous();
            const auto p = *c.project(v);
            NEAR((clip.x() / clip.w() + 1) / 2 * c.width, p.x(), 1e-6);
            NEAR((1 - clip.y() / clip.w()) / 2 * c.height, p.y(), 1e-6);
            QVERIFY(std::abs(clip.z() / clip.w()) <= 1);
        }
    }
}

void TestMaps::stripGoesThereAndBack() {
    StripMap m;
    m.length = 7240;
    m.left = 132;
    m.width = 1100;
    m.showAll();
    QVERIFY(m.x(0) >= m.left && m.x(7240) <= m.left + m.width + 1e-6);
    for (int i = 0; i < 20; ++i) m.zoom(0.8, 700);
    NEAR(m.x(m.station(345)), 345, 1e-9);
    const double s = m.station(500);
    m.zoom(0.5, 500);
    NEAR(m.station(500), s, 1e-6);
    m.scroll(1e9);
    QVERIFY(m.station(m.left + m.width) <= 7240 * 1.02);
    for (double unit : {1.0, 1000.0, 25.4}) QVERIFY(m.tickStep(unit, 95) / m.perPixel >= 95 - 1e-6);
}

void TestMaps::columnsNeverHideTheWorst() {
    // 50,000 places on 1,000 pixels; one gap is too wide, one too narrow. Both must show, whatever the zoom.
    const Path path = pathOf({Line{{0, 0, 0}, {500000, 0, 0}}});
    PlaceOrder order;
    order.partBox = Box3(Vec3(-2, -2, 0), Vec3(2, 2, 10));
    order.spacing.rule = SpacingRule::ShareOut;
    order.spacing.count = 50'001;
    order.leftOut = {12345};
    auto places = *place(path, order);
    places.gaps[30000].start += 5.5; // as an unlucky neighbour would
    StripMap m;
    m.length = 500000;
    m.width = 1000;
    m.showAll();
    const auto columns = gapColumns(m, places, 1.0, 8.0);
    QCOMPARE(int(std::count_if(columns.begin(), columns.end(), [](const auto& c) { return c.over; })), 1);
    QCOMPARE(int(std::count_if(columns.begin(), columns.end(), [](const auto& c) { return c.under; })), 1);
    const auto over = std::find_if(columns.begin(), columns.end(), [](const auto& c) { return c.over; });
    NEAR(m.station(m.left + double(over - columns.begin())), places.stations[12344], 2 * m.perPixel);
    QCOMPARE(over->worst, 12343);
    QCOMPARE(placeAt(m, places, m.x(places.stations[777]), 3), 777);
}

QTEST_APPLESS_MAIN(TestMaps)
#include "test_maps.moc"
