// Recipes: points of every kind, derived paths that follow their source, circles refused, files that keep it all.
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "suite.h"
#include <set>

namespace test_recipes {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Id add(Document& d, PathRecipe r, const char* name = "") {
    d = with(d, PathItem{0, name, std::move(r)});
    return d.paths.back()->id;
}

PointsRecipe pointsOf(const std::vector<Vec3>& at, bool smooth = true) {
    PointsRecipe r;
    for (const auto& p : at) r.points.push_back({p, smooth});
    return r;
}

Path pathAt(const Document& d, Id id) {
    const auto e = evaluate(d);
    const auto& p = *e->paths.at(id);
    if (p.problem) qFatal("%s: %s", p.item->name.c_str(), p.problem->text.c_str());
    return *p.path;
}

} // namespace

class TestRecipes : public QObject {
    Q_OBJECT
private slots:
    void pointsOfEveryKindInOnePath();
    void closedMixedPathsStartAtTheirFirstPoint();
    void filletsSayWhatFits();
    void legsAreFound();
    void everyKindIsBuiltAndKept();
    void derivedPathsFollowTheirSource();
    void onlyWhatFollowsIsWorkedOutAgain();
    void whatIsStoppedKeepsItsLastState();
    void messagesQuoteLongNamesInPart();
    void circlesOfPathsAreRefused();
    void deletedSourcesGreyWhatFollows();
    void placementsTurnAndStand();
    void swagsAndWheelsNameTheirField();
    void wholePathsAreMovedTurnedAndSized();
    void edgesOfAPartFollowIt();
    void whatGoesOnAtABranch();
    void wrongValuesOfEveryKind();
};

void TestRecipes::pointsOfEveryKindInOnePath() {
    const Document d = fullDocument();
    const PathItem* mixed = nullptr;
    for (const auto& p : d.paths)
        if (p->name == "Mixed") mixed = p.get();
    const auto b = build(mixed->recipe);
    QVERIFY2(bool(b), b ? "" : b.problem().text.c_str());
    const auto& r = std::get<PointsRecipe>(mixed->recipe);
    for (size_t i = 0; i < r.points.size(); ++i) { // all but the rounded corner lie on the path
        const double away = (b->path.at(b->path.closest(r.points[i].at)).point - r.points[i].at).norm();
        if (i == 1)
            NEAR(away, 40.5 * (std::sqrt(2.) - 1), 1e-6);
        else
            NEAR(away, 0, 1e-6);
    }
    NEAR((b->path.at(b->path.closest(*r.points[2].via)).point - *r.points[2].via).norm(), 0, 1e-6);
    const Vec3 out = b->path.at(b->path.closest(r.points[3].at) + 1e-6).tangent; // leaves along its handle
    NEAR((out - r.points[3].out->normalized()).norm(), 0, 1e-6);
    int arcs = 0, curves = 0;
    for (const auto& s : b->path.segments())
        arcs += std::holds_alternative<Arc>(s), curves += std::holds_alternative<Bezier>(s);
    QCOMPARE(arcs, 2); // the fillet and the arc
    QCOMPARE(curves, 1);
}

void TestRecipes::closedMixedPathsStartAtTheirFirstPoint() {
    for (int special = 0; special < 5; ++special) {
        PointsRecipe r = pointsOf({{0, 0, 0}, {400, -50, 0}, {700, 200, 0}, {400, 500, 0}, {-50, 350, 0}});
        r.closed = true;
        const Vec3 a = r.points[special].at, b = r.points[(special + 1) % 5].at;
        r.points[special].via = (a + b) / 2 + 60 * (b - a).cross(Vec3::UnitZ()).normalized();
        const auto path = build(r);
        QVERIFY2(bool(path), path ? "" : path.problem().text.c_str());
        NEAR((path->path.at(0).point - r.points[0].at).norm(), 0, 1e-9);
        double before = -1; // and runs through its points in order
        for (size_t i = 1; i < 5; ++i) {
            const double s = path->path.closest(r.points[i].at);
            NEAR((path->path.at(s).point - r.points[i].at).norm(), 0, 1e-6);
            QVERIFY(s > before);
            before = s;
        }
    }
}

