// Site bodies, ground, the yard's folders and crossings, in the real window.
#include "app/schedule/schedule.h"
#include "app/view/toolbox.h"
#include "app/yard/yard.h"
#include "app/yard/yard_model.h"
#include "exchange/lists/lists.h"
#include "exchange/out/export_set.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/run_item.h"
#include "model/edits/yard_edits.h"
#include "suite.h"
#include "ui/story.h"
#include <QComboBox>
#include <QDropEvent>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QTableView>
#include <QTableWidget>

namespace test_site_stories {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const QString kSite = VICINAL_SOURCE "/examples/saltmarrow-site.json";
constexpr Id kStones = 20, kForeshore = 50, kHut = 52, kRamp = 53, kPile = 55, kHeap = 9, kPosts = 40, kDrainSlots = 42,
             kDrainBlank = 85, kDrainCover = 86;

QPointF pixelOf(Driver& d, const Vec3& p) {
    const auto at = d.view().camera().project(p);
    if (!at) qFatal("behind the eye");
    return {at->x(), at->y()};
}

std::shared_ptr<const BodyResult> bodyOf(Driver& d, Id id) { return d.store().evaluation().bodies.at(id); }

/// A handle dragged by so much in the view.
void dragHandle(Driver& d, const QString& name, const QPointF& by) {
    const auto from = d.view().tools().edit().handleAt(name);
    if (!from) qFatal("no handle %s", qPrintable(name));
    d.drag(&d.view(), *from, *from + by);
}

QPointF rowIn(Yard& yard, Id id) {
    const auto row = yard.rowOf(id);
    if (!row.isValid()) qFatal("no row of %d", id);
    yard.scrollTo(row);
    return yard.visualRect(row).center();
}

} // namespace

class TestSiteStories : public QObject {
    Q_OBJECT
private slots:
    void aBodyIsMadeAndPutInPlace();
    void aWallAndAPlateFollowThePathInHand();
    void handlesMoveTurnAndSize();
    void lockedItStaysAndSaysSo();
    void severalAtOnceInTheYard();
    void foldersAndOrderByDragging();
    void groundComesFromAFile();
    void bodiesComeFromAFileOneByOne();
    void aPathIsLaidAndFeetStand();
    void crownsAndNosesGoByBodies();
    void edgesAndFacesOfBodies();
    void crossingsAreSwitchedWithAClick();
    void bodiesGoOut();
    void railsFollowTheirRun();
    void aRunCutsTheBodyUnderIt();
};

void TestSiteStories::aBodyIsMadeAndPutInPlace() {
    Driver d;
    d.whenDialog("partDialog", [](QDialog* dialog) {
        auto* search = dialog->findChild<QLineEdit*>("chooser.search");
        QTest::keyClicks(search, "Cylinder");
        Driver::clickIn(dialog, "partDialog.ok");
    });
    d.find<QAction>("action.newBody")->trigger();
    d.settle();
    QCOMPARE(d.store().document().bodies.size(), size_t(1));
    const Id id = d.store().document().bodies[0]->id;
    QCOMPARE(d.store().selection().kind, Selection::Kind::Body);
    // Its own values, then where it stands.
    d.type("body.shape.diameter", "400");
    d.type("body.shape.height", "2 m");
    d.type("body.at.x", "1.5 m");
    d.type("body.turn.z", "30");
    d.type("body.size", "2");
    d.type("body.density", "1000");
    const BodyItem& b = *d.store().document().body(id);
    NEAR(std::get<Cylinder>(std::get<Maker>(b.shape)).height, 2000, 0);
    NEAR(b.at.x(), 1500, 0);
    NEAR(b.turn.z(), 30 * kDegree, 1e-12);
    NEAR(volumeOf(*bodyOf(d, id)->body), 8 * kPi * 200 * 200 * 2000, 1);
    QVERIFY(QTest::qWaitFor([&] { return d.find<QLabel>("body.measures")->text().contains("mass"); }, 5000));
    // A wrong one is told at its field; the last good body stays.
    d.type("body.shape.diameter", "0");
    QVERIFY(!d.errorAt("body.shape.diameter").isEmpty());
    QVERIFY(bodyOf(d, id)->problem && bodyOf(d, id)->body);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!bodyOf(d, id)->problem);
    // Named in the sheet, picked in the view.
    auto* title = d.find<QLineEdit>("sheet.title");
    title->selectAll();
    QTest::keyClicks(title, "Dolphin");
    QTest::keyClick(title, Qt::Key_Return);
    QCOMPARE(d.store().document().body(id)->name, std::string("Dolphin"));
    d.store().select({});
    d.window->view().frameAll();
    d.settle();
    d.clickAt(&d.view(), pixelOf(d, bodyOf(d, id)->ground->origin() + Vec3(0, 0, 1500)));
    QCOMPARE(d.store().selection().id, id);
}

