// Site bodies, feet on the ground, locks and folders: what stands where, and what follows what.
#include "documents.h"
#include "layout/facing/facing.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/yard_edits.h"
#include "parts/body.h"
#include "suite.h"

namespace test_site {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Document drawn(const std::vector<Vec3>& points, bool closed = false, Document d = {}) {
    PointsRecipe r;
    for (const Vec3& p : points) r.points.push_back({p, false});
    r.closed = closed;
    return with(std::move(d), PathItem{0, "", r});
}

Document withBody(Document d, BodyShape shape, const Vec3& at = Vec3::Zero(), const Vec3& turn = Vec3::Zero(),
                  double size = 1) {
    BodyItem b;
    b.shape = std::move(shape);
    b.at = at;
    b.turn = turn;
    b.size = size;
    return with(std::move(d), std::move(b));
}

std::shared_ptr<const BodyResult> bodyIn(const Evaluation& e, Id id) { return e.bodies.at(id); }

/// Of the body as it stands: the volume, and the box of its triangles.
Box3 boxOf(const BodyResult& b) {
    Box3 box;
    for (const Vec3& p : b.body->mesh->points) box.extend(Vec3(b.ground->turn() * p + b.ground->origin()));
    return box;
}

MadeGround slope() {
    MadeGround g;
    g.length = 10'000;
    g.width = 6000;
    g.rise = 1000;
    return g;
}
double heightOnSlope(double x) { return 500 + x / 10; }

/// A run of short bars along the first path.
RunItem bars(Id path, Id part, double pitch) {
    RunItem r;
    r.path = path;
    r.part = part;
    r.spacing->rule = StepOff{pitch};
    return r;
}

} // namespace

class TestSite : public QObject {
    Q_OBJECT
private slots:
    void everyMakerStandsAsABody();
    void platesAndWallsHaveTheirVolumes();
    void wallsOnSlopesAreClosedAndAsThick();
    void theyFollowTheirPathAndPart();
    void movedTurnedAndSized();
    void edgesBecomePathsThatFollow();
    void laidPathsFollowBoth();
    void whatGoesRoundInACircleIsRefused();
    void feetStandOnTheGround();
    void feetStandOnRoundBodies();
    void feetInLevelBays();
    void rowsTiersAndEchoesStandToo();
    void beyondTheGroundItIsSaid();
    void crownsOffASurfaceAndNosesAtABody();
    void onlyWhatChangedIsWorkedOutAgain();
    void whatIsLockedStays();
    void surfacesThatRunThroughThemselvesAreSaid();
    void severalAtOnce();
    void orderAndFolders();
    void theyComeBackFromAFile();
    void wrongValuesAreSaidAtTheirField();
};

void TestSite::everyMakerStandsAsABody() {
    Document d;
    for (const auto& entry : makerEntries()) d = withBody(d, entry.maker, Vec3(100, 200, 300));
    const auto e = evaluate(d);
    QCOMPARE(e->standing().size(), makerEntries().size());
    for (const auto& b : d.bodies) {
        const auto r = bodyIn(*e, b->id);
        QVERIFY2(!r->problem, b->name.c_str());
        const auto own = make(std::get<Maker>(b->shape));
        Box3 box;
        for (const Vec3& p : own->mesh->points) box.extend(Vec3(p + Vec3(100, 200, 300)));
        NEAR((boxOf(*r).min() - box.min()).norm() + (boxOf(*r).max() - box.max()).norm(), 0, 1e-9);
        QVERIFY(r->item == b && r->present() == 1);
    }
    // The two that came with them, by closed formulas.
    NEAR(volumeOf(**bodyOf(make(Wedge{600, 300, 200}))), 600.0 * 300 * 200 / 2, 1e-3);
    const Ramp r{2400, 1200, 300, 20, 1000};
    NEAR(volumeOf(**bodyOf(make(r))), 1200 * (2400 * (20 + 150.0) + 1000 * 320.0), 1e-2);
    NEAR(volumeOf(**bodyOf(make(Ramp{2400, 1200, 300, 0, 0}))), 1200 * 2400 * 150.0, 1e-2);
}

