// Stories about parts in the real window: chosen by picture, changed live, put together, seated in the view, brought
// in.
#include "app/dialogs/part_chooser.h"
#include "app/render/gl_canvas.h"
#include "app/render/part_picture.h"
#include "app/seat/seat_view.h"
#include "app/sheet/part/part_editor.h"
#include "app/view/toolbox.h"
#include "app/yard/yard_model.h"
#include "exchange/step_writer.h"
#include "layout/spacing/rules.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/file/document_file.h"
#include "suite.h"
#include "ui/window_fixture.h"
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLayout>
#include <QListWidget>
#include <QOpenGLWidget>
#include <QProgressDialog>

namespace test_part_stories {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const QString kQuay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";
const QString kExamples = VICINAL_SOURCE "/examples/";

void trigger(Driver& d, const char* action) {
    auto* a = d.window->findChild<QAction*>(QString("action.") + action);
    if (!a || !a->isEnabled()) qFatal("no action %s now", action);
    a->trigger();
    d.settle();
}

std::shared_ptr<const PartResult> part(Driver& d, Id id) { return d.store().evaluation().parts.at(id); }

/// Share of a picture that is painted.
double painted(const QImage& image) {
    int n = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) n += qAlpha(image.pixel(x, y)) > 40;
    return double(n) / (image.width() * image.height());
}

/// Chooses an entry by typing its name.
void choose(QDialog* dialog, const QString& text) {
    auto* search = dialog->findChild<QLineEdit*>("chooser.search");
    search->setFocus();
    search->clear();
    QTest::keyClicks(search, text);
}

/// A document with a straight path and a part along it.
void straightRun(Driver& d, const PartItem& item, double pitch) {
    Document doc;
    PathItem path;
    PointsRecipe r;
    r.points = {{Vec3(0, 0, 0)}, {Vec3(4000, 0, 0)}};
    path.recipe = r;
    doc = with(doc, path);
    doc = with(doc, item);
    RunItem run;
    run.path = doc.paths[0]->id;
    run.part = doc.parts[0]->id;
    run.spacing->rule = StepOff{pitch};
    doc = with(doc, run);
    d.store().edit(doc, "a run");
}

SeatView& openSeat(Driver& d, Id id) {
    d.store().selectItem(Selection::Kind::Part, id);
    d.click("sheet.part.seatView");
    SeatView& view = d.window->seatView();
    if (!QTest::qWaitFor([&] { return view.isVisible() && view.ready(); }, 10'000)) qFatal("no seat view");
    idle();
    return view;
}

} // namespace

class TestPartStories : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() {
        QCoreApplication::setOrganizationName("VicinalTest");
        theme::apply(*qobject_cast<QApplication*>(QCoreApplication::instance()));
    }
    void picturesShowTheirParts();
    void linksAreChosenAndMeetAtTheirPins();
    void aRunBeginsAsTheTradeSetsIt();
    void everyMakerCanBeChosenAndSeen();
    void dimensionsAreLiveAndSayWhatWorks();
    void sizeDensityAndMeasures();
    void seatIsPickedInTheView();
    void noseIsDraggedOntoAFace();
    void noseTakesEdgesAndAxes();
    void pinsArePickedFromHoles();
    void keysWalkOverTheMarks();
    void piecesMoveAsOne();
    void mirroredReplacedDeleted();
    void closedPathsAreRaised();
    void stepPartsAreAskedFor();
    void drawingsBecomePathsOrAPart();
    void longReadingIsCancelled();
    void partsSpeakTheDocumentsUnit();
    void farCopiesLookTheSame();
    void everyControlSaysWhatItDoes();
};

void TestPartStories::picturesShowTheirParts() {
    // An upright bar covers the middle; what is off its origin is still in the picture; a wrong seat gives none.
    const auto made = make(PlainBox{40, 40, 80});
    Seat seat;
    const QImage bar = partPicture(*made->mesh, seat, QSize(64, 64));
    QVERIFY(painted(bar) > 0.25 && painted(bar) < 0.9);
    QVERIFY(qAlpha(bar.pixel(32, 32)) == 255 && qAlpha(bar.pixel(1, 1)) == 0);
    Mesh far = *made->mesh;
    for (Vec3& p : far.points) p += Vec3(1e5, 2e5, -3e4);
    far.box.translate(Vec3(1e5, 2e5, -3e4));
    QCOMPARE(painted(partPicture(far, seat, QSize(64, 64))), painted(bar));
    seat.crown = seat.nose;
    QVERIFY(partPicture(*made->mesh, seat, QSize(64, 64)).isNull());
    // From the front, right is x and up is z.
    PictureView front;
    front.turn << 1, 0, 0, 0, 0, 1, 0, -1, 0;
    front.millimetresPerPixel = 2;
    const Mesh post = boxMesh(Box3(Vec3(-10, -10, -60), Vec3(10, 10, 60)));
    const QImage square = drawPart(post, front, QSize(80, 80), QColor(200, 200, 200));
    NEAR(painted(square), 10.0 * 60 / 6400, 0.02);
    // Hidden is hidden: with another post behind it, turned so that its sides have another tone, nothing changes;
    // before it, the turned one is what is seen.
    for (const double y : {50.0, -50.0}) {
        Mesh both = post;
        const Mat3 R = Eigen::AngleAxisd(kPi / 4, Vec3::UnitZ()).toRotationMatrix();
        for (const auto& t : post.triangles)
            both.triangles.push_back({t[0] + std::uint32_t(post.points.size()),
                                      t[1] + std::uint32_t(post.points.size()),
                                      t[2] + std::uint32_t(post.points.size())});
        for (const Vec3& p : post.points) both.points.push_back(0.6 * (R * p) + Vec3(0, y, 0));
        QCOMPARE(drawPart(both, front, QSize(80, 80), QColor(200, 200, 200)) == square, y > 0);
    }
}

