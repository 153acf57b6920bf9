// Runs that move: a pose at a time is that of a fresh run slid by as much; links stay together; wheels turn with them.
#include "layout/spacing/rules.h"
#include "layout/vehicles/envelope.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/motion/moving.h"
#include "model/evaluate/motion/timetable.h"
#include "model/file/document_file.h"
#include "suite.h"
#include "support.h"

namespace test_moving {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Document drives() {
    auto d = openDocument(std::string(VICINAL_SOURCE) + "/examples/saltmarrow-drives.json", {});
    if (!d) qFatal("%s", d.problem().text.c_str());
    return *d;
}
Document changed(const Document& d, Id run, const std::function<void(RunItem&)>& how) {
    RunItem r = *d.run(run);
    how(r);
    return with(d, r);
}
/// A straight or round path (1), a post (2), a run (3) that moves.
Document posts(bool closed, const SpacingRule& rule, const std::function<void(RunItem&)>& more = {}) {
    PathItem path;
    if (closed)
        path.recipe = ShapeRecipe{CircleShape{1000}};
    else
        path.recipe = PointsRecipe{{{{0, 0, 0}, true}, {{1500, 400, 100}, true}, {{4000, 0, 300}, true}}};
    Document d = with(Document(), path);
    d = with(d, PartItem{0, "Post", Maker(Baluster{}), {}});
    RunItem run;
    run.path = 1;
    run.part = 2;
    run.spacing->rule = rule;
    run.motion.moves = true;
    if (more) more(run);
    return with(d, run);
}

} // namespace

class TestMoving : public QObject {
    Q_OBJECT
private slots:
    void timeIsASlide();
    void waysEndTurnAndStartOver();
    void linksStayTogetherInEveryPhase();
    void wheelsTurnWithTheChain();
    void nothingElseIsTouched();
    void whateverTheRuleTheyMoveAsOne();
    void whatCannotMoveStands();
    void aSweepFindsTheTightestPhase();
    void paceAndStopsAreKept();
    void whatHasNoEffectIsSaid();
    void trainsRunAsOneLaidThere();
};

void TestMoving::timeIsASlide() {
    for (const SpacingRule& rule : {SpacingRule(EvenOut{210}), SpacingRule(ShareOut{17}), SpacingRule(StepOff{173})}) {
        const Document d = posts(true, rule, [](RunItem& r) { r.motion.speed = 137; });
        const auto e = evaluate(d);
        for (double t : {0.1, 1.0, 7.77, 100.0, -3.0}) {
            const auto then = atTime(e, t)->run(3);
            const double L = e->run(3)->path->path->length();
            const auto fresh = evaluate(changed(d, 3, [&](RunItem& r) {
                                   r.spacing->slide = std::fmod(std::fmod(137 * t, L) + L, L);
                               }))->run(3);
            QCOMPARE(then->placed->count(), fresh->placed->count());
            for (size_t i = 0; i < fresh->placed->count(); ++i)
                NEAR((then->placed->pose(i) - fresh->placed->pose(i)).norm(), 0, 1e-9);
        }
    }
    // On an open path by the insets, the same pitch and count.
    const Document d = posts(false, EvenOut{210}, [](RunItem& r) {
        r.spacing->insetStart = 300, r.spacing->insetEnd = 500;
        r.motion.by = MotionBy::Places;
        r.motion.places = 0.5;
    });
    const auto e = evaluate(d);
    const double pitch = e->run(3)->placed->laid->pitch;
    const auto then = atTime(e, 3)->run(3);
    for (size_t i = 0; i < then->placed->count(); ++i)
        NEAR(then->placed->stations()[i], e->run(3)->placed->stations()[i] + 1.5 * pitch, 1e-9);
}