void TestRecipes::filletsSayWhatFits() {
    PointsRecipe r = pointsOf({{0, 0, 0}, {100, 0, 0}, {100, 100, 0}, {0, 100, 0}}, false);
    r.closed = true;
    for (auto& p : r.points) p.fillet = 30;
    NEAR(build(r)->path.length(), 400 - 8 * 30 + 2 * kPi * 30, 1e-9);
    for (auto& p : r.points) p.fillet = 60;
    QVERIFY(!build(r) && build(r).problem().text.find("need more leg") != std::string::npos);
    for (auto& p : r.points) p.fillet = 0;
    r.points[2].fillet = 150;
    QVERIFY2(build(r).problem().text.find("point 3") != std::string::npos, build(r).problem().text.c_str());
}

void TestRecipes::legsAreFound() {
    PointsRecipe r = pointsOf({{0, 0, 0}, {100, 0, 0}, {100, 100, 0}, {0, 100, 0}}, false);
    r.points[1].fillet = 20;
    const Path open = build(r)->path;
    QCOMPARE(legAt(r, open, 10), size_t(0));
    QCOMPARE(legAt(r, open, 150), size_t(1));
    QCOMPARE(legAt(r, open, open.length() - 1), size_t(2));
    r.closed = true;
    const Path closed = build(r)->path;
    QCOMPARE(legAt(r, closed, closed.length() - 1), size_t(3));
}

void TestRecipes::everyKindIsBuiltAndKept() {
    const Document d = fullDocument();
    const auto e = evaluate(d);
    std::set<std::string> kinds;
    for (const auto& p : d.paths) {
        const auto& result = *e->paths.at(p->id);
        QVERIFY2(!result.problem, result.problem ? (p->name + ": " + result.problem->text).c_str() : "");
        QVERIFY(result.path->length() > 1);
        kinds.insert(kindOf(p->recipe));
    }
    QCOMPARE(kinds.size(), size_t(22)); // 10 shapes, 8 changes, joined, edges, points, curve
    QTemporaryDir dir;
    const std::string file = dir.filePath("all.vicinal").toStdString();
    QVERIFY(!saveDocument(d, file));
    const auto back = openDocument(file, readBody);
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QCOMPARE(toJson(*back), toJson(d));
    const auto again = evaluate(*back);
    for (const auto& p : d.paths) QCOMPARE(again->paths.at(p->id)->path->length(), e->paths.at(p->id)->path->length());
    for (const auto& kind : kinds) QCOMPARE(kindOf(*recipeOf(kind)), kind);
    QVERIFY(!recipeOf("something else"));
}

void TestRecipes::derivedPathsFollowTheirSource() {
    Document d;
    const Id source = add(d, pointsOf({{0, 0, 0}, {1000, 0, 0}}, false), "Edge");
    const Id offset = add(d, DerivedRecipe{source, OffsetOf{300, CornerStyle::Round}}, "Lights");
    const Id part = add(d, DerivedRecipe{offset, StretchOf{100, 400}}, "Part");
    const Id mirror = add(d, DerivedRecipe{part, MirroredAt{{0, 0, 0}, 0}}, "Mirror");
    NEAR((pathAt(d, offset).at(0).point - Vec3(0, 300, 0)).norm(), 0, 1e-9);
    NEAR((pathAt(d, mirror).at(0).point - Vec3(100, -300, 0)).norm(), 0, 1e-9);
    PathItem moved = *d.path(source);
    for (auto& p : std::get<PointsRecipe>(moved.recipe).points) p.at.y() += 50;
    d = with(d, moved);
    NEAR((pathAt(d, mirror).at(0).point - Vec3(100, -350, 0)).norm(), 0, 1e-9);
    QCOMPARE(usersOf(d, source), std::vector<std::string>{"Lights"});
}

void TestRecipes::onlyWhatFollowsIsWorkedOutAgain() {
    Document d;
    const Id a = add(d, pointsOf({{0, 0, 0}, {1000, 0, 0}}, false)), b = add(d, *recipeOf("circle"));
    const Id offA = add(d, DerivedRecipe{a, OffsetOf{}}),
             offB = add(d, DerivedRecipe{b, OffsetOf{50, CornerStyle::Round}});
    const Id both = add(d, JoinedRecipe{{a, offA}, 1e4});
    const auto before = evaluate(d);
    PathItem moved = *d.path(a);
    std::get<PointsRecipe>(moved.recipe).points[1].at.x() = 900;
    const auto after = evaluate(with(d, moved), before);
    for (Id id : {a, offA, both}) QVERIFY(after->paths.at(id) != before->paths.at(id));
    for (Id id : {b, offB}) QCOMPARE(after->paths.at(id), before->paths.at(id));
}