void TestPartStories::linksAreChosenAndMeetAtTheirPins() {
    Driver d;
    d.click("tool.looks.1");
    d.click("tool.drawPath");
    for (double x : {-2000.0, 2000.0}) d.clickAt(&d.view(), d.ground(x, 0));
    QTest::keyClick(&d.view(), Qt::Key_Return);
    d.whenDialog("newRun", [&](QDialog* dialog) {
        auto* grid = dialog->findChild<QListWidget*>("chooser.grid");
        QCOMPARE(grid->count(), int(makerEntries().size()));
        choose(dialog, "nothing like it");
        QVERIFY(!dialog->findChild<QPushButton*>("newRun.ok")->isEnabled());
        choose(dialog, "tread");
        QCOMPARE(grid->currentItem()->text(), QString("Tread plate"));
        Driver::clickIn(dialog, "newRun.ok");
    });
    d.click("tool.newRun");
    QVERIFY(d.run() && d.run()->placed);
    QCOMPARE(d.run()->part->item->name, std::string("Tread plate"));
    NEAR(d.run()->placed->laid->pitch, 120, 1e-9); // its pins
    const Places& p = *d.run()->placed;
    const Pins pins = *pinsOf(*d.run()->placed->parts[0].body, d.run()->placed->parts[0].seat);
    for (size_t i = 0; i + 1 < p.count(); ++i) // each front eye is where the next one's rear eye is
        NEAR(((p.pose(i) * pins[1].homogeneous()) - (p.pose(i + 1) * pins[0].homogeneous())).norm(), 0, 1e-9);
    // The part's picture stands in the yard.
    const Id id = d.run()->part->item->id;
    QTRY_VERIFY(!d.window->yard().rowOf(id).data(YardModel::PictureRole).value<QPixmap>().isNull());
    QVERIFY(painted(d.window->yard().rowOf(id).data(YardModel::PictureRole).value<QPixmap>().toImage()) > 0.1);
}

/// Two clicks and a word give a chain, with its second link on a drive; what begins wrong is mended by one click more.
void TestPartStories::aRunBeginsAsTheTradeSetsIt() {
    Driver d;
    const auto begin = [&](const Shape& shape, const QString& part) {
        PathItem path;
        path.recipe = ShapeRecipe{shape};
        Document doc = with(d.store().document(), path);
        d.store().edit(doc, "a path");
        d.settle();
        d.store().selectItem(Selection::Kind::Path, lastId(doc));
        d.whenDialog("newRun", [&](QDialog* dialog) {
            choose(dialog, part);
            Driver::clickIn(dialog, "newRun.ok");
        });
        d.click("tool.newRun");
        QVERIFY(d.run() && d.run()->placed && d.run()->path->item->id == lastId(doc));
        QTRY_VERIFY(d.store().checks().current(*d.run()));
    };
    const auto mark = [&] { return d.store().checks().verdictOf(*d.run()).mark; };
    begin(StraightShape{{0, 0, 0}, 1500}, "chain link");
    QVERIFY(QString::fromStdString(d.run()->item->name).startsWith("Chain on Path"));
    QTRY_COMPARE(mark(), Mark::Good);
    const Places& chain = *d.run()->placed;
    QVERIFY(chain.count() == 50 && std::abs(chain.frame(0).axes.col(2).dot(chain.frame(1).axes.col(2))) < 1e-9);
    QVERIFY(d.window->message().isEmpty());
    // Round a drive: sprockets, the second link, what gives way; it is said.
    const size_t parts = d.store().document().parts.size();
    begin(WheelShape{}, "inner");
    QCOMPARE(d.store().document().parts.size(), parts + 2);
    QVERIFY2(d.window->message().contains("sprockets") && d.window->message().contains("stand in turn"),
             qPrintable(d.window->message()));
    QTRY_COMPARE(mark(), Mark::Good);
    // Planks round a corner run into one another: one click, and back.
    begin(RectangleShape{3000, 2000, 0}, "plank");
    QTRY_COMPARE(mark(), Mark::Wrong);
    auto* mend = d.find<QPushButton>("message.do");
    QTRY_VERIFY(mend->isVisible());
    QVERIFY2(mend->text().startsWith("Leave out the"), qPrintable(mend->text()));
    QVERIFY2(d.window->message().contains("Planks on Path"), qPrintable(d.window->message()));
    const int whole = d.run()->placed->present;
    QTest::mouseClick(mend, Qt::LeftButton);
    d.settle();
    QVERIFY(d.run()->placed->present < whole && !mend->isVisible());
    QTRY_VERIFY(d.store().checks().current(*d.run()) && mark() != Mark::Wrong);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(d.run()->placed->present, whole);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!d.run() || d.run()->item->name.find("Planks") == std::string::npos);
}

void TestPartStories::everyMakerCanBeChosenAndSeen() {
    Driver d;
    for (const auto& entry : makerEntries()) {
        d.whenDialog("partDialog", [&](QDialog* dialog) {
            auto* grid = dialog->findChild<QListWidget*>("chooser.grid");
            choose(dialog, entry.name);
            auto* item = grid->findItems(entry.name, Qt::MatchExactly).value(0);
            QVERIFY(item && !item->isHidden());
            QTest::mouseClick(grid->viewport(), Qt::LeftButton, {}, grid->visualItemRect(item).center());
            QCOMPARE(grid->currentItem(), item);
            QVERIFY2(painted(item->icon().pixmap(84, 72).toImage()) > 0.02, entry.name);
            Driver::clickIn(dialog, "partDialog.ok");
        });
        trigger(d, "newPart");
        const auto made = d.store().currentPart();
        QVERIFY(made && !made->problem);
        QCOMPARE(made->item->name, std::string(entry.name));
        // Every value of the maker has its field.
        struct Keys : IgnoreValues {
            QStringList* out;
            void length(const char* k, const char*, const char*, double) const { *out += k; }
            void number(const char* k, const char*, const char*, double) const { *out += k; }
        } keys;
        QStringList wanted;
        keys.out = &wanted;
        describe(keys, entry.maker);
        for (const QString& key : wanted) QVERIFY2(d.find("field.sheet.part." + key)->isVisible(), qPrintable(key));
    }
    QCOMPARE(d.store().document().parts.size(), makerEntries().size());
}

