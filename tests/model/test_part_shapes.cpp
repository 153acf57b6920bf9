// Parts in a document: pieces that follow, circles that are refused, sizes, mirrors, replacing, and what deleting says.
#include "layout/spacing/rules.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "model/evaluate/evaluate.h"
#include "suite.h"
#include "support.h"

namespace test_part_shapes {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Id add(Document& d, PartShape shape, const char* name, Seat seat = {}) {
    d = with(d, PartItem{0, name, std::move(shape), seat});
    return d.parts.back()->id;
}

Id addPath(Document& d, PathRecipe r, const char* name) {
    d = with(d, PathItem{0, name, std::move(r)});
    return d.paths.back()->id;
}

const PartResult& of(const std::shared_ptr<const Evaluation>& e, Id id) { return *e->parts.at(id); }

} // namespace

class TestPartShapes : public QObject {
    Q_OBJECT
private slots:
    void onePartEditedMovesEveryPlaceOfEveryRun();
    void piecesAreSetAsTheirPosesSay();
    void aPartCannotContainItself();
    void extrudedPathsFollowTheirPath();
    void sizesKeepTheSeatOnItsSpot();
    void replacingKeepsTheSeat();
    void unchangedBodiesStayTheSameObject();
    void leaningSeatsOccupyTheirTrueLength();
    void badShapesSayWhichPieceAndWhy();
};

void TestPartShapes::onePartEditedMovesEveryPlaceOfEveryRun() {
    Document d;
    const Id path = addPath(d, PointsRecipe{{{{0, 0, 0}, false}, {{1000, 0, 0}, false}}}, "Line");
    const Id link = add(d, RoundLink{10, 34, 15}, "Link", Seat{Vec3(0, 0, 0)});
    Pieces pair;
    pair.list.push_back({"first", PartUse{link}});
    pair.list.push_back({"second", PartUse{link}, {34, 0, 0}, {kPi / 2, 0, 0}});
    const Id unit = add(d, pair, "Pair", Seat{Vec3(0, 0, 0)});
    for (const Id part : {link, unit, unit}) {
        RunItem r;
        r.path = path;
        r.part = part;
        r.spacing->rule = StepOff{100};
        d = with(d, r);
    }
    const auto before = evaluate(d);
    NEAR(of(before, unit).mesh->box.sizes().x(), 34 + 54, 1e-9);
    NEAR(of(before, unit).body->pins->at(1).x() - of(before, unit).body->pins->at(0).x(), 68, 1e-9);
    QVERIFY(volumeOf(*of(before, unit).body) > 1.99 * volumeOf(*of(before, link).body));
    PartItem thicker = *d.part(link);
    std::get<RoundLink>(std::get<Maker>(thicker.shape)).bar = 14;
    const Document e = with(d, thicker);
    const auto after = evaluate(e, before);
    NEAR(of(after, unit).mesh->box.sizes().x(), 34 + 62, 1e-9); // both of its pieces
    for (const auto& r : after->runs)
        QVERIFY(r->placed->parts[0].mesh != before->run(r->item->id)->placed->parts[0].mesh);
    // What asks for it: two runs by themselves, and the pair.
    QCOMPARE(usersOf(e, link).size(), size_t(2));
    QCOMPARE(usersOf(e, unit).size(), size_t(2));
    // Deleted in use: the pair keeps its last good body, greyed, and says so.
    const auto gone = evaluate(without(e, link), after);
    QVERIFY(of(gone, unit).problem && of(gone, unit).body);
    QVERIFY(of(gone, unit).problem->text.find("was deleted") != std::string::npos);
    QVERIFY(!evaluate(e, gone)->parts.at(unit)->problem);
}

void TestPartShapes::piecesAreSetAsTheirPosesSay() {
    Document d;
    Pieces p;
    p.list.push_back({"base", PlainBox{100, 60, 10}, {0, 0, 0}});
    p.list.push_back({"leg", PlainBox{10, 10, 50}, {40, 20, 10}});
    p.list.push_back({"its twin", PlainBox{10, 20, 50}, {-40, -20, 10}, {0, 0, kPi / 2}, 0.5, true});
    const Id id = add(d, p, "Stool");
    const auto e = evaluate(d);
    QVERIFY(!of(e, id).problem);
    const Body& body = *of(e, id).body;
    QCOMPARE(body.mesh->box.min(), Vec3(-50, -30, 0));
    QCOMPARE(body.mesh->box.max(), Vec3(50, 30, 60));
    NEAR(volumeOf(body), 100 * 60 * 10 + 10 * 10 * 50 + 10 * 20 * 50 / 8., 1e-6);
    // A mirrored part of its own: made from the other, which it follows.
    const Id bracket = add(d, Bracket{60, 80, 40, 5, 9}, "Bracket");
    Pieces twin;
    twin.list.push_back({"", PartUse{bracket}, {0, 7, 0}, {0, 0, 0}, 1, true});
    const Id mirror = add(d, twin, "Bracket, mirrored");
    const auto both = evaluate(d, e);
    NEAR(volumeOf(*of(both, mirror).body), volumeOf(*of(both, bracket).body), 1e-6);
    NEAR(centreOf(*of(both, mirror).body).y(), 7 - centreOf(*of(both, bracket).body).y(), 1e-9);
    QVERIFY(volumeOf(*of(both, mirror).mesh) > 0);
}

