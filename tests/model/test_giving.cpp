// What gives way: against closed forms, a fine scan of its own, and every later edit.
#include "layout/placement_input.h"
#include "layout/spacing/rules.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/typed/typed_values.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/evaluate.h"
#include "model/evaluate/giving.h"
#include "model/file/document_file.h"
#include "model/file/json/document_json.h"
#include "suite.h"
#include "support.h"
#include <set>

namespace test_giving {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// A path (1), a roller link (2; with its outer one, 3), a run (4) of links along it.
Document chainOn(const PathRecipe& recipe, double pitch, bool alternate = false) {
    PathItem path;
    path.name = "Loop";
    path.recipe = recipe;
    Document d = with(Document(), path);
    RollerLink inner, outer;
    inner.pitch = outer.pitch = pitch;
    outer.kind = RollerLink::Kind::Outer;
    d = with(d, PartItem{0, "Inner", Maker(inner), {}});
    d = with(d, PartItem{0, "Outer", Maker(outer), {}});
    RunItem run;
    run.name = "Chain";
    run.path = 1;
    run.part = 2;
    run.spacing->rule = PinToPin{};
    run.facing.crown = Carried{};
    if (alternate) run.sequence.steps = {{2, 1, 1}, {3, 1, 1}};
    return with(d, run);
}

Document changed(const Document& d, const std::function<void(RunItem&)>& how) {
    RunItem r = *d.run(4);
    how(r);
    return with(d, r);
}
Document changedPath(const Document& d, const std::function<void(PathRecipe&)>& how) {
    PathItem p = *d.path(1);
    how(p.recipe);
    return with(d, p);
}

PathRecipe ring(double radius) { return ShapeRecipe{CircleShape{radius}}; }
PathRecipe winch() {
    WheelShape loop;
    loop.wheels = {
        {"Drum", {0, 0}, 0, 38, true}, {"Motor", {480, -30}, 0, 17, true}, {"Idler", {300, 160}, 0, 15, true}};
    return ShapeRecipe{loop};
}

/// How far the chain of a run is from closing.
double closingOf(const RunResult& r) { return *r.placed->laid->closing; }

} // namespace

class TestGiving : public QObject {
    Q_OBJECT
private slots:
    void boundsStandInFiles();
    void aRadiusGivesWay();
    void whatDoesNotGoOnNowMayStillGive();
    void aWheelGivesWay_data();
    void aWheelGivesWay();
    void everyRuleThatLeavesSomethingOver();
    void itFollowsEveryLaterEdit();
    void itIsTheNearestSolution();
    void whatCannotGiveSaysWhatWorks();
    void filesAndTypedValues();
    void pointsAndOtherNumbersGive();
    void sprocketsMeetTheirRollers();
    void aSlackStrandTakesTheLinks();
    void limitsOfTheTradeAreTheLoops();
};

void TestGiving::aRadiusGivesWay() {
    for (long n : {24L, 60L, 187L}) {
        const double p = 25.4, exact = p / (2 * std::sin(kPi / double(n)));
        for (double wrong : {0.97, 0.999, 1.02}) {
            Document d = chainOn(ring(exact * wrong), p);
            d = changed(d, [&](RunItem& r) {
                r.gives.what = Gives::Value;
                r.gives.value = "radius";
                r.gives.count = n;
            });
            const auto e = evaluate(d);
            const auto run = e->run(4);
            QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
            NEAR(run->path->gave->after, exact, 1e-9 * exact);
            NEAR(run->path->gave->before, exact * wrong, 0);
            NEAR(closingOf(*run), 0, 1e-9);
            QCOMPARE(run->placed->count(), size_t(n));
            NEAR(run->path->path->length(), 2 * kPi * exact, 1e-7);
            // The document keeps its own number: undone is undone, and let go it is as it was.
            NEAR(std::get<CircleShape>(std::get<ShapeRecipe>(d.path(1)->recipe).shape).radius, exact * wrong, 0);
        }
    }
}

/// On the path as it is so many links would not even go on from one to the next: that is no reason not to seek.
void TestGiving::whatDoesNotGoOnNowMayStillGive() {
    const double p = 25.4, exact = p / (2 * std::sin(kPi / 12));
    Document d = chainOn(ring(0.45 * p), p); // narrower than a link is long
    d = changed(d, [&](RunItem& r) {
        r.gives.what = Gives::Value;
        r.gives.value = "radius";
        r.gives.count = 12;
    });
    const auto run = evaluate(d)->run(4);
    QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
    NEAR(run->path->gave->after, exact, 1e-9 * exact);
    const auto one = evaluate(changed(d, [](RunItem& r) { r.gives.count = 1; }))->run(4);
    QVERIFY(one->problem.has_value());
}