void TestPartStories::dimensionsAreLiveAndSayWhatWorks() {
    Driver d;
    PartItem link;
    link.shape = RoundLink{};
    link.seat.point = Vec3(0, 0, 0);
    straightRun(d, link, 60);
    const Id id = d.store().document().parts[0]->id;
    d.store().selectItem(Selection::Kind::Part, id);
    d.settle();
    const auto run = [&] { return d.store().evaluation().runs[0]; };
    d.type("sheet.part.insideLength", "1 1/2 in");
    NEAR(run()->placed->parts[0].mesh->box.sizes().x(), 38.1 + 20, 1e-9); // every place at once: they share it
    NEAR((*pinsOf(*run()->placed->parts[0].body, run()->placed->parts[0].seat))[1].x(), 19.05, 1e-12);
    d.type("sheet.part.bar", "40");
    QVERIFY2(d.errorAt("sheet.part.bar").contains("14"), qPrintable(d.errorAt("sheet.part.bar"))); // the largest
    QVERIFY(run()->stale());
    NEAR(run()->placed->parts[0].mesh->box.sizes().x(), 58.1, 1e-9); // the last good one stays
    d.type("sheet.part.bar", "-3");
    QVERIFY(!d.errorAt("sheet.part.bar").isEmpty());
    d.type("sheet.part.bar", "12");
    QVERIFY(d.errorAt("sheet.part.bar").isEmpty() && !run()->stale());
    // Arrow keys step it live; each press can be taken back.
    const size_t steps = d.store().history().size();
    auto* edit = d.find<QLineEdit>("edit.sheet.part.bar");
    edit->setFocus();
    for (int i = 0; i < 3; ++i) QTest::keyClick(edit, Qt::Key_Down);
    NEAR(std::get<RoundLink>(std::get<Maker>(part(d, id)->item->shape)).bar, 9, 1e-9);
    QCOMPARE(d.store().history().size(), steps + 3);
    // A flag brings its own field with it.
    QVERIFY(!d.window->findChild<QWidget*>("field.sheet.part.stud"));
    d.click("sheet.part.studded");
    QVERIFY(d.find("field.sheet.part.stud")->isVisible());
}

void TestPartStories::sizeDensityAndMeasures() {
    Driver d;
    PartItem box;
    box.shape = PlainBox{100, 50, 200};
    box.seat.point = Vec3(50, 0, 0);
    straightRun(d, box, 300);
    const Id id = d.store().document().parts[0]->id;
    d.store().selectItem(Selection::Kind::Part, id);
    d.settle();
    d.type("sheet.part.wanted2", "0.5 m"); // as high as that: everything in proportion, the seat on its spot
    NEAR(part(d, id)->item->size, 2.5, 1e-12);
    NEAR(part(d, id)->seated->sizes().x(), 250, 1e-9);
    NEAR(std::get<Vec3>(part(d, id)->item->seat.point).x(), 125, 1e-9);
    d.type("sheet.part.wanted0", "0");
    QVERIFY(!d.errorAt("sheet.part.wanted0").isEmpty());
    d.type("sheet.part.size", "1");
    NEAR(part(d, id)->seated->sizes().z(), 200, 1e-9);
    d.type("sheet.part.size", "-2");
    QVERIFY(!d.errorAt("sheet.part.size").isEmpty());
    d.type("sheet.part.density", "7850");
    const QString expected = "mass 7.85 kg"; // a litre of steel
    QTRY_VERIFY2(d.window->findChild<PartEditor*>("sheet.part")->measures().contains(expected),
                 qPrintable(d.window->findChild<PartEditor*>("sheet.part")->measures()));
    const QString text = d.window->findChild<PartEditor*>("sheet.part")->measures();
    QVERIFY2(text.contains("0.00 before, 100.00 behind") && text.contains("200.00 up") &&
                 text.contains("1000 cm\u00b3"),
             qPrintable(text));
}