void TestRecipes::whatIsStoppedKeepsItsLastState() {
    Document d;
    const Id lead = add(d, pointsOf({{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}}, false), "Lead");
    const Id beside = add(d, DerivedRecipe{lead, OffsetOf{100, CornerStyle::Round}}, "Beside");
    const Id apart = add(d, pointsOf({{0, 0, 500}, {700, 0, 500}}), "Apart");
    d = with(d, PartItem{0, "Post", Maker(Post{}), {}});
    RunItem run;
    run.path = beside;
    run.part = d.parts.back()->id;
    d = with(d, run);
    const auto before = evaluate(d);
    Document longer = d;
    PathItem moved = *d.path(lead);
    std::get<PointsRecipe>(moved.recipe).points[2].at = {1000, 3000, 0};
    longer = with(longer, moved);
    Job job;
    job.stop = true;
    const auto stopped = evaluate(longer, before, &job);
    QVERIFY(stopped->cancelled() && !before->cancelled());
    QCOMPARE(stopped->paths.at(apart).get(), before->paths.at(apart).get()); // untouched by it
    for (Id id : {lead, beside}) {
        const auto& p = *stopped->paths.at(id);
        QVERIFY(p.cancelled && p.problem && p.path);
        QCOMPARE(p.path->length(), before->paths.at(id)->path->length());
    }
    QVERIFY(stopped->runs[0]->stale() && stopped->runs[0]->cancelled);
    QCOMPARE(stopped->runs[0]->placed.get(), before->runs[0]->placed.get());
    // Taken up again it is what it would have been, and the progress ends at the whole.
    job.stop = false;
    const auto again = evaluate(longer, stopped, &job), fresh = evaluate(longer);
    QVERIFY(!again->cancelled());
    QCOMPARE(double(job.progress), 1.0);
    QCOMPARE(again->paths.at(beside)->path->length(), fresh->paths.at(beside)->path->length());
    QCOMPARE(again->runs[0]->placed->stations(), fresh->runs[0]->placed->stations());
    const Stop now = true; // within an item: where the work itself can be long
    const auto offset = offsetOf(*fresh->paths.at(lead)->path, 50, CornerStyle::Round, Vec3::UnitZ(), &now);
    QVERIFY(!offset && offset.problem().field.empty());
}