void TestGiving::aWheelGivesWay_data() {
    QTest::addColumn<int>("moves");
    QTest::newRow("on a line") << int(WheelMoves::Line);
    QTest::newRow("on an arm") << int(WheelMoves::Pivot);
    QTest::newRow("along a path") << int(WheelMoves::Path);
}

void TestGiving::aWheelGivesWay() {
    QFETCH(int, moves);
    Document d = chainOn(winch(), 25.4, true);
    PathItem slot;
    slot.name = "Slot";
    slot.recipe = PointsRecipe{{{{260, 60, 0}, true}, {{300, 170, 0}, true}, {{360, 280, 0}, true}}};
    d = with(d, slot);
    d = changed(d, [&](RunItem& r) {
        r.gives.what = Gives::Wheel;
        r.gives.wheel = 3;
        r.gives.moves = WheelMoves(moves);
        r.gives.pivot = Vec3(180, 120, 0);
        r.gives.along = moves == int(WheelMoves::Path) ? lastId(d) : 0;
    });
    std::set<long> counts;
    for (long count : {0L, 0L, 2L, -2L}) {
        const auto e = evaluate(d);
        const auto run = e->run(4);
        QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
        const SolvedValue& gave = *run->path->gave;
        QCOMPARE(gave.name, std::string("Idler"));
        NEAR(closingOf(*run), 0, 1e-9);
        NEAR(gave.error, 0, 1e-9);
        QCOMPARE(run->placed->count() % 2, size_t(0)); // inner and outer links
        QCOMPARE(long(run->placed->count()), gave.count);
        counts.insert(gave.count);
        // Where it went is on what holds it.
        const Vec3 from = *gave.from, to = *gave.to;
        if (moves == int(WheelMoves::Line)) {
            NEAR(to.x(), from.x(), 1e-9);
            NEAR(to.y() - from.y(), gave.after, 1e-9);
        } else if (moves == int(WheelMoves::Pivot)) {
            NEAR((to - Vec3(180, 120, 0)).norm(), (from - Vec3(180, 120, 0)).norm(), 1e-9);
        } else {
            const Path& p = *e->paths.at(lastId(d))->path;
            NEAR((p.at(p.closest(to)).point - to).norm(), 0, 1e-6);
        }
        if (count != 0) break;
        d = changed(d, [&](RunItem& r) { r.gives.count = gave.count + (counts.size() == 1 ? 2 : -2); });
    }
    // A table of counts, each with where the wheel would go; the one in use as it went.
    const auto rows = fitsOf(*evaluate(d)->run(4));
    QVERIFY(bool(rows));
    int solved = 0;
    for (const Fit& f : *rows) {
        QCOMPARE(f.count % 2, 0L);
        if (!f.gives) continue;
        ++solved;
        const auto other = evaluate(changed(d, [&](RunItem& r) { r.gives.count = f.count; }))->run(4);
        NEAR(other->path->gave->after, *f.gives, 1e-6);
        NEAR(closingOf(*other), 0, 1e-9);
    }
    QVERIFY(solved >= 2);
}

