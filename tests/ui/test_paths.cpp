// Stories about paths in the real window: drawing with what it catches on, shapes, wheels, derived paths, soft drag.
#include "app/controls/controls.h"
#include "app/view/toolbox.h"
#include "geometry/curves/edit.h"
#include "model/document/path_item.h"
#include "suite.h"
#include "ui/window_fixture.h"
#include <QComboBox>
#include <QLabel>
#include <QMenu>
#include <QTableWidget>

namespace test_paths {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const QString kQuay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";

void act(Driver& d, const QString& name) {
    auto* a = d.window->findChild<QAction*>("action." + name);
    if (!a) qFatal("no action %s", qPrintable(name));
    a->trigger();
    d.settle();
}

const PathResult& current(Driver& d) {
    const auto p = d.store().currentPath();
    if (!p) qFatal("no path in hand");
    return *p;
}

const PointsRecipe& points(Driver& d) { return std::get<PointsRecipe>(current(d).item->recipe); }

Id named(Driver& d, const std::string& name) {
    for (const auto& p : d.store().document().paths)
        if (p->name == name) return p->id;
    qFatal("no path %s", name.c_str());
}

} // namespace

class TestPaths : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { theme::apply(*qApp); }
    void drawingMixesLegsInOnePath();
    void drawingCatchesOnWhatIsThere();
    void lengthAndAngleAreTyped();
    void freehandKeepsFewPoints();
    void drawingOnAnUprightPlaneAndAFace();
    void shapesAreMadeAndTheirNumbersStay();
    void wheelsAreDraggedTypedAndOrdered();
    void derivedPathsFollowInTheWindow();
    void joinedPathsSayWhatTheyDid();
    void softDragMovesNeighbours();
    void severalPointsAtOnce();
    void legsFilletsAndHandlesOfAPoint();
    void pathsAreBrokenAndInUseWhenDeleted();
    void wholePathsMoveByNumbers();
    void edgesArePickedOnAPart();
    void endsAreWeldedAndBranchesAsked();
    void combAndTightnessAreShown();
};

void TestPaths::drawingMixesLegsInOnePath() {
    Driver d({1280, 800});
    d.view().setLook(Viewport::Look::Plan);
    d.click("tool.drawPath");
    QVERIFY(d.find("drawBar")->isVisible());
    d.click("draw.mode.1"); // straight
    d.clickAt(&d.view(), d.ground(-800, -400));
    d.clickAt(&d.view(), d.ground(0, -400));
    d.click("draw.mode.2"); // an arc that goes on
    d.clickAt(&d.view(), d.ground(300, -100));
    d.click("draw.mode.3"); // an arc through a point
    d.clickAt(&d.view(), d.ground(150, 150));
    d.clickAt(&d.view(), d.ground(0, 100));
    d.click("draw.mode.0"); // smooth again
    d.clickAt(&d.view(), d.ground(-400, 300));
    QTest::keyClick(&d.view(), Qt::Key_Return);
    QVERIFY(!d.view().tools().drawing());
    const auto& r = points(d);
    QCOMPARE(r.points.size(), size_t(5));
    QVERIFY(!r.points[0].via && r.points[1].via && r.points[2].via && !r.points[3].via);
    const auto& segments = current(d).path->segments();
    QVERIFY(std::holds_alternative<Line>(segments[0]) && std::holds_alternative<Arc>(segments[1]) &&
            std::holds_alternative<Arc>(segments[2]));
    // The first arc is tangent to the straight leg: no corner there.
    for (const auto& c : current(d).path->corners()) QVERIFY(std::abs(c.station - 800) > 1);
    d.store().undo();
    QVERIFY(d.store().document().paths.empty()); // drawing is one step
}