void TestSiteStories::aWallAndAPlateFollowThePathInHand() {
    Story d(kStones, kSite);
    const size_t before = d.store().document().bodies.size();
    d.store().selectItem(Selection::Kind::Path, 6); // a closed one
    d.find<QAction>("action.plate")->trigger();
    d.settle();
    d.store().selectItem(Selection::Kind::Path, 6);
    d.find<QAction>("action.wall")->trigger();
    d.settle();
    QCOMPARE(d.store().document().bodies.size(), before + 2);
    for (size_t i = before; i < before + 2; ++i) {
        const auto r = bodyOf(d, d.store().document().bodies[i]->id);
        QVERIFY(!r->problem && solidOf(*r->body));
    }
    // An open path outlines nothing, and says so.
    d.store().selectItem(Selection::Kind::Path, 1);
    d.find<QAction>("action.plate")->trigger();
    d.settle();
    QVERIFY(d.window->message().contains("open"));
    QCOMPARE(d.store().document().bodies.size(), before + 2);
    // From the part in hand: it follows the part.
    d.store().selectItem(Selection::Kind::Part, 11);
    d.find<QAction>("action.bodyOfPart")->trigger();
    d.settle();
    const Id stands = d.store().document().bodies.back()->id;
    const double high = bodyOf(d, stands)->body->mesh->box.sizes().z();
    d.store().change<PartItem>(11, "Taller", {},
                               [](PartItem& p) { std::get<Post>(std::get<Maker>(p.shape)).height *= 2; });
    QVERIFY(bodyOf(d, stands)->body->mesh->box.sizes().z() > 1.8 * high);
}

void TestSiteStories::handlesMoveTurnAndSize() {
    Story d(kStones, kSite);
    d.store().selectItem(Selection::Kind::Body, kPile);
    d.settle();
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    d.settle();
    const size_t steps = d.store().history().size();
    const Vec3 at = d.store().document().body(kPile)->at;
    dragHandle(d, "body move", {80, -40});
    const Vec3 by = d.store().document().body(kPile)->at - at;
    NEAR(by.x() / (80 * d.view().camera().scale()), 1, 0.05);
    NEAR(by.y() / (40 * d.view().camera().scale()), 1, 0.05);
    NEAR(by.z(), 0, 1e-9);
    QCOMPARE(d.store().history().size(), steps + 1); // one step
    d.view().frameSelection();
    d.settle();
    dragHandle(d, "body turn", {-30, -70});
    QVERIFY(std::abs(d.store().document().body(kPile)->turn.z()) > 10 * kDegree);
    const double size = d.store().document().body(kPile)->size;
    const auto corner = d.view().tools().edit().handleAt("body size"),
               middle = d.view().tools().edit().handleAt("body move");
    dragHandle(d, "body size", (*corner - *middle) * 0.5);
    NEAR(d.store().document().body(kPile)->size, 1.5 * size, 0.05 * size);
    // Typed while it is dragged, and let go with Escape.
    const auto from = d.view().tools().edit().handleAt("body move");
    d.press(&d.view(), *from);
    QTest::mouseMove(&d.view(), (*from + QPointF(20, 0)).toPoint());
    QTest::keyClicks(&d.view(), "1000, 2000, 0");
    QTest::keyClick(&d.view(), Qt::Key_Return);
    d.release(&d.view(), *from);
    const auto ground = bodyOf(d, kPile)->ground;
    NEAR((ground->origin() - Vec3(1000, 2000, 0)).head<2>().norm(), 0, 1e-6);
}

