// What points catch on, and the pen a path is drawn with: without a window.
#include "geometry/curves/snap.h"
#include "model/edits/pen.h"
#include "suite.h"
#include "support.h"

namespace test_pen {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Path shape(const char* kind) { return build(*recipeOf(kind))->path; }

SnapQuery at(const Vec3& pointer, double reach = 20) {
    SnapQuery q;
    q.pointer = pointer;
    q.normal = Vec3::UnitZ();
    q.reach = reach;
    q.away = [pointer](const Vec3& p) { return (p - pointer).norm(); };
    return q;
}

} // namespace

class TestPen : public QObject {
    Q_OBJECT
private slots:
    void endsMiddlesAndCentres();
    void perpendicularAndTangentFromAPoint();
    void strongerCatchesWinAndCanBeSwitchedOff();
    void gridAndAxesWhenNothingElseIsNear();
    void arcsGoOnWhereThePathEnds();
    void arcsThroughAndByRadius();
    void handlesAndStrokes();
    void takingBackLeadsToNothing();
    void closingUsesThePresentMode();
};

void TestPen::endsMiddlesAndCentres() {
    const Path line = pathOf({Line{{0, 0, 0}, {1000, 0, 0}}});
    const Path slot = shape("slot"); // 1000 x 300: half circles round (+-350, 0)
    const std::vector<Path> paths{line};
    auto s = snapTo(at({994, 5, 0}), paths, {});
    QVERIFY(s && s->kind == SnapKind::End);
    QCOMPARE(s->at, Vec3(1000, 0, 0));
    s = snapTo(at({503, 4, 0}), paths, {});
    QVERIFY(s && s->kind == SnapKind::Middle);
    NEAR((s->at - Vec3(500, 0, 0)).norm(), 0, 1e-9);
    const std::vector<Path> round{slot};
    s = snapTo(at({345, 6, 0}), round, {});
    QVERIFY(s && s->kind == SnapKind::Centre);
    NEAR((s->at - Vec3(350, 0, 0)).norm(), 0, 1e-9);
    s = snapTo(at({498, 3, 0}), round, {}); // the middle of its right half circle
    QVERIFY(s && s->kind == SnapKind::Middle);
    NEAR((s->at - Vec3(500, 0, 0)).norm(), 0, 1e-9);
    const std::vector<Vec3> points{{77, 88, 9}};
    s = snapTo(at({80, 90, 9}), {}, points); // in space too
    QVERIFY(s && s->kind == SnapKind::Point && s->at == points[0]);
    QVERIFY(!snapTo(at({200, 200, 0}), paths, {}));
    // Of several of a kind the nearest, in whatever order they come.
    for (const std::vector<Vec3>& all : {std::vector<Vec3>{{83, 90, 0}, {75, 90, 0}, {84, 91, 0}},
                                         std::vector<Vec3>{{75, 90, 0}, {84, 91, 0}, {83, 90, 0}}}) {
        s = snapTo(at({80, 90, 0}), {}, all);
        QVERIFY(s && s->at == Vec3(83, 90, 0));
    }
    // What is out of reach is not looked at; every kind of path lies within the box that says so.
    for (const char* kind : {"circle", "ellipse", "slot", "helix", "arc", "swag", "wheels"}) {
        const Path p = shape(kind);
        for (const auto& x : evenPoints(p, 300)) QVERIFY(p.hull().exteriorDistance(x) < 1e-9);
        QVERIFY(p.hull().diagonal().norm() < 4 * p.bounds().diagonal().norm());
        const std::vector<Path> one{p};
        SnapQuery near = at(p.at(0).point + Vec3(1, 2, 0));
        near.worldReach = 30;
        QVERIFY(bool(snapTo(near, one, {})));
    }
}

