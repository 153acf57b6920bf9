// Camera and strip as plain values.
#include "app/strip/strip_map.h"
#include "app/view/camera.h"
#include "layout/placement_input.h"
#include "layout/places.h"
#include "layout/spacing/rules.h"
#include "suite.h"
#include "support.h"

namespace test_maps {

using namespace vicinal;
using namespace vicinal::test;

class TestMaps : public QObject {
    Q_OBJECT
private slots:
    void raysGoBackThroughTheirPixel();
    void zoomKeepsWhatIsUnderThePointer();
    void plumbLooksPlumb();
    void turningKeepsThePointUnderThePointer();
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

void TestMaps::plumbLooksPlumb() {
    for (double pitch : {0.0, 10.0, 30.0, 45.0, -30.0}) // 30 is the first view
        for (auto [w, h] : {std::pair{726., 530.}, {1300., 700.}, {500., 600.}}) {
            Camera c = someCamera(false);
            c.look(0);
            c.pitch = pitch * kDegree;
            c.width = w, c.height = h;
            c.frame({Vec3(-4000, -3000, 0), Vec3(9000, 5000, 1200)});
            const auto middle = *c.project(c.target);
            NEAR(middle.x(), w / 2, 1e-6);
            NEAR(middle.y(), h / 2, 1e-6);
            for (double x : {1.0, w / 2, w - 1})
                for (double y : {1.0, h / 2, h - 1}) {
                    const auto [start, ray] = c.ray(x, y);
                    const Vec3 foot = start + c.distance * ray;
                    const auto a = *c.project(foot), b = *c.project(foot + Vec3(0, 0, 50));
                    const double lean = std::atan2(std::abs(b.x() - a.x()), std::abs(b.y() - a.y()));
                    QVERIFY2(lean < 2 * kDegree,
                             qPrintable(QString("%1 degrees at %2, %3").arg(lean / kDegree).arg(x).arg(y)));
                    // What is level and far away stands level.
                    const Vec3 far = c.eye() + 1e7 * Vec3(ray.x(), ray.y(), 0).normalized();
                    const auto p = c.project(far), q = c.project(far + 1e4 * c.right());
                    if (p && q) NEAR(p->y(), q->y(), 0.1);
                }
        }
    double before = 0; // turning over the top has no jump
    for (int k = 0; k <= 900; ++k) {
        Camera c = someCamera(false);
        c.pitch = k * 0.1 * kDegree;
        if (k > 0) NEAR(c.pitch - c.shift(), before, 0.5 * kDegree);
        before = c.pitch - c.shift();
    }
    NEAR(before, kPi / 2, 1e-9); // from above the picture plane is level
}

void TestMaps::turningKeepsThePointUnderThePointer() {
    for (bool parallel : {false, true})
        for (double pitch : {0.1, 0.6, 1.3}) {
            Camera c = someCamera(parallel);
            c.pitch = pitch;
            const Vec3 pivot(1800, -900, 350);
            const auto before = *c.project(pivot);
            for (int i = 0; i < 20; ++i) c.orbitAbout(pivot, 7, i % 2 ? 5 : -4);
            const auto after = *c.project(pivot);
            NEAR(after.x(), before.x(), 1e-6);
            NEAR(after.y(), before.y(), 1e-6);
            NEAR(after.z(), before.z(), 1e-6);
            QVERIFY(std::abs(c.yaw - 0.8) > 0.5);
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
    PlacementInput order;
    order.partBox = Box3(Vec3(-2, -2, 0), Vec3(2, 2, 10));
    order.spacing->rule = ShareOut{50'001};
    order.leftOut = {12345};
    auto places = *place(path, order);
    places.gaps[30000].start += 5.5; // as an unlucky neighbour would
    StripMap m;
    m.length = 500000;
    m.width = 1000;
    m.showAll();
    const auto columns = gapColumns(m, places, SpacingLimits{1.0, 8.0, {}, {}, false});
    QCOMPARE(int(std::count_if(columns.begin(), columns.end(), [](const auto& c) { return c.over; })), 1);
    QCOMPARE(int(std::count_if(columns.begin(), columns.end(), [](const auto& c) { return c.under; })), 1);
    const auto over = std::find_if(columns.begin(), columns.end(), [](const auto& c) { return c.over; });
    NEAR(m.station(m.left + double(over - columns.begin())), places.stations()[12344], 2 * m.perPixel);
    QCOMPARE(over->worst, 12343);
    QCOMPARE(placeAt(m, places, m.x(places.stations()[777]), 3), 777);
}

VICINAL_SUITE(TestMaps)

} // namespace test_maps
#include "test_maps.moc"