void TestSiteStories::lockedItStaysAndSaysSo() {
    Story d(kStones, kSite);
    d.store().selectItem(Selection::Kind::Body, kForeshore); // comes locked
    d.settle();
    QVERIFY(!d.view().tools().edit().handleAt("body move"));
    QVERIFY(!d.find("field.body.at.x")->isEnabled());
    d.view().setFocus();
    d.find<QAction>("action.delete")->trigger();
    d.settle();
    QVERIFY2(d.window->message().contains("locked"), qPrintable(d.window->message()));
    QVERIFY(d.store().document().body(kForeshore));
    d.click("body.locked");
    QVERIFY(!d.store().document().body(kForeshore)->locked);
    QVERIFY(d.view().tools().edit().handleAt("body move"));
    // A locked run: its rule cannot be typed, its places cannot be left out.
    auto& yard = d.window->yard();
    d.fromMenu(yard.viewport(), rowIn(yard, kStones), "Lock");
    d.choose(kStones);
    const RunItem before = d.item();
    d.store().change<RunItem>(kStones, "Pitch", {}, [](RunItem& r) { r.spacing->insetStart = 900; });
    QCOMPARE(d.item().spacing->insetStart, before.spacing->insetStart);
    QVERIFY(d.window->message().contains("locked"));
    d.fromMenu(yard.viewport(), rowIn(yard, kStones), "Hide"); // that is no change of it
    QVERIFY(d.item().hidden);
    d.fromMenu(yard.viewport(), rowIn(yard, kStones), "Unlock");
    QVERIFY(!d.item().locked);
}

void TestSiteStories::severalAtOnceInTheYard() {
    Story d(kStones, kSite);
    auto& yard = d.window->yard();
    d.clickAt(yard.viewport(), rowIn(yard, kHut));
    d.clickAt(yard.viewport(), rowIn(yard, kRamp), Qt::ControlModifier);
    d.clickAt(yard.viewport(), rowIn(yard, kPile), Qt::ControlModifier);
    QCOMPARE(d.store().selection().items(), (std::set<Id>{kHut, kRamp, kPile}));
    d.fromMenu(yard.viewport(), rowIn(yard, kRamp), "Hide");
    for (Id id : {kHut, kRamp, kPile}) QVERIFY(d.store().document().body(id)->hidden);
    QVERIFY(!d.store().document().body(kForeshore)->hidden);
    QCOMPARE(d.store().selection().items().size(), size_t(3)); // still in hand
    d.fromMenu(yard.viewport(), rowIn(yard, kRamp), "Show");
    const size_t before = d.store().document().bodies.size();
    d.fromMenu(yard.viewport(), rowIn(yard, kRamp), "Make a copy");
    QCOMPARE(d.store().document().bodies.size(), before + 3);
    QCOMPARE(d.store().selection().items().size(), size_t(3)); // the copies
    d.takeKeyboard();
    yard.setFocus();
    QTest::keyClick(&yard, Qt::Key_Delete);
    d.settle();
    QCOMPARE(d.store().document().bodies.size(), before);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(d.store().document().bodies.size(), before + 3); // one step for all
    d.key(Qt::Key_Z, Qt::ControlModifier);
    // Fifty of each stay easy: the list shows what is filtered, and picks go on.
    Document d50 = d.store().document();
    for (int i = 0; i < 50; ++i) {
        BodyItem b;
        b.name = "Crate " + std::to_string(i);
        b.shape = Maker(PlainBox{});
        d50 = with(d50, b);
    }
    d.store().edit(d50, "Crates");
    d.settle();
    auto* filter = d.find<QLineEdit>("yard.filter");
    filter->setFocus();
    QTest::keyClicks(filter, "crate 4");
    d.settle();
    int shown = 0;
    for (const auto& b : d.store().document().bodies) shown += yard.rowOf(b->id).isValid();
    QCOMPARE(shown, 11);
}