void TestSite::platesAndWallsHaveTheirVolumes() {
    Document d = drawn({{0, 0, 500}, {2000, 0, 500}, {2000, 1000, 500}, {0, 1000, 500}}, true);
    const Id square = lastId(d);
    d = with(d, PathItem{0, "", ShapeRecipe{CircleShape{800}, {5000, 0, 100}, Plane::Front, 0, 0.3}});
    const Id circle = lastId(d);
    d = drawn({{0, 5000, 0}, {3000, 5000, 0}, {3000, 8000, 0}}, false, d);
    const Id bent = lastId(d);
    d = withBody(d, PlateOf{square, 25, true});
    d = withBody(d, PlateOf{circle, 40, false});
    d = withBody(d, WallAlong{bent, 1500, 200, 300, WallSide::Middle});
    d = withBody(d, WallAlong{bent, 1500, 0, 300, WallSide::Left});
    d = withBody(d, WallAlong{bent, 1500, 0, 300, WallSide::Right});
    d = withBody(d, WallAlong{square, 900, 0, 100, WallSide::Middle});
    d = with(d, PathItem{0, "", ShapeRecipe{CircleShape{800}, {5000, 0, 100}, Plane::Front, 0, 0}});
    d = withBody(d, WallAlong{lastId(d), 900, 0, 100, WallSide::Middle}); // goes straight up and down somewhere
    const auto e = evaluate(d);
    const auto volume = [&](size_t i) { return volumeOf(*bodyIn(*e, d.bodies[i]->id)->body); };
    NEAR(volume(0), 2000.0 * 1000 * 25, 1e-2);
    const Box3 plate = boxOf(*bodyIn(*e, d.bodies[0]->id)); // where the path is, under its plane
    NEAR((plate.min() - Vec3(0, 0, 475)).norm() + (plate.max() - Vec3(2000, 1000, 500)).norm(), 0, 1e-9);
    NEAR(volume(1), kPi * 800 * 800 * 40, 1e-3);
    NEAR((bodyIn(*e, d.bodies[1]->id)->ground->origin() - Vec3(5000, 0, 100)).norm(), 0, 1e-9);
    // Mitred at the corner: on the outside a square more, on the inside one less.
    NEAR(volume(2), 1700.0 * 300 * 6000, 1e-2);
    NEAR(volume(3), 1500.0 * 300 * (6000 - 300), 1e-2); // the path turns left: the left side is inside
    NEAR(volume(4), 1500.0 * 300 * (6000 + 300), 1e-2);
    NEAR(volume(5), 900.0 * (2100.0 * 1100 - 1900 * 900), 1e-2);
    QVERIFY(solidOf(*bodyIn(*e, d.bodies[2]->id)->body)); // exact
    QVERIFY(bodyIn(*e, d.bodies[6]->id)->problem);
    // A wall too thick for its bend says so.
    d = drawn({{0, 0, 0}, {100, 0, 0}, {100, 50, 0}, {0, 50, 0}}, false, d);
    d = withBody(d, WallAlong{lastId(d), 900, 0, 400, WallSide::Left});
    const auto thick = bodyIn(*evaluate(d), d.bodies.back()->id);
    QVERIFY(thick->problem && thick->problem->field == "thickness");
    d = withBody(d, PlateOf{bent, 10, true});
    QCOMPARE(bodyIn(*evaluate(d), d.bodies.back()->id)->problem->field, std::string("path"));
}

void TestSite::wallsOnSlopesAreClosedAndAsThick() {
    // Straight and rising: a sheared box, whose volume shearing does not change.
    Document d = drawn({{0, 0, 0}, {3000, 4000, 1500}});
    d = withBody(d, WallAlong{1, 1000, 250, 200, WallSide::Left});
    // Bent and rising; a screw; a closed one that rises and falls.
    d = drawn({{0, 0, 0}, {3000, 0, 500}, {3000, 3000, 900}, {-500, 3500, 0}}, false, d);
    d = withBody(d, WallAlong{lastId(d), 800, 0, 150, WallSide::Middle});
    d = with(d, PathItem{0, "", ShapeRecipe{HelixShape{2000, 2000, HelixBy::Turns, 0.9, 1, 1500, false}}});
    d = withBody(d, WallAlong{lastId(d), 800, 0, 150, WallSide::Right});
    d = drawn({{0, 0, 0}, {3000, 0, 500}, {3000, 3000, 900}, {0, 3000, 200}}, true, d);
    d = withBody(d, WallAlong{lastId(d), 800, 0, 150, WallSide::Middle});
    const auto e = evaluate(d);
    for (const auto& b : d.bodies) {
        const auto r = bodyIn(*e, b->id);
        QVERIFY2(!r->problem, r->problem ? r->problem->text.c_str() : "");
        MeshReport report;
        QVERIFY(cleaned(*r->body->mesh, &report) && report.watertight() && report.turned == 0);
        QVERIFY(volumeOf(*r->body->mesh) > 0);
    }
    NEAR(volumeOf(*bodyIn(*e, d.bodies[0]->id)->body->mesh), 5000.0 * 1250 * 200, 1);
    const auto& helix = *bodyIn(*e, d.bodies[2]->id);
    const double outer = 2000 + 150, swept = 0.9 * kPi * (outer * outer - 2000.0 * 2000) * 800;
    NEAR(volumeOf(*helix.body->mesh), swept, swept * 2e-3);
}

void TestSite::theyFollowTheirPathAndPart() {
    Document d = drawn({{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}, {0, 1000, 0}}, true);
    d = withBody(d, PlateOf{1, 10, false}, Vec3(0, 0, 50));
    const Id plate = lastId(d);
    d = with(d, PartItem{0, "Post", Post{}, {}});
    const Id post = lastId(d);
    d = withBody(d, PartUse{post}, Vec3(500, 500, 0));
    const Id stands = lastId(d);
    const auto before = evaluate(d);
    PathItem p = *d.path(1);
    for (auto& q : std::get<PointsRecipe>(p.recipe).points) q.at += Vec3(300, 400, 100);
    std::get<PointsRecipe>(p.recipe).points[2].at += Vec3(0, 1000, 0);
    PartItem taller = *d.part(post);
    std::get<Post>(std::get<Maker>(taller.shape)).height = 2000;
    const auto after = evaluate(with(with(d, p), taller), before);
    const Box3 box = boxOf(*bodyIn(*after, plate));
    NEAR((box.min() - Vec3(300, 400, 150)).norm(), 0, 1e-9);
    NEAR(volumeOf(*bodyIn(*after, plate)->body), 1500.0 * 1000 * 10, 1e-3);
    QVERIFY(boxOf(*bodyIn(*after, stands)).sizes().z() > boxOf(*bodyIn(*before, stands)).sizes().z() + 800);
    // Without their source they keep their last shape and say what is missing.
    const auto gone = evaluate(without(without(d, 1), post), before);
    for (Id id : {plate, stands}) {
        const auto r = bodyIn(*gone, id);
        QVERIFY(r->problem && r->body && r->instances);
    }
    QCOMPARE(bodyIn(*gone, plate)->problem->field, std::string("path"));
    QCOMPARE(usersOf(d, 1), std::vector<std::string>{d.body(plate)->name});
}

