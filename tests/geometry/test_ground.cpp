// Ground: the tree against brute force, triangles over levels against the empty circle, laid paths against planes,
// cones and a search of its own.
#include "geometry/curves/shapes.h"
#include "geometry/heights/laid.h"
#include "geometry/mesh/ground.h"
#include "geometry/terrain/terrain.h"
#include "suite.h"
#include "support.h"

namespace test_ground {

using namespace vicinal;
using namespace vicinal::test;

namespace {

using Height = std::function<double(double, double)>;

/// A sheet over a square, in irregular triangles.
Mesh sheet(const Height& h, int n, double half, unsigned seed = 1, double jitter = 0.3) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> off(-jitter, jitter);
    LevelData levels;
    const double cell = 2 * half / n;
    for (int i = 0; i <= n; ++i)
        for (int k = 0; k <= n; ++k) {
            const bool rim = i == 0 || k == 0 || i == n || k == n;
            const double x = -half + cell * (i + (rim ? 0 : off(random))),
                         y = -half + cell * (k + (rim ? 0 : off(random)));
            levels.points.push_back({x, y, h(x, y)});
        }
    auto t = terrainOf(levels);
    if (!t) qFatal("%s", t.problem().text.c_str());
    return std::move(t.value().mesh);
}

Ground groundOf(Mesh mesh, const Mat3& R = Mat3::Identity(), const Vec3& t = Vec3::Zero()) {
    return Ground(std::make_shared<const Mesh>(std::move(mesh)), std::make_shared<const LazyTree>(), R, t);
}

/// Uppermost height by going through all triangles with barycentric coordinates: knows nothing of trees or rays.
std::optional<double> heightBySearch(const Mesh& m, double x, double y) {
    std::optional<double> best;
    for (const auto& t : m.triangles) {
        const Vec3 &a = m.points[t[0]], &b = m.points[t[1]], &c = m.points[t[2]];
        const double d = (b.y() - c.y()) * (a.x() - c.x()) + (c.x() - b.x()) * (a.y() - c.y());
        if (std::abs(d) < 1e-12) continue;
        const double u = ((b.y() - c.y()) * (x - c.x()) + (c.x() - b.x()) * (y - c.y())) / d,
                     v = ((c.y() - a.y()) * (x - c.x()) + (a.x() - c.x()) * (y - c.y())) / d, w = 1 - u - v;
        if (u < -1e-9 || v < -1e-9 || w < -1e-9) continue;
        const double z = u * a.z() + v * b.z() + w * c.z();
        if (!best || z > *best) best = z;
    }
    return best;
}

double bumpy(double x, double y) { return 300 * std::sin(x / 900) * std::cos(y / 700) + 0.05 * x; }

Path laidPath(const Result<LaidPath>& laid) {
    if (!laid) qFatal("%s", laid.problem().text.c_str());
    return pathOf(laid->segments, laid->closed);
}

} // namespace

class TestGround : public QObject {
    Q_OBJECT
private slots:
    void theTreeAnswersAsAllTriangles();
    void heightsAgreeWithASearch();
    void noPointLiesInATrianglesCircle();
    void breakLinesAreEdgesAndKeepTheirHeights();
    void doubledLevelsAreTold();
    void levelsThatCannotBeSaidWhy();
    void baysOfTheOutlineStayOpen();
    void solidGroundHasTheVolumeUnderIt();
    void laidOnAPlaneItIsItsShadow();
    void laidOnGroundEveryPointIsOnIt_data();
    void laidOnGroundEveryPointIsOnIt();
    void piecesEndAtEdgesAndNowhereElse();
    void onAConeLengthsAreThoseOfTheFormula();
    void alongAnyDirectionAndOnTurnedBodies();
    void overHolesItIsBridgedAndSaid();
    void upTerracesItClimbsUpright();
    void smoothKeepsWithinItsToleranceAndBendsEvenly();
    void onlyItsPoints();
};