void TestSiteStories::foldersAndOrderByDragging() {
    Story d(kStones, kSite);
    auto& yard = d.window->yard();
    auto* model = static_cast<YardModel*>(yard.model());
    // Onto a folder, as a drop on the real list.
    const auto drop = [&](std::set<Id> ids, const QPointF& at) {
        QModelIndexList rows;
        for (Id id : ids) rows += yard.rowOf(id);
        std::unique_ptr<QMimeData> data(model->mimeData(rows));
        QDragEnterEvent enter(at.toPoint(), Qt::MoveAction, data.get(), Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(yard.viewport(), &enter);
        QDragMoveEvent move(at.toPoint(), Qt::MoveAction, data.get(), Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(yard.viewport(), &move);
        QDropEvent fall(at, Qt::MoveAction, data.get(), Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(yard.viewport(), &fall);
        d.settle();
    };
    yard.scrollToTop();
    drop({kPile}, rowIn(yard, 61)); // the folder "Quay"
    QCOMPARE(d.store().document().body(kPile)->folder, 61);
    const size_t steps = d.store().history().index();
    drop({kPile}, rowIn(yard, 61)); // it lies there already: nothing to undo
    QCOMPARE(d.store().history().index(), steps);
    // Before another body, by the line between rows.
    rowIn(yard, kHut);
    const auto hut = yard.visualRect(yard.rowOf(kHut));
    drop({kPile}, QPointF(hut.center().x(), hut.top() + 1));
    const auto& bodies = d.store().document().bodies;
    const auto place = [&](Id id) {
        return std::find_if(bodies.begin(), bodies.end(), [&](const auto& b) { return b->id == id; }) - bodies.begin();
    };
    QCOMPARE(place(kPile) + 1, place(kHut));
    d.key(Qt::Key_Z, Qt::ControlModifier);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(d.store().document().body(kPile)->folder, 0);
    // Folded, what lies in it is not listed; the folder says how many.
    const QRect quay = yard.visualRect(yard.rowOf(61));
    d.clickAt(yard.viewport(), QPointF(quay.left() + 14, quay.center().y()));
    QVERIFY(!yard.rowOf(kHut).isValid());
    QCOMPARE(yard.rowOf(61).data(YardModel::ValueRole).toString(), QString("4"));
    d.clickAt(yard.viewport(), QPointF(quay.left() + 14, quay.center().y()));
    QVERIFY(yard.rowOf(kHut).isValid());
    // A folder's menu is for all that lies in it; taken away it leaves them.
    d.fromMenu(yard.viewport(), rowIn(yard, 61), "Hide");
    for (Id id : inFolder(d.store().document(), 61))
        if (const auto b = d.store().document().body(id)) QVERIFY(b->hidden);
    d.fromMenu(yard.viewport(), rowIn(yard, 61), "Take the folder away, keep what is in it");
    QVERIFY(!d.store().document().folder(61) && d.store().document().body(kHut)->folder == 0);
    QVERIFY(yard.rowOf(kHut).isValid());
}

void TestSiteStories::groundComesFromAFile() {
    Driver d;
    ask::answerFile(VICINAL_SOURCE "/examples/foreshore-levels.csv");
    d.whenDialog("groundIn", [&](QDialog* dialog) {
        auto* unit = dialog->findChild<QComboBox*>("groundIn.unit");
        QVERIFY(!dialog->findChild<QPushButton*>("groundIn.ok")->isEnabled()); // a CSV does not say its unit
        unit->setCurrentIndex(unit->findData(1000.0));
        QVERIFY2(dialog->findChild<QLabel*>("groundIn.size")->text().contains("10.4"),
                 qPrintable(dialog->findChild<QLabel*>("groundIn.size")->text()));
        Driver::clickIn(dialog, "groundIn.ok");
    });
    d.find<QAction>("action.bringInGround")->trigger();
    d.settle();
    QCOMPARE(d.store().document().bodies.size(), size_t(1));
    const auto ground = bodyOf(d, d.store().document().bodies[0]->id);
    QVERIFY(!ground->problem && ground->body->mesh->triangles.size() > 1000);
    NEAR(ground->body->mesh->box.sizes().x(), 10'400, 1e-6);
    // Solid down to a foot.
    d.type("body.shape.thickness", "500");
    QVERIFY(volumeOf(*bodyOf(d, ground->item->id)->body) > 1e10);
    // What is no ground is told, and nothing changes.
    const QTemporaryDir dir;
    for (const auto& [name, text, word] : {std::tuple("one.csv", "1,2,3\n", "at least two"),
                                           {"grid.asc", "ncols 3\nnrows 2\ncellsize 1\n1 2 3\n4 5\n", "cut off"},
                                           {"grid.asc", "ncols 3\nnrows 2\n1 2 3 4 5 6\n", "cellsize"},
                                           {"words.csv", "0,0,1\n1,zwei,3\n", "Line 2"}}) {
        ask::answerFile(QString::fromStdString(writeText(dir, name, text)));
        d.find<QAction>("action.bringInGround")->trigger();
        d.settle();
        QVERIFY2(d.window->message().contains(word), qPrintable(d.window->message()));
    }
    QCOMPARE(d.store().document().bodies.size(), size_t(1));
}

void TestSiteStories::bodiesComeFromAFileOneByOne() {
    Driver d;
    ask::answerFile(VICINAL_SOURCE "/examples/winch-link.step");
    int inFile = 0;
    d.whenDialog("partIn", [&](QDialog* dialog) {
        inFile = dialog->findChild<QListWidget*>("partIn.bodies")->count();
        QVERIFY(dialog->windowTitle().contains("site body"));
        if (inFile > 1) Driver::clickIn(dialog, "partIn.each");
        Driver::clickIn(dialog, "partIn.ok");
    });
    d.find<QAction>("action.bringInBody")->trigger();
    d.settle();
    QCOMPARE(int(d.store().document().bodies.size()), std::max(1, inFile));
    for (const auto& b : d.store().document().bodies) QVERIFY(solidOf(*bodyOf(d, b->id)->body));
    QVERIFY(d.store().document().parts.empty());
    // By the general way a mesh comes as either; where one looks it stands on the ground.
    ask::answerFile(VICINAL_SOURCE "/examples/mooring-post.obj");
    d.whenDialog("partIn", [&](QDialog* dialog) {
        auto* unit = dialog->findChild<QComboBox*>("partIn.unit");
        unit->setCurrentIndex(unit->findData(1000.0));
        Driver::clickIn(dialog, "partIn.as.1");
        Driver::clickIn(dialog, "partIn.where.1");
        Driver::clickIn(dialog, "partIn.ok");
    });
    d.find<QAction>("action.bringIn")->trigger();
    d.settle();
    const auto post = bodyOf(d, d.store().document().bodies.back()->id);
    NEAR(post->body->mesh->box.sizes().z(), 860, 1e-3);
    NEAR(post->ground->origin().z() + post->body->mesh->box.min().z(), 0, 1e-6);
}

void TestSiteStories::aPathIsLaidAndFeetStand() {
    Story d(kStones, kSite);
    // The fence's line on the ground, from the menu.
    d.store().selectItem(Selection::Kind::Path, 2);
    d.find<QAction>("action.derive.laid")->trigger();
    d.settle();
    const auto laid = d.store().currentPath();
    const Ground& ground = *bodyOf(d, kForeshore)->ground;
    QVERIFY(laid->path && !laid->problem);
    for (double s : evenly(laid->path->length(), 60)) {
        const Vec3 p = laid->path->at(s).point;
        NEAR(p.z(), ground.heightAt(p).value_or(1e9), 1e-5);
    }
    d.type("sheet.path.recipe.above", "50");
    NEAR(d.store().currentPath()->path->at(0).point.z(), laid->path->at(0).point.z() + 50, 1e-6);
    // The run's feet: off, they stand on the path; on, each has its own level, and the schedule lists it.
    d.choose(kStones);
    d.open("ground");
    auto* choice = d.find<QComboBox>("run.ground");
    const auto choose = [&](Id id) {
        choice->setCurrentIndex(choice->findData(id));
        emit choice->activated(choice->currentIndex());
        d.settle();
    };
    choose(0);
    QVERIFY(!d.run()->placed->laid->dropped);
    QVERIFY(d.find<QLabel>("feet.says")->text().contains("on the path"));
    choose(kForeshore);
    d.type("sunk", "40");
    const Placed& p = *d.run()->placed;
    for (size_t i = 0; i < p.count(); ++i)
        NEAR(p.frame(i).seat.z(), ground.heightAt(p.frame(i).seat).value_or(1e9) - 40, 1e-5);
    QVERIFY(d.find<QLabel>("sheet.sentence")->text().contains("Foreshore"));
    d.find<QAction>("action.showSchedule")->trigger();
    d.settle();
    auto* table = d.window->findChild<QTableView*>("schedule.table");
    QVERIFY(table);
    const int raised = table->model()->columnCount() - 1;
    QCOMPARE(table->model()->headerData(raised, Qt::Horizontal).toString(), QString("raised"));
    QCOMPARE(table->model()->index(2, raised).data().toString().remove(' ').toDouble(),
             std::round(p.laid->dropped->by[2] * 100) / 100);
    // Level in bays shows its own choice.
    QVERIFY(!d.find("run.bayLevel.0")->isVisible());
    d.pick("run.feetBy", 1);
    QVERIFY(d.find("run.bayLevel.0")->isVisible());
    NEAR(d.run()->placed->frame(0).seat.z(), d.run()->placed->frame(5).seat.z(), 1e-9);
}

void TestSiteStories::crownsAndNosesGoByBodies() {
    Story d(23, kSite); // stakes on the laid line, plumb
    d.open("facing");
    const auto crown = [&](size_t i) { return Vec3(d.run()->placed->frame(i).axes.col(2)); };
    QVERIFY(crown(3).isApprox(Vec3::UnitZ()));
    d.pick("run.crown", 5);
    QVERIFY(std::holds_alternative<OffSurface>(d.item().facing.crown));
    QVERIFY(d.find("run.surface")->isVisible());
    // Without a choice of its own: off what the path lies on.
    const Ground& ground = *bodyOf(d, kForeshore)->ground;
    for (size_t i = 0; i < d.run()->placed->count(); ++i) {
        const Vec3 n = ground.nearest(d.run()->placed->path.at(d.run()->placed->stations()[i]).point).normal;
        QVERIFY(crown(i).dot(n) > std::cos(12 * kDegree)); // square to the path, which is smooth
    }
    QVERIFY(!crown(3).isApprox(Vec3::UnitZ()));
    // Noses at a body.
    d.pick("run.nose", 3);
    auto* target = d.find<QComboBox>("run.targetBody");
    QVERIFY(target->isVisible());
    target->setCurrentIndex(target->findData(kPile));
    emit target->activated(target->currentIndex());
    d.settle();
    const Ground& pile = *bodyOf(d, kPile)->exact;
    for (size_t i = 0; i < d.run()->placed->count(); ++i) {
        const Frame& f = d.run()->placed->frame(i);
        NEAR(f.axes.col(0).dot((pile.nearest(f.seat).at - f.seat).normalized()), 1, 1e-9);
    }
    QVERIFY(!d.find("edit.target0")->isVisible()); // the point has no say then
}

void TestSiteStories::edgesAndFacesOfBodies() {
    Story d(kStones, kSite);
    d.store().selectItem(Selection::Kind::Body, kRamp);
    d.settle();
    d.view().frameSelection();
    d.settle();
    d.click("body.edge");
    // Near the middle of the landing's far edge.
    const auto ramp = bodyOf(d, kRamp);
    const Box3& box = ramp->body->mesh->box;
    const Vec3 top(box.max().x() - 60, box.center().y(), box.max().z());
    d.clickAt(&d.view(), pixelOf(d, ramp->ground->turn() * top + ramp->ground->origin()));
    QCOMPARE(d.store().selection().kind, Selection::Kind::Path);
    const Id path = d.store().selection().id;
    const auto before = d.store().evaluation().paths.at(path)->path->bounds();
    d.store().change<BodyItem>(kRamp, "Move", {}, [](BodyItem& b) { b.at.z() += 100; });
    const auto after = d.store().evaluation().paths.at(path)->path->bounds();
    NEAR((after.min() - before.min() - Vec3(0, 0, 100)).norm(), 0, 1e-6);
    // What is drawn catches the body's corners.
    d.view().setLook(Viewport::Look::Plan);
    d.store().selectItem(Selection::Kind::Body, kRamp);
    d.view().frameSelection(); // in the middle, beside the bar of the tool
    d.view().tools().draw().begin();
    d.settle();
    const auto moved = bodyOf(d, kRamp); // where it stands by now
    const Vec3 corner =
        moved->ground->turn() * Vec3(box.max().x(), box.max().y(), box.max().z()) + moved->ground->origin();
    const auto caught = [&] {
        const auto& c = d.view().tools().draw().caught();
        return c && (c->at - corner).head<2>().norm() < 1e-6;
    };
    for (int tries = 0; tries < 40 && !caught(); ++tries) {          // a busy display loses a move now and then
        for (const QPointF& away : {QPointF(40, 40), QPointF(3, 2)}) // two moves, as a hand does
            QTest::mouseMove(&d.view(), (pixelOf(d, corner) + away).toPoint());
        d.settle();
    }
    QVERIFY(caught());
    d.view().tools().draw().cancel();
}

void TestSiteStories::crossingsAreSwitchedWithAClick() {
    Story d(kStones, kSite);
    d.store().selectItem(Selection::Kind::Path, kHeap);
    d.settle();
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    d.settle();
    const auto first = d.store().currentPath();
    QVERIFY2(first->path && !first->problem, first->problem ? first->problem->text.c_str() : "");
    QVERIFY(first->crossings.size() >= 3);
    auto* list = d.find<QListWidget>("sheet.path.recipe.crossings");
    QCOMPARE(size_t(list->count()), first->crossings.size());
    d.clickAt(&d.view(), pixelOf(d, first->crossings[1].at));
    const auto second = d.store().currentPath();
    QVERIFY2(!second->problem, second->problem ? second->problem->text.c_str() : "");
    QVERIFY(second->crossings[1].upper == first->crossings[1].lower);
    QCOMPARE(d.store().selection().id, kHeap); // still in hand
    // Back from the list.
    list->setCurrentRow(1);
    d.click("sheet.path.recipe.switch");
    QVERIFY(d.store().currentPath()->crossings[1].upper == first->crossings[1].upper);
    // One that cannot be is told; the marks stay, so that a click takes it back.
    d.clickAt(&d.view(), pixelOf(d, first->crossings[0].at));
    QVERIFY(d.store().currentPath()->problem && d.store().currentPath()->path);
    QCOMPARE(d.store().currentPath()->crossings.size(), first->crossings.size());
    d.clickAt(&d.view(), pixelOf(d, first->crossings[0].at));
    QVERIFY(!d.store().currentPath()->problem);
    // A thickness that cannot be is told at its field; the last good path stays.
    d.type("sheet.path.recipe.ease", "1");
    QVERIFY(!d.errorAt("sheet.path.recipe.ease").isEmpty());
    QVERIFY(d.store().currentPath()->path);
}

void TestSiteStories::bodiesGoOut() {
    Story d(kStones, kSite);
    const auto goods = exportSetOf(d.store().evaluation(), {});
    QVERIFY(bool(goods));
    size_t bodies = 0;
    for (const auto& s : goods->standing) bodies += s->asBody() != nullptr;
    const auto& all = d.store().document().bodies;
    QCOMPARE(bodies, size_t(std::count_if(all.begin(), all.end(), [](const auto& b) { return !b->hidden; })));
    d.store().edit(withHidden(d.store().document(), {kHut}, true), "Hide");
    const auto fewer = exportSetOf(d.store().evaluation(), {});
    QCOMPARE(fewer->standing.size() + 1, goods->standing.size());
}

void TestSiteStories::railsFollowTheirRun() {
    Story d(kPosts, kSite);
    const size_t before = d.store().document().bodies.size();
    d.find<QAction>("action.rail.straight")->trigger();
    d.settle();
    QCOMPARE(d.store().document().bodies.size(), before + 1);
    const Id id = d.store().document().bodies.back()->id;
    QCOMPARE(d.store().selection().id, id);
    const auto run = d.store().evaluation().run(kPosts);
    QVERIFY2(!bodyOf(d, id)->problem, bodyOf(d, id)->problem ? bodyOf(d, id)->problem->text.c_str() : "");
    QCOMPARE(bodyOf(d, id)->bars.size(), run->placed->count() - 1);
    auto* list = d.find<QTableWidget>("body.list");
    QVERIFY(list->isVisible() && list->rowCount() > 0);
    QVERIFY(list->item(0, 0)->text().contains(QChar(0xd7)));
    // Another section, two of them, returned; each is an undo step, a wrong one is told at its field.
    d.type("body.shape.count", "2");
    d.type("body.shape.width", "60");
    QCOMPARE(bodyOf(d, id)->bars.size(), 2 * (run->placed->count() - 1));
    d.type("body.shape.wall", "40");
    QVERIFY(!d.errorAt("body.shape.wall").isEmpty());
    QVERIFY(bodyOf(d, id)->body && bodyOf(d, id)->problem);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!bodyOf(d, id)->problem);
    d.find<QAbstractButton>("body.shape.endEnd.2")->click();
    d.settle();
    QCOMPARE(bodyOf(d, id)->bars.size(), 2 * run->placed->count());
    // The posts move: so do the rails.
    const double length = bodyOf(d, id)->bars[0].length;
    d.store().selectItem(Selection::Kind::Run, kPosts);
    d.settle();
    d.type("about", "900");
    QVERIFY(bodyOf(d, id)->bars[0].length > length + 100);
    // The list goes out.
    ScheduleOrder order;
    order.of = ScheduleOf::Bars;
    const auto goods = exportSetOf(d.store().evaluation(), {id});
    QVERIFY(bool(goods));
    const auto bars = listOf(*goods, order);
    QVERIFY(bool(bars));
    QCOMPARE(csvOf(*bars).find("rail,line,bar,length"), size_t(0));
    for (const char* name : {"action.rail.bent", "action.rail.gauge"}) {
        d.store().selectItem(Selection::Kind::Run, kPosts);
        d.find<QAction>(name)->trigger();
        d.settle();
        const auto made = bodyOf(d, d.store().document().bodies.back()->id);
        QVERIFY2(!made->problem, made->problem ? made->problem->text.c_str() : "");
    }
}

void TestSiteStories::aRunCutsTheBodyUnderIt() {
    Story d(kDrainSlots, kSite);
    // The demo's blank is hidden; it is cut anew by hand.
    BodyItem blank = *d.store().document().body(kDrainBlank);
    blank.hidden = false;
    BodyItem own = *d.store().document().body(kDrainCover);
    own.hidden = true;
    d.store().edit(with(with(d.store().document(), blank), own), "Show the blank");
    d.settle();
    const size_t before = d.store().document().bodies.size();
    d.store().selectItem(Selection::Kind::Run, kDrainSlots);
    d.find<QAction>("action.cut")->trigger();
    d.settle();
    QCOMPARE(d.store().document().bodies.size(), before + 1);
    const Id id = d.store().document().bodies.back()->id;
    const auto& shape = std::get<CutBy>(d.store().document().body(id)->shape);
    QCOMPARE(shape.of, kDrainBlank);
    QVERIFY(d.store().document().body(kDrainBlank)->hidden && d.store().document().run(kDrainSlots)->hidden);
    QVERIFY2(bodyOf(d, id)->cut, bodyOf(d, id)->problem ? bodyOf(d, id)->problem->text.c_str() : "no cut");
    const size_t tools = bodyOf(d, id)->cut->tools;
    auto* list = d.find<QTableWidget>("body.list");
    QVERIFY(list->isVisible() && list->rowCount() > 0);
    QVERIFY(d.find<QLabel>("body.list.head")->text().contains("Least web"));
    // A limit is held; fewer slots leave more.
    d.type("body.shape.least", "60");
    QVERIFY(bodyOf(d, id)->verdict.mark == Mark::Doubtful);
    QVERIFY(!d.find<QLabel>("body.remarks")->text().isEmpty());
    d.store().selectItem(Selection::Kind::Run, kDrainSlots);
    d.settle();
    const double web = bodyOf(d, id)->cut->webs.front().width;
    d.type("count", "10");
    QCOMPARE(bodyOf(d, id)->cut->tools, tools / 2);
    QVERIFY(bodyOf(d, id)->cut->webs.front().width > web);
    // To a depth it is a true boolean: the window goes on, and the cut comes behind.
    d.store().selectItem(Selection::Kind::Body, id);
    d.settle();
    d.find<QAbstractButton>("body.shape.depth.1")->click();
    d.settle();
    QVERIFY(QTest::qWaitFor([&] { return !d.store().evaluating() && !d.store().evaluation().deferred(); }, 30000));
    QVERIFY2(!bodyOf(d, id)->problem && bodyOf(d, id)->cut && !bodyOf(d, id)->cut->flat,
             bodyOf(d, id)->problem ? bodyOf(d, id)->problem->text.c_str() : "");
    // Raised on the same body by its button.
    d.store().selectItem(Selection::Kind::Body, kDrainBlank);
    d.settle();
    auto* menu = d.find<QMenu>("body.cut.runs");
    emit menu->aboutToShow();
    QAction* raise = nullptr;
    for (QAction* a : menu->actions())
        if (a->text().startsWith("Raise Drain slots")) raise = a;
    QVERIFY(raise != nullptr);
    raise->trigger();
    d.settle();
    QVERIFY(std::get<CutBy>(d.store().document().bodies.back()->shape).does == CutDoes::Raise);
}

VICINAL_SUITE(TestSiteStories)

} // namespace test_site_stories
#include "test_site_stories.moc"