void TestSite::movedTurnedAndSized() {
    Document d = withBody({}, Maker(PlainBox{200, 100, 50}), Vec3(1000, 0, 0), Vec3(0, 0, kPi / 2), 2);
    const auto r = bodyIn(*evaluate(d), 1);
    const Box3 box = boxOf(*r);
    NEAR((box.min() - Vec3(900, -200, 0)).norm() + (box.max() - Vec3(1100, 200, 100)).norm(), 0, 1e-9);
    NEAR(volumeOf(*r->body), 8 * 200.0 * 100 * 50, 1e-3);
    const Mat4 pose = r->instances->pose(0); // as the picture has it
    const Vec3 corner = (pose * Vec3(200, 100, 0).homogeneous()).head<3>();
    NEAR((corner - Vec3(900, 200, 0)).norm(), 0, 1e-9);
}

void TestSite::edgesBecomePathsThatFollow() {
    Document d = withBody({}, Maker(PlainBox{2000, 1000, 300}), Vec3(500, 0, 0));
    EdgesRecipe edges;
    edges.part = 1;
    edges.pick = Vec3(0.5, 0, 1); // the top's edge at low y
    d = with(d, PathItem{0, "", edges});
    const Id path = lastId(d);
    const auto before = evaluate(d);
    NEAR(before->paths.at(path)->path->length(), 6000, 1e-9);
    NEAR(before->paths.at(path)->path->bounds().min().z(), 300, 1e-9);
    BodyItem moved = *d.body(1);
    moved.at = Vec3(500, 7000, 100);
    moved.turn = Vec3(0, 0, kPi / 2);
    moved.size = 0.5;
    const auto after = evaluate(with(d, moved), before);
    const Box3 box = after->paths.at(path)->path->bounds();
    NEAR((box.min() - Vec3(250, 6500, 250)).norm() + (box.max() - Vec3(750, 7500, 250)).norm(), 0, 1e-9);
    // Renamed or painted, it is not worked out again.
    BodyItem named = moved;
    named.name = "Quay wall";
    named.colour = 3;
    const auto same = evaluate(with(with(d, moved), named), after);
    QVERIFY(same->paths.at(path) == after->paths.at(path));
}

void TestSite::laidPathsFollowBoth() {
    Document d = withBody({}, slope());
    d = drawn({{-4000, -2000, 9000}, {4000, 2000, 0}}, false, d);
    LaidOn on;
    on.body = 1;
    d = with(d, PathItem{0, "", DerivedRecipe{2, on}});
    const Id laid = lastId(d);
    auto e = evaluate(d);
    const auto check = [&](double lift) {
        const Path& path = *e->paths.at(laid)->path;
        for (double s : evenly(path.length(), 20)) {
            const Vec3 p = path.at(s).point;
            NEAR(p.z(), heightOnSlope(p.x()) + lift, 1e-7);
        }
    };
    check(0);
    BodyItem ground = *d.body(1);
    ground.at.z() = 250;
    d = with(d, ground);
    e = evaluate(d, e);
    check(250);
    PathItem source = *d.path(2);
    std::get<PointsRecipe>(source.recipe).points[1].at = Vec3(7000, 2000, 0); // beyond the ground
    d = with(d, source);
    e = evaluate(d, e);
    check(250);
    NEAR(e->paths.at(laid)->path->bounds().max().x(), 5000, 1e-6);
    QVERIFY(!e->paths.at(laid)->remarks.empty());
    // Off the ground altogether: the last state stays, and why.
    for (auto& p : std::get<PointsRecipe>(source.recipe).points) p.at.y() = 9000;
    e = evaluate(with(d, source), e);
    QVERIFY(e->paths.at(laid)->problem && e->paths.at(laid)->path);
    QCOMPARE(e->paths.at(laid)->problem->field, std::string("body"));
    QVERIFY(evaluate(without(d, 1))->paths.at(laid)->problem->field == "body");
}

void TestSite::whatGoesRoundInACircleIsRefused() {
    Document d = drawn({{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}}, true);
    d = withBody(d, PlateOf{1, 10, true});
    const Id plate = lastId(d);
    LaidOn on;
    on.body = plate;
    d = with(d, PathItem{1, "Round", DerivedRecipe{1, on}}); // laid on what is made of it
    const auto e = evaluate(d);
    QVERIFY(e->paths.at(1)->problem && e->bodies.at(plate)->problem);
    QVERIFY2(e->paths.at(1)->problem->text.find("circle") != std::string::npos ||
                 e->paths.at(1)->problem->text.find("itself") != std::string::npos,
             e->paths.at(1)->problem->text.c_str());
    QVERIFY(follows(d, plate, 1));
}