/// "40 planks at 150 exactly: let the radius give", and the like.
void TestGiving::everyRuleThatLeavesSomethingOver() {
    PathItem arc;
    arc.recipe = ShapeRecipe{CircleShape{1000}};
    Document d = with(Document(), arc);
    d = with(d, PartItem{0, "Plank", Maker(Plank{}), {}});
    d = with(d, PartItem{0, "Post", Maker(Post{}), {}});
    RunItem run;
    run.path = 1;
    run.part = 2;
    d = with(d, run);
    const auto solved = [&](const std::function<void(RunItem&)>& how) {
        const auto r = evaluate(changed(d, [&](RunItem& item) {
                           item.gives.what = Gives::Value;
                           item.gives.value = "radius";
                           item.gives.count = 40;
                           how(item);
                       }))->run(4);
        if (r->problem) qFatal("%s", r->problem->text.c_str());
        return r;
    };
    const auto planks = solved([](RunItem& r) { r.spacing->rule = StepOff{150}; });
    NEAR(planks->path->gave->after, 40 * 150 / (2 * kPi), 1e-9);
    QCOMPARE(planks->placed->count(), size_t(40));
    NEAR(planks->placed->laid->leftOver, 0, 1e-9);
    const auto gaps = solved([](RunItem& r) { r.spacing->rule = StepOff{6}, r.spacing->measure = Measure::ClearGap; });
    NEAR(gaps->path->gave->after, 40 * (145 + 6) / (2 * kPi), 1e-9);
    const auto chords = solved([](RunItem& r) { r.spacing->rule = StepOff{150}, r.spacing->along = Along::Straight; });
    NEAR(chords->path->gave->after, 150 / (2 * std::sin(kPi / 40)), 1e-8);
    const auto graded = solved([](RunItem& r) { r.spacing->rule = Graded{{{{0, 100}, {1, 200}}, false, true}, 0}; });
    QCOMPARE(graded->placed->count(), size_t(40));
    NEAR(graded->placed->laid->leftOver, 0, 1e-5);
    // A rule that leaves nothing over needs nothing to give.
    const auto none = evaluate(changed(d, [](RunItem& r) {
                          r.spacing->rule = ShareOut{5};
                          r.gives.what = Gives::Value;
                          r.gives.value = "radius";
                      }))->run(4);
    QCOMPARE(none->problem->field, std::string("rule"));
}

/// While it gives way it stays solved: another pitch, another path, another wheel.
void TestGiving::itFollowsEveryLaterEdit() {
    Document d = chainOn(winch(), 25.4);
    d = changed(d, [](RunItem& r) {
        r.gives.what = Gives::Wheel;
        r.gives.wheel = 3;
    });
    auto e = evaluate(d);
    const auto check = [&](const Document& next) {
        e = evaluate(next, e);
        const auto run = e->run(4);
        QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
        NEAR(closingOf(*run), 0, 1e-9);
        const auto fresh = evaluate(next)->run(4);
        NEAR(fresh->path->gave->after, run->path->gave->after, 1e-9);
        d = next;
    };
    check(changedPath(
        d, [](PathRecipe& r) { std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).wheels[1].centre.x() = 520; }));
    check(changedPath(
        d, [](PathRecipe& r) { std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).wheels[0].teeth = 32; }));
    PartItem link = *d.part(2);
    std::get<RollerLink>(std::get<Maker>(link.shape)).pitch = 25.38; // a worn chain's is longer, a new one's shorter
    check(with(d, link));
    // What has nothing to do with it solves nothing anew: the same path object.
    const auto path = e->run(4)->path;
    const auto later = evaluate(changed(d, [](RunItem& r) { r.leftOut = {3}; }), e);
    QVERIFY(later->run(4)->path == path);
    // Let go: the path is as the recipe says, and the chain is open again.
    const auto free = evaluate(changed(d, [](RunItem& r) { r.gives = {}; }), e);
    QVERIFY(!free->run(4)->path->gave);
    QVERIFY(std::abs(closingOf(*free->run(4))) > 1e-3);
    // Another run on the same path goes along with it, and may not ask for more.
    RunItem second = *d.run(4);
    second.id = 0;
    second.name = "Second";
    const Document both = with(d, second);
    QCOMPARE(evaluate(both)->run(5)->problem->field, std::string("gives"));
    second.gives = {};
    QVERIFY(evaluate(with(d, second))->run(5)->path->gave != nullptr);
}