void TestPartShapes::aPartCannotContainItself() {
    Document d;
    const Id a = add(d, PlainBox{}, "A"), b = add(d, Pieces{{{"", PartUse{a}}}}, "B");
    QVERIFY(follows(d, b, a) && !follows(d, a, b));
    const auto good = evaluate(d);
    PartItem circle = *d.part(a);
    circle.shape = Pieces{{{"", PartUse{b}}}};
    const auto e = evaluate(with(d, circle), good);
    QVERIFY(of(e, a).problem && of(e, b).problem);
    QVERIFY(of(e, a).problem->text.find("circle") != std::string::npos ||
            of(e, b).problem->text.find("circle") != std::string::npos);
    QVERIFY(of(e, a).body && of(e, b).body); // the last good ones stay
    circle.shape = Pieces{{{"", PartUse{a}}}};
    const auto self = evaluate(with(d, circle), good);
    QVERIFY(of(self, a).problem->text.find("contains itself") != std::string::npos);
    QVERIFY(!of(evaluate(d, self), b).problem);
    // Round over a path: an extruded path that takes its edges from the very part.
    const Id edge = addPath(d, EdgesRecipe{b, Vec3(0.5, 0, 1), true}, "Edge");
    PartItem over = *d.part(a);
    over.shape = ExtrudedPath{edge, 20};
    const auto round = evaluate(with(d, over), good);
    QVERIFY(of(round, a).problem || of(round, b).problem);
}

void TestPartShapes::extrudedPathsFollowTheirPath() {
    Document d;
    const Id path = addPath(d, ShapeRecipe{RectangleShape{300, 200, 20}, {5000, 100, 40}}, "Frame");
    const Id part = add(d, ExtrudedPath{path, 30}, "Pad");
    const auto e = evaluate(d);
    QVERIFY2(!of(e, part).problem, of(e, part).problem ? of(e, part).problem->text.c_str() : "");
    NEAR(volumeOf(*of(e, part).body), 30 * (300. * 200 - (4 - kPi) * 400), 1e-5);
    NEAR((of(e, part).mesh->box.center() - Vec3(0, 0, 15)).norm(), 0, 1e-9); // round its own middle
    QCOMPARE(usersOf(d, path), std::vector<std::string>{"Pad"});
    PathItem wider = *d.path(path);
    std::get<RectangleShape>(std::get<ShapeRecipe>(wider.recipe).shape).width = 400;
    std::get<ShapeRecipe>(wider.recipe).plane = Plane::Front; // an upright one is laid flat
    const auto after = evaluate(with(d, wider), e);
    NEAR(volumeOf(*of(after, part).body), 30 * (400. * 200 - (4 - kPi) * 400), 1e-5);
    const auto says = [&](PathRecipe r) {
        PathItem p = *d.path(path);
        p.recipe = std::move(r);
        const auto x = evaluate(with(d, p), e);
        return of(x, part).problem ? of(x, part).problem->text : Words();
    };
    QVERIFY(says(PointsRecipe{{{{0, 0, 0}, false}, {{100, 0, 0}, false}, {{0, 90, 0}, false}}}).find("open") !=
            std::string::npos);
    QVERIFY(says(PointsRecipe{{{{0, 0, 0}, false}, {{100, 100, 0}, false}, {{100, 0, 0}, false}, {{0, 100, 0}, false}},
                              true})
                .find("crosses itself") != std::string::npos);
    QVERIFY(says(PointsRecipe{{{{0, 0, 0}, false}, {{100, 0, 0}, false}, {{100, 100, 30}, false}, {{0, 100, 0}, false}},
                              true})
                .find("not flat") != std::string::npos);
}

void TestPartShapes::sizesKeepTheSeatOnItsSpot() {
    Document d;
    const Seat seat{Vec3(30, 5, 0), Axis::PlusX, Axis::PlusZ, Pins{Vec3(10, 0, 0), Vec3(50, 0, 0)}};
    const Id id = add(d, Bracket{}, "Bracket", seat);
    const auto e = evaluate(d);
    const auto twice = evaluate(with(d, resized(*d.part(id), 2)), e);
    const Measures a = measuresOf(*of(e, id).body, seat), b = measuresOf(*of(twice, id).body, of(twice, id).item->seat);
    for (const auto& [x, y] : {std::pair(a.before, b.before),
                               {a.behind, b.behind},
                               {a.left, b.left},
                               {a.up, b.up},
                               {*a.pinDistance, *b.pinDistance}})
        NEAR(2 * x, y, 1e-6);
    NEAR(8 * a.volume, b.volume, 1e-4);
    NEAR(mass(1e9, 7850), 7850, 0); // a cubic metre
    PartItem none = *d.part(id);
    none.size = 0;
    QCOMPARE(of(evaluate(with(d, none), e), id).problem->field, std::string("size"));
}