void TestGround::theTreeAnswersAsAllTriangles() {
    const auto mesh = std::make_shared<const Mesh>(sheet(bumpy, 40, 5000));
    const MeshTree tree(mesh);
    std::mt19937 random(7);
    std::uniform_real_distribution<double> at(-6000, 6000), any(-1, 1);
    int hits = 0;
    for (int i = 0; i < 400; ++i) {
        const Vec3 start(at(random), at(random), at(random) / 4),
            d = Vec3(any(random), any(random), any(random)).normalized();
        const auto a = tree.hit(start, d), b = hitMesh(*mesh, start, d);
        QCOMPARE(a.has_value(), b.has_value());
        if (a) NEAR(a->distance, b->distance, 1e-9 * (1 + std::abs(b->distance)));
        hits += a.has_value();
        // The nearest point: no sampled point of any triangle is nearer, and it lies on its triangle.
        const auto near = tree.nearest(start);
        NEAR((near.at - start).norm(), near.distance, 1e-9 * near.distance + 1e-9);
        for (size_t t = size_t(i) % 7; t < mesh->triangles.size(); t += 7) {
            const auto& c = mesh->triangles[t];
            for (double u : {0.0, 0.3, 1.0})
                for (double v : {0.0, 0.5}) {
                    const Vec3 p = mesh->points[c[0]] + u * (1 - v) * (mesh->points[c[1]] - mesh->points[c[0]]) +
                                   v * (mesh->points[c[2]] - mesh->points[c[0]]);
                    QVERIFY(u * (1 - v) + v > 1 + 1e-12 || (p - start).norm() >= near.distance - 1e-6);
                }
        }
    }
    QVERIFY(hits > 50);
}

void TestGround::heightsAgreeWithASearch() {
    const Mesh mesh = sheet(bumpy, 30, 4000, 3);
    const Ground ground = groundOf(mesh);
    std::mt19937 random(5);
    std::uniform_real_distribution<double> at(-4500, 4500);
    for (int i = 0; i < 500; ++i) {
        const Vec3 p(at(random), at(random), at(random));
        const auto here = ground.heightAt(p), there = heightBySearch(mesh, p.x(), p.y());
        QCOMPARE(here.has_value(), there.has_value());
        if (here) NEAR(*here, *there, 1e-7);
    }
    // On corners and edges of triangles, too: nothing slips through.
    for (size_t i = 0; i < mesh.points.size(); i += 5) QVERIFY(ground.heightAt(mesh.points[i]));
    for (const auto& t : mesh.triangles)
        QVERIFY(ground.heightAt((mesh.points[t[0]] + mesh.points[t[1]]) / 2).has_value());
}