void TestPartStories::seatIsPickedInTheView() {
    Driver d;
    QVERIFY(d.open(kQuay));
    SeatView& view = openSeat(d, 19); // the fairlead, drawn y-up and 4 m off
    const auto run = [&] {
        for (const auto& r : d.store().evaluation().runs)
            if (r->item->part == 19) return r;
        return std::shared_ptr<const RunResult>();
    };
    const auto onPath = [&](const Vec3& point) { // every place sits there
        for (size_t i = 0; i < run()->placed->count(); ++i)
            if (((run()->placed->pose(i) * point.homogeneous()).head<3>() -
                 run()->placed->path.at(run()->placed->stations()[i]).point)
                    .norm() > 1e-9)
                return false;
        return true;
    };
    // A hole is hovered, then taken.
    const auto hole = std::find_if(view.marks().spots().begin(), view.marks().spots().end(), [&](const Spot& s) {
        return s.kind == Spot::Kind::HoleAxis && std::abs(s.size - 13) < 1e-9 &&
               view.pixelOf(s.at)->x() > view.width() / 2;
    });
    QVERIFY(hole != view.marks().spots().end());
    const Vec3 at = hole->at;
    QTest::mouseMove(&view, view.pixelOf(at)->toPoint());
    QTRY_VERIFY2(view.hoverText().contains("\u2300 13.00 mm"), qPrintable(view.hoverText()));
    d.clickAt(&view, *view.pixelOf(at));
    NEAR((std::get<Vec3>(part(d, 19)->item->seat.point) - at).norm(), 0, 1e-9);
    QVERIFY(onPath(at));
    // A corner of the box stays a box point, which follows when the part is changed.
    idle();
    const auto point = std::find_if(view.marks().spots().begin(), view.marks().spots().end(), [&](const Spot& s) {
        return s.kind == Spot::Kind::BoxPoint &&
               std::none_of(view.marks().spots().begin(), view.marks().spots().end(), [&](const Spot& o) {
                   return &o != &s && std::hypot(view.pixelOf(o.at)->x() - view.pixelOf(s.at)->x(),
                                                 view.pixelOf(o.at)->y() - view.pixelOf(s.at)->y()) < 12;
               });
    });
    QVERIFY(point != view.marks().spots().end());
    const Vec3 corner = point->at;
    d.clickAt(&view, *view.pixelOf(corner));
    QVERIFY(std::holds_alternative<BoxPoint>(part(d, 19)->item->seat.point));
    QVERIFY(onPath(corner));
    // The likely seats are one click away, upright as the crown says; the one in use says so. Four bolt holes make no
    // link of it.
    QCOMPARE(view.marks().proposals().size(), size_t(2));
    const size_t steps = d.store().history().size();
    for (size_t i = 0; i < 2; ++i) {
        const Seat wanted = view.marks().proposals()[i].seat;
        QVERIFY(axisOf(wanted.crown) == Axis::PlusY);
        d.click(QString("seat.likely.%1").arg(i));
        QVERIFY(part(d, 19)->item->seat == wanted);
        QVERIFY(d.find<QPushButton>(QString("seat.likely.%1").arg(i))->text().startsWith("\u2713"));
    }
    NEAR(part(d, 19)->seated->min().z(), view.marks().proposals()[1].kind == Proposal::Kind::Foot ? 0 : -62.5, 1e-6);
    // Undo takes the last one back; Esc leads back to the runs.
    QCOMPARE(d.store().history().size(), steps + 2);
    trigger(d, "undo");
    QVERIFY(part(d, 19)->item->seat == view.marks().proposals()[0].seat);
    // To another part and back before its marks are known: the marks are those of the part that is shown.
    const size_t marks = view.marks().spots().size();
    d.store().selectItem(Selection::Kind::Part, 14);
    d.store().selectItem(Selection::Kind::Part, 19);
    QTRY_VERIFY_WITH_TIMEOUT(view.ready(), 10'000);
    idle();
    QVERIFY(view.ready());
    QCOMPARE(view.marks().spots().size(), marks);
    QTest::keyClick(&view, Qt::Key_Escape);
    QVERIFY(!view.isVisible() && d.view().isVisible());
}

void TestPartStories::noseIsDraggedOntoAFace() {
    Driver d;
    PartItem box;
    box.shape = PlainBox{100, 60, 40};
    box.seat.point = Vec3(0, 0, 0);
    straightRun(d, box, 200);
    const Id id = d.store().document().parts[0]->id;
    SeatView& view = openSeat(d, id);
    const auto seat = [&] { return part(d, id)->item->seat; };
    // From the nose's tip onto the side that looks at us (-y): it becomes the nose.
    d.drag(&view, *view.arrowTip(true), *view.pixelOf(Vec3(-20, -30, 8)));
    QVERIFY(axisOf(seat().nose) == Axis::MinusY);
    QVERIFY(axisOf(seat().crown) == Axis::PlusZ);
    // The run turned with it: the part's -y faces along the path, +x.
    const Mat4 third = d.store().evaluation().runs[0]->placed->pose(2);
    NEAR(((third.topLeftCorner<3, 3>() * -Vec3::UnitY()) - Vec3::UnitX()).norm(), 0, 1e-12);
    // Dropped beside the part it changes nothing, and says what to do.
    const size_t steps = d.store().history().size();
    d.drag(&view, *view.arrowTip(true), QPointF(view.width() - 8, view.height() - 80));
    QCOMPARE(d.store().history().size(), steps);
    // Quarter turns; and a crown that would lie along the nose pushes it aside.
    d.click("seat.turnNose");
    QVERIFY(axisOf(seat().nose) == Axis::PlusX);
    d.click("seat.turnCrown");
    QVERIFY(axisOf(seat().crown) == Axis::MinusY);
    d.click("seat.turnCrown");
    d.click("seat.turnCrown");
    d.click("seat.turnCrown");
    QVERIFY(axisOf(seat().crown) == Axis::PlusZ);
    d.click("seat.tool.2");
    const QPointF end = *view.pixelOf(Vec3(50, -12, 14)); // the face at the nose
    d.clickAt(&view, end);
    QVERIFY(axisOf(seat().crown) == Axis::PlusX);
    QVERIFY(!part(d, id)->problem);
}

/// Slanted edges and the axes of holes give directions, too: to the last digit, and turned round by a second click.
void TestPartStories::noseTakesEdgesAndAxes() {
    Driver d;
    PartItem bracket;
    bracket.shape = Bracket{};
    bracket.seat.point = Vec3(0, 0, 0);
    Piece leaning{"Leaning", Bracket{}};
    leaning.turn = Vec3(0.3, 0.2, 0.9);
    bracket.shape = Pieces{{leaning}};
    straightRun(d, bracket, 150);
    const Id id = d.store().document().parts[0]->id;
    SeatView& view = openSeat(d, id);
    for (const auto kind : {Spot::Kind::EdgeMiddle, Spot::Kind::HoleAxis}) {
        d.click("seat.tool.1");
        idle();
        bool taken = false;
        for (size_t i = 0; i < view.marks().spots().size() && !taken; ++i) {
            const Spot s = view.marks().spots()[i];
            if (s.kind != kind || axisOf(Direction(s.direction))) continue;
            const Seat before = part(d, id)->item->seat;
            d.clickAt(&view, *view.pixelOf(s.at));
            const Seat now = part(d, id)->item->seat;
            taken = !(now == before) && std::abs(now.nose.v.dot(s.direction)) > 1 - 1e-15;
            if (!taken) continue;
            QVERIFY(!part(d, id)->problem);
            // The run's places face that way: along +x.
            const Mat3 R = d.store().evaluation().runs[0]->placed->pose(1).topLeftCorner<3, 3>();
            NEAR((R * now.nose.v - Vec3::UnitX()).norm(), 0, 1e-12);
            idle();
            d.clickAt(&view, *view.pixelOf(s.at)); // once more: the other way round
            if (part(d, id)->item->seat.nose.v.dot(s.direction) * now.nose.v.dot(s.direction) > 0)
                continue; // hidden from here by now
            NEAR((part(d, id)->item->seat.nose.v + now.nose.v).norm(), 0, 1e-12);
        }
        QVERIFY2(taken, kind == Spot::Kind::HoleAxis ? "hole" : "edge");
    }
}

void TestPartStories::pinsArePickedFromHoles() {
    Driver d;
    ask::answerFile(kExamples + "winch-link.step");
    d.whenDialog("partIn", [&](QDialog* dialog) { Driver::clickIn(dialog, "partIn.ok"); });
    d.click("tool.bringIn");
    QVERIFY2(d.window->message().contains("own origin"), qPrintable(d.window->message())); // said once
    const Id id = d.store().document().parts[0]->id;
    QCOMPARE(d.store().document().parts[0]->name, std::string("Winch link"));
    SeatView& view = openSeat(d, id);
    std::vector<Vec3> holes;
    for (const Spot& s : view.marks().spots())
        if (s.kind == Spot::Kind::HoleAxis && std::abs(s.size - 16.2) < 1e-6 &&
            std::none_of(holes.begin(), holes.end(), [&](const Vec3& h) { return (h - s.at).norm() < 10; }))
            holes.push_back(s.at);
    QCOMPARE(holes.size(), size_t(2));
    d.click("seat.tool.5"); // the line from one hole to the other runs along the path
    d.clickAt(&view, *view.pixelOf(holes[1]));
    d.clickAt(&view, *view.pixelOf(holes[1])); // the same point is refused, and another one waited for
    d.clickAt(&view, *view.pixelOf(holes[0]));
    NEAR((part(d, id)->item->seat.nose.v - (holes[0] - holes[1]).normalized()).norm(), 0, 1e-9);
    d.click("seat.tool.5");
    d.clickAt(&view, *view.pixelOf(holes[0]));
    d.clickAt(&view, *view.pixelOf(holes[1]));
    NEAR((part(d, id)->item->seat.nose.v - (holes[1] - holes[0]).normalized()).norm(), 0, 1e-9);
    d.click("seat.tool.3");
    d.clickAt(&view, *view.pixelOf(holes[0]));
    QCOMPARE(view.tool(), SeatView::Tool::SecondPin); // the other one is asked for
    d.clickAt(&view, *view.pixelOf(holes[0]));        // the same point is refused
    QVERIFY(!part(d, id)->item->seat.pins);
    d.click("seat.tool.3");
    d.clickAt(&view, *view.pixelOf(holes[0]));
    d.clickAt(&view, *view.pixelOf(holes[1]));
    QVERIFY(part(d, id)->item->seat.pins);
    const Pins pins = *part(d, id)->item->seat.pins;
    NEAR((pins[1] - pins[0]).norm(), 76.2, 1.0); // by any of the marks of each hole
    QVERIFY(d.find<QLabel>("sheet.part.pins")->text().contains("picked"));
    d.click("sheet.part.ownPins");
    QVERIFY(!part(d, id)->item->seat.pins);
    // The likely seat finds them to a millionth.
    d.click("seat.likely.0");
    NEAR(((*part(d, id)->item->seat.pins)[1] - (*part(d, id)->item->seat.pins)[0]).norm(), 76.2, 1e-6);
    idle();
    const QStringList wide = widerThanSheet(*d.window);
    QVERIFY2(wide.isEmpty(), qPrintable(wide.join("\n")));
}

void TestPartStories::keysWalkOverTheMarks() {
    Driver d;
    PartItem box;
    box.shape = PlainBox{100, 60, 40};
    box.seat.point = Vec3(0, 0, 0);
    straightRun(d, box, 200);
    const Id id = d.store().document().parts[0]->id;
    SeatView& view = openSeat(d, id);
    view.setFocus();
    std::set<QString> seen;
    for (size_t i = 0; i < view.marks().spots().size(); ++i) {
        QTest::keyClick(&view, Qt::Key_Right);
        QVERIFY(!view.hoverText().isEmpty());
        seen.insert(view.hoverText());
    }
    QVERIFY(seen.size() >= 27); // corners, edges, faces, the middle
    const Seat before = part(d, id)->item->seat;
    QTest::keyClick(&view, Qt::Key_Right);
    QTest::keyClick(&view, Qt::Key_Return);
    QVERIFY(!(part(d, id)->item->seat == before));
    d.click("tool.looks.2"); // the buttons mean this view, too
    NEAR(view.camera().pitch, 0, 1e-9);
    QVERIFY(d.view().look() == Viewport::Look::Free);
    view.setFocus();
    QTest::keyClick(&view, Qt::Key_2); // from above: digits mean this view now
    NEAR(view.camera().pitch, kPi / 2, 1e-9);
    QVERIFY(d.view().look() == Viewport::Look::Free);
    d.click("seat.done");
    QVERIFY(d.view().isVisible());
    d.click("sheet.part.seatView");
    d.click("tool.drawPath"); // a path is drawn in the main view
    QVERIFY(d.view().isVisible() && !view.isVisible() && d.view().tools().drawing());
    d.view().tools().draw().cancel();
}

void TestPartStories::piecesMoveAsOne() {
    Driver d;
    PartItem lamp;
    lamp.name = "Lamp";
    lamp.shape = BollardLamp{};
    lamp.seat.point = Vec3(0, 0, 0);
    straightRun(d, lamp, 1000);
    const Id id = d.store().document().parts[0]->id;
    d.store().selectItem(Selection::Kind::Part, id);
    d.settle();
    d.whenDialog("partDialog", [&](QDialog* dialog) {
        choose(dialog, "slab");
        Driver::clickIn(dialog, "partDialog.ok");
    });
    d.click("sheet.part.pieces.add");
    auto* list = d.find<QListWidget>("sheet.part.pieces.list");
    QCOMPARE(list->count(), 2);
    QCOMPARE(list->currentRow(), 1); // the new one is in hand
    d.type("sheet.part.pieces.at.z", "-40");
    d.type("sheet.part.pieces.turn.z", "45");
    const double reach = std::sqrt(2.0) * 200;
    NEAR(part(d, id)->mesh->box.min().z(), -40, 1e-9);
    NEAR(part(d, id)->mesh->box.max().x(), reach, 1e-6);
    // Every place follows.
    NEAR(d.store().evaluation().runs[0]->placed->parts[0].mesh->box.max().x(), reach, 1e-6);
    // The first piece keeps its maker's fields.
    list->setCurrentRow(0);
    d.type("sheet.part.pieces.height", "1.2 m");
    NEAR(part(d, id)->mesh->box.max().z(), 1200, 1e-9);
    d.type("sheet.part.pieces.size", "0");
    QVERIFY(!d.errorAt("sheet.part.pieces.size").isEmpty());
    d.type("sheet.part.pieces.size", "1");
    d.click("sheet.part.pieces.remove");
    QCOMPARE(list->count(), 1);
    QVERIFY(!d.find<QPushButton>("sheet.part.pieces.remove")->isEnabled());
    // A piece from a file.
    ask::answerFile(kExamples + "mooring-post.obj");
    d.whenDialog("partDialog", [&](QDialog* dialog) {
        d.whenDialog("partIn", [&](QDialog* in) {
            in->findChild<QComboBox*>("partIn.unit")->setCurrentIndex(3);
            Driver::clickIn(in, "partIn.ok");
        });
        Driver::clickIn(dialog, "chooser.file");
    });
    d.click("sheet.part.pieces.add");
    QCOMPARE(list->count(), 2);
    QCOMPARE(list->item(1)->text(), QString("mooring-post"));
    QVERIFY(!part(d, id)->body->solid); // one of them is a mesh
    d.click("sheet.part.pieces.remove");
    // Another part as a piece follows it; a part that is made from this one is not offered.
    d.store().edit(with(d.store().document(), PartItem{0, "Holder", Pieces{{Piece{"a", PartUse{id}}}}, {}}), "holder");
    const Id holder = d.store().document().parts.back()->id;
    d.whenDialog("partDialog", [&](QDialog* dialog) {
        auto* grid = dialog->findChild<QListWidget*>("chooser.grid");
        QVERIFY(grid->findItems("Holder", Qt::MatchExactly).isEmpty());
        dialog->reject();
    });
    d.click("sheet.part.pieces.add");
    QCOMPARE(part(d, holder)->mesh->points.size(), part(d, id)->mesh->points.size());
}

void TestPartStories::mirroredReplacedDeleted() {
    Driver d;
    PartItem bracket;
    bracket.name = "Bracket";
    bracket.shape = Bracket{};
    bracket.seat.point = Vec3(10, 5, 0);
    straightRun(d, bracket, 200);
    const Id id = d.store().document().parts[0]->id;
    d.store().selectItem(Selection::Kind::Part, id);
    trigger(d, "mirrorPart");
    const auto mirrored = d.store().currentPart();
    QCOMPARE(mirrored->item->name, std::string("Bracket, mirrored"));
    NEAR((std::get<Vec3>(mirrored->item->seat.point) - Vec3(10, -5, 0)).norm(), 0, 0);
    NEAR(volumeOf(*mirrored->body), volumeOf(*part(d, id)->body), 1e-6);
    d.store().selectItem(Selection::Kind::Part, id);
    d.settle();
    d.type("sheet.part.leg", "120"); // and it follows
    NEAR(d.store().evaluation().parts.at(mirrored->item->id)->mesh->box.max().z(), part(d, id)->mesh->box.max().z(),
         1e-9);
    // Replaced in all runs, the seat kept.
    d.whenDialog("partDialog", [&](QDialog* dialog) {
        QVERIFY(dialog->findChild<QCheckBox*>("partDialog.keepSeat")->isChecked());
        choose(dialog, "Upright");
        Driver::clickIn(dialog, "partDialog.ok");
    });
    trigger(d, "replacePart");
    const auto run = d.store().evaluation().runs[0];
    QCOMPARE(run->part->item->name, std::string("Cylinder"));
    NEAR((std::get<Vec3>(run->placed->parts[0].seat.point) - Vec3(10, 5, 0)).norm(), 0, 0);
    QVERIFY(d.window->message().contains("Cylinder"));
    // By a part that another run uses with its own seat: that run is left alone.
    Document doc = with(d.store().document(), PartItem{0, "Stone", SteppingStone{}, {}});
    RunItem other = *doc.runs[0];
    other.id = 0;
    other.part = doc.parts.back()->id;
    doc = with(doc, other);
    d.store().edit(doc, "another run");
    d.store().selectItem(Selection::Kind::Part, run->part->item->id);
    d.whenDialog("partDialog", [&](QDialog* dialog) {
        choose(dialog, "part of this document");
        auto* grid = dialog->findChild<QListWidget*>("chooser.grid");
        grid->setCurrentItem(grid->findItems("Stone", Qt::MatchExactly).value(0));
        Driver::clickIn(dialog, "partDialog.ok");
    });
    trigger(d, "replacePart");
    QVERIFY2(d.window->message().contains("copy"), qPrintable(d.window->message()));
    const auto both = d.store().evaluation().runs;
    NEAR((std::get<Vec3>(both[0]->placed->parts[0].seat.point) - Vec3(10, 5, 0)).norm(), 0, 0);
    QVERIFY(both[1]->placed->parts[0].seat == Seat{} && both[0]->item->part != both[1]->item->part);
    trigger(d, "undo");
    trigger(d, "undo");
    d.store().selectItem(Selection::Kind::Part, run->part->item->id);
    trigger(d, "copyPart");
    QCOMPARE(d.store().document().parts.size(), size_t(4));
    // Renamed in the yard, as everything is.
    d.window->yard().setFocus();
    QTest::keyClick(&d.window->yard(), Qt::Key_F2);
    auto* rename = d.find<QLineEdit>("yard.rename");
    rename->selectAll();
    QTest::keyClicks(rename, "Stop post");
    QTest::keyClick(rename, Qt::Key_Return);
    QTRY_COMPARE(d.store().document().parts.back()->name, std::string("Stop post"));
    // What is used says where when it goes, and comes back by undo.
    d.store().selectItem(Selection::Kind::Part, id);
    d.window->activateWindow(); // nobody manages the windows of a bare display: dialogs take the focus with them
    d.window->yard().setFocus();
    QTRY_VERIFY(d.window->yard().hasFocus());
    trigger(d, "delete");
    QVERIFY2(d.window->message().contains("Bracket, mirrored"), qPrintable(d.window->message()));
    QVERIFY(d.store().evaluation().parts.at(mirrored->item->id)->problem);
    QVERIFY(d.store().evaluation().parts.at(mirrored->item->id)->mesh); // the last good one
    trigger(d, "undo");
    QVERIFY(!d.store().evaluation().parts.at(mirrored->item->id)->problem);
}

void TestPartStories::closedPathsAreRaised() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Path, 1);
    trigger(d, "raisePath");
    QVERIFY(d.window->message().contains("is open"));
    d.store().selectItem(Selection::Kind::Path, 11); // the drain's outline: 900 x 600, corners of 90
    trigger(d, "raisePath");
    const Id id = d.store().currentPart()->item->id;
    d.type("sheet.part.height", "30");
    const double area = 900 * 600 - (4 - kPi) * 90 * 90;
    NEAR(volumeOf(*part(d, id)->body), area * 30, 1e-3);
    d.store().selectItem(Selection::Kind::Path, 11);
    d.settle();
    d.type("sheet.path.recipe.width", "1 m");
    NEAR(volumeOf(*part(d, id)->body), (area + 100 * 600) * 30, 1e-3); // it follows
}