void TestMoving::waysEndTurnAndStartOver() {
    const auto at = [](const Document& d, double t) { return wayAt(*evaluate(d)->run(3), t); };
    const auto open = [&](MotionWay way, double speed) {
        return posts(false, EvenOut{210}, [&](RunItem& r) {
            r.spacing->insetStart = 300, r.spacing->insetEnd = 500;
            r.motion.way = way, r.motion.speed = speed;
        });
    };
    NEAR(at(open(MotionWay::Once, 100), 3), 300, 1e-9);
    NEAR(at(open(MotionWay::Once, 100), 30), 500, 1e-9);   // as far as there is room
    NEAR(at(open(MotionWay::Once, -100), 30), -300, 1e-9); // back, too
    NEAR(at(open(MotionWay::ToAndFro, 100), 6), 400, 1e-9);
    NEAR(at(open(MotionWay::ToAndFro, 100), 14), -300 + 100, 1e-9); // there, back to the other end and on
    NEAR(at(open(MotionWay::Round, 100), 5.5), -250, 1e-9);
    for (double t = -20; t < 20; t += 0.37)
        for (MotionWay way : {MotionWay::Round, MotionWay::ToAndFro, MotionWay::Once})
            for (double speed : {90., -210.}) {
                const double x = at(open(way, speed), t);
                QVERIFY(x >= -300 - 1e-9 && x <= 500 + 1e-9);
            }
    // What a fixed pitch leaves over is room as well, wherever it lies.
    for (LeftOver left : {LeftOver::AtEnd, LeftOver::AtStart, LeftOver::Both}) {
        const Document d = posts(false, StepOff{333, left}, [](RunItem& r) { r.motion.way = MotionWay::Once; });
        const auto e = evaluate(d);
        const WayRange r = wayRange(*e->run(3));
        NEAR(r.forward - r.back, e->run(3)->placed->laid->leftOver, 1e-9);
        for (double t : {1e6, -1e6}) {
            const auto then = atTime(e, t)->run(3);
            QCOMPARE(then->placed->count(), e->run(3)->placed->count());
            NEAR(t > 0 ? then->placed->stations().back() - then->path->path->length()
                       : then->placed->stations().front(),
                 0, 1e-6);
        }
    }
    const Document ring = posts(true, ShareOut{9}, [](RunItem& r) { r.motion.speed = 500; });
    NEAR(at(ring, 100), 50'000, 1e-9); // not wrapped: wheels go on turning
}

/// Every joint but the one at the seam closed to 1e-9 mm in a thousand phases; that one by no more than the polygon
/// effect, which comes back with every pitch.
void TestMoving::linksStayTogetherInEveryPhase() {
    const Document d = changed(drives(), 20, [](RunItem& r) { r.motion.moves = true; });
    const auto e = evaluate(d);
    const auto run = e->run(20);
    const size_t n = run->placed->count();
    std::mt19937 random(3);
    std::uniform_real_distribution<double> u(0, 1);
    double worst = 0;
    const Pins pins{Vec3(-12.7, 0, 0), Vec3(12.7, 0, 0)};
    for (int k = 0; k < 1000; ++k) {
        const double way = (2 * u(random) - 1) * 1e4;
        const auto moved = movedRun(*run, way);
        QVERIFY2(bool(moved), moved ? "" : moved.problem().text.c_str());
        const Placed& p = *(*moved)->placed;
        QCOMPARE(p.count(), n);
        for (size_t i = 0; i < n; ++i) {
            const size_t next = (i + 1) % n;
            const Mat4 a = p.pose(i), b = p.pose(next);
            const Vec3 front = a.topLeftCorner<3, 3>() * pins[1] + a.topRightCorner<3, 1>();
            const Vec3 back = b.topLeftCorner<3, 3>() * pins[0] + b.topRightCorner<3, 1>();
            if (next == 0)
                worst = std::max(worst, (front - back).norm());
            else
                NEAR((front - back).norm(), 0, 1e-9);
        }
    }
    QVERIFY2(worst < 0.3 && worst > 1e-6, qPrintable(QString::number(worst)));
    // A pitch on everything is as it was, one link further.
    const double pitch = chordFrom(*run->path->path, run->placed->stations()[0], 25.4);
    const auto on = movedRun(*run, pitch - run->placed->stations()[0]);
    for (size_t i = 0; i + 1 < n; ++i)
        NEAR(((*on)->placed->frame(i).seat - run->placed->frame(i + 1).seat).norm(), 0, 1e-6);
}

void TestMoving::wheelsTurnWithTheChain() {
    const Document d = changed(drives(), 20, [](RunItem& r) { r.motion.moves = true, r.motion.speed = 100; });
    const auto e = evaluate(d);
    const auto run = e->run(20);
    const auto& shape = std::get<ShapeRecipe>(run->path->recipe());
    const auto circles = circlesOf(std::get<WheelShape>(shape.shape));
    std::vector<double> before;
    for (const auto& s : run->seats) before.push_back(s.phase);
    int exact = 0, seam = 0;
    for (double t = 0; t < 40; t += 0.05) {
        const auto then = atTime(e, t)->run(20);
        for (size_t w = 0; w < circles.size(); ++w) {
            const WheelSeat& s = then->seats[w];
            // A seam that lies on the wheel has the chain's polygon effect in it; else every pin sits.
            QVERIFY(s.error < 0.2);
            ++(s.error < 1e-8 ? exact : seam);
            // At their ratio, whole teeth included; by a hair more or less while a link runs on to the wheel.
            const double tooth = 2 * kPi / double(std::get<WheelShape>(shape.shape).wheels[w].teeth);
            NEAR(s.phase - before[w], 100 * t / run->placed->laid->pitch * tooth, 0.03);
        }
    }
    QVERIFY(exact > 2 * seam);
    // The belt's drums have no teeth: exactly.
    const Document belt = changed(drives(), 21, [](RunItem& r) { r.motion = {true, MotionBy::Speed, -80}; });
    const auto b = evaluate(belt);
    const auto later = atTime(b, 9)->run(21);
    for (size_t w = 0; w < later->seats.size(); ++w)
        NEAR(later->seats[w].phase - b->run(21)->seats[w].phase, -80 * 9 / (w == 0 || w == 3 ? 260. : 150.), 1e-9);
}

void TestMoving::whateverTheRuleTheyMoveAsOne() {
    const Profile keys{{{0, 120}, {2500, 340}}};
    const auto bays = [](RunItem& r) {
        r.spacing->bays = BayEdges::Stations;
        r.spacing->bayStations = {900, 1700};
    };
    for (const bool closed : {false, true})
        for (const auto& [rule, more] : std::vector<std::pair<SpacingRule, std::function<void(RunItem&)>>>{
                 {Listed{{40, 300, 350, 900}}, {}},
                 {Graded{keys}, {}},
                 {ShareOut{4}, bays},
                 {StepOff{170}, [&](RunItem& r) {
                      bays(r);
                      r.spacing->measure = Measure::ClearGap;
                      r.sequence.steps = {{2, 1}, {2, 2}};
                  }}}) {
            const Document d = posts(closed, rule, [&, how = more](RunItem& r) {
                r.spacing->insetStart = 60;
                r.spacing->insetEnd = 220;
                if (how) how(r);
            });
            const auto e = evaluate(d);
            const auto run = e->run(d.runs[0]->id);
            QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
            const WayRange range = wayRange(*run);
            const double L = run->path->path->length();
            for (const double way : {closed ? 777.0 : range.forward, closed ? -0.3 * L : range.back, 31.0}) {
                const auto moved = movedRun(*run, way);
                QVERIFY2(bool(moved), moved ? "" : moved.problem().text.c_str());
                const auto &was = run->placed->stations(), &now = (*moved)->placed->stations();
                QCOMPARE(now.size(), was.size());
                for (size_t i = 0; i < was.size(); ++i) {
                    double to = was[i] + way;
                    if (closed) to = std::fmod(to + L, L);
                    const double off = std::abs(now[i] - to);
                    QVERIFY2(
                        std::min(off, std::abs(off - L)) < 1e-6,
                        qPrintable(
                            QString("rule %1, place %2: %3 is not %4").arg(rule.index()).arg(i).arg(now[i]).arg(to)));
                    QCOMPARE((*moved)->placed->laid->slot[i], run->placed->laid->slot[i]);
                }
            }
        }
}

void TestMoving::nothingElseIsTouched() {
    const Document d = changed(drives(), 20, [](RunItem& r) { r.motion.moves = true; });
    const auto e = evaluate(d);
    QVERIFY(atTime(e, 0) == e);
    const auto then = atTime(e, 3);
    QVERIFY(then->run(22) == e->run(22) && then->paths.at(1) == e->paths.at(1));
    QVERIFY(then->run(20) != e->run(20) && then->run(20)->item == e->run(20)->item);
    Document resting = drives();
    for (Id id : {20, 21, 24, 25}) resting = changed(resting, id, [](RunItem& r) { r.motion = {}; });
    const auto still = evaluate(resting);
    QVERIFY(atTime(still, 3) == still);
    const auto back = fromJson(toJson(d), {}, {});
    QVERIFY(back->run(20)->motion == d.run(20)->motion);
}

void TestMoving::whatCannotMoveStands() {
    for (double speed : {0.0, std::nan("")}) {
        const auto e = evaluate(posts(true, ShareOut{9}, [&](RunItem& r) { r.motion.speed = speed; }));
        QVERIFY(!anythingMoves(*e) || std::isnan(speed));
        NEAR(wayAt(*e->run(3), 5), 0, 0);
    }
    RunItem bad = *posts(true, ShareOut{9}).run(3);
    bad.motion.speed = std::nan("");
    QVERIFY(defectOf(bad).has_value());
    const auto full = evaluate(posts(false, ShareOut{9})); // no room on the path: it stands
    NEAR(wayAt(*full->run(3), 5), 0, 0);
    NEAR(wayAt(*full->run(3), std::nan("")), 0, 0);
    // A chain that would not go on stands where it stood, and it is said.
    Document d = posts(false, StepOff{333});
    d = changed(d, 3, [](RunItem& r) {
        r.spacing->insetEnd = 900;
        r.facing.nose = AtTarget{};
    });
    const Vec3 in =
        evaluate(changed(d, 3, [](RunItem& r) { r.facing.nose = AlongPath{}; }))->run(3)->path->path->at(500).point;
    d = changed(d, 3, [&](RunItem& r) { r.facing.target = in, r.motion.speed = 500 - 333; });
    std::vector<Problem> problems;
    const auto e = evaluate(d);
    const auto then = atTime(e, 1, &problems);
    QCOMPARE(problems.size(), size_t(1));
    QVERIFY(then->run(3) == e->run(3));
}

/// Through one pitch: it closes where the count was made to, opens and comes back; stopped half-way it tells what it
/// has.
void TestMoving::aSweepFindsTheTightestPhase() {
    const auto e = evaluate(drives());
    const auto run = e->run(20);
    const auto all = sweep(*run, 101);
    QCOMPARE(all.size(), size_t(101));
    NEAR(*all.front().closing, 0, 1e-9);
    double worst = 0;
    for (const SweepStep& s : all) {
        QVERIFY(!s.problem);
        worst = std::max(worst, std::abs(*s.closing));
        QVERIFY(s.turn > 2 * kPi / 16 && s.turn < 2 * kPi / 14); // the idler's fifteen teeth
        const auto moved = movedRun(*run, s.way);
        NEAR(*(*moved)->placed->laid->closing, *s.closing, 0);
    }
    QVERIFY(worst > 1e-4 && worst < 0.3);
    Job job;
    job.stop = true;
    QVERIFY(sweep(*run, 50, 0, &job).empty());
}

/// A pace and stops against the way integrated in small steps; closed forms of even speeding up; the way never jumps.
void TestMoving::paceAndStopsAreKept() {
    Motion m;
    m.pace = Profile{{{0, 1}, {1000, 1}, {2000, 0.25}, {3000, 2}}, false, false};
    m.stops = {700, 1600};
    m.dwell = 4;
    m.ramp = 300;
    const double V = 500;
    const auto station = [](double way) { return way; };
    const Timetable table(m, V, 0, 3000, 3000, false, station);
    const ProfileCurve pace(m.pace, 3000, false, 1);
    // Time as the sum of small steps of way, away from the stops themselves.
    double time = 0;
    const double h = 0.02;
    for (double w = 0; w < 3000 - h / 2; w += h) {
        const double x = w + h / 2;
        double near = 1e300;
        for (double s : m.stops) near = std::min(near, std::abs(x - s));
        time += h / (V * pace.at(x) * std::sqrt(std::min(1.0, near / m.ramp)));
        for (double s : m.stops)
            if (w < s && w + h >= s) time += m.dwell;
        if (std::fmod(w, 100) < h) NEAR(table.timeAt(w + h), time, 0.02 + 2e-3 * time);
    }
    NEAR(table.whole(), time, 0.02 + 2e-3 * time);
    // From a stop to full speed over the ramp, evenly: twice as long as at that speed.
    NEAR(table.timeAt(1000) - table.timeAt(700), 2 * 300 / V, 1e-9);
    NEAR(table.wayAt(table.timeAt(700) - 3.9), 700, 1e-9); // it stands there
    double before = 0;
    for (double t = 0; t <= table.whole(); t += 0.01) {
        const double w = table.wayAt(t);
        QVERIFY(w >= before && w - before < 2 * V * 0.01 + 1e-9);
        if (w > before && w != 700 && w != 1600) NEAR(table.timeAt(w), t, 1e-6);
        before = w;
    }
    NEAR(table.wayAt(table.whole()), 3000, 1e-9);
    // In a document: round and round the same every lap; to and fro comes back as it went; stops count for each lap.
    for (bool closed : {true, false}) {
        const Document d = posts(closed, closed ? SpacingRule(ShareOut{7}) : SpacingRule(StepOff{400}), [](RunItem& r) {
            r.spacing->insetEnd = 1500;
            r.motion.stops = {500, 900};
            r.motion.dwell = 2;
            r.motion.pace = Profile{{{0, 0.5}, {1, 1.5}}, true, true};
            r.motion.way = MotionWay::ToAndFro;
        });
        const auto run = evaluate(d)->run(3);
        const double twice = onceAlong(*run);
        for (double t : {0.3, 1.7, 3.3}) {
            NEAR(wayAt(*run, t), wayAt(*run, t + twice), 1e-6);
            if (closed) NEAR(wayAt(*run, t), wayAt(*run, twice - t), 1e-6);
        }
        const auto round = evaluate(changed(d, 3, [](RunItem& r) { r.motion.way = MotionWay::Round; }))->run(3);
        const double once = onceAlong(*round);
        NEAR(once, twice / 2, 1e-9);
        const double lap = closed ? round->path->path->length() : 0;
        for (double t : {0.3, 1.7, 3.3}) NEAR(wayAt(*round, t + once), wayAt(*round, t) + lap, 1e-6);
        const auto back = fromJson(toJson(d), {}, {});
        QVERIFY(back && back->run(3)->motion == d.run(3)->motion);
    }
}

/// A value without effect is said, and only such: what is said can be changed, and nothing else changes.
void TestMoving::whatHasNoEffectIsSaid() {
    const auto says = [](const Document& d, const char* word) {
        const auto run = evaluate(d)->run(3);
        for (const Words& w : run->remarks)
            if (w.rfind(word, 0) == 0) return true;
        return false;
    };
    int effects = 0, none = 0;
    for (bool closed : {true, false})
        for (int stretch = 0; stretch < 3; ++stretch)
            for (const SpacingRule& rule : {SpacingRule(EvenOut{210}), SpacingRule(ShareOut{9}),
                                            SpacingRule(StepOff{173}), SpacingRule(Listed{{0, 300, 700}})})
                for (double value : {0.0, 35.0, 400.0}) {
                    const std::array<std::pair<const char*, double Spacing::*>, 3> fields{
                        {{"In at start", &Spacing::insetStart},
                         {"In at end", &Spacing::insetEnd},
                         {"Slide", &Spacing::slide}}};
                    for (const auto& [word, field] : fields) {
                        const auto with = [&](double v) {
                            return posts(closed, rule, [&](RunItem& r) {
                                if (stretch > 0) r.spacing->from = 200;
                                if (stretch > 1) r.spacing->to = 1900;
                                (*r.spacing).*field = v;
                            });
                        };
                        const auto now = evaluate(with(value))->run(3), without = evaluate(with(0))->run(3);
                        QVERIFY(now->placed && without->placed);
                        // Of a list, and of what is stepped off, an end's inset cuts some off, or none.
                        const bool cut =
                            (std::holds_alternative<Listed>(rule) || std::holds_alternative<StepOff>(rule)) &&
                            field == &Spacing::insetEnd;
                        const bool same = now->placed->stations() == without->placed->stations();
                        const bool said = says(with(value), word);
                        if (value == 0) QVERIFY(!said);
                        if (value != 0 && !cut)
                            QVERIFY2(said == same, qPrintable(QString("%1 %2, closed %3, stretch %4, rule %5")
                                                                  .arg(word)
                                                                  .arg(value)
                                                                  .arg(closed)
                                                                  .arg(stretch)
                                                                  .arg(rule.index())));
                        if (said) QVERIFY(same);
                        (said ? none : effects) += 1;
                    }
                }
    QVERIFY(none > 40 && effects > 40);
    // Stops: those on the way make it longer by what it stands there, the others are named.
    for (bool closed : {true, false})
        for (double stop : {-50.0, 0.0, 450.0, 3000.0, 3900.0, 7000.0}) {
            const auto with = [&](double dwell) {
                return posts(closed, ShareOut{7}, [&](RunItem& r) {
                    if (!closed) r.spacing->insetStart = 100, r.spacing->insetEnd = 900;
                    r.motion.stops = {stop};
                    r.motion.dwell = dwell;
                });
            };
            const auto once = [&](double dwell) { return onceAlong(*evaluate(with(dwell))->run(3)); };
            const double longer = once(9) - once(2);
            const bool out = says(with(2), "The stop at");
            const double L = evaluate(with(2))->run(3)->path->path->length();
            QCOMPARE(out, closed ? stop < 0 || stop > L : stop < 0 || stop > 1000);
            if (!closed || !out) NEAR(longer, out ? 0 : 7, 1e-9);
            QVERIFY(says(with(0), "For seconds") && says(with(-3), "For seconds") && !says(with(2), "For seconds"));
            NEAR(once(0), once(-3), 1e-12);
        }
    // Speeds and paces.
    const auto moved = [](const std::function<void(Motion&)>& how) {
        return posts(true, ShareOut{7}, [&](RunItem& r) { how(r.motion); });
    };
    QVERIFY(says(moved([](Motion& m) { m.speed = 0; }), "It moves at a speed of 0"));
    QVERIFY(says(moved([](Motion& m) { m.by = MotionBy::Places, m.places = 0; }), "It moves at a speed of 0"));
    QVERIFY(!says(moved([](Motion& m) { m.speed = 0, m.moves = false; }), "It moves"));
    QVERIFY(!says(moved([](Motion& m) { m.speed = 0, m.by = MotionBy::Places; }), "It moves"));
    QVERIFY(!says(moved([](Motion& m) { m.places = 0; }), "It moves"));
    QVERIFY(says(moved([](Motion& m) {
                     m.pace = Profile{{{0, 1}, {500, -0.5}}, false, false};
                 }),
                 "Pace along goes below"));
    QVERIFY(!says(moved([](Motion& m) { m.pace = Profile{{{0, 1}, {500, 0.5}}, false, false}; }), "Pace"));
    QVERIFY(says(moved([](Motion& m) { m.pace = Profile{{{500, 1}, {0, 0.5}}, false, false}; }), "Pace along has no"));
    QVERIFY(says(moved([](Motion& m) { m.stops = {400}, m.ramp = -20; }), "Slows over"));
}

/// A train at a time is one laid there; every axle stays on the path and every coupling as long as it is, in 1,000
/// phases of a loop with bends both ways; what it stands on is written with it.
void TestMoving::trainsRunAsOneLaidThere() {
    PathItem path;
    path.recipe = PointsRecipe{{{{0, 0, 0}, true},
                                {{9000, -1500, 0}, true},
                                {{14000, 4000, 200}, true},
                                {{7000, 5000, 300}, true},
                                {{-3000, 9000, 0}, true}},
                               true};
    Document d = with(Document(), path);
    const auto box = [&](const char* name, double length, double apart, std::array<Id, 2> under) {
        PartItem p;
        p.name = name;
        p.shape = Maker(PlainBox{length, 700, 300});
        p.seat.point = Vec3(0, 0, 0);
        p.seat.pins = Pins{Vec3(-apart / 2, 0, 0), Vec3(apart / 2, 0, 0)};
        p.under = under;
        d = with(d, p);
    };
    box("Bogie", 520, 340, {0, 0});
    box("Cradle", 2600, 1700, {2, 2});
    RunItem run;
    run.path = 1;
    run.part = 3;
    run.spacing->rule = Coupled{4, 350, 12 * kDegree};
    run.facing.crown = Upright{};
    run.motion.moves = true;
    run.motion.speed = 900;
    d = with(d, run);
    const auto e = evaluate(d);
    const auto now = e->run(4);
    QVERIFY2(!now->problem, now->problem ? now->problem->text.c_str() : "");
    QCOMPARE(now->placed->count(), size_t(4));
    QCOMPARE(now->placed->bodies(), size_t(12));
    QVERIFY(now->sweeps && now->sweeps->inside.reach > 350);
    QCOMPARE(now->parts.size(), size_t(2));
    const Path& p = *now->path->path;
    std::mt19937 random(3);
    std::uniform_real_distribution<double> u(0, 1);
    double most = 0;
    for (int k = 0; k < 1000; ++k) {
        const double t = 100 * u(random);
        const auto then = atTime(e, t)->run(4);
        const Placement& laid = *then->placed->laid;
        for (double s : laid.swings) most = std::max(most, s);
        for (size_t b = 4; b < 12; ++b) {
            const Mat4 m = then->placed->pose(b), carrier = then->placed->pose(laid.placeOf(b));
            for (double x : {-170.0, 170.0}) {
                const Vec3 axle = (m * Vec4(x, 0, 0, 1)).head<3>();
                NEAR((p.at(p.closest(axle)).point - axle).norm(), 0, 1e-6);
            }
            const Vec3 middle = m.topRightCorner<3, 1>();
            const double back = ((carrier * Vec4(-850, 0, 0, 1)).head<3>() - middle).norm(),
                         front = ((carrier * Vec4(850, 0, 0, 1)).head<3>() - middle).norm();
            NEAR(std::min(back, front), 0, 1e-6);
        }
        for (size_t i = 1; i < 4; ++i) {
            const Mat4 a = then->placed->pose(i - 1), b = then->placed->pose(i);
            NEAR(((a * Vec4(1300, 0, 0, 1)).head<3>() - (b * Vec4(-1300, 0, 0, 1)).head<3>()).norm(), 350, 1e-6);
        }
        if (k % 100) continue;
        const auto fresh =
            evaluate(changed(d, 4, [&](RunItem& r) { r.spacing->slide = std::fmod(900 * t, p.length()); }))->run(4);
        for (size_t b = 0; b < 12; ++b) NEAR((fresh->placed->pose(b) - then->placed->pose(b)).norm(), 0, 1e-6);
    }
    // The sweep finds the most that the bogies turn, and a tighter limit is broken where they do.
    double found = 0;
    for (const SweepStep& s : sweep(*now, 400, p.length())) found = std::max(found, s.swing);
    NEAR(found, most, 0.03 * most);
    const auto tight = evaluate(changed(d, 4, [&](RunItem& r) {
                           std::get<Coupled>(r.spacing->rule).swing = now->placed->laid->swings[1] * 0.5;
                       }))->run(4);
    QVERIFY(tight->verdict.mark == Mark::Wrong);
    const auto one = evaluate(changed(d, 4,
                                      [&](RunItem& r) { // also where there is but one, without a gap
                                          r.spacing->rule = Coupled{1, 350, now->placed->laid->swings[0] * 0.5};
                                      }))
                         ->run(4);
    QVERIFY(one->verdict.mark == Mark::Wrong && one->verdict.place == 0);
    NEAR(passesBends(*now) * std::sin(12 * kDegree), std::hypot(850, 170 * std::sin(12 * kDegree)), 1e-9);
    // Files, and what stands on something that is gone, or on itself.
    const auto back = fromJson(toJson(d), {}, {});
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QVERIFY(back->part(3)->under == (std::array<Id, 2>{2, 2}));
    QVERIFY(back->run(4)->spacing == d.run(4)->spacing);
    QCOMPARE(usersOf(d, 2), std::vector<std::string>{d.part(3)->name});
    QVERIFY(follows(d, 3, 2) && !follows(d, 2, 3));
    const auto gone = evaluate(without(d, 2), e)->run(4);
    QVERIFY(gone->problem && gone->placed && gone->stale());
    QVERIFY(gone->problem->text.find("stands on was deleted") != std::string::npos);
    PartItem own = *d.part(2);
    own.under = {3, 0};
    const auto circle = evaluate(with(d, own), e)->run(4);
    QVERIFY2(circle->problem && circle->problem->text.find("stands on itself") != std::string::npos,
             circle->problem ? circle->problem->text.c_str() : "");
}

VICINAL_SUITE(TestMoving)

} // namespace test_moving
#include "test_moving.moc"