void TestGround::noPointLiesInATrianglesCircle() {
    for (unsigned seed = 1; seed <= 5; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> at(-1000, 1000);
        LevelData levels;
        for (int i = 0; i < 300; ++i) levels.points.push_back({at(random), at(random), at(random)});
        const auto t = terrainOf(levels);
        QVERIFY(bool(t));
        QCOMPARE(t->mesh.points.size(), size_t(300));
        double area = 0;
        for (const auto& c : t->mesh.triangles) {
            const Vec2 a = t->mesh.points[c[0]].head<2>(), b = t->mesh.points[c[1]].head<2>(),
                       d = t->mesh.points[c[2]].head<2>();
            const double two = (b - a).x() * (d - a).y() - (b - a).y() * (d - a).x();
            QVERIFY(two > 0); // seen from above
            area += two / 2;
            // The circle through all three: its middle from the equal distances.
            Eigen::Matrix2d M;
            M << 2 * (b - a).transpose(), 2 * (d - a).transpose();
            const Vec2 middle =
                M.inverse() * Vec2(b.squaredNorm() - a.squaredNorm(), d.squaredNorm() - a.squaredNorm());
            const double r = (a - middle).norm();
            for (const Vec3& p : t->mesh.points) QVERIFY((p.head<2>() - middle).norm() >= r * (1 - 1e-9) - 1e-9);
        }
        // All of the hull, once: the area of the convex hull by its own walk.
        std::vector<Vec2> flat;
        for (const Vec3& p : levels.points) flat.push_back(p.head<2>());
        std::sort(flat.begin(), flat.end(), [](const Vec2& a, const Vec2& b) { return a.x() < b.x(); });
        std::vector<Vec2> hull;
        for (int way : {0, 1}) {
            const size_t first = hull.size();
            for (size_t i = 0; i < flat.size(); ++i) {
                const Vec2 p = way ? flat[flat.size() - 1 - i] : flat[i];
                const auto left = [&] {
                    const Vec2 u = hull[hull.size() - 1] - hull[hull.size() - 2], v = p - hull.back();
                    return u.x() * v.y() - u.y() * v.x() > 0;
                };
                while (hull.size() >= first + 2 && !left()) hull.pop_back();
                hull.push_back(p);
            }
        }
        double whole = 0;
        for (size_t i = 0; i < hull.size(); ++i) {
            const Vec2 a = hull[i], b = hull[(i + 1) % hull.size()];
            whole += (a.x() * b.y() - a.y() * b.x()) / 2;
        }
        NEAR(area, whole, 1e-6 * whole);
    }
}

void TestGround::breakLinesAreEdgesAndKeepTheirHeights() {
    LevelData levels;
    std::mt19937 random(2);
    std::uniform_real_distribution<double> at(-900, 900);
    for (int i = 0; i < 200; ++i) levels.points.push_back({at(random), at(random), 0});
    for (double x : {-1000.0, 1000.0})
        for (double y : {-1000.0, 1000.0}) levels.points.push_back({x, y, 0});
    levels.breaks = {{{-950, -333, 50}, {0, 41, 80}, {950, 377, 20}}, {{-20, -950, 200}, {5, 950, 200}}};
    const auto t = terrainOf(levels);
    QVERIFY(bool(t));
    const Ground ground = groundOf(t->mesh);
    // Everywhere on the first line the ground is as high as the line says.
    for (double f : evenly(1, 101)) {
        const Vec3 p = f < 0.5 ? Vec3(levels.breaks[0][0] + 2 * f * (levels.breaks[0][1] - levels.breaks[0][0]))
                               : Vec3(levels.breaks[0][1] + (2 * f - 1) * (levels.breaks[0][2] - levels.breaks[0][1]));
        NEAR(ground.heightAt(p).value_or(-1), p.z(), 1e-6);
    }
    bool crossed = false;
    for (const auto& r : t->remarks) crossed = crossed || r.find("cross") != std::string::npos;
    QVERIFY(crossed); // the second line, where the first one's height counts
    NEAR(ground.heightAt({-20, -950, 0}).value_or(-1), 200, 1e-6);
}

void TestGround::levelsThatCannotBeSaidWhy() {
    const auto wrong = [](LevelData d, const char* word) {
        const auto t = terrainOf(d);
        return !t && t.problem().text.find(word) != std::string::npos;
    };
    QVERIFY(wrong({{}, {}, {}}, "none"));
    QVERIFY(wrong({{{1, 2, 3}}, {}, {}}, "is one"));
    QVERIFY(wrong({{{0, 0, 1}, {1, 1, 1}, {2, 2, 9}, {5, 5, 0}}, {}, {}}, "one line"));
    QVERIFY(wrong({{{0, 0, 1}, {1, 0, 1}, {0, std::nan(""), 1}}, {}, {}}, "number"));
    LevelData woven; // 101 lines one way and 101 the other cross 10,201 times
    for (int i = 0; i <= 100; ++i) {
        woven.breaks.push_back({{i * 10.0, -5, 0}, {i * 10.0, 1005, 0}});
        woven.breaks.push_back({{-5, i * 10.0, 0}, {1005, i * 10.0, 0}});
    }
    QVERIFY(wrong(woven, "cross one another at more than 10000 points"));
    woven.breaks.resize(190);
    const auto crossed = terrainOf(woven);
    QVERIFY(crossed && crossed->remarks[0].find("9025 points") != std::string::npos);
    // Twice the same place: the first height counts, and it is said how far apart they are.
    const auto t = terrainOf({{{0, 0, 5}, {100, 0, 5}, {0, 100, 5}, {0, 0, 12}}, {}, {}});
    QVERIFY(t && t->mesh.triangles.size() == 1 && t->remarks.size() == 1);
    QVERIFY2(t->remarks[0].find("7 mm") != std::string::npos, t->remarks[0].c_str());
    NEAR(t->mesh.box.max().z(), 5, 0);
    QVERIFY(!terrainOf({{{0, 0, 0}, {9, 0, 0}, {0, 9, 0}}, {}, {}}, 1) &&
            terrainOf({{{0, 0, 0}, {9, 0, 0}, {0, 9, 0}}, {}, {}}, 1).problem().field == "longest");
}