void TestPartStories::stepPartsAreAskedFor() {
    Driver d;
    ask::answerFile(kExamples + "fairlead.step");
    d.whenDialog("partIn", [&](QDialog* dialog) {
        auto* bodies = dialog->findChild<QListWidget*>("partIn.bodies");
        QCOMPARE(bodies->count(), 2);
        QVERIFY(bodies->item(0)->text().contains("Fairlead base"));
        auto* ok = dialog->findChild<QPushButton*>("partIn.ok");
        auto* size = dialog->findChild<QLabel*>("partIn.size");
        QVERIFY2(size->text().contains("125.00"), qPrintable(size->text()));
        for (int i : {0, 1}) bodies->item(i)->setCheckState(Qt::Unchecked);
        QVERIFY(!ok->isEnabled());
        bodies->item(0)->setCheckState(Qt::Checked);
        QVERIFY(ok->isEnabled());
        QVERIFY2(size->text().contains("14.00"), qPrintable(size->text()));
        Driver::clickIn(dialog, "partIn.ok");
    });
    d.click("tool.bringIn");
    QCOMPARE(d.store().document().parts.size(), size_t(1));
    const auto base = d.store().currentPart();
    QCOMPARE(base->item->name, std::string("Fairlead base"));
    QVERIFY(d.window->seatView().isVisible()); // where it sits is asked at once
    QTest::keyClick(&d.window->seatView(), Qt::Key_Escape);
    NEAR(volumeOf(*base->body), 220.0 * 110 * 14 - 4 * kPi * 6.5 * 6.5 * 14, 0.01);
    // The same file as paths.
    ask::answerFile(kExamples + "fairlead.step");
    d.whenDialog("partIn", [&](QDialog* dialog) {
        d.whenDialog("bringIn", [&](QDialog* paths) { Driver::clickIn(paths, "bringIn.ok"); });
        Driver::clickIn(dialog, "partIn.asPaths");
    });
    d.click("tool.bringIn");
    QVERIFY(d.store().document().paths.size() > 10);
    // One that holds nothing but curves asks for paths by itself.
    QTemporaryDir dir;
    writeStep(dir.filePath("wires.step").toStdString(), dir.filePath("body.step").toStdString());
    const size_t paths = d.store().document().paths.size();
    ask::answerFile(dir.filePath("wires.step"));
    d.whenDialog("bringIn", [&](QDialog* dialog) { Driver::clickIn(dialog, "bringIn.ok"); });
    d.click("tool.bringIn");
    QCOMPARE(d.store().document().paths.size(), paths + 3);
    // A new run takes its part from a file as well.
    ask::answerFile(kExamples + "winch-link.step");
    d.whenDialog("newRun", [&](QDialog* dialog) {
        d.whenDialog("partIn", [&](QDialog* in) { Driver::clickIn(in, "partIn.ok"); });
        Driver::clickIn(dialog, "chooser.file");
    });
    d.click("tool.newRun");
    QVERIFY(d.run() && d.run()->part);
    QCOMPARE(d.run()->part->item->name, std::string("Winch link"));
    // What is no part at all is named, and nothing changes.
    const size_t parts = d.store().document().parts.size();
    const std::pair<std::string, const char*> files[] = {
        {writeText(dir, "cut.step", readFile((kExamples + "fairlead.step").toStdString())->substr(0, 9000)), "cut off"},
        {writeText(dir, "empty.ply", ""), "empty"},
        {writeText(dir, "words.glb", "made up words"), "words.glb"},
        {writeText(dir, "picture.png", "made up"), ".png"}};
    for (const auto& [file, says] : files) {
        ask::answerFile(QString::fromStdString(file));
        d.click("tool.bringIn");
        QVERIFY2(d.window->message().contains(says), qPrintable(d.window->message()));
    }
    QCOMPARE(d.store().document().parts.size(), parts);
}