void TestPaths::drawingCatchesOnWhatIsThere() {
    Driver d({1280, 800});
    PathItem line;
    line.recipe = PointsRecipe{{{{-1000, 0, 0}, false}, {{1000, 0, 0}, false}}, false, Knotting::Centripetal};
    d.store().edit(with(d.store().document(), line), "line");
    d.view().setLook(Viewport::Look::Plan);
    act(d, "drawPath");
    d.click("draw.mode.1");
    const auto hover = [&](double x, double y, double px, double py) {
        for (int tries = 0; tries < 10; ++tries) {                      // a busy display loses a move now and then
            for (const QPointF& way : {QPointF(40, 40), QPointF(0, 0)}) // two moves, as a hand does
                QTest::mouseMove(&d.view(), (d.ground(x, y) + QPointF(px, py) + way).toPoint());
            d.settle();
            // What was caught before counts no more: the move may be on its way still.
            const auto here = [&] {
                const auto& c = d.view().tools().draw().caught();
                return c && (d.ground(c->at.x(), c->at.y()) - d.ground(x, y)).manhattanLength() < 25;
            };
            if (QTest::qWaitFor(here, 400)) break;
        }
        return d.view().tools().draw().caught();
    };
    const auto end = hover(1000, 0, 5, -4);
    QVERIFY2(end && end->kind == SnapKind::End, end ? nameOf(end->kind) : "nothing");
    NEAR((d.view().tools().draw().caught()->at - Vec3(1000, 0, 0)).norm(), 0, 1e-9);
    QVERIFY(hover(0, 0, 4, 4) && d.view().tools().draw().caught()->kind == SnapKind::Middle);
    QVERIFY(hover(500, 0, 0, 5) && d.view().tools().draw().caught()->kind == SnapKind::OnPath);
    d.clickAt(&d.view(), d.ground(330, 400)); // a grid point; then square down onto the line
    const Vec3 from = d.view().tools().draw().pen().points[0].at;
    QVERIFY(hover(from.x(), 0, 6, 5) && d.view().tools().draw().caught()->kind == SnapKind::Perpendicular);
    NEAR((d.view().tools().draw().caught()->at - Vec3(from.x(), 0, 0)).norm(), 0, 1e-6);
    const auto up = hover(from.x(), from.y() - 150, 3, 0);
    QVERIFY2(up && up->kind == SnapKind::Axis, up ? nameOf(up->kind) : "nothing");
    NEAR(d.view().tools().draw().caught()->at.x(), from.x(), 1e-9);
    // Switched off it lets go.
    d.window->findChild<QAction*>(QString("snap.%1").arg(int(SnapKind::Perpendicular)))->trigger();
    hover(from.x(), 0, 6, 5);
    QVERIFY(d.view().tools().draw().caught()->kind != SnapKind::Perpendicular);
    d.window->findChild<QAction*>(QString("snap.%1").arg(int(SnapKind::Perpendicular)))->trigger();
    QTest::keyClick(&d.view(), Qt::Key_Escape);
}

void TestPaths::lengthAndAngleAreTyped() {
    Driver d({1280, 800});
    d.view().setLook(Viewport::Look::Plan);
    act(d, "drawPath");
    d.click("draw.mode.1");
    const auto type = [&](const QString& text) {
        QTest::keyClicks(&d.view(), text);
        QTest::keyClick(&d.view(), Qt::Key_Return);
    };
    type("100,200");
    type("1.5 m at 30");
    QTest::mouseMove(&d.view(), d.ground(-500, 950).toPoint());
    const Vec3 before = d.view().tools().draw().pen().points[1].at;
    NEAR((before - Vec3(100 + 1500 * std::cos(kPi / 6), 200 + 750, 0)).norm(), 0, 1e-6);
    type("800"); // towards the pointer
    QCOMPARE(d.view().tools().draw().pen().points.size(), size_t(3));
    NEAR((d.view().tools().draw().pen().points[2].at - before).norm(), 800, 1e-6);
    QVERIFY(d.view().tools().draw().pen().points[2].at.x() < before.x() - 700);
    type("nonsense at 4");
    QCOMPARE(d.view().tools().draw().pen().points.size(), size_t(3)); // nothing is lost
    QVERIFY(d.window->message().size() > 5);
    QTest::keyClick(&d.view(), Qt::Key_Escape); // the typed text
    d.click("draw.close");
    QVERIFY(points(d).closed);
}