void TestGround::baysOfTheOutlineStayOpen() {
    LevelData levels; // an L of points every 100
    for (int i = 0; i <= 10; ++i)
        for (int k = 0; k <= 10; ++k)
            if (i <= 3 || k <= 3) levels.points.push_back({i * 100.0, k * 100.0, 0});
    const auto all = terrainOf(levels), open = terrainOf(levels, 150);
    QVERIFY(all && open);
    NEAR(areaOf(open->mesh), 300 * 1000 + 700 * 300, 100 * 100 + 1); // but for the corner's one triangle
    QVERIFY(areaOf(all->mesh) > areaOf(open->mesh) + 200'000);
    QVERIFY(!groundOf(open->mesh).heightAt({800, 800, 0}));
    // Faces that look down are turned: ground is seen from above.
    const auto faces = terrainOf({{{0, 0, 0}, {100, 0, 5}, {0, 100, 9}, {100, 100, 4}}, {}, {{0, 2, 1}, {1, 2, 3}}});
    QVERIFY(faces && faces->mesh.triangles.size() == 2);
    for (const Vec3& n : normalsOf(faces->mesh)) QVERIFY(n.z() > 0.9);
    // A clearing with ground all round it is no bay.
    levels.points.clear();
    for (int i = 0; i <= 10; ++i)
        for (int k = 0; k <= 10; ++k)
            if (std::max(std::abs(i - 5), std::abs(k - 5)) > 2) levels.points.push_back({i * 100.0, k * 100.0, 0});
    const auto clearing = terrainOf(levels, 150);
    QVERIFY(bool(clearing));
    NEAR(areaOf(clearing->mesh), 1e6, 1e-6);
}

void TestGround::solidGroundHasTheVolumeUnderIt() {
    LevelData levels;
    for (int i = 0; i <= 20; ++i)
        for (int k = 0; k <= 20; ++k) levels.points.push_back({i * 50.0, k * 50.0, 10 + 0.1 * i * 50});
    const auto t = terrainOf(levels, 0, 40);
    QVERIFY(bool(t));
    NEAR(volumeOf(t->mesh), 1000.0 * 1000 * (40 + 50), 1e-3); // a plane from 10 to 110 over a foot at -30
    MeshReport report;
    const auto clean = cleaned(t->mesh, &report);
    QVERIFY(clean && report.watertight() && report.turned == 0);
}

void TestGround::laidOnAPlaneItIsItsShadow() {
    // Whatever the path is made of, over one plane it stays that, sheared: an arc becomes an ellipse's arc.
    const Vec3 n = Vec3(-0.3, 0.2, 1).normalized();
    const Ground ground =
        groundOf(sheet([&](double x, double y) { return (-n.x() * x - n.y() * y) / n.z(); }, 12, 9000));
    for (const Path& path :
         {pathOf({Line{{-3000, 100, 50}, {3000, 900, 800}}}),
          pathOf({Arc{{100, 200, 500}, Vec3::UnitX(), Vec3::UnitY(), 2000, 2 * kPi}}, true), spline(randomPoints(4, 9)),
          pathOf({Helix{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 800, 1500, 9, 700}})}) {
        const auto laid = laidOn(path, ground, {});
        const Path out = laidPath(laid);
        QCOMPARE(laid->closed, path.closed());
        QCOMPARE(laid->upright, 0);
        if (path.segments().size() == 1 && !std::holds_alternative<Helix>(path.segments()[0]))
            QVERIFY2(laid->segments.size() <= 4, qPrintable(QString::number(laid->segments.size())));
        for (double s : evenly(path.length(), 300)) {
            const Vec3 p = path.at(s).point, down(p.x(), p.y(), (-n.x() * p.x() - n.y() * p.y()) / n.z());
            NEAR((out.at(out.closest(down)).point - down).norm(), 0, 2e-6);
        }
    }
}

void TestGround::laidOnGroundEveryPointIsOnIt_data() {
    QTest::addColumn<int>("kind");
    for (int k = 0; k < 4; ++k) QTest::newRow(qPrintable(QString::number(k))) << k;
}

void TestGround::laidOnGroundEveryPointIsOnIt() {
    QFETCH(int, kind);
    const Mesh mesh = sheet(bumpy, 60, 6000, 11);
    const Ground ground = groundOf(mesh);
    const Path path = kind == 0   ? pathOf({Line{{-5500, -5000, 2000}, {5500, 4321, 0}}})
                      : kind == 1 ? pathOf({Arc{{0, 0, 300}, Vec3::UnitX(), Vec3::UnitY(), 4000, 2 * kPi}}, true)
                      : kind == 2 ? spline({{-5000, -4000, 0}, {-2000, 3000, 900}, {1000, -3500, 0}, {5000, 4000, 100}})
                                  : pathOf({Line{{-4000, 0, 0}, {0, 0, 0}}, Line{{0, 0, 0}, {0, 4000, 0}}});
    const auto laid = laidOn(path, ground, {});
    const Path out = laidPath(laid);
    QVERIFY(laid->bridged.empty() && laid->lostAtEnd == 0);
    for (double s : evenly(out.length(), 2000)) { // every point of it is on the ground
        const Vec3 p = out.at(s).point;
        NEAR(p.z(), heightBySearch(mesh, p.x(), p.y()).value_or(1e9), 1e-5);
    }
    double worst = 0; // and the whole path was dropped, in plan it is the same
    const auto flat = [](const Path& x) {
        std::vector<Segment> all;
        for (const auto& v : x.polyline(1e-3)) all.push_back(Line{{v.x(), v.y(), 0}, {v.x(), v.y(), 0}});
        for (size_t i = 0; i + 1 < all.size(); ++i) std::get<Line>(all[i]).b = std::get<Line>(all[i + 1]).a;
        all.pop_back();
        return pathOf(all);
    };
    const Path shadow = flat(out);
    for (double s : evenly(path.length(), 200)) {
        const Vec3 p = path.at(s).point, level(p.x(), p.y(), 0);
        worst = std::max(worst, (shadow.at(shadow.closest(level)).point - level).norm());
    }
    NEAR(worst, 0, 0.01);
}

void TestGround::piecesEndAtEdgesAndNowhereElse() {
    // A straight line over a regular grid: as many pieces as triangles under it, counted by hand.
    LevelData levels;
    std::mt19937 random(3);
    std::uniform_real_distribution<double> height(0, 9);
    for (int i = 0; i <= 10; ++i)
        for (int k = 0; k <= 10; ++k) levels.points.push_back({i * 10.0, k * 10.0, height(random)});
    for (std::uint32_t i = 0; i < 10; ++i)
        for (std::uint32_t k = 0; k < 10; ++k) {
            const std::uint32_t a = i * 11 + k, b = a + 11;
            levels.faces.push_back({a, b, b + 1});
            levels.faces.push_back({a, b + 1, a + 1});
        }
    const auto t = terrainOf(levels);
    QVERIFY(bool(t));
    // Along y = 5: every square is crossed by one diagonal.
    const auto laid = laidOn(pathOf({Line{{0, 5, 9}, {100, 5, 9}}}), groundOf(t->mesh), {});
    QVERIFY(bool(laid));
    QCOMPARE(laid->segments.size(), size_t(20));
    for (const auto& s : laid->segments) NEAR(std::remainder(endOf(s).x(), 5), 0, 1e-9);
    // Along an edge and through corners: nothing slips between two triangles.
    for (const auto& [a, b] : {std::pair(Vec3(0, 50, 9), Vec3(100, 50, 9)), {Vec3(0, 0, 9), Vec3(100, 100, 9)}}) {
        const auto on = laidOn(pathOf({Line{a, b}}), groundOf(t->mesh), {});
        QVERIFY(on && on->bridged.empty() && on->upright == 0);
        QCOMPARE(on->segments.size(), size_t(10));
    }
}

void TestGround::onAConeLengthsAreThoseOfTheFormula() {
    // A circle about a cone's axis lies level; a straight line over its tip is two slopes.
    const double k = 0.4;
    LevelData levels;
    levels.points.push_back({0, 0, 4000 * k});
    const int n = 720;
    for (int i = 0; i < n; ++i)
        levels.points.push_back({4000 * std::cos(2 * kPi * i / n), 4000 * std::sin(2 * kPi * i / n), 0});
    const auto t = terrainOf(levels);
    QVERIFY(bool(t));
    const Ground ground = groundOf(t->mesh);
    const auto over = laidPath(laidOn(pathOf({Line{{-3000, 0, 0}, {3000, 0, 0}}}), ground, {}));
    NEAR(over.length(), 6000 * std::sqrt(1 + k * k), 1e-6);
    const auto round =
        laidPath(laidOn(pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 2000, 2 * kPi}}, true), ground, {}));
    NEAR(round.length(), 2 * kPi * 2000, 0.5);
    // A polygon's facets lie up to 1 - cos(pi / n) under the cone.
    for (double s : evenly(round.length(), 100)) NEAR(round.at(s).point.z(), 2000 * k, 2000 * k * 2e-5);
}