void TestPartStories::drawingsBecomePathsOrAPart() {
    Driver d;
    QTemporaryDir dir;
    ask::answerFile(QString::fromStdString(
        writeText(dir, "gasket.svg",
                  "<svg xmlns='http://www.w3.org/2000/svg' width='80' height='80'><circle cx='40' cy='40' r='30'/>"
                  "<circle cx='40' cy='40' r='12'/></svg>")));
    d.whenDialog("bringIn", [&](QDialog* dialog) {
        d.whenDialog("partIn", [&](QDialog* as) {
            as->findChild<QComboBox*>("partIn.unit")->setCurrentIndex(1); // millimetres after all
            QApplication::setActiveWindow(as);
            auto* thickness = as->findChild<QLineEdit*>("edit.partIn.thickness");
            thickness->setFocus();
            thickness->selectAll();
            QTest::keyClicks(thickness, "3");
            QTest::keyClick(thickness, Qt::Key_Tab);
            QVERIFY2(as->findChild<QLabel*>("partIn.size")->text().contains("60.00"),
                     qPrintable(as->findChild<QLabel*>("partIn.size")->text()));
            Driver::clickIn(as, "partIn.ok");
        });
        Driver::clickIn(dialog, "bringIn.asPart");
    });
    d.click("tool.bringIn");
    QCOMPARE(d.store().document().parts.size(), size_t(1));
    NEAR(volumeOf(*d.store().currentPart()->body), kPi * (900 - 144) * 3, 1e-3);
    d.type("sheet.part.thickness", "5");
    NEAR(volumeOf(*d.store().currentPart()->body), kPi * (900 - 144) * 5, 1e-3);
}