void TestPaths::freehandKeepsFewPoints() {
    Driver d({1280, 800});
    d.view().setLook(Viewport::Look::Plan);
    act(d, "drawPath");
    d.click("draw.mode.6");
    const QPointF from = d.ground(-800, 0);
    d.press(&d.view(), from);
    for (int i = 1; i <= 120; ++i)
        QTest::mouseMove(&d.view(), (from + QPointF(3.0 * i, 40 * std::sin(i * 0.06))).toPoint());
    d.release(&d.view(), from + QPointF(360, 40 * std::sin(7.2)));
    d.click("draw.done");
    const auto& r = points(d);
    QVERIFY2(r.points.size() > 3 && r.points.size() < 30, qPrintable(QString::number(r.points.size())));
    QVERIFY(current(d).path->length() > 1000);
}

void TestPaths::drawingOnAnUprightPlaneAndAFace() {
    Driver d({1280, 800});
    d.view().setLook(Viewport::Look::Front);
    act(d, "drawPath");
    d.type("draw.level", "250");
    d.click("draw.mode.1");
    const auto centre = d.view().rect().center();
    d.clickAt(&d.view(), centre + QPoint(-80, 30));
    d.clickAt(&d.view(), centre + QPoint(90, 90));
    QTest::keyClick(&d.view(), Qt::Key_Return);
    for (const auto& p : points(d).points) NEAR(p.at.y(), 250, 1e-6);
    QVERIFY(std::abs(points(d).points[0].at.z() - points(d).points[1].at.z()) > 1);
    // On the face of a part: the top of a plank is 28 up.
    Driver q({1280, 800});
    QVERIFY(q.open(kQuay));
    q.store().selectItem(Selection::Kind::Run, 6);
    q.view().setLook(Viewport::Look::Plan);
    q.settle(); // the strip has its lanes
    q.view().frameSelection();
    act(q, "drawPath");
    q.click("draw.plane.3");
    QVERIFY(q.view().tools().picksFace());
    const auto& places = *q.store().evaluation().run(6)->placed;
    const Vec3 on = (places.pose(20) * Vec4(0, 300, 28, 1)).head<3>();
    const auto pixel = *q.view().camera().project(on);
    q.clickAt(&q.view(), QPointF(pixel.x(), pixel.y()));
    QVERIFY(!q.view().tools().picksFace());
    q.clickAt(&q.view(), QPointF(pixel.x(), pixel.y()));
    q.clickAt(&q.view(), QPointF(pixel.x() + 90, pixel.y() + 40));
    for (const auto& p : q.view().tools().draw().pen().points) NEAR(p.at.z(), 28, 1e-6);
    q.view().tools().draw().cancel();
}

void TestPaths::shapesAreMadeAndTheirNumbersStay() {
    Driver d({1280, 800});
    for (const char* kind :
         {"circle", "ellipse", "rectangle", "slot", "polygon", "arc", "straight", "helix", "swag", "wheels"}) {
        act(d, QString("shape.") + kind);
        QVERIFY2(!current(d).problem, current(d).problem ? current(d).problem->text.c_str() : "");
        QCOMPARE(kindOf(current(d).item->recipe), std::string(kind));
        QVERIFY(current(d).path->length() > 1);
    }
    d.store().selectItem(Selection::Kind::Path, named(d, "Circle"));
    d.type("sheet.path.recipe.radius", "1.2 m");
    NEAR(current(d).path->length(), 2 * kPi * 1200, 1e-6);
    d.type("sheet.path.recipe.at.z", "300");
    NEAR(current(d).path->at(0).point.z(), 300, 1e-9);
    d.click("sheet.path.recipe.plane.1");
    NEAR(current(d).path->at(2 * kPi * 300).point.z(), 1500, 1e-6);
    d.type("sheet.path.recipe.radius", "-5");
    QVERIFY2(d.errorAt("sheet.path.recipe.radius").contains("0.001 mm"),
             qPrintable(d.errorAt("sheet.path.recipe.radius")));
    NEAR(current(d).path->length(), 2 * kPi * 1200, 1e-6); // the last good one stays
    d.store().undo();
    d.store().selectItem(Selection::Kind::Path, named(d, "Helix or spiral"));
    d.type("sheet.path.recipe.turns", "2.5");
    QCOMPARE(std::get<HelixShape>(std::get<ShapeRecipe>(current(d).item->recipe).shape).turns, 2.5);
    d.store().selectItem(Selection::Kind::Path, named(d, "Swag"));
    d.view().setLook(Viewport::Look::Front);
    d.view().frameSelection();
    const Vec3 to = std::get<SwagShape>(std::get<ShapeRecipe>(current(d).item->recipe).shape).to;
    const QPointF end = *d.view().tools().edit().handleAt("value 2"); // an end is dragged
    d.drag(&d.view(), end, end + QPointF(-30, -40));
    const Vec3 now = std::get<SwagShape>(std::get<ShapeRecipe>(current(d).item->recipe).shape).to;
    QVERIFY(now.z() > to.z() && now.x() < to.x());
    NEAR((current(d).path->at(current(d).path->length()).point - now).norm(), 0, 1e-6);
}