void TestSite::feetStandOnTheGround() {
    Document d = drawn({{-3000, -500, 2000}, {3000, 900, 2500}});
    d = withBody(d, slope());
    const Id ground = lastId(d);
    d = with(d, PartItem{0, "Bar", Baluster{}, {BoxPoint{0, 0, -1}, Axis::PlusX, Axis::PlusZ}});
    RunItem r = bars(1, lastId(d), 400);
    d = with(d, r);
    const Id run = lastId(d);
    const auto smooth = evaluate(d);
    RunItem on = *d.run(run);
    on.feet.ground = ground;
    on.feet.sunk = 30;
    d = with(d, on);
    const auto e = evaluate(d, smooth);
    const auto &a = *smooth->run(run)->placed, &b = *e->run(run)->placed;
    QCOMPARE(a.count(), b.count());
    QVERIFY(b.laid->dropped && b.laid->dropped->without.empty());
    for (size_t i = 0; i < a.count(); ++i) {
        const Vec3 was = a.frame(i).seat, is = b.frame(i).seat;
        NEAR((was - is).head<2>().norm(), 0, 0);
        NEAR(is.z(), heightOnSlope(is.x()) - 30, 1e-7);
        NEAR(b.laid->dropped->by[i], is.z() - was.z(), 1e-9);
        NEAR((a.frame(i).axes - b.frame(i).axes).norm(), 0, 1e-12); // plumb stays plumb
    }
    QVERIFY(!smooth->run(run)->placed->laid->dropped);
    // Other changes count besides: raised, moved, left out.
    on.changes.up = {{{0, 75}}};
    on.leftOut = {3};
    Exception moved;
    moved.place = 2;
    moved.move = Vec3(100, 0, 10);
    on.exceptions = {moved};
    const auto more = evaluate(with(d, on), e);
    const Placed& c = *more->run(run)->placed;
    NEAR(c.frame(0).seat.z(), heightOnSlope(c.frame(0).seat.x()) - 30 + 75, 1e-7);
    NEAR(c.frame(1).seat.z(), heightOnSlope(c.frame(1).seat.x()) - 30 + 75 + 10 + (a.frame(1).axes.col(0) * 100).z(),
         1e-6);
    QVERIFY(c.leftOut(2));
}

void TestSite::feetStandOnRoundBodies() {
    // A drum that lies: the surface itself, not the triangles it is drawn with (10 mm off).
    Document d = drawn({{-700, 40, 3000}, {900, 300, 3000}});
    d = withBody(d, Maker(Cylinder{2000, 2600}), {100, 1500, 400}, {kPi / 2, 0, 0});
    const Id drum = lastId(d);
    d = with(d, PartItem{0, "Bar", Baluster{}, {BoxPoint{0, 0, -1}, Axis::PlusX, Axis::PlusZ}});
    RunItem r = bars(1, lastId(d), 90);
    r.feet.ground = drum;
    r.feet.sunk = 5;
    const auto e = evaluate(with(d, r));
    const Placed& p = *e->runs.front()->placed;
    QVERIFY(p.count() > 15 && p.laid->dropped && p.laid->dropped->without.empty());
    for (size_t i = 0; i < p.count(); ++i) {
        const Vec3 at = p.frame(i).seat;
        NEAR(at.z(), 400 + std::sqrt(1e6 - (at.x() - 100) * (at.x() - 100)) - 5, 0.02);
    }
}

void TestSite::feetInLevelBays() {
    // Posts every 2000 on the slope, bars between them: level in each bay.
    Document d = drawn({{-4000, 0, 3000}, {4000, 0, 3000}});
    d = withBody(d, slope());
    const Id ground = lastId(d);
    d = with(d, PartItem{0, "Post", Post{}, {BoxPoint{0, 0, -1}, Axis::PlusX, Axis::PlusZ}});
    RunItem posts = bars(1, lastId(d), 2000);
    posts.feet.ground = ground;
    d = with(d, posts);
    const Id postRun = lastId(d);
    d = with(d, PartItem{0, "Bar", Baluster{}, {BoxPoint{0, 0, -1}, Axis::PlusX, Axis::PlusZ}});
    RunItem r = bars(1, lastId(d), 300);
    r.spacing->rule = ShareOut{5, ShareEnds::HalfPitchIn};
    r.spacing->bays = BayEdges::Run;
    r.spacing->bayRun = postRun;
    r.feet = {ground, FeetBy::Level, BayLevel::Highest, 0};
    d = with(d, r);
    const Id run = lastId(d);
    for (const auto& [level, pick] :
         {std::pair(BayLevel::Highest, 1.0), {BayLevel::Lowest, 0.0}, {BayLevel::Middle, 0.5}}) {
        RunItem x = *d.run(run);
        x.feet.level = level;
        const auto e = evaluate(with(d, x));
        QVERIFY2(!e->run(run)->problem, e->run(run)->problem ? e->run(run)->problem->text.c_str() : "");
        const Placed& p = *e->run(run)->placed;
        QCOMPARE(p.laid->bays.size(), size_t(4));
        QCOMPARE(p.count(), size_t(20));
        for (const Bay& bay : p.laid->bays) {
            const double first = heightOnSlope(p.frame(bay.first).seat.x()),
                         last = heightOnSlope(p.frame(bay.first + bay.count - 1).seat.x());
            for (size_t i = bay.first; i < bay.first + bay.count; ++i)
                NEAR(p.frame(i).seat.z(), first + pick * (last - first), 1e-7);
        }
    }
}