void TestGround::alongAnyDirectionAndOnTurnedBodies() {
    const Mesh mesh = sheet(bumpy, 40, 5000, 9);
    const Mat3 R = Eigen::AngleAxisd(0.7, Vec3::UnitZ()).toRotationMatrix();
    const Vec3 shift(300, -200, 1000);
    const Path path = pathOf({Line{{-1500, -900, 3000}, {1700, 1200, 3400}}});
    LayOrder order;
    order.along = Vec3(0.2, -0.1, -1) * 5;
    order.above = 25;
    const auto laid = laidOn(path, groundOf(mesh, R, shift), order);
    const Path out = laidPath(laid);
    const Vec3 d = order.along.normalized();
    for (double s : evenly(out.length(), 500)) {
        const Vec3 on = out.at(s).point + 25 * d, own = R.transpose() * (on - shift);
        NEAR(own.z(), heightBySearch(mesh, own.x(), own.y()).value_or(1e9), 1e-5);
        // It came from the path along the direction.
        const Vec3 a = std::get<Line>(path.segments()[0]).a,
                   u = (std::get<Line>(path.segments()[0]).b - a).normalized();
        NEAR((on - a).dot(u.cross(d).normalized()), 0, 1e-6);
    }
    // Moving body and path together moves the answer with them.
    const auto same = laidOn(pathOf({moved(path.segments()[0], R.transpose(), R.transpose() * -shift)}), groundOf(mesh),
                             {R.transpose() * order.along, false, 0, 25});
    NEAR(laidPath(same).length(), out.length(), 1e-6);
    QCOMPARE(same->segments.size(), laid->segments.size());
}