void TestPaths::wheelsAreDraggedTypedAndOrdered() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 9);
    d.view().setLook(Viewport::Look::Front);
    d.view().frameSelection();
    idle();
    const auto wheels = [&]() -> const std::vector<Wheel>& {
        return std::get<WheelShape>(std::get<ShapeRecipe>(current(d).item->recipe).shape).wheels;
    };
    const double before = current(d).path->length();
    const QPointF idler = *d.view().tools().edit().handleAt("wheel 3");
    d.drag(&d.view(), idler, idler + QPointF(0, -40));
    QVERIFY(current(d).path->length() > before + 5); // the loop follows
    NEAR(current(d).loop->length, current(d).path->length(), 1e-6);
    NEAR(current(d).path->at(0).point.y(), -3300, 1e-9); // and stays in its plane
    QCOMPARE(d.store().selection().point, 2);
    d.store().undo();
    NEAR(current(d).path->length(), before, 1e-9);
    auto* table = d.find<QTableWidget>("sheet.path.recipe.wheels");
    table->item(1, 3)->setText("21 t");
    QCOMPARE(wheels()[1].teeth, 21L);
    table->item(1, 3)->setText("55 mm");
    QVERIFY(wheels()[1].teeth == 0 && wheels()[1].radius == 55);
    table->item(1, 3)->setText("much");
    QVERIFY(wheels()[1].radius == 55);
    QVERIFY(d.find<QLabel>("error.sheet.path.recipe.wheels")->isVisible());
    // A wheel pushed into another: named, and the last good loop stays.
    table->item(2, 1)->setText("20");
    table->item(2, 2)->setText("20");
    QVERIFY(current(d).problem && current(d).problem->text.find("Idler") != std::string::npos);
    QVERIFY(current(d).path);
    d.store().undo();
    d.store().undo();
    QVERIFY(!current(d).problem);
    d.click("sheet.path.recipe.addWheel");
    QCOMPARE(wheels().size(), size_t(4));
    QVERIFY2(!current(d).problem, current(d).problem ? current(d).problem->text.c_str() : "");
    d.store().change<PathItem>(9, "mix", {}, [](PathItem& p) {
        auto& w = std::get<WheelShape>(std::get<ShapeRecipe>(p.recipe).shape).wheels;
        std::swap(w[1], w[2]);
    });
    d.click("sheet.path.recipe.orderWheels");
    QVERIFY2(!current(d).problem, current(d).problem ? current(d).problem->text.c_str() : "");
    d.store().select({Selection::Kind::Path, 9, {}, 1, {}});
    d.click("sheet.path.recipe.removeWheel");
    QCOMPARE(wheels().size(), size_t(3));
}