void TestSite::rowsTiersAndEchoesStandToo() {
    Document d = drawn({{-3000, -1000, 2000}, {0, 0, 2100}, {3000, -1000, 2000}});
    d = withBody(d, slope());
    const Id ground = lastId(d);
    d = with(d, PartItem{0, "Bar", Baluster{}, {BoxPoint{0, 0, -1}, Axis::PlusX, Axis::PlusZ}});
    for (RowsKeep keep : {RowsKeep::Abreast, RowsKeep::Pitch}) {
        RunItem r = bars(1, lastId(d), 500);
        r.feet.ground = ground;
        r.rows = {2, 2, 300, 950, false, keep};
        r.echoes.one = {EchoKind::Mirrored, Vec3(0, 500, 0), Vec3(0, 1, 0), 2, 0, 0};
        const auto e = evaluate(with(d, r));
        const auto& result = *e->runs[0];
        QVERIFY2(!result.problem, result.problem ? result.problem->text.c_str() : "");
        const Placement& laid = *result.placed->laid;
        const size_t half = laid.count() / 2, tier = half / 2;
        for (size_t i = 0; i < laid.count(); ++i) {
            const Vec3 p = laid.frames[i].seat;
            NEAR(p.z(), heightOnSlope(p.x()) + (i % half >= tier ? 950 : 0), 1e-6);
        }
    }
}

void TestSite::beyondTheGroundItIsSaid() {
    Document d = drawn({{-3000, 0, 2000}, {9000, 0, 2000}});
    d = withBody(d, slope());
    const Id ground = lastId(d);
    d = with(d, PartItem{0, "Bar", Baluster{}, {BoxPoint{0, 0, -1}, Axis::PlusX, Axis::PlusZ}});
    RunItem r = bars(1, lastId(d), 1000);
    r.feet.ground = ground;
    const auto e = evaluate(with(d, r));
    const auto& result = *e->runs[0];
    QCOMPARE(result.placed->laid->dropped->without, (std::vector<size_t>{9, 10, 11, 12}));
    for (size_t i : result.placed->laid->dropped->without) NEAR(result.placed->frame(i).seat.z(), 2000, 0);
    QVERIFY(result.verdict.mark == Mark::Doubtful && result.verdict.place == 9);
    QVERIFY2(result.remarks[0].find("Places 10, 11, 12 and 1 more have no ground") == 0, result.remarks[0].c_str());
    // A roof over it overhangs.
    Mesh two = boxMesh(Box3(Vec3(-2000, -500, 0), Vec3(2000, 500, 10)));
    const Mesh roof = boxMesh(Box3(Vec3(-2000, -500, 900), Vec3(0, 500, 950)));
    const auto n = std::uint32_t(two.points.size());
    two.points.insert(two.points.end(), roof.points.begin(), roof.points.end());
    for (auto t : roof.triangles) two.triangles.push_back({t[0] + n, t[1] + n, t[2] + n});
    LevelData levels{two.points, {}, two.triangles};
    d = withBody(d, levelsOf(levels, "roof"));
    r.feet.ground = lastId(d);
    const auto roofed = evaluate(with(d, r))->runs[0];
    QVERIFY(!roofed->placed->laid->dropped->overhung.empty());
    NEAR(roofed->placed->frame(1).seat.z(), 950, 1e-9);
}