void TestGround::overHolesItIsBridgedAndSaid() {
    Mesh mesh = sheet([](double, double) { return 100.0; }, 20, 1000, 1, 0);
    std::erase_if(mesh.triangles, [&](const auto& t) { // a hole round the middle
        const Vec3 m = (mesh.points[t[0]] + mesh.points[t[1]] + mesh.points[t[2]]) / 3;
        return std::abs(m.x()) < 200 && std::abs(m.y()) < 200;
    });
    const Ground ground = groundOf(mesh);
    const auto laid = laidOn(pathOf({Line{{-1500, 3, 0}, {1800, 3, 0}}}), ground, {});
    QVERIFY(bool(laid));
    NEAR(laid->lostAtStart, 500, 1e-6);
    NEAR(laid->lostAtEnd, 800, 1e-6);
    QCOMPARE(laid->bridged.size(), size_t(1));
    NEAR(laid->bridged[0].first, 1300, 1e-6);
    NEAR(laid->bridged[0].second, 1700, 1e-6);
    NEAR(laidPath(laid).length(), 2000, 1e-6);
    // Smooth over a hole at the seam of a closed path: evenly from its one side to the other.
    Mesh tilted = sheet([](double, double y) { return 0.1 * y; }, 40, 1000, 1, 0);
    std::erase_if(tilted.triangles, [&](const auto& t) {
        const Vec3 m = (tilted.points[t[0]] + tilted.points[t[1]] + tilted.points[t[2]]) / 3;
        return std::abs(m.x() - 600) < 150 && std::abs(m.y()) < 150;
    });
    const Path ring = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 600, 2 * kPi}}, true);
    const auto round = laidOn(ring, groundOf(tilted), {-Vec3::UnitZ(), false, 0.5});
    const Path over = laidPath(round);
    QVERIFY(over.closed() && !round->bridged.empty());
    for (double s : evenly(over.length(), 200)) {
        const Vec3 at = over.at(s).point;
        QVERIFY2(std::abs(at.z() - 0.1 * at.y()) < 0.8, qPrintable(QString("%1: %2").arg(at.y()).arg(at.z())));
    }
    const auto missed = laidOn(pathOf({Line{{-1500, 3000, 0}, {1800, 3000, 0}}}), ground, {});
    QVERIFY(!missed && missed.problem().field == "body");
    QCOMPARE(laidOn(pathOf({Line{{0, 0, 0}, {9, 0, 0}}}), ground, {Vec3::Zero()}).problem().field,
             std::string("along"));
    QCOMPARE(laidOn(pathOf({Line{{0, 0, 0}, {9, 0, 0}}}), ground, {-Vec3::UnitZ(), false, -1}).problem().field,
             std::string("smooth"));
}