void TestPaths::derivedPathsFollowInTheWindow() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    const double lamps = d.store().evaluation().run(15)->placed->path.length();
    d.store().selectItem(Selection::Kind::Path, 8); // the lamp line, offset from the quay's edge
    d.type("sheet.path.recipe.distance", "500");
    QVERIFY(d.store().evaluation().run(15)->placed->path.length() < lamps - 1);
    d.type("sheet.path.recipe.distance", "9 m"); // nothing of it would be left
    QVERIFY2(current(d).problem ? current(d).problem->field == "distance" : !current(d).remarks.empty(),
             "an offset beyond the bends says so");
    d.store().undo();
    for (const char* kind : {"stretch", "backwards", "mirrored", "projected", "resampled", "smoothed"}) {
        d.store().selectItem(Selection::Kind::Path, 1);
        act(d, QString("derive.") + kind);
        QVERIFY2(!current(d).problem, current(d).problem ? current(d).problem->text.c_str() : "");
        QCOMPARE(kindOf(current(d).item->recipe), std::string(kind));
    }
    // The source list never offers what follows this path.
    d.store().selectItem(Selection::Kind::Path, named(d, "Ramp edge, stretch"));
    act(d, "derive.backwards");
    d.store().selectItem(Selection::Kind::Path, named(d, "Ramp edge, stretch"));
    auto* sources = d.find<QComboBox>("sheet.path.recipe.source");
    QVERIFY(sources->findText("Ramp edge") >= 0);
    QCOMPARE(sources->findText("Ramp edge, stretch"), -1);
    QCOMPARE(sources->findText("Ramp edge, stretch, backwards"), -1);
    // Points dragged: everything follows, as one step.
    const double before = current(d).path->length();
    d.store().selectItem(Selection::Kind::Path, 1);
    d.view().setLook(Viewport::Look::Plan);
    d.settle();
    d.view().frameSelection();
    const QPointF at = *d.view().tools().edit().handleAt("point 2");
    const size_t steps = d.store().history().size();
    d.drag(&d.view(), at, at + QPointF(0, -60));
    QCOMPARE(d.store().history().size(), steps + 1);
    d.store().selectItem(Selection::Kind::Path, named(d, "Ramp edge, stretch"));
    const auto& c = std::get<StretchOf>(std::get<DerivedRecipe>(current(d).item->recipe).change);
    NEAR(current(d).path->length(), c.to - c.from, 1e-6);
    NEAR(before, c.to - c.from, 1e-6);
    d.store().selectItem(Selection::Kind::Path, 2);
    act(d, "derive.startmoved");
    QVERIFY(d.window->message().contains("open")); // refused with a remedy
    act(d, "derive.offset");
    QVERIFY(!current(d).problem);
}

void TestPaths::joinedPathsSayWhatTheyDid() {
    Driver d({1280, 800});
    const auto leg = [&](Vec3 a, Vec3 b) {
        PathItem p;
        p.recipe = PointsRecipe{{{a, false}, {b, false}}, false, Knotting::Centripetal};
        d.store().edit(with(d.store().document(), p), "leg");
        return d.store().document().paths.back()->id;
    };
    const Id a = leg({0, 0, 0}, {1000, 0, 0});
    const Id b = leg({1000, 500, 0}, {1000, 0.4, 0}); // runs the other way, 0.4 short
    d.store().selectItem(Selection::Kind::Path, a);
    act(d, "derive.joined");
    auto* add = d.find<QComboBox>("sheet.path.recipe.add");
    emit add->activated(add->findData(b));
    d.settle();
    QVERIFY2(!current(d).problem, current(d).problem ? current(d).problem->text.c_str() : "");
    NEAR(current(d).path->length(), 1500, 1e-6);
    const QString remarks = d.find<QLabel>("sheet.path.remarks")->text();
    QVERIFY2(remarks.contains("0.4 mm, bridged") && remarks.contains("backwards"), qPrintable(remarks));
    d.type("sheet.path.recipe.gap", "0.1");
    QVERIFY(d.errorAt("sheet.path.recipe.gap").contains("gap of 0.4 mm"));
}

void TestPaths::softDragMovesNeighbours() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    d.store().select({Selection::Kind::Path, 2, {}, 3, {}});
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    d.type("sheet.path.soft", "6 m");
    const auto before = points(d).points;
    const QPointF at = *d.view().tools().edit().handleAt("point 4");
    d.drag(&d.view(), at, at + QPointF(0, -50));
    const auto& after = points(d).points;
    const auto moved = [&](size_t i) { return (after[i].at - before[i].at).norm(); };
    QVERIFY(moved(3) > 100 && moved(2) > 1 && moved(4) > 1);
    QVERIFY(moved(2) < moved(3) && moved(4) < moved(3));
    NEAR(moved(0), 0, 1e-12);
    NEAR(moved(7), 0, 1e-12);
    d.store().undo();
    NEAR((points(d).points[2].at - before[2].at).norm(), 0, 1e-12); // one step
}