/// Against a scan of the closing error with fine steps.
void TestGiving::itIsTheNearestSolution() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> u(0, 1);
    for (int k = 0; k < 12; ++k) {
        WheelShape loop;
        loop.wheels = {{"A", {0, 0}, 150 + 60 * u(random), 0, true},
                       {"B", {700 + 200 * u(random), 60 * u(random)}, 60 + 40 * u(random), 0, true},
                       {"C", {300 + 100 * u(random), 300 + 100 * u(random)}, 50 + 20 * u(random), 0, true}};
        const double p = 30 + 10 * u(random);
        Document d = chainOn(ShapeRecipe{loop}, p);
        const double heading = 2 * kPi * u(random);
        d = changed(d, [&](RunItem& r) {
            r.gives.what = Gives::Wheel;
            r.gives.wheel = 3;
            r.gives.heading = heading;
        });
        const auto run = evaluate(d)->run(4);
        if (run->problem) continue;
        const double found = run->path->gave->after;
        const long n = run->path->gave->count;
        double nearest = 1e9, before = std::nan("");
        const PlacementInput order = orderOf(*run);
        const double far = std::abs(found) + 5;
        if (far > 60) continue; // too long a way to scan
        for (double t = -far; t <= far; t += 0.05) {
            WheelShape moved = loop;
            moved.wheels[2].centre += t * Vec2(std::cos(heading), std::sin(heading));
            const auto built = build(ShapeRecipe{moved});
            double e = std::nan("");
            if (built) {
                const auto x = excess(built->path, order.spacing, lineupOf(built->path, order), n);
                if (x) e = *x;
            }
            if (!std::isnan(e) && !std::isnan(before) && (e > 0) != (before > 0))
                nearest = std::min(nearest, std::abs(t));
            before = e;
        }
        if (nearest < 1e8)
            QVERIFY2(std::abs(found) <= nearest + 0.1, qPrintable(QString("%1 %2").arg(found).arg(nearest)));
    }
}

void TestGiving::whatCannotGiveSaysWhatWorks() {
    const Document base = chainOn(winch(), 25.4);
    const auto problem = [&](const std::function<void(RunItem&)>& how, const Document& on) {
        const auto r = evaluate(changed(on, how), evaluate(on))->run(4);
        if (!r->problem) return std::pair(std::string("none"), std::string());
        if (!r->placed) return std::pair(std::string("nothing shown"), std::string());
        return std::pair(r->problem->field, std::string(r->problem->text));
    };
    const auto value = [](std::string key) {
        return [key](RunItem& r) { r.gives.what = Gives::Value, r.gives.value = key; };
    };
    QCOMPARE(problem(value("radius"), base).first, std::string("giveValue")); // a loop has none
    QCOMPARE(problem(value(""), base).first, std::string("giveValue"));
    const auto wheel = [&](const std::function<void(GiveWay&)>& more) {
        return [more](RunItem& r) {
            r.gives.what = Gives::Wheel;
            r.gives.wheel = 3;
            more(r.gives);
        };
    };
    QCOMPARE(problem(wheel([](GiveWay& g) { g.wheel = 9; }), base).first, std::string("giveWheel"));
    QCOMPARE(problem(wheel([](GiveWay& g) { g.moves = WheelMoves::Path; }), base).first, std::string("giveAlong"));
    QCOMPARE(problem(wheel([](GiveWay& g) { g.moves = WheelMoves::Pivot, g.pivot = Vec3(300, 160, 0); }), base).first,
             std::string("givePivot"));
    QCOMPARE(problem(wheel([](GiveWay& g) { g.least = 3, g.most = -3; }), base).first, std::string("giveAtLeast"));
    // No solution within the bounds: the best there is, and what it leaves.
    const auto [field, text] = problem(wheel([](GiveWay& g) { g.count = 100, g.least = -5, g.most = 5; }), base);
    QCOMPARE(field, std::string("giveAtLeast"));
    QVERIFY2(text.find("nearest") != std::string::npos && text.find("100") != std::string::npos, text.c_str());
    // A wheel of a path that is no loop; a count that cannot be; not a number.
    QCOMPARE(problem(wheel([](GiveWay&) {}), chainOn(ring(300), 25.4)).first, std::string("giveWheel"));
    RunItem bad = *base.run(4);
    bad.gives.heading = std::nan("");
    QVERIFY(defectOf(bad).has_value());
    bad.gives.heading = 0;
    bad.gives.least = std::nan("");
    QVERIFY(defectOf(bad).has_value());
}

void TestGiving::filesAndTypedValues() {
    Document d = chainOn(winch(), 25.4);
    RunItem r = *d.run(4);
    for (const auto& [key, text] : {std::pair{"gives", "wheel"},
                                    {"giveWheel", "3"},
                                    {"giveMoves", "pivot"},
                                    {"givePivot", "100, 200, 0"},
                                    {"giveAtLeast", "-30"},
                                    {"giveAtMost", "45"},
                                    {"giveCount", "86"}}) {
        const auto p = setTyped(r, d, key, text);
        QVERIFY2(!p, p ? p->text.c_str() : "");
    }
    NEAR(*r.gives.least, -30 * kDegree, 1e-12); // an arm's bounds are angles
    QVERIFY(r.gives.count == 86 && r.gives.moves == WheelMoves::Pivot && r.gives.pivot == Vec3(100, 200, 0));
    for (const auto& [key, text] : {std::pair{"gives", "value"}, {"giveValue", "chainPitch"}, {"giveAtMost", "none"}})
        QVERIFY(!setTyped(r, d, key, text));
    const auto back = fromJson(toJson(with(d, r)), {}, {});
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QVERIFY(back->run(4)->gives == r.gives);
    QVERIFY(back->run(4)->spacing == r.spacing);
}