void TestGround::upTerracesItClimbsUpright() {
    Mesh mesh;
    const auto quad = [&](const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
        const auto n = std::uint32_t(mesh.points.size());
        for (const Vec3& p : {a, b, c, d}) mesh.points.push_back(p);
        mesh.triangles.push_back({n, n + 1, n + 2});
        mesh.triangles.push_back({n, n + 2, n + 3});
    };
    for (int k = 0; k < 3; ++k) { // three steps of 200, a metre each
        quad({k * 1000.0, -500, k * 200.0}, {k * 1000.0 + 1000, -500, k * 200.0}, {k * 1000.0 + 1000, 500, k * 200.0},
             {k * 1000.0, 500, k * 200.0});
        if (k > 0)
            quad({k * 1000.0, -500, k * 200.0 - 200}, {k * 1000.0, -500, k * 200.0}, {k * 1000.0, 500, k * 200.0},
                 {k * 1000.0, 500, k * 200.0 - 200});
    }
    const auto laid = laidOn(pathOf({Line{{100, 0, 0}, {2900, 0, 0}}}), groundOf(*cleaned(mesh)), {});
    QVERIFY(bool(laid));
    QCOMPARE(laid->upright, 2);
    NEAR(laidPath(laid).length(), 2800 + 400, 1e-6);
}