void TestPaths::severalPointsAtOnce() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 1);
    d.view().setLook(Viewport::Look::Plan);
    d.settle();
    d.view().frameSelection();
    const auto before = points(d).points;
    d.clickAt(&d.view(), *d.view().tools().edit().handleAt("point 2"));
    d.clickAt(&d.view(), *d.view().tools().edit().handleAt("point 3"), Qt::ControlModifier);
    QCOMPARE(d.store().selection().points, (std::set<int>{1, 2}));
    const QPointF at = *d.view().tools().edit().handleAt("point 3");
    d.drag(&d.view(), at, at + QPointF(20, -30));
    const auto& after = points(d).points;
    const Vec3 by = after[2].at - before[2].at;
    QVERIFY(by.norm() > 10);
    NEAR((after[1].at - before[1].at - by).norm(), 0, 1e-9);
    NEAR((after[3].at - before[3].at).norm(), 0, 1e-12);
    act(d, "delete"); // both, in one step
    QCOMPARE(points(d).points.size(), before.size() - 2);
    // Held to the nearest direction with Ctrl, pressed once the drag has begun: an axis, or the way the path runs.
    d.store().undo();
    QPointF p = *d.view().tools().edit().handleAt("point 4");
    const Vec3 start = points(d).points[3].at;
    const auto seen = [&](const Vec3& shift) {
        const auto pixel = *d.view().camera().project(start + shift);
        return QPointF(pixel.x(), pixel.y());
    };
    const auto ochre = [&] { // pixels of the line a drag is held to: nothing else in the picture is so warm
        const QImage shot = d.view().grab().toImage();
        int n = 0;
        for (int y = 0; y < shot.height(); ++y)
            for (int x = 0; x < shot.width(); ++x) n += shot.pixelColor(x, y).red() - shot.pixelColor(x, y).blue() > 50;
        return n;
    };
    const int plain = ochre();
    int guided = 0;
    const auto draggedBy = [&](const Vec3& shift, const QPointF& aside) {
        const size_t steps = d.store().history().index();
        d.press(&d.view(), p);
        QTest::mouseMove(&d.view(), (p + QPointF(6, 2)).toPoint());
        QTest::keyPress(&d.view(), Qt::Key_Control);
        const QPointF to = seen(shift) + aside;
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(&d.view(), (p + (to - p) * i / 6).toPoint());
        guided = ochre();
        d.release(&d.view(), to);
        QTest::keyRelease(&d.view(), Qt::Key_Control);
        const Vec3 moved = points(d).points[3].at - start;
        while (d.store().history().index() > steps) d.store().undo();
        return moved;
    };
    const auto keepsTo = [&](int axis) {
        Vec3 shift = Vec3::Zero();
        shift[axis] = 400;
        const Vec3 moved = draggedBy(shift, QPointF(3, 3));
        return guided > plain + 100 && moved[axis] > 200 && std::abs(moved.norm() - moved[axis]) < 1e-9;
    };
    QVERIFY(keepsTo(0));
    QVERIFY(keepsTo(1));
    const auto& path = *current(d).path;
    const Vec3 tangent = path.at(path.closest(start)).tangent;
    const Vec3 along = draggedBy(500 * tangent, QPointF(1, 1));
    QVERIFY(along.norm() > 200);
    NEAR(along.normalized().cross(tangent).norm(), 0, 1e-6);
    // Ctrl with the click is for several at once: the drag stays free.
    d.press(&d.view(), p, Qt::ControlModifier);
    for (int i = 1; i <= 6; ++i) QTest::mouseMove(&d.view(), (p + QPointF(8, 7) * i).toPoint());
    d.release(&d.view(), p + QPointF(48, 42));
    const Vec3 both = points(d).points[3].at - start;
    QVERIFY(std::abs(both.x()) > 1 && std::abs(both.y()) > 1);
    d.store().undo();
    d.store().select({Selection::Kind::Path, 1, {}, 3, {}});
    d.view().setLook(Viewport::Look::Free); // where up is to be seen
    d.view().frameSelection();
    p = *d.view().tools().edit().handleAt("point 4");
    QVERIFY(keepsTo(2));
}