void TestSite::crownsOffASurfaceAndNosesAtABody() {
    // On a ball the crown off the surface is the direction from its middle.
    Document d;
    Mesh ball;
    const int n = 90;
    for (int i = 0; i <= n; ++i)
        for (int k = 0; k < 2 * n; ++k) {
            const double u = kPi * i / n, v = kPi * k / n;
            ball.points.push_back(1000 * Vec3(std::sin(u) * std::cos(v), std::sin(u) * std::sin(v), std::cos(u)));
        }
    for (std::uint32_t i = 0; i < std::uint32_t(n); ++i)
        for (std::uint32_t k = 0; k < 2u * n; ++k) {
            const std::uint32_t a = i * 2 * n + k, b = i * 2 * n + (k + 1) % (2 * n);
            ball.triangles.push_back({a, a + 2 * n, b + 2 * n});
            ball.triangles.push_back({a, b + 2 * n, b});
        }
    auto clean = cleaned(ball);
    QVERIFY(bool(clean));
    auto mesh = std::make_shared<const Mesh>(std::move(clean).value());
    BodyItem item;
    item.shape = Brought{bodyOf(mesh), "ball", std::make_shared<const std::string>("x"), "obj", 1, {}};
    item.at = Vec3(200, -300, 50);
    d = with(d, item);
    const Id body = lastId(d);
    d = with(d, PathItem{0, "",
                         ShapeRecipe{CircleShape{1000 * std::sin(1.1)}, item.at + Vec3(0, 0, 1000 * std::cos(1.1)),
                                     Plane::Plan, 0, 0}});
    const Id path = lastId(d);
    d = with(d, PartItem{0, "Bar", Baluster{}, {BoxPoint{0, 0, -1}, Axis::PlusX, Axis::PlusZ}});
    RunItem r = bars(path, lastId(d), 200);
    r.facing.crown = OffSurface{};
    r.facing.surface = body;
    const auto e = evaluate(with(d, r));
    QVERIFY2(!e->runs[0]->problem, e->runs[0]->problem ? e->runs[0]->problem->text.c_str() : "");
    const Placed& p = *e->runs[0]->placed;
    for (size_t i = 0; i < p.count(); ++i) {
        const Vec3 out = (p.frame(i).seat - item.at).normalized();
        QVERIFY2(p.frame(i).axes.col(2).dot(out) > std::cos(1.2 * kDegree), qPrintable(QString::number(i)));
        NEAR(p.frame(i).axes.col(2).dot(p.frame(i).axes.col(0)), 0, 1e-12);
    }
    // Noses at the body's nearest point: towards its middle.
    r.facing.crown = Plumb{};
    r.facing.nose = AtTarget{};
    r.facing.targetBody = body;
    PathItem outside = *d.path(path);
    std::get<CircleShape>(std::get<ShapeRecipe>(outside.recipe).shape).radius = 4000;
    const auto aimed = evaluate(with(with(d, outside), r));
    const Placed& q = *aimed->runs[0]->placed;
    for (size_t i = 0; i < q.count(); ++i)
        QVERIFY(q.frame(i).axes.col(0).dot((item.at - q.frame(i).seat).normalized()) > std::cos(1.5 * kDegree));
    // Feet on the ground take the ground's own normal.
    d = withBody(d, slope());
    r.facing = {};
    r.facing.crown = OffSurface{};
    r.facing.surface = r.feet.ground = lastId(d);
    const auto stood = evaluate(with(d, r));
    const Vec3 normal = Vec3(-0.1, 0, 1).normalized();
    for (size_t i = 0; i < stood->runs[0]->placed->count(); ++i)
        NEAR((stood->runs[0]->placed->frame(i).axes.col(2) - normal).norm(), 0, 1e-9);
    // Without a body of its own it is the one that its path lies on.
    LaidOn on;
    on.body = lastId(d);
    d = drawn({{-2000, 0, 0}, {2000, 300, 0}}, false, d);
    d = with(d, PathItem{0, "", DerivedRecipe{lastId(d), on}});
    d = with(d, PathItem{0, "", DerivedRecipe{lastId(d), StretchOf{100, 3000}}});
    RunItem lies = r;
    lies.path = lastId(d);
    lies.feet = {};
    lies.facing.surface = 0;
    const auto lain = evaluate(with(d, lies));
    QVERIFY(!lain->runs[0]->problem);
    NEAR((lain->runs[0]->placed->frame(3).axes.col(2) - normal).norm(), 0, 1e-9);
    lies.facing.nose = AtTarget{}; // also while it looks at another body
    lies.facing.targetBody = body;
    const auto looks = evaluate(with(d, lies));
    QVERIFY2(!looks->runs[0]->problem, looks->runs[0]->problem ? looks->runs[0]->problem->text.c_str() : "");
    const Frame& looking = looks->runs[0]->placed->frame(3);
    NEAR(looking.axes.col(1).dot(normal), 0, 1e-9); // the crown as near to the surface's as the nose lets it
    // Else the one that its feet stand on.
    r.facing.surface = 0;
    NEAR((evaluate(with(d, r))->runs[0]->placed->frame(3).axes.col(2) - normal).norm(), 0, 1e-9);
    // What it needs and has not is said.
    r.feet = {};
    QCOMPARE(evaluate(with(d, r))->runs[0]->problem->field, std::string("surface"));
    r.facing.surface = 999;
    QCOMPARE(evaluate(with(d, r))->runs[0]->problem->field, std::string("surface"));
    r.facing = {};
    r.feet.ground = 999;
    QCOMPARE(evaluate(with(d, r))->runs[0]->problem->field, std::string("ground"));
}

void TestSite::onlyWhatChangedIsWorkedOutAgain() {
    Document d = withBody({}, slope());
    d = withBody(d, Maker(PlainBox{}));
    d = drawn({{-3000, 0, 2000}, {3000, 0, 2000}}, false, d);
    d = with(d, PartItem{0, "Bar", Baluster{}, {}});
    RunItem r = bars(3, lastId(d), 500);
    r.feet.ground = 1;
    d = with(d, r);
    const auto first = evaluate(d);
    BodyItem box = *d.body(2);
    box.at.x() += 100;
    const auto second = evaluate(with(d, box), first);
    QVERIFY(second->bodies.at(1) == first->bodies.at(1));
    QVERIFY(second->bodies.at(2) != first->bodies.at(2));
    QVERIFY(second->bodies.at(2)->body == first->bodies.at(2)->body); // moved, not made again
    QVERIFY(second->runs[0] == first->runs[0]);
    BodyItem ground = *d.body(1);
    ground.at.z() = 10;
    const auto third = evaluate(with(d, ground), first);
    QVERIFY(third->runs[0] != first->runs[0]);
    NEAR(third->runs[0]->placed->frame(0).seat.z(), first->runs[0]->placed->frame(0).seat.z() + 10, 1e-9);
    QVERIFY(evaluate(d, third)->runs[0]->placed->frame(0).seat == first->runs[0]->placed->frame(0).seat);
}