void TestGround::smoothKeepsWithinItsToleranceAndBendsEvenly() {
    const Mesh mesh = sheet(bumpy, 50, 6000, 21);
    const Ground ground = groundOf(mesh);
    for (const Path& path : {pathOf({Line{{-5500, -3000, 0}, {5500, 3500, 0}}}),
                             pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 4500, 2 * kPi}}, true)})
        for (double within : {50.0, 5.0}) {
            const auto laid = laidOn(path, ground, {-Vec3::UnitZ(), false, within});
            const Path out = laidPath(laid);
            QVERIFY(laid->off <= within && laid->off > 0);
            double worst = 0;
            for (double s : evenly(out.length(), 3000)) {
                const Vec3 p = out.at(s).point;
                worst = std::max(worst, std::abs(p.z() - heightBySearch(mesh, p.x(), p.y()).value_or(1e9)));
            }
            QVERIFY2(worst <= within * 1.05, qPrintable(QString::number(worst))); // checked between its own checks
            QVERIFY(worst <= laid->off * 1.05 + 1e-3);
            QVERIFY2(out.corners().empty(), qPrintable(QString::number(out.corners().size())));
            const auto exact = laidOn(path, ground, {});
            QVERIFY(within < 10 || laid->segments.size() < exact->segments.size());
        }
}

void TestGround::onlyItsPoints() {
    const Mesh mesh = sheet(bumpy, 30, 4000, 2);
    const Ground ground = groundOf(mesh);
    const Path path = pathOf({Line{{-3000, 0, 0}, {0, 500, 700}}, Line{{0, 500, 700}, {3000, -800, 0}}});
    const auto laid = laidOn(path, ground, {-Vec3::UnitZ(), true, 0, 12});
    QVERIFY(laid && laid->segments.size() == 2);
    for (const Vec3& p : {Vec3(-3000, 0, 0), Vec3(0, 500, 0), Vec3(3000, -800, 0)}) {
        const Vec3 on(p.x(), p.y(), *heightBySearch(mesh, p.x(), p.y()) + 12);
        const Path out = laidPath(laid);
        NEAR((out.at(out.closest(on)).point - on).norm(), 0, 1e-7);
    }
    const auto beyond = laidOn(pathOf({Line{{0, 0, 0}, {9000, 0, 0}}}), ground, {-Vec3::UnitZ(), true});
    QVERIFY(!beyond && beyond.problem().text.find("Point 2") != std::string::npos);
}

/// Levels over one another: the first counts, and how far they are apart is said, however little.
void TestGround::doubledLevelsAreTold() {
    LevelData levels;
    levels.points = {{0, 0, 10}, {1000, 0, 20}, {0, 1000, 30}, {1000, 1000, 40}};
    const auto told = [&](const std::vector<Vec3>& more) {
        LevelData all = levels;
        all.points.insert(all.points.end(), more.begin(), more.end());
        const auto t = terrainOf(all);
        if (!t || t->remarks.size() != 1) qFatal("no remark");
        const auto height = groundOf(t->mesh).heightAt({1000, 0, 0});
        if (!height || std::abs(*height - 20) > 1e-9) qFatal("not the first");
        return std::string(t->remarks[0]);
    };
    QCOMPARE(told({{1000, 0, 20}}), std::string("1 level is there twice."));
    const std::string little = told({{1000, 0, 20.4}}), more = told({{1000, 0, 20.4}, {0, 0, 7}});
    QVERIFY2(little.find("1 level stands over another one, up to 0.4 mm apart") == 0, little.c_str());
    QVERIFY2(more.find("2 levels stand over another one, up to 3 mm apart") == 0, more.c_str());
}

VICINAL_SUITE(TestGround)

} // namespace test_ground
#include "test_ground.moc"