void TestPartShapes::replacingKeepsTheSeat() {
    Document d;
    const Id path = addPath(d, PointsRecipe{{{{0, 0, 0}, false}, {{1000, 0, 0}, false}}}, "Line");
    const Id a = add(d, PlainBox{10, 20, 30}, "A", Seat{BoxPoint{-1, 0, 1}, Axis::PlusY, Axis::PlusZ});
    const Id b = add(d, PlainBox{40, 50, 60}, "B");
    for (int i = 0; i < 3; ++i) {
        RunItem r;
        r.path = path;
        r.part = i == 2 ? b : a;
        d = with(d, r);
    }
    const Document kept = replaced(d, a, b, true), own = replaced(d, a, b, false);
    for (const auto& r : kept.runs) QCOMPARE(r->part, b);
    QVERIFY(kept.part(b)->seat == d.part(a)->seat);
    QVERIFY(own.part(b)->seat == d.part(b)->seat);
    QVERIFY(usersOf(kept, a).empty());
    QCOMPARE(usersOf(kept, b).size(), size_t(3));
}

void TestPartShapes::unchangedBodiesStayTheSameObject() {
    // Views keep what they made of a mesh: a new seat must not make a new one, nor an edit of another part.
    Document d;
    const Id a = add(d, TreadPlate{}, "A"), b = add(d, Pieces{{{"", PartUse{a}}}}, "B");
    const auto e = evaluate(d);
    PartItem seat = *d.part(a);
    seat.seat.nose = Axis::MinusX;
    const auto turned = evaluate(with(d, seat), e);
    QVERIFY(of(turned, a).mesh == of(e, a).mesh);
    QVERIFY(of(turned, b).mesh == of(e, b).mesh);
    QVERIFY(evaluate(d, e)->parts.at(a) == e->parts.at(a));
    PartItem wide = *d.part(a);
    std::get<TreadPlate>(std::get<Maker>(wide.shape)).width += 1;
    QVERIFY(of(evaluate(with(d, wide), e), a).mesh != of(e, a).mesh);
}

void TestPartShapes::leaningSeatsOccupyTheirTrueLength() {
    // A disc with its nose along any direction in its plane is as long as it is wide; its box's corners are not.
    Document d;
    const Id path = addPath(d, PointsRecipe{{{{0, 0, 0}, false}, {{1000, 0, 0}, false}}}, "Line");
    const double a = 35 * kDegree;
    const Id disc = add(d, Cylinder{80, 10}, "Disc", Seat{BoxPoint{0, 0, -1}, Vec3(std::cos(a), std::sin(a), 0)});
    RunItem r;
    r.path = path;
    r.part = disc;
    d = with(d, r);
    const auto e = evaluate(d);
    NEAR(of(e, disc).seated->sizes().x(), 80, 1e-5);
    NEAR(partLength(*e->runs[0]), 80, 1e-5);
    // And the same of its triangles alone, within their fineness.
    PartItem mesh = *d.part(disc);
    mesh.shape = Brought{bodyOf(of(e, disc).mesh), "disc.stl", nullptr, "stl", 1, {}};
    NEAR(partLength(*evaluate(with(d, mesh))->runs[0]), 80, 1);
}

void TestPartShapes::badShapesSayWhichPieceAndWhy() {
    Document d;
    Pieces p;
    p.list.push_back({"foot", PlainBox{}});
    p.list.push_back({"ring", RoundLink{40, 34, 15}});
    const Id id = add(d, p, "Bad");
    const auto says = [&](const Pieces& x) {
        PartItem item = *d.part(id);
        item.shape = x;
        const auto e = evaluate(with(d, item));
        return of(e, id).problem ? of(e, id).problem->text + "|" + of(e, id).problem->field : std::string();
    };
    QVERIFY(says(p).find("Piece 2 (ring)") == 0);
    QVERIFY(says(p).find("The largest for this link is 15 mm") != std::string::npos);
    QVERIFY(says(p).find("|piece 2.bar") != std::string::npos);
    p.list[1] = {"", PlainBox{}, {NAN, 0, 0}};
    QVERIFY(says(p).find("piece 2.at") != std::string::npos);
    p.list[1] = {"", PlainBox{}, {0, 0, 0}, {0, INFINITY, 0}};
    QVERIFY(says(p).find("piece 2.turn") != std::string::npos);
    p.list[1] = {"", PlainBox{}, {0, 0, 0}, {0, 0, 0}, -1};
    QVERIFY(says(p).find("piece 2.size") != std::string::npos);
    p.list.resize(1);
    QVERIFY(says(p).empty());
    p.list.clear();
    QVERIFY(says(p).find("no piece") != std::string::npos);
}

VICINAL_SUITE(TestPartShapes)

} // namespace test_part_shapes
#include "test_part_shapes.moc"