void TestSite::whatIsLockedStays() {
    Document d = drawn({{0, 0, 0}, {1000, 0, 0}});
    d = withBody(d, Maker(PlainBox{}));
    d = with(d, PartItem{0, "Bar", Baluster{}, {}});
    d = with(d, bars(1, 3, 200));
    d = withLocked(d, {1, 2, 3, 4}, true);
    for (Id id : {1, 2, 3, 4}) {
        QVERIFY(isLocked(d, id));
        const auto gone = lockBroken(d, without(d, id));
        QVERIFY(gone && gone->text.find(nameOf(d, id)) != std::string::npos);
    }
    BodyItem body = *d.body(2);
    body.at.x() = 1;
    QVERIFY(lockBroken(d, with(d, body)));
    // Hiding, folders, order and unlocking are no change of it; other items may change.
    QVERIFY(!lockBroken(d, withHidden(d, {1, 2, 4}, true)));
    Document foldered = with(d, FolderItem{0, "F"});
    QVERIFY(!lockBroken(d, intoFolder(foldered, {1, 2, 3, 4}, lastId(foldered))));
    const Document open = withLocked(d, {2}, false);
    QVERIFY(!lockBroken(d, open));
    QVERIFY(!lockBroken(open, with(open, body)));
    QVERIFY(!lockBroken(d, withBody(d, Maker(Cylinder{}))));
    QVERIFY(!lockBroken(d, movedBefore(withBody(d, Maker(Cylinder{})), {5}, 2)));
}

void TestSite::severalAtOnce() {
    Document d = drawn({{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}, {0, 1000, 0}}, true);
    d = withBody(d, PlateOf{1, 10, true});
    d = with(d, PartItem{0, "Bar", Baluster{}, {}});
    RunItem r = bars(1, 3, 200);
    r.feet.ground = 2;
    Check clear;
    clear.of = CheckKind::SiteBody, clear.other = 2, clear.least = 5;
    clear.excused = {{0, 0, 3, 0, "it stands on it", "M. Tollan", "2026-12-01"}};
    r.checks = {clear};
    d = with(d, r);
    // Copied together they use each other's copies; what is not copied is shared.
    std::vector<Id> made;
    const Document two = copied(d, {1, 2, 4}, &made);
    QCOMPARE(made.size(), size_t(3));
    const auto run = two.runs.back();
    QCOMPARE(run->path, made[0]);
    QCOMPARE(run->feet.ground, made[1]);
    QCOMPARE(run->part, 3);
    QCOMPARE(run->checks[0].other, made[1]); // and what it is to keep clear of
    QCOMPARE(std::get<PlateOf>(two.bodies.back()->shape).path, made[0]);
    const Document all = copied(d, {1, 2, 3, 4});
    QCOMPARE(all.runs.back()->part, all.parts.back()->id);
    QCOMPARE(all.runs.back()->checks[0].excused[0].part, all.parts.back()->id); // what is excused is so of the copy
    // What a run uses in any way has it as a user.
    RunItem moving = *d.runs[0];
    moving.path = 0, moving.feet.ground = 0, moving.gives.along = 1;
    const Document other = with(d, moving);
    const auto users = usersOf(other, 1); // by the wheel that moves along it
    QCOMPARE(std::count(users.begin(), users.end(), moving.name), 1);
    QCOMPARE(usersOf(other, 2), std::vector<std::string>{moving.name}); // by its check
    const Document one = copied(d, {4});
    QCOMPARE(one.runs.back()->path, 1);
    QVERIFY(copied(d, {99}).paths.size() == 1);
    const auto painted = withColour(d, {2, 4}, 5);
    QCOMPARE(painted.bodies[0]->colour, 5);
    QCOMPARE(painted.runs[0]->colour, 5);
    const Document left = withoutAll(d, {1, 2, 3});
    QVERIFY(left.paths.empty() && left.bodies.empty() && left.parts.empty() && left.runs.size() == 1);
    const Document only = showingOnly(d, {2});
    QVERIFY(!only.bodies[0]->hidden && only.runs[0]->hidden && only.paths[0]->hidden);
    QVERIFY(hidesAnything(only) && !hidesAnything(showingAll(only)));
}

void TestSite::orderAndFolders() {
    Document d;
    for (int i = 0; i < 5; ++i) d = withBody(d, Maker(PlainBox{}));
    const auto order = [](const Document& x) {
        std::vector<Id> out;
        for (const auto& b : x.bodies) out.push_back(b->id);
        return out;
    };
    QCOMPARE(order(movedBefore(d, {4, 5}, 2)), (std::vector<Id>{1, 4, 5, 2, 3}));
    QCOMPARE(order(movedBefore(d, {1}, 0)), (std::vector<Id>{2, 3, 4, 5, 1}));
    QCOMPARE(order(movedBefore(d, {2, 3}, 3)), (std::vector<Id>{1, 2, 3, 4, 5}));
    d = with(d, FolderItem{0, "Quay"});
    const Id folder = lastId(d);
    d = intoFolder(d, {2, 3}, folder);
    QCOMPARE(inFolder(d, folder), (std::set<Id>{2, 3}));
    QCOMPARE(intoFolder(d, {1}, 77).bodies[0]->folder, 0);
    const Document loose = without(d, folder);
    QVERIFY(loose.folders.empty() && loose.bodies.size() == 5 && inFolder(loose, folder).empty());
    QCOMPARE(nameOf(d, folder), std::string("Quay"));
}