void TestPaths::legsFilletsAndHandlesOfAPoint() {
    Driver d({1280, 800});
    PathItem p;
    p.recipe = PointsRecipe{
        {{{0, 0, 0}, false}, {{1000, 0, 0}, false}, {{1000, 800, 0}, false}}, false, Knotting::Centripetal};
    d.store().edit(with(d.store().document(), p), "corner");
    const Id id = d.store().document().paths[0]->id;
    d.store().select({Selection::Kind::Path, id, {}, 1, {}});
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameAll();
    d.type("sheet.path.fillet", "200");
    NEAR(current(d).path->length(), 1800 - 400 + kPi * 100, 1e-6);
    d.type("sheet.path.fillet", "900");
    QVERIFY2(d.errorAt("sheet.path.fillet").contains("largest that works is 800 mm"),
             qPrintable(d.errorAt("sheet.path.fillet")));
    d.type("sheet.path.fillet", "0");
    d.click("sheet.path.leg.1"); // an arc to the next point
    QVERIFY(points(d).points[1].via);
    const QPointF via = *d.view().tools().edit().handleAt("via 2");
    d.drag(&d.view(), via, via + QPointF(30, 0));
    const Vec3 on = *points(d).points[1].via;
    NEAR((current(d).path->at(current(d).path->closest(on)).point - on).norm(), 0, 1e-6);
    d.click("sheet.path.leg.2"); // handles
    QVERIFY(points(d).points[1].out && points(d).points[2].in && !points(d).points[1].via);
    const double before = current(d).path->length();
    const QPointF out = *d.view().tools().edit().handleAt("out 2");
    d.drag(&d.view(), out, out + QPointF(80, 30));
    QVERIFY(std::abs(current(d).path->length() - before) > 1);
    d.click("sheet.path.leg.0");
    NEAR(current(d).path->length(), 1800, 1e-6);
}

void TestPaths::pathsAreBrokenAndInUseWhenDeleted() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    const double whole = d.store().evaluation().paths.at(1)->path->length();
    d.store().select({Selection::Kind::Path, 1, {}, 3, {}});
    const auto count = d.store().document().paths.size();
    act(d, "breakPath");
    QCOMPARE(d.store().document().paths.size(), count + 1);
    const double a = d.store().evaluation().paths.at(1)->path->length(),
                 b = d.store().evaluation().paths.at(d.store().document().paths.back()->id)->path->length();
    NEAR(a + b, whole, 60); // the spline's ends are free now
    d.store().undo();
    // At a station between two points: one step, one point more, nothing lost.
    d.store().selectItem(Selection::Kind::Path, 1);
    const Vec3 there = d.store().evaluation().paths.at(1)->path->at(2000).point;
    emit d.view().breakWanted(2000);
    QCOMPARE(d.store().document().paths.size(), count + 1);
    NEAR((points(d).points.back().at - there).norm(), 0, 1e-9);
    NEAR((std::get<PointsRecipe>(d.store().document().paths.back()->recipe).points.front().at - there).norm(), 0, 1e-9);
    d.store().undo();
    QCOMPARE(d.store().document().paths.size(), count);
    emit d.window->yard().removeWanted({7}); // the quay's edge, which the lamp line follows
    QVERIFY2(d.window->message().contains("Lamp line"), qPrintable(d.window->message()));
    QVERIFY(d.store().evaluation().run(15)->stale());
    QVERIFY(d.store().evaluation().run(15)->placed);
    d.store().undo();
    QVERIFY(!d.store().evaluation().run(15)->stale());
}

void TestPaths::wholePathsMoveByNumbers() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 1);
    const double length = current(d).path->length();
    bool refused = false;
    d.whenDialog("movePath", [&](QDialog* dialog) {
        const auto type = [&](const char* name, const char* text) {
            auto* e = dialog->findChild<QLineEdit*>(QString("edit.") + name);
            e->setFocus();
            e->selectAll();
            QTest::keyClicks(e, text);
            QTest::keyClick(e, Qt::Key_Return);
        };
        type("move.by.z", "1 m");
        type("move.size", "0");
        refused = !dialog->findChild<QPushButton*>("move.ok")->isEnabled(); // says why instead
        type("move.size", "2");
        type("move.turn", "90");
        Driver::clickIn(dialog, "move.ok");
    });
    act(d, "movePath");
    QVERIFY(refused);
    NEAR(current(d).path->length(), 2 * length, 1e-6);
    d.store().undo();
    NEAR(current(d).path->length(), length, 1e-9);
    d.store().selectItem(Selection::Kind::Path, 8); // follows the quay's edge
    d.whenDialog("movePath", [&](QDialog* dialog) {
        refused = dialog->findChild<QLabel*>("move.error")->text().contains("follows another");
        dialog->reject();
    });
    refused = false;
    act(d, "movePath");
    QVERIFY(refused);
}