void TestPen::perpendicularAndTangentFromAPoint() {
    const std::vector<Path> circle{shape("circle")}; // radius 500
    SnapQuery q = at({0, 0, 0});
    q.from = Vec3(1300, 0, 0);
    // From outside a circle the tangent meets it at an angle with cosine r / d.
    const double a = std::acos(500. / 1300);
    const Vec3 foot(500 * std::cos(a), 500 * std::sin(a), 0);
    q.pointer = foot + Vec3(6, -7, 0);
    q.away = [p = q.pointer](const Vec3& v) { return (v - p).norm(); };
    auto s = snapTo(q, circle, {});
    QVERIFY2(s && s->kind == SnapKind::Tangent, s ? nameOf(s->kind) : "nothing");
    NEAR((s->at - foot).norm(), 0, 1e-6);
    NEAR((s->at - *q.from).norm(), 1200, 1e-6); // Pythagoras
    q.from = Vec3(900, 1200, 0);                // perpendicular: towards the centre
    q.pointer = Vec3(300, 400, 0) + Vec3(-5, 8, 0);
    q.away = [p = q.pointer](const Vec3& v) { return (v - p).norm(); };
    s = snapTo(q, circle, {});
    QVERIFY2(s && s->kind == SnapKind::Perpendicular, s ? nameOf(s->kind) : "nothing");
    NEAR((s->at - Vec3(300, 400, 0)).norm(), 0, 1e-6);
}

void TestPen::strongerCatchesWinAndCanBeSwitchedOff() {
    const std::vector<Path> paths{pathOf({Line{{0, 0, 0}, {1000, 0, 0}}})};
    SnapQuery q = at({990, 1, 0});
    q.gridStep = 100;
    std::vector<SnapKind> order;
    for (int i = 0; i < 6; ++i) { // what caught is switched off, the next one takes over
        const auto s = snapTo(q, paths, {});
        if (!s) break;
        order.push_back(s->kind);
        q.off.insert(s->kind);
    }
    const std::vector<SnapKind> expected{SnapKind::End, SnapKind::OnPath, SnapKind::Grid};
    QVERIFY(order == expected);
    QVERIFY(!snapTo(q, paths, {})); // everything off
}

void TestPen::gridAndAxesWhenNothingElseIsNear() {
    SnapQuery q = at({1234, 567, 40});
    q.gridStep = 50;
    auto s = snapTo(q, {}, {});
    QVERIFY(s && s->kind == SnapKind::Grid);
    QCOMPARE(s->at, Vec3(1250, 550, 40)); // keeps the plane it is on
    q.from = Vec3(1240, 0, 40);
    s = snapTo(q, {}, {});
    QVERIFY(s && s->kind == SnapKind::Axis);
    QCOMPARE(s->at, Vec3(1240, 550, 40)); // along y from the last point, in whole steps
    q.normal = -Vec3::UnitY();            // upright: x and z are the axes
    q.from = Vec3(0, 567, 35);
    s = snapTo(q, {}, {});
    QVERIFY(s && s->kind == SnapKind::Axis);
    NEAR(s->at.z(), 35, 1e-12);
}

void TestPen::arcsGoOnWhereThePathEnds() {
    PathPen pen;
    pen.mode = PenMode::Straight;
    QVERIFY(!pen.add({0, 0, 0}));
    QVERIFY(!pen.endTangent()); // one point has no direction yet
    pen.add({500, 0, 0});
    pen.mode = PenMode::ArcTangent;
    for (const Vec3& p : {Vec3(800, 300, 0), Vec3(500, 700, 0), Vec3(900, 900, 100)}) {
        const Vec3 before = *pen.endTangent();
        const double length = build(pen.finished(false))->path.length();
        QVERIFY(!pen.add(p));
        const Path path = build(pen.finished(false))->path;
        NEAR((path.at(length + 1e-7).tangent - before).norm(), 0, 1e-5);
        NEAR((path.spans().back().point(1) - p).norm(), 0, 1e-9);
    }
    QVERIFY(build(pen.finished(false))->path.corners().empty());
}

void TestPen::arcsThroughAndByRadius() {
    PathPen pen;
    pen.mode = PenMode::ArcThrough;
    pen.add({0, 0, 0});
    pen.add({100, 100, 0});
    QVERIFY(pen.via && pen.count() == 1); // waits for the arc's end
    pen.add({200, 0, 0});
    NEAR(build(pen.finished(false))->path.length(), 100 * kPi, 1e-9);
    pen.mode = PenMode::ArcRadius;
    pen.radius = 60;
    const auto problem = pen.add({400, 0, 0}); // 200 apart needs at least 100
    QVERIFY(problem && problem->field == "radius" && pen.count() == 2);
    pen.radius = -100;
    QVERIFY(!pen.add({400, 0, 0}));
    NEAR(build(pen.finished(false))->path.length(), 200 * kPi, 1e-9);
    NEAR(build(pen.finished(false))->path.at(150 * kPi).point.y(), -100, 1e-6); // to the other side
}