/// Any number of any recipe: a point's coordinate, a sag, the pitch of a helix, an offset of another path.
void TestGiving::pointsAndOtherNumbersGive() {
    const auto solved = [](Document d, std::string key, long axis) {
        d = changed(d, [&](RunItem& r) {
            r.gives.what = Gives::Value;
            r.gives.value = key;
            r.gives.axis = axis;
        });
        const auto run = evaluate(d)->run(4);
        if (run->problem) qFatal("%s: %s", key.c_str(), run->problem->text.c_str());
        const auto e = excess(*run->path->path, run->item->spacing, lineupOf(*run->path->path, orderOf(*run)),
                              long(run->placed->count()));
        if (!e || std::abs(*e) > 1e-8) qFatal("%s leaves something over", key.c_str());
        return *run->path->gave;
    };
    const PathRecipe points = PointsRecipe{{{{0, 0, 0}, true}, {{600, 300, 0}, true}, {{1500, 0, 0}, true}}};
    const SolvedValue moved = solved(chainOn(points, 25.4), "point 2", 1);
    QVERIFY(moved.from && moved.to && moved.to->x() == 600 && moved.to->y() != 300);
    SwagShape swag;
    solved(chainOn(ShapeRecipe{swag}, 25.4), "amount", 0);
    HelixShape helix;
    helix.by = HelixBy::Pitch;
    solved(chainOn(ShapeRecipe{helix}, 25.4), "pitch", 0);
    Document d = chainOn(ring(500), 25.4);
    PathItem beside;
    beside.recipe = DerivedRecipe{1, OffsetOf{-120}};
    d = with(d, beside);
    d = changed(d, [&](RunItem& r) { r.path = lastId(d); });
    QVERIFY(std::abs(solved(d, "distance", 0).after + 120) < 5);
}