void TestPartStories::longReadingIsCancelled() {
    Driver d;
    QTemporaryDir dir;
    // Large enough to take a second: text of a mesh.
    std::string obj;
    for (int i = 0; i < 500; ++i)
        for (int k = 0; k < 500; ++k)
            obj += "v " + std::to_string(i) + " " + std::to_string(k) + " " + std::to_string((i * k) % 7) + "\n";
    for (int i = 1; i < 500; ++i)
        for (int k = 1; k < 500; ++k) {
            const int a = (i - 1) * 500 + k;
            obj += "f " + std::to_string(a) + " " + std::to_string(a + 1) + " " + std::to_string(a + 501) + " " +
                   std::to_string(a + 500) + "\n";
        }
    ask::answerFile(QString::fromStdString(writeText(dir, "ground.obj", obj)));
    bool seen = false;
    QTimer watch;
    connect(&watch, &QTimer::timeout, &watch, [&] {
        auto* box = d.window->findChild<QProgressDialog*>("progress");
        if (!box || !box->isVisible() || seen) return;
        seen = true;
        QVERIFY(box->labelText().contains("ground.obj"));
        box->cancel();
    });
    watch.start(20);
    d.whenDialog("partIn", [&](QDialog* dialog) { dialog->reject(); }); // a very quick machine
    d.click("tool.bringIn");
    QVERIFY(d.store().document().parts.empty());
    QVERIFY(d.window->message().isEmpty());
    if (!seen) QSKIP("read before the box came up");
}