void TestPaths::edgesArePickedOnAPart() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Run, 6);
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    act(d, "shape.edges");
    QVERIFY(d.view().tools().picksEdge());
    const auto& places = *d.store().evaluation().run(6)->placed;
    const auto pixel = *d.view().camera().project((places.pose(30) * Vec4(60, 200, 28, 1)).head<3>());
    d.clickAt(&d.view(), QPointF(pixel.x(), pixel.y()));
    QCOMPARE(kindOf(current(d).item->recipe), std::string("edges"));
    QVERIFY2(!current(d).problem, current(d).problem ? current(d).problem->text.c_str() : "");
    NEAR(current(d).path->length(), 2 * (1400 + 145), 1e-6); // round the plank's top
    NEAR(current(d).path->at(0).point.z(), 28, 1e-6);
    d.click("sheet.path.recipe.loop");
    NEAR(current(d).path->length(), 1400, 1e-6); // its long edge alone
}

void TestPaths::endsAreWeldedAndBranchesAsked() {
    Driver d({1280, 800});
    const auto put = [&](std::vector<Vec3> at, const char* name) {
        PathItem p;
        p.name = name;
        PointsRecipe r;
        for (const auto& v : at) r.points.push_back({v, false});
        p.recipe = r;
        d.store().edit(with(d.store().document(), p), "path");
        return d.store().document().paths.back()->id;
    };
    const Id nearly = put({{0, 0, 0}, {1000, 0, 0}, {1000, 800, 0}, {0, 800, 0}, {0, 3, 0}}, "Nearly");
    d.store().select({Selection::Kind::Path, nearly, {}, 0, {}});
    d.click("sheet.path.weld");
    QVERIFY(current(d).path->closed());
    NEAR(current(d).path->length(), 3600, 1e-9);
    const Id a = put({{0, 2000, 0}, {1000, 2000, 0}}, "A");
    put({{1000, 2000, 0}, {1500, 2500, 0}}, "Left");
    const Id right = put({{1500, 1500, 0}, {1000, 2000, 0}}, "Right");
    d.store().selectItem(Selection::Kind::Path, a);
    act(d, "derive.joined");
    d.click("sheet.path.recipe.next");
    auto* menu = d.window->findChild<QMenu*>("sheet.path.recipe.which");
    QVERIFY(menu && menu->isVisible());
    for (auto* x : menu->actions())
        if (x->text() == "Right") x->trigger();
    menu->close();
    d.settle();
    QCOMPARE(std::get<JoinedRecipe>(current(d).item->recipe).members, (std::vector<Id>{a, right}));
    NEAR(current(d).path->length(), 1000 + 500 * std::sqrt(2.), 1e-6);
    d.click("sheet.path.recipe.next");
    QVERIFY(d.find<QLabel>("sheet.path.recipe.said")->isVisible()); // nothing goes on there
}

void TestPaths::combAndTightnessAreShown() {
    Driver d({1280, 800});
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 1);
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    idle();
    const QImage without = d.view().grab().toImage();
    act(d, "comb");
    idle();
    QVERIFY(d.view().comb());
    const QImage with = d.view().grab().toImage();
    QVERIFY(without != with);
    QVERIFY(d.find<QLabel>("sheet.path.facts")->text().contains("sharpest radius"));
    const auto facts = factsOf(*current(d).path);
    // The lane's ochre is highest where the path is sharpest.
    const QImage strip = d.strip().grab().toImage();
    const int x = int(d.strip().map().x(facts.sharpestAt)), y = d.strip().height() - 12;
    const QColor there = strip.pixelColor(x, y), start = strip.pixelColor(int(d.strip().map().x(1)), y);
    QVERIFY2(there.blue() < 160 && start.blue() > 200, qPrintable(there.name() + " " + start.name()));
}

VICINAL_SUITE(TestPaths)

} // namespace test_paths
#include "test_paths.moc"