/// Wheels as bodies: turned so that every roller sits in a gap of the true teeth, also while a wheel gives way.
void TestGiving::sprocketsMeetTheirRollers() {
    Document d = chainOn(winch(), 25.4, true);
    d = changedPath(d, [](PathRecipe& r) {
        auto& loop = std::get<WheelShape>(std::get<ShapeRecipe>(r).shape);
        for (auto& w : loop.wheels) w.body = WheelBody::Sprocket;
        std::get<ShapeRecipe>(r).plane = Plane::Front;
        std::get<ShapeRecipe>(r).at = Vec3(300, -200, 900);
    });
    d = changed(d, [](RunItem& r) {
        r.gives.what = Gives::Wheel;
        r.gives.wheel = 3;
        r.facing.crown = Outward{};
    });
    const auto e = evaluate(d);
    const auto run = e->run(4);
    QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
    QCOMPARE(run->path->wheels.size(), size_t(3));
    QCOMPARE(run->seats.size(), size_t(3));
    long engaged = 0;
    for (const WheelPlaced& wheel : run->path->wheels) {
        const WheelSeat& seat = run->seats[wheel.wheel];
        NEAR(seat.error, 0, 1e-8);
        engaged += seat.engaged;
        QVERIFY(seat.engaged >= long(seat.wrap / (2 * kPi) * double(std::get<Sprocket>(*wheel.maker).teeth)) - 1);
        // In the wheel's own axes every pin on it stands in the middle of a gap: one gap is on +x.
        const Mat4 back =
            wheelsOf(*e, *run->path)->instances->pose(size_t(&wheel - run->path->wheels.data())).inverse();
        const double tooth = 2 * kPi / double(std::get<Sprocket>(*wheel.maker).teeth);
        int met = 0;
        for (double s : run->placed->stations()) {
            const Vec3 world = run->path->path->at(s).point;
            const Vec3 at = back.topLeftCorner<3, 3>() * world + back.topRightCorner<3, 1>();
            NEAR(at.z(), 0, 1e-9);
            if (std::abs(at.head<2>().norm() - pitchRadius(std::get<Sprocket>(*wheel.maker).teeth, 25.4)) > 1e-7)
                continue;
            NEAR(std::remainder(std::atan2(at.y(), at.x()), tooth), 0, 1e-8);
            ++met;
        }
        QVERIFY(met >= seat.engaged - 1 && met > 0);
    }
    QVERIFY(engaged > 20);
    QVERIFY(!run->remarks.empty()); // the idler has few teeth, and fewer engaged
    // The same bodies as long as their numbers are the same; a phase typed by hand stays.
    const auto later = evaluate(changedPath(d,
                                            [](PathRecipe& r) {
                                                auto& w = std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).wheels;
                                                w[1].centre.x() += 3;
                                                w[2].phase = 0.1;
                                            }),
                                e);
    const auto& path = *later->paths.at(1);
    QVERIFY(path.wheels[0].mesh == run->path->wheels[0].mesh);
    NEAR((wheelsOf(*later, path)->instances->pose(2) - path.wheels[2].pose(0.1)).norm(), 0, 1e-12);
    // What cannot be a body says so and takes nothing else along.
    const auto odd = evaluate(changedPath(d, [](PathRecipe& r) {
        auto& w = std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).wheels;
        w[0].bore = 5000;
        w[1].body = WheelBody::Part;
        w[1].part = 99;
    }));
    QCOMPARE(odd->paths.at(1)->wheels.size(), size_t(1));
    QCOMPARE(odd->paths.at(1)->remarks.size(), size_t(2));
    QVERIFY(!odd->run(4)->problem);
    const auto back = fromJson(toJson(d), {}, {});
    QVERIFY(bool(back));
    const auto wheelsOf = [](const Document& x) {
        return std::get<WheelShape>(std::get<ShapeRecipe>(x.path(1)->recipe).shape).wheels;
    };
    QVERIFY(wheelsOf(*back) == wheelsOf(d));
}

/// What the trade wants is the loop's own: other limits, other remarks.
void TestGiving::limitsOfTheTradeAreTheLoops() {
    const Document d = chainOn(winch(), 25.4);
    const auto remarks = [&](const std::function<void(WheelShape&)>& how) {
        return evaluate(
                   changedPath(d, [&](PathRecipe& r) { how(std::get<WheelShape>(std::get<ShapeRecipe>(r).shape)); }))
            ->run(4)
            ->remarks;
    };
    const auto standard = remarks([](WheelShape&) {});
    QVERIFY(!standard.empty()); // the idler has fifteen teeth
    QVERIFY(remarks([](WheelShape& w) { w.teethLeast = 15, w.engaged = 1; }).empty());
    QVERIFY(remarks([](WheelShape& w) { w.teethLeast = 0, w.engaged = 0; }).empty());
    QVERIFY(remarks([](WheelShape& w) { w.teethLeast = 40; }).size() > standard.size());
    PathItem typed = *d.path(1);
    QVERIFY(!setTyped(typed, d, "teethAtLeast", "11"));
    QCOMPARE(std::get<WheelShape>(std::get<ShapeRecipe>(typed.recipe).shape).teethLeast, 11L);
}