void TestPartStories::partsSpeakTheDocumentsUnit() {
    Driver d;
    QTemporaryDir dir;
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Part, 19); // the fairlead, 220 mm long
    d.click("tool.units.2");
    QCOMPARE(d.find<QLineEdit>("edit.sheet.part.wanted0")->text(), QString("8.6614"));
    d.type("sheet.part.wanted0", "11");
    NEAR(part(d, 19)->seated->sizes().x(), 279.4, 1e-9);
    d.click("sheet.part.seat.2"); // typed: starts where it was
    d.type("sheet.part.atx", "150 mm");
    NEAR(std::get<Vec3>(part(d, 19)->item->seat.point).x(), 150, 1e-9);
    QTRY_VERIFY(d.find<QLabel>("sheet.part.measures")->text().contains(" in down"));
    SeatView& view = openSeat(d, 19);
    const auto hole = std::find_if(view.marks().spots().begin(), view.marks().spots().end(),
                                   [](const Spot& s) { return s.kind == Spot::Kind::HoleAxis; });
    QTest::mouseMove(&view, view.pixelOf(hole->at)->toPoint());
    QTRY_VERIFY2(view.hoverText().contains(" in"), qPrintable(view.hoverText()));
    // All of it is there again from a file.
    const std::string before = toJson(d.store().document());
    QVERIFY(!saveDocument(d.store().document(), dir.filePath("quay.vicinal").toStdString()));
    QVERIFY(d.open(dir.filePath("quay.vicinal")));
    QCOMPARE(toJson(d.store().document()), before);
    NEAR(part(d, 19)->seated->sizes().x(), 279.4, 1e-9);
    QVERIFY(part(d, 19)->body->solid);
}

/// A fine mesh is drawn from a simplified copy when it is small; the picture must not tell.
void TestPartStories::farCopiesLookTheSame() {
    Driver d;
    Mesh mesh; // a bumpy ring of 16,000 triangles
    const std::uint32_t n = 160, m = 50;
    for (std::uint32_t i = 0; i < n; ++i)
        for (std::uint32_t k = 0; k < m; ++k) {
            const double u = 2 * kPi * i / n, v = 2 * kPi * k / m, r = 40 + 3 * std::sin(6 * u) * std::cos(2 * v);
            mesh.points.push_back(
                {(120 + r * std::cos(v)) * std::cos(u), (120 + r * std::cos(v)) * std::sin(u), r * std::sin(v)});
        }
    for (std::uint32_t i = 0; i < n; ++i)
        for (std::uint32_t k = 0; k < m; ++k) {
            const auto at = [&](std::uint32_t x, std::uint32_t y) { return (x % n) * m + y % m; };
            mesh.triangles.push_back({at(i, k), at(i + 1, k), at(i + 1, k + 1)});
            mesh.triangles.push_back({at(i, k), at(i + 1, k + 1), at(i, k + 1)});
        }
    PartItem ring;
    Brought brought;
    brought.body = bodyOf(std::make_shared<const Mesh>(*cleaned(mesh)));
    brought.extension = "obj";
    ring.shape = brought;
    straightRun(d, ring, 500);
    auto* canvas = d.window->findChild<QOpenGLWidget*>("view.canvas");
    d.window->centralWidget()->layout()->activate(); // the strip has its lanes
    d.view().frameAll();
    const QImage first = canvas->grabFramebuffer(); // the copy is only being made
    auto& renderer = static_cast<GlCanvas*>(canvas)->renderer();
    QTRY_VERIFY_WITH_TIMEOUT((canvas->grabFramebuffer(), !renderer.pending()), 20'000);
    const QImage second = canvas->grabFramebuffer();
    QCOMPARE(first.size(), second.size());
    int changed = 0, much = 0, drawn = 0; // outlines may move by a part of a pixel
    for (int y = 0; y < first.height(); ++y)
        for (int x = 0; x < first.width(); ++x) {
            const QColor a = first.pixelColor(x, y), b = second.pixelColor(x, y);
            const int off =
                std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue());
            changed += off > 0;
            much += off > 60;
            drawn += a.red() < 190; // rings, not the ground
        }
    QVERIFY(drawn > 3000);
    QVERIFY(changed > 0); // it is another mesh
    QVERIFY2(much < drawn / 12, qPrintable(QString("%1 of %2").arg(much).arg(drawn)));
}

/// Every control that can be seen has a name for tests and guides, one for those who listen, and a tooltip.
void TestPartStories::everyControlSaysWhatItDoes() {
    Driver d;
    QVERIFY(d.open(kQuay));
    QStringList wrong;
    const auto check = [&](QWidget* in) {
        for (auto* w : in->findChildren<QWidget*>()) {
            const bool control = qobject_cast<QAbstractButton*>(w) || qobject_cast<QComboBox*>(w) ||
                                 qobject_cast<QLineEdit*>(w) || qobject_cast<QAbstractItemView*>(w);
            if (!control || !w->isVisible() || w->objectName().startsWith("qt_") ||
                qobject_cast<QComboBox*>(w->parentWidget()) || w->inherits("QComboBoxListView") ||
                w->inherits("QHeaderView") || w->inherits("QTableCornerButton"))
                continue;
            const auto* button = qobject_cast<QAbstractButton*>(w);
            if (w->parentWidget() && w->parentWidget()->inherits("QDialogButtonBox")) continue; // say their own word
            if (w->inherits("QLineEditIconButton")) continue;
            const bool named = !w->accessibleName().isEmpty() || (button && !button->text().isEmpty());
            if (w->objectName().isEmpty() || !named || w->toolTip().isEmpty())
                wrong += QString("%1 '%2' (%3): %4%5%6")
                             .arg(w->metaObject()->className(), w->objectName(), button ? button->text() : QString(),
                                  w->objectName().isEmpty() ? "no name " : "", named ? "" : "no accessible name ",
                                  w->toolTip().isEmpty() ? "no tooltip" : "");
        }
    };
    for (Id id : {3, 14, 19}) {
        d.store().selectItem(Selection::Kind::Part, id);
        d.settle();
        check(d.window.get());
    }
    openSeat(d, 19);
    check(d.window.get());
    d.window->seatView().leave();
    d.whenDialog("partDialog", [&](QDialog* x) {
        check(x);
        x->reject();
    });
    trigger(d, "newPart");
    ask::answerFile(kExamples + "fairlead.step");
    d.whenDialog("partIn", [&](QDialog* x) {
        check(x);
        x->reject();
    });
    d.click("tool.bringIn");
    wrong.removeDuplicates();
    QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join('\n')));
}

VICINAL_SUITE(TestPartStories)

} // namespace test_part_stories
#include "test_part_stories.moc"