void TestPen::handlesAndStrokes() {
    PathPen pen;
    pen.mode = PenMode::Handles;
    pen.add({0, 0, 0}, Vec3(100, 0, 0));
    pen.add({400, 300, 0}, Vec3(0, 200, 0));
    const Path path = build(pen.finished(false))->path;
    NEAR((path.at(0).tangent - Vec3::UnitX()).norm(), 0, 1e-9);
    NEAR((path.at(path.length()).tangent - Vec3::UnitY()).norm(), 0,
         1e-9);              // its handle in is the mirror of the one out
    pen.add({700, 600, 90}); // only clicked: a third of the way back
    NEAR((*pen.points.back().in - Vec3(-100, -100, -30)).norm(), 0, 1e-9);
    pen.takeBack();
    std::vector<Vec3> trace;
    for (int i = 0; i <= 400; ++i) trace.push_back({400 + i * 2.0, 300 + 80 * std::sin(i * 0.02), 0});
    pen.stroke(trace, 4);
    QVERIFY(pen.count() > 4 && pen.count() < 30);
    NEAR((pen.points.back().at - trace.back()).norm(), 0, 1e-12);
    const Path drawn = build(pen.finished(false))->path;
    for (size_t i = 20; i < trace.size(); i += 40)
        QVERIFY((drawn.at(drawn.closest(trace[i])).point - trace[i]).norm() < 8);
}

void TestPen::takingBackLeadsToNothing() {
    PathPen pen;
    const PenMode modes[] = {PenMode::Smooth, PenMode::Straight, PenMode::ArcTangent, PenMode::ArcThrough,
                             PenMode::Handles};
    std::mt19937 random(6);
    std::uniform_real_distribution<double> step(-500, 500);
    int clicks = 0;
    for (int i = 0; i < 25; ++i) {
        pen.mode = modes[i % 5];
        pen.via.reset();
        if (!pen.add({step(random), step(random), step(random)})) ++clicks;
        const auto preview = pen.preview(Vec3(step(random), step(random), 0)); // never in the way
        QVERIFY(preview.points.size() >= pen.count());
    }
    QVERIFY(clicks == 25);
    while (pen.takeBack()) {
        if (pen.count() >= 2) QVERIFY(bool(build(pen.finished(false))));
    }
    QCOMPARE(pen.count(), size_t(0));
    QVERIFY(!pen.takeBack());
    QVERIFY(pen.add({NAN, 0, 0}) && pen.count() == 0);
    pen.mode = PenMode::Straight;
    pen.add({1, 2, 3});
    pen.add({1, 2, 3}); // a double click is one
    QCOMPARE(pen.count(), size_t(1));
}

void TestPen::closingUsesThePresentMode() {
    PathPen pen;
    pen.mode = PenMode::Straight;
    for (const Vec3& p : {Vec3(0, 0, 0), Vec3(300, 0, 0), Vec3(300, 200, 0)}) pen.add(p);
    NEAR(build(pen.finished(true))->path.length(), 500 + std::hypot(300, 200), 1e-9);
    pen.mode = PenMode::ArcTangent; // back to the start by an arc that goes on upwards
    const Path round = build(pen.finished(true))->path;
    QVERIFY(round.closed());
    NEAR((round.at(500 + 1e-7).tangent - Vec3::UnitY()).norm(), 0, 1e-5);
    // Handles: the last leg gets its third at the end where none was drawn, and comes in as the first one goes out.
    PathPen free;
    free.mode = PenMode::Handles;
    free.add({0, 0, 0}, Vec3(90, 30, 0));
    free.add({300, 0, 0}, Vec3(0, 60, 0));
    free.add({300, 300, 0});
    const PointsRecipe closed = free.finished(true);
    QCOMPARE(*closed.points[0].in, Vec3(-90, -30, 0));
    NEAR((*closed.points[2].out - Vec3(-100, -100, 0)).norm(), 0, 1e-9);
    QCOMPARE(*closed.points[1].out, Vec3(0, 60, 0));
    QVERIFY(!free.finished(false).points[2].out && !free.finished(false).points[0].in);
    QVERIFY(build(closed)->path.closed());
    // An arc by a radius that does not reach: the closing leg is straight.
    free.mode = PenMode::ArcRadius;
    free.radius = 10;
    QVERIFY(!free.finished(true).points[2].via);
    free.radius = 400;
    QVERIFY(free.finished(true).points[2].via.has_value());
}

VICINAL_SUITE(TestPen)

} // namespace test_pen
#include "test_pen.moc"