void TestSite::theyComeBackFromAFile() {
    const QTemporaryDir dir;
    const Document d = richDocument();
    const std::string file = dir.filePath("rich.vicinal").toStdString();
    QVERIFY(!saveDocument(d, file));
    const auto back = openDocument(file, readBody);
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QCOMPARE(toJson(*back), toJson(d));
    QCOMPARE(back->bodies.size(), size_t(9));
    const auto a = evaluate(d), b = evaluate(*back);
    for (const auto& item : d.bodies) {
        const auto x = a->bodies.at(item->id), y = b->bodies.at(item->id);
        QCOMPARE(x->problem.has_value(), y->problem.has_value());
        if (!x->body) continue;
        QVERIFY(x->body->mesh->points == y->body->mesh->points);
        QVERIFY(x->ground->turn() == y->ground->turn() && x->ground->origin() == y->ground->origin());
    }
    // A file without its levels, and levels that are cut, say so.
    const std::string json = toJson(d);
    const auto lost = fromJson(
        json,
        [&](const std::string& name) -> std::optional<std::string> {
            for (const auto& [known, bytes] : assetsOf(d))
                if (known == name && !name.ends_with(".levels")) return *bytes;
            return std::nullopt;
        },
        readBody);
    QVERIFY(!lost && lost.problem().text.find(".levels") != std::string::npos);
    const auto cut = fromJson(
        json,
        [&](const std::string& name) -> std::optional<std::string> {
            for (const auto& [known, bytes] : assetsOf(d))
                if (known == name) return name.ends_with(".levels") ? bytes->substr(0, 5) : *bytes;
            return std::nullopt;
        },
        readBody);
    QVERIFY(!cut && cut.problem().text.find("line 1") != std::string::npos);
}

void TestSite::wrongValuesAreSaidAtTheirField() {
    const Document path = drawn({{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}}, true);
    const auto field = [&](const BodyShape& shape) {
        const auto e = evaluate(withBody(path, shape));
        const auto& p = e->bodies.begin()->second->problem;
        return p ? p->field : std::string("none");
    };
    QCOMPARE(field(PlateOf{1, 0, true}), std::string("thickness"));
    QCOMPARE(field(PlateOf{99, 5, true}), std::string("path"));
    QCOMPARE(field(WallAlong{1, 0, 0, 10, WallSide::Left}), std::string("height"));
    QCOMPARE(field(WallAlong{1, 10, 0, -10, WallSide::Left}), std::string("thickness"));
    QCOMPARE(field(PartUse{42}), std::string("part"));
    QCOMPARE(field(Levels{}), std::string("levels"));
    MadeGround g = slope();
    g.width = 0;
    QCOMPARE(field(g), std::string("width"));
    g = slope();
    g.form = GroundForm::Mound;
    g.radius = 4000;
    QCOMPARE(field(g), std::string("radius"));
    g.radius = 2000;
    {
        const auto e = evaluate(withBody({}, g)); // a cosine, level at its top and its foot
        const BodyResult& hill = *e->bodies.begin()->second;
        double top = -1e300;
        for (const Vec3& p : hill.body->mesh->points) {
            const double r = std::hypot(p.x(), p.y());
            NEAR(p.z(), r < 2000 ? g.rise * (1 + std::cos(kPi * r / 2000)) / 2 : 0, 1e-9);
            if (p.z() == g.rise) NEAR(r, 0, 1e-12);
            top = std::max(top, p.z());
        }
        NEAR(top, g.rise, 1e-12);
    }
    g.form = GroundForm::Terraces;
    g.bank = 9000;
    QCOMPARE(field(g), std::string("bank"));
    g.bank = 0;
    g.steps = 1;
    QCOMPARE(field(g), std::string("steps"));
    Document d = withBody({}, Maker(PlainBox{}), Vec3::Zero(), Vec3::Zero(), 0);
    QCOMPARE(evaluate(d)->bodies.at(1)->problem->field, std::string("size"));
    BodyItem wild = *d.body(1);
    wild.at.x() = std::nan("");
    QVERIFY(defectOf(wild) && defectOf(wild)->field == "at");
    wild = *d.body(1);
    wild.shape = PlateOf{1, 1e12, true};
    QVERIFY(defectOf(wild) && defectOf(wild)->field == "thickness");
}

/// Two boxes that cross as one mesh, beside each other, and one on the other.
void TestSite::surfacesThatRunThroughThemselvesAreSaid() {
    const auto said = [](const Vec3& by) {
        Mesh mesh = boxMesh(Box3(Vec3(0, 0, 0), Vec3(100, 100, 100)));
        const Mesh other = boxMesh(Box3(by, by + Vec3(100, 100, 100)));
        const auto first = std::uint32_t(mesh.points.size());
        mesh.points.insert(mesh.points.end(), other.points.begin(), other.points.end());
        for (auto t : other.triangles) mesh.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
        mesh.box.extend(other.box);
        Brought b;
        b.body = bodyOf(std::make_shared<const Mesh>(std::move(mesh)));
        const Document d = withBody({}, b);
        const auto e = evaluate(d);
        const auto& remarks = bodyIn(*e, lastId(d))->remarks;
        return std::any_of(remarks.begin(), remarks.end(),
                           [](const Words& w) { return w.find("through itself") != std::string::npos; });
    };
    QVERIFY(said({50, 40, 30}));
    QVERIFY(said({50, 50, 99}));
    QVERIFY(!said({150, 0, 0}));
    QVERIFY(!said({100, 0, 0})); // face to face
    QVERIFY(!said({0, 0, 100}));
    QVERIFY(!said({30, 20, 100}));
}

VICINAL_SUITE(TestSite)

} // namespace test_site
#include "test_site.moc"