/// A chain with more links than tight ones: the strand that hangs gives way, by sag and by slack the same; the pins
/// stay on their pitch circles and the chain on the catenary; a wheel that gives way instead takes the slack up again.
void TestGiving::aSlackStrandTakesTheLinks() {
    const double p = 25.4;
    Document tight = chainOn(winch(), p);
    tight = changedPath(tight, [](PathRecipe& r) { std::get<ShapeRecipe>(r).plane = Plane::Front; });
    const long least = long(evaluate(tight)->run(4)->placed->count()); // as many as go in whole
    for (long strand : {1L, 2L, 3L})
        for (long more : {1L, 2L}) {
            std::vector<double> lengths;
            for (SwagBy by : {SwagBy::Sag, SwagBy::Slack}) {
                const Document slack = changedPath(tight, [&](PathRecipe& r) {
                    auto& loop = std::get<WheelShape>(std::get<ShapeRecipe>(r).shape);
                    loop.hangs = strand;
                    loop.hangsBy = by;
                    loop.hang = 20;
                });
                const auto e = evaluate(changed(slack, [&](RunItem& r) {
                    r.gives.what = Gives::Value;
                    r.gives.value = "hang";
                    r.gives.count = least + more;
                }));
                const auto run = e->run(4);
                QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
                QCOMPARE(run->placed->count(), size_t(least + more));
                NEAR(closingOf(*run), 0, 1e-9);
                const auto& hangs = *run->path->loop->hangs;
                NEAR(by == SwagBy::Sag ? hangs.sag : hangs.slack, run->path->gave->after, 1e-8);
                QVERIFY(run->path->gave->name == (by == SwagBy::Sag ? "Sag" : "Slack"));
                lengths.push_back(run->path->path->length());
                // Every pin on the path, every link as long as its pins are apart.
                for (size_t i = 0; i < run->placed->count(); ++i) {
                    const Mat4 m = run->placed->pose(i);
                    const Vec3 a = (m * Vec4(-p / 2, 0, 0, 1)).head<3>(), b = (m * Vec4(p / 2, 0, 0, 1)).head<3>();
                    NEAR((b - a).norm(), p, 1e-9);
                    for (const Vec3& pin : {a, b}) {
                        const Path& path = *run->path->path;
                        NEAR((path.at(path.closest(pin)).point - pin).norm(), 0, 1e-7);
                    }
                }
                // Another turn of the loop about the upright says the same.
                const auto turned =
                    evaluate(changedPath(changed(slack, [&](RunItem& r) { r = *run->item; }), [](PathRecipe& r) {
                        auto& s = std::get<ShapeRecipe>(r);
                        s.plane = Plane::Side;
                        s.at = Vec3(70, -30, 900);
                    }));
                NEAR(turned->run(4)->path->gave->after, run->path->gave->after, 1e-7);
            }
            NEAR(lengths[0], lengths[1], 1e-7);
        }
    // The idler takes it up: the same links, no strand hangs.
    const auto taken = evaluate(changed(tight, [&](RunItem& r) {
        r.gives.what = Gives::Wheel;
        r.gives.wheel = 3;
        r.gives.count = least + 2;
    }));
    QVERIFY(!taken->run(4)->problem);
    QVERIFY(!taken->run(4)->path->loop->hangs);
    NEAR(closingOf(*taken->run(4)), 0, 1e-9);
    // A loop that lies flat has no strand that hangs, and says where to look; fewer links than tight ones never close.
    const auto flat = evaluate(changedPath(tight, [](PathRecipe& r) {
        std::get<ShapeRecipe>(r).plane = Plane::Plan;
        std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).hangs = 1;
    }));
    QCOMPARE(flat->run(4)->path->problem->field, std::string("hangs"));
    Document few =
        changedPath(tight, [](PathRecipe& r) { std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).hangs = 1; });
    few = changed(few, [&](RunItem& r) {
        r.gives.what = Gives::Value;
        r.gives.value = "hang";
        r.gives.count = least - 3;
    });
    const auto none = evaluate(few);
    QVERIFY(none->run(4)->problem && none->run(4)->problem->text.find("do not come out") != std::string::npos);
    // It is kept in files.
    const auto back = fromJson(toJson(few), {}, {});
    QVERIFY(bool(back));
    const auto& loop = std::get<WheelShape>(std::get<ShapeRecipe>(back->path(1)->recipe).shape);
    QVERIFY(loop.hangs == 1 && loop.hangsBy == SwagBy::Sag && loop.hang == 30);
}

/// Either bound, both or none: from a file they come as they went into it.
void TestGiving::boundsStandInFiles() {
    PathItem path;
    path.name = "Ring";
    path.recipe = ShapeRecipe{CircleShape{500}};
    PartItem part;
    part.name = "Post";
    part.shape = Maker(Post{});
    for (int which = 0; which < 4; ++which) {
        RunItem run;
        run.name = "Posts";
        run.path = 1;
        run.part = 2;
        run.gives.what = Gives::Value;
        run.gives.value = "radius";
        if (which & 1) run.gives.least = 400.125;
        if (which & 2) run.gives.most = 612.5;
        const Document d = with(with(with(Document(), path), part), run);
        const auto back = fromJson(toJson(d), nullptr, nullptr);
        QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
        QVERIFY(back->run(3)->gives == run.gives);
    }
}

VICINAL_SUITE(TestGiving)

} // namespace test_giving
#include "test_giving.moc"