void TestRecipes::messagesQuoteLongNamesInPart() {
    const std::string name = std::string(5'000, 'n') + "\x1b[31m\n";
    Document d;
    const Id flat = add(d, ShapeRecipe{CircleShape{-1}}, name.c_str()); // a problem that is handed on
    const Id a = add(d, DerivedRecipe{flat, BackwardsOf{}}, (name + "a").c_str());
    add(d, DerivedRecipe{a, BackwardsOf{}}, (name + "b").c_str());
    Pieces pieces;
    pieces.list.push_back({name, Post{.width = -1}});
    d = with(d, PartItem{0, name, pieces, {}});
    RunItem run;
    run.name = name;
    run.path = a;
    run.part = d.parts.back()->id;
    d = with(d, run);
    PathItem circle = *d.path(flat); // and one that goes round
    circle.recipe = DerivedRecipe{a, BackwardsOf{}};
    for (const auto& e : {evaluate(d), evaluate(with(d, circle))}) {
        std::vector<std::string> texts{e->runs[0]->problem->text, e->runs[0]->verdict.text};
        for (const auto& [id, p] : e->paths) texts.push_back(p->problem->text);
        for (const auto& [id, p] : e->parts) texts.push_back(p->problem->text);
        for (const auto& t : texts) {
            QVERIFY2(t.size() < 1'000, t.c_str());
            for (char c : t) QVERIFY2(std::uint8_t(c) >= 32, t.c_str());
        }
    }
}

void TestRecipes::circlesOfPathsAreRefused() {
    Document d;
    const Id a = add(d, pointsOf({{0, 0, 0}, {1000, 0, 0}}, false), "A");
    const Id b = add(d, DerivedRecipe{a, OffsetOf{}}, "B");
    const Id c = add(d, DerivedRecipe{b, OffsetOf{}}, "C");
    QVERIFY(follows(d, c, a) && follows(d, a, a) && !follows(d, a, c));
    const auto good = evaluate(d);
    PathItem circle = *d.path(a);
    circle.recipe = DerivedRecipe{c, OffsetOf{}};
    const Document bad = with(d, circle);
    const auto e = evaluate(bad, good);
    for (Id id : {a, b, c}) {
        QVERIFY(e->paths.at(id)->problem);
        QVERIFY(e->paths.at(id)->path); // the last good one stays
    }
    bool named = false;
    for (Id id : {a, b, c}) {
        const std::string& text = e->paths.at(id)->problem->text;
        if (text.find("goes round in a circle") == std::string::npos) continue;
        named = true; // every one of them, in turn
        QVERIFY2(text.find("This path goes round in a circle: ") != std::string::npos, text.c_str());
        for (Id each : {a, b, c})
            QVERIFY2(text.find(d.path(each)->name + " follows ") != std::string::npos, text.c_str());
        QVERIFY(text.ends_with(". Let one of them be made from something else."));
    }
    QVERIFY(named);
    PathItem self = *d.path(b);
    self.recipe = JoinedRecipe{{b, b}, 1};
    QVERIFY(evaluate(with(d, self))->paths.at(b)->problem);
    QVERIFY(!evaluate(d, e)->paths.at(c)->problem); // and all is well again
}

void TestRecipes::deletedSourcesGreyWhatFollows() {
    Document d;
    const Id a = add(d, pointsOf({{0, 0, 0}, {1000, 0, 0}}, false), "A");
    const Id b = add(d, DerivedRecipe{a, OffsetOf{}}, "B");
    d = with(d, PartItem{0, "Post", Baluster{}, {}});
    RunItem run;
    run.path = b;
    run.part = d.parts[0]->id;
    d = with(d, run);
    const auto good = evaluate(d);
    const auto e = evaluate(without(d, a), good);
    QVERIFY(e->paths.at(b)->problem->text.find("deleted") != std::string::npos);
    QVERIFY(e->runs[0]->stale() && e->runs[0]->placed);
    const auto undone = evaluate(d, e);
    QVERIFY(!undone->runs[0]->stale());
}

void TestRecipes::placementsTurnAndStand() {
    ShapeRecipe r{CircleShape{100}, {10, 20, 30}, Plane::Front, kPi / 2, 0};
    const auto b = build(PathRecipe(r));
    NEAR((b->path.at(0).point - Vec3(10, 20, 130)).norm(), 0, 1e-9); // its x turned up
    HelixShape screw;
    screw.by = HelixBy::Pitch;
    screw.pitch = 300;
    screw.height = 1200; // four turns
    NEAR(build(ShapeRecipe{screw, Vec3::Zero(), Plane::Plan, 0, 0})->path.length(),
         helixLength(800, 800, 8 * kPi, 1200), 1e-6);
    screw.pitch = 0;
    QCOMPARE(build(ShapeRecipe{screw, Vec3::Zero(), Plane::Plan, 0, 0}).problem().field, std::string("pitch"));
    for (Plane plane : {Plane::Plan, Plane::Front, Plane::Side}) {
        r.plane = plane;
        r.tilt = 0.3; // out of the plane: still a circle, and back and forth agree
        NEAR(factsOf(build(PathRecipe(r))->path).sharpest, 100, 1e-9);
        NEAR(std::abs(factsOf(build(PathRecipe(r))->path).normal.dot(axesOf(plane).col(2))), std::cos(0.3), 1e-9);
        NEAR(axesOf(plane).determinant(), 1, 1e-12);
        const Vec2 p(3, -4);
        NEAR((toPlane(r, toSpace(r, p)) - p).norm(), 0, 1e-12);
    }
}

void TestRecipes::swagsAndWheelsNameTheirField() {
    SwagShape s;
    s.amount = 0;
    QCOMPARE(build(ShapeRecipe{s, Vec3::Zero(), Plane::Plan, 0, 0}).problem().field, std::string("amount"));
    s.amount = 100;
    s.to = s.from + Vec3(0, 0, 500);
    QCOMPARE(build(ShapeRecipe{s, Vec3::Zero(), Plane::Plan, 0, 0}).problem().field, std::string("to"));
    WheelShape w;
    w.wheels.push_back({"Idler", {350, 10}, 20, 0, true});
    const auto bad = build(ShapeRecipe{w, Vec3::Zero(), Plane::Plan, 0, 0});
    QCOMPARE(bad.problem().field, std::string("wheel 3"));
    QVERIFY2(bad.problem().text.find("Idler") != std::string::npos, bad.problem().text.c_str());
    w.wheels[2] = {"Idler", {350, 300}, 20, 15, true};
    const auto good = build(ShapeRecipe{w, Vec3::Zero(), Plane::Plan, 0, 0});
    QVERIFY(good && good->loop);
    NEAR(good->loop->length, good->path.length(), 1e-8);
    NEAR(circlesOf(w)[2].radius, pitchRadius(15, 25.4), 1e-12);
    w.wheels[2].teeth = 2;
    QCOMPARE(build(ShapeRecipe{w, Vec3::Zero(), Plane::Plan, 0, 0}).problem().field, std::string("wheel 3"));
}

void TestRecipes::wholePathsAreMovedTurnedAndSized() {
    const Document d = fullDocument();
    const Vec3 about(100, 50, -20), by(7, 8, 9);
    const double turn = 0.7, k = 1.6;
    const Mat3 R = Eigen::AngleAxisd(turn, Vec3::UnitZ()).toRotationMatrix();
    int moved = 0;
    for (const auto& p : d.paths) {
        PathRecipe recipe = p->recipe;
        if (auto* s = std::get_if<ShapeRecipe>(&recipe)) s->plane = Plane::Plan;
        const auto next = movedRecipe(recipe, about, by, turn, bodyOf(recipe) ? 1 : k);
        if (!sourcesOf(recipe).empty()) {
            QVERIFY(!next && next.problem().field == "source"); // it moves with what it follows
            continue;
        }
        if (bodyOf(recipe)) continue;
        const Path a = build(recipe)->path, b = build(*next)->path;
        NEAR(b.length(), k * a.length(), 1e-6 * b.length());
        for (double f : {0., 0.3, 0.8}) {
            const Vec3 expected = about + k * (R * (a.at(f * a.length()).point - about)) + by;
            NEAR((b.at(f * b.length()).point - expected).norm(), 0, 1e-5 * b.length());
        }
        ++moved;
    }
    QVERIFY(moved >= 13);
    ShapeRecipe upright{CircleShape{50}, Vec3::Zero(), Plane::Front, 0, 0};
    QCOMPARE(movedRecipe(upright, about, by, 0.5, 1).problem().field, std::string("turn"));
    QVERIFY(bool(movedRecipe(upright, about, by, 0, 2)));
    QCOMPARE(movedRecipe(upright, about, by, 0, 0).problem().field, std::string("size"));
    QVERIFY(!movedRecipe(upright, about, Vec3(NAN, 0, 0), 0, 1));
}

void TestRecipes::edgesOfAPartFollowIt() {
    Document d;
    d = with(d, PartItem{0, "Slab", Plank{600, 400, 50}, {}}); // 400 along x, 600 along y
    const Id part = d.parts[0]->id;
    const Id loop = add(d, EdgesRecipe{part, Vec3(0.5, 0, 1), true, false, Vec3(10, 20, 30), 0});
    const Id edge = add(d, EdgesRecipe{part, Vec3(0.5, 0, 1), false, false, Vec3::Zero(), 0});
    const auto before = evaluate(d);
    const Path& top = *before->paths.at(loop)->path;
    QVERIFY(top.closed());
    NEAR(top.length(), 2 * (600 + 400), 1e-9);
    for (const auto& p : evenPoints(top, 40)) NEAR(p.z(), 80, 1e-9); // round the top face
    NEAR(before->paths.at(edge)->path->length(), 400, 1e-9);
    PartItem slab = *d.parts[0];
    std::get<Plank>(std::get<Maker>(slab.shape)).length = 900;
    const auto after = evaluate(with(d, slab), before);
    NEAR(after->paths.at(loop)->path->length(), 2 * (900 + 400), 1e-9);
    const auto gone = evaluate(without(d, part), before);
    QVERIFY(gone->paths.at(loop)->problem && gone->paths.at(loop)->path);
    QCOMPARE(usersOf(d, part).size(), size_t(2));
    // A round edge goes on smoothly as far as it leads: a ring of 24 corners.
    Mesh disc;
    for (int i = 0; i < 24; ++i) disc.points.push_back({100 * std::cos(i * kPi / 12), 100 * std::sin(i * kPi / 12), 0});
    disc.points.push_back({0, 0, 0});
    for (std::uint32_t i = 0; i < 24; ++i) disc.triangles.push_back({24, i, (i + 1) % 24});
    const Mesh m = *cleaned(disc);
    bool closed = false;
    QCOMPARE(edgeChain(m, Vec3(100, 0, 0), false, Vec3::UnitZ(), &closed).size(), size_t(24));
    QVERIFY(closed);
    QCOMPARE(edgeChain(m, Vec3(100, 0, 0), true, Vec3::UnitZ(), &closed).size(), size_t(24));
    QVERIFY(edgeChain(Mesh{}, Vec3::Zero(), true, Vec3::UnitZ(), &closed).empty());
}

void TestRecipes::whatGoesOnAtABranch() {
    Document d;
    const Id a = add(d, pointsOf({{0, 0, 0}, {100, 0, 0}}, false), "A");
    const Id left = add(d, pointsOf({{100, 0, 0}, {200, 90, 0}}, false), "Left");
    const Id right = add(d, pointsOf({{200, -90, 0}, {100, 0.5, 0}}, false), "Right");
    add(d, pointsOf({{300, 0, 0}, {400, 0, 0}}, false), "Far");
    const Id both = add(d, JoinedRecipe{{a}, 1});
    const auto e = evaluate(d);
    const auto& r = std::get<JoinedRecipe>(d.path(both)->recipe);
    QCOMPARE(goingOn(*e, r, *e->paths.at(both)->path), (std::vector<Id>{left, right})); // the user is asked which
    PathItem joined = *d.path(both);
    std::get<JoinedRecipe>(joined.recipe).members.push_back(left);
    const auto f = evaluate(with(d, joined));
    QVERIFY(goingOn(*f, std::get<JoinedRecipe>(joined.recipe), *f->paths.at(both)->path).empty());
}

/// Puts a value into every number of a recipe, one at a time.
struct Spoiler : IgnoreValues {
    int at, seen = 0;
    double value;
    std::string key;
    Spoiler(int index, double v) : at(index), value(v) {}
    void put(const char* k, double& v) {
        if (seen++ == at) v = value, key = k;
    }
    void length(const char* k, const char*, const char*, double& v) { put(k, v); }
    void angle(const char* k, const char*, const char*, double& v) { put(k, v); }
    void number(const char* k, const char*, const char*, double& v) { put(k, v); }
    void count(const char* k, const char*, const char*, long& v) {
        if (seen++ == at) v = std::isfinite(value) ? long(value) : -1, key = k;
    }
    void point(const char* k, const char*, const char*, Vec3& v) { put(k, v.y()); }
    void wheels(const char*, std::vector<Wheel>& w) { put("wheel 1", w[0].radius), put("wheel 2", w[1].centre.x()); }
};

void TestRecipes::wrongValuesOfEveryKind() {
    const Path source = build(*recipeOf("rectangle"))->path;
    int refused = 0, tried = 0;
    for (const char* kind :
         {"circle", "ellipse", "rectangle", "slot", "polygon", "helix", "arc", "straight", "swag", "wheels", "offset",
          "stretch", "start moved", "mirrored", "projected", "resampled", "smoothed"}) {
        for (double value : {0., -5., double(NAN), double(INFINITY), 1e15})
            for (int at = 0; at < 12; ++at) {
                auto recipe = *recipeOf(kind);
                Spoiler s(at, value);
                describe(s, recipe);
                if (s.key.empty()) break;
                ++tried;
                const auto b = build(recipe, std::span(&source, 1));
                if (b) {
                    // Some values are fine where they stand; what comes out is then a sound path.
                    QVERIFY2(std::isfinite(b->path.length()) && b->path.length() > 0, kind);
                    QVERIFY2(std::isfinite(value) || s.key == "count" || s.key == "chainPitch" || s.key == "step",
                             qPrintable(QString("%1 %2").arg(kind, s.key.c_str())));
                } else {
                    ++refused;
                    QVERIFY(!b.problem().text.empty() && b.problem().text.back() == '.');
                    if (!std::isfinite(value)) QVERIFY2(!b.problem().field.empty(), b.problem().text.c_str());
                }
            }
    }
    QVERIFY2(refused > 100 && refused < tried, qPrintable(QString("%1 of %2").arg(refused).arg(tried)));
}

VICINAL_SUITE(TestRecipes)

} // namespace test_recipes
#include "test_recipes.moc"
